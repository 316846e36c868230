"""kill -9 at any moment: no acknowledged edit is lost, exports go on after a restart, nothing is left behind.

`WENDITAS_KILLS=50` kills as often as the proof asks for; the suite does so a few times.
"""

import os
import random
import threading
import time
from pathlib import Path

import httpx
import pytest

from tests.api.conftest import wait_for
from tests.faults.conftest import Outside, outside
from tests.media.clips import make_clip

KILLS = int(os.environ.get("WENDITAS_KILLS", "2"))


def until_killed(work) -> threading.Thread:  # type: ignore[no-untyped-def]
    """Do something over and over in a thread until the server is gone."""

    def run() -> None:
        try:
            while True:
                work()
        except httpx.TransportError:
            return

    thread = threading.Thread(target=run)
    thread.start()
    return thread


def killed_within(server: Outside, send, sent: dict, chance: random.Random, most: float) -> None:  # type: ignore[no-untyped-def]
    """Something is sent over and over; the server is killed anywhere within one of the next, at most so many seconds into it, and started again."""
    sender, goal, pause = until_killed(send), sent["count"] + chance.randint(0, 2), chance.random() * most
    wait_for(lambda: sent["count"] >= goal)
    began = time.monotonic()
    wait_for(lambda: time.monotonic() - began >= pause)
    server.kill()
    sender.join()
    server.start()


def begin(server: Outside, clip: Path) -> tuple[str, dict]:
    project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()
    return project, server.client.post(f"/api/footage/{footage['id']}/shots").json()


@pytest.mark.parametrize("what", ["shots", pytest.param("reels", marks=pytest.mark.long(found_by="the same of shots: one mechanism stores both"))])
def test_edits_that_were_acknowledged_are_there(tmp_path: Path, what: str) -> None:
    chance = random.Random(1)
    with outside(tmp_path / "data") as server:
        project, shot = begin(server, make_clip(tmp_path / "a.mp4", count=6))
        reel = server.client.get(f"/api/projects/{project}/reel").json()
        door = f"/api/shots/{shot['id']}" if what == "shots" else f"/api/reels/{reel['reel_id']}"
        state = {"revision": shot["head"] if what == "shots" else reel["revision"], "edits": 0}

        def commands(number: int) -> list[dict]:
            if what == "shots":
                return [{"do": "set", "target": "look/passes", "value": [{"id": f"p{number % 50}", "name": f"{number}", "treatment": "monochrome"}]}]
            item = {"id": f"i{number}", "shot": shot["id"], "first": number % 3, "last": 5}
            gone = [{"do": "remove", "target": f"items/i{number - 7}"}] if number > 7 else []
            return [*gone, {"do": "add", "target": "items", "value": item}]

        def edit() -> None:
            number = state["edits"] + 1
            body = {"base": state["revision"], "commands": commands(number), "words": str(number)}
            answer = server.client.post(f"{door}/edits", json=body)
            if answer.status_code == 200:
                state.update(revision=answer.json()["revision"], edits=number)

        for _ in range(KILLS):
            writer, goal = until_killed(edit), state["edits"] + chance.randint(3, 40)
            wait_for(lambda goal=goal: state["edits"] >= goal)
            server.kill()
            writer.join()
            server.start()
            view = server.client.get(door).json()
            document = view["document"]
            found = int(document["look"]["passes"][0]["name"] if what == "shots" else document["items"][-1]["id"][1:])
            assert found in (state["edits"], state["edits"] + 1)  # the last one may have been stored without an answer
            if what == "reels":
                assert [i["id"] for i in document["items"]] == [f"i{n}" for n in range(max(1, found - 6), found + 1)]
            words = [e["words"] for e in server.client.get(f"{door}/history").json()]
            assert words[: min(found, 390)] == [str(n) for n in range(found, 0, -1)][:390]
            state.update(revision=view["revision"], edits=found)
    print(f"{what}: {KILLS} kills, {state['edits']} edits")


def test_uploads_are_there_whole_or_not_at_all(tmp_path: Path) -> None:
    chance = random.Random(2)
    clips = [make_clip(tmp_path / f"{n}.mp4", count=4 + n).read_bytes() for n in range(12)]
    with outside(tmp_path / "data") as server:
        project, _ = begin(server, make_clip(tmp_path / "a.mp4", count=3))
        sent = {"count": 0}

        def upload() -> None:
            data = clips[sent["count"] % len(clips)] + bytes(sent["count"] + 1)  # what follows the file makes it another
            answer = server.client.post(f"/api/projects/{project}/footage", params={"name": "b.mp4"}, content=data)
            sent["count"] += answer.status_code == 200

        for _ in range(KILLS):
            killed_within(server, upload, sent, chance, 0.4)
            pieces = server.client.get(f"/api/projects/{project}").json()["footage"]
            assert len(pieces) - 1 in (sent["count"], sent["count"] + 1)
            sent["count"] = len(pieces) - 1
            data = tmp_path / "data"
            assert sorted(p.name.split(".")[0] for p in (data / "media").glob("*.mp4")) == sorted(p["id"] for p in pieces)
            assert len(list((data / "media").iterdir())) == 2 * len(pieces) and not list((data / "incoming").iterdir())
            assert server.client.get(f"/api/footage/{pieces[-1]['id']}/poster.jpg").status_code == 200
    print(f"{KILLS} kills, {sent['count']} uploads")


@pytest.mark.long(found_by="test_uploads_are_there_whole_or_not_at_all, and tests/project/test_archive.py")
def test_archives_come_in_whole_or_not_at_all(tmp_path: Path) -> None:
    chance = random.Random(4)
    with outside(tmp_path / "data") as server:
        project, shot = begin(server, make_clip(tmp_path / "a.mp4", count=24, width=640, height=360))
        for number in range(5):
            value = [{"id": "p", "name": f"{number}", "treatment": "monochrome"}]
            edit = {"base": shot["head"], "commands": [{"do": "set", "target": "look/passes", "value": value}], "words": str(number)}
            shot["head"] = server.client.post(f"/api/shots/{shot['id']}/edits", json=edit).json()["revision"]
        archive = server.client.get(f"/api/projects/{project}/archive.zip").content
        sent = {"count": 0}

        def bring_in() -> None:
            sent["count"] += server.client.post("/api/projects/archive", content=archive).status_code == 200

        for _ in range(KILLS):
            killed_within(server, bring_in, sent, chance, 0.2)
            found = [p["id"] for p in server.client.get("/api/projects").json()]
            assert len(found) - 1 in (sent["count"], sent["count"] + 1)
            sent["count"] = len(found) - 1
            views = [server.client.get(f"/api/projects/{id}").json() for id in found]
            assert all(len(v["footage"]) == len(v["shots"]) == 1 for v in views)
            data = tmp_path / "data"
            assert sorted(p.name.split(".")[0] for p in (data / "media").glob("*.mp4")) == sorted(v["footage"][0]["id"] for v in views)
            assert not list((data / "incoming").iterdir()) and not list(data.glob("*/*.part*"))
            last = server.client.get(f"/api/shots/{views[-1]['shots'][0]['id']}").json()
            assert last["document"]["look"]["passes"][0]["name"] == "4"
            assert len(server.client.get(f"/api/shots/{last['shot']['id']}/history").json()) == 6
            picture = server.client.get(f"/api/shots/{last['shot']['id']}/pictures/{last['revision']}/3.png", params={"width": 64})
            assert picture.status_code == 200
    print(f"{KILLS} kills, {sent['count']} archives")


@pytest.mark.long(found_by="tests/faults/test_exports_go_on.py, and tests/render/test_segments.py byte for byte")
def test_exports_started_again_are_byte_for_byte_the_undisturbed_ones(tmp_path: Path, long_clip: Path) -> None:
    chance = random.Random(3)
    with outside(tmp_path / "data") as server:
        project, shot = begin(server, long_clip)

        def row(id: str) -> dict:
            return next(e for e in server.client.get(f"/api/projects/{project}/exports").json() if e["id"] == id)

        def start() -> str:
            return str(server.client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"]}).json()["id"])

        first = start()
        wait_for(lambda: row(first)["state"] == "done")
        whole = server.client.get(f"/api/exports/{first}/file").content
        for _ in range(KILLS):
            id, goal = start(), chance.randint(1, 200)
            wait_for(lambda id=id, goal=goal: row(id)["done"] >= goal)
            server.kill()
            server.start()
            wait_for(lambda id=id: row(id)["state"] == "done")
            assert server.client.get(f"/api/exports/{id}/file").content == whole
            server.client.delete(f"/api/exports/{id}")
        assert [p.name for p in (tmp_path / "data" / "exports").iterdir()] == [f"{first}.mp4"]
