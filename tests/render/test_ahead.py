"""Rendering ahead: what is missing, in the order in which it will be played."""

from pathlib import Path

import pytest

from tests.media.clips import make_clip
from tests.rendering import request as request_of
from wenditas.core.look.document import parse_look
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.render import ahead as module
from wenditas.render.ahead import Played, stretches
from wenditas.render.pictures import Pictures
from wenditas.render.quiet import Bustle
from wenditas.render.request import Request
from wenditas.render.scopes import Scopes
from wenditas.store import projects
from wenditas.store.database import Database

LOOK = parse_look({"passes": [{"id": "a", "name": "A", "treatment": "saturation", "params": {"saturation": 30}}]})


@pytest.fixture
def opened(tmp_path: Path) -> tuple[Scopes, Request]:
    library = Library(tmp_path, Database(tmp_path / "w.db"))
    row = Arrivals(library).copy_in(projects.add_project(library.db, "P").id, make_clip(tmp_path / "c.mp4"), "c.mp4")
    return Scopes(Pictures(library)), request_of(library, row.id, LOOK, 0, 160)


def played(request: Request, **more: object) -> Played:
    values = {"first": 2, "last": 20, "frame": 10, **more}
    return Played(lambda n: request.but(frame=n), **values)  # type: ignore[arg-type]


def test_frames_are_rendered_from_the_playhead_on_then_from_the_in(opened: tuple[Scopes, Request]) -> None:
    scopes, request = opened
    view, order = played(request), []
    for frame in view.missing(scopes, 24):
        view.render(scopes, frame)
        order.append(frame)
    assert order == [*range(10, 21), *range(2, 10)]
    assert view.ready(scopes) == [(2, 20)] and view.ready_at(scopes, 2) and not view.ready_at(scopes, 1)
    jpeg = scopes.shown(request.but(frame=12), "play")[0]
    assert jpeg == Scopes(Pictures(scopes._pictures.media)).shown(request.but(frame=12), "play")[0]  # the same bytes as without rendering ahead


def test_no_further_than_some_seconds(opened: tuple[Scopes, Request], monkeypatch: pytest.MonkeyPatch) -> None:
    scopes, request = opened
    monkeypatch.setattr(module, "SECONDS", 0.25)
    view, order = played(request), []
    for frame in view.missing(scopes, 24):
        view.render(scopes, frame)
        order.append(frame)
    assert order == [10, 11, 12, 13, 14, 15]
    assert view.ready(scopes) == [(10, 15)]


def test_scopes_come_with_every_nth_frame(opened: tuple[Scopes, Request]) -> None:
    scopes, request = opened
    with_scopes = played(request, scope="waveform", every=2)
    for n in range(2, 21):
        scopes.shown(request.but(frame=n), "play")
    assert with_scopes.ready(scopes) == [(n, n) for n in range(3, 21, 2)]  # even frames lack their scope
    with_scopes.render(scopes, 4)
    assert with_scopes.ready(scopes)[0] == (3, 5)
    assert scopes.ready(request.but(frame=4), "waveform") and not scopes.ready(request.but(frame=4), "histogram")


def test_an_edit_leaves_only_what_it_does_not_change(opened: tuple[Scopes, Request]) -> None:
    scopes, request = opened
    keyframes = [{"frame": 0, "value": 100, "how": "hold"}, {"frame": 12, "value": 40, "how": "hold"}]
    before = parse_look({**LOOK.model_dump(mode="json"), "lanes": [{"target": "passes/a/amount", "keyframes": keyframes}]})
    after = parse_look({**before.model_dump(mode="json"), "lanes": [{"target": "passes/a/amount", "keyframes": [keyframes[0], {**keyframes[1], "value": 70}]}]})
    view = played(request.but(node=request.node.model_copy(update={"look": before})))
    for frame in view.missing(scopes, 24):
        view.render(scopes, frame)
    assert played(request.but(node=request.node.model_copy(update={"look": after}))).ready(scopes) == [(2, 11)]


def test_long_footage_is_looked_at_every_nth_frame(opened: tuple[Scopes, Request], monkeypatch: pytest.MonkeyPatch) -> None:
    scopes, request = opened
    monkeypatch.setattr(module, "MOST_LOOKED_AT", 6)
    for n in (2, 5, 8, 11):
        scopes.shown(request.but(frame=n), "play")
    assert played(request).ready(scopes) == [(2, 13)]  # every third frame stands for three
    assert stretches([0, 3, 9], 3, 10) == [(0, 5), (9, 10)] and stretches([], 1, 5) == []


def test_bustle_knows_when_it_is_quiet(monkeypatch: pytest.MonkeyPatch) -> None:
    now = [100.0]
    monkeypatch.setattr("wenditas.render.quiet.time.monotonic", lambda: now[0])
    bustle = Bustle()
    with bustle.working():
        now[0] += 5
        with bustle.working():
            pass
        assert bustle.quiet_for() == 0
    now[0] += 2
    assert bustle.quiet_for() == 2


def test_others_give_way_while_something_is_worked_on_but_not_for_ever(monkeypatch: pytest.MonkeyPatch) -> None:
    now, slept = [50.0], []
    monkeypatch.setattr("wenditas.render.quiet.time.monotonic", lambda: now[0])
    monkeypatch.setattr("wenditas.render.quiet.time.sleep", lambda s: (slept.append(s), now.__setitem__(0, now[0] + s)))
    bustle = Bustle()
    bustle.give_way()
    assert not slept
    with bustle.working():
        bustle.give_way(0.1)
    assert sum(slept) == pytest.approx(0.1, abs=0.01)
