"""A reel of 200 items: opened, told to the page, named frame by frame, seen."""

import json
import time
from pathlib import Path

from fastapi.testclient import TestClient

from bench.timing import at_most
from wenditas.api.app import create_app

ITEMS, EVERY_JOIN, EVERY_SPAN = 200, 3, 10
BASE = "http://127.0.0.1:8610"


def document(shots: list[dict], count: int) -> dict:
    """So many items of the demo's shots, every third with a dissolve after it, a span over every tenth."""
    items = [{"id": f"i{n}", "shot": shots[n % len(shots)]["id"], "first": 8, "last": 80 + n % 7} for n in range(count)]
    transitions = [{"id": f"j{n}", "after": f"i{n}", "frames": 16} for n in range(0, count - 1, EVERY_JOIN)]
    tint = {"passes": [{"id": "p", "name": "Tint", "treatment": "tint"}]}
    spans = [
        {"id": f"s{n}", "name": "Tint", "start": {"item": f"i{n}", "frame": 20}, "end": {"item": f"i{n + 2}", "frame": 40}, "look": tint, "amount": 60}
        for n in range(0, count - 3, EVERY_SPAN)
    ]
    return {"items": items, "transitions": transitions, "spans": spans, "track": None}


def measure(folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    data, count = folder / "reel", at_most(ITEMS, 12)
    with TestClient(create_app(data), base_url=BASE) as client:
        project = client.post("/api/projects/demo").json()["id"]
        shots = client.get(f"/api/projects/{project}").json()["shots"]
        view = client.get(f"/api/projects/{project}/reel").json()
        commands = [{"do": "set", "target": key, "value": value} for key, value in document(shots, count).items()]
        answer = client.post(f"/api/reels/{view['reel_id']}/edits", json={"base": view["revision"], "commands": commands, "words": "Many"})
        assert answer.status_code == 200, answer.text
    with TestClient(create_app(data), base_url=BASE) as client:  # as it is opened after a start
        started = time.perf_counter()
        view = client.get(f"/api/projects/{project}/reel").json()
        told = time.perf_counter() - started
        path = f"/api/reels/{view['reel_id']}"
        started = time.perf_counter()
        assert client.get(f"{path}/pictures/{view['revision']}/{view['length'] // 2}.jpg?width=960").status_code == 200
        seen = time.perf_counter() - started
        started = time.perf_counter()
        move = {"base": view["revision"], "commands": [{"do": "move", "target": f"items/i{count // 2}", "before": "i2"}], "words": "Moved"}
        assert client.post(f"{path}/edits", json=move).status_code == 200
        moved = time.perf_counter() - started
    size = len(json.dumps(view)) / 1e6
    minutes = view["length"] / 24 / 60
    return [
        (f"a reel of {count} items, {minutes:.0f} minutes: opened; its first picture", f"{told:.2f} s, {size:.1f} MB; {seen:.2f} s (target ≤ 2 s together)"),
        ("… an item moved, stored and told again", f"{moved * 1000:.0f} ms"),
    ]
