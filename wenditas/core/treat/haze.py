"""Haze: a soft copy laid over by lighten, and a veil."""

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Colour, Params, colour, percent, pixels
from wenditas.core.treat.parts.blurs import gaussian, gaussian_reference
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class Haze(Params):
    """How soft, and how thick the veil."""

    radius: float = pixels(20, "Radius", "Softness of the copy.", step=0.5)
    spread: float = percent(100, "Spread", "How much of the soft copy shows where it is lighter.")
    veil: float = percent(10, "Veil", "How much of an even colour lies over everything.")
    colour: Colour = colour("#d8d4cc", "Veil colour", "The colour of the air.")


def haze(picture: Picture, params: Haze, at: At) -> Picture:
    """value + spread * (max(value, blurred) - value), then mixed with the veil. With at.matte only what it selects is in the soft copy.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: lighten of W3C Compositing 1, 9.1; Gaussian by definition.
    """
    only = picture if at.matte is None else picture * at.matte
    soft = np.maximum(gaussian_reference(only, params.radius * at.scale), picture)
    value = picture + (soft - picture) * params.spread / 100
    return as_picture(value + (rgb_from_hex(params.colour)[:, None, None] - value) * params.veil / 100)


def prepare(params: Haze) -> Apply:
    """`haze` on whole frames."""
    spread, veil = np.float32(params.spread / 100), np.float32(params.veil / 100)
    air = as_picture(rgb_from_hex(params.colour)[:, None, None])

    def apply(tile: Picture, out: Picture, at: At) -> None:
        only = tile if at.matte is None else tile * at.matte
        np.maximum(gaussian(only, params.radius * at.scale), tile, out=out)
        out -= tile
        out *= spread
        out += tile
        out += (air - out) * veil

    return apply


TREATMENT = Treatment(
    id="haze",
    name="Haze",
    group="soften",
    summary="Lays a soft copy over the picture where it is lighter, and a thin veil over all.",
    intents=("mist", "fog", "diffusion", "dream", "soft focus", "bloom"),
    source="Lighten of W3C Compositing 1, 9.1; Gaussian by definition",
    check="SciPy gaussian_filter and NumPy maximum",
    params=Haze,
    neutral=({"spread": 0, "veil": 0},),
    reference=haze,
    prepare=prepare,
    reach=on_frames,
    spreads=True,
    example={"radius": 30, "veil": 25},
)
