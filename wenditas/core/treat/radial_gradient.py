"""Radial gradient: a palette laid round a centre."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Gradient, Params, choice, gradient, percent
from wenditas.core.tone.gradient import Mixing, Space, gradient_table
from wenditas.core.treat.parts.spread import Place, prepare_spread, spread
from wenditas.core.treat.record import At, Treatment


class RadialGradient(Params):
    """The palette and how it lies."""

    stops: Gradient = gradient(((0, "#f7d9a0"), (100, "#1d1b26")), "Stops", "Colours from the centre outwards.")
    mixing: Mixing = choice("linear", "Between stops", "Straight, eased, or each colour held until the next.")
    space: Space = choice("sRGB", "Mixed in", "sRGB mixes as screens and style sheets do; Oklab keeps the steps even to the eye.")
    centre_x: float = percent(50, "Centre across", "From the left edge.", low=-50, high=150)
    centre_y: float = percent(50, "Centre down", "From the top edge.", low=-50, high=150)
    radius: float = percent(80, "Radius", "Where the last colour is reached, in percent of the frame's height.", low=1, high=300)


def _table(params: RadialGradient) -> Floats:
    return gradient_table(params.stops, params.mixing, params.space, 0, 0)


def _place(params: RadialGradient) -> Place:
    def place(y: Floats, x: Floats, aspect: float) -> Floats:
        return np.asarray(np.hypot(x - params.centre_x / 100 * aspect, y - params.centre_y / 100) / (params.radius / 100))

    return place


def radial_gradient(picture: Picture, params: RadialGradient, at: At) -> Picture:
    """The gradient over the frame.

    picture: `(3, h, w)`, not read. Returns the same shape, within 0-1.
    Source: CSS Images 3, 3.5 (circle).
    """
    return spread(picture, _table(params), _place(params), at)


TREATMENT = Treatment(
    id="radial-gradient",
    name="Radial gradient",
    group="fill",
    summary="Fills the frame with a palette round a centre.",
    intents=("spotlight", "halo", "sun"),
    source="CSS Images 3, 3.5",
    check="the same gradient painted by the browser from CSS",
    params=RadialGradient,
    reference=radial_gradient,
    prepare=lambda params: prepare_spread(_table(params), _place(params)),
)
