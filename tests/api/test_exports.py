"""Export jobs: progress, cancel, restart, crash."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import BASE, edited, send, wait_for
from tests.media.clips import make_clip, read_independently
from wenditas.api.app import create_app


def start(client: TestClient, view: dict, **more: object) -> dict:
    answer = client.post(f"/api/shots/{view['shot']['id']}/exports", json={"revision": view["revision"], **more})
    assert answer.status_code == 200, answer.text
    return answer.json()


def exports(client: TestClient, project: str) -> list[dict]:
    return client.get(f"/api/projects/{project}/exports").json()


def test_export_from_start_to_file(client: TestClient, project: str, shot: dict, tmp_path: Path) -> None:
    made = start(client, shot, name="First try")
    done = wait_for(lambda: next((e for e in exports(client, project) if e["state"] == "done"), None))
    assert done["id"] == made["id"] and done["done"] == done["total"] == 24
    answer = client.get(f"/api/exports/{made['id']}/file")
    assert answer.headers["content-type"] == "video/mp4" and len(answer.content) == done["bytes"]
    assert "First%20try.mp4" in answer.headers["content-disposition"] or "First try.mp4" in answer.headers["content-disposition"]
    (tmp_path / "got.mp4").write_bytes(answer.content)
    assert len(read_independently(tmp_path / "got.mp4")[0]) == 24
    assert client.post(f"/api/exports/{made['id']}/cancel").status_code == 409
    assert client.post(f"/api/exports/{made['id']}/restart").status_code == 409
    assert client.delete(f"/api/exports/{made['id']}").status_code == 204
    assert exports(client, project) == [] and not list((tmp_path / "data" / "exports").iterdir())


def test_a_name_may_be_a_pattern(client: TestClient, shot: dict) -> None:
    called, facts = shot["shot"]["name"], shot["footage"]["facts"]
    assert start(client, shot, name="{shot}: {size} {look}")["name"] == f"{called} {facts['width']}x{facts['height']} own look"
    assert start(client, shot)["name"] == called
    answer = client.post(f"/api/shots/{shot['shot']['id']}/exports", json={"revision": shot["revision"], "name": "{shot} {weather}"})
    assert answer.status_code == 422 and "{weather}" in answer.json()["message"]


@pytest.fixture(scope="module")
def long_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return make_clip(tmp_path_factory.mktemp("long") / "long.mp4", width=480, height=270, count=160)


@pytest.fixture
def long_shot(client: TestClient, project: str, long_clip: Path) -> dict:
    footage = send(client, project, long_clip).json()
    made = client.post(f"/api/footage/{footage['id']}/shots").json()
    return client.get(f"/api/shots/{made['id']}").json()


def test_cancel_running_and_waiting_then_start_again(client: TestClient, project: str, long_shot: dict, tmp_path: Path) -> None:
    first, second = start(client, long_shot), start(client, long_shot)
    wait_for(lambda: next(e for e in exports(client, project) if e["id"] == first["id"])["done"] > 0)
    assert client.post(f"/api/exports/{second['id']}/cancel").json()["state"] == "cancelled"
    client.post(f"/api/exports/{first['id']}/cancel")
    wait_for(lambda: all(e["state"] == "cancelled" for e in exports(client, project)))
    assert not list((tmp_path / "data" / "exports").iterdir())
    assert client.get(f"/api/exports/{first['id']}/file").status_code == 404
    client.post(f"/api/exports/{second['id']}/restart")
    wait_for(lambda: next(e for e in exports(client, project) if e["id"] == second["id"])["state"] == "done")


@pytest.mark.long(found_by="tests/faults/test_exports_go_on.py: a worker whose server is gone stops, and goes on at the next start")
def test_a_stop_in_the_middle_goes_on_at_the_next_start(client: TestClient, project: str, long_shot: dict, tmp_path: Path) -> None:
    for _ in range(2):  # the first is at work, the other waits
        start(client, long_shot)
    wait_for(lambda: any(e["done"] for e in exports(client, project)))
    client.__exit__(None, None, None)
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as again:
        wait_for(lambda: all(e["state"] == "done" for e in exports(again, project)))
        assert len({e["digest"] for e in exports(again, project)}) == 1
    client.__enter__()


def test_formats_presets_pictures_and_what_was_read_back(client: TestClient, project: str, shot: dict, tmp_path: Path) -> None:
    told = {f["id"]: f for f in client.get("/api/formats").json()}
    assert told["h264"]["sound"] and not told["h264"]["alpha"] and told["vp9"]["alpha"] and all(f["joined"] for f in told.values())
    options = {"format": "prores-422-hq", "width": 64}
    kept = client.post("/api/exports/presets", json={"name": "To edit on with", "options": options}).json()
    again = client.post("/api/exports/presets", json={"name": "To edit on with", "options": {**options, "width": 160}}).json()
    assert again["id"] == kept["id"] and [p["options"]["width"] for p in client.get("/api/exports/presets").json()] == [160]
    made = start(client, shot, options=again["options"])
    done = wait_for(lambda: next((e for e in exports(client, project) if e["id"] == made["id"] and e["state"] == "done"), None))
    assert done["format_name"] == "ProRes 422 HQ" and "24 frames" in done["message"] and "tagged BT.709" in done["message"] and len(done["digest"]) == 64
    assert Path(done["path"]).read_bytes() == client.get(f"/api/exports/{made['id']}/file").content
    picture = client.get(f"/api/exports/{made['id']}/picture.jpg")
    assert picture.status_code == 200 and picture.content[:2] == b"\xff\xd8"
    assert client.delete(f"/api/exports/presets/{kept['id']}").status_code == 204 and client.get("/api/exports/presets").json() == []
    for wrong in (
        {"format": "film"},
        {"format": "h264", "shows": "alpha", "selection": "s"},
        {"format": "h264", "fps": 12},
        {"format": "h264", "folder": True},
    ):
        assert client.post(f"/api/shots/{shot['shot']['id']}/exports", json={"revision": shot["revision"], "options": wrong}).status_code == 422, wrong
    folder = start(client, shot, options={"format": "png-8", "folder": True})
    done = wait_for(lambda: next((e for e in exports(client, project) if e["id"] == folder["id"] and e["state"] == "done"), None))
    assert done["folder"] and len(list(Path(done["path"]).iterdir())) == 24
    assert "folder" in client.get(f"/api/exports/{folder['id']}/file").json()["message"]
    assert client.delete(f"/api/exports/{folder['id']}").status_code == 204 and not Path(done["path"]).exists()


def test_bad_options(client: TestClient, shot: dict) -> None:
    body = {"revision": shot["revision"], "options": {"quality": "best ever"}}
    assert client.post(f"/api/shots/{shot['shot']['id']}/exports", json=body).json()["kind"] == "BadRequest"


@pytest.mark.parametrize("quality", [pytest.param("fine", marks=pytest.mark.long(found_by="the same of small")), "small"])
def test_an_estimate_is_near_what_comes_out_and_leaves_nothing(client: TestClient, project: str, long_shot: dict, tmp_path: Path, quality: str) -> None:
    asked = {"revision": long_shot["revision"], "options": {"quality": quality}}
    told = client.post(f"/api/shots/{long_shot['shot']['id']}/exports/estimate", json=asked)
    assert told.status_code == 200, told.text
    estimate = told.json()
    assert not list((tmp_path / "data" / "cache").glob("estimate-*"))
    start(client, long_shot, **{k: v for k, v in asked.items() if k == "options"})
    row = wait_for(lambda: next((e for e in exports(client, project) if e["state"] == "done"), None))
    assert (estimate["frames"], estimate["width"], estimate["height"]) == (row["total"], 480, 270)
    assert row["bytes"] / 2 < estimate["bytes"] < row["bytes"] * 2
    assert estimate["seconds"] > 0


def test_an_estimate_of_what_cannot_be_exported_says_so(client: TestClient, shot: dict) -> None:
    url = f"/api/shots/{shot['shot']['id']}/exports/estimate"
    assert client.post(url, json={"revision": shot["revision"], "options": {"kind": "matte"}}).status_code in (400, 404, 422)
    assert client.post(url, json={"revision": 9999}).status_code == 404


def state_of(client: TestClient, project: str, id: str) -> dict:
    return next(e for e in exports(client, project) if e["id"] == id)


def shot_of(client: TestClient, footage_id: str) -> dict:
    made = client.post(f"/api/footage/{footage_id}/shots").json()
    return client.get(f"/api/shots/{made['id']}").json()


def media_of(tmp_path: Path, view: dict) -> Path:
    return next((tmp_path / "data" / "media").glob(f"{view['shot']['footage_id']}.mp4"))


def test_what_is_not_there_is_not_asked_for_in_vain(client: TestClient, shot: dict, tmp_path: Path) -> None:
    media_of(tmp_path, shot).unlink()
    answer = client.post(f"/api/shots/{shot['shot']['id']}/exports", json={"revision": shot["revision"]})
    assert answer.status_code == 404 and "missing from the data folder" in answer.json()["message"]


def test_footage_that_is_replaced_under_a_waiting_export(client: TestClient, project: str, long_shot: dict, shot: dict, tmp_path: Path) -> None:
    """The new film does not come into the old one's segments: the export says so and stops."""
    first, second = start(client, long_shot), start(client, shot)
    wait_for(lambda: state_of(client, project, first["id"])["done"] > 0)
    client.post(f"/api/exports/{first['id']}/pause")
    client.post(f"/api/exports/{second['id']}/cancel")
    lying = media_of(tmp_path, long_shot)
    make_clip(lying, width=480, height=270, count=300, full_range=True)
    wait_for(lambda: state_of(client, project, first["id"])["state"] == "paused")
    client.post(f"/api/exports/{first['id']}/go-on")
    failed = wait_for(lambda: (e := state_of(client, project, first["id"]))["state"] == "failed" and e)
    assert "is another than was taken in" in failed["message"]
    assert client.get(f"/api/projects/{project}").status_code == 200


@pytest.mark.long(found_by="tests/api/test_reel.py: an export shows the shots as they stood; footage replaced under a waiting export, beside")
def test_a_waiting_export_keeps_the_shots_that_are_laid_in(client: TestClient, project: str, long_shot: dict, shot: dict) -> None:
    """Later edits of a shot that is laid in are not taken along."""
    lays = {"id": "l", "name": "l", "treatment": "shot-laid-in", "params": {"shot": shot["shot"]["id"], "size": 50}}
    outer = shot_of(client, shot["shot"]["footage_id"])
    outer = edited(client, outer, [{"do": "add", "target": "look/passes", "value": lays}]).json()
    before = start(client, outer)
    wait_for(lambda: state_of(client, project, before["id"])["state"] == "done")
    blocking = start(client, long_shot)
    waiting = start(client, outer)
    grey = {"do": "add", "target": "look/passes", "value": {"id": "g", "name": "g", "treatment": "monochrome"}}
    assert edited(client, shot, [grey]).status_code == 200
    client.post(f"/api/exports/{blocking['id']}/cancel")
    wait_for(lambda: state_of(client, project, waiting["id"])["state"] == "done")
    assert state_of(client, project, waiting["id"])["digest"] == state_of(client, project, before["id"])["digest"]
    later = start(client, outer)
    wait_for(lambda: state_of(client, project, later["id"])["state"] == "done")
    assert state_of(client, project, later["id"])["digest"] != state_of(client, project, before["id"])["digest"]


def test_a_damaged_index_is_made_anew(client: TestClient, project: str, shot: dict, tmp_path: Path) -> None:
    index = next((tmp_path / "data" / "media").glob("*.index.npz"))
    index.write_bytes(b"garbage")
    made = start(client, shot)
    assert wait_for(lambda: state_of(client, project, made["id"])["state"] in ("done", "failed")) and state_of(client, project, made["id"])["state"] == "done"


def test_footage_whose_title_is_no_utf8_is_exported_with_its_sound(client: TestClient, project: str, tmp_path: Path) -> None:
    from tests.media.clips import sound_of, with_latin_title

    path = with_latin_title(make_clip(tmp_path / "t.mp4", count=24, sound="aac"), tmp_path / "u.mkv")
    footage = send(client, project, path).json()
    view = shot_of(client, footage["id"])
    made = start(client, view)
    wait_for(lambda: state_of(client, project, made["id"])["state"] in ("done", "failed"))
    assert state_of(client, project, made["id"])["state"] == "done", state_of(client, project, made["id"])["message"]
    (tmp_path / "got.mp4").write_bytes(client.get(f"/api/exports/{made['id']}/file").content)
    assert abs(sound_of(tmp_path / "got.mp4")[0]).max() > 0.2


def test_footage_that_is_read_otherwise_under_a_waiting_export(client: TestClient, project: str, long_shot: dict, shot: dict) -> None:
    """What an export is made of is pinned when it is asked for; where it cannot be had any more, it stops with a sentence."""
    blocking, waiting = start(client, long_shot), start(client, shot)
    piece = shot["shot"]["footage_id"]
    assert client.put(f"/api/projects/{project}/readings", json={"readings": {piece: {"way": "hlg"}}}).status_code < 300
    client.post(f"/api/exports/{blocking['id']}/cancel")
    failed = wait_for(lambda: (e := state_of(client, project, waiting["id"]))["state"] in ("failed", "done") and e)
    assert failed["state"] == "failed" and "not what it was when you asked for it" in failed["message"]


def test_what_nobody_expected_is_said_and_not_tried_again(tmp_path: Path) -> None:
    """A fault within the process of an export, caused by a job that is none: one sentence for the queue, the rest for the log."""
    import json
    import subprocess
    import sys

    (tmp_path / "job.json").write_text("{}")
    done = subprocess.run([sys.executable, "-m", "wenditas.render.worker", str(tmp_path / "job.json")], capture_output=True, text=True, timeout=120)
    told = json.loads(done.stdout.splitlines()[-1])
    assert done.returncode == 1 and "did not expect" in told["failed"] and "Traceback" in done.stderr
