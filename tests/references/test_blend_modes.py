"""The sixteen blend modes against coloraide (the browser's own canvas: tests/browser/test_canvas.py)."""

import numpy as np
import pytest
from coloraide import Color

from wenditas.core.colour.blend import BLENDS, blend, mix

GRID = (0.0, 0.2, 0.25, 0.5, 0.75, 1.0)
COLOURS = [(r, g, b) for r in GRID for g in (0.0, 0.4, 1.0) for b in (0.1, 0.6)]


@pytest.mark.parametrize("mode", BLENDS)
def test_every_mode_equals_coloraide(mode) -> None:
    # coloraide implements W3C Compositing and Blending Level 1 on its own.
    rng = np.random.default_rng(2)
    pairs = [(COLOURS[a], COLOURS[b]) for a, b in rng.integers(0, len(COLOURS), (150, 2))]
    backdrop, source = (np.array(side).T for side in zip(*pairs, strict=True))
    theirs = [Color.layer([Color("srgb", list(s)), Color("srgb", list(b))], blend=mode, space="srgb").coords() for b, s in pairs]
    # For the last four coloraide weighs luminosity 0.299, 0.587, 0.114, where the Recommendation and browsers have 0.3, 0.59, 0.11.
    allowed = 0.012 if mode in ("hue", "saturation", "color", "luminosity") else 1e-6
    assert blend(mode, backdrop, source) == pytest.approx(np.array(theirs).T, abs=allowed)


@pytest.mark.parametrize("mode", BLENDS)
@pytest.mark.parametrize("place", ["everywhere", "inside", "outside"])
def test_mix_equals_blend(mode, place: str) -> None:
    rng = np.random.default_rng(3)
    running, treated = rng.uniform(-0.2, 1.3, (2, 3, 7, 19)).astype(np.float32)
    treated[:, 0, :4], running[:, 1, :4], treated[:, 2, :4], running[:, 3, :4] = 0, 0, 1, 1
    matte = rng.random((7, 19), np.float32)
    weight = {"everywhere": 1.0, "inside": matte, "outside": 1 - matte}[place] * np.float32(0.6)
    wanted = running + (blend(mode, running, treated) - running) * weight
    got = running.copy()
    mix(mode, got, treated, 0.6, None if place == "everywhere" else matte, place == "outside")
    assert got == pytest.approx(wanted, abs=2e-6)


def test_mix_keeps_to_its_rows() -> None:
    running, treated = np.zeros((3, 6, 5), np.float32), np.ones((3, 6, 5), np.float32)
    mix("normal", running, treated, 1, rows=(2, 4))
    assert running[:, 2:4].min() == 1 and running[:, :2].max() == 0 and running[:, 4:].max() == 0


def test_alpha_of_the_source_equals_coloraide() -> None:
    for alpha in (0.0, 0.3, 1.0):
        running = np.array([0.2, 0.6, 0.9], np.float32).reshape(3, 1, 1)
        treated = np.array([0.8, 0.1, 0.4], np.float32).reshape(3, 1, 1)
        theirs = Color.layer([Color("srgb", [0.8, 0.1, 0.4], alpha), Color("srgb", [0.2, 0.6, 0.9])], blend="overlay", space="srgb")
        mix("overlay", running, treated, alpha)
        assert running.ravel() == pytest.approx(theirs.coords(), abs=1e-6)
