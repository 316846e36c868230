"""Highlights and shadows: the light and the dark parts recovered or deepened."""

import numpy as np

from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Picture, as_picture, kernel
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment

ZERO, ONE = np.float32(0), np.float32(1)


class HighlightsShadows(Params):
    """Two amounts."""

    highlights: float = percent(0, "Highlights", "Below nought brings light parts down, above lifts them.", low=-100, high=100)
    shadows: float = percent(0, "Shadows", "Below nought deepens dark parts, above lifts them.", low=-100, high=100)


def highlights_shadows(picture: Picture, params: HighlightsShadows, at: At) -> Picture:
    """R'G'B' * (1 + shadows (1 - Y')^3 + highlights Y'^2 (1 - Y')), with Y' BT.709 luma limited to 0-1.

    Luma itself then runs along a curve that never falls; black and white stay.
    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: stated formula, our own.
    """
    grey = np.clip(luma(picture), 0, 1)
    return as_picture(picture * (1 + params.shadows / 100 * (1 - grey) ** 3 + params.highlights / 100 * grey**2 * (1 - grey)))


@kernel
def _highlights_shadows_tile(tile, highlights, shadows, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(tile.shape[2]):
            grey = min(max(KR * r[x] + KG * g[x] + KB * b[x], ZERO), ONE)
            left = ONE - grey
            k = ONE + shadows * left * left * left + highlights * grey * grey * left
            red[x], green[x], blue[x] = r[x] * k, g[x] * k, b[x] * k


def prepare(params: HighlightsShadows) -> Apply:
    """`highlights_shadows` on tiles."""
    highlights, shadows = np.float32(params.highlights / 100), np.float32(params.shadows / 100)
    return lambda tile, out, at: _highlights_shadows_tile(tile, highlights, shadows, out)


TREATMENT = Treatment(
    id="highlights-shadows",
    name="Highlights and shadows",
    group="tone",
    summary="Brings back or deepens the light and the dark parts; black and white stay.",
    intents=("recover", "open the shadows", "save the sky"),
    source="Stated formula, our own",
    check="NumPy: the curve of luma never falls, its ends stay, its slope at black is 1 + shadows",
    params=HighlightsShadows,
    neutral=({"highlights": 0, "shadows": 0},),
    reference=highlights_shadows,
    prepare=prepare,
    example={"highlights": -80, "shadows": 80},
)
