"""What shows nothing but what is behind, and a stretch of a reel: as pictures, as cut lists, as files."""

import av
import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import wait_for
from tests.api.test_exports_of_the_reel import pictures
from tests.api.test_reel import add, edited, pixels, reel_of, shot_of
from tests.media.clips import make_clip, read_independently


@pytest.fixture
def reel(client: TestClient, project: str, clip) -> dict:
    """Twelve frames of a shot, eight of a gap, twelve of the shot again."""
    shot = shot_of(client, project, clip)
    return edited(client, reel_of(client, project), add("i", shot, 0, 11), add("g", "gap", 0, 7, behind="#336699"), add("j", shot, 12, 23))


def test_a_gap_shows_what_is_behind(client: TestClient, reel: dict) -> None:
    assert reel["cuts"] == [0, 12, 20, 32] and "gap" not in reel["shots"]
    for frame in (12, 19):
        assert (pixels(client, reel, frame) == [0x33, 0x66, 0x99]).all()
    assert len(np.unique(pixels(client, reel, 11).reshape(-1, 3), axis=0)) > 100
    plain = edited(client, reel, {"do": "set", "target": "items/g/behind", "value": "#000000"}, {"do": "set", "target": "items/g/last", "value": 2})
    assert plain["length"] == 27 and pixels(client, plain, 14).max() == 0 and pixels(client, plain, 15).max() > 0


def test_a_dissolve_into_a_gap_is_a_fade(client: TestClient, reel: dict) -> None:
    """Source-over with constant alpha (W3C Compositing and Blending Level 1): half of the picture, half of what is behind."""
    view = edited(client, reel, {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "frames": 3, "at": "before", "linear": False}})
    wanted = (pixels(client, reel, 10).astype(float) + [0x33, 0x66, 0x99]) / 2
    assert np.abs(pixels(client, view, 10) - wanted).max() <= 1


@pytest.mark.parametrize("kind", ["otio", "edl"])
def test_a_gap_goes_into_a_cut_list_and_comes_back(client: TestClient, reel: dict, kind: str) -> None:
    url = f"/api/reels/{reel['reel_id']}"
    taken = client.post(f"{url}/cut", json={"text": client.get(f"{url}/cut.{kind}").text, "name": kind}).json()
    items = taken["view"]["document"]["items"]
    assert [(i["shot"] == "gap", i["first"], i["last"]) for i in items] == [(False, 0, 11), (True, 0, 7), (False, 12, 23)]
    assert taken["view"]["cuts"] == reel["cuts"] and taken["count"] == 2  # a gap is no clip that was found


def test_a_stretch_is_exported_with_its_sound(client: TestClient, project: str, tmp_path) -> None:
    shot = shot_of(client, project, make_clip(tmp_path / "a.mp4", count=40, sound="aac"))
    view = edited(client, reel_of(client, project), add("i", shot, 0, 39))
    url = f"/api/reels/{view['reel_id']}/exports"
    found = pictures(client, project, url, view["revision"], stretch=[5, 9])
    assert len(found) == 5
    for n, image in enumerate(found[k] for k in sorted(found)):
        assert np.abs(image.astype(int) - pixels(client, view, 5 + n)).max() <= 1
    started = client.post(url, json={"revision": view["revision"], "options": {"quality": "fine", "stretch": [10, 33]}}).json()
    wait_for(lambda: next((e for e in client.get(f"/api/projects/{project}/exports").json() if e["id"] == started["id"] and e["state"] == "done"), None))
    path = tmp_path / "out.mp4"
    path.write_bytes(client.get(f"/api/exports/{started['id']}/file").content)
    frames, _ = read_independently(path)
    assert len(frames) == 24 and np.abs(frames[0].astype(int) - pixels(client, view, 10)).mean() < 3
    # The tone begins 20 frames in: 10 frames into what was taken.
    with av.open(str(path)) as container:
        sound = np.concatenate([f.to_ndarray()[0] for f in container.decode(audio=0)])
    assert np.flatnonzero(np.abs(sound) > 0.1)[0] / 48000 == pytest.approx(10 / 24, abs=1 / 24)


def test_stretches_that_are_none_are_refused(client: TestClient, project: str, reel: dict) -> None:
    url = f"/api/reels/{reel['reel_id']}/exports"
    for wrong in ([20, 32], [9, 4], [-1, 4], [3]):
        answer = client.post(url, json={"revision": reel["revision"], "options": {"stretch": wrong}})
        assert answer.status_code in (400, 422), (wrong, answer.text)
    shot = reel["document"]["items"][0]["shot"]
    revision = client.get(f"/api/shots/{shot}").json()["revision"]
    answer = client.post(f"/api/shots/{shot}/exports", json={"revision": revision, "options": {"stretch": [0, 4]}})
    assert answer.status_code in (400, 422) and "stretch" in answer.json()["message"].lower()
    assert client.get(f"/api/projects/{project}/exports").json() == []


def test_a_frame_to_keep(client: TestClient, reel: dict) -> None:
    url = f"/api/reels/{reel['reel_id']}/frames/{reel['revision']}"
    answer = client.get(f"{url}/5.png")
    assert answer.status_code == 200 and "5.png" in answer.headers["content-disposition"]
    assert np.array_equal(cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[..., ::-1], pixels(client, reel, 5))
    past = client.get(f"{url}/32.png")
    assert past.status_code == 404 and "ends at frame 31" in past.json()["message"]
