"""Hue turned or lightness moved by a curve over lightness, or over chroma."""

import numpy as np

from wenditas.core.colour.fast import oklab, rgb_from_oklab
from wenditas.core.colour.oklab import into_gamut, limited_oklab
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.tone.curves import curve, look_up
from wenditas.core.treat.parts.by_hue import Points
from wenditas.core.treat.parts.chroma import CHROMA_SCALE, SAMPLES, SCALE, Over
from wenditas.core.treat.parts.tables import FULL_CHROMA, at_place
from wenditas.core.treat.record import Apply


def place_tables(shift: Points | None = None, lightness: Points | None = None) -> Floats:
    """Cosine and sine of the turn, and added lightness, `(3, SAMPLES + 1)` over 0-1, from points in degrees and percent over percent."""
    at = np.linspace(0, 100, SAMPLES + 1)
    flat = np.zeros(SAMPLES + 1)
    turn = flat if shift is None else np.radians(curve(shift, at))
    return np.stack([np.cos(turn), np.sin(turn), flat if lightness is None else curve(lightness, at) / 100])


def by_place(picture: Picture, values: Floats, over: Over) -> Picture:
    """Hue and lightness changed by the tables of `place_tables`, looked up by lightness, or by chroma over 0.33. Values are limited to 0-1.25 first."""
    light, a, b = limited_oklab(picture)
    place = light if over == "lightness" else np.hypot(a, b) / FULL_CHROMA
    cos, sin, add = (look_up(v, place, 0, 1) for v in values)
    return as_picture(into_gamut(np.stack([light + add, a * cos - b * sin, a * sin + b * cos])))


@kernel
def _by_place_tile(tile, values, by_lightness, out):  # type: ignore[no-untyped-def]
    """Three loops a row, so that only the look-ups in the middle stay outside the vectoriser."""
    cosines, sines, adds = values[0], values[1], values[2]
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
            cos, sin, add = at_place(cosines, place[x]), at_place(sines, place[x]), at_place(adds, place[x])
            light[x], a[x], b[x] = light[x] + add, a[x] * cos - b[x] * sin, a[x] * sin + b[x] * cos
        for x in range(width):
            red[x], green[x], blue[x] = rgb_from_oklab(light[x], a[x], b[x])


def prepare_by_place(values: Floats, over: Over) -> Apply:
    """`by_place` on tiles."""
    floats, by_lightness = as_picture(values), over == "lightness"
    return lambda tile, out, at: _by_place_tile(tile, floats, by_lightness, out)
