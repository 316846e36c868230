"""ASC CDL: slope, offset, power and saturation."""

from typing import Any

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.parts.powers import powers, prepare_powers
from wenditas.core.treat.record import Apply, At, Treatment

CHANNELS = ("red", "green", "blue")


def _slope(channel: str) -> Any:
    return number(1, f"Slope {channel}", f"{channel.capitalize()} is multiplied by this.", low=0, high=4, step=0.01)


def _offset(channel: str) -> Any:
    return number(0, f"Offset {channel}", f"This is added to {channel}.", low=-1, high=1, step=0.01)


def _power(channel: str) -> Any:
    return number(1, f"Power {channel}", f"{channel.capitalize()} is raised to this power.", low=0.1, high=4, step=0.01)


class Cdl(Params):
    """The ten numbers of the colour decision list."""

    slope_red: float = _slope("red")
    slope_green: float = _slope("green")
    slope_blue: float = _slope("blue")
    offset_red: float = _offset("red")
    offset_green: float = _offset("green")
    offset_blue: float = _offset("blue")
    power_red: float = _power("red")
    power_green: float = _power("green")
    power_blue: float = _power("blue")
    saturation: float = number(1, "Saturation", "1 leaves colours as they are, 0 makes them grey.", low=0, high=4, step=0.01)


def _values(params: Cdl) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    slope, offset, exponent = (np.array([getattr(params, f"{w}_{c}") for c in CHANNELS]) for w in ("slope", "offset", "power"))
    return slope, offset, exponent, np.ones(3), np.zeros(3)


def _saturation(params: Cdl) -> Floats:
    return params.saturation * np.eye(3) + (1 - params.saturation) * np.tile(LUMA_709, (3, 1))


def cdl(picture: Picture, params: Cdl, at: At) -> Picture:
    """limit(limit(value * slope + offset) ** power, then saturation about BT.709 luma).

    picture: `(3, h, w)`, any values. Returns the same shape, within 0-1.
    Source: ASC CDL 1.2, with its limits to 0-1.
    """
    return np.clip(matrix(powers(picture, *_values(params), limit=True), _saturation(params), np.zeros(3)), 0, 1)


def prepare(params: Cdl) -> Apply:
    """`cdl` on tiles."""
    graded, saturated = prepare_powers(*_values(params), limit=True), prepare_matrix(_saturation(params))

    def apply(tile: Picture, out: Picture, at: At) -> None:
        between = np.empty_like(tile)
        graded(tile, between, at)
        saturated(between, out, at)
        np.clip(out, 0, 1, out=out)

    return apply


TREATMENT = Treatment(
    id="cdl",
    name="ASC CDL",
    group="tone",
    summary="Slope, offset, power and saturation, as colour decision lists carry them; reads and writes .cdl, .cc and .ccc.",
    intents=("grade", "decision list"),
    source="ASC CDL 1.2",
    check="OpenColorIO CDLTransform, ASC style",
    params=Cdl,
    neutral=(Cdl().model_dump(),),
    reference=cdl,
    prepare=prepare,
    example={"slope_red": 1.2, "slope_blue": 0.8, "offset_blue": 0.06, "power_green": 1.2, "saturation": 1.3},
)
