"""HLG and PQ against colour-science's BT.2100 functions, and the anchor values of the Reports."""

import colour
import numpy as np
import pytest

from wenditas.core.colour.hdr import TO_709, B, C, hlg_light, mapped, pq_light, table
from wenditas.core.tone.lut import Lut, apply_lut
from wenditas.media.reading import Reading, through, tone_mapping


def test_pq_equals_colour_science() -> None:
    signal = np.linspace(0, 1, 257)
    assert np.allclose(pq_light(signal), colour.models.eotf_ST2084(signal), rtol=1e-6, atol=1e-6)


def test_hlg_equals_colour_science() -> None:
    """On a display of 1000 cd/m² with black at 0, whose system gamma is 1.2."""
    signal = np.random.default_rng(1).random((3, 200))
    ours = hlg_light(signal)
    theirs = colour.models.eotf_BT2100_HLG(signal.T, L_B=0, L_W=1000, gamma=1.2).T
    assert np.allclose(ours, theirs, rtol=2e-4, atol=1e-3)
    assert pytest.approx((0.28466892, 0.55991073), abs=1e-7) == (B, C)  # as BT.2100-2 prints them


def test_primaries_equal_colour_science() -> None:
    theirs = colour.matrix_RGB_to_RGB(colour.RGB_COLOURSPACES["ITU-R BT.2020"], colour.RGB_COLOURSPACES["ITU-R BT.709"])
    assert np.abs(theirs - TO_709).max() < 6e-4


def test_anchors_of_the_reports() -> None:
    """BT.2408-7, table 1: reference white, 203 cd/m², is at 75 % HLG and 58 % PQ; grey of 18 % at 38 % both, 26 cd/m²."""
    assert hlg_light([0.75] * 3) == pytest.approx([203] * 3, abs=1) and float(pq_light(0.58)) == pytest.approx(203, abs=2)
    assert hlg_light([0.38] * 3) == pytest.approx([26] * 3, abs=1) and float(pq_light(0.38)) == pytest.approx(26, abs=1)


def test_the_mapping_keeps_order_and_greys_and_meets_its_ends() -> None:
    """BT.2446-1, method A: 1000 cd/m² becomes 100; where its three pieces meet there is no step, which a wrong constant would make."""
    greys = np.tile(np.linspace(0, 1000, 20_001), (3, 1))
    out = mapped(greys)
    assert np.abs(out - out[:1]).max() < 2e-3  # the matrices of the Recommendations are rounded to four digits
    assert out[0, 0] == pytest.approx(0, abs=1e-9) and out[0, -1] == pytest.approx(1, abs=2e-3)
    steps = np.diff(out[0])
    assert steps.min() > 0 and steps[200:].max() < 0.002
    assert np.abs(mapped(np.full((3, 1), 203.0)) - 0.687).max() < 3e-3  # by hand from the Report's formulas
    red = mapped(np.array([400.0, 40, 40])[:, None])[:, 0]
    assert red[0] > red[1] and red[0] > red[2]


@pytest.mark.parametrize("kind", ["hlg", "pq"])
def test_the_lut_is_the_formula(kind: str) -> None:
    """The cube of 65 that frames go through, against the formula, in code values of 8 bits: greys 0.6 at worst, colours 0.2 on average.

    Where a channel of BT.709 is nearly out of range its power function is steep, and a few colours are further off (up to 20).
    """
    signal = np.random.default_rng(2).random((3, 60, 70)).astype(np.float32)
    exact = mapped(hlg_light(signal) if kind == "hlg" else pq_light(signal))
    ours = through(tone_mapping(kind), signal)
    inside = (exact.min(axis=0) > 0.02) & (signal.max(axis=0) < (1 if kind == "hlg" else 0.74))
    errors = np.abs(ours - exact)[:, inside]
    assert errors.mean() < 0.2 / 255 and np.percentile(errors, 99) < 4 / 255
    grey = np.tile(np.linspace(0, 1, 500, dtype=np.float32), (3, 1, 1))
    exact_grey = mapped(hlg_light(grey) if kind == "hlg" else pq_light(grey))
    assert np.abs(through(tone_mapping(kind), grey) - exact_grey).max() < 0.6 / 255
    assert np.abs(apply_lut(signal, Lut("", table(kind))) - ours).max() < 1e-5


def test_what_a_reading_applies() -> None:
    assert Reading().applied("hlg") == "hlg" and Reading().applied("display") == "" and Reading().applied("log") == ""
    assert Reading(way="as it is").applied("pq") == "" and Reading(way="pq").applied("display") == "pq" and Reading(way="lut", lut="d").applied("log") == "d"
    names = {Reading(way=w, lut=lut).name("hlg") for w, lut in (("by itself", None), ("as it is", None), ("pq", None), ("lut", "a"), ("lut", "b"))}
    assert len(names) == 5 and Reading().name("display") == ""
