"""The document, its edits, and its evaluation."""

import json

import numpy as np
import pytest
from pydantic import ValidationError

from wenditas.core.errors import BadLook
from wenditas.core.film import Footage, Shot, render
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, ShotDocument, parse_look, parse_shot
from wenditas.core.look.reference import render_reference
from wenditas.core.look.shown import VIEWS, Shown
from wenditas.core.look.upgrade import SCHEMA
from wenditas.core.tiles import Load, rows_per_tile, single_threaded
from wenditas.core.work.mixing import PLAIN_GREY

PICK = {"colour": [0.8, 0.1, 0.08], "x": 0.5, "y": 0.5, "frame": 3}
SELECTION = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK], "tolerance": 25, "softness": 20}]}


def passes(*items: dict) -> list[dict]:
    return [{"id": f"p{n}", "name": f"P{n}", **item} for n, item in enumerate(items)]


@pytest.fixture
def look() -> Look:
    items = passes(
        {"treatment": "monochrome", "selection": "red", "side": "outside", "amount": 80},
        {"treatment": "saturation", "params": {"saturation": 170}, "selection": "red", "side": "inside"},
        {"treatment": "monochrome", "reads": "source", "amount": 30},
    )
    return parse_look({"selections": [SELECTION], "passes": items})


def test_render_equals_reference(look: Look, random_picture: np.ndarray) -> None:
    for upto in (0, 1, 2, None):
        fast = apply_look(look, random_picture, shown=Shown(upto=upto))
        assert np.abs(fast - render_reference(look, random_picture, upto)).max() < 5e-4  # softness of 20 degrees: hue errors of 1e-4 at low chroma


def test_render_is_pure_whatever_the_workers(look: Look) -> None:
    picture = np.random.default_rng(5).random((3, 300, 401), np.float32)
    once = apply_look(look, picture)
    assert once.tobytes() == apply_look(look, picture).tobytes()
    out = np.empty_like(picture)

    def load(first: int, tile: np.ndarray) -> None:
        tile[:] = picture[:, first : first + tile.shape[1]]

    def store(first: int, tile: np.ndarray) -> None:
        out[:, first : first + tile.shape[1]] = tile

    class Loading:
        def load(self, footage: object, frame: int, size: tuple[int, int]) -> Load:
            return load

        def alpha(self, footage: object, frame: int, size: tuple[int, int]) -> None:
            return None

    node = Shot(of=Footage(content="a", width=401, height=300, fps="24", frames=1), first=0, last=0, look=look)
    with single_threaded():
        render(node, 0, sources=Loading(), store=store)
    assert np.array_equal(out, once)


def test_tiles_are_even_and_cover_the_frame() -> None:
    for width in (1, 16, 853, 1920, 8192, 100_000):
        assert rows_per_tile(width) >= 2 and rows_per_tile(width) % 2 == 0


def test_inside_and_outside_make_everywhere(random_picture: np.ndarray) -> None:
    def result(side: str) -> np.ndarray:
        look = parse_look({"selections": [SELECTION], "passes": passes({"treatment": "monochrome", "selection": "red", "side": side})})
        return apply_look(look, random_picture)

    inside, outside, everywhere = (result(s) - random_picture for s in ("inside", "outside", "everywhere"))
    assert inside + outside == pytest.approx(everywhere, abs=1e-5)


def test_bypassed_and_unknown_passes_change_nothing(random_picture: np.ndarray) -> None:
    look = parse_look({"passes": passes({"treatment": "monochrome", "on": False}, {"treatment": "from-the-future", "params": {"depth": [1, 2]}})})
    assert np.array_equal(apply_look(look, random_picture), random_picture)
    assert look.passes[1].params == {"depth": [1, 2]} and not look.passes[1].known
    assert parse_look(look.model_dump(mode="json")) == look


def test_views(look: Look, random_picture: np.ndarray) -> None:
    matte = apply_look(look, random_picture, shown=Shown(view="matte", selection="red"))
    assert np.array_equal(matte[0], matte[1]) and 0 < matte.mean() < 1
    only = apply_look(look, random_picture, shown=Shown(view="selected", selection="red"))
    assert only == pytest.approx(PLAIN_GREY + (random_picture - PLAIN_GREY) * matte, abs=1e-6)
    assert np.array_equal(apply_look(look, random_picture, shown=Shown(view="source")), random_picture)
    assert not apply_look(look, random_picture, shown=Shown(view="matte")).any()
    with pytest.raises(ValidationError, match="'result', 'source', 'matte', 'selected', 'edge' or 'hatched'"):
        Shown(view="sideways")  # type: ignore[arg-type]
    with pytest.raises(BadLook, match="blue"):
        apply_look(look, random_picture, shown=Shown(view="matte", selection="blue"))
    assert set(VIEWS) == {"result", "source", "matte", "selected", "edge", "hatched"}


def test_edge_and_hatching_are_drawn_over_the_picture(look: Look) -> None:
    picture = np.full((3, 60, 80), 0.3, np.float32)
    picture[:, 20:40, 30:60] = np.array((0.8, 0.1, 0.08), np.float32)[:, None, None]
    edge = apply_look(look, picture, shown=Shown(view="edge", selection="red"))
    assert edge[:, 20, 45].tolist() == [1, 1, 1] and edge[:, 18, 45].tolist() == [0, 0, 0]
    assert np.array_equal(edge[:, 30, 45], picture[:, 30, 45]) and np.array_equal(edge[:, 5, 5], picture[:, 5, 5])
    [selection] = [s for s in look.selections if s.id == "red"]
    soft = selection.model_copy(update={"cleaning": selection.cleaning.model_copy(update={"soften": 54.0})})  # 3 px of these 60 lines
    softened = apply_look(look.model_copy(update={"selections": (soft,)}), picture, shown=Shown(view="edge", selection="red"))
    ends = [y for y in range(20) if softened[0, y, 45] != picture[0, y, 45] and y < 17]
    assert ends and 11 <= min(ends) <= 16, "a softened edge is drawn where it ends too, about two deviations out"
    hatched = apply_look(look, picture, shown=Shown(view="hatched", selection="red"))
    assert np.ptp(hatched[0, 25:35, 35:55]) > 0.3 and np.array_equal(hatched[:, :15], picture[:, :15])
    for view in ("edge", "hatched"):
        assert np.array_equal(apply_look(look, picture, shown=Shown(view=view)), picture)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ([], "JSON object"),
        ({"schema_version": SCHEMA + 1}, "newer Wenditas"),
        ({"schema_version": "1"}, "whole number"),
        ({"passes": [{"id": "a", "name": "a", "treatment": "monochrome", "selection": "x", "side": "inside"}]}, "'x'"),
        ({"passes": [{"id": "a", "name": "a", "treatment": "monochrome", "side": "inside"}]}, "names no selection"),
        ({"passes": passes({"treatment": "monochrome", "amount": 101})}, "passes/0/amount"),
        ({"passes": passes({"treatment": "monochrome", "amount": float("nan")})}, "amount"),
        ({"passes": passes({"treatment": "monochrome"}) * 2}, "id 'p0'"),
        ({"selections": [SELECTION, SELECTION]}, "id 'red'"),
        ({"surprise": 1}, "surprise"),
        ({"selections": [{**SELECTION, "keys": [{"type": "hue", "picks": [{**PICK, "x": 2}]}]}]}, "x"),
    ],
)
def test_bad_looks_say_why(data: object, says: str) -> None:
    with pytest.raises(BadLook, match=says):
        parse_look(data)


@pytest.mark.parametrize(("first", "last"), [(5, 4), (0, 10), (-1, 3)])
def test_in_and_out_stay_within_the_footage(first: int, last: int) -> None:
    with pytest.raises(BadLook):
        parse_shot({"first": first, "last": last, "look": {}}, 10)


def test_documents_survive_json(look: Look) -> None:
    text = json.dumps(ShotDocument(first=1, last=8, look=look).model_dump(mode="json"))
    assert parse_shot(json.loads(text), 9).look == look
