"""kill -9 while objects are carried through a shot, and while looks are made from a picture: what was acknowledged is there, the rest goes on.

As often as `WENDITAS_KILLS` says, like the other kills.
"""

import json
import random
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.api.conftest import wait_for
from tests.faults.conftest import Outside, outside
from tests.faults.test_kill import KILLS, begin, killed_within, until_killed
from wenditas.core.kernel import as_picture
from wenditas.media.writing.h264 import write_clip

WIDTH, HEIGHT, FRAMES = 320, 180, 24
SCALE = 1080 / HEIGHT


def ball(path: Path) -> Path:
    """A ball that flies over a chequered ground."""
    coarse = np.random.default_rng(3).uniform(0.3, 0.6, (3, 10, 17))
    ground = np.stack([np.kron(c, np.ones((18, 19)))[:HEIGHT, :WIDTH] for c in coarse])
    v, u = np.mgrid[0:HEIGHT, 0:WIDTH]
    covers = [np.clip(26.5 - np.hypot(u - 80 - 6 * n, v - 90), 0, 1) for n in range(FRAMES)]
    colour = np.array([0.75, 0.5, 0.2]).reshape(3, 1, 1)
    write_clip(path, [as_picture(ground * (1 - c) + colour * c) for c in covers], Fraction(24), ("20", "fast"))
    return path


def carried(server: Outside, shot: dict, revision: int, told: dict) -> None:
    """Carry the object through the shot, from its first frame to the end."""
    query = {"selection": "s", "object": "o", "frame": 0}
    with server.client.stream("GET", f"/api/shots/{shot['id']}/objects/{revision}", params=query) as lines:
        for line in lines.iter_lines():
            told["count"] += 1
            told["done"] = json.loads(line)["kind"] == "done"


def mattes(server: Outside, shot: dict, revision: int) -> list[bytes]:
    asked = {"view": "matte", "selection": "s", "width": WIDTH}
    return [server.client.get(f"/api/shots/{shot['id']}/pictures/{revision}/{n}.png", params=asked).content for n in range(0, FRAMES, 5)]


@pytest.mark.long(found_by="tests/render/test_things.py: what is carried is kept by its name, and carried anew where its file is damaged")
def test_an_object_is_carried_on_to_the_same_end(tmp_path: Path) -> None:
    chance, told = random.Random(6), {"count": 0, "done": False}
    clip = ball(tmp_path / "ball.mp4")

    def stroked(server: Outside, shot: dict, number: int) -> int:
        strokes = [{"id": "a", "frame": 0, "kind": "this", "radius": 30, "points": [[(72 + number % 8) * SCALE, 88 * SCALE], [88 * SCALE, 94 * SCALE]]}]
        selection = {"id": "s", "name": "Ball", "objects": [{"id": "o", "name": "Ball", "mode": "is", "strokes": strokes}]}
        edit = {"base": shot["head"], "commands": [{"do": "set", "target": "look/selections", "value": [selection]}], "words": str(number)}
        shot["head"] = server.client.post(f"/api/shots/{shot['id']}/edits", json=edit).json()["revision"]
        return int(shot["head"])

    with outside(tmp_path / "data") as server, outside(tmp_path / "undisturbed") as other:
        (_, shot), (_, same) = begin(server, clip), begin(other, clip)
        for number in range(KILLS):
            revision, beside = stroked(server, shot, number), stroked(other, same, number)
            told.update(count=0, done=False)
            carrying, goal = until_killed(lambda revision=revision: carried(server, shot, revision, told)), chance.randint(1, FRAMES)
            wait_for(lambda goal=goal: told["count"] >= goal)
            server.kill()
            carrying.join()
            server.start()
            found = server.client.get(f"/api/shots/{shot['id']}").json()
            assert found["revision"] == revision and found["document"]["look"]["selections"][0]["objects"][0]["strokes"]
            told.update(count=0, done=False)
            carried(server, shot, revision, told)
            assert told["done"]
            assert mattes(server, shot, revision) == mattes(other, same, beside)
        assert not list((tmp_path / "data").rglob("*.part*"))
    print(f"objects: {KILLS} kills while one was carried")


@pytest.mark.long(found_by="tests/faults/test_kill.py of edits: proposals are stored as edits are")
def test_a_look_from_a_picture_is_there_whole_or_not_at_all(tmp_path: Path) -> None:
    chance, sent = random.Random(7), {"count": 0}
    grey = np.linspace(0, 1, 160).reshape(1, -1, 1).repeat(90, axis=0)
    inked = np.array([29, 43, 79]) * (1 - grey) + np.array([242, 227, 198]) * grey
    with outside(tmp_path / "data") as server:
        _, shot = begin(server, ball(tmp_path / "ball.mp4"))
        picture = cv2.imencode(".png", inked.round().astype(np.uint8)[..., ::-1])[1].tobytes()
        file = server.client.post("/api/files", params={"name": "two inks.png"}, content=picture).json()["digest"]
        door = f"/api/shots/{shot['id']}"

        def ask() -> None:
            base = server.client.get(door).json()["revision"]
            answer = server.client.post(f"{door}/likeness", json={"base": base, "reference": {"file": file}, "name": "two inks"})
            if answer.status_code == 200:
                sent["count"] += 1

        for _ in range(KILLS):
            killed_within(server, ask, sent, chance, 1.0)
            view, history = server.client.get(door).json(), server.client.get(f"{door}/history").json()
            made = [e for e in history if "two inks" in e["words"]]
            assert sent["count"] <= len(made) or sent["count"] > 390
            if made:
                assert view["document"]["look"]["passes"][-1]["treatment"] == "duotone"
            for take in server.client.get(f"{door}/takes").json():  # each is of a revision that is there
                assert server.client.get(f"{door}/pictures/{take['revision']}/3.png", params={"width": 64}).status_code == 200
    print(f"looks from a picture: {KILLS} kills, {sent['count']} looks")
