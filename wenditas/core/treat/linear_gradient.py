"""Linear gradient: a palette laid across the frame at an angle."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Gradient, Params, choice, degrees, gradient, percent
from wenditas.core.tone.gradient import Mixing, Space, gradient_table
from wenditas.core.treat.parts.spread import Place, prepare_spread, spread
from wenditas.core.treat.record import At, Treatment


class LinearGradient(Params):
    """The palette and how it lies."""

    stops: Gradient = gradient(((0, "#1d2b4f"), (100, "#f2c078")), "Stops", "Colours and where they stand along the gradient.")
    mixing: Mixing = choice("linear", "Between stops", "Straight, eased, or each colour held until the next.")
    space: Space = choice("sRGB", "Mixed in", "sRGB mixes as screens and style sheets do; Oklab keeps the steps even to the eye.")
    angle: float = degrees(180, "Angle", "Where it goes: 0° up, 90° right, 180° down.", low=-360, high=360)
    length: float = percent(100, "Length", "100 % reaches from corner to corner, as far as the frame goes at that angle.", low=1, high=300)


def _table(params: LinearGradient) -> Floats:
    return gradient_table(params.stops, params.mixing, params.space, 0, 0)


def _place(params: LinearGradient) -> Place:
    turn = np.radians(params.angle)
    dx, dy = np.sin(turn), -np.cos(turn)

    def place(y: Floats, x: Floats, aspect: float) -> Floats:
        length = (abs(aspect * dx) + abs(dy)) * params.length / 100
        return np.asarray(0.5 + ((x - aspect / 2) * dx + (y - 0.5) * dy) / length)

    return place


def linear_gradient(picture: Picture, params: LinearGradient, at: At) -> Picture:
    """The gradient over the frame.

    picture: `(3, h, w)`, not read. Returns the same shape, within 0-1.
    Source: CSS Images 3, 3.4.1 (angle and length of the gradient line).
    """
    return spread(picture, _table(params), _place(params), at)


TREATMENT = Treatment(
    id="linear-gradient",
    name="Linear gradient",
    group="fill",
    summary="Fills the frame with a palette along a line.",
    intents=("sky", "graduated", "sunset", "dusk"),
    source="CSS Images 3, 3.4.1",
    check="the same gradient painted by the browser from CSS",
    params=LinearGradient,
    reference=linear_gradient,
    prepare=lambda params: prepare_spread(_table(params), _place(params)),
)
