"""Levels: where black, middle and white come in, and where black and white go out."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number, percent
from wenditas.core.treat.parts.powers import powers, prepare_powers
from wenditas.core.treat.record import At, Treatment


class Levels(Params):
    """Input black, gamma and white; output black and white."""

    in_black: float = percent(0, "Black in", "This tone becomes black.", high=99, step=0.5)
    gamma: float = number(1, "Gamma", "Above 1 lightens the middle tones, below 1 darkens them.", low=0.1, high=10, step=0.05)
    in_white: float = percent(100, "White in", "This tone becomes white.", low=1, step=0.5)
    out_black: float = percent(0, "Black out", "Where black goes.", step=0.5)
    out_white: float = percent(100, "White out", "Where white goes.", step=0.5)


def _values(params: Levels) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    black, white = params.in_black / 100, params.in_white / 100
    width = max(white - black, 0.001)
    out_black, out_white = params.out_black / 100, params.out_white / 100
    one = np.ones(3)
    return one / width, -one * black / width, one / params.gamma, one * (out_white - out_black), one * out_black


def levels(picture: Picture, params: Levels, at: At) -> Picture:
    """((value - black in) / (white in - black in)) ** (1 / gamma), laid from black out to white out.

    picture: `(3, h, w)`; what lies below black in is limited to it, what lies above white in goes on. Returns the same shape.
    Source: stated formula; the identity at 0, 1, 100, 0, 100.
    """
    return powers(picture, *_values(params))


TREATMENT = Treatment(
    id="levels",
    name="Levels",
    group="tone",
    summary="Sets where black, middle and white come in, and where black and white go out.",
    intents=("crush", "invert", "negative", "black point", "white point", "fade"),
    source="Stated formula; the identity at 0, 1, 100, 0, 100",
    check="scikit-image rescale_intensity and adjust_gamma",
    params=Levels,
    neutral=({"in_black": 0, "gamma": 1, "in_white": 100, "out_black": 0, "out_white": 100},),
    reference=levels,
    prepare=lambda params: prepare_powers(*_values(params)),
    example={"in_black": 12, "gamma": 1.4, "in_white": 82},
)
