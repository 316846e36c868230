"""Turning hues: a rotation of Oklab's a and b, with chroma scaled and lightness moved."""

import numpy as np

from wenditas.core.colour.fast import oklab, rgb_from_oklab
from wenditas.core.colour.oklab import into_gamut, limited_oklab
from wenditas.core.kernel import Picture, as_picture, kernel
from wenditas.core.treat.record import Apply


def rotate(picture: Picture, degrees: float, chroma: float = 1.0, lightness: float = 0.0) -> Picture:
    """Hues turned by `degrees`, chroma times `chroma`, `lightness` (0-1) added.

    Values are limited to 0-1.25 first; colours outside 0-1 afterwards give up chroma, not lightness.
    """
    turn = np.radians(degrees)
    light, a, b = limited_oklab(picture)
    cos, sin = chroma * np.cos(turn), chroma * np.sin(turn)
    return as_picture(into_gamut(np.stack([light + lightness, a * cos - b * sin, a * sin + b * cos])))


@kernel
def _rotate_tile(tile, cos, sin, lightness, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(tile.shape[2]):
            light, p, q = oklab(r[x], g[x], b[x])
            red[x], green[x], blue[x] = rgb_from_oklab(light + lightness, p * cos - q * sin, p * sin + q * cos)


def prepare_rotate(degrees: float, chroma: float = 1.0, lightness: float = 0.0) -> Apply:
    """`rotate` on tiles."""
    turn = np.radians(degrees)
    cos, sin, add = np.float32(chroma * np.cos(turn)), np.float32(chroma * np.sin(turn)), np.float32(lightness)
    return lambda tile, out, at: _rotate_tile(tile, cos, sin, add, out)
