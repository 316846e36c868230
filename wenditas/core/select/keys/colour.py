"""Key by colour: nearness to the picks in Oklab, lightness weighing as much as one likes.

With D = 100 * sqrt(weight (L - L')^2 + (a - a')^2 + (b - b')^2) to the nearest pick:

    inside = 1 - smoothstep(tolerance, tolerance + softness, D)
    apart  = smoothstep(-softness / 2, softness / 2, D_not - D)      with not-this picks
"""

from typing import Literal

import numpy as np

from wenditas.core.colour.fast import ONE, ZERO, oklab, smoothstep
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats, Matte, Picture, kernel
from wenditas.core.params import number
from wenditas.core.select.keys.record import LEAST_WIDTH, FillMatte, KeyBase, KeyRecord, smooth
from wenditas.core.select.picks import Pick

HUNDRED, FAR = np.float32(100), np.float32(1e9)


class ColourKey(KeyBase):
    """The parameters of a key by colour. Distances are Oklab times 100."""

    type: Literal["colour"] = "colour"
    picks: tuple[Pick, ...] = ()
    refused: tuple[Pick, ...] = ()
    tolerance: float = number(8, "Tolerance", "How far a colour may be from a pick and still be fully selected.", low=0, high=60, step=0.5)
    softness: float = number(6, "Softness", "How gradually the selection ends beyond the tolerance.", low=0, high=60, step=0.5)
    lightness_weight: float = number(50, "Lightness", "How much lightness counts. At 0 % only hue and chroma do.", low=0, high=100, step=1, unit="%")


def colour_key(picture: Picture, key: ColourKey) -> Matte:
    """The matte of a key by colour, in plain NumPy (reference).

    picture: `(3, h, w)` gamma-coded, limited to 0-1.25. Returns `(h, w)`, 0-1. No picks select nothing.
    Source: Oklab by Ottosson 2020; Euclidean distance; the formula above.
    """
    if not key.picks:
        return np.zeros(picture.shape[1:], np.float32)
    lab = oklab_from_rgb(np.clip(picture, 0, 1.25))
    weights = np.array([key.lightness_weight / 100, 1, 1]).reshape(3, 1, 1)

    def nearest(picks: tuple[Pick, ...]) -> Floats:
        each = [100 * np.sqrt((weights * (lab - oklab_from_rgb(p.colour).reshape(3, 1, 1)) ** 2).sum(axis=0)) for p in picks]
        return np.asarray(np.min(each, axis=0))

    d = nearest(key.picks)
    matte = 1 - smooth(key.tolerance, key.softness, d)
    if key.refused:
        matte = matte * smooth(-key.softness / 2, key.softness, nearest(key.refused) - d)
    return np.asarray(matte, np.float32)


@kernel
def _nearest(lightness, a, b, places, weight, out):  # type: ignore[no-untyped-def]
    for x in range(out.size):
        out[x] = FAR
    for n in range(places.shape[0]):
        for x in range(out.size):
            dl, da, db = lightness[x] - places[n, 0], a[x] - places[n, 1], b[x] - places[n, 2]
            out[x] = min(out[x], weight * dl * dl + da * da + db * db)
    for x in range(out.size):
        out[x] = HUNDRED * np.sqrt(out[x])


@kernel
def _colour_key_rows(tile, picks, refused, tolerance, per_softness, weight, matte):  # type: ignore[no-untyped-def]
    width = tile.shape[2]
    lightness, a, b = np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.float32)
    d, apart = np.empty(width, np.float32), np.empty(width, np.float32)
    half = np.float32(-0.5) / per_softness
    for y in range(tile.shape[1]):
        red, green, blue, row = tile[0, y], tile[1, y], tile[2, y], matte[y]
        for x in range(width):
            lightness[x], a[x], b[x] = oklab(red[x], green[x], blue[x])
        _nearest(lightness, a, b, picks, weight, d)
        for x in range(width):
            row[x] = ONE - smoothstep(tolerance, per_softness, d[x])
        if refused.shape[0] > 0:
            _nearest(lightness, a, b, refused, weight, apart)
            for x in range(width):
                row[x] *= smoothstep(half, per_softness, apart[x] - d[x])


def _places(picks: tuple[Pick, ...]) -> Floats:
    return np.ascontiguousarray(np.reshape([oklab_from_rgb(p.colour) for p in picks], (-1, 3)), np.float32)


def prepare(key: ColourKey) -> FillMatte:
    """The key with its constants worked out, ready to fill the mattes of tiles."""
    if not key.picks:
        return lambda tile, matte: matte.fill(ZERO)
    picks, refused = _places(key.picks), _places(key.refused)
    numbers = (key.tolerance, 1 / max(key.softness, LEAST_WIDTH), key.lightness_weight / 100)
    tolerance, per_softness, weight = (np.float32(v) for v in numbers)
    return lambda tile, matte: _colour_key_rows(tile, picks, refused, tolerance, per_softness, weight, matte)


RECORD = KeyRecord("colour", "By colour", "Matches nearness to the picked colours, lightness included.", ColourKey, colour_key, prepare)
