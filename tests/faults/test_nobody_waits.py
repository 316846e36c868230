"""Work that nobody waits for ends, and does not keep others from theirs."""

import json
import sys
import threading

import httpx
import pytest
from websockets.sync.client import connect

from tests.api.conftest import wait_for
from tests.faults.conftest import Inside

SLOW = {"id": "t", "name": "T", "treatment": "trails", "params": {"copies": 12, "spacing": 3}}
HEAVY = [{"id": f"h{n}", "name": "H", "treatment": "pixel-sort"} for n in range(6)]
KEY = {"id": "s", "name": "S", "keys": [{"type": "hue", "picks": [{"colour": [0.8, 0.15, 0.1], "x": 0.5, "y": 0.5, "frame": 0}]}]}
BOX = {"id": "f", "name": "F", "kind": "rectangle", "points": [{"x": 480, "y": 270}, {"x": 960, "y": 540}]}


@pytest.fixture
def busy(inside: Inside, long_clip) -> dict:  # type: ignore[no-untyped-def]
    view = inside.shot(long_clip)
    steady = {**KEY, "shapes": [BOX], "cleaning": {"steady": 3, "soften": 6, "choke": 2}}
    return inside.edited(view, [{"do": "add", "target": "look/selections", "value": steady}])


def idle(inside: Inside) -> bool:
    return inside.services.background.bustle.quiet_for() > 0 and not threads(inside, "long", working=True)


def threads(inside: Inside, prefix: str, working: bool = False) -> list[threading.Thread]:
    return [t for t in threading.enumerate() if t.name.startswith(prefix) and not (working and _rests(t))]


def _rests(thread: threading.Thread) -> bool:
    """Whether a thread of a pool waits for its next task."""
    frame = sys._current_frames().get(thread.ident or 0)
    return frame is None or frame.f_code.co_name == "_worker"


@pytest.mark.parametrize("what", ["coverage", pytest.param("track", marks=pytest.mark.long(found_by="the same of coverage: one way of streaming"))])
def test_closing_the_connection_ends_tracks_and_curves(inside: Inside, busy: dict, what: str) -> None:
    id, revision = busy["shot"]["id"], busy["revision"]
    for _ in range(6):  # more than there are threads for them
        call = (
            inside.client.stream("POST", f"/api/shots/{id}/tracks", json={"base": revision, "selection": "s", "shape": "f", "frame": 0, "direction": "forward"})
            if what == "track"
            else inside.client.stream("GET", f"/api/shots/{id}/over-time/{revision}", params={"selection": "s"})
        )
        with call as answer:
            first = json.loads(next(answer.iter_lines()))
            assert first["kind"] in ("progress", "values")
    wait_for(lambda: idle(inside), 20)
    view = inside.client.get(f"/api/shots/{id}").json()
    assert view["revision"] == revision  # a track that was cancelled has stored nothing
    with inside.client.stream("GET", f"/api/shots/{id}/over-time/{revision}", params={"selection": "s"}) as answer:
        last = [json.loads(line) for line in answer.iter_lines()][-1]
    assert last["kind"] == "done"


def test_pages_that_close_leave_no_pictures_computing(inside: Inside, busy: dict) -> None:
    view = inside.edited(busy, [{"do": "add", "target": "look/passes", "value": p} for p in (*HEAVY, SLOW)])
    id, revision = view["shot"]["id"], view["revision"]
    address = f"ws://127.0.0.1:{inside.port}/api/shots/{id}/live"
    for n in range(8):
        with connect(address) as socket:
            socket.send(json.dumps({"kind": "look", "id": n, "revision": revision, "frame": 100 + n}))
            wait_for(lambda: threads(inside, "moving", working=True))
    with connect(address) as socket:
        socket.send(json.dumps({"kind": "look", "id": 99, "revision": revision, "frame": 5, "width": 64, "upto": 0}))
        header = socket.recv(timeout=20)
        assert isinstance(header, bytes)
    wait_for(lambda: not threads(inside, "moving", working=True), 20)


def test_pictures_asked_for_by_pages_that_have_gone_are_given_up(inside: Inside, busy: dict) -> None:
    view = inside.edited(busy, [{"do": "add", "target": "look/passes", "value": p} for p in (*HEAVY, SLOW)])
    path = f"/api/shots/{view['shot']['id']}/pictures/{view['revision']}"
    for n in range(12):
        with pytest.raises(httpx.ReadTimeout):
            httpx.get(f"{inside.url}{path}/{50 + n}.png", timeout=0.2)
    answer = httpx.get(f"{inside.url}{path}/7.png", params={"width": 64, "upto": 0}, timeout=15)
    assert answer.status_code == 200
    wait_for(lambda: inside.services.background.bustle.quiet_for() > 0, 15)


def test_rendering_ahead_ends_with_its_page(inside: Inside, busy: dict) -> None:
    view = inside.edited(busy, [{"do": "add", "target": "look/passes", "value": SLOW}])
    ask = {"kind": "ready", "id": 1, "revision": view["revision"], "first": 0, "last": 239, "frame": 0, "width": 320}
    rendered: list[int] = []
    shown = inside.services.screen.scopes.shown
    inside.services.screen.scopes.shown = lambda request, *more: (rendered.append(request.frame), shown(request, *more))[1]  # type: ignore[method-assign]
    with connect(f"ws://127.0.0.1:{inside.port}/api/shots/{view['shot']['id']}/live") as socket:
        socket.send(json.dumps(ask))
        socket.recv(timeout=20)
        wait_for(lambda: len(rendered) >= 3)
    wait_for(lambda: not threads(inside, "behind", working=True), 15)
    assert len(rendered) < 200
