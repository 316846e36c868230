"""Curves: tone curves for all channels and for each."""

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.tone.curves import look_up, table
from wenditas.core.treat.neutral import diagonal
from wenditas.core.treat.parts.tables import by_channel, prepare_by_channel
from wenditas.core.treat.record import At, Treatment

STRAIGHT = ((0, 0), (100, 100))


class Curves(Params):
    """A curve for all channels, then one for each; points in percent."""

    master: Curve = curve(STRAIGHT, "Master", "The curve of all channels.", axis="tone", low=0, high=100)
    red: Curve = curve(STRAIGHT, "Red", "The curve of red, after the master.", axis="tone", low=0, high=100)
    green: Curve = curve(STRAIGHT, "Green", "The curve of green, after the master.", axis="tone", low=0, high=100)
    blue: Curve = curve(STRAIGHT, "Blue", "The curve of blue, after the master.", axis="tone", low=0, high=100)


def _tables(params: Curves) -> Floats:
    master = table(params.master)
    return as_picture(np.stack([look_up(table(channel), master) for channel in (params.red, params.green, params.blue)]))


def curves(picture: Picture, params: Curves, at: At) -> Picture:
    """Each channel through the master curve and its own, from tables of 4097 samples.

    picture: `(3, h, w)`; beyond its end points a curve goes on at a slope of one. Returns the same shape.
    Source: monotone cubic interpolation, Fritsch & Carlson 1980.
    """
    return by_channel(picture, _tables(params))


TREATMENT = Treatment(
    id="curves",
    name="Curves",
    group="tone",
    summary="Bends tones by a curve for all channels and one for each.",
    intents=("crush", "invert", "negative", "s-curve", "solarize", "fade"),
    source="Monotone cubic interpolation, Fritsch and Carlson 1980",
    check="SciPy PchipInterpolator",
    params=Curves,
    neutral=(dict.fromkeys(("master", "red", "green", "blue"), diagonal),),
    reference=curves,
    prepare=lambda params: prepare_by_channel(_tables(params)),
    presets={
        "S-curve": {"master": [[0, 0], [25, 16], [75, 84], [100, 100]]},
        "Strong S-curve": {"master": [[0, 0], [30, 12], [70, 88], [100, 100]]},
        "Crushed blacks": {"master": [[0, 0], [12, 0], [35, 24], [75, 82], [100, 100]]},
        "Faded blacks": {"master": [[0, 14], [30, 32], [75, 80], [100, 96]]},
        "Upside down": {"master": [[0, 100], [100, 0]]},
        "Crossed film": {"red": [[0, 0], [30, 20], [70, 82], [100, 100]], "blue": [[0, 16], [50, 48], [100, 84]]},
    },
    example={"master": [[0, 0], [28, 10], [72, 90], [100, 100]]},
)
