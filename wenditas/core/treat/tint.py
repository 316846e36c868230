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

    black: Colour = colour("#0b1420", "Black to", "The colour that black becomes.")
    white: Colour = colour("#e8d9b8", "White to", "The colour that white becomes.")


def _matrix(params: Tint) -> tuple[Floats, Floats]:
    black, white = rgb_from_hex(params.black), rgb_from_hex(params.white)
    return np.outer(white - black, LUMA_709), black


def tint(picture: Picture, params: Tint, at: At) -> Picture:
    """black + (white - black) * luma, by BT.709 luma.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: straight interpolation, by definition; luma BT.709-6, 3.2.
    """
    return matrix(picture, *_matrix(params))


TREATMENT = Treatment(
    id="tint",
    name="Tint",
    group="map",
    summary="Maps black to one colour and white to another, by luma.",
    source="Straight interpolation by BT.709-6 luma",
    check="NumPy interp between the two colours",
    params=Tint,
    reference=tint,
    prepare=lambda params: prepare_matrix(*_matrix(params)),
)
