"""Changes that depend on a pixel's hue: chroma, hue and lightness, each from a table round the circle."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from wenditas.core.colour.fast import angle_of, oklab, rgb_from_oklab, smoothstep
from wenditas.core.colour.oklab import into_gamut, lch_from_lab, limited_oklab
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.tone.curves import look_up, ring
from wenditas.core.treat.parts.tables import at_place
from wenditas.core.treat.record import Apply

SAMPLES = 1440
GATE_LOW, GATE_WIDTH = 0.02, 0.04  # chroma below which hue is noise, and the width of the ramp above it
LOW, INVERSE_WIDTH, PER_DEGREE = np.float32(GATE_LOW), np.float32(1 / GATE_WIDTH), np.float32(SAMPLES / 360)

Points = Sequence[Sequence[float]]


def hue_table(points: Points) -> Floats:
    """The ring through points as `SAMPLES + 1` values over 0-360 degrees."""
    return ring(points, np.linspace(0, 360, SAMPLES + 1))


def tables(saturation: Points | None = None, shift: Points | None = None, lightness: Points | None = None) -> Floats:
    """Chroma factor, cosine and sine of the turn, and added lightness, `(4, SAMPLES + 1)`, from points in percent and degrees."""
    flat = np.zeros(SAMPLES + 1)
    factor = flat + 1 if saturation is None else hue_table(saturation) / 100
    turn = flat if shift is None else np.radians(hue_table(shift))
    return np.stack([factor, np.cos(turn), np.sin(turn), flat if lightness is None else hue_table(lightness) / 100])


def by_hue(picture: Picture, values: Floats) -> Picture:
    """Chroma, hue and lightness changed by the tables of `tables`.

    Lightness changes fade out towards grey, whose hue is noise. Values are limited to 0-1.25 first.
    """
    lab = limited_oklab(picture)
    light, chroma, hue = lch_from_lab(lab)
    factor, cos, sin, add = (look_up(v, hue, 0, 360) for v in values)
    t = np.clip((chroma - GATE_LOW) / GATE_WIDTH, 0, 1)
    a, b = lab[1] * factor, lab[2] * factor
    return as_picture(into_gamut(np.stack([light + add * (t * t * (3 - 2 * t)), a * cos - b * sin, a * sin + b * cos])))


@kernel
def _by_hue_tile(tile, values, out):  # type: ignore[no-untyped-def]
    """Three loops a row, so that only the look-ups in the middle stay outside the vectoriser."""
    factors, cosines, sines, adds = values[0], values[1], values[2], values[3]
    width = tile.shape[2]
    rows = np.empty((5, width), np.float32)
    light, a, b, place, gate = rows[0], rows[1], rows[2], rows[3], rows[4]
    for y in range(tile.shape[1]):
        r, g, bl = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(width):
            light[x], p, q = oklab(r[x], g[x], bl[x])
            place[x] = angle_of(p, q) * PER_DEGREE
            gate[x] = smoothstep(LOW, INVERSE_WIDTH, np.sqrt(p * p + q * q))
            a[x], b[x] = p, q
        for x in range(width):
            factor, cos, sin, add = at_place(factors, place[x]), at_place(cosines, place[x]), at_place(sines, place[x]), at_place(adds, place[x])
            p, q = a[x] * factor, b[x] * factor
            light[x], a[x], b[x] = light[x] + add * gate[x], p * cos - q * sin, p * sin + q * cos
        for x in range(width):
            red[x], green[x], blue[x] = rgb_from_oklab(light[x], a[x], b[x])


def prepare_by_hue(values: npt.ArrayLike) -> Apply:
    """`by_hue` on tiles."""
    floats = as_picture(values)
    return lambda tile, out, at: _by_hue_tile(tile, floats, out)
