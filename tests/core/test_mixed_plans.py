"""Looks that mix passes by pixel, by frame and over time, with selections, blend modes and stages."""

import numpy as np
import pytest

from tests.core.drawn import Drawn, footage
from wenditas.core.colour.blend import blend
from wenditas.core.errors import BadLook
from wenditas.core.film import Memo, Shot, render
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, Pass, alone, parse_look
from wenditas.core.look.reference import render_reference
from wenditas.core.look.shown import Shown
from wenditas.core.select.matte import Moment, selection_matte_reference
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import At

PICK = {"colour": [0.8, 0.1, 0.08], "x": 0.5, "y": 0.5, "frame": 3}
KEYED = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK], "tolerance": 35, "softness": 30}]}
STEPS = (
    {"treatment": "exposure", "params": {"stops": 0.4}},
    {"treatment": "gaussian-blur", "params": {"radius": 60}, "selection": "red", "side": "outside", "amount": 70},
    {"treatment": "tint", "blend": "soft-light", "selection": "red", "side": "inside"},
    {"treatment": "contrast", "params": {"contrast": 120}, "reads": "source", "blend": "overlay", "amount": 35},
    {"treatment": "channel-offset", "params": {"red_x": 90, "blue_y": 60}, "blend": "lighten"},
    {"treatment": "trails", "params": {"copies": 2, "spacing": 3, "combine": "average"}, "amount": 50},
    {"treatment": "vignette"},
)
FRAME = 11


def look(*numbers: int, selections: tuple = (KEYED,)) -> Look:
    return parse_look({"selections": selections, "passes": [{"id": f"p{n}", "name": "p", **STEPS[n]} for n in numbers]})


def frames(number: int) -> np.ndarray:
    y, x = np.mgrid[0:64, 0:90] / 64
    planes = [0.5 + 0.4 * np.sin(4 * x + 3 * y + number / 5), 0.4 + 0.3 * np.cos(5 * y - number / 7), 0.4 + 0.3 * np.sin(6 * x * y + number / 3)]
    return np.stack(planes).astype(np.float32)


def run(shown: Look, upto: int | None = None) -> np.ndarray:
    return apply_look(shown, frames(FRAME), Moment(FRAME, frames), shown=Shown(upto=upto))


def plain(shown: Look) -> np.ndarray:
    """Pass by pass from the references; what a pass reads at other frames is worked out the same way."""
    picture = frames(FRAME)

    def before(item: Pass, n: int) -> tuple[np.ndarray, ...]:
        looks = TREATMENTS[item.treatment].looks(item.settled.params)
        return tuple(render_reference(shown, frames(FRAME + back), n, At(64, 90)) for back in looks)

    running = picture
    for n in range(len(shown.passes)):
        at = At(64, 90, others=before(shown.passes[n], n))
        single = shown.model_copy(update={"passes": (shown.passes[n],)})
        running = _one(single, running, picture, at)
    return running


def _one(single: Look, running: np.ndarray, source: np.ndarray, at: At) -> np.ndarray:
    (item,) = single.passes
    treatment = TREATMENTS[item.treatment]
    treated = treatment.reference(source if item.reads == "source" else running, treatment.params.model_validate(item.params), at)
    amount: np.ndarray | float = item.amount / 100
    if item.selection:
        matte = selection_matte_reference(single.selection(item.selection), source)
        amount = amount * (matte if item.side == "inside" else 1 - matte)
    return (running + (blend(item.blend, running, treated) - running) * amount).astype(np.float32)


@pytest.mark.parametrize("numbers", [(0, 1), (1, 0), (0, 1, 2, 3), (4, 2, 0), (0, 5), (1, 5, 6), (0, 1, 2, 3, 4, 5, 6)])
def test_any_mixture_equals_the_references(numbers: tuple[int, ...]) -> None:
    assert np.abs(run(look(*numbers)) - plain(look(*numbers))).max() < 4e-3  # the wide blur is made on a smaller copy


def test_shapes_and_cleaning_work_between_frame_passes() -> None:
    fence = {"id": "f", "name": "f", "mode": "keep", "kind": "rectangle", "points": [{"x": 0, "y": 0}, {"x": 760, "y": 1080}], "feather_out": 0}
    fenced = {**KEYED, "shapes": [fence], "cleaning": {"soften": 8}}
    shown = look(1, 2, selections=(fenced,))
    out, source = run(shown), frames(FRAME)
    assert np.isfinite(out).all() and np.abs(out - source).max() > 0.01
    left_only = run(look(2, selections=(fenced,)))
    assert np.abs(left_only - source)[:, :, 80:].max() < 1e-5  # the tint stays inside the fence


@pytest.mark.parametrize("stage", [1, 2, 3, 4])
def test_going_on_from_a_stage_gives_the_same_bytes(stage: int) -> None:
    shown = look(0, 1, 2, 3, 4, 6)
    memo, sources = Memo(), Drawn(lambda piece, number: frames(number))
    node = Shot(of=footage(width=90, height=64), first=0, last=39, look=shown)
    render(node, FRAME, shown=Shown(upto=stage), sources=sources, memo=memo)
    assert render(node, FRAME, sources=sources, memo=memo).tobytes() == run(shown).tobytes()


def test_one_pass_alone_reads_the_source() -> None:
    shown = look(0, 1, 4)
    assert np.array_equal(run(alone(shown, "p4")), run(look(4)))
    with pytest.raises(BadLook, match="no pass"):
        alone(shown, "zzz")


def test_without_other_frames_trails_show_this_one() -> None:
    shown = parse_look({"passes": [{"id": "t", "name": "t", "treatment": "trails"}]})
    assert np.array_equal(apply_look(shown, frames(FRAME)), frames(FRAME))
