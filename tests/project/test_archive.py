"""Archives: out and in again, identical; what is damaged or hostile is refused whole."""

import hashlib
import io
import json
import resource
import sqlite3
import stat
import tempfile
import threading
import uuid
import zipfile
from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, send
from tests.media.clips import make_clip
from tests.media.test_sound_alone import written
from wenditas.api.app import create_app
from wenditas.core.errors import BadFile
from wenditas.project.archive import written as archived
from wenditas.store.whole import rows_of

CUBE = b"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n"


def opened(folder: Path) -> TestClient:
    return TestClient(create_app(folder), base_url=BASE)


@pytest.fixture
def film(tmp_path: Path):  # type: ignore[no-untyped-def]
    """A project with two shots, one laid in the other, edits undone and not, a take, a LUT, a reel with a span."""
    yield from _film(tmp_path)


@pytest.fixture(scope="module")
def sound_archive(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    """An archive of such a project."""
    for client, project, _ in _film(tmp_path_factory.mktemp("whole")):
        return archive_of(client, project)
    raise AssertionError


@pytest.fixture(scope="module")
def empty(tmp_path_factory: pytest.TempPathFactory):  # type: ignore[no-untyped-def]
    """Another data folder, in which nothing of what is refused may stay."""
    folder = tmp_path_factory.mktemp("empty")
    with opened(folder / "two") as client:
        yield client, folder


def _film(tmp_path: Path):  # type: ignore[no-untyped-def]
    with opened(tmp_path / "one") as client:
        project = client.post("/api/projects", json={"name": "Film / of 2"}).json()["id"]
        footage = send(client, project, make_clip(tmp_path / "a.mp4", count=12, sound="aac")).json()
        a, b = (client.post(f"/api/footage/{footage['id']}/shots").json() for _ in range(2))
        lut = client.post("/api/files", params={"name": "l.cube"}, content=CUBE).json()["digest"]
        passes = [
            {"id": "l", "name": "L", "treatment": "lut", "params": {"lut": lut}},
            {"id": "i", "name": "I", "treatment": "shot-laid-in", "params": {"shot": b["id"]}},
        ]
        base = a["head"]
        for number, item in enumerate(passes):
            edit = {"base": base, "commands": [{"do": "add", "target": "look/passes", "value": item}], "words": f"{number}"}
            base = client.post(f"/api/shots/{a['id']}/edits", json=edit).json()["revision"]
        client.post(f"/api/shots/{a['id']}/takes", json={"revision": base, "name": "Best"})
        client.post(f"/api/shots/{a['id']}/undo", json={"base": base})
        reel = client.get(f"/api/projects/{project}/reel").json()
        commands = [{"do": "add", "target": "items", "value": {"id": "x", "shot": a["id"], "first": 0, "last": 9}}]
        client.post(f"/api/reels/{reel['reel_id']}/edits", json={"base": reel["revision"], "commands": commands, "words": "In"})
        yield client, project, a["id"]


def archive_of(client: TestClient, project: str, media: bool = True) -> bytes:
    answer = client.get(f"/api/projects/{project}/archive.zip", params={"media": media})
    assert answer.status_code == 200 and "Film" in answer.headers["content-disposition"]
    return answer.content


def plain(client: TestClient, project: str) -> dict:
    """All rows but the numbers of revisions, which are each data folder's own."""
    tables = rows_of(client.app.state.services.db, project)  # type: ignore[attr-defined]
    order = {row["id"]: n for n, row in enumerate(tables["revisions"])}
    for row in tables["revisions"]:
        row["id"], row["parent"] = order[row["id"]], order.get(row["parent"])
    for row in (*tables["snapshots"], *tables["takes"]):
        row["revision"] = order[row["revision"]]
    for row in tables["documents"]:
        row["head"] = order[row["head"]]
    return tables


def bring(client: TestClient, data: bytes):  # type: ignore[no-untyped-def]
    return client.post("/api/projects/archive", content=data)


def test_out_and_in_again_is_identical(film, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    client, project, shot = film
    data, rows = archive_of(client, project), plain(client, project)
    frame = client.get(f"/api/shots/{shot}/pictures/{client.get(f'/api/shots/{shot}').json()['revision']}/3.png").content
    with opened(tmp_path / "two") as other:
        made = bring(other, data)
        assert made.status_code == 200 and made.json() == {"id": project, "name": "Film / of 2"}
        assert plain(other, project) == rows
        view = other.get(f"/api/shots/{shot}").json()
        assert other.get(f"/api/shots/{shot}/pictures/{view['revision']}/3.png").content == frame
        redone = other.post(f"/api/shots/{shot}/redo", json={"base": view["revision"]}).json()
        assert [p["id"] for p in redone["document"]["look"]["passes"]] == ["l", "i"]
        assert [t["name"] for t in other.get(f"/api/shots/{shot}/takes").json()] == ["Best"]
        media = {p.name: p.read_bytes() for p in (tmp_path / "one" / "media").iterdir()}
        assert {p.name: p.read_bytes() for p in (tmp_path / "two" / "media").iterdir()} == media
        assert not list((tmp_path / "two" / "incoming").iterdir())


def test_in_once_more_it_gets_ids_of_its_own(film) -> None:  # type: ignore[no-untyped-def]
    client, project, shot = film
    made = bring(client, archive_of(client, project)).json()
    assert made["id"] != project
    copied = client.get(f"/api/projects/{made['id']}").json()
    assert len(copied["shots"]) == 2 and shot not in {s["id"] for s in copied["shots"]}
    reel = client.get(f"/api/projects/{made['id']}/reel").json()
    mine = reel["document"]["items"][0]["shot"]
    assert mine in {s["id"] for s in copied["shots"]}
    view = client.get(f"/api/shots/{mine}").json()
    laid = client.post(f"/api/shots/{mine}/redo", json={"base": view["revision"]}).json()["document"]["look"]["passes"][1]["params"]["shot"]
    assert laid in {s["id"] for s in copied["shots"]} - {mine}


def test_without_media_it_waits_for_them(film, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    client, project, shot = film
    data = archive_of(client, project, media=False)
    assert len(data) < 60_000
    with opened(tmp_path / "two") as other:
        bring(other, data)
        assert other.get(f"/api/projects/{project}").json()["footage"][0]["state"] == "missing"
        view = other.get(f"/api/shots/{shot}").json()
        assert other.get(f"/api/shots/{shot}/pictures/{view['revision']}/3.png").status_code == 404
        assert send(other, project, tmp_path / "a.mp4").json()["already"]
        assert other.get(f"/api/shots/{shot}/pictures/{view['revision']}/3.png").status_code == 200


def test_what_was_made_of_several_pictures_or_of_sound_goes_along_and_waits_like_the_rest(tmp_path: Path) -> None:
    song, frames = written(tmp_path / "song.wav", "pcm_s16le"), [np.full((20, 30, 3), 40 * n, np.uint8) for n in range(4)]

    def sequence(client: TestClient, project: str) -> None:
        id = client.post(f"/api/projects/{project}/sequences").json()["id"]
        for n, frame in enumerate(frames):
            client.put(f"/api/sequences/{id}/pictures", params={"name": f"q{n}.png"}, content=cv2.imencode(".png", frame)[1].tobytes())
        assert '"done"' in client.post(f"/api/projects/{project}/sequences/{id}", json={"rate": "24"}).text

    def states(client: TestClient, project: str) -> list[tuple[str, str]]:
        return [(f["id"], f["state"]) for f in client.get(f"/api/projects/{project}").json()["footage"]]

    with opened(tmp_path / "one") as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        send(client, project, song)
        sequence(client, project)
        known = states(client, project)
        whole, alone = archive_of(client, project), archive_of(client, project, media=False)
    with opened(tmp_path / "two") as client:
        assert bring(client, whole).status_code == 200 and states(client, project) == known and len(known) == 2
    with opened(tmp_path / "three") as client:
        assert bring(client, alone).status_code == 200
        assert [state for _, state in states(client, project)] == ["missing", "missing"]
        send(client, project, song)
        sequence(client, project)
        assert states(client, project) == known


def rewritten(data: bytes, change) -> bytes:  # type: ignore[no-untyped-def]
    """The archive with its members changed: `change(head, members)`."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        members = {name: archive.read(name) for name in archive.namelist()}
    head = json.loads(members.pop("wenditas.json"))
    change(head, members)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("wenditas.json", json.dumps(head))
        for name, value in members.items():
            archive.writestr(name, value)
    return out.getvalue()


def _rename(to: str):  # type: ignore[no-untyped-def]
    def change(head: dict, members: dict) -> None:
        name = next(n for n in head["members"] if n.endswith(".mp4"))
        head["members"][to], members[to] = head["members"].pop(name), members.pop(name)

    return change


def _stranger(head: dict, members: dict) -> None:
    head["members"]["media/0.txt"], members["media/0.txt"] = {"bytes": 1, "sha256": "0" * 64}, b"x"


def _column(table: str, column: str, value: object):  # type: ignore[no-untyped-def]
    return lambda head, members: head["tables"][table][0].__setitem__(column, value)


ABROAD = Path(tempfile.gettempdir()) / f"{uuid.uuid4().hex}.mp4"  # that nobody else has put there


def _fact(key: str, value: object):  # type: ignore[no-untyped-def]
    def change(head: dict, members: dict) -> None:
        row = head["tables"]["footage"][0]
        row["facts"] = json.dumps({**json.loads(row["facts"]), key: value})

    return change


def _index(**changes: object):  # type: ignore[no-untyped-def]
    """An index with other arrays."""

    def change(head: dict, members: dict) -> None:
        name = next(n for n in members if n.endswith(".npz"))
        with np.load(io.BytesIO(members[name])) as data:
            arrays = {**{k: data[k] for k in data.files}, **changes}
        out = io.BytesIO()
        np.savez_compressed(out, **arrays)
        _instead(head, members, name, out.getvalue())

    return change


def _instead(head: dict, members: dict, name: str, data: bytes) -> None:
    members[name] = data
    head["members"][name] = {"bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}


def _media(data: bytes):  # type: ignore[no-untyped-def]
    """Other media, whose digest is told as it is."""

    def change(head: dict, members: dict) -> None:
        name = next(n for n in members if n.endswith(".mp4"))
        _instead(head, members, name, data)
        head["tables"]["footage"][0]["digest"] = head["members"][name]["sha256"]

    return change


def _history(text: str):  # type: ignore[no-untyped-def]
    return lambda head, members: head["tables"]["revisions"][-1].__setitem__("patch", text)


HOSTILE = {
    "a name that leads up": _rename("media/../../x.mp4"),
    "an absolute name": _rename(str(ABROAD)),
    "a name in another folder": _rename("cache/x.mp4"),
    "a file that nothing uses": _stranger,
    "an ending that leads away": _column("footage", "suffix", "/../../x"),
    "a file outside": _column("footage", "lies", "/etc/passwd"),
    "another digest": _column("footage", "digest", "0" * 64),
    "facts that are none": _column("footage", "facts", "{}"),
    **{f"facts with a rate of {rate}": _fact("rate", rate) for rate in ("0", "0/0", "-24", "1/0", "nan", "1e9")},
    **{f"facts with {key} {value}": _fact(key, value) for key, value in (
        ("length", 10**9), ("length", 0), ("length", -1), ("width", 0), ("height", 10**6), ("coded_width", 10**6), ("rotation", 45), ("headroom", 0),
        ("noise", float("inf")), ("bits", 0), ("length", 13), ("rate", "25"), ("codec", "vp9"), ("width", 64), ("kind", "still"),
    )},
    "an index of other times": _index(times=np.arange(12) * 7),
    "an index that leads elsewhere": _index(order=np.full(12, 99, np.int32)),
    "an index of objects": _index(times=np.array([{}] * 12, object)),
    "an index that fills the memory": _index(times=np.zeros(1 << 27, np.int64)),
    "an index that is none": lambda head, members: _instead(head, members, next(n for n in members if n.endswith(".npz")), b"PK garbage"),
    "media that are none": _media(b"not a film at all"),
    "a history that fills the memory": _history("[" + "[]," * 5_000_000 + "[]]"),
    "a history that is too deep": _history("[" * 200_000),
    "a column of tomorrow": _column("shots", "colour", "red"),
    "a table of tomorrow": lambda head, members: head["tables"].__setitem__("secrets", [{"id": "x"}]),
    "a document that is none": _column("snapshots", "document", '{"first": -3}'),
    "a parent that is not there": _column("revisions", "parent", 999),
    "a project of another": _column("footage", "project_id", "other"),
    "an id with a slash": _column("projects", "id", "../x"),
    "a newer version": lambda head, members: head.__setitem__("version", 99),
    "no archive": lambda head, members: head.__setitem__("format", "film"),
    "another length": lambda head, members: next(iter(head["members"].values())).__setitem__("bytes", 3),
    "one byte changed": lambda head, members: members.__setitem__(n := next(n for n in members if n.endswith(".mp4")), members[n][:-1] + b"!"),
    "a member missing": lambda head, members: members.pop(next(n for n in members if n.endswith(".npz"))),
}  # fmt: skip


@pytest.mark.parametrize("what", HOSTILE)
def test_what_is_damaged_or_hostile_is_refused_whole(sound_archive: bytes, empty, what: str) -> None:  # type: ignore[no-untyped-def]
    other, folder = empty
    before = _memory()
    answer = bring(other, rewritten(sound_archive, HOSTILE[what]))
    assert answer.status_code == 422 and answer.json()["message"].endswith("."), answer.text
    assert _memory() - before < 600 << 20
    assert other.get("/api/projects").json() == []
    for name in ("media", "incoming", "files"):
        assert not list((folder / "two" / name).iterdir())
    assert not (folder / "x.mp4").exists() and not ABROAD.exists()


def _memory() -> int:
    """The most that this process has held, in bytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss << 10


def test_truncated_linked_and_bombs(film, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    client, project, _ = film
    data = archive_of(client, project)
    linked = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(linked, "w") as out:
        for info in source.infolist():
            value = source.read(info)
            if info.filename.endswith(".mp4"):
                info.external_attr = (stat.S_IFLNK | 0o777) << 16
            out.writestr(info, value)
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as out, out.open("wenditas.json", "w", force_zip64=True) as head:
        for _ in range(600):
            head.write(bytes(1 << 20))
    with opened(tmp_path / "two") as other:
        for bad in (*(data[: len(data) * n // 10] for n in range(10)), b"", b"PK", linked.getvalue(), bomb.getvalue()):
            answer = bring(other, bad)
            assert answer.status_code == 422, answer.text
        assert other.get("/api/projects").json() == [] and not list((tmp_path / "two" / "media").iterdir())
        assert sqlite3.connect(tmp_path / "two" / "wenditas.db").execute("PRAGMA integrity_check").fetchone()[0] == "ok"


def test_an_archive_is_of_one_moment(film, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Edits go on while it is read from the database and written: it comes in again whole, time after time."""
    client, project, shot = film
    stop = threading.Event()

    def edit() -> None:
        while not stop.is_set():
            view = client.get(f"/api/shots/{shot}").json()
            added = {"id": uuid.uuid4().hex[:8], "name": "n", "treatment": "monochrome"}
            body = {"base": view["revision"], "commands": [{"do": "add", "target": "look/passes", "value": added}], "words": "More"}
            client.post(f"/api/shots/{shot}/edits", json=body)

    editing = [threading.Thread(target=edit) for _ in range(2)]
    for thread in editing:
        thread.start()
    archives = [archive_of(client, project) for _ in range(6)]
    stop.set()
    for thread in editing:
        thread.join()
    with opened(tmp_path / "two") as other:
        for data in archives:
            answer = bring(other, data)
            assert answer.status_code == 200, answer.text


def test_media_are_not_hashed_again_but_compared(film, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    client, project, _ = film
    media = next((tmp_path / "one" / "media").glob("*.mp4"))
    data = media.read_bytes()
    media.write_bytes(data[:-1] + bytes([data[-1] ^ 1]))  # as large as it was
    services = client.app.state.services  # the download breaks off: what it begins with is on its way already
    with pytest.raises(BadFile, match="another file than was taken in"):
        list(archived(services.projects.library, services.projects.files, project))


def test_a_project_is_renamed_removed_and_brought_back(film) -> None:  # type: ignore[no-untyped-def]
    client, project, shot = film
    assert client.patch(f"/api/projects/{project}", json={"name": "Other"}).json() == {"id": project, "name": "Other"}
    assert client.delete(f"/api/projects/{project}").status_code == 200
    assert client.get("/api/projects").json() == [] and [p["id"] for p in client.get("/api/projects/removed").json()] == [project]
    assert client.get(f"/api/shots/{shot}").status_code == 200  # nothing of it is gone
    assert client.post(f"/api/projects/{project}/restore").json()["name"] == "Other"
    assert [p["id"] for p in client.get("/api/projects").json()] == [project] and client.get("/api/projects/removed").json() == []
    for call in (client.delete("/api/projects/none"), client.patch("/api/projects/none", json={"name": "x"}), client.post("/api/projects/none/restore")):
        assert call.status_code == 404
    assert client.patch(f"/api/projects/{project}", json={"name": ""}).status_code == 422
