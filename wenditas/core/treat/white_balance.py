"""White balance: the colour of the light, corrected in linear light."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.matrix import linear_matrix, prepare_linear_matrix
from wenditas.core.treat.record import At, Treatment

NEUTRAL = 6500.0
TINT_STEP = 0.0003  # Duv of one unit of tint
# XYZ from linear sRGB (IEC 61966-2-1, to 7 digits), and Bradford cone responses from XYZ (Lam 1985, as in ICC.1 annex E).
XYZ_FROM_RGB = np.array([[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]])
BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


class WhiteBalance(Params):
    """The light that the shot was made in, as it should be taken."""

    temperature: float = number(
        6500, "Temperature", "Colour temperature given to the picture: lower is warmer, higher is cooler.", low=2500, high=15000, step=50, unit="K"
    )
    tint: float = number(0, "Tint", "From green (below nought) to magenta (above).", low=-100, high=100, step=1)


def locus(temperature: float) -> tuple[float, float]:
    """u, v (CIE 1960) of a black body at 1000-15000 K. Source: Krystek 1985; coefficients from memory, checked with colour-science."""
    t = temperature
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t**2) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t**2)
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t**2) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t**2)
    return u, v


def white(temperature: float, tint: float) -> Floats:
    """XYZ (Y = 1) of a light on the locus, moved across it by `tint` units of Duv: up (green) for negative values."""
    u, v = locus(temperature)
    du, dv = (b - a for a, b in zip(locus(temperature - 1), locus(temperature + 1), strict=True))
    length = np.hypot(du, dv)
    u, v = u - tint * TINT_STEP * dv / length, v + tint * TINT_STEP * du / length
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    return np.array([x / y, 1, (1 - x - y) / y])


def adaptation(params: WhiteBalance) -> Floats:
    """The matrix, in linear light, that shows a neutral as lit by the light chosen. Source: Bradford transform, as in ICC.1:2010, annex E."""
    before, after = BRADFORD @ white(NEUTRAL, 0), BRADFORD @ white(params.temperature, params.tint)
    xyz = np.linalg.inv(BRADFORD) @ np.diag(after / before) @ BRADFORD
    return np.asarray(np.linalg.inv(XYZ_FROM_RGB) @ xyz @ XYZ_FROM_RGB)


def white_balance(picture: Picture, params: WhiteBalance, at: At) -> Picture:
    """The picture as if lit by a light of another temperature and tint.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, not limited.
    Source: Krystek 1985 for the locus; Bradford chromatic adaptation (Lam 1985).
    """
    return linear_matrix(picture, adaptation(params))


TREATMENT = Treatment(
    id="white-balance",
    name="White balance",
    group="shift",
    summary="Makes the light warmer or cooler, greener or more magenta.",
    intents=("temperature", "warm", "cool", "kelvin", "colour cast"),
    source="Krystek 1985; Bradford chromatic adaptation (Lam 1985)",
    check="colour-science: Krystek locus and Bradford adaptation matrix",
    params=WhiteBalance,
    neutral=({"temperature": 6500, "tint": 0},),
    reference=white_balance,
    prepare=lambda params: prepare_linear_matrix(adaptation(params)),
    example={"temperature": 3600},
)
