"""Edits, undo, two windows, picks, pictures, looks."""

import json
import struct

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, edited
from wenditas.api.app import create_app


def picked(client: TestClient, view: dict, x: float = 0.375, y: float = 0.375, **more: object):
    return client.post(f"/api/shots/{view['shot']['id']}/picks", json={"base": view["revision"], "frame": 3, "x": x, "y": y, **more})


GREY = {"do": "add", "target": "look/passes", "value": {"id": "g", "name": "Monochrome", "treatment": "monochrome"}}


def png(answer) -> np.ndarray:
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1].astype(int)


def test_pick_makes_a_selection_and_more_picks_widen_it(client: TestClient, shot: dict) -> None:
    answer = picked(client, shot).json()
    selection = answer["view"]["document"]["look"]["selections"][0]
    assert selection["name"] == "Red" and answer["selection"] == selection["id"] and selection["keys"][0]["type"] == "hue"
    assert selection["keys"][0]["picks"][0]["colour"] == pytest.approx([210 / 255, 40 / 255, 30 / 255], abs=0.03)
    more = picked(client, answer["view"], 0.9, 0.5, selection=selection["id"]).json()
    refused = picked(client, more["view"], 0.1, 0.1, selection=selection["id"], refuse=True).json()
    key = refused["view"]["document"]["look"]["selections"][0]["keys"][0]
    assert len(key["picks"]) == 2 and len(key["refused"]) == 1
    assert refused["view"]["undo"] == "Not-this pick added to Red"
    assert picked(client, refused["view"]).json()["view"]["document"]["look"]["selections"][1]["name"] == "Red 2"


def test_a_not_this_pick_needs_a_selection(client: TestClient, shot: dict) -> None:
    answer = picked(client, shot, refuse=True)
    assert answer.status_code == 422 and "pick the colour to select first" in answer.json()["message"]


def test_edit_undo_redo_and_restart(client: TestClient, shot: dict, tmp_path) -> None:
    id = shot["shot"]["id"]
    one = edited(client, shot, [GREY], "Monochrome added").json()
    two = edited(client, one, [{"do": "set", "target": "look/passes/g/amount", "value": 40}], "Amount 40 %").json()
    assert two["undo"] == "Amount 40 %" and two["redo"] is None
    back = client.post(f"/api/shots/{id}/undo", json={"base": two["revision"]}).json()
    assert back["document"] == one["document"] and back["redo"] == "Amount 40 %"
    client.__exit__(None, None, None)
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as again:
        view = again.get(f"/api/shots/{id}").json()
        assert view["document"] == one["document"] and view["redo"] == "Amount 40 %"
        forward = again.post(f"/api/shots/{id}/redo", json={"base": view["revision"]}).json()
        assert forward["document"] == two["document"]
    client.__enter__()


def test_two_windows_do_not_overwrite_each_other(client: TestClient, shot: dict) -> None:
    edited(client, shot, [GREY])
    both = edited(client, shot, [{"do": "set", "target": "first", "value": 4}]).json()
    assert both["document"]["first"] == 4 and [p["id"] for p in both["document"]["look"]["passes"]] == ["g"]  # different targets: both stand
    late = edited(client, shot, [{"do": "set", "target": "first", "value": 2}])
    assert late.status_code == 409 and late.json()["kind"] == "StaleRevision" and late.json()["newest"] == {k: both[k] for k in shot}
    edited(client, both, [{"do": "remove", "target": "look/passes/g"}])
    gone = edited(client, both, [{"do": "set", "target": "look/passes/g/amount", "value": 3}])
    assert gone.status_code == 409 and gone.json()["newest"]["document"]["look"]["passes"] == []
    assert client.get(f"/api/shots/{shot['shot']['id']}").json()["document"]["first"] == 4


def test_an_edit_that_comes_twice_is_stored_once(client: TestClient, shot: dict) -> None:
    body = {"base": shot["revision"], "commands": [GREY], "words": "Grey", "id": "e1", "author": "a window"}
    path = f"/api/shots/{shot['shot']['id']}"
    one, two = (client.post(f"{path}/edits", json=body).json() for _ in range(2))
    assert one == two and len(client.get(f"{path}/history").json()) == 2
    undone = client.post(f"{path}/undo", json={"base": one["revision"]}).json()
    assert client.post(f"{path}/undo", json={"base": one["revision"]}).json() == undone  # its answer was lost, so it came again
    late = client.post(f"{path}/edits", json=body).json()
    assert late["document"] == shot["document"] and late["made"] == one["made"]


def test_quick_edits_of_one_window_follow_each_other(client: TestClient, shot: dict) -> None:
    """The second was made before the first was answered: on what the page showed then."""
    path = f"/api/shots/{shot['shot']['id']}/edits"

    def by(author: str, base: int, target: str, value: object):  # type: ignore[no-untyped-def]
        return client.post(path, json={"base": base, "author": author, "commands": [{"do": "set", "target": target, "value": value}]})

    base = edited(client, shot, [GREY]).json()["revision"]
    one = by("mine", base, "look/passes/g/amount", 5)
    other = by("other", base, "last", 7)
    two = by("mine", base, "look/passes/g/amount", 6).json()
    assert (one.status_code, other.status_code) == (200, 200)
    assert two["document"]["look"]["passes"][0]["amount"] == 6 and two["document"]["last"] == 7
    assert by("mine", base, "last", 8).status_code == 409  # the other's


@pytest.mark.parametrize(
    "commands",
    [
        [{"do": "set", "target": "surprise", "value": 1}],
        [{"do": "set", "target": "last", "value": 99}],
        [{"do": "add", "target": "look/passes", "value": {"id": "x", "name": "x", "treatment": "saturation", "params": {"saturation": 900}}}],
        [{"do": "set", "target": "look", "value": None}],
    ],
)
def test_bad_edits_change_nothing(client: TestClient, shot: dict, commands: list) -> None:
    answer = edited(client, shot, commands)
    assert answer.status_code == 422 and answer.json()["message"]
    assert client.get(f"/api/shots/{shot['shot']['id']}").json() == shot


def test_unknown_treatments_are_kept(client: TestClient, shot: dict) -> None:
    value = {"id": "x", "name": "Later", "treatment": "from-the-future", "params": {"a": [1]}}
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": value}]).json()
    assert view["document"]["look"]["passes"][0]["params"] == {"a": [1]}


def test_pictures_are_asked_for_by_content_and_right(client: TestClient, shot: dict) -> None:
    selection = picked(client, shot).json()
    value = {**GREY["value"], "selection": selection["selection"], "side": "outside"}
    view = edited(client, selection["view"], [{**GREY, "value": value}]).json()
    id = shot["shot"]["id"]
    base = f"/api/shots/{id}/pictures/{view['revision']}/3.png"
    result = png(client.get(base))
    assert result.shape == (240, 320, 3)
    assert result[90, 120, 0] - result[90, 120, 1] > 120 and np.ptp(result[20, 20]) <= 1
    before = png(client.get(f"/api/shots/{id}/pictures/{shot['revision']}/3.png"))
    assert np.ptp(before[20, 20]) > 60
    matte = png(client.get(base, params={"view": "matte", "selection": selection["selection"], "width": 160}))
    assert matte.shape == (120, 160, 3) and matte[45, 60].tolist() == [255] * 3 and matte[10, 10].tolist() == [0] * 3
    assert np.ptp(png(client.get(base, params={"upto": 0}))[20, 20]) > 60
    first = client.get(base)
    assert client.get(base, headers={"if-none-match": first.headers["etag"]}).status_code == 304
    assert client.get(base, headers={"if-none-match": '"of another engine"'}).content == first.content
    assert client.get(base, params={"view": "matte", "selection": "nope"}).status_code == 422
    assert client.get(f"/api/shots/{id}/pictures/{view['revision']}/3.gif").status_code == 422
    assert 5 < client.get(f"/api/shots/{id}/coverage/{view['revision']}/3", params={"selection": selection["selection"]}).json() < 30
    assert png(client.get(f"/api/shots/{id}/frames/{view['revision']}/3.png")).shape == (240, 320, 3)
    kept = f"/api/shots/{id}/frames/{view['revision']}/3.png"
    wanted = png(client.get(f"/api/shots/{id}/pictures/{view['revision']}/3.png", params={"view": "matte", "selection": selection["selection"]}))
    assert np.array_equal(png(client.get(kept, params={"shows": "matte", "selection": selection["selection"]})), wanted)
    cut_out = cv2.imdecode(np.frombuffer(client.get(kept, params={"shows": "alpha", "selection": selection["selection"]}).content, np.uint8), -1)
    assert cut_out.shape == (240, 320, 4) and np.abs(cut_out[..., 3].astype(int) - wanted[..., 0]).max() <= 1 and np.ptp(cut_out[..., 3]) == 255
    assert client.get(kept, params={"shows": "matte"}).status_code == 422 and client.get(kept, params={"shows": "all"}).status_code == 422
    assert client.get(f"/api/shots/{id}/stages/{view['revision']}/3.jpg", params={"upto": 1}).headers["content-type"] == "image/jpeg"


def test_looks_as_files(client: TestClient, shot: dict) -> None:
    id = shot["shot"]["id"]
    view = edited(client, shot, [GREY]).json()
    saved = client.get(f"/api/shots/{id}/look.json")
    assert "attachment" in saved.headers["content-disposition"]
    bare = client.post(f"/api/shots/{id}/undo", json={"base": view["revision"]}).json()
    loaded = client.put(f"/api/shots/{id}/look", json={"base": bare["revision"], "text": saved.text}).json()
    assert loaded["document"]["look"] == view["document"]["look"] and loaded["undo"].startswith("Look loaded")
    refused = client.put(f"/api/shots/{id}/look", json={"base": loaded["revision"], "text": "{}"})
    assert refused.status_code == 422


def test_live_channel(client: TestClient, shot: dict) -> None:
    view = edited(client, shot, [GREY]).json()
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers={"host": "127.0.0.1:8610"}) as socket:

        def ask(**message: object):
            socket.send_text(json.dumps({"revision": view["revision"], "frame": 3, "width": 160, **message}))

        def picture() -> tuple[dict, np.ndarray]:
            data = socket.receive_bytes()
            length = struct.unpack(">I", data[:4])[0]
            decoded = cv2.imdecode(np.frombuffer(data[4 + length :], np.uint8), cv2.IMREAD_COLOR)
            return json.loads(data[4 : 4 + length]), decoded.astype(int)

        ask(kind="look", id=1)
        header, grey = picture()
        assert header["id"] == 1 and header["kind"] == "look" and grey.shape == (120, 160, 3) and np.ptp(grey[10, 10]) <= 3
        ask(kind="look", id=2, commands=[{"do": "set", "target": "look/passes/g/amount", "value": 0}])
        assert np.ptp(picture()[1][10, 10]) > 60
        for n in range(5):
            ask(kind="play", id=10 + n, frame=n)
        assert sorted(picture()[0]["frame"] for _ in range(5)) == [0, 1, 2, 3, 4]
        ask(kind="pixel", id=20, x=0.375, y=0.375)
        told = json.loads(socket.receive_text())
        assert told["id"] == 20 and told["chroma"] < 0.001 and told["matte"] is None
        ask(kind="look", id=30, commands=[{"do": "remove", "target": "look/passes/nowhere"}])
        assert json.loads(socket.receive_text())["kind"] == "error"
        socket.send_text("nonsense")
        assert json.loads(socket.receive_text())["kind"] == "error"
    assert client.get(f"/api/shots/{shot['shot']['id']}").json().items() <= view.items()  # overrides are never stored


def test_an_edit_under_a_known_id_is_the_same_or_is_refused(client: TestClient, shot: dict) -> None:
    """Sent again it is answered as before; with other commands it was dropped without a word."""
    id = shot["shot"]["id"]
    body = {"base": shot["revision"], "commands": [GREY], "words": "Grey", "id": "once"}
    first = client.post(f"/api/shots/{id}/edits", json=body)
    assert first.status_code == 200, first.text
    assert client.post(f"/api/shots/{id}/edits", json=body).json()["revision"] == first.json()["revision"]
    amount = {"do": "set", "target": "look/passes/g/amount", "value": 40}
    assert client.post(f"/api/shots/{id}/edits", json={**body, "base": first.json()["revision"], "commands": [amount], "id": "twice"}).status_code == 200
    assert client.post(f"/api/shots/{id}/edits", json=body).status_code == 200  # late, after another edit
    for other in ([{"do": "set", "target": "first", "value": 3}], [{**GREY, "value": {**GREY["value"], "treatment": "saturation"}}]):
        answer = client.post(f"/api/shots/{id}/edits", json={**body, "commands": other})
        assert answer.status_code == 409 and "was another" in answer.json()["message"]


def test_an_edit_of_nothing_is_refused_whatever_it_is_based_on(client: TestClient, shot: dict) -> None:
    now = edited(client, shot, [GREY]).json()
    for base in (shot["revision"], now["revision"]):
        for what in ({"do": "add", "value": {"id": "a"}}, {"do": "set", "value": 1}, {"do": "remove"}, {"do": "move", "before": "m"}):
            answer = client.post(f"/api/shots/{shot['shot']['id']}/edits", json={"base": base, "commands": [{"target": "", **what}]})
            assert (answer.status_code, "cannot change ''" in answer.text) == (422, True), (base, what, answer.text)
