"""Solarize: tones above a level are turned round, as on a print that saw light while it was developed."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import MOST_VALUE, Floats, Picture, as_picture, kernel
from wenditas.core.params import Params, choice, percent, switch
from wenditas.core.treat.record import Apply, At, Treatment

Way = Literal["folded", "inverted"]
LEAST = 0.01  # of a level that is brought up to white


class Solarize(Params):
    """From which level on, and how."""

    level: float = percent(50, "Level", "Tones above it are turned round: at 100 % none, at 0 % all, as in a negative.")
    way: Way = choice(
        "folded", "Turned", "Folded: from the level on tones go down again, as light as they went up. Inverted: they become their negative, with a hard edge."
    )
    white: bool = switch(False, "Up to white", "What is lightest then is brought up to white.")


def _level(params: Solarize) -> float:
    """From which value on: none is so high at 100 %, none too low at 0 %."""
    return {0.0: -float(MOST_VALUE), 100.0: 2 * float(MOST_VALUE)}.get(params.level, params.level / 100)


def _gain(params: Solarize) -> float:
    """What brings the lightest tone up to white; 1 where that is not asked for."""
    level = params.level / 100
    lightest = level if params.way == "folded" else max(level, 1 - level)
    return 1 / max(lightest, LEAST) if params.white else 1.0


def solarize(picture: Picture, params: Solarize, at: At) -> Picture:
    """Each channel v as it is up to the level L, and above it 2 L - v (folded) or 1 - v (inverted), times what brings the lightest up to white.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: the Sabattier effect as a fold of the tone curve (common practice); inverted above a level as in Pillow's `ImageOps.solarize`.
    """
    turned: Floats = params.level / 50 - picture if params.way == "folded" else 1 - picture
    return as_picture(np.where(picture >= _level(params), turned, picture) * _gain(params))


@kernel
def _solarize_tile(tile, level, about, gain, out):  # type: ignore[no-untyped-def]
    flat, to = tile.reshape(-1), out.reshape(-1)
    for n in range(flat.size):
        value = flat[n]
        to[n] = (about - value if value >= level else value) * gain


def prepare(params: Solarize) -> Apply:
    """`solarize` on tiles."""
    about = params.level / 50 if params.way == "folded" else 1.0
    level, turned, gain = (np.float32(v) for v in (_level(params), about, _gain(params)))
    return lambda tile, out, at: _solarize_tile(tile, level, turned, gain, out)


TREATMENT = Treatment(
    id="solarize",
    name="Solarize",
    group="tone",
    summary="Turns the tones above a level round, as on a print that saw light while it was developed; at 0 % it makes a negative.",
    intents=("negative", "invert", "darkroom", "silver", "metal"),
    source="The Sabattier effect as a fold of the tone curve (common practice)",
    check="Pillow ImageOps.solarize and ImageOps.invert",
    params=Solarize,
    reference=solarize,
    prepare=prepare,
    neutral=({"level": 100},),
    presets={"Negative": {"level": 0, "way": "inverted"}, "Silver": {"level": 60, "white": True}},
    example={"level": 50, "way": "inverted"},
)
