"""Remembered stages: a moved slider renders only what depends on it, and gives the same bytes."""

import gc
import weakref
from pathlib import Path

import numpy as np
import pytest

from tests.media.clips import make_clip
from tests.rendering import request
from wenditas.core.look.document import Look, parse_look
from wenditas.core.work.schedule import schedule
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.render.pictures import MOST_RESOLVED, Pictures
from wenditas.render.scopes import Scopes
from wenditas.store import projects
from wenditas.store.database import Database

PASSES = [
    {"id": "a", "name": "a", "treatment": "gaussian-blur", "params": {"radius": 20}},
    {"id": "b", "name": "b", "treatment": "curves", "params": {"master": [[0, 0], [40, 60], [100, 100]]}},
    {"id": "c", "name": "c", "treatment": "saturation", "params": {"saturation": 140}, "blend": "soft-light", "amount": 60},
    {"id": "d", "name": "d", "treatment": "glow"},
]


def look(*changes: tuple[int, dict]) -> Look:
    passes = [dict(p) for p in PASSES]
    for n, more in changes:
        passes[n].update(more)
    return parse_look({"passes": passes})


@pytest.fixture
def opened(tmp_path: Path) -> tuple[Pictures, str]:
    library = Library(tmp_path, Database(tmp_path / "w.db"))
    project = projects.add_project(library.db, "P")
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "c.mp4"), "c.mp4")
    return Pictures(library), row.id


def test_a_moved_slider_starts_from_the_stage_before_it(opened: tuple[Pictures, str]) -> None:
    """What is worked out for a moved slider, by the treatments in it: from the second picture on what lies before the slider is at hand."""
    pictures, id = opened

    def worked_out(amount: float) -> list[str]:
        asked = request(pictures.media, id, look((2, {"amount": amount})), 2, 160)
        steps = schedule(pictures.op(asked), pictures._memo.get).steps
        pictures.picture(asked)
        return [op.params.treatment.id for step in steps for op in step.chain if op.kind.name.startswith("treat")]

    everything = ["gaussian-blur", "curves", "saturation", "glow"]
    assert worked_out(60) == everything and worked_out(50) == everything
    assert [worked_out(amount) for amount in (40, 30, 20)] == [["glow"]] * 3


@pytest.mark.parametrize("change", [(0, {"amount": 50}), (1, {"on": False}), (2, {"blend": "screen"}), (3, {"params": {"radius": 5}})])
def test_the_bytes_are_those_of_a_whole_rendering(opened: tuple[Pictures, str], change: tuple[int, dict]) -> None:
    pictures, id = opened
    pictures.picture(request(pictures.media, id, look(), 2, 160))
    stepped = pictures.picture(request(pictures.media, id, look(change), 2, 160))
    fresh = Pictures(pictures.media).picture(request(pictures.media, id, look(change), 2, 160))
    assert stepped.tobytes() == fresh.tobytes()


def test_trails_are_rendered_whole(opened: tuple[Pictures, str]) -> None:
    pictures, id = opened
    trails = (3, {"treatment": "trails", "params": {"copies": 2}})
    pictures.picture(request(pictures.media, id, look(trails), 5, 160))
    moved = look(trails, (2, {"amount": 10}))
    assert (
        pictures.picture(request(pictures.media, id, moved, 5, 160)).tobytes()
        == Pictures(pictures.media).picture(request(pictures.media, id, moved, 5, 160)).tobytes()
    )


def test_scopes_follow_the_picture(opened: tuple[Pictures, str]) -> None:
    pictures, id = opened
    plain, bent = (Scopes(pictures).scope(request(pictures.media, id, shown, 2, 160), "waveform", "result") for shown in (look(), look((1, {"amount": 0}))))
    assert plain != bent and Scopes(pictures).scope(request(pictures.media, id, look(), 2, 160), "waveform", "source") != plain
    shares = Scopes(pictures).histogram(request(pictures.media, id, look(), 2, 160, upto=0))
    assert np.sum(shares["luma"]) == pytest.approx(1, abs=1e-3)


def test_a_moved_slider_leaves_no_nodes_behind(opened: tuple[Pictures, str]) -> None:
    """Each picture of a drag has a node of its own; its name is remembered, the node is not."""
    pictures, id = opened
    nodes = []
    for amount in range(2 * MOST_RESOLVED):
        asked = request(pictures.media, id, look((2, {"amount": amount})), 2, 160)
        assert pictures.key(asked) == pictures.key(asked.but())
        nodes.append(weakref.ref(asked.node))
    del asked
    gc.collect()
    assert sum(node() is not None for node in nodes) <= MOST_RESOLVED


def test_a_matte_is_measured_as_it_is_whatever_the_picture_is_seen_through(opened: tuple[Pictures, str]) -> None:
    """Amplified steps are of the picture on the screen; how much is selected at a pixel is not told through them."""
    pictures, id = opened
    half = {"id": "s", "name": "s", "keys": [{"type": "lightness", "low": 0, "high": 30, "soft_low": 0, "soft_high": 40}]}
    shown = parse_look({"selections": [half]})
    scopes = Scopes(pictures)
    usual = request(pictures.media, id, shown, 2, 160, selection="s")
    places = [(0.1 * n, 0.1 * m) for n in range(1, 10) for m in range(1, 10)]
    plain = [scopes.report(usual, *place)["matte"] for place in places]
    assert any(2 < value < 98 for value in plain)  # type: ignore[operator]
    assert [scopes.report(usual.but(sight="steps"), *place)["matte"] for place in places] == plain
    assert scopes.scope(usual.but(sight="steps"), "histogram", "inside") != scopes.scope(usual, "histogram", "inside")
