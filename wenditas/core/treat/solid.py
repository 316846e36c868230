"""Solid: one colour all over."""

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Colour, Params, colour
from wenditas.core.treat.record import Apply, At, Treatment


class Solid(Params):
    """Which colour."""

    colour: Colour = colour("#b3392b", "Colour", "The colour that fills; the blend mode decides what it does to the picture.")


def solid(picture: Picture, params: Solid, at: At) -> Picture:
    """The colour, everywhere.

    picture: `(3, h, w)`, not read. Returns the same shape, within 0-1.
    Source: by definition.
    """
    return as_picture(np.broadcast_to(rgb_from_hex(params.colour)[:, None, None], picture.shape))


def prepare(params: Solid) -> Apply:
    """`solid` on tiles."""
    value = as_picture(rgb_from_hex(params.colour)[:, None, None])

    def apply(tile: Picture, out: Picture, at: At) -> None:
        out[:] = value

    return apply


TREATMENT = Treatment(
    id="solid",
    name="Solid",
    group="fill",
    summary="Fills with one colour; with a blend mode it tints, darkens or replaces.",
    intents=("fill", "flat colour", "red sky", "flash"),
    source="By definition",
    check="coloraide: the colour itself, and every blend mode with it",
    params=Solid,
    reference=solid,
    prepare=prepare,
)
