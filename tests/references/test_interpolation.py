"""Values between keyframes against SciPy and coloraide."""

import numpy as np
import pytest
from coloraide import Color
from scipy.interpolate import CubicHermiteSpline, interp1d

from wenditas.core.look.animate import mix_colours, passage, turn
from wenditas.core.look.lanes import Keyframe

T = np.linspace(0, 1, 41)


def test_passages_equal_scipy() -> None:
    kinds = {"hold": interp1d([0, 1], [0, 1], kind="previous"), "linear": interp1d([0, 1], [0, 1]), "smooth": CubicHermiteSpline([0, 1], [0, 1], [0, 0])}
    for how, theirs in kinds.items():
        ours = [passage(Keyframe(frame=0, value=0, how=how), float(t)) for t in T[:-1]]  # type: ignore[arg-type]
        assert ours == pytest.approx(theirs(T[:-1]), abs=1e-12)
    half = CubicHermiteSpline([0, 1], [0, 1], [0.5, 0.5])  # ease of 50 %: slopes half way between those of straight and level
    assert [passage(Keyframe(frame=0, value=0, ease=50), float(t)) for t in T] == pytest.approx(half(T), abs=1e-12)


@pytest.mark.parametrize(("one", "other"), [("#ff0000", "#0000ff"), ("#102030", "#f0e0c0"), ("#00ff00", "#ff00ff")])
def test_colours_mix_in_oklab_as_coloraide_does(one: str, other: str) -> None:
    for t in (0.25, 0.5, 0.9):
        theirs = Color(one).mix(other, t, space="oklab").convert("srgb").clip().coords()
        ours = Color(mix_colours(one, other, t)).coords()
        assert ours == pytest.approx(theirs, abs=0.6 / 255)  # rounded to bytes


@pytest.mark.parametrize(("way", "fix"), [("short", "shorter"), ("long", "longer")])
def test_angles_turn_as_coloraide_hues_do(way, fix: str) -> None:
    for one, other in ((350, 10), (10, 350), (30, 200), (200, 30)):
        theirs = Color("oklch", [0.5, 0.1, one]).mix(Color("oklch", [0.5, 0.1, other]), 0.3, space="oklch", hue=fix)["hue"]
        assert (turn(one, other, 0.3, way) - theirs + 180) % 360 - 180 == pytest.approx(0, abs=1e-9)
