"""Tint: black and white mapped to two colours, the greys between them."""

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Colour, Params, colour
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.record import At, Treatment


class Tint(Params):
    """What black and white become; the pass's amount mixes it with the picture."""

    darks: Colour = colour("#0b1420", "Dark colour", "The colour that black becomes; what is dark goes near it.")
    lights: Colour = colour("#e8d9b8", "Light colour", "The colour that white becomes; what is light goes near it.")


def _matrix(params: Tint) -> tuple[Floats, Floats]:
    darks, lights = rgb_from_hex(params.darks), rgb_from_hex(params.lights)
    return np.outer(lights - darks, LUMA_709), darks


def tint(picture: Picture, params: Tint, at: At) -> Picture:
    """darks + (lights - darks) * luma, by BT.709 luma.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: straight interpolation, by definition; luma BT.709-6, 3.2.
    """
    return matrix(picture, *_matrix(params))


TREATMENT = Treatment(
    id="tint",
    name="Tint",
    group="map",
    summary="Maps black to one colour and white to another, by luma.",
    intents=("sepia", "teal", "toning", "old photograph", "night", "single colour"),
    source="Straight interpolation by BT.709-6 luma",
    check="NumPy interp between the two colours",
    params=Tint,
    reference=tint,
    prepare=lambda params: prepare_matrix(*_matrix(params)),
)
