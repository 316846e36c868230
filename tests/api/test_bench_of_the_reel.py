"""Spans and reveals on the Bench: the same doors as a shot's, whose edits are edits of the reel."""

import json
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.test_reel import add, edited, pixels, reel_of, shot_of
from tests.media.clips import make_clip

LIVE = "ws://127.0.0.1:8610"
GREY = {"passes": [{"id": "p", "name": "Grey", "treatment": "solid", "params": {"colour": "#808080"}}]}
SPAN = {"id": "s", "name": "Dusk", "start": {"item": "i", "frame": 18}, "end": {"item": "j", "frame": 5}, "look": GREY, "amount": 40}


@pytest.fixture
def view(client: TestClient, project: str, clip: Path) -> dict:
    shot = shot_of(client, project, clip)
    upright = shot_of(client, project, make_clip(clip.parent / "upright.mp4", width=120, height=160, count=30, rate=Fraction(25)))
    return edited(client, reel_of(client, project), add("i", shot, 4, 23), add("j", upright, 0, 24), {"do": "add", "target": "spans", "value": SPAN})


def of(view: dict, list_name: str, id: str) -> str:
    return f"{view['reel_id']}.{list_name}.{id}"


def shown(client: TestClient, id: str, revision: int, frame: int, **query: object) -> np.ndarray:
    answer = client.get(f"/api/shots/{id}/pictures/{revision}/{frame}.png", params=query)
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[..., ::-1]


def revealed(client: TestClient, view: dict, **more: object) -> dict:
    hole = {"id": "h", "name": "Hole", "keys": [{"id": "k", "type": "lightness", "low": 0, "high": 50}]}
    transition = {"id": "x", "after": "i", "kind": "reveal", "frames": 8, "look": {"selections": [hole]}, "selection": "h", **more}
    return edited(client, view, {"do": "add", "target": "transitions", "value": transition})


def test_a_span_is_seen_and_edited_where_it_lies(client: TestClient, view: dict) -> None:
    id = of(view, "spans", "s")
    opened = client.get(f"/api/shots/{id}").json()
    begins, last = view["spans"]["s"]
    assert opened["part"] == {"kind": "span", "reel_id": view["reel_id"], "id": "s", "begins": begins}
    assert opened["document"]["first"] == 0 and opened["document"]["last"] == last - begins and opened["footage"]["facts"]["length"] == last - begins + 1
    for frame in (0, last - begins):  # the result is the reel's own picture there; its source what the reel shows without the span
        assert np.array_equal(shown(client, id, view["revision"], frame), pixels(client, view, begins + frame))
        assert np.array_equal(shown(client, id, view["revision"], frame, view="source"), pixels(client, view, begins + frame, without="spans"))
    full = cv2.imdecode(np.frombuffer(client.get(f"/api/shots/{id}/stages/{view['revision']}/0.jpg", params={"upto": 1}).content, np.uint8), cv2.IMREAD_COLOR)
    assert np.abs(full.astype(int) - 128).max() <= 2  # a stage is what the look makes, not how much of it is laid over

    body = {"base": opened["revision"], "commands": [{"do": "set", "target": "look/passes/p/params/colour", "value": "#000000"}], "words": "Colour"}
    made = client.post(f"/api/shots/{id}/edits", json=body).json()
    after = reel_of(client, view["project_id"])
    assert after["revision"] == made["made"] and after["undo"] == "Dusk: Colour" == made["undo"]
    assert after["document"]["spans"][0]["look"]["passes"][0]["params"]["colour"] == "#000000"
    assert client.get(f"/api/shots/{id}/history").json()[0]["words"] == "Dusk: Colour"
    back = client.post(f"/api/shots/{id}/undo", json={"base": made["revision"]}).json()
    assert back["document"]["look"]["passes"][0]["params"]["colour"] == "#808080"


def test_a_span_to_the_end_of_the_reel_is_seen_to_its_last_frame(client: TestClient, view: dict) -> None:
    view = edited(client, view, {"do": "set", "target": "spans/s/end", "value": {"item": "j", "frame": 24}})
    id, (begins, last) = of(view, "spans", "s"), view["spans"]["s"]
    opened = client.get(f"/api/shots/{id}").json()
    assert last == view["length"] - 1 and opened["footage"]["facts"]["length"] == last - begins + 1
    assert np.array_equal(shown(client, id, view["revision"], last - begins), pixels(client, view, last))


def test_picks_fits_and_tracks_of_a_span(client: TestClient, view: dict) -> None:
    id = of(view, "spans", "s")
    answer = client.post(f"/api/shots/{id}/picks", json={"base": view["revision"], "x": 0.4, "y": 0.4, "frame": 1}).json()
    selection = answer["selection"]
    held = reel_of(client, view["project_id"])["document"]["spans"][0]["look"]["selections"]
    assert [s["id"] for s in held] == [selection]
    box = {"id": "b", "name": "Box", "kind": "rectangle", "points": [{"x": 400, "y": 300}, {"x": 900, "y": 700}]}
    command = {"do": "add", "target": f"look/selections/{selection}/shapes", "value": box}
    drawn = client.post(f"/api/shots/{id}/edits", json={"base": answer["view"]["revision"], "commands": [command], "words": "Box"})
    assert drawn.status_code == 200, drawn.text
    body = {"base": drawn.json()["revision"], "selection": selection, "shape": "b", "frame": 0, "direction": "forward"}
    lines = [json.loads(line) for line in client.post(f"/api/shots/{id}/tracks", json=body).text.splitlines()]
    assert lines[-1]["kind"] == "done" and lines[-1]["view"]["part"]["id"] == "s"
    measured = client.get(f"/api/shots/{id}/over-time/{lines[-1]['view']['revision']}", params={"selection": selection}).text.splitlines()
    assert sum(len(json.loads(line).get("values", ())) for line in measured) == view["spans"]["s"][1] - view["spans"]["s"][0] + 1
    assert client.get(f"/api/shots/{id}/colours/0").json() and client.get(f"/api/shots/{id}/census/0.png").status_code == 200


@pytest.mark.parametrize("of_side", ["outgoing", "incoming"])
def test_a_reveal_is_worked_on_where_it_was_filmed(client: TestClient, view: dict, of_side: str) -> None:
    """Its frames are those of the shot's footage: closed before the transition, all taken behind it."""
    view = revealed(client, view, of=of_side)
    id = of(view, "transitions", "x")
    opened = client.get(f"/api/shots/{id}").json()
    facts, document = opened["footage"]["facts"], opened["document"]
    assert (facts["width"], facts["height"]) == ((320, 240) if of_side == "outgoing" else (120, 160))
    assert opened["part"]["kind"] == "reveal" and opened["part"]["begins"] == view["cuts"][1] - 4
    one = view["document"]["items"][0 if of_side == "outgoing" else 1]["shot"]
    plain = client.get(f"/api/shots/{one}").json()["revision"]
    source = shown(client, id, view["revision"], 10, view="source")
    assert np.array_equal(source, shown(client, one, plain, 10))
    matte = shown(client, id, view["revision"], 10, view="matte", selection="h")
    assert matte.shape == source.shape and 0 < (matte > 128).mean() < 1
    before = shown(client, id, view["revision"], 0 if of_side == "outgoing" else facts["length"] - 1)
    assert np.array_equal(before, shown(client, one, plain, 0 if of_side == "outgoing" else facts["length"] - 1))
    middle = (document["first"] + document["last"]) // 2
    assert not np.array_equal(shown(client, id, view["revision"], middle), shown(client, one, plain, middle))
    body = {"base": view["revision"], "commands": [{"do": "set", "target": "look/selections/h/keys/k/high", "value": 30}], "words": "High"}
    client.post(f"/api/shots/{id}/edits", json=body)
    assert reel_of(client, view["project_id"])["document"]["transitions"][0]["look"]["selections"][0]["keys"][0]["high"] == 30


def test_what_is_gone_is_said(client: TestClient, view: dict) -> None:
    def said(id: str) -> str:
        answer = client.get(f"/api/shots/{id}")
        assert answer.status_code == 404
        return answer.json()["message"]

    assert "not in the reel any more" in said(of(view, "spans", "none"))
    assert "nothing on the Bench" in said(of(view, "items", "i"))
    assert "no document" in said("none.spans.s")
    view = revealed(client, view)
    view = edited(client, view, {"do": "set", "target": "transitions/x/kind", "value": "dissolve"})
    assert "no reveal any more" in said(of(view, "transitions", "x"))
    edited(client, view, {"do": "remove", "target": "items/i"})
    assert "are gone from the reel" in said(of(view, "spans", "s"))


def test_the_live_channel_of_a_span(client: TestClient, view: dict) -> None:
    with client.websocket_connect(f"{LIVE}/api/shots/{of(view, 'spans', 's')}/live") as socket:
        pictures = []
        for colour in ("#808080", "#ffffff"):
            commands = [{"do": "set", "target": "look/passes/p/params/colour", "value": colour}]
            socket.send_text(json.dumps({"kind": "look", "id": 1, "revision": view["revision"], "commands": commands, "frame": 0, "width": 320}))
            answer = socket.receive_bytes()
            begin = 4 + int.from_bytes(answer[:4], "big")
            pictures.append(cv2.imdecode(np.frombuffer(answer[begin:], np.uint8), cv2.IMREAD_COLOR).astype(int))
        assert 45 < (pictures[1] - pictures[0]).mean() < 55  # 40 % of what the colour rose by
