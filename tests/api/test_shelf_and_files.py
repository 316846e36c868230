"""The shelf, copied passes, files of passes, thumbnails, scopes and the formats that parameters come in."""

import io
import json

import av
import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import edited, send, wait_for
from tests.api.test_live import heard
from tests.api.test_shots import GREY, picked, png
from wenditas.core.params import describe
from wenditas.core.shelf import PICK, STARTERS, dress
from wenditas.core.tone.lut import Lut
from wenditas.core.treat import TREATMENTS
from wenditas.formats.cube import write_cube


def jpeg(answer) -> np.ndarray:
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)[:, :, ::-1].astype(int)


def put_on(client: TestClient, view: dict, item: str, selection: str | None = None):
    return client.post(f"/api/shots/{view['shot']['id']}/dress", json={"base": view["revision"], "item": item, "selection": selection})


def test_catalogue_lists_everything(client: TestClient) -> None:
    found = client.get("/api/catalogue").json()
    assert [t["id"] for t in found["treatments"]] == list(TREATMENTS)
    assert found["groups"] == ["remove", "shift", "map", "fill", "tone", "soften", "break"] and len(found["blends"]) == 16
    assert len(found["starters"]) >= 16 and all(s["words"].endswith(".") for s in found["starters"])
    stops = next(t for t in found["treatments"] if t["id"] == "gradient-map")["params"][0]
    assert stops["kind"] == "gradient" and stops["default"][0] == {"id": "s1", "position": 0.0, "colour": "#05030a"}


@pytest.mark.parametrize("item", list(STARTERS))
def test_every_starter_goes_on_with_one_step(together: TestClient, new_shot: dict, item: str) -> None:
    client, shot = together, new_shot
    answer = put_on(client, shot, item).json()
    look, starter = answer["view"]["document"]["look"], STARTERS[item]
    assert [p["treatment"] for p in look["passes"]] == [p.treatment for p in starter.look.passes]
    assert answer["view"]["undo"] == f"{starter.name} put on" and answer["asks"] == starter.asks
    view = answer["view"]
    if starter.asks:
        assert [s["id"] for s in look["selections"]] == [answer["selection"]] and not look["selections"][0]["keys"]
        view = picked(client, view, selection=answer["selection"]).json()["view"]
        assert len(view["document"]["look"]["selections"][0]["keys"][0]["picks"]) == 1
    again = put_on(client, view, item).json()
    assert len({p["id"] for p in again["view"]["document"]["look"]["passes"]}) == len(look["passes"])
    source = jpeg(client.get(f"/api/shots/{shot['shot']['id']}/stages/{shot['revision']}/3.jpg"))
    shown = jpeg(client.get(f"/api/shots/{shot['shot']['id']}/shelf/{item}/{shot['revision']}/3.jpg"))
    assert shown.shape[1] == 176
    # One that waits for a pick shows what it does to everything, or nothing yet.
    assert starter.asks or np.abs(shown.astype(float).mean(axis=(0, 1)) - source.astype(float).mean(axis=(0, 1))).max() > 1


def test_checks_that_a_look_silences_stay_silent_where_it_is_put(client: TestClient, shot: dict) -> None:
    look = {"passes": [{"id": "p", "name": "Tint", "treatment": "tint"}], "silenced": ["banding"]}
    view = edited(client, shot, [{"do": "set", "target": "look", "value": look}]).json()
    body = {"shot": shot["shot"]["id"], "revision": view["revision"], "name": "Quiet", "words": "", "only": None}
    item = client.post("/api/shelf", json=body).json()["id"]
    plain = edited(client, {**shot, "revision": view["revision"]}, [{"do": "set", "target": "look", "value": {"silenced": ["clipping"]}}]).json()
    after = client.post(f"/api/shots/{shot['shot']['id']}/dress", json={"base": plain["revision"], "item": item, "selection": None, "where": "after"}).json()
    assert after["view"]["document"]["look"]["silenced"] == ["clipping", "banding"]
    instead = put_on(client, after["view"], item).json()
    assert instead["view"]["document"]["look"]["silenced"] == ["banding"]


def test_a_starter_uses_the_selection_in_work_and_recolours_from_its_picks(client: TestClient, shot: dict) -> None:
    one = picked(client, shot).json()
    answer = put_on(client, one["view"], "colour-swap", one["selection"]).json()
    look = answer["view"]["document"]["look"]
    assert answer["asks"] is None and answer["selection"] == one["selection"] and len(look["selections"]) == 1
    assert {p["selection"] for p in look["passes"]} == {one["selection"]}
    red = [int(look["passes"][0]["params"]["original"][n : n + 2], 16) for n in (1, 3, 5)]
    assert red == pytest.approx([210, 40, 30], abs=6)
    more = picked(client, answer["view"], 0.9, 0.5, selection=one["selection"]).json()["view"]
    assert more["document"]["look"]["passes"][0]["params"]["original"] != look["passes"][0]["params"]["original"]
    back = client.post(f"/api/shots/{shot['shot']['id']}/undo", json={"base": more["revision"]}).json()
    assert back["document"]["look"] == look  # the pick and what followed from it are one step


def test_day_for_night_warns_of_a_bright_sky(client: TestClient, project: str, tmp_path) -> None:
    for sky, warned in ((235, True), (12, False)):
        image = np.full((180, 320, 3), 40, np.uint8)
        image[:70] = sky
        image[70:] += np.random.default_rng(1).integers(0, 60, (110, 320, 3), np.uint8)
        path = tmp_path / f"{sky}.png"
        Image.fromarray(image).save(path)
        footage = send(client, project, path).json()
        made = client.post(f"/api/footage/{footage['id']}/shots").json()
        body = {"base": made["head"], "item": "day-for-night", "frame": 3}
        warning = client.post(f"/api/shots/{made['id']}/dress", json=body).json()["warning"]
        assert bool(warning) == warned, warning


def test_dress_keeps_selections_and_gives_new_ids() -> None:
    ids = iter(f"n{n}" for n in range(100))
    first, asks = dress(STARTERS["one-ink"].look, STARTERS["one-colour-stays"].look, None, lambda: next(ids))
    assert asks == first.selections[0].id != PICK
    second, asks = dress(first, STARTERS["colour-swap"].look, None, lambda: next(ids))
    assert [s.name for s in second.selections] == ["Picked colour", "Picked colour 2"] and asks == second.selections[1].id
    added, _ = dress(first, STARTERS["warm-tint"].look, None, lambda: next(ids), "after")
    assert len(added.passes) == len(first.passes) + 2 and added.passes[:3] == first.passes


def test_keyframes_go_along(client: TestClient, shot: dict) -> None:
    """Put on, added, pasted and saved: the lanes of passes and selections go where these go, and those of what stays stay."""

    def targets(view: dict) -> list[str]:
        look = view["document"]["look"]
        names = {f"passes/{p['id']}": p["name"] for p in look["passes"]} | {f"selections/{s['id']}": s["name"] for s in look["selections"]}
        return sorted(names["/".join(lane["target"].split("/")[:2])] + ":" + lane["target"].rsplit("/", 1)[-1] for lane in look["lanes"])

    def lane(target: str) -> dict:
        return {
            "do": "set",
            "target": "look/lanes/" + target.replace("/", "~1"),
            "value": {"target": target, "keyframes": [{"frame": 0, "value": 10}, {"frame": 9, "value": 60}]},
        }

    one = picked(client, shot).json()
    chosen = one["selection"]
    grey = {**GREY, "value": {**GREY["value"], "selection": chosen, "side": "outside"}}
    paper = {"do": "add", "target": "look/passes", "value": {"id": "t", "name": "Paper", "treatment": "tint"}}
    lanes = [lane("passes/g/amount"), lane("passes/t/amount"), lane(f"selections/{chosen}/cleaning/soften")]
    view = edited(client, one["view"], [grey, paper, *lanes]).json()
    mine = targets(view)
    assert len(mine) == 3
    body = {"shot": shot["shot"]["id"], "revision": view["revision"], "name": "Mine"}
    look, only = (client.post("/api/shelf", json={**body, **more}).json() for more in ({}, {"only": "g"}))
    added = put_on(client, view, only["id"]).json()["view"]
    assert len(targets(added)) == 5  # its own three, and those of the pass and its selection
    again = put_on(client, added, look["id"]).json()["view"]
    names = targets(again)
    assert [n for n in names if n.endswith(":amount")] == ["Monochrome:amount", "Paper:amount"]  # the passes that were there went, with theirs
    assert len([n for n in names if n.endswith(":soften")]) == 3  # selections stay
    pasted = client.post(f"/api/shots/{shot['shot']['id']}/paste", json={"base": again["revision"], "look": only["look"]}).json()["view"]
    assert len([n for n in targets(pasted) if n == "Monochrome:amount"]) == 2


def test_saved_looks_and_passes(client: TestClient, shot: dict) -> None:
    one = picked(client, shot).json()
    grey = {**GREY, "value": {**GREY["value"], "selection": one["selection"], "side": "outside"}}
    view = edited(client, one["view"], [grey, {"do": "add", "target": "look/passes", "value": {"id": "t", "name": "Paper", "treatment": "tint"}}]).json()
    body = {"shot": shot["shot"]["id"], "revision": view["revision"], "name": "Mine"}
    look = client.post("/api/shelf", json=body).json()
    only = client.post("/api/shelf", json={**body, "name": "Just grey", "only": "g"}).json()
    assert client.post("/api/shelf", json={**body, "only": "nope"}).status_code == 422
    assert [s["name"] for s in client.get("/api/shelf").json()] == ["Just grey", "Mine"]
    assert len(only["look"]["passes"]) == 1 and len(only["look"]["selections"]) == 1
    added = put_on(client, view, only["id"]).json()["view"]
    assert [p["treatment"] for p in added["document"]["look"]["passes"]] == ["monochrome", "tint", "monochrome"]
    whole = put_on(client, added, look["id"]).json()["view"]
    assert [p["treatment"] for p in whole["document"]["look"]["passes"]] == ["monochrome", "tint"]
    assert client.patch(f"/api/shelf/{look['id']}", json={"name": "Ours"}).json()["name"] == "Ours"
    assert client.delete(f"/api/shelf/{look['id']}").status_code == 204
    assert [s["name"] for s in client.get("/api/shelf").json()] == ["Just grey"]
    assert client.post(f"/api/shelf/{look['id']}/restore").status_code == 204
    assert len(client.get("/api/shelf").json()) == 2
    assert client.patch("/api/shelf/nothing", json={"name": "x"}).status_code == 404


def test_passes_are_pasted_on_another_shot(client: TestClient, project: str, shot: dict) -> None:
    one = picked(client, shot).json()
    selections = one["view"]["document"]["look"]["selections"]
    copied = {"selections": selections, "passes": [{"id": "g", "name": "Grey", "treatment": "monochrome", "selection": selections[0]["id"], "side": "outside"}]}
    other = client.post(f"/api/footage/{shot['footage']['id']}/shots").json()
    body = {"base": other["head"], "look": copied, "words": "Grey pasted"}
    view = client.post(f"/api/shots/{other['id']}/paste", json=body).json()["view"]
    look = view["document"]["look"]
    assert view["undo"] == "Grey pasted" and look["passes"][0]["selection"] == look["selections"][0]["id"] != selections[0]["id"]
    assert client.post(f"/api/shots/{other['id']}/paste", json={**body, "base": view["revision"], "look": {"passes": 3}}).status_code == 422


NEEDS_A_FILE = {id for id, t in TREATMENTS.items() if any(i.kind == "file" for i in describe(t.params))}


@pytest.mark.parametrize("treatment", list(TREATMENTS))
def test_every_treatment_has_a_thumbnail(together: TestClient, new_shot: dict, treatment: str) -> None:
    client, shot = together, new_shot
    path = f"/api/shots/{shot['shot']['id']}/treatments"
    drawn = jpeg(client.get(f"{path}/{treatment}/{shot['revision']}/3.jpg?upto=0"))
    assert drawn.shape == (132, 176, 3)
    source = jpeg(client.get(f"{path}/exposure/{shot['revision']}/3.jpg?upto=0"))
    unlike = np.abs(drawn.astype(int) - source).mean()
    assert unlike > 0.3 or treatment in NEEDS_A_FILE | {"exposure"}, unlike
    assert client.get(f"{path}/nothing/{shot['revision']}/3.jpg").status_code == 404


def test_of_a_small_selection_a_thumbnail_shows_the_part_where_it_lies(client: TestClient, shot: dict) -> None:
    """A small ellipse in a corner: the part around it fills the thumbnail, and a shape as large as the picture changes nothing."""
    id, facts = shot["shot"]["id"], shot["footage"]["facts"]
    per = 1080 / facts["height"]
    small = [{"x": 12.0, "y": 10.0}, {"x": 28.0, "y": 22.0}]
    large = [{"x": 0.0, "y": 0.0}, {"x": float(facts["width"]), "y": float(facts["height"])}]
    shape = lambda points: {"id": "e", "name": "E", "kind": "rectangle", "mode": "keep", "points": [{"x": p["x"] * per, "y": p["y"] * per} for p in points]}  # noqa: E731
    add = [{"do": "add", "target": "look/selections", "value": {"id": n, "name": n, "shapes": [shape(points)]}} for n, points in (("s", small), ("l", large))]
    view = edited(client, shot, add).json()
    path = f"/api/shots/{id}/treatments/exposure/{view['revision']}/3.jpg"
    whole, part, all_of_it = (client.get(path, params={"upto": 0, **more}) for more in ({}, {"selection": "s"}, {"selection": "l"}))
    assert all_of_it.content == whole.content != part.content and part.headers["etag"] != whole.headers["etag"]
    assert client.get(path, params={"upto": 0, "selection": "s"}, headers={"if-none-match": part.headers["etag"]}).status_code == 304
    picture, height, width = jpeg(whole), 132, 176
    box = picture[
        round(height * 4 / facts["height"]) : round(height * 28 / facts["height"]), round(width * 6 / facts["width"]) : round(width * 34 / facts["width"])
    ]
    assert np.abs(jpeg(part).mean((0, 1)) - box.mean((0, 1))).max() < 40


def test_a_still_of_the_footage_room_is_taken_as_a_picture(client: TestClient, project: str, shot: dict, tmp_path) -> None:  # type: ignore[no-untyped-def]
    Image.fromarray(np.full((40, 60, 3), (200, 40, 30), np.uint8)).save(tmp_path / "poster.png")
    still = send(client, project, tmp_path / "poster.png").json()
    row = client.post(f"/api/files/of/{still['id']}").json()
    assert row["kind"] == "picture" and row["name"] == "poster.png"
    assert client.post(f"/api/files/of/{still['id']}").json()["digest"] == row["digest"] and len(client.get("/api/files").json()) == 1
    refused = client.post(f"/api/files/of/{shot['footage']['id']}")
    assert refused.status_code == 422 and "is no still" in refused.json()["message"]


INVERTED = Lut("Inverted", np.stack(np.meshgrid(*[np.linspace(1, 0, 2)] * 3, indexing="ij")[::-1], axis=-1).astype(np.float32))


def bring(client: TestClient, data: bytes, name: str):
    return client.post("/api/files", params={"name": name}, content=data)


def test_a_lut_is_taken_in_used_and_carried_along(client: TestClient, shot: dict) -> None:
    row = bring(client, write_cube(INVERTED).encode(), "folder/inverted.cube").json()
    assert row["name"] == "inverted.cube" and row["facts"] == {"title": "Inverted", "size": 2, "cube": True}
    assert bring(client, write_cube(INVERTED).encode(), "again.cube").json()["digest"] == row["digest"]
    assert len(client.get("/api/files").json()) == 1
    value = {"id": "l", "name": "LUT", "treatment": "lut", "params": {"lut": row["digest"]}}
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": value}]).json()
    id = shot["shot"]["id"]
    before, after = (png(client.get(f"/api/shots/{id}/pictures/{r}/3.png")) for r in (shot["revision"], view["revision"]))
    assert np.abs(before + after - 255).max() <= 1
    text = client.get(f"/api/shots/{id}/look.json").text
    assert list(json.loads(text)["files"]) == [row["digest"]]
    again = client.put(f"/api/shots/{id}/look", json={"base": view["revision"], "text": text})
    assert again.status_code == 200
    broken = json.loads(text)
    broken["files"][row["digest"]]["data"] = "*"
    assert client.put(f"/api/shots/{id}/look", json={"base": again.json()["revision"], "text": json.dumps(broken)}).status_code == 422


def test_exports_use_the_files_of_their_passes(client: TestClient, shot: dict) -> None:
    row = bring(client, write_cube(INVERTED).encode(), "i.cube").json()
    value = {"id": "l", "name": "LUT", "treatment": "lut", "params": {"lut": row["digest"]}}
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": value}, {"do": "set", "target": "last", "value": 1}]).json()
    made = client.post(f"/api/shots/{shot['shot']['id']}/exports", json={"revision": view["revision"], "name": "x", "options": {"quality": "fine"}}).json()
    project = client.get("/api/projects").json()[0]["id"]
    ended = lambda: [e for e in client.get(f"/api/projects/{project}/exports").json() if e["state"] in ("done", "failed")]  # noqa: E731
    (done,) = wait_for(ended)
    assert done["id"] == made["id"] and done["state"] == "done", done
    data = client.get(f"/api/exports/{made['id']}/file").content
    picture = next(av.open(io.BytesIO(data)).decode(video=0)).to_ndarray(format="rgb24").astype(int)
    source = png(client.get(f"/api/shots/{shot['shot']['id']}/pictures/{shot['revision']}/0.png"))
    assert np.abs(picture + source - 255).mean() < 4


def test_a_picture_is_laid_over(client: TestClient, shot: dict) -> None:
    image = Image.new("RGBA", (20, 20), (0, 255, 0, 255))
    image.paste((0, 0, 0, 0), (0, 0, 20, 10))
    data = io.BytesIO()
    image.save(data, "PNG")
    row = bring(client, data.getvalue(), "sign.png").json()
    assert row["kind"] == "picture" and row["facts"]["width"] == 20
    value = {"id": "o", "name": "Sign", "treatment": "overlay-picture", "params": {"picture": row["digest"], "size": 50}}
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": value}]).json()
    drawn = png(client.get(f"/api/shots/{shot['shot']['id']}/pictures/{view['revision']}/3.png"))
    height, width = drawn.shape[:2]
    assert drawn[int(height * 0.65), width // 2].tolist() == [0, 255, 0]
    source = png(client.get(f"/api/shots/{shot['shot']['id']}/pictures/{shot['revision']}/3.png"))
    assert np.array_equal(drawn[: height // 3], source[: height // 3])  # the transparent half


@pytest.mark.parametrize(
    ("data", "name", "says"),
    [
        (b"", "a.cube", "neither"),
        (b"\xff\xfe\x00", "a.cube", "text"),
        (b"LUT_3D_SIZE 2\n0 0 nan\n", "a.cube", "Line 2"),
        (b"no picture", "a.png", ""),
        (b"x", "a.exe", ".exe"),
        (b"x", "noending", "no ending"),
    ],
)
def test_files_that_cannot_be_used_are_refused(client: TestClient, data: bytes, name: str, says: str) -> None:
    answer = bring(client, data, name)
    assert answer.status_code == 422 and says in answer.json()["message"], answer.text
    assert client.get("/api/files").json() == []


def test_a_missing_file_leaves_the_picture_alone(client: TestClient, shot: dict) -> None:
    values = [
        {"id": "l", "name": "L", "treatment": "lut", "params": {"lut": "gone"}},
        {"id": "o", "name": "O", "treatment": "overlay-picture", "params": {"picture": "gone"}},
    ]
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": v} for v in values]).json()
    id = shot["shot"]["id"]
    before, after = (png(client.get(f"/api/shots/{id}/pictures/{r}/3.png")) for r in (shot["revision"], view["revision"]))
    assert np.array_equal(before, after)


def test_decision_lists_and_gradients_go_through_the_api(client: TestClient) -> None:
    params = {"slope_red": 1.2, "saturation": 0.8}
    written = client.post("/api/decision-lists/write", json={"params": params, "name": "Dusk", "kind": "ccc"})
    assert "attachment" in written.headers["content-disposition"]
    read = client.post("/api/decision-lists/read", json={"text": written.text}).json()
    assert read[0]["id"] == "Dusk" and read[0]["params"]["slope_red"] == 1.2 and read[0]["params"]["saturation"] == 0.8
    assert client.post("/api/decision-lists/read", json={"text": "<a/>"}).status_code == 422
    assert client.post("/api/decision-lists/write", json={"params": {"slope_green": 1, "hue": 3}}).status_code == 422  # found by fuzzing: a fault of the server
    stops = [{"position": 0.0, "colour": "#112233"}, {"position": 100.0, "colour": "#ffffff"}]
    for kind in ("svg", "css"):
        text = client.post("/api/gradients/write", json={"stops": stops, "kind": kind}).text
        assert client.post("/api/gradients/read", json={"text": text}).json() == [{**s, "id": ""} for s in stops]


def test_histogram_of_a_stage(client: TestClient, shot: dict) -> None:
    view = edited(client, shot, [GREY]).json()
    path = f"/api/shots/{shot['shot']['id']}/histogram/{view['revision']}/3"
    source, grey = client.get(path, params={"upto": 0}).json(), client.get(path, params={"upto": 1}).json()
    assert sum(source["luma"]) == pytest.approx(1, abs=1e-3) and source["red"] != source["blue"]
    assert grey["red"] == grey["blue"]


def test_scopes_and_single_passes_over_the_live_channel(client: TestClient, shot: dict) -> None:
    one = picked(client, shot).json()
    add = [{"do": "add", "target": "look/passes", "value": {"id": i, "name": i, "treatment": t}} for i, t in (("a", "monochrome"), ("b", "tint"))]
    view = edited(client, one["view"], add).json()
    with client.websocket_connect(f"/api/shots/{shot['shot']['id']}/live", headers={"host": "127.0.0.1:8610"}) as socket:
        seen = {}
        for scope in ("waveform", "parade", "vectorscope", "histogram"):
            for of in ("result", "source", "inside", "outside"):
                ask = {
                    "kind": "look",
                    "id": 1,
                    "revision": view["revision"],
                    "frame": 3,
                    "width": 160,
                    "scope": scope,
                    "of": of,
                    "selection": one["selection"],
                }
                socket.send_text(json.dumps(ask))
                assert heard(socket)[0]["kind"] == "look"  # the picture goes first
                header, data = heard(socket)
                seen[scope, of] = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
                assert header["kind"] == "scope" and header["scope"] == scope and seen[scope, of].max() > 60
            assert not np.array_equal(seen[scope, "result"], seen[scope, "source"])
            assert not np.array_equal(seen[scope, "inside"], seen[scope, "outside"])
        asked = {"kind": "look", "id": 2, "revision": view["revision"], "frame": 3, "width": 160}
        socket.send_text(json.dumps({**asked, "alone": "a"}))
        _, data = heard(socket)
        alone = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(int)
        assert np.abs(alone[:, :, 0] - alone[:, :, 2]).max() < 6  # grey: the tint is left out
        socket.send_text(json.dumps({**asked, "id": 3, "alone": "zzz"}))
        assert "no pass" in json.loads(socket.receive_text())["message"]
