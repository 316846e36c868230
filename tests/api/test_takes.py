"""Takes and history: any state can be returned to, none is overwritten; lanes through the API."""

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import edited
from tests.api.test_shots import GREY, png


def amount(value: float) -> list[dict]:
    return [{"do": "set", "target": "look/passes/g/amount", "value": value}]


@pytest.fixture
def three(client: TestClient, shot: dict) -> list[dict]:
    one = edited(client, shot, [GREY], "Monochrome added").json()
    two = edited(client, one, amount(40), "Monochrome: Amount 40 %").json()
    return [one, two, edited(client, two, amount(70), "Monochrome: Amount 70 %").json()]


def test_history_in_words_and_back_to_any_edit(client: TestClient, shot: dict, three: list[dict]) -> None:
    id = shot["shot"]["id"]
    words = [(e["words"], e["current"]) for e in client.get(f"/api/shots/{id}/history").json()]
    assert words == [("Monochrome: Amount 70 %", True), ("Monochrome: Amount 40 %", True), ("Monochrome added", True), ("Shot made", True)]
    back = client.post(f"/api/shots/{id}/head", json={"base": three[2]["revision"], "revision": three[0]["revision"]}).json()
    assert back["document"] == three[0]["document"] and back["redo"] == "Monochrome: Amount 40 %"
    branch = edited(client, back, amount(5), "Monochrome: Amount 5 %").json()
    rows = client.get(f"/api/shots/{id}/history").json()
    assert [r["current"] for r in rows] == [True, False, False, True, True]  # nothing was overwritten
    again = client.post(f"/api/shots/{id}/head", json={"base": branch["revision"], "revision": three[2]["revision"]}).json()
    assert again["document"] == three[2]["document"]
    assert client.post(f"/api/shots/{id}/head", json={"base": again["revision"], "revision": 99_999}).status_code == 404
    assert client.post(f"/api/shots/{id}/head", json={"base": 1, "revision": three[0]["revision"]}).status_code == 409
    assert client.post(f"/api/shots/{id}/head", json={"base": again["revision"], "revision": again["revision"]}).json() == again


def test_takes(client: TestClient, shot: dict, three: list[dict]) -> None:
    path = f"/api/shots/{shot['shot']['id']}/takes"
    first = client.post(path, json={"revision": three[0]["revision"], "name": "Full grey"}).json()
    client.post(path, json={"revision": three[1]["revision"], "name": "Half"})
    assert [t["name"] for t in client.get(path).json()] == ["Half", "Full grey"]
    assert client.patch(f"/api/takes/{first['id']}", json={"name": "All grey"}).json()["revision"] == three[0]["revision"]
    assert client.delete(f"/api/takes/{first['id']}").status_code == 204
    assert [t["name"] for t in client.get(path).json()] == ["Half"]
    client.post(f"/api/takes/{first['id']}/restore")
    assert [t["name"] for t in client.get(path).json()] == ["Half", "All grey"]
    assert client.post(path, json={"revision": 99_999, "name": "x"}).status_code == 404
    assert client.patch("/api/takes/none", json={"name": "x"}).status_code == 404


def test_lanes_are_edited_and_rendered(client: TestClient, shot: dict) -> None:
    id = shot["shot"]["id"]
    lane = {"target": "passes/g/amount", "keyframes": [{"frame": 2, "value": 0, "how": "linear"}, {"frame": 6, "value": 100}]}
    view = edited(client, shot, [GREY, {"do": "set", "target": "look/lanes/passes~1g~1amount", "value": lane}], "Amount animated").json()

    def spread(frame: int) -> float:
        picture = png(client.get(f"/api/shots/{id}/pictures/{view['revision']}/{frame}.png"))
        return float((picture.max(axis=2) - picture.min(axis=2)).mean())

    assert spread(0) > spread(4) > spread(6) and spread(6) < 2
    bad = edited(client, view, [{"do": "add", "target": "look/lanes/passes~1g~1amount/keyframes", "value": {"frame": 2, "value": 50}}])
    assert bad.status_code == 422 and "has a '2' already" in bad.json()["message"]
    assert client.get(f"/api/shots/{id}").json()["revision"] == view["revision"]  # nothing was lost
    gone = edited(client, view, [{"do": "remove", "target": "look/passes/g"}]).json()
    assert gone["document"]["look"]["lanes"] == []
    back = client.post(f"/api/shots/{id}/undo", json={"base": gone["revision"]}).json()
    assert back["document"]["look"]["lanes"][0]["target"] == "passes/g/amount"
