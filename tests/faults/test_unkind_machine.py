"""A machine that is unkind: a clock that jumps, a disk that is slow, a folder that can only be read."""

import subprocess
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from tests.api.conftest import wait_for
from tests.command_line import run
from tests.faults.conftest import Inside, Outside, outside
from tests.faults.test_data_folder import said
from tests.faults.test_kill import begin
from tests.media.clips import make_clip

YEARS = 365 * 24 * 3600
CLOCK = r"""
#define _GNU_SOURCE
#include <stdio.h>
#include <stdlib.h>
#include <sys/syscall.h>
#include <sys/time.h>
#include <time.h>
#include <unistd.h>

static long away(void) {  // seconds that the clock of the day is away, as a file says
    long seconds = 0;
    FILE *file = fopen(getenv("CLOCK_AWAY"), "r");
    if (file) { if (fscanf(file, "%ld", &seconds) != 1) seconds = 0; fclose(file); }
    return seconds;
}
int clock_gettime(clockid_t id, struct timespec *at) {
    int failed = syscall(SYS_clock_gettime, id, at);
    if (!failed && (id == CLOCK_REALTIME || id == CLOCK_REALTIME_COARSE)) at->tv_sec += away();
    return failed;
}
int gettimeofday(struct timeval *at, void *zone) {
    struct timespec now;
    clock_gettime(CLOCK_REALTIME, &now);
    at->tv_sec = now.tv_sec; at->tv_usec = now.tv_nsec / 1000;
    return 0;
}
time_t time(time_t *to) {
    struct timespec now;
    clock_gettime(CLOCK_REALTIME, &now);
    if (to) *to = now.tv_sec;
    return now.tv_sec;
}
"""


def edited(server: Outside, shot: dict, words: str) -> dict:
    """The shot after an edit that is called by its words."""
    value = [{"id": "p", "name": words, "treatment": "monochrome"}]
    edit = {"base": shot["head"], "commands": [{"do": "set", "target": "look/passes", "value": value}], "words": words}
    answer = server.client.post(f"/api/shots/{shot['id']}/edits", json=edit)
    assert answer.status_code == 200, answer.text
    return {**shot, "head": answer.json()["revision"]}


@pytest.mark.long(found_by="tests/store: order is by number, never by time")
def test_a_clock_that_jumps_changes_no_order_and_loses_nothing(tmp_path: Path) -> None:
    """Years back and forth while the server works, and over a restart. The clock of the day alone jumps, as a real one does."""
    at, source, library = tmp_path / "clock", tmp_path / "clock.c", tmp_path / "clock.so"
    source.write_text(CLOCK)
    subprocess.run(["gcc", "-shared", "-fPIC", "-O1", "-o", str(library), str(source)], check=True)
    at.write_text("0")
    with outside(tmp_path / "data", env={"LD_PRELOAD": str(library), "CLOCK_AWAY": str(at)}) as server:
        project, shot = begin(server, make_clip(tmp_path / "a.mp4", count=48))
        shots, words = [shot["id"]], []
        exported = []
        for number, jump in enumerate((0, -10, 10, -3, 0)):
            at.write_text(str(jump * YEARS))
            words.append(f"{number}, {jump} years away")
            shot = edited(server, shot, words[-1])
            shots.append(server.client.post(f"/api/footage/{shot['footage_id']}/shots").json()["id"])
            exported.append(server.client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"], "name": f"{number}"}).json()["id"])
            if jump == 10:
                server.kill()
                server.start()
        history = server.client.get(f"/api/shots/{shot['id']}/history").json()
        assert [e["words"] for e in history][: len(words)] == words[::-1]
        assert len({e["created"][:4] for e in history}) >= 3  # it did jump
        assert [s["id"] for s in server.client.get(f"/api/projects/{project}").json()["shots"]] == shots

        def rows() -> list[dict]:
            return server.client.get(f"/api/projects/{project}/exports").json()

        wait_for(lambda: all(r["state"] == "done" for r in rows()))
        assert [r["id"] for r in rows()] == exported[::-1] and all(r["digest"] for r in rows())
        for words_back in words[-2::-1]:
            view = server.client.post(f"/api/shots/{shot['id']}/undo", json={"base": shot["head"]}).json()
            shot["head"] = view["revision"]
            assert view["document"]["look"]["passes"][0]["name"] == words_back


@pytest.mark.long(found_by="nothing: it is about time alone")
def test_on_a_slow_disk_edits_take_longer_and_nobody_else_waits(tmp_path: Path) -> None:
    """Every flush to disk takes half a second more (the system call is held up from outside): pictures are answered while an edit is written."""
    slow = ["strace", "-f", "--seccomp-bpf", "-qq", "-o", "/dev/null", "-e", "trace=fsync,fdatasync", "-e", "inject=fsync,fdatasync:delay_enter=500000"]
    with outside(tmp_path / "data", slow) as server:
        project, shot = begin(server, make_clip(tmp_path / "a.mp4", count=48))
        picture = f"/api/shots/{shot['id']}/pictures/{shot['head']}/5.png"
        assert server.client.get(picture, params={"width": 64}).status_code == 200
        order: list[str] = []

        def edit() -> None:
            for number in range(3):
                shot.update(edited(server, shot, f"{number}"))
            order.append("edits")

        writer = threading.Thread(target=edit)
        writer.start()
        for frame in range(6):
            assert server.client.get(picture.replace("/5.", f"/{frame}."), params={"width": 64}).status_code == 200
        order.append("pictures")
        writer.join()
        assert order == ["pictures", "edits"]
        id = server.client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"]}).json()["id"]
        wait_for(lambda: server.client.get(f"/api/projects/{project}/exports").json()[0]["state"] == "done")
        assert server.client.get(f"/api/exports/{id}/file").status_code == 200
        shot = edited(server, shot, "the last")
        server.kill()
        server.start()
        assert server.client.get(f"/api/shots/{shot['id']}").json()["document"]["look"]["passes"][0]["name"] == "the last"


@contextmanager
def read_only(folder: Path) -> Iterator[None]:
    """The folder can only be read, as one that is mounted so."""
    subprocess.run(["mount", "--bind", str(folder), str(folder)], check=True)
    try:
        subprocess.run(["mount", "-o", "remount,bind,ro", str(folder)], check=True)
        yield
    finally:
        subprocess.run(["umount", "-l", str(folder)], check=True)


def test_a_data_folder_that_can_only_be_read_is_said(tmp_path: Path) -> None:
    data = tmp_path / "data"
    with outside(data) as server:
        _, shot = begin(server, make_clip(tmp_path / "a.mp4", count=3))
    with read_only(data):
        assert "cannot be used: Read-only file system" in said(run("serve", "--data", str(data), "--port", "1"))
        assert "cannot be used: Read-only file system" in said(run("demo", "--data", str(data), "--prepare-only"))
    with outside(data) as server:
        assert server.client.get(f"/api/shots/{shot['id']}").status_code == 200


LONG = pytest.mark.long(found_by="the same of incoming and exports; test_full_disk.py has every kind of write refused")


@pytest.mark.parametrize("folder", ["incoming", "exports", *(pytest.param(name, marks=LONG) for name in ("media", "cache", "files"))])
def test_a_folder_that_becomes_read_only_is_said_and_work_goes_on(tmp_path: Path, long_clip: Path, folder: str) -> None:
    server = Inside(tmp_path / "data")
    try:
        view = server.shot(make_clip(tmp_path / "a.mp4", count=24))
        shot, footage = view["shot"]["id"], view["footage"]
        project = server.client.get("/api/projects").json()[0]["id"]

        def row(id: str) -> dict:
            return next(r for r in server.client.get(f"/api/projects/{project}/exports").json() if r["id"] == id)

        with read_only(tmp_path / "data" / folder):
            answers = {
                "upload": server.client.post(f"/api/projects/{project}/footage", params={"name": "b.mp4"}, content=long_clip.read_bytes()),
                "lut": server.client.post("/api/files", params={"name": "a.cube"}, content=b"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n"),
                "archive": server.client.post("/api/projects/archive", content=server.client.get(f"/api/projects/{project}/archive.zip").content),
            }
            for answer in answers.values():
                assert answer.status_code in (200, 422, 507), answer.text
                assert answer.status_code == 200 or "Read-only" in answer.json()["message"], answer.text
            assert any(a.status_code == 507 for a in answers.values()) or folder in ("exports", "cache")
            view = server.edited(view, [{"do": "add", "target": "look/passes", "value": {"id": "p", "name": "P", "treatment": "monochrome"}}])
            assert server.client.get(f"/api/shots/{shot}/pictures/{view['revision']}/3.png", params={"width": 64}).status_code == 200
            assert server.client.get(f"/api/footage/{footage['id']}/frames/3.jpg").status_code == 200
            id = server.client.post(f"/api/shots/{shot}/exports", json={"revision": view["revision"]}).json()["id"]
            wait_for(lambda: row(id)["state"] in ("done", "failed"))
            assert row(id)["state"] == ("failed" if folder in ("exports", "cache") else "done")
            assert row(id)["state"] == "done" or "Read-only" in row(id)["message"]
        if row(id)["state"] == "failed":
            server.client.post(f"/api/exports/{id}/restart")
            wait_for(lambda: row(id)["state"] == "done")
        again = server.client.post(f"/api/projects/{project}/footage", params={"name": "c.mp4"}, content=make_clip(tmp_path / "c.mp4", count=7).read_bytes())
        assert again.status_code == 200 and not list((tmp_path / "data" / "incoming").iterdir())
    finally:
        server.stop()
