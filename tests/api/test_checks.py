"""Checks by their doors: the list, a shot as lines, a frame, where on the picture, the fix as an edit."""

import json

import cv2
import numpy as np
from fastapi.testclient import TestClient


def edited(client: TestClient, view: dict, commands: list, words: str = "E") -> dict:
    answer = client.post(f"/api/shots/{view['shot']['id']}/edits", json={"base": view["revision"], "commands": commands, "words": words})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_found_shown_and_mended(client: TestClient, shot: dict) -> None:
    listed = client.get("/api/checks").json()
    assert len(listed) == 10 and all(c["source"] and c["fixes"] for c in listed)
    bright = {"id": "e", "name": "E", "treatment": "exposure", "params": {"stops": 1.2}}
    view = edited(client, shot, [{"do": "add", "target": "look/passes", "value": bright}])
    base = f"/api/shots/{shot['shot']['id']}/checks"
    quiet = [json.loads(line) for line in client.get(f"{base}/{shot['revision']}").text.splitlines()]
    assert quiet[-1]["done"] == quiet[-1]["total"] == 24 and quiet[-1]["marks"] == []
    lines = [json.loads(line) for line in client.get(f"{base}/{view['revision']}").text.splitlines()]
    mark = next(m for m in lines[-1]["marks"] if m["check"] == "clipping")
    assert (mark["first"], mark["last"]) == (0, 23) and mark["fix"] and mark["unit"] == "% of the frame"
    assert [m["check"] for m in client.get(f"{base}/{view['revision']}/{mark['frame']}").json()].count("clipping") == 1
    image = client.get(f"{base}/{view['revision']}/{mark['frame']}/clipping.png")
    picture = cv2.imdecode(np.frombuffer(image.content, np.uint8), cv2.IMREAD_UNCHANGED)
    assert picture.shape[2] == 4 and 0 < (picture[:, :, 3] > 100).mean() < 1
    banded = [client.get(f"{base}/{revision}/0/banding.png").status_code for revision in (shot["revision"], view["revision"])]
    assert banded == [404, 404]  # steps of one value of the clean ramp become steps of two, which nobody sees
    fixed = edited(client, view, mark["commands"], mark["fix"])
    after = [json.loads(line) for line in client.get(f"{base}/{fixed['revision']}").text.splitlines()][-1]["marks"]
    assert not [m for m in after if m["check"] == "clipping" and "full" in m["words"]]
    back = client.post(f"/api/shots/{shot['shot']['id']}/undo", json={"base": fixed["revision"]}).json()
    assert back["document"]["look"] == view["document"]["look"]
