"""The export queue goes on whatever happens to one export, and says the truth about each."""

import os
import signal
import sqlite3
import threading
from pathlib import Path

import pytest

from tests.api.conftest import wait_for
from tests.faults.conftest import Inside, outside
from tests.media.clips import make_clip
from wenditas.stem import Child
from wenditas.store import exports


@pytest.fixture(scope="session")
def clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Long enough to be met at work, and no larger than that needs."""
    return make_clip(tmp_path_factory.mktemp("clips") / "clip.mp4", width=640, height=360, count=240)


@pytest.fixture
def shot(inside: Inside, clip: Path) -> dict:
    return inside.shot(clip)


@pytest.fixture
def brief(inside: Inside, tmp_path: Path) -> dict:
    """For what is only to show that exports go on."""
    return inside.shot(make_clip(tmp_path / "brief.mp4", count=6))


def start(inside: Inside, view: dict) -> str:
    answer = inside.client.post(f"/api/shots/{view['shot']['id']}/exports", json={"revision": view["revision"]})
    return str(answer.json()["id"])


def state(inside: Inside, id: str) -> exports.ExportRow:
    return exports.export(inside.services.db, id)


@pytest.mark.long(found_by="tests/api/test_exports.py: cancelled while it waits, deleted")
def test_an_export_cancelled_and_deleted_while_it_waits_does_not_end_the_queue(inside: Inside, shot: dict) -> None:
    first, second, third = (start(inside, shot) for _ in range(3))
    assert inside.client.post(f"/api/exports/{second}/cancel").json()["state"] == "cancelled"
    assert inside.client.delete(f"/api/exports/{second}").status_code == 204
    inside.client.post(f"/api/exports/{first}/cancel")
    wait_for(lambda: state(inside, third).state == "done")
    assert state(inside, first).state == "cancelled"


@pytest.mark.long(found_by="tests/api/test_exports.py: cancelled while it runs and while it waits")
def test_a_cancel_before_the_process_starts_holds(inside: Inside, shot: dict, brief: dict) -> None:
    """The queue is stopped by the database between taking up an export and starting its process; the cancel comes then."""
    jobs, began, go = inside.services.background.exports, threading.Event(), threading.Event()
    make = jobs._job

    def slowly(row):  # type: ignore[no-untyped-def]
        made = make(row)
        began.set()
        go.wait(20)
        return made

    jobs._job = slowly  # type: ignore[method-assign]
    id = start(inside, shot)
    began.wait(20)
    assert inside.client.post(f"/api/exports/{id}/cancel").status_code == 200
    go.set()
    wait_for(lambda: state(inside, id).state == "cancelled")
    assert not list((inside.services.projects.library.folder / "exports").iterdir())
    again = start(inside, brief)
    wait_for(lambda: state(inside, again).state == "done")


@pytest.mark.long(found_by="the progress that cannot be stored, beside; test_full_disk.py: each kind of write says that the disk is full and goes on later")
def test_a_database_that_is_locked_or_full_does_not_end_the_queue(inside: Inside, shot: dict, brief: dict, tmp_path: Path) -> None:
    """`max_page_count` makes the database full for real; the end of the export is stored when there is room again."""
    db = inside.services.db
    id = start(inside, shot)
    wait_for(lambda: state(inside, id).done > 0)
    with db._lock:
        pages = db._writer.execute("PRAGMA page_count").fetchone()[0]
        db._writer.execute(f"PRAGMA max_page_count = {pages}")
    blob = "x" * 200_000  # what free pages there are do not hold this
    answer = inside.client.post(f"/api/shots/{shot['shot']['id']}/edits", json=_big_edit(shot, blob))
    assert answer.status_code == 507 and "disk is full" in answer.json()["message"]
    assert inside.client.get(f"/api/shots/{shot['shot']['id']}").json()["revision"] == shot["revision"]
    with db._lock:
        db._writer.execute("PRAGMA max_page_count = 1073741823")
    wait_for(lambda: state(inside, id).state in ("done", "failed"))
    other = sqlite3.connect(db.path, isolation_level=None, timeout=0)
    other.execute("BEGIN IMMEDIATE")  # somebody else writes, for longer than is waited for
    db._writer.execute("PRAGMA busy_timeout = 50")
    locked = inside.client.post(f"/api/shots/{shot['shot']['id']}/edits", json=_big_edit(shot, "y"))
    assert locked.status_code == 507 and "try again" in locked.json()["message"]
    other.execute("ROLLBACK")
    other.close()
    second = start(inside, brief)
    wait_for(lambda: state(inside, second).state == "done")


def _big_edit(view: dict, text: str) -> dict:
    value = {"id": "u", "name": "U", "treatment": "from-a-newer-version", "params": {"text": text}}
    return {"base": view["revision"], "commands": [{"do": "add", "target": "look/passes", "value": value}], "words": "E"}


def test_an_export_whose_progress_cannot_be_stored_stops_and_is_said(inside: Inside, shot: dict, brief: dict) -> None:
    """A trigger refuses the progress as a full disk would; the end is stored once that is over."""
    db = inside.services.db
    with db.atomic() as writer:
        writer.execute("CREATE TRIGGER no_progress BEFORE UPDATE ON exports WHEN NEW.done > 1 BEGIN SELECT RAISE(ABORT, 'no room for this'); END")
    id = start(inside, shot)
    wait_for(lambda: id in inside.services.background.exports._unwritten or state(inside, id).state == "failed")
    wait_for(lambda: not inside.services.background.exports._runs)
    with db.atomic() as writer:
        writer.execute("DROP TRIGGER no_progress")
    wait_for(lambda: state(inside, id).state == "failed")
    assert "no room for this" in state(inside, id).message
    again = start(inside, brief)
    wait_for(lambda: state(inside, again).state == "done")


def process_of(server: Inside, id: str) -> Child:
    process = server.services.background.exports._runs[id].process
    assert process is not None
    return process


def whole(segments: Path) -> dict[str, int]:
    """When each segment was written that is done."""
    return {p.name: p.stat().st_mtime_ns for p in segments.glob("*.mp4") if ".part" not in p.suffixes}


@pytest.mark.long(found_by="tests/api/test_exports.py: a stop in the middle goes on; the worker whose server is gone, here")
def test_stopping_the_server_leaves_no_process_and_all_goes_on_at_the_next_start(tmp_path: Path) -> None:
    """Eight segments, so that none of the two exports is done when the first segment is seen."""
    server, clip = Inside(tmp_path / "data"), make_clip(tmp_path / "half-a-minute.mp4", count=720)
    ids = [start(server, server.shot(clip)) for _ in range(2)]
    segments = tmp_path / "data" / "cache" / "segments" / ids[0]
    wait_for(lambda: whole(segments) and state(server, ids[0]).state == "running", seconds=240)  # kernels may be compiled first
    process = process_of(server, ids[0])
    server.stop()
    assert process.ended()
    kept = whole(segments)
    assert kept
    again = Inside(tmp_path / "data")
    try:
        wait_for(lambda: state(again, ids[0]).done > 0)
        assert kept.items() <= whole(segments).items() or state(again, ids[0]).state == "done"
        wait_for(lambda: all(state(again, id).state == "done" for id in ids))
        assert not list((tmp_path / "data" / "cache").glob("job-*")) and not list((tmp_path / "data" / "cache" / "segments").iterdir())
    finally:
        again.stop()


def test_a_worker_killed_from_outside_goes_on_by_itself_and_is_given_up_in_the_end(inside: Inside, shot: dict) -> None:
    whole = start(inside, shot)
    wait_for(lambda: state(inside, whole).state == "done")
    id = start(inside, shot)
    wait_for(lambda: state(inside, id).done > 0)
    os.kill(process_of(inside, id).pid, signal.SIGKILL)
    wait_for(lambda: state(inside, id).state == "done")
    assert state(inside, id).digest == state(inside, whole).digest
    last = start(inside, shot)
    killed: set[int] = set()
    while len(killed) < 3:
        wait_for(
            lambda: (
                last in inside.services.background.exports._runs
                and (p := inside.services.background.exports._runs[last].process) is not None
                and p.pid not in killed
            )
        )
        killed.add(process_of(inside, last).pid)
        os.kill(process_of(inside, last).pid, signal.SIGKILL)
    wait_for(lambda: state(inside, last).state == "failed")
    assert "ended from outside" in state(inside, last).message


def test_a_worker_whose_server_is_gone_stops_and_the_export_goes_on_at_the_next_start(tmp_path: Path, clip: Path) -> None:
    with outside(tmp_path / "data") as server:
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()
        shot = server.client.post(f"/api/footage/{footage['id']}/shots").json()
        id = server.client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"]}).json()["id"]
        wait_for(lambda: next(e for e in server.client.get(f"/api/projects/{project}/exports").json() if e["id"] == id)["done"] > 0)
        assert server.workers()
        server.kill()
        wait_for(lambda: not server.workers(), 20)
        assert not list((tmp_path / "data" / "exports").iterdir())
        server.start()
        wait_for(lambda: server.client.get(f"/api/projects/{project}/exports").json()[0]["state"] == "done")


def test_pause_order_and_several_at_once(inside: Inside, shot: dict) -> None:
    client = inside.client
    first, second, third = (start(inside, shot) for _ in range(3))
    wait_for(lambda: state(inside, first).done > 0)
    assert client.post(f"/api/exports/{third}/place", json={"before": second}).status_code == 200
    assert client.post(f"/api/exports/{second}/place", json={"before": "none"}).status_code == 404
    paused = client.post(f"/api/exports/{first}/pause")
    assert paused.status_code == 200
    wait_for(lambda: state(inside, first).state == "paused" and state(inside, third).state == "running")
    assert state(inside, second).state == "waiting"
    assert client.post(f"/api/exports/{first}/pause").status_code == 409
    assert client.put("/api/exports/queue", json={"at_once": 2}).json() == {"at_once": 2}
    assert client.put("/api/exports/queue", json={"at_once": 9}).status_code == 422
    wait_for(lambda: state(inside, second).state == "running" and state(inside, third).state == "running")
    assert client.post(f"/api/exports/{first}/go-on").status_code == 200 and client.post(f"/api/exports/{second}/go-on").status_code == 409
    wait_for(lambda: all(state(inside, id).state == "done" for id in (first, second, third)))
    assert len({state(inside, id).digest for id in (first, second, third)}) == 1


@pytest.mark.long(found_by="test_pause_order_and_several_at_once; bench/soak.py: many clients")
def test_a_hundred_exports_wait_and_nobody_waits_for_them(inside: Inside, shot: dict) -> None:
    ids = [start(inside, shot) for _ in range(100)]
    project = inside.client.get("/api/projects").json()[0]["id"]
    wait_for(lambda: state(inside, ids[0]).state in ("running", "done"))
    listed = inside.client.get(f"/api/projects/{project}/exports").json()
    assert len(listed) == 100 and sum(e["state"] == "waiting" for e in listed) >= 98
    picture = inside.client.get(f"/api/shots/{shot['shot']['id']}/pictures/{shot['revision']}/3.png", params={"width": 160})
    assert picture.status_code == 200
    inside.client.post(f"/api/exports/{ids[99]}/place", json={"before": ids[1]})
    for id in ids[1:99]:
        assert inside.client.post(f"/api/exports/{id}/cancel").json()["state"] in ("cancelled", "running")
    wait_for(lambda: state(inside, ids[0]).state == "done" and state(inside, ids[99]).state == "done")
    assert state(inside, ids[0]).digest == state(inside, ids[99]).digest


def test_the_same_content_sent_ten_times_at_once_is_stored_once(inside: Inside, tmp_path: Path) -> None:
    import concurrent.futures

    clip = make_clip(tmp_path / "a.mp4", count=6).read_bytes()
    project = inside.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    lut = ("LUT_3D_SIZE 2\n" + "\n".join(f"{r} {g} {b}" for b in (0, 1) for g in (0, 1) for r in (0, 1))).encode()
    with concurrent.futures.ThreadPoolExecutor(10) as pool:
        answers = list(pool.map(lambda n: inside.client.post(f"/api/projects/{project}/footage", params={"name": f"{n}.mp4"}, content=clip), range(10)))
        files = list(pool.map(lambda n: inside.client.post("/api/files", params={"name": "a.cube"}, content=lut), range(10)))
    assert {a.status_code for a in (*answers, *files)} == {200}
    assert len({a.json()["id"] for a in answers}) == 1 and sum(a.json()["already"] for a in answers) == 9
    assert len({a.json()["digest"] for a in files}) == 1
    folder = inside.services.projects.library.folder
    assert len(list((folder / "media").iterdir())) == 2 and len(list((folder / "files").iterdir())) == 1 and not list((folder / "incoming").iterdir())
