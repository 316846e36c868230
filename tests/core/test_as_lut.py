"""Looks as LUTs: what is pointwise is in them to the last bit that a LUT can hold, the rest is left out and said."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wenditas.core.look.apply import apply_look
from wenditas.core.look.as_lut import as_lut, lattice, loss
from wenditas.core.look.document import Look, parse_look
from wenditas.core.tone.lut import apply_lut
from wenditas.core.treat import TREATMENTS


def picture() -> np.ndarray:
    rng = np.random.default_rng(8)
    return rng.random((3, 40, 60)).astype(np.float32)


def of(*passes: dict, **more: object) -> Look:
    return parse_look({"passes": [{"id": f"p{n}", "name": p["treatment"], **p} for n, p in enumerate(passes)], **more})


def test_a_pointwise_look_is_whole_in_a_lut() -> None:
    look = of({"treatment": "exposure", "params": {"stops": 0.5}}, {"treatment": "saturation", "params": {"saturation": 60}})
    lut, left = as_lut(look, 0, 24, 33, "Look")
    assert left == [] and lut.size == 33 and lut.title == "Look"
    result = apply_look(look, picture())
    found = loss(lut, picture(), result)
    assert found.mean < 0.3 and np.abs(apply_lut(picture(), lut) - result).mean() < 0.01
    assert np.allclose(apply_lut(lattice(17), lut), apply_look(look, lattice(17)), atol=1e-4)  # at its own samples exactly


@settings(max_examples=12, deadline=None)
@given(st.floats(-2, 2), st.sampled_from([17, 33]))
def test_samples_of_the_lut_are_what_the_look_makes_of_them(stops: float, size: int) -> None:
    look = of({"treatment": "exposure", "params": {"stops": stops}})
    lut, _ = as_lut(look, 0, 24, size, "L")
    assert np.allclose(np.moveaxis(lut.table.reshape(-1, 3), -1, 0), apply_look(look, lattice(size)).reshape(3, -1))


@pytest.mark.parametrize("id", sorted(TREATMENTS))
def test_every_treatment_is_in_or_left_out_with_a_reason(id: str) -> None:
    """What is taken in does to shuffled colours what it does to the picture; what is left out says why."""
    treatment = TREATMENTS[id]
    look = of({"treatment": id, "params": dict(treatment.example)})
    lut, left = as_lut(look, 0, 24, 17, "L")
    if left:
        assert left[0].why and np.allclose(lut.table, as_lut(Look(), 0, 24, 17, "L")[0].table)
        return
    result = apply_look(look, picture())
    shuffled = np.ascontiguousarray(picture()[:, ::-1])
    assert np.abs(apply_look(look, shuffled)[:, ::-1] - result).max() < 5e-3


def test_selections_by_colour_alone_are_in_and_others_are_not() -> None:
    key = {"type": "lightness", "low": 0, "high": 50}
    box = {"id": "b", "name": "Box", "kind": "rectangle", "points": [{"x": 0, "y": 0}, {"x": 500, "y": 500}]}
    inside = {"treatment": "monochrome", "selection": "s", "side": "inside"}
    plain = of(inside, selections=[{"id": "s", "name": "Dark", "keys": [key]}])
    lut, left = as_lut(plain, 0, 24, 33, "L")
    assert [(x.name, x.why) for x in left] in ([], [("Dark", "its matte is not cleaned")])
    shown = apply_lut(lattice(5), lut)
    assert np.abs(shown[0] - shown[2])[lattice(5).max(axis=0) < 0.2].max() < 1e-3 and np.abs(shown[0] - shown[2]).max() > 0.9
    fenced = of(inside, selections=[{"id": "s", "name": "Dark", "keys": [key], "shapes": [box]}])
    assert "has shapes" in as_lut(fenced, 0, 24, 17, "L")[1][0].why
    bundle = {"id": "g", "name": "Group", "selection": "s", "side": "inside"}
    held = of({"treatment": "monochrome", "bundle": "g"}, bundles=[bundle], selections=[{"id": "s", "name": "Dark", "keys": [key], "shapes": [box]}])
    assert "has shapes" in as_lut(held, 0, 24, 17, "L")[1][0].why


def test_animated_values_are_those_of_the_frame() -> None:
    lane = {"target": "passes/p0/amount", "keyframes": [{"frame": 0, "value": 0, "how": "linear"}, {"frame": 10, "value": 100}]}
    look = of({"treatment": "invert"} if "invert" in TREATMENTS else {"treatment": "monochrome"}, lanes=[lane])
    first, told = as_lut(look, 0, 24, 17, "L")
    last, _ = as_lut(look, 10, 24, 17, "L")
    assert told[0].why == "values are those of frame 0" and np.allclose(first.table, as_lut(Look(), 0, 24, 17, "L")[0].table)
    assert not np.allclose(first.table, last.table)
