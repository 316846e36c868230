"""Media folders, sequences, readings, footage that moved or is replaced."""

import json
import os
from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, send
from tests.media.clips import make_clip
from tests.media.test_fields_and_alpha import interlaced_clip
from tests.media.test_sound_alone import written
from wenditas.api.app import create_app
from wenditas.app.services import Services
from wenditas.core.errors import BadRequest


@pytest.fixture
def there(tmp_path: Path) -> Path:
    """A media folder with a clip, a folder of numbered pictures, and links that lead out of it."""
    root = tmp_path / "rushes"
    (root / "day 1").mkdir(parents=True)
    make_clip(root / "day 1" / "a.mp4", count=8)
    for n in range(5):
        cv2.imwrite(str(root / "day 1" / f"p{n:03d}.png"), np.full((20, 30, 3), 40 * n, np.uint8))
    (root / "notes.txt").write_text("no footage")
    make_clip(tmp_path / "secret.mp4", count=4)
    (root / "way-out.mp4").symlink_to(tmp_path / "secret.mp4")
    (root / "up").symlink_to(tmp_path)
    return root


@pytest.fixture
def client(tmp_path: Path, there: Path):  # type: ignore[no-untyped-def]
    with TestClient(create_app(tmp_path / "data", opened=Services.open(tmp_path / "data", [there])), base_url=BASE) as made:
        yield made


@pytest.fixture
def project(client: TestClient) -> str:
    return client.post("/api/projects", json={"name": "Film"}).json()["id"]


def pieces(client: TestClient, project: str) -> list[dict]:
    return client.get(f"/api/projects/{project}").json()["footage"]


def told(answer) -> list[dict]:  # type: ignore[no-untyped-def]
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


def test_a_media_folder_is_looked_into_and_nothing_outside_it(client: TestClient, project: str, there: Path, tmp_path: Path) -> None:
    place = client.get("/api/places").json()[0]
    assert place["name"] == "rushes"
    assert [(e["name"], e["kind"]) for e in client.get(f"/api/places/{place['id']}").json()["entries"]] == [("day 1", "folder")]
    inner = client.get(f"/api/places/{place['id']}", params={"path": "day 1"}).json()["entries"]
    assert [(e["name"], e["kind"], e["count"]) for e in inner] == [("a.mp4", "file", 0), ("p000.png", "sequence", 5)]
    for path in ("../secret.mp4", "way-out.mp4", "up/secret.mp4", str(tmp_path / "secret.mp4"), "/etc/passwd", "a\x00b"):
        answer = client.post(f"/api/projects/{project}/footage/from-place", json={"place": place["id"], "path": path})
        assert answer.status_code in (404, 422), path
        assert client.get(f"/api/places/{place['id']}", params={"path": path}).status_code in (404, 422)
    for there_or_not in (str(tmp_path / "secret.mp4"), str(tmp_path / "no-such.mp4"), "../secret.mp4", "../no-such.mp4"):  # the same answer
        answer = client.get(f"/api/places/{place['id']}", params={"path": there_or_not})
        assert answer.status_code == 422 and "leads out of" in answer.json()["message"]
    (there / "loop").symlink_to(there / "pool")
    (there / "pool").symlink_to(there / "loop")
    assert client.get(f"/api/places/{place['id']}").status_code == 200
    assert client.get(f"/api/places/{place['id']}", params={"path": "loop"}).status_code == 404
    assert client.get("/api/places/none").status_code == 404 and pieces(client, project) == []
    with pytest.raises(BadRequest, match="not there"):
        Services.open(tmp_path / "other", [tmp_path / "nowhere"])


def test_footage_lies_where_it_lies_and_is_found_again(client: TestClient, project: str, there: Path, tmp_path: Path) -> None:
    place = client.get("/api/places").json()[0]["id"]
    asked = {"place": place, "path": "day 1/a.mp4"}
    clip, before = there / "day 1" / "a.mp4", (there / "day 1" / "a.mp4").read_bytes()
    made = client.post(f"/api/projects/{project}/footage/from-place", json=asked).json()
    assert made["lies"] == str(clip) and made["state"] == "here" and not made["already"]
    assert client.post(f"/api/projects/{project}/footage/from-place", json=asked).json()["already"]
    assert not list((tmp_path / "data" / "media").glob("*.mp4"))
    shot = client.post(f"/api/footage/{made['id']}/shots").json()
    picture = f"/api/shots/{shot['id']}/pictures/{shot['head']}/3.png"
    first = client.get(picture, params={"width": 64}).content
    os.utime(clip, (1, 1))
    assert pieces(client, project)[0]["state"] == "changed"
    assert client.post(f"/api/footage/{made['id']}/find").json()["state"] == "here"
    (there / "elsewhere").mkdir()
    clip.rename(there / "elsewhere" / "renamed.mov.mp4")
    assert pieces(client, project)[0]["state"] == "missing"
    found = client.post(f"/api/footage/{made['id']}/find").json()
    assert found["lies"] == str(there / "elsewhere" / "renamed.mov.mp4") and found["state"] == "here"
    assert client.get(picture, params={"width": 64}).content == first
    (there / "elsewhere" / "renamed.mov.mp4").write_bytes(before + b"another")
    assert client.post(f"/api/footage/{made['id']}/find").status_code == 404
    back = client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=before).json()
    assert back["already"] and back["id"] == made["id"] and back["lies"] is None and pieces(client, project)[0]["state"] == "here"
    assert (there / "elsewhere" / "renamed.mov.mp4").read_bytes() == before + b"another"


def test_a_sequence_that_is_sent_and_one_that_lies_in_a_media_folder(client: TestClient, project: str, there: Path, tmp_path: Path) -> None:
    sequence = client.post(f"/api/projects/{project}/sequences").json()["id"]
    for n in (0, 1, 3):
        data = (there / "day 1" / f"p{n:03d}.png").read_bytes()
        assert client.put(f"/api/sequences/{sequence}/pictures", params={"name": f"q{n}.png"}, content=data).status_code == 204
    for name in ("../x1.png", "x.png", "x1.jpg", "/etc/x1.png"):
        assert client.put(f"/api/sequences/{sequence}/pictures", params={"name": name}, content=b"x").status_code == 422, name
    asked = {"rate": "12.5"}
    said = told(client.post(f"/api/projects/{project}/sequences/{sequence}", json=asked))
    assert said[-1]["kind"] == "damaged" and "missing: 2" in said[-1]["damage"][0]
    said = told(client.post(f"/api/projects/{project}/sequences/{sequence}", json={**asked, "take": True}))
    assert said[-1]["kind"] == "done" and any(s["kind"] == "progress" for s in said)
    facts = pieces(client, project)[0]["facts"]
    assert (facts["length"], facts["rate"]) == (4, "25/2") and "3 PNG pictures" in facts["origin"] and not list((tmp_path / "data" / "incoming").iterdir())
    place = client.get("/api/places").json()[0]["id"]
    placed = {"rate": "24", "place": place, "path": "day 1/p000.png"}
    for already in (False, True):
        said = told(client.post(f"/api/projects/{project}/sequences/from-place", json=placed))
        assert said[-1]["kind"] == "done" and said[-1]["already"] == already
    assert len(pieces(client, project)) == 2 and pieces(client, project)[1]["facts"]["length"] == 5
    gone = client.post(f"/api/projects/{project}/sequences").json()["id"]
    assert client.delete(f"/api/projects/{project}/sequences/{gone}").status_code == 204
    assert client.post(f"/api/projects/{project}/sequences/{gone}", json=asked).status_code == 404


CUBE = "LUT_3D_SIZE 2\n" + "\n".join(f"{1 - r} {1 - g} {1 - b}" for b in (0, 1) for g in (0, 1) for r in (0, 1))


def test_how_footage_is_read(client: TestClient, project: str, tmp_path: Path) -> None:
    """HLG is mapped by its tag; a LUT (here one that inverts) is chosen for several at once; pictures, posters and exports follow, and undo brings all back."""
    hlg = send(client, project, make_clip(tmp_path / "hlg.mp4", count=6, transfer=18, matrix=9)).json()
    plain = send(client, project, make_clip(tmp_path / "plain.mp4", count=6)).json()
    log = send(client, project, make_clip(tmp_path / "log.mp4", count=7, transfer=9)).json()
    assert (hlg["facts"]["signal"], plain["facts"]["signal"], log["facts"]["signal"]) == ("hlg", "display", "log")
    assert "~" in hlg["content"] and plain["content"] == plain["id"]
    shot = client.post(f"/api/footage/{plain['id']}/shots").json()

    def picture() -> np.ndarray:
        data = client.get(f"/api/shots/{shot['id']}/pictures/{shot['head']}/2.png", params={"width": 64}).content
        return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(int)

    before, poster = picture(), client.get(f"/api/footage/{plain['id']}/poster.jpg").content
    lut = client.post("/api/files", params={"name": "Inverse.cube"}, content=CUBE.encode()).json()["digest"]
    readings = {p["id"]: {"way": "lut", "lut": lut} for p in (plain, log)}
    answer = client.put(f"/api/projects/{project}/readings", json={"readings": readings})
    assert answer.status_code == 200 and {p["lut_name"] for p in answer.json()} == {"Inverse.cube"}
    assert np.abs(255 - picture() - before).mean() < 2
    assert client.get(f"/api/footage/{plain['id']}/poster.jpg").content != poster
    export = client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"], "options": {"format": "png-8", "width": 64}}).json()
    from tests.api.conftest import wait_for

    done = wait_for(lambda: next((e for e in client.get(f"/api/projects/{project}/exports").json() if e["id"] == export["id"] and e["state"] == "done"), None))
    import zipfile

    with zipfile.ZipFile(done["path"]) as archive:
        image = cv2.imdecode(np.frombuffer(archive.read("000002.png"), np.uint8), cv2.IMREAD_COLOR).astype(int)
    assert np.abs(image - picture()).mean() < 2
    client.put(f"/api/projects/{project}/readings", json={"readings": {plain["id"]: {"way": "by itself"}, log["id"]: {"way": "as it is"}}})
    assert np.array_equal(picture(), before) and client.get(f"/api/footage/{plain['id']}/poster.jpg").content == poster
    for wrong in ({"way": "lut", "lut": "none"}, {"way": "lut"}, {"way": "film"}):
        assert client.put(f"/api/projects/{project}/readings", json={"readings": {plain["id"]: wrong}}).status_code in (404, 422)


def test_footage_is_replaced_under_its_shots_and_back(client: TestClient, project: str, tmp_path: Path) -> None:
    one = send(client, project, make_clip(tmp_path / "a.mp4", count=8)).json()
    longer = send(client, project, make_clip(tmp_path / "b.mp4", count=9)).json()
    shorter = send(client, project, make_clip(tmp_path / "c.mp4", count=5)).json()
    shots = [client.post(f"/api/footage/{one['id']}/shots").json()["id"] for _ in range(2)]
    refused = client.post(f"/api/footage/{one['id']}/replace", json={"by": shorter["id"]})
    assert refused.status_code == 409 and "5 frames" in refused.json()["message"]
    assert client.post(f"/api/footage/{one['id']}/replace", json={"by": longer["id"]}).json()["shots"] == shots
    assert {s["footage_id"] for s in client.get(f"/api/projects/{project}").json()["shots"]} == {longer["id"]}
    assert client.get(f"/api/shots/{shots[0]}").json()["footage"]["id"] == longer["id"]
    back = client.post(f"/api/footage/{longer['id']}/replace", json={"by": one["id"], "shots": shots})
    assert back.json()["shots"] == shots  # it is shorter, but as long as its shots need


def test_what_may_be_large_is_read_piece_by_piece(client: TestClient, project: str) -> None:
    """A picture and an archive of more than what a body may otherwise hold: the one is taken, the other refused for what it is."""
    sequence = client.post(f"/api/projects/{project}/sequences").json()["id"]
    assert client.put(f"/api/sequences/{sequence}/pictures", params={"name": "a1.exr"}, content=bytes(10 << 20)).status_code == 204
    answer = client.post("/api/projects/archive", content=bytes(10 << 20))
    assert answer.status_code == 422 and "archive" in answer.json()["message"]


def test_sound_alone_comes_in_with_its_wave_and_lies_below_a_reel(client: TestClient, project: str, there: Path, tmp_path: Path) -> None:
    song = written(tmp_path / "song.wav", "pcm_s16le")
    made = send(client, project, song).json()
    assert made["name"] == "song.wav" and "WAV" in made["facts"]["origin"] and made["lies"] is None
    assert send(client, project, song).json()["already"]
    (kept,) = (tmp_path / "data" / "media").glob(f"{made['id']}.mkv")
    before = kept.read_bytes()
    kept.unlink()
    assert pieces(client, project)[0]["state"] == "missing"
    assert send(client, project, song).json()["id"] == made["id"] and kept.read_bytes() == before and pieces(client, project)[0]["state"] == "here"

    (there / "second.flac").write_bytes(written(tmp_path / "second.flac", "flac").read_bytes())
    place = client.get("/api/places").json()[0]["id"]
    second = client.post(f"/api/projects/{project}/footage/from-place", json={"place": place, "path": "second.flac"}).json()
    assert second["lies"] is None and (there / "second.flac").exists() and not list((tmp_path / "data" / "incoming").iterdir())

    reel = client.get(f"/api/projects/{project}/reel").json()
    track = [{"do": "set", "target": "track", "value": {"footage": made["id"]}}]
    assert client.post(f"/api/reels/{reel['reel_id']}/edits", json={"base": reel["revision"], "commands": track, "words": "Track"}).status_code == 200
    assert client.get(f"/api/footage/{made['id']}/peaks").status_code == 200


def test_footage_that_lies_elsewhere_is_shown_at_another_rate_and_its_file_stays(client: TestClient, project: str, there: Path) -> None:
    clip, before = there / "day 1" / "a.mp4", (there / "day 1" / "a.mp4").read_bytes()
    place = client.get("/api/places").json()[0]["id"]
    made = client.post(f"/api/projects/{project}/footage/from-place", json={"place": place, "path": "day 1/a.mp4"}).json()
    conformed = client.post(f"/api/footage/{made['id']}/conform", json={"rate": "12"})
    assert clip.read_bytes() == before
    assert conformed.status_code == 200 and conformed.json()["facts"]["rate"] == "12" and conformed.json()["lies"] == str(clip)
    assert client.delete(f"/api/footage/{conformed.json()['id']}").status_code == 204 and clip.read_bytes() == before


def test_fields_are_made_frames_and_stay_so_when_the_index_is_lost(tmp_path: Path) -> None:
    """Twice the rate and twice the frames; the index that is made anew after a damage has them too."""
    data = tmp_path / "data"
    with TestClient(create_app(data), base_url=BASE) as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        piece = send(client, project, interlaced_clip(tmp_path / "i.mp4")).json()
        assert (piece["facts"]["rate"], piece["facts"]["length"]) == ("25", 14)
        assert client.post(f"/api/footage/{piece['id']}/fields", json={"fields": "one a field"}).status_code == 200
        (now,) = client.get(f"/api/projects/{project}").json()["footage"]
        assert (now["facts"]["rate"], now["facts"]["length"]) == ("50", 28)
        made = client.post(f"/api/footage/{now['id']}/shots").json()
        door = f"/api/shots/{made['id']}/pictures/{made['head']}"
        before = [client.get(f"{door}/{n}.png").content for n in (0, 1, 27)]
        assert len(set(before)) == 3
    for index in (data / "media").glob("*.index.npz"):
        index.write_bytes(b"garbage")
    with TestClient(create_app(data), base_url=BASE) as again:
        assert [again.get(f"{door}/{n}.png").content for n in (0, 1, 27)] == before
