"""A disk that is full, for real: a small file system in memory, filled while the server works."""

import subprocess
import wave
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.api.conftest import wait_for
from tests.faults.conftest import Inside
from tests.rendering import export
from wenditas.core.errors import DiskFull
from wenditas.core.look.document import Look
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.sequence import SequenceJob, take
from wenditas.media.sound_alone import take_sound
from wenditas.render.options import ExportOptions
from wenditas.store import projects
from wenditas.store.database import Database


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A folder on a disk of 300 MiB: just more than is kept free for edits."""
    folder = tmp_path / "disk"
    folder.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=300m", "tmpfs", str(folder)], check=True)
    yield folder
    subprocess.run(["umount", "-l", str(folder)], check=True)


def fill(folder: Path, leave: int = 0) -> Path:
    """Write until the disk is full, but for some bytes."""
    ballast = folder / "ballast"
    with ballast.open("wb") as file:
        try:
            while True:
                file.write(bytes(1 << 20))
        except OSError:
            pass
    with ballast.open("r+b") as file:
        file.truncate(max(0, ballast.stat().st_size - leave))
    return ballast


def test_what_is_made_apart_of_what_comes_in_says_so_too(tmp_path: Path) -> None:
    """Sound and numbered pictures become a file of their own, written by a child process onto a disk of half a mebibyte."""
    folder = tmp_path / "tiny"
    folder.mkdir()
    rng = np.random.default_rng(3)
    for n in range(6):
        cv2.imwrite(str(tmp_path / f"p{n}.png"), rng.integers(0, 255, (240, 320, 3), np.uint8))
    song = noise(tmp_path / "song.wav")
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=512k", "tmpfs", str(folder)], check=True)
    try:
        with pytest.raises(DiskFull, match="disk is full"):
            take_sound(song, folder / "song.mkv", tmp_path / "index")
        job = SequenceJob(folder=tmp_path, names=tuple(f"p{n}.png" for n in range(6)), rate="24", target=folder / "p.mkv", index=tmp_path / "index")
        with pytest.raises(DiskFull, match="disk is full"):
            take(job)
    finally:
        subprocess.run(["umount", "-l", str(folder)], check=True)


def noise(path: Path) -> Path:
    """Ten seconds of noise, which no coder makes smaller."""
    with wave.open(str(path), "wb") as file:
        file.setparams((2, 2, 48_000, 0, "NONE", ""))
        file.writeframes(np.random.default_rng(4).integers(-20_000, 20_000, 960_000, np.int16).tobytes())
    return path


def test_each_kind_of_write_says_that_the_disk_is_full_and_goes_on_later(small_disk: Path, long_clip: Path) -> None:
    server = Inside(small_disk / "data")
    try:
        view = server.shot(long_clip)
        shot, project = view["shot"]["id"], projects.all_projects(server.services.db)[0].id
        edit = {"do": "add", "target": "look/passes", "value": {"id": "p", "name": "P", "treatment": "monochrome"}}
        ballast = fill(small_disk)
        upload = server.client.post(f"/api/projects/{project}/footage", params={"name": "b.mp4"}, content=long_clip.read_bytes())
        assert upload.status_code == 507 and "There is no room: 0 MiB are free" in upload.json()["message"]
        statuses = set()
        for n in range(40):  # the write-ahead log may have room for a few
            body = {"base": view["revision"], "commands": [{**edit, "value": {**edit["value"], "id": f"p{n}", "name": "P" * 80}}], "words": "E"}  # type: ignore[dict-item]
            answer = server.client.post(f"/api/shots/{shot}/edits", json=body)
            statuses.add(answer.status_code)
            if answer.status_code == 200:
                view = answer.json()
            else:
                assert answer.json()["message"] == "The disk is full: nothing was changed. Make room and try again."
                break
        assert 507 in statuses
        started = server.client.post(f"/api/shots/{shot}/exports", json={"revision": view["revision"]})
        assert started.status_code == 507 and "disk is full" in started.json()["message"]
        lut = server.client.post("/api/files", params={"name": "a.cube"}, content=b"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n")
        assert lut.status_code == 507 and "disk is full" in lut.json()["message"]
        assert server.client.get(f"/api/shots/{shot}").json()["revision"] == view["revision"]
        ballast.unlink()
        after = server.edited(view, [edit])
        id = server.client.post(f"/api/shots/{shot}/exports", json={"revision": after["revision"]}).json()["id"]
        wait_for(lambda: server.client.get(f"/api/projects/{project}/exports").json()[0]["state"] == "done")
        assert server.client.get(f"/api/exports/{id}/file").status_code == 200
    finally:
        server.stop()


@pytest.mark.long(found_by="each kind of write says that the disk is full, beside")
def test_a_disk_that_fills_while_something_arrives_or_is_exported(small_disk: Path, long_clip: Path) -> None:
    server = Inside(small_disk / "data")
    try:
        view = server.shot(long_clip)
        project = projects.all_projects(server.services.db)[0].id
        arriving = server.client.post(f"/api/projects/{project}/footage", params={"name": "b.mp4"}, content=bytes(60 << 20))
        assert arriving.status_code == 413 and "GiB, the most that fits here" in arriving.json()["message"] and "-" not in arriving.json()["message"]
        assert not list((small_disk / "data" / "incoming").iterdir())
        ballast = fill(small_disk, leave=220 << 10)
        id = server.client.post(f"/api/shots/{view['shot']['id']}/exports", json={"revision": view["revision"]}).json()["id"]

        def row() -> dict:
            return next(e for e in server.client.get(f"/api/projects/{project}/exports").json() if e["id"] == id)

        wait_for(lambda: server.services.background.exports._full_at is not None)
        assert not list((small_disk / "data" / "exports").iterdir()) and not list((small_disk / "data" / "cache").glob("job-*"))
        ballast.unlink()  # it goes on by itself
        wait_for(lambda: row()["state"] == "done")
        assert row()["digest"] and not list((small_disk / "data" / "cache" / "segments").iterdir())
    finally:
        server.stop()


@pytest.mark.parametrize(("kind", "suffix"), [("video", ".mp4"), ("alpha", ".mov"), ("alpha pictures", ".zip"), ("matte pictures", ".zip")])
def test_every_kind_of_export_says_so_and_leaves_nothing(small_disk: Path, long_clip: Path, kind: str, suffix: str) -> None:
    look = Look.model_validate({"selections": [{"id": "s", "name": "S"}]})
    reader = Reader(long_clip, *inspect(long_clip))
    fill(small_disk, leave=200 << 10)
    options = ExportOptions.model_validate({"kind": kind, "selection": "s", "quality": "fine"})
    with pytest.raises(DiskFull, match="disk is full"):
        export(reader, long_clip, look, 0, 200, small_disk / f"out{suffix}", options)
    assert [p.name for p in small_disk.iterdir()] == ["ballast"]


def test_a_transaction_that_finds_no_room_leaves_the_database_sound(tmp_path: Path) -> None:
    """SQLite takes a transaction back by itself where there is no room; a nested one too."""
    db = Database(tmp_path / "w.db")
    db._writer.execute(f"PRAGMA max_page_count = {db._writer.execute('PRAGMA page_count').fetchone()[0] + 1}")
    with pytest.raises(DiskFull, match="nothing was changed"), db.atomic() as writer:
        writer.execute("INSERT INTO projects (id, name, created) VALUES ('a', 'kept?', '')")
        with db.atomic() as inner:
            inner.execute("INSERT INTO projects (id, name, created) VALUES ('b', ?, '')", ("x" * 100_000,))
    assert projects.all_projects(db) == [] and db._writer.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    db._writer.execute("PRAGMA max_page_count = 1073741823")
    assert projects.add_project(db, "Film").name == "Film"
    db.close()
