"""Plain names for colours, used to name selections."""

import numpy.typing as npt

from wenditas.core.colour.oklab import oklch_from_rgb

# Upper edge of each hue sector in OkLCh degrees; edges chosen by eye (common practice), not by a standard.
SECTORS = ((10, "Pink"), (42, "Red"), (75, "Orange"), (115, "Yellow"), (165, "Green"), (215, "Teal"), (285, "Blue"), (330, "Violet"), (360, "Pink"))
GREY_CHROMA = 0.03


def colour_name(coded: npt.ArrayLike) -> str:
    """A one-word name for a gamma-coded R'G'B' colour, by its hue.

    >>> colour_name([0.8, 0.1, 0.1])
    'Red'
    """
    lightness, chroma, hue = oklch_from_rgb(coded)
    if chroma < GREY_CHROMA:
        return "Black" if lightness < 0.3 else "White" if lightness > 0.9 else "Grey"
    return next(name for edge, name in SECTORS if hue < edge)
