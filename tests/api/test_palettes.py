"""Palettes over the API: from a frame and from a picture, kept, put into a pass, looked at."""

import io

import numpy as np
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import edited


def picture_file(client: TestClient) -> str:
    pixels = np.zeros((40, 60, 3), np.uint8)
    pixels[:, :20], pixels[:, 20:40], pixels[:, 40:] = (20, 20, 24), (200, 60, 40), (240, 230, 210)
    data = io.BytesIO()
    Image.fromarray(pixels).save(data, "PNG")
    return client.post("/api/files?name=still.png", content=data.getvalue()).json()["digest"]


def test_palettes_are_taken_put_in_and_kept(client: TestClient, shot: dict) -> None:
    id = shot["shot"]["id"]
    frame = client.post("/api/palettes/from", json={"shot": id, "frame": 3, "source": True, "count": 4}).json()
    assert len(frame) == 4
    colours = client.post("/api/palettes/from", json={"file": picture_file(client), "count": 3}).json()
    assert colours == ["#141418", "#c83c28", "#f0e6d2"]
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": {"id": "g", "name": "Map", "treatment": "gradient-map"}}]).json()
    put = client.post(f"/api/shots/{id}/palette", json={"base": view["revision"], "of": "g", "colours": colours, "name": "still"}).json()
    stops = put["document"]["look"]["passes"][0]["params"]["stops"]
    assert [(s["position"], s["colour"]) for s in stops] == [(0, colours[0]), (50, colours[1]), (100, colours[2])] and put["undo"] == "Map: still"
    query = "-".join(c[1:] for c in colours)
    shown = client.get(f"/api/shots/{id}/palettes/{put['revision']}/3.jpg", params={"of": "g", "colours": query})
    other = client.get(f"/api/shots/{id}/palettes/{put['revision']}/3.jpg", params={"of": "g", "colours": "000000-ffffff"})
    assert shown.status_code == other.status_code == 200 and shown.content != other.content
    kept = client.post("/api/palettes", json={"name": "Still", "colours": colours}).json()
    assert client.get("/api/palettes").json() == [kept]
    assert client.delete(f"/api/palettes/{kept['id']}").status_code == 204 and client.get("/api/palettes").json() == []
    assert client.post(f"/api/palettes/{kept['id']}/restore").status_code == 204 and client.get("/api/palettes").json() == [kept]


def test_what_takes_no_palette_says_so(client: TestClient, shot: dict) -> None:
    id = shot["shot"]["id"]
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": {"id": "m", "name": "M", "treatment": "monochrome"}}]).json()
    body = {"base": view["revision"], "colours": ["#000000"]}
    for of in ("m", "nope"):
        answer = client.post(f"/api/shots/{id}/palette", json={**body, "of": of})
        assert answer.status_code == 422 and "takes a palette" in answer.json()["message"]
    assert client.post("/api/palettes/from", json={"count": 3}).status_code == 422
    assert client.post("/api/palettes/from", json={"file": "nope"}).status_code == 404
    assert client.get(f"/api/shots/{id}/palettes/{view['revision']}/3.jpg", params={"of": "m", "colours": "red"}).status_code == 422
    assert client.delete("/api/palettes/nope").status_code == 404
