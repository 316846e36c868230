"""The sheet: looks carried over to shots that have their colours, nearly, or not at all."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import send, wait_for
from tests.api.test_reel import add, edited, reel_of

GREY = 0.45
REDS, ORANGE, BLUE = ((205, 45, 40), (190, 40, 52)), (240, 140, 20), (40, 70, 200)


def still(path: Path, hue: tuple[int, int, int] | None, place: int = 40) -> Path:
    """A picture of a box of one colour on textured grey, with a dark and a lit side."""
    rng = np.random.default_rng(5)
    picture = np.repeat((rng.normal(GREY, 0.02, (180, 320, 1)) * 255).clip(0, 255), 3, axis=2)
    if hue is not None:
        lit = np.linspace(0.55, 1.0, 90)[None, :, None]
        picture[50:130, place : place + 90] = np.array(hue)[None, None] * lit + rng.normal(0, 2, (80, 90, 3))
    cv2.imwrite(str(path), picture.clip(0, 255).astype(np.uint8)[..., ::-1])
    return path


@pytest.fixture
def shots(client: TestClient, project: str, tmp_path: Path) -> dict[str, dict]:
    """Five shots: two reds, an orange, a blue, and no colour at all."""
    found = {}
    for name, hue, place in (("red", REDS[0], 40), ("redder", REDS[1], 180), ("orange", ORANGE, 100), ("blue", BLUE, 60), ("grey", None, 0)):
        footage = send(client, project, still(tmp_path / f"{name}.png", hue, place)).json()
        found[name] = client.post(f"/api/footage/{footage['id']}/shots").json()
    return found


@pytest.fixture
def red(client: TestClient, shots: dict[str, dict]) -> str:
    """The column of a look on the first shot, whose red was picked and fitted: grey outside."""
    url = f"/api/shots/{shots['red']['id']}"
    answer = client.post(f"{url}/picks", json={"base": shots["red"]["head"], "x": 0.27, "y": 0.5, "frame": 0}).json()
    selection, view = answer["selection"], answer["view"]
    key = view["document"]["look"]["selections"][0]["keys"][0]["id"]
    fitted = client.post(f"{url}/fit", json={"base": view["revision"], "selection": selection, "key": key, "frame": 0, "sure": True}).json()
    value = {"id": "p", "name": "Grey", "treatment": "monochrome", "selection": selection, "side": "outside"}
    body = {"base": fitted["view"]["revision"], "commands": [{"do": "add", "target": "look/passes", "value": value}], "words": "Grey"}
    assert client.post(f"{url}/edits", json=body).status_code == 200
    return f"shot:{shots['red']['id']}"


def cell(client: TestClient, shot: dict, column: str, **query: object) -> dict:
    answer = client.get(f"/api/shots/{shot['id']}/cells/{column}", params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def picture(client: TestClient, shot: dict, column: str) -> np.ndarray:
    answer = client.get(f"/api/shots/{shot['id']}/cells/{column}/stands.jpg", params={"width": 320})
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(int)


def saturated(shown: np.ndarray) -> float:
    return float((shown.max(axis=2) - shown.min(axis=2) > 60).mean())


def test_one_look_on_five_shots(client: TestClient, project: str, shots: dict[str, dict], red: str) -> None:
    """Two have red, one has orange and is asked about, two have nothing like it and need a pick."""
    assert cell(client, shots["red"], red)["how"] == "as it was"
    second = cell(client, shots["redder"], red)
    assert second["how"] == "fitted again" and "→" in second["words"] and not second["asks"]
    share = 80 * 90 / (180 * 320)
    assert abs(saturated(picture(client, shots["redder"], red)) - share) < 0.02
    asked = cell(client, shots["orange"], red)
    assert asked["how"] == "asks" and "orange" in asked["words"] and asked["asks"]
    assert saturated(picture(client, shots["orange"], red)) == 0
    assert cell(client, shots["orange"], red, sure=True)["how"] == "fitted again"
    for name in ("blue", "grey"):
        assert cell(client, shots[name], red)["how"] == "needs a pick"

    ids = [s["id"] for s in shots.values() if s["id"] != shots["red"]["id"]]
    before = {id: client.get(f"/api/shots/{id}").json()["document"] for id in ids}
    done = client.post(f"/api/projects/{project}/carry", json={"column": red, "shots": ids}).json()
    assert set(done["made"]) == set(ids) and done["refused"] == {} and set(done["asks"]) == {shots[n]["id"] for n in ("orange", "blue", "grey")}
    after = client.get(f"/api/shots/{shots['redder']['id']}").json()
    assert "carried over (fitted again" in after["undo"] and [p["treatment"] for p in after["document"]["look"]["passes"]] == ["monochrome"]
    one = shots["blue"]["id"]  # taken back on one alone, then on all
    client.post(f"/api/shots/{one}/undo", json={"base": done["made"][one]})
    back = client.post(f"/api/projects/{project}/carry/back", json={"made": done["made"]}).json()
    assert set(back["made"]) == set(ids) - {one} and "changed since" in back["refused"][one]
    assert {id: client.get(f"/api/shots/{id}").json()["document"] for id in ids} == before


def test_what_was_there_becomes_a_take(client: TestClient, project: str, shots: dict[str, dict], red: str) -> None:
    url = f"/api/shots/{shots['blue']['id']}"
    commands = [{"do": "add", "target": "look/passes", "value": {"id": "q", "name": "Exposure", "treatment": "exposure"}}]
    own = client.post(f"{url}/edits", json={"base": shots["blue"]["head"], "commands": commands, "words": "Exposure"}).json()
    client.post(f"/api/projects/{project}/carry", json={"column": red, "shots": [shots["blue"]["id"]]})
    (take,) = client.get(f"{url}/takes").json()
    assert take["revision"] == own["revision"] and take["name"] == "Before red"
    assert cell(client, shots["blue"], f"take:{take['id']}")["how"] == "as it was"
    assert saturated(picture(client, shots["blue"], f"take:{take['id']}")) > 0.05
    assert client.patch(f"/api/shots/{shots['red']['id']}", json={"name": "r" * 118}).status_code < 300
    client.post(f"/api/projects/{project}/carry", json={"column": red, "shots": [shots["blue"]["id"]]})
    assert {t["name"] for t in client.get(f"{url}/takes").json()} == {"Before red", "Before " + "r" * 113}  # as long as a name may be


def test_variants_are_seen_and_kept_beside(client: TestClient, shots: dict[str, dict], red: str) -> None:
    url = f"/api/shots/{shots['red']['id']}"
    head = client.get(url).json()
    assert client.get(f"{url}/variants/stands.jpg", params={"sets": '[["look/passes/p/amount", 0]]'}).status_code == 200
    kept = client.post(f"{url}/keep", json={"name": "Amount 0", "sets": [["look/passes/p/amount", 0]]}).json()
    now = client.get(url).json()
    assert now["revision"] == head["revision"] and now["redo"] is None and kept["revision"] != head["revision"]
    assert now["document"] == head["document"]
    again = client.post(f"{url}/head", json={"base": head["revision"], "revision": kept["revision"]}).json()
    assert again["document"]["look"]["passes"][0]["amount"] == 0
    assert client.get(f"{url}/variants/stands.jpg", params={"sets": "no list"}).status_code == 422
    assert client.get(f"{url}/variants/stands.jpg", params={"sets": '[["look/passes/none/amount", 0]]'}).status_code == 409


def test_cells_are_exported_under_names_of_a_pattern(client: TestClient, project: str, shots: dict[str, dict], red: str) -> None:
    cells = [{"shot": shots["redder"]["id"], "column": red}, {"shot": shots["grey"]["id"]}]
    bad = client.post(f"/api/projects/{project}/exports", json={"cells": cells, "pattern": "{shoot}"})
    assert bad.status_code == 422 and "{shoot} is none of them" in bad.json()["message"]
    made = client.post(f"/api/projects/{project}/exports", json={"cells": cells, "pattern": "{project}/{shot} {look} {size}"}).json()
    assert [row["name"] for row in made] == ["Film redder red 320x180", "Film grey own look 320x180"]
    wait_for(lambda: all(row["state"] == "done" for row in client.get(f"/api/projects/{project}/exports").json()))
    assert client.get(f"/api/shots/{shots['redder']['id']}").json()["document"]["look"]["passes"] == []


def test_a_span_is_laid_over_those_in_the_reel(client: TestClient, project: str, shots: dict[str, dict]) -> None:
    body = {"column": "shelf:two-ink-print", "shots": [shots["red"]["id"], shots["blue"]["id"]]}
    assert "is in the reel" in client.post(f"/api/projects/{project}/spans", json=body).json()["message"]
    order = ("red", "blue", "grey", "red")
    edited(client, reel_of(client, project), *(add(f"i{n}", shots[name]["id"], 0, 9) for n, name in enumerate(order)))
    after = client.post(f"/api/projects/{project}/spans", json=body).json()
    assert sorted(after["spans"].values()) == [[0, 19], [30, 39]] and after["undo"].endswith("2 stretches")


def test_what_is_not_there_is_said(client: TestClient, project: str, shots: dict[str, dict]) -> None:
    assert client.get(f"/api/shots/{shots['red']['id']}/frames").json()["first"] == 0
    for column in ("shelf:none", "nothing", "take:none", "shot:none"):
        assert client.get(f"/api/shots/{shots['red']['id']}/cells/{column}").status_code == 404
    assert client.post(f"/api/projects/{project}/carry", json={"column": "shelf:two-ink-print", "shots": ["elsewhere"]}).status_code == 404


def test_a_shelf_is_one_file_and_twins_are_recognised(client: TestClient, shots: dict[str, dict], red: str) -> None:
    shot = client.get(f"/api/shots/{shots['red']['id']}").json()
    saved = client.post("/api/shelf", json={"shot": shot["shot"]["id"], "revision": shot["revision"], "name": "One red"}).json()
    changed = client.patch(f"/api/shelf/{saved['id']}", json={"words": "All but the red goes grey.", "tags": ["red", "autumn"]}).json()
    assert (changed["name"], changed["words"], changed["tags"]) == ("One red", "All but the red goes grey.", ["red", "autumn"])
    text = client.get("/api/shelf.json").text
    assert client.post("/api/shelf/import", json={"text": text}).json() == {"added": 0, "twins": 1}
    client.delete(f"/api/shelf/{saved['id']}")
    assert client.post("/api/shelf/import", json={"text": text}).json() == {"added": 1, "twins": 0}
    (again,) = client.get("/api/shelf").json()
    assert {k: again[k] for k in ("name", "words", "tags", "look")} == {k: changed[k] for k in ("name", "words", "tags", "look")}
    for bad, said in (
        ("{}", "is not a shelf"),
        ('{"format": "wenditas-shelf", "items": [{"kind": "look", "name": ""}]}', "no kind or no name"),
        ("[", "not JSON"),
    ):
        answer = client.post("/api/shelf/import", json={"text": bad})
        assert answer.status_code == 422 and said in answer.json()["message"]
