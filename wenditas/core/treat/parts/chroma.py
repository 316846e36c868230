"""Chroma scaled by a curve over lightness or over chroma itself."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from wenditas.core.colour.fast import oklab, rgb_from_oklab
from wenditas.core.colour.oklab import into_gamut, limited_oklab
from wenditas.core.kernel import Picture, as_picture, kernel
from wenditas.core.tone.curves import curve, look_up
from wenditas.core.treat.parts.tables import FULL_CHROMA, at_place
from wenditas.core.treat.record import Apply

Over = Literal["lightness", "saturation"]
SAMPLES = 1024
SCALE, CHROMA_SCALE = np.float32(SAMPLES), np.float32(SAMPLES / FULL_CHROMA)


def chroma_table(points: Sequence[Sequence[float]]) -> Picture:
    """The curve (percent over percent) as factors at `SAMPLES + 1` places over 0-1."""
    return as_picture(curve(points, np.linspace(0, 100, SAMPLES + 1)) / 100)


def scale_chroma(picture: Picture, values: Picture, over: Over) -> Picture:
    """Oklab a and b times a factor looked up by lightness, or by chroma over 0.33. Values are limited to 0-1.25 first."""
    light, a, b = limited_oklab(picture)
    factor = look_up(values, light if over == "lightness" else np.hypot(a, b) / FULL_CHROMA, 0, 1)
    return as_picture(into_gamut(np.stack([light, a * factor, b * factor])))


@kernel
def _scale_chroma_tile(tile, values, by_lightness, out):  # type: ignore[no-untyped-def]
    """Three loops a row, so that only the look-ups in the middle stay outside the vectoriser."""
    width = tile.shape[2]
    rows = np.empty((4, width), np.float32)
    light, a, b, place = rows[0], rows[1], rows[2], rows[3]
    for y in range(tile.shape[1]):
        r, g, bl = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(width):
            light[x], a[x], b[x] = oklab(r[x], g[x], bl[x])
            place[x] = light[x] * SCALE if by_lightness else np.sqrt(a[x] * a[x] + b[x] * b[x]) * CHROMA_SCALE
        for x in range(width):
            place[x] = at_place(values, place[x])
        for x in range(width):
            red[x], green[x], blue[x] = rgb_from_oklab(light[x], a[x] * place[x], b[x] * place[x])


def prepare_scale_chroma(values: Picture, over: Over) -> Apply:
    """`scale_chroma` on tiles."""
    by_lightness = over == "lightness"
    return lambda tile, out, at: _scale_chroma_tile(tile, values, by_lightness, out)
