"""Rod vision: what the eye's rods make of the picture as light falls."""

import numpy as np

from wenditas.core.colour.fast import decode, encode, log2, smoothstep
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.params import Params, number, percent
from wenditas.core.treat.record import Apply, At, Treatment
from wenditas.core.treat.white_balance import XYZ_FROM_RGB

MESOPIC_LOW, MESOPIC_HIGH = 0.0056, 5.6  # cd/m2: below, rods alone see; above, cones alone (Larson, Rushmeier & Piatko 1997)
BLUE_XY = (0.25, 0.25)  # the hue that night is painted with: Jensen, Premoze, Shirley et al. 2000, from memory
X, Y, Z = XYZ_FROM_RGB
TINY, ONE = np.float32(1e-7), np.float32(1)
XR, XG, XB, YR, YG, YB, ZR, ZG, ZB = (np.float32(v) for v in XYZ_FROM_RGB.ravel())
K1, K2 = np.float32(1.33), np.float32(1.68)


class RodVision(Params):
    """How dark it is taken to be, and how blue night is."""

    white: float = number(
        0.5,
        "Light of white",
        "What white stands for: 100 a lit room, 1 a street at night, 0.01 a road without a moon.",
        low=0.005,
        high=200,
        step=0.05,
        unit="cd/m²",
    )
    blue: float = percent(60, "Blue", "How far the greys of night lean to blue.")
    brightness: float = percent(100, "Rod brightness", "How bright the picture of the rods is shown.", high=300)


def scotopic(xyz: Floats) -> Floats:
    """Scotopic luminance estimated from X, Y, Z: `(3, ...)` to `(...)`, not below nought.

    Source: Larson, Rushmeier & Piatko 1997: V = Y (1.33 (1 + (Y + Z) / X) - 1.68).

    >>> round(float(scotopic(np.array([0.9505, 1.0, 1.089]))), 3)
    2.573
    """
    x, y, z = xyz
    return np.asarray(np.maximum(y * (1.33 * (1 + (y + z) / np.maximum(x, 1e-7)) - 1.68), 0))


def _tint(blue: float) -> Floats:
    """Linear RGB of the night's hue at a luminance of one, mixed with white."""
    x, y = BLUE_XY
    rgb = np.maximum(np.linalg.inv(XYZ_FROM_RGB) @ np.array([x / y, 1, (1 - x - y) / y]), 0)
    return np.asarray(1 + (rgb - 1) * blue)


WHITE_SCOTOPIC = float(scotopic(XYZ_FROM_RGB.sum(axis=1)))


def rod_vision(picture: Picture, params: RodVision, at: At) -> Picture:
    """Cone colour and rod grey mixed by how light the pixel is, in linear light.

    The share of cones rises with the logarithm of luminance through the mesopic range. The rods'
    grey is the scotopic estimate, white standing for one, in the night's hue.
    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, not limited.
    Source: Larson, Rushmeier & Piatko 1997 (rod estimate, mesopic range); Jensen et al. 2000 (hue of night).
    """
    light = srgb_decode(np.clip(picture.astype(np.float64), 0, 1.25))
    xyz = np.tensordot(XYZ_FROM_RGB, light, axes=1)
    span = np.log2(MESOPIC_HIGH / MESOPIC_LOW)
    t = np.clip((np.log2(np.maximum(xyz[1] * params.white, 1e-7)) - np.log2(MESOPIC_LOW)) / span, 0, 1)
    cones = t * t * (3 - 2 * t)
    rods = scotopic(xyz) / WHITE_SCOTOPIC * params.brightness / 100
    return as_picture(srgb_encode(cones * light + (1 - cones) * rods * _tint(params.blue / 100)[:, None, None]))


@kernel
def _rod_vision_tile(tile, white, low, steep, tint, rod_scale, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(tile.shape[2]):
            lr, lg, lb = decode(r[x]), decode(g[x]), decode(b[x])
            cx, cy, cz = XR * lr + XG * lg + XB * lb, YR * lr + YG * lg + YB * lb, ZR * lr + ZG * lg + ZB * lb
            cones = smoothstep(low, steep, log2(max(cy * white, TINY)))
            rods = max(cy * (K1 * (ONE + (cy + cz) / max(cx, TINY)) - K2), np.float32(0)) * rod_scale * (ONE - cones)
            red[x] = encode(cones * lr + rods * tint[0])
            green[x] = encode(cones * lg + rods * tint[1])
            blue[x] = encode(cones * lb + rods * tint[2])


def prepare(params: RodVision) -> Apply:
    """`rod_vision` on tiles."""
    low, steep = np.float32(np.log2(MESOPIC_LOW)), np.float32(1 / np.log2(MESOPIC_HIGH / MESOPIC_LOW))
    tint, rods = as_picture(_tint(params.blue / 100)), np.float32(params.brightness / 100 / WHITE_SCOTOPIC)
    white = np.float32(params.white)
    return lambda tile, out, at: _rod_vision_tile(tile, white, low, steep, tint, rods, out)


TREATMENT = Treatment(
    id="rod-vision",
    name="Rod vision",
    group="tone",
    summary="Shows the picture as the eye sees it when light falls: colours fade, blue lasts longest, greys lean to blue.",
    intents=("night", "moonlight", "day for night", "dark"),
    source="Larson, Rushmeier & Piatko 1997 (rod response, mesopic range); Jensen et al. 2000 (hue of night)",
    check="values worked by hand from the paper's formula; colour-science's V' for the order of colours",
    params=RodVision,
    reference=rod_vision,
    prepare=prepare,
    example={"white": 0.3},
)
