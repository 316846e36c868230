"""Upload, facts, removal; files that cannot be used leave nothing behind."""

import shutil
from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, send
from wenditas.api.app import create_app


def names(client: TestClient, project: str) -> list[str]:
    return [f["name"] for f in client.get(f"/api/projects/{project}").json()["footage"]]


def test_upload_gives_facts_and_pictures(client: TestClient, project: str, clip: Path) -> None:
    footage = send(client, project, clip).json()
    assert (footage["facts"]["width"], footage["facts"]["height"], footage["facts"]["length"], footage["facts"]["rate"]) == (320, 240, 24, "24")
    assert footage["facts"]["sound"].startswith("AAC stereo") and footage["seconds"] == 1.0 and footage["bytes"] == clip.stat().st_size
    for path, kind in (("poster.jpg", "image/jpeg"), ("strip.jpg", "image/jpeg"), ("sound.wav", "audio/wav")):
        answer = client.get(f"/api/footage/{footage['id']}/{path}")
        assert answer.status_code == 200 and answer.headers["content-type"] == kind and len(answer.content) > 100
        assert "immutable" in answer.headers["cache-control"]


ASKED = {"bytes=0-99": (0, 100), "bytes=90000-": (90000, None), "bytes=-7": (-7, None), "bytes=40-99999999999999999999": (0, None), "bytes=9-2": (0, None)}


@pytest.mark.parametrize("asked", ASKED)
def test_sound_is_given_from_anywhere(client: TestClient, project: str, clip: Path, asked: str) -> None:
    """RFC 9110, 14: what is asked for in a form that is not known is answered with all of it."""
    (first, end), door = ASKED[asked], f"/api/footage/{send(client, project, clip).json()['id']}/sound.wav"
    whole = client.get(door)
    assert len(whole.content) == int(whole.headers["content-length"]) == 44 + 48000 * 4 and whole.headers["accept-ranges"] == "bytes"
    part = client.get(door, headers={"range": asked})
    size = len(whole.content[first:end])
    assert len(part.content) == size and part.status_code == (206 if size < len(whole.content) else 200)
    found, wanted = (np.frombuffer(b[len(b) % 2 :], "<i2").astype(int) for b in (part.content, whole.content[first:end]))
    assert np.abs(found - wanted).max() < 600  # a coded sound that is begun elsewhere is put together a little otherwise
    beyond = client.get(door, headers={"range": "bytes=192044-"})
    assert beyond.status_code == 416 and beyond.headers["content-range"] == "bytes */192044"


@pytest.mark.parametrize("name", ["../../evil.mp4", "a/b\\c.mp4", "Ünïcödé 🎬.mp4", "..mp4", "tab\tnew\nline.mp4", "x" * 240 + ".mp4"])
def test_names_are_labels_never_paths(client: TestClient, project: str, clip: Path, name: str, tmp_path: Path) -> None:
    footage = send(client, project, clip, name).json()
    assert "/" not in footage["name"] and "\\" not in footage["name"] and footage["name"].isprintable()
    media = tmp_path / "data" / "media"
    assert {p.name for p in media.iterdir()} == {f"{footage['id']}.mp4", f"{footage['id']}.index.npz"}


def test_refused_files_leave_nothing(client: TestClient, project: str, clip: Path, tmp_path: Path) -> None:
    bad = {"zero.mp4": b"", "text.mp4": b"hello " * 100, "cut.mp4": clip.read_bytes()[:3000], "program.exe": clip.read_bytes()}
    one = tmp_path / "one.png"
    cv2.imwrite(str(one), np.zeros((1, 1, 3), np.uint8))
    bad["one.png"] = one.read_bytes()
    for name, data in bad.items():
        answer = client.post(f"/api/projects/{project}/footage", params={"name": name}, content=data)
        assert answer.status_code == 422 and answer.json()["kind"] == "FootageRefused" and answer.json()["message"].endswith("."), name
    assert names(client, project) == []
    assert not list((tmp_path / "data" / "media").iterdir()) and not list((tmp_path / "data" / "incoming").iterdir())


def test_too_large_is_refused_while_it_arrives(client: TestClient, project: str, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setattr("wenditas.api.routes.footage.MOST_BYTES", 1000)
    answer = client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=b"x" * 1001)
    assert answer.status_code == 413 and not list((tmp_path / "data" / "incoming").iterdir())


def test_unknown_ids(client: TestClient, project: str) -> None:
    for path in ("/api/footage/nope/poster.jpg", "/api/shots/nope", "/api/projects/nope", "/api/exports/nope/file"):
        answer = client.get(path)
        assert answer.status_code == 404 and "message" in answer.json()
    assert client.post("/api/projects/nope/footage", params={"name": "a.mp4"}, content=b"").status_code == 404


def test_removal_and_restoring(client: TestClient, project: str, shot: dict) -> None:
    footage = shot["footage"]["id"]
    assert client.delete(f"/api/footage/{footage}").status_code == 204 and names(client, project) == []
    assert client.post(f"/api/footage/{footage}/restore").status_code == 204
    view = client.get(f"/api/projects/{project}").json()
    assert len(view["footage"]) == 1 and len(view["shots"]) == 1
    client.delete(f"/api/shots/{shot['shot']['id']}")
    assert client.get(f"/api/projects/{project}").json()["shots"] == []
    client.post(f"/api/shots/{shot['shot']['id']}/restore")
    assert len(client.get(f"/api/projects/{project}").json()["shots"]) == 1


def test_demo_project_is_made_once(demo_data: Path, tmp_path: Path) -> None:
    shutil.copytree(demo_data, tmp_path / "data")  # made already, by the command
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as client:
        (first,) = client.get("/api/projects").json()
        assert client.post("/api/projects/demo").json() == first
        view = client.get(f"/api/projects/{first['id']}").json()
        assert view["shots"] and client.get(f"/api/shots/{view['shots'][0]['id']}").json()["document"]["look"]["passes"]


def test_media_that_became_garbage_are_told(client: TestClient, project: str, shot: dict, tmp_path: Path) -> None:
    """A file of the data folder is replaced: it is not "here" any more, and every way to it says so in a sentence."""
    media = next((tmp_path / "data" / "media").glob("*.mp4"))
    media.write_bytes(b"garbage")
    assert client.get(f"/api/projects/{project}").json()["footage"][0]["state"] == "changed"
    id, revision = shot["shot"]["id"], shot["revision"]
    for answer in (
        client.get(f"/api/shots/{id}/pictures/{revision}/3.png"),
        client.get(f"/api/shots/{id}/frames/{revision}/3.png"),
        client.post(f"/api/shots/{id}/exports", json={"revision": revision}),
        client.post(f"/api/shots/{id}/exports/estimate", json={"revision": revision}),
    ):
        assert answer.status_code == 404 and "another than was taken in" in answer.json()["message"], answer.text


def test_sound_that_cannot_be_read_any_more_is_said_and_read_again(client: TestClient, shot: dict, tmp_path: Path) -> None:
    """Where the file was cut short behind our back there was no sentence, but an error of the program."""
    id = shot["shot"]["footage_id"]
    media = tmp_path / "data" / "media" / f"{id}.mp4"
    whole = media.read_bytes()
    for size in (0, 700, 2000):
        media.write_bytes(whole[:size])
        for door in ("peaks", "sound.wav"):
            answer = client.get(f"/api/footage/{id}/{door}")
            assert answer.status_code == 422 and answer.json()["message"].endswith("."), (size, door)
    media.write_bytes(whole)
    assert len(client.get(f"/api/footage/{id}/peaks").content) >= 49
