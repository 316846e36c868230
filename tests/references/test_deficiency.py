"""Colour-vision deficiency against colour-science."""

import colour
import numpy as np
import pytest

from wenditas.core.colour.deficiency import KINDS, seen_with, table
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.tone.lut import Lut, apply_lut

# What the library thinks of the shift paradigm for tritanomaly (named here by its words: by its class it would be imported with every run of pytest).
pytestmark = pytest.mark.filterwarnings("ignore:.*simulation of tritanomaly")

NAMES = {"protan": "Protanomaly", "deutan": "Deuteranomaly", "tritan": "Tritanomaly"}


@pytest.mark.parametrize("kind", KINDS)
def test_the_matrices_are_those_of_the_paper(kind: str) -> None:
    """Machado, Oliveira and Fernandes 2009, at severity 1.0, as colour-science has them; rows sum to 1, so that greys stay."""
    theirs = colour.matrix_cvd_Machado2009(NAMES[kind], 1.0)
    assert np.abs(KINDS[kind].matrix - theirs).max() < 1e-6
    assert np.abs(KINDS[kind].matrix.sum(axis=1) - 1).max() < 2e-6


@pytest.mark.parametrize("kind", KINDS)
def test_colours_and_the_lut_of_the_view(kind: str) -> None:
    picture = np.random.default_rng(1).random((3, 40, 50)).astype(np.float32)
    linear = np.moveaxis(srgb_decode(picture), 0, -1) @ colour.matrix_cvd_Machado2009(NAMES[kind], 1.0).T
    expected = np.moveaxis(srgb_encode(linear), -1, 0)
    assert np.abs(seen_with(picture, kind) - expected).max() < 1e-5
    inside = (expected.min(axis=0) > 0.1) & (expected.max(axis=0) < 0.98)
    errors = np.abs(apply_lut(picture, Lut("", table(kind))) - expected)[:, inside]
    assert errors.mean() < 0.5 / 255 and np.percentile(errors, 99) < 2 / 255
    assert np.array_equal(seen_with(picture, "usual"), picture.astype(np.float64))
