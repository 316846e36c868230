"""Monochrome: one grey per pixel, from a mix of the three channels."""

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_601, LUMA_709
from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.record import At, Treatment


def _percent(weights: tuple[float, float, float]) -> dict[str, float]:
    return {name: round(100 * w, 2) for name, w in zip(("red", "green", "blue"), weights, strict=True)}


LUMA = _percent(LUMA_709)


def _weight(channel: str) -> float:
    help = f"How much of the {channel} channel goes into the grey. Weights that sum to 100 % keep white white."
    return number(LUMA[channel], channel.capitalize(), help, low=-100, high=200, step=0.1, unit="%")  # type: ignore[no-any-return]


class Monochrome(Params):
    """Channel weights in percent; BT.709 luma by default."""

    red: float = _weight("red")
    green: float = _weight("green")
    blue: float = _weight("blue")


def _matrix(params: Monochrome) -> Floats:
    return np.tile(np.array([params.red, params.green, params.blue]) / 100, (3, 1))


def monochrome(picture: Picture, params: Monochrome, at: At) -> Picture:
    """Grey = red R' + green G' + blue B', written to all three channels.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: BT.709-6, 3.2 for the default weights; other weights by their definition.
    """
    return matrix(picture, _matrix(params), np.zeros(3))


TREATMENT = Treatment(
    id="monochrome",
    name="Monochrome",
    group="remove",
    summary="Turns colours to grey, by luma or by your own mix of red, green and blue.",
    intents=("single colour", "black and white", "grey", "desaturate", "spot colour"),
    source="ITU-R BT.709-6, 3.2",
    check="luma weights of BT.709-6 on pure red, green and blue",
    params=Monochrome,
    reference=monochrome,
    begins="outside",
    prepare=lambda params: prepare_matrix(_matrix(params)),
    presets={
        "Rec. 709 luma": LUMA,
        "Rec. 601 luma": _percent(LUMA_601),
        "Even mix": {"red": 33.3, "green": 33.4, "blue": 33.3},
        "Red only": {"red": 100, "green": 0, "blue": 0},
        "Green only": {"red": 0, "green": 100, "blue": 0},
        "Blue only": {"red": 0, "green": 0, "blue": 100},
    },
)
