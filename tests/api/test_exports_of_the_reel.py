"""Exports of a span, of a reveal, and of the mattes of a whole reel."""

import zipfile
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
from fastapi.testclient import TestClient

from tests.api.conftest import edited as edited_shot
from tests.api.conftest import wait_for
from tests.api.test_bench_of_the_reel import GREY, of, revealed, shown
from tests.api.test_reel import add, edited, pixels, reel_of, shot_of
from tests.media.clips import make_clip

BOX = {"id": "b", "name": "Box", "kind": "rectangle", "points": [{"x": 200, "y": 200}, {"x": 700, "y": 700}], "feather_out": 0}
SPAN = {"id": "s", "name": "Dusk", "start": {"item": "i", "frame": 6}, "end": {"item": "i", "frame": 13}, "amount": 40}


def pictures(client: TestClient, project: str, url: str, revision: int, **options: object) -> dict[int, np.ndarray]:
    """The pictures of an export, by their frames, as R G B (or grey, or with alpha)."""
    body = {"revision": revision, "options": {"format": "png-8", "sound": False, **options}}
    answer = client.post(url, json=body)
    assert answer.status_code == 200, answer.text
    id = answer.json()["id"]
    done = wait_for(
        lambda: next((e for e in client.get(f"/api/projects/{project}/exports").json() if e["id"] == id and e["state"] in ("done", "failed")), None)
    )
    assert done["state"] == "done", done["message"]
    with zipfile.ZipFile(done["path"]) as archive:
        images = {int(n[:6]): cv2.imdecode(np.frombuffer(archive.read(n), np.uint8), cv2.IMREAD_UNCHANGED) for n in archive.namelist()}
    assert client.get(f"/api/exports/{id}/picture.jpg").status_code == 200
    return {n: image if image.ndim == 2 else image[..., [2, 1, 0, 3][: image.shape[2]]] for n, image in images.items()}


def test_a_span_and_a_reveal(client: TestClient, project: str, clip: Path) -> None:
    shot = shot_of(client, project, clip)
    other = shot_of(client, project, make_clip(clip.parent / "b.mp4", count=30))
    look = {**GREY, "selections": [{"id": "q", "name": "Box", "shapes": [{**BOX, "mode": "keep"}]}]}
    items = add("i", shot, 0, 20), add("j", other, 4, 24)
    view = edited(client, reel_of(client, project), *items, {"do": "add", "target": "spans", "value": {**SPAN, "look": look}})
    id = of(view, "spans", "s")
    found = pictures(client, project, f"/api/shots/{id}/exports", view["revision"])
    assert sorted(found) == list(range(8)) and np.abs(found[3].astype(int) - pixels(client, view, 9)).max() <= 1
    cut = pictures(client, project, f"/api/shots/{id}/exports", view["revision"], shows="alpha", selection="q")
    assert cut[2].shape[2] == 4 and set(np.unique(cut[2][:, :, 3])) >= {0, 255}
    view = revealed(client, view)
    opened = client.get(f"/api/shots/{of(view, 'transitions', 'x')}").json()["document"]
    found = pictures(client, project, f"/api/shots/{of(view, 'transitions', 'x')}/exports", view["revision"])
    assert sorted(found) == list(range(opened["first"], opened["last"] + 1))
    middle = (opened["first"] + opened["last"]) // 2
    assert np.abs(found[middle].astype(int) - shown(client, of(view, "transitions", "x"), view["revision"], middle)).max() <= 1
    names = {e["shot_name"] for e in client.get(f"/api/projects/{project}/exports").json()}
    assert "Dusk" in names and any(n.startswith("Reveal of") for n in names)


def test_the_mattes_of_a_reel(client: TestClient, project: str, clip: Path) -> None:
    """Selections of one name, shot by shot; black where a shot has none; a dissolve dissolves the mattes."""
    shots = [shot_of(client, project, p) for p in (clip, make_clip(clip.parent / "b.mp4", count=30, rate=Fraction(24)))]
    view = client.get(f"/api/shots/{shots[0]}").json()
    selection = {"id": "q", "name": "Coat", "shapes": [{**BOX, "mode": "keep"}]}
    assert edited_shot(client, view, [{"do": "add", "target": "look/selections", "value": selection}]).status_code == 200
    transition = {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "kind": "dissolve", "frames": 4, "at": "before"}}
    reel = edited(client, reel_of(client, project), add("i", shots[0], 0, 11), add("j", shots[1], 6, 17), transition)
    url = f"/api/reels/{reel['reel_id']}/exports"
    assert client.get(f"/api/reels/{reel['reel_id']}/selections/{reel['revision']}").json() == ["Coat"]
    refused = client.post(url, json={"revision": reel["revision"], "options": {"shows": "matte", "selection": "Hat", "format": "png-8"}})
    assert refused.status_code == 422 and "Hat" in refused.json()["message"]
    found = pictures(client, project, url, reel["revision"], shows="matte", selection="Coat")
    assert len(found) == 24 and found[0].ndim == 2
    assert found[3][100, 100] == 255 and found[3][10, 10] == 0 and found[20].max() == 0
    assert 20 < found[9][100, 100] < 240
    cut = pictures(client, project, url, reel["revision"], shows="alpha", selection="Coat")
    assert np.array_equal(cut[3][:, :, 3], found[3]) and np.abs(cut[3][:, :, :3].astype(int) - pixels(client, reel, 3)).max() <= 1
