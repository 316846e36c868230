"""A data folder: one owner, what is damaged or newer is refused with a sentence, what is left over goes."""

import shutil
import sqlite3
import subprocess
from pathlib import Path

import pytest

from tests.api.conftest import wait_for
from tests.command_line import run
from tests.faults.conftest import Inside, outside
from tests.media.clips import make_clip
from wenditas.app.services import Services
from wenditas.core.errors import DataFolderError
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.project.sweep import sweep
from wenditas.store import projects
from wenditas.store.database import Database


def said(done: subprocess.CompletedProcess[str]) -> str:
    assert done.returncode == 1 and "Traceback" not in done.stderr + done.stdout, done.stderr
    return " ".join(done.stderr.split())


def test_two_servers_do_not_share_a_folder(tmp_path: Path) -> None:
    with outside(tmp_path / "data") as first:
        project = first.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        assert "in use by another Wenditas" in said(run("serve", "--data", str(tmp_path / "data"), "--port", "1"))
        assert "in use by another Wenditas" in said(run("demo", "--data", str(tmp_path / "data"), "--prepare-only"))
        assert first.client.get(f"/api/projects/{project}").status_code == 200
        first.kill()
        first.start()  # the lock went with the process
        assert first.client.get(f"/api/projects/{project}").status_code == 200


def test_a_newer_database_is_refused_untouched(tmp_path: Path) -> None:
    (tmp_path / "data").mkdir()
    path = tmp_path / "data" / "wenditas.db"
    Database(path).close()
    newer = sqlite3.connect(path)
    newer.execute("PRAGMA journal_mode = DELETE")
    newer.execute("PRAGMA user_version = 900")
    newer.close()
    before = path.read_bytes()
    assert "newer Wenditas (version 900" in said(run("serve", "--data", str(tmp_path / "data")))
    assert path.read_bytes() == before and [p.name for p in (tmp_path / "data").iterdir() if p.suffix == ".db"] == ["wenditas.db"]


@pytest.mark.parametrize("damage", ["text", "cut", "scribbled"])
def test_a_damaged_database_is_said_without_a_traceback(tmp_path: Path, damage: str) -> None:
    (tmp_path / "data").mkdir()
    path = tmp_path / "data" / "wenditas.db"
    Database(path).close()
    data = path.read_bytes()
    path.write_bytes({"text": b"this is no database\n" * 200, "cut": data[:2000], "scribbled": data[:100] + b"\xff" * 8000 + data[8100:]}[damage])
    message = said(run("serve", "--data", str(tmp_path / "data")))
    assert "cannot be read" in message and "backup" in message


def test_a_folder_that_cannot_be_used_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("not a folder")
    assert "cannot be used" in said(run("serve", "--data", str(tmp_path / "file" / "data")))


def test_leftovers_are_swept_by_known_names_and_nothing_else(tmp_path: Path) -> None:
    services = Services.open(tmp_path / "data")
    project = projects.add_project(services.db, "Film")
    row = services.projects.arrivals.copy_in(project.id, make_clip(tmp_path / "a.mp4", count=3), "a.mp4")
    services.make_ready(row.id)
    folder = tmp_path / "data"
    kept = {p for p in folder.rglob("*") if p.is_file() and p.suffix != ".lock" and not p.name.startswith("wenditas.db")}
    left = ["incoming/half", "incoming/stray/deep/file", "media/0123456789ab.index.npz", "media/0123456789ab.mp4", "cache/job-0123456789ab.json"]
    left += [
        "cache/0123456789ab.part.mov",
        "exports/0123456789ab.x.part.mp4",
        "exports/0123456789ab.mp4",
        "files/abc.part.cube",
        f"media/{row.id}.index.part.npz",
    ]
    for name in left:
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_bytes(b"x")
    (folder / "mine.txt").write_text("a note of the user's own")
    sweep(folder, services.db)
    assert not [name for name in left if (folder / name).exists()] and not (folder / "incoming" / "stray").exists()
    assert all(p.exists() for p in kept) and (folder / "mine.txt").exists()
    services.close()


def test_a_video_that_is_named_as_a_picture_is_what_it_is(inside: Inside, tmp_path: Path) -> None:
    clip = make_clip(tmp_path / "a.mkv", count=9)
    shutil.copy(clip, tmp_path / "b.png")
    view = inside.shot(tmp_path / "b.png")
    assert view["footage"]["facts"]["kind"] == "video" and view["footage"]["facts"]["length"] == 9
    row = next((inside.services.projects.library.folder / "media").glob("*.mkv"))
    assert Reader(row, *inspect(row)).picture(8).shape == (3, 240, 320)
    assert inside.client.get(f"/api/footage/{view['footage']['id']}/poster.jpg").status_code == 200
    refused = inside.client.post("/api/files", params={"name": "b.png"}, content=clip.read_bytes())
    assert refused.status_code == 422 and "video" in refused.json()["message"]


def test_damaged_footage_is_taken_when_it_is_said_to(inside: Inside, tmp_path: Path, tram_clip: Path) -> None:
    data = tram_clip.read_bytes()
    project = inside.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    refused = inside.client.post(f"/api/projects/{project}/footage", params={"name": "cut.mp4"}, content=data[: len(data) // 2])
    assert refused.status_code == 422 and refused.json()["kind"] == "FootageDamaged" and "cut short" in refused.json()["message"]
    held = refused.json()["held"]
    assert inside.client.post(f"/api/projects/{project}/held/nothing").status_code == 404
    taken = inside.client.post(f"/api/projects/{project}/held/{held}")
    assert taken.status_code == 200 and taken.json()["facts"]["damage"] and taken.json()["name"] == "cut.mp4"
    assert inside.client.post(f"/api/projects/{project}/held/{held}").status_code == 404
    other = inside.client.post(f"/api/projects/{project}/footage", params={"name": "cut.mp4"}, content=data[: len(data) // 3]).json()["held"]
    assert inside.client.delete(f"/api/projects/{project}/held/{other}").status_code == 204
    assert not list((inside.services.projects.library.folder / "incoming").iterdir())
    made = inside.client.post(f"/api/footage/{taken.json()['id']}/shots").json()
    last = taken.json()["facts"]["length"] - 1
    for frame in (0, last // 2, last):
        assert inside.client.get(f"/api/shots/{made['id']}/pictures/{made['head']}/{frame}.png", params={"width": 160}).status_code == 200
    id = inside.client.post(f"/api/shots/{made['id']}/exports", json={"revision": made["head"]}).json()["id"]
    wait_for(lambda: inside.client.get(f"/api/projects/{project}/exports").json()[0]["state"] in ("done", "failed"))
    assert inside.client.get(f"/api/exports/{id}/file").status_code == 200


def test_footage_is_conformed_only_while_no_shot_counts_its_frames(inside: Inside, tmp_path: Path) -> None:
    clip = make_clip(tmp_path / "a.mkv", count=18, times=[round(n * 1000 / 18) for n in range(18)])
    project = inside.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    footage = inside.client.post(f"/api/projects/{project}/footage", params={"name": "a.mkv"}, content=clip.read_bytes()).json()
    assert (footage["facts"]["rate"], footage["facts"]["length"]) == ("18", 18)
    changed = inside.client.post(f"/api/footage/{footage['id']}/conform", json={"rate": "24"}).json()
    assert (changed["facts"]["rate"], changed["facts"]["length"]) == ("24", 24) and changed["id"] != footage["id"]
    assert [f["id"] for f in inside.client.get(f"/api/projects/{project}").json()["footage"]] == [changed["id"]]
    assert inside.client.post(f"/api/footage/{changed['id']}/conform", json={"rate": "900"}).status_code == 422
    inside.client.post(f"/api/footage/{changed['id']}/shots")
    refused = inside.client.post(f"/api/footage/{changed['id']}/conform", json={"rate": "25"})
    assert refused.status_code == 409 and "shots already" in refused.json()["message"]


def test_a_claimed_folder_is_let_go_when_opening_fails(tmp_path: Path) -> None:
    (tmp_path / "data").mkdir()
    (tmp_path / "data" / "wenditas.db").write_bytes(b"no database" * 500)
    for _ in range(2):
        with pytest.raises(DataFolderError, match="cannot be read"):
            Services.open(tmp_path / "data")
    (tmp_path / "data" / "wenditas.db").unlink()
    Services.open(tmp_path / "data").close()
