"""Saturation: each colour moved away from, or towards, the grey of its own luma."""

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.record import At, Treatment


class Saturation(Params):
    """How much colour is left, in percent."""

    saturation: float = percent(100, "Saturation", "0 % is grey, 100 % leaves the picture as it is.", high=200)


def _matrix(params: Saturation) -> Floats:
    amount = params.saturation / 100
    return amount * np.eye(3) + (1 - amount) * np.tile(LUMA_709, (3, 1))


def saturation(picture: Picture, params: Saturation, at: At) -> Picture:
    """luma + saturation * (R'G'B' - luma), with BT.709 luma, which stays as it was.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: ASC CDL 1.2, saturation; luma weights BT.709-6, 3.2.
    """
    return matrix(picture, _matrix(params), np.zeros(3))


TREATMENT = Treatment(
    id="saturation",
    name="Saturation",
    group="remove",
    summary="Takes colour away or adds to it, keeping the luma of every pixel.",
    intents=("desaturate", "vivid", "colourful", "mute", "pastel", "bleach"),
    source="ASC CDL 1.2, saturation",
    check="OpenColorIO, CDL saturation",
    params=Saturation,
    neutral=({"saturation": 100},),
    reference=saturation,
    prepare=lambda params: prepare_matrix(_matrix(params)),
    example={"saturation": 190},
)
