"""The reel of a project, from an empty one to a file."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, send, wait_for
from tests.media.clips import make_clip, read_independently
from wenditas.api.app import create_app


def shot_of(client: TestClient, project: str, path: Path) -> str:
    footage = send(client, project, path).json()
    return client.post(f"/api/footage/{footage['id']}/shots").json()["id"]


def reel_of(client: TestClient, project: str) -> dict:
    return client.get(f"/api/projects/{project}/reel").json()


def edited(client: TestClient, view: dict, *commands: dict, words: str = "Edit") -> dict:
    answer = client.post(f"/api/reels/{view['reel_id']}/edits", json={"base": view["revision"], "commands": commands, "words": words})
    assert answer.status_code == 200, answer.text
    return answer.json()


def add(id: str, shot: str, first: int, last: int, **more: object) -> dict:
    return {"do": "add", "target": "items", "value": {"id": id, "shot": shot, "first": first, "last": last, **more}}


def pixels(client: TestClient, view: dict, frame: int, **query: object) -> np.ndarray:
    answer = client.get(f"/api/reels/{view['reel_id']}/pictures/{view['revision']}/{frame}.png", params=query)
    assert answer.status_code == 200, answer.text
    import cv2

    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[..., ::-1]


def test_an_empty_reel_says_what_to_do(client: TestClient, project: str) -> None:
    view = reel_of(client, project)
    assert view["document"]["items"] == [] and view["undo"] is None
    assert reel_of(client, project)["reel_id"] == view["reel_id"]
    answer = client.get(f"/api/reels/{view['reel_id']}/pictures/{view['revision']}/0.png")
    assert answer.status_code == 422 and "drop a shot on it" in answer.json()["message"]
    assert "nothing to export" in client.post(f"/api/reels/{view['reel_id']}/exports", json={"revision": view["revision"]}).json()["message"]
    assert client.get("/api/projects/none/reel").status_code == 404
    assert client.get("/api/shots/" + view["reel_id"]).status_code == 404  # a reel is no shot


def test_edits_undo_and_a_restart(tmp_path: Path, clip: Path) -> None:
    data = tmp_path / "data"
    with TestClient(create_app(data), base_url=BASE) as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        shot = shot_of(client, project, clip)
        one = edited(client, reel_of(client, project), add("i", shot, 4, 15), add("j", shot, 0, 11), words="Two items")
        assert one["cuts"] == [0, 12, 24] and one["length"] == 24 and one["fps"] == "24"
        two = edited(client, one, {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "frames": 6}}, words="Dissolve")
        assert two["overlaps"] == [{"id": "x", "before": 3, "behind": 3, "held_out": 0, "held_in": 3, "asked": 6}]
        stale = client.post(
            f"/api/reels/{one['reel_id']}/edits", json={"base": one["revision"], "commands": [{"do": "remove", "target": "transitions/none"}], "words": "w"}
        )
        assert stale.status_code == 409 and stale.json()["newest"]["revision"] == two["revision"]
    with TestClient(create_app(data), base_url=BASE) as client:
        again = reel_of(client, project)
        assert again["document"] == two["document"] and again["undo"] == "Dissolve"
        back = client.post(f"/api/reels/{again['reel_id']}/undo", json={"base": again["revision"]}).json()
        assert back["overlaps"] == [] and back["redo"] == "Dissolve"
        assert client.post(f"/api/reels/{again['reel_id']}/redo", json={"base": back["revision"]}).json()["overlaps"] == two["overlaps"]
        assert [e["words"] for e in client.get(f"/api/reels/{again['reel_id']}/history").json()] == ["Dissolve", "Two items", "Reel begun"]


def test_an_export_shows_the_shots_as_they_stood(client: TestClient, project: str, clip: Path) -> None:
    """What is changed of a shot, or removed, while the export waits for its turn is not in it."""
    shot = shot_of(client, project, clip)
    view = edited(client, reel_of(client, project), add("i", shot, 0, 5))
    started = client.post(f"/api/reels/{view['reel_id']}/exports", json={"revision": view["revision"]}).json()
    assert client.post(f"/api/exports/{started['id']}/cancel").status_code == 200
    wait_for(lambda: client.get(f"/api/projects/{project}/exports").json()[0]["state"] in ("cancelled", "done"))
    grey = {"passes": [{"id": "p", "name": "p", "treatment": "solid", "params": {"colour": "#808080"}}]}
    stands = client.get(f"/api/shots/{shot}").json()["revision"]
    client.post(f"/api/shots/{shot}/edits", json={"base": stands, "commands": [{"do": "set", "target": "look", "value": grey}], "words": "Grey"})
    client.delete(f"/api/shots/{shot}")
    if client.get(f"/api/projects/{project}/exports").json()[0]["state"] == "cancelled":
        client.post(f"/api/exports/{started['id']}/restart")
    wait_for(lambda: client.get(f"/api/projects/{project}/exports").json()[0]["state"] == "done")
    (clip.parent / "out.mp4").write_bytes(client.get(f"/api/exports/{started['id']}/file").content)
    frames, _ = read_independently(clip.parent / "out.mp4")
    assert np.std(frames[3].astype(float)) > 10  # neither grey nor a gap


def test_dissolves_spans_and_what_is_without_them(client: TestClient, project: str, clip: Path) -> None:
    """A dissolve is source-over with constant alpha (W3C Compositing and Blending Level 1), a span at 40 % lies so far over what is under it."""
    shot = shot_of(client, project, clip)
    grey = {"passes": [{"id": "p", "name": "p", "treatment": "solid", "params": {"colour": "#808080"}}]}
    span = {"id": "s", "name": "Grey", "start": {"item": "j", "frame": 18}, "end": {"item": "j", "frame": 23}, "look": grey, "amount": 40}
    view = edited(
        client,
        reel_of(client, project),
        add("i", shot, 0, 11),
        add("j", shot, 12, 23, mirror_across=True),
        {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "frames": 3}},
        {"do": "add", "target": "spans", "value": span},
    )
    assert view["spans"] == {"s": [18, 23]}
    plain = client.post(f"/api/reels/{view['reel_id']}/undo", json={"base": view["revision"]})
    assert plain.status_code == 200
    view = client.post(f"/api/reels/{view['reel_id']}/redo", json={"base": plain.json()["revision"]}).json()
    from tests.media.clips import frame_pixels

    source = [frame_pixels(n, 320, 240, 24).astype(float) for n in range(24)]
    middle = (source[11] + source[11][:, ::-1]) / 2  # the second of three frames: frame 11 of both, half and half
    assert np.abs(pixels(client, view, 11) - middle)[80:, 10:-10].mean() < 4
    laid = source[20][:, ::-1] * 0.6 + 128 * 0.4
    assert np.abs(pixels(client, view, 20) - laid)[80:, 10:-10].mean() < 4
    assert np.abs(pixels(client, view, 20, without="spans") - source[20][:, ::-1])[80:, 10:-10].mean() < 4


def test_a_shot_that_is_removed_leaves_a_gap_and_comes_back(client: TestClient, project: str, clip: Path) -> None:
    shot = shot_of(client, project, clip)
    view = edited(client, reel_of(client, project), add("i", shot, 0, 11), add("j", "never-was", 0, 5))
    before = pixels(client, view, 4)
    client.delete(f"/api/shots/{shot}")
    gone = reel_of(client, project)
    assert gone["shots"][shot]["gone"] and gone["cuts"] == view["cuts"] and gone["shots"][shot]["name"]
    assert len(np.unique(pixels(client, gone, 4).reshape(-1, 3), axis=0)) == 1
    client.post(f"/api/shots/{shot}/restore")
    assert np.array_equal(pixels(client, reel_of(client, project), 4), before)


@pytest.mark.parametrize(("width", "height", "fps"), [(1, 1, "1"), (7680, 4320, "240"), (64, 3000, "24000/1001")])
def test_frames_of_any_size_and_rate(client: TestClient, project: str, clip: Path, width: int, height: int, fps: str) -> None:
    shot = shot_of(client, project, clip)
    set_ = [{"do": "set", "target": key, "value": value} for key, value in (("width", width), ("height", height), ("fps", fps))]
    view = edited(client, reel_of(client, project), add("i", shot, 0, 23), *set_)
    assert view["length"] == max(1, round(Fraction(fps)))
    found = pixels(client, view, view["length"] - 1, width=64)
    assert found.shape[1] == min(width, 64)


def test_a_reel_of_several_rates_is_exported_as_the_rule_says(client: TestClient, project: str, tmp_path: Path) -> None:
    """Numbered clips of three rates and a still in a reel of 25 frames a second: every frame is the nearest in time, and sound is in step."""
    rates = {"a": Fraction(24000, 1001), "b": Fraction(25), "c": Fraction(30000, 1001)}
    counts = {name: 40 for name in rates}
    shots = {name: shot_of(client, project, make_clip(tmp_path / f"{name}.mp4", rate=rate, count=counts[name], sound="aac")) for name, rate in rates.items()}
    items = [add(name, shot, 2, 37) for name, shot in shots.items()]
    commands = [
        *items,
        {"do": "set", "target": "fps", "value": "25"},
        {"do": "set", "target": "width", "value": 320},
        {"do": "set", "target": "height", "value": 240},
    ]
    view = edited(client, reel_of(client, project), *commands)
    started = client.post(f"/api/reels/{view['reel_id']}/exports", json={"revision": view["revision"], "name": "R", "options": {"quality": "fine"}}).json()
    done = wait_for(
        lambda: next(
            (
                e
                for e in client.get(f"/api/projects/{project}/exports").json()
                if e["id"] == started["id"] and e["state"] != "waiting" and e["state"] != "running"
            ),
            None,
        )
    )
    assert done["state"] == "done" and done["shot_name"] == "Reel", done["message"]
    path = tmp_path / "out.mp4"
    path.write_bytes(client.get(f"/api/exports/{started['id']}/file").content)
    frames, rate = read_independently(path)
    assert rate == 25 and len(frames) == view["length"] == sum(round(36 * 25 / r) for r in rates.values())
    at = 0
    for name, source in rates.items():
        for n in range(round(36 * 25 / source)):
            wanted = min(int(2 + n * source / 25 + Fraction(1, 2)), 39)
            blue = frames[at][200:, 20:300, 2].mean()
            assert blue == pytest.approx(30 + 200 * wanted / 39, abs=2.4), (name, n, wanted)  # frames are 5.1 apart
            at += 1
    # The tone of each clip begins in its middle: 20 frames in, of which 2 are cut away.
    with av.open(str(path)) as container:
        sound = np.concatenate([f.to_ndarray()[0] for f in container.decode(audio=0)])
    level = np.abs(sound[: len(sound) // 480 * 480]).reshape(-1, 480).max(axis=1) > 0.1
    begin = Fraction(0)
    for source in rates.values():
        onset = float(begin + 18 / source)
        heard = np.flatnonzero(level[round(float(begin) * 100) + 2 :])[0] / 100 + float(begin) + 0.02
        assert abs(heard - onset) <= 1 / 25, (source, heard, onset)
        begin += Fraction(round(36 * 25 / source), 25)


def test_a_cut_list_goes_out_and_comes_in_again(client: TestClient, project: str, clip: Path, tmp_path: Path) -> None:
    """The same items and dissolves; what cannot be carried is told; files that are missing are named; one step to undo."""
    shot = shot_of(client, project, clip)
    other = shot_of(client, project, make_clip(tmp_path / "Ünïcode.mp4", width=64, height=48, count=50, rate=Fraction(25)))
    look = {"passes": [{"id": "p", "name": "p", "treatment": "monochrome"}]}
    span = {"id": "s", "name": "Grey", "start": {"item": "i", "frame": 0}, "end": {"item": "j", "frame": 9}, "look": look}
    view = edited(
        client,
        reel_of(client, project),
        add("i", shot, 2, 17),
        add("j", other, 10, 34),
        add("k", shot, 0, 11),
        {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "frames": 6}},
        {"do": "add", "target": "spans", "value": span},
    )
    url = f"/api/reels/{view['reel_id']}"
    told = client.get(f"{url}/cut").json()
    assert any("spans" in t for t in told) and any("25 frames a second" in t for t in told)
    for kind, at in (("otio", "centred"), ("edl", "after")):
        text = client.get(f"{url}/cut.{kind}").text
        taken = client.post(f"{url}/cut", json={"text": text, "name": kind}).json()
        document = taken["view"]["document"]
        assert [i["shot"] for i in document["items"]] == [shot, other, shot] and taken["count"] == 3 and taken["view"]["undo"] == f"Cut list {kind}"
        assert (document["transitions"][0]["frames"], document["transitions"][0]["at"]) == (6, at) and document["spans"] == []
        assert taken["view"]["length"] == view["length"]
        if kind == "otio":
            assert [(i["first"], i["last"]) for i in document["items"]] == [(2, 17), (10, 34), (0, 11)]
        back = client.post(f"{url}/undo", json={"base": taken["view"]["revision"]}).json()
        assert back["document"] == view["document"]
    strange = client.get(f"{url}/cut.edl").text.replace("clip.mp4", "elsewhere.mp4")
    some = client.post(f"{url}/cut", json={"text": strange}).json()
    assert some["count"] == 1 and any("“elsewhere.mp4” is not in this project" in t for t in some["told"])
    assert "bring their files in" in client.post(f"{url}/cut", json={"text": strange.replace("Ünïcode", "no")}).json()["message"]
    assert client.post(f"{url}/cut", json={"text": "nothing"}).status_code == 422


def test_a_cut_list_of_dissolves_that_hold_frames_keeps_its_length(client: TestClient, project: str, tmp_path: Path) -> None:
    """Footage that is used from its first frame to its last has none for a dissolve: the list says so, and lasts as long."""
    ends = [shot_of(client, project, make_clip(tmp_path / f"c{n}.mp4", width=64, height=48, count=40)) for n in range(3)]
    view = edited(
        client,
        reel_of(client, project),
        *(add(id, shot, 0, 39) for id, shot in zip("ijk", ends, strict=True)),
        {"do": "add", "target": "transitions", "value": {"id": "x", "after": "i", "frames": 24}},
        {"do": "add", "target": "transitions", "value": {"id": "y", "after": "j", "frames": 9, "at": "before"}},
    )
    url = f"/api/reels/{view['reel_id']}"
    told = client.get(f"{url}/cut").json()
    assert any("0 frames instead of 24: its footage has no more" in t for t in told)
    for kind in ("otio", "edl"):
        taken = client.post(f"{url}/cut", json={"text": client.get(f"{url}/cut.{kind}").text, "name": kind}).json()
        assert taken["view"]["length"] == view["length"] == 120 and not any("shortened" in t for t in taken["told"])
        assert [(i["first"], i["last"]) for i in taken["view"]["document"]["items"]] == [(0, 39)] * 3
