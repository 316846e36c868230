"""Exposure: more or less light, in stops."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.matrix import linear_matrix, prepare_linear_matrix
from wenditas.core.treat.record import At, Treatment


class Exposure(Params):
    """Stops of light."""

    stops: float = number(0, "Exposure", "One stop more is twice the light.", low=-8, high=8, step=0.1, unit="EV")


def _gain(params: Exposure) -> Floats:
    return np.asarray(np.eye(3) * 2.0**params.stops)


def exposure(picture: Picture, params: Exposure, at: At) -> Picture:
    """Linear light times 2 to the power of the stops.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, not limited.
    Source: a stop is a factor of two (common practice); IEC 61966-2-1 for linear light.
    """
    return linear_matrix(picture, _gain(params))


TREATMENT = Treatment(
    id="exposure",
    name="Exposure",
    group="tone",
    summary="Gives the picture more or less light, in stops.",
    intents=("brighter", "darker", "brightness", "night", "flash"),
    source="A factor of two a stop (common practice); IEC 61966-2-1",
    check="OpenColorIO ExposureContrastTransform, linear style; colour-science transfer functions",
    params=Exposure,
    neutral=({"stops": 0},),
    reference=exposure,
    prepare=lambda params: prepare_linear_matrix(_gain(params)),
    example={"stops": -1.5},
)
