"""Channel mixer: each channel made anew from all three."""

from typing import Any

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.record import At, Treatment

CHANNELS = ("red", "green", "blue")


def _share(to: str, of: str) -> Any:
    return percent(100.0 if to == of else 0.0, f"{to.capitalize()} from {of}", f"How much of the {of} channel goes into {to}.", low=-200, high=200)


class ChannelMixer(Params):
    """Nine shares in percent, and one for all of each channel's sum."""

    red_red: float = _share("red", "red")
    red_green: float = _share("red", "green")
    red_blue: float = _share("red", "blue")
    green_red: float = _share("green", "red")
    green_green: float = _share("green", "green")
    green_blue: float = _share("green", "blue")
    blue_red: float = _share("blue", "red")
    blue_green: float = _share("blue", "green")
    blue_blue: float = _share("blue", "blue")


def _matrix(params: ChannelMixer) -> Floats:
    return np.array([[getattr(params, f"{to}_{of}") for of in CHANNELS] for to in CHANNELS]) / 100


def channel_mixer(picture: Picture, params: ChannelMixer, at: At) -> Picture:
    """Each channel as a weighted sum of R', G' and B'.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: matrix product, by definition.
    """
    return matrix(picture, _matrix(params), np.zeros(3))


TREATMENT = Treatment(
    id="channel-mixer",
    name="Channel mixer",
    group="shift",
    summary="Makes each channel anew from shares of red, green and blue.",
    intents=("infrared", "swap channels"),
    source="Matrix product, by definition",
    check="NumPy matrix product; OpenColorIO MatrixTransform",
    params=ChannelMixer,
    neutral=({f"{to}_{of}": 100 if to == of else 0 for to in CHANNELS for of in CHANNELS},),
    reference=channel_mixer,
    prepare=lambda params: prepare_matrix(_matrix(params)),
    presets={
        "Swap red and blue": {"red_red": 0, "red_blue": 100, "blue_blue": 0, "blue_red": 100},
        "Swap red and green": {"red_red": 0, "red_green": 100, "green_green": 0, "green_red": 100},
        "Two-strip film": {"green_green": 60, "green_blue": 40, "blue_green": 60, "blue_blue": 40},
    },
    example={"red_red": 0, "red_blue": 100, "blue_blue": 0, "blue_red": 100},
)
