"""Fit, main colours, islands, fences, tracking, coverage over time, over the API."""

import json
import shutil
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, edited
from wenditas.api.app import create_app


@pytest.fixture
def client(tmp_path: Path, demo_data: Path) -> Iterator[TestClient]:
    """An application on a copy of the demo project."""
    shutil.copytree(demo_data, tmp_path / "data")
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as test_client:
        yield test_client


@pytest.fixture
def demo(client: TestClient) -> dict:
    project = client.post("/api/projects/demo").json()
    first = client.get(f"/api/projects/{project['id']}").json()["shots"][0]
    made = client.post(f"/api/footage/{first['footage_id']}/shots").json()
    return client.get(f"/api/shots/{made['id']}").json()


def picked(client: TestClient, view: dict, x: float, y: float, **more: object) -> dict:
    body = {"base": view["revision"], "frame": 60, "x": x, "y": y, **more}
    answer = client.post(f"/api/shots/{view['shot']['id']}/picks", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.fixture
def red(client: TestClient, demo: dict) -> tuple[dict, str]:
    answer = picked(client, demo, 0.27, 0.795)
    return answer["view"], answer["selection"]


def lines(answer) -> list[dict]:
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


def test_fit_to_picks(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    view = picked(client, view, 0.309, 0.52, selection=selection, refuse=True)["view"]
    (picked_key,) = view["document"]["look"]["selections"][0]["keys"]
    url, body = f"/api/shots/{view['shot']['id']}/fit", {"selection": selection, "key": picked_key["id"], "frame": 60}
    answer = client.post(url, json={"base": view["revision"], **body}).json()
    key = answer["view"]["document"]["look"]["selections"][0]["keys"][0]
    assert answer["apart"] and not answer["asks"] and answer["words"].startswith("Fitted") and 1 < key["tolerance"] < 15 and key["least_saturation"] > 5
    assert key["softness"] == picked_key["softness"] and f"{answer['before']:.1f} % before" in answer["words"]
    nothing = client.post(url, json={"base": answer["view"]["revision"], **body, "key": "nope"})
    assert nothing.status_code == 422


def test_a_fit_that_would_explode_is_asked_about(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    (key,) = view["document"]["look"]["selections"][0]["keys"]
    narrow = edited(client, view, [{"do": "set", "target": f"look/selections/{selection}/keys/{key['id']}/least_chroma", "value": 0.3}]).json()
    url, body = f"/api/shots/{view['shot']['id']}/fit", {"selection": selection, "key": key["id"], "frame": 60}
    asked = client.post(url, json={"base": narrow["revision"], **body}).json()
    assert asked["asks"] and asked["view"]["revision"] == narrow["revision"] and asked["after"] > 2 * asked["before"]
    done = client.post(url, json={"base": narrow["revision"], **body, "sure": True}).json()
    assert not done["asks"] and done["view"]["document"]["look"]["selections"][0]["keys"][0]["least_chroma"] == next(
        c["value"] for c in asked["commands"] if c["target"].endswith("least_chroma")
    )


def test_main_colours(client: TestClient, demo: dict) -> None:
    found = client.get(f"/api/shots/{demo['shot']['id']}/colours/60").json()
    assert {"Red", "Blue"} <= {c["name"] for c in found} and all(0 <= c["x"] <= 1 and c["coverage"] > 0 for c in found)


def test_the_census_is_asked_for_again_by_what_it_shows(client: TestClient, demo: dict) -> None:
    first = client.get(f"/api/shots/{demo['shot']['id']}/census/3.png")
    again = client.get(f"/api/shots/{demo['shot']['id']}/census/3.png", headers={"if-none-match": first.headers["etag"]})
    assert first.headers["content-type"] == "image/png" and len(first.content) > 100 and "no-cache" in first.headers["cache-control"]
    assert again.status_code == 304 and not again.content


def test_islands_and_a_tracked_fence(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    id = view["shot"]["id"]
    view = picked(client, view, 0.309, 0.52, selection=selection, refuse=True)["view"]  # the roofs, one of which touches the pillar box
    found = client.get(f"/api/shots/{id}/islands/{view['revision']}/60", params={"selection": selection}).json()
    assert len(found) >= 2 and found[0]["share"] >= found[1]["share"]
    box = next(n for n, island in enumerate(found) if island["box"][0] > 1500 and island["share"] > 10)  # the pillar box, on the right
    before = client.get(f"/api/shots/{id}/coverage/{view['revision']}/60", params={"selection": selection}).json()
    fenced = client.post(f"/api/shots/{id}/fences", json={"base": view["revision"], "frame": 60, "selection": selection, "island": box}).json()
    after = client.get(f"/api/shots/{id}/coverage/{fenced['view']['revision']}/60", params={"selection": selection}).json()
    assert after < before * 0.75
    said = lines(
        client.post(
            f"/api/shots/{id}/tracks",
            json={"base": fenced["view"]["revision"], "selection": selection, "shape": fenced["shape"], "frame": 60, "direction": "both"},
        )
    )
    assert said[-1]["kind"] == "done" and said[-1]["lost"] == []
    progress = [s for s in said if s["kind"] == "progress"]
    assert [p["done"] for p in progress] == list(range(1, 132)) and min(p["confidence"] for p in progress) >= 0.25
    shape = said[-1]["view"]["document"]["look"]["selections"][0]["shapes"][0]
    moves = client.get(f"/api/tracks/{shape['track']}").json()
    assert [t["frame"] for t in moves] == list(range(132)) and client.get("/api/tracks/none").status_code == 404
    # The camera moves; the foreground goes one and a half times as far as the drawing's own pan (draw/tram.py).
    for track in moves:
        t, t60 = track["frame"] / 131, 60 / 131
        truth = -1.5 * 1.5 * 70 * ((t * t * (3 - 2 * t)) - (t60 * t60 * (3 - 2 * t60)))
        a, b, x, y = track["values"]
        middle = np.mean([p["x"] for p in shape["points"]]), np.mean([p["y"] for p in shape["points"]])
        moved = complex(a, b) * complex(*middle) + complex(x, y) - complex(*middle)
        assert abs(moved - truth) < 9, track["frame"]  # pixels of a 1080-line picture, on a fence 150 wide
    missing = client.post(f"/api/shots/{id}/fences", json={"base": said[-1]["view"]["revision"], "frame": 60, "selection": selection, "island": 99})
    assert missing.status_code == 422


def drawn(client: TestClient, view: dict, selection: str, kind: str, points: list[tuple[float, float]]) -> dict:
    """The shot with a shape."""
    shape = {"id": "drawn", "name": "Drawn", "kind": kind, "points": [{"x": x, "y": y} for x, y in points]}
    body = {
        "base": view["revision"],
        "words": "drawn",
        "id": "drawn-once",
        "commands": [{"do": "add", "target": f"look/selections/{selection}/shapes", "value": shape}],
    }
    answer = client.post(f"/api/shots/{view['shot']['id']}/edits", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


PILLAR_BOX = [(1534, 500), (1666, 500), (1676, 780), (1524, 780)]  # roughly, at frame 60


@pytest.mark.long(found_by="tests/core/test_bending.py, which has the calculation")
def test_a_path_is_laid_on_the_edge_and_bends_with_what_it_follows(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    id = view["shot"]["id"]
    view = drawn(client, view, selection, "path", PILLAR_BOX)
    snapped = client.get(f"/api/shots/{id}/snaps/{view['revision']}/60", params={"selection": selection, "shape": "drawn"}).json()
    apart = [float(np.hypot(x - u, y - v)) for (x, y), (u, v) in zip(snapped, PILLAR_BOX, strict=True)]
    assert len(snapped) == 4 and max(apart) <= 16.5 and max(apart) > 0.5  # nowhere further than it looks
    body = {"base": view["revision"], "selection": selection, "shape": "drawn", "frame": 60, "direction": "forward", "bends": True}
    said = lines(client.post(f"/api/shots/{id}/tracks", json=body))
    assert said[-1]["kind"] == "done" and said[-1]["lost"] == []
    (shape,) = said[-1]["view"]["document"]["look"]["selections"][0]["shapes"]
    moves = client.get(f"/api/tracks/{shape['track']}").json()
    assert [t["frame"] for t in moves] == list(range(60, 132))
    assert moves[0]["bend"] == [] and all(len(t["bend"]) == 4 for t in moves[1:])
    assert all(t["lies"] is None or 0 <= t["lies"] <= 1 for t in moves)
    whole = client.post(f"/api/shots/{id}/tracks", json={**body, "base": said[-1]["view"]["revision"], "bends": False})
    assert lines(whole)[-1]["kind"] == "done"


def test_a_box_has_no_points_to_lay_on_an_edge(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    view = drawn(client, view, selection, "rectangle", [PILLAR_BOX[0], PILLAR_BOX[2]])
    answer = client.get(f"/api/shots/{view['shot']['id']}/snaps/{view['revision']}/60", params={"selection": selection, "shape": "drawn"})
    assert answer.status_code == 422 and "a path or a polygon" in answer.json()["message"]


def test_coverage_over_time_marks_the_shade(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    id = view["shot"]["id"]

    def measured(view: dict) -> tuple[list[float], list[dict]]:
        said = lines(client.get(f"/api/shots/{id}/over-time/{view['revision']}", params={"selection": selection}))
        values = [v for s in said if s["kind"] == "values" for v in s["values"]]
        return values, said[-1]["weak"]

    chosen = view["document"]["look"]["selections"][0]
    key = f"look/selections/{chosen['id']}/keys/{chosen['keys'][0]['id']}"
    strict = edited(client, view, [{"do": "set", "target": f"{key}/least_chroma", "value": 0.15}]).json()
    values, weak = measured(strict)
    assert len(values) == 132 and weak and all(w["kind"] == "drop" for w in weak)
    loose = edited(
        client, strict, [{"do": "set", "target": f"{key}/least_chroma", "value": 0.03}, {"do": "set", "target": f"{key}/tolerance", "value": 14}]
    ).json()
    assert measured(loose)[1] == []
    assert client.get(f"/api/shots/{id}/over-time/{loose['revision']}", params={"selection": "nope"}).status_code == 422


def test_tracking_an_unknown_shape(client: TestClient, red: tuple[dict, str]) -> None:
    view, selection = red
    answer = client.post(f"/api/shots/{view['shot']['id']}/tracks", json={"base": view["revision"], "selection": selection, "shape": "nope", "frame": 1})
    assert answer.status_code == 422 and "nope" in answer.json()["message"]


def test_an_older_selection_is_keyed_the_newer_way_in_one_step(client: TestClient, red: tuple[dict, str]) -> None:
    """It keeps its picture until it is asked for; then its keys are fitted and its edge follows, and one undo takes all of it back."""
    view, selection = red
    old = view["document"]["look"]
    (key,) = old["selections"][0]["keys"]
    as_written = {**old, "schema_version": 3, "selections": [{**old["selections"][0], "cleaning": {"calm": 100}}]}
    as_written["selections"][0]["keys"] = [{k: v for k, v in key.items() if not k.startswith(("least_s", "least_l", "saturation", "lightness"))}]
    text = json.dumps({"format": "wenditas-look", "name": "Old", "look": as_written})
    loaded = client.put(f"/api/shots/{view['shot']['id']}/look", json={"base": view["revision"], "text": text}).json()
    (before,) = loaded["document"]["look"]["selections"]
    assert (before["cleaning"]["denoise_chroma"], before["cleaning"]["follow"], before["keys"][0]["least_saturation"]) == (100, 0, 0)
    url = f"/api/shots/{view['shot']['id']}"
    made = client.post(f"{url}/renewed", json={"base": loaded["revision"], "selection": selection}).json()
    (after,) = made["document"]["look"]["selections"]
    assert (after["cleaning"]["denoise_chroma"], after["cleaning"]["follow"]) == (0, 100) and after["keys"][0]["least_saturation"] > 5
    undone = client.post(f"{url}/undo", json={"base": made["revision"]}).json()
    assert undone["document"]["look"]["selections"] == [before]
