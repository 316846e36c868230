"""Looks from pictures over the wire: proposals as takes, shots matched to shots, and taken back."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from sklearn.datasets import load_sample_image

from tests.api.conftest import send

CHINA = load_sample_image("china.jpg")[::2, ::2]


def png(picture: np.ndarray) -> bytes:
    return cv2.imencode(".png", np.clip(picture, 0, 255).round().astype(np.uint8)[..., ::-1])[1].tobytes()


def brought(client: TestClient, picture: np.ndarray) -> str:
    answer = client.post("/api/files", params={"name": "reference.png"}, content=png(picture))
    assert answer.status_code == 200, answer.text
    return answer.json()["digest"]


def inked(picture: np.ndarray) -> np.ndarray:
    grey = picture.mean(axis=2, keepdims=True) / 255
    return np.array([29, 43, 79]) + (np.array([242, 227, 198]) - np.array([29, 43, 79])) * grey


def asked(client: TestClient, view: dict, reference: dict, **more: object):  # type: ignore[no-untyped-def]
    body = {"base": view["revision"], "reference": reference, "name": "the poster", **more}
    return client.post(f"/api/shots/{view['shot']['id']}/likeness", json=body)


def test_proposals_are_takes_and_the_likeliest_is_put_on_in_one_step(client: TestClient, shot: dict) -> None:
    id, before = shot["shot"]["id"], shot["document"]
    answer = asked(client, shot, {"file": brought(client, inked(CHINA))})
    assert answer.status_code == 200, answer.text
    found = answer.json()
    assert [p["kind"] for p in found["proposals"]][:2] == ["two inks", "by lightness"] and "two inks" in found["words"]
    takes = {t["id"]: t["revision"] for t in client.get(f"/api/shots/{id}/takes").json()}
    assert {p["take"]: p["revision"] for p in found["proposals"]}.items() <= takes.items()
    look = found["view"]["document"]["look"]
    assert look["passes"][-1]["treatment"] == "duotone" and look["bundles"][0]["amount"] == 100
    for name in ("seen", "shot", "result"):
        assert abs(np.sum(found[name]) - 1) < 1e-6
    undone = client.post(f"/api/shots/{id}/undo", json={"base": found["view"]["revision"]}).json()
    assert undone["document"] == before
    second = client.post(f"/api/shots/{id}/head", json={"base": undone["revision"], "revision": found["proposals"][1]["revision"]}).json()
    assert second["document"]["look"]["passes"][-1]["treatment"] == "gradient-map"


def test_what_tells_nothing_is_said_and_nothing_is_stored(client: TestClient, shot: dict) -> None:
    for reference, status, words in (
        ({"file": brought(client, np.zeros((60, 80, 3)))}, 422, "all black"),
        ({"file": "none"}, 404, "none"),
        ({}, 422, "from a picture file, or from a frame"),
        ({"shot": "nowhere"}, 404, "nowhere"),
    ):
        answer = asked(client, shot, reference)
        assert answer.status_code == status and words in answer.json()["message"]
    assert client.get(f"/api/shots/{shot['shot']['id']}").json()["revision"] == shot["revision"]


@pytest.fixture
def scene(client: TestClient, project: str, tmp_path: Path) -> list[str]:
    """Three shots of one scene: as it is, a stop darker and warmer, and darker still."""
    found = []
    for n, gains in enumerate(((1, 1, 1), (0.78, 0.7, 0.58), (0.5, 0.5, 0.5))):
        path = tmp_path / f"scene{n}.png"
        path.write_bytes(png(CHINA * np.array(gains)))
        footage = send(client, project, path).json()
        found.append(client.post(f"/api/footage/{footage['id']}/shots").json()["id"])
    return found


def mean_of(client: TestClient, shot: str) -> np.ndarray:
    data = client.get(f"/api/shots/{shot}/cells/own/stands.jpg", params={"width": 160}).content
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).reshape(-1, 3).mean(axis=0)


def test_shots_of_a_scene_are_matched_at_once_and_taken_back_at_once(client: TestClient, project: str, scene: list[str]) -> None:
    before = [mean_of(client, shot) for shot in scene]
    answer = client.post(f"/api/projects/{project}/match", json={"shots": scene, "to": scene[0]}).json()
    assert set(answer["made"]) == set(scene[1:]) and set(answer["refused"]) == {scene[0]}
    for shot, was in zip(scene[1:], before[1:], strict=True):
        now = mean_of(client, shot)
        assert np.abs(now - before[0]).max() < 0.25 * np.abs(was - before[0]).max()
    once = mean_of(client, scene[1])
    again = client.post(f"/api/projects/{project}/match", json={"shots": [scene[1]], "to": scene[0]}).json()
    assert np.abs(mean_of(client, scene[1]) - once).max() < 1  # not matched once more on top
    assert set(again["made"]) == {scene[1]}
    assert client.post(f"/api/shots/{scene[1]}/head", json={"base": again["made"][scene[1]], "revision": answer["made"][scene[1]]}).status_code == 200
    back = client.post(f"/api/projects/{project}/carry/back", json={"made": answer["made"]}).json()
    assert set(back["made"]) == set(scene[1:])
    assert all(np.abs(mean_of(client, shot) - was).max() < 1 for shot, was in zip(scene, before, strict=True))
    strange = client.post(f"/api/projects/{project}/match", json={"shots": ["nope"], "to": scene[0]})
    assert strange.status_code == 404
