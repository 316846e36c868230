"""The other keys against independent computations on random colours: coloraide for the spaces, the formulas written anew."""

import numpy as np
import pytest
from coloraide import Color

from wenditas.core.select.keys import KEYS, ColourKey, HueKey, LightnessKey, RangesKey
from wenditas.core.select.picks import Pick

COLOURS = np.random.default_rng(33).random((3, 300)).astype(np.float32)
RED = (0.8, 0.15, 0.1)


def smoothstep(low: float, high: float, x: float) -> float:
    t = min(max((x - low) / (high - low), 0.0), 1.0)
    return t * t * (3 - 2 * t)


def matte(key) -> np.ndarray:
    out = np.empty((1, 300), np.float32)
    KEYS[key.type].prepare(key)(np.ascontiguousarray(COLOURS[:, None, :]), out)
    return out[0]


def each(space: str) -> list[list[float]]:
    return [Color("srgb", [float(v) for v in c]).convert(space)[:3] for c in COLOURS.T]


PICK = Pick(colour=RED, x=0, y=0, frame=0)


def test_by_hue() -> None:
    centre = Color("srgb", list(RED)).convert("oklch")["hue"]
    expected = []
    for _, chroma, hue in each("oklch"):
        d = abs((hue - centre + 180) % 360 - 180)
        expected.append((1 - smoothstep(20, 45, d)) * smoothstep(0.05, 0.1, chroma))
    assert matte(HueKey(picks=(PICK,), tolerance=20, softness=25, least_chroma=0.05, gate_softness=0.05)) == pytest.approx(expected, abs=5e-4)


def test_by_colour() -> None:
    expected = [1 - smoothstep(12, 30, 100 * Color("oklab", lab).distance(Color("srgb", list(RED)), space="oklab")) for lab in each("oklab")]
    assert matte(ColourKey(picks=(PICK,), tolerance=12, softness=18, lightness_weight=100)) == pytest.approx(expected, abs=2e-4)


def test_by_lightness() -> None:
    expected = [smoothstep(30, 45, 100 * lab[0]) * (1 - smoothstep(70, 80, 100 * lab[0])) for lab in each("oklab")]
    assert matte(LightnessKey(low=45, high=70, soft_low=15, soft_high=10)) == pytest.approx(expected, abs=2e-4)


def test_by_ranges() -> None:
    key = RangesKey(
        hue=350,
        hue_reach=50,
        hue_soft=20,
        saturation_low=30,
        saturation_high=80,
        saturation_soft=10,
        lightness_on=True,
        lightness_low=25,
        lightness_high=60,
        lightness_soft=15,
    )
    expected = []
    for hue, saturation, lightness in each("hsl"):
        d = abs((hue - 350 + 180) % 360 - 180)
        value = 1 - smoothstep(50, 70, d)
        value *= smoothstep(20, 30, 100 * saturation) * (1 - smoothstep(80, 90, 100 * saturation))
        expected.append(value * smoothstep(10, 25, 100 * lightness) * (1 - smoothstep(60, 75, 100 * lightness)))
    assert matte(key) == pytest.approx(expected, abs=5e-4)
