"""Key by hue: keeps the lit and shaded parts of one colour together.

With d the least circular distance in OkLCh hue from a pixel to any pick, and C its chroma:

    inside = 1 - smoothstep(tolerance, tolerance + softness, d)
    gate   = smoothstep(least chroma, least chroma + gate softness, C)
    strong = smoothstep(least saturation, least saturation + saturation edge, S)                         where least saturation > 0
    weak   = 1 - smoothstep(most saturation - saturation edge, most saturation, S)                       where most saturation < 100
    lit    = smoothstep(least lightness, least lightness + lightness edge, 100 L)                        where least lightness > 0
    dim    = 1 - smoothstep(most lightness - lightness edge, most lightness, 100 L)                      where most lightness < 100
    apart  = smoothstep(-softness / 2, softness / 2, d_not - d)      with not-this picks
    matte  = inside * gate * strong * weak * lit * dim * apart

with S = 100 C / max(L, 0.05), chroma for its lightness.

The gate keeps near-greys, whose hue is noise, out. S does not change as light falls on a thing or leaves it (Oklab's
L, a and b grow alike with light), so `strong` tells a thing from greyer ones in sun and shade. `apart` puts the border half way
between picks and not-this picks, so that a not-this pick narrows the key on its own side.
"""

from typing import Literal

import numpy as np

from wenditas.core.colour.fast import ONE, TINY, ZERO, angle, oklab, smoothstep
from wenditas.core.colour.oklab import hue_distance, oklch_from_rgb
from wenditas.core.kernel import Floats, Matte, Picture, kernel
from wenditas.core.params import number
from wenditas.core.select.keys.record import LEAST_WIDTH, FillMatte, KeyBase, KeyRecord, smooth
from wenditas.core.select.picks import Pick

DARK = 0.05  # of Oklab's lightness: below it chroma is measured against no less
HUNDRED, FLOOR = np.float32(100), np.float32(DARK)


class HueKey(KeyBase):
    """The parameters of a key by hue."""

    type: Literal["hue"] = "hue"
    picks: tuple[Pick, ...] = ()
    refused: tuple[Pick, ...] = ()
    tolerance: float = number(9, "Tolerance", "How far a hue may be from a pick and still be fully selected.", low=0, high=90, step=0.5, unit="°")
    softness: float = number(6, "Softness", "How gradually the selection ends beyond the tolerance.", low=0, high=90, step=0.5, unit="°")
    least_chroma: float = number(0.04, "Least chroma", "Colours greyer than this stay out: their hue is noise.", low=0, high=0.3, step=0.005, fine=True)
    gate_softness: float = number(0.02, "Chroma edge", "How gradually greyish colours come in above the least chroma.", low=0, high=0.2, step=0.005, fine=True)
    least_saturation: float = number(
        0, "Least saturation", "Colours with less chroma for their lightness stay out, in sun and shade alike.", low=0, high=100, step=0.5, unit="%"
    )
    saturation_edge: float = number(
        2, "Saturation edge", "How gradually colours come in above the least saturation.", low=0, high=50, step=0.5, fine=True, unit="%"
    )
    most_saturation: float = number(
        100, "Most saturation", "Colours with more chroma for their lightness stay out: skin beside an orange.", low=0, high=100, step=0.5, unit="%"
    )
    least_lightness: float = number(0, "Least lightness", "Darker colours stay out: their hue is noise.", low=0, high=100, step=0.5, unit="%")
    most_lightness: float = number(100, "Most lightness", "Lighter colours stay out: a brown beside an orange.", low=0, high=100, step=0.5, unit="%")
    lightness_edge: float = number(
        3, "Lightness edge", "How gradually colours come in above the least lightness.", low=0, high=50, step=0.5, fine=True, unit="%"
    )
    hue_offset: float = number(0, "Hue offset", "Turns the whole key round the hue circle.", low=-180, high=180, step=0.5, fine=True, unit="°")


def saturation(lightness: Floats, chroma: Floats) -> Floats:
    """Chroma for its lightness, about 0-0.6: the same in sun and shade (CIE 1976 s_uv is defined so, CIE 15; here in Oklab)."""
    return np.asarray(chroma / np.maximum(lightness, DARK))


def hues(picks: tuple[Pick, ...], offset: float) -> list[float]:
    """OkLCh hues of the picks in degrees 0-360, turned by `offset` degrees."""
    return [float((oklch_from_rgb(p.colour)[2] + offset) % 360) for p in picks]


def hue_key(picture: Picture, key: HueKey) -> Matte:
    """The matte of a key by hue, in plain NumPy (reference).

    picture: `(3, h, w)` gamma-coded, limited to 0-1.25 as the kernel does. Returns `(h, w)`, 0-1.
    No picks select nothing. Source: OkLCh by Ottosson 2020; the formula above.
    """
    if not key.picks:
        return np.zeros(picture.shape[1:], np.float32)
    lightness, chroma, hue = oklch_from_rgb(np.clip(picture, 0, 1.25))

    def nearest(picks: tuple[Pick, ...]) -> Floats:
        return np.asarray(np.min([hue_distance(hue, h) for h in hues(picks, key.hue_offset)], axis=0))

    d = nearest(key.picks)
    matte = (1 - smooth(key.tolerance, key.softness, d)) * smooth(key.least_chroma, key.gate_softness, chroma)
    if key.least_saturation > 0:
        matte = matte * smooth(key.least_saturation, key.saturation_edge, 100 * saturation(lightness, chroma))
    if key.most_saturation < 100:
        matte = matte * (1 - smooth(key.most_saturation - key.saturation_edge, key.saturation_edge, 100 * saturation(lightness, chroma)))
    if key.least_lightness > 0:
        matte = matte * smooth(key.least_lightness, key.lightness_edge, 100 * lightness)
    if key.most_lightness < 100:
        matte = matte * (1 - smooth(key.most_lightness - key.lightness_edge, key.lightness_edge, 100 * lightness))
    if key.refused:
        matte = matte * smooth(-key.softness / 2, key.softness, nearest(key.refused) - d)
    return np.asarray(matte, np.float32)


@kernel
def _nearest_angle(a, b, vectors, side, along, out):  # type: ignore[no-untyped-def]
    """Angle in degrees from each (a, b) to the nearest of the unit vectors; `side`, `along` are scratch rows."""
    for x in range(a.size):
        along[x] = a[x] * vectors[0, 0] + b[x] * vectors[0, 1]
        side[x] = abs(a[x] * vectors[0, 1] - b[x] * vectors[0, 0])
    for n in range(1, vectors.shape[0]):
        for x in range(a.size):
            dot = a[x] * vectors[n, 0] + b[x] * vectors[n, 1]
            cross = abs(a[x] * vectors[n, 1] - b[x] * vectors[n, 0])
            closer = dot > along[x]
            along[x] = dot if closer else along[x]
            side[x] = cross if closer else side[x]
    for x in range(a.size):
        out[x] = angle(along[x], side[x])


@kernel
def _hue_key_rows(tile, picks, refused, limits, matte):  # type: ignore[no-untyped-def]
    """`hue_key` on a tile; row by row, so that every buffer stays in the first cache."""
    (tolerance, per_softness), (least, per_gate) = limits[0], limits[1]
    (strong, per_strong), (weak, per_weak), (lit, per_lit), (dim, per_dim) = limits[2], limits[3], limits[4], limits[5]
    width = tile.shape[2]
    lightness, a, b = np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.float32)
    side, along = np.empty(width, np.float32), np.empty(width, np.float32)
    d, apart = np.empty(width, np.float32), np.empty(width, np.float32)
    half = np.float32(-0.5) / per_softness
    for y in range(tile.shape[1]):
        red, green, blue, row = tile[0, y], tile[1, y], tile[2, y], matte[y]
        for x in range(width):
            lightness[x], a[x], b[x] = oklab(red[x], green[x], blue[x])
        _nearest_angle(a, b, picks, side, along, d)
        for x in range(width):
            chroma = np.sqrt(a[x] * a[x] + b[x] * b[x] + TINY)
            row[x] = (ONE - smoothstep(tolerance, per_softness, d[x])) * smoothstep(least, per_gate, chroma)
        if strong > ZERO or weak < HUNDRED:
            for x in range(width):
                side[x] = HUNDRED * np.sqrt(a[x] * a[x] + b[x] * b[x] + TINY) / max(lightness[x], FLOOR)
        if strong > ZERO:
            for x in range(width):
                row[x] *= smoothstep(strong, per_strong, side[x])
        if weak < HUNDRED:
            for x in range(width):
                row[x] *= ONE - smoothstep(weak - ONE / per_weak, per_weak, side[x])
        if lit > ZERO:
            for x in range(width):
                row[x] *= smoothstep(lit, per_lit, HUNDRED * lightness[x])
        if dim < HUNDRED:
            for x in range(width):
                row[x] *= ONE - smoothstep(dim - ONE / per_dim, per_dim, HUNDRED * lightness[x])
        if refused.shape[0] > 0:
            _nearest_angle(a, b, refused, side, along, apart)
            for x in range(width):
                row[x] *= smoothstep(half, per_softness, apart[x] - d[x])


def _vectors(picks: tuple[Pick, ...], offset: float) -> Floats:
    radians = np.radians(hues(picks, offset))
    return np.ascontiguousarray(np.stack([np.cos(radians), np.sin(radians)], axis=-1).reshape(-1, 2), np.float32)


def prepare(key: HueKey) -> FillMatte:
    """The key with its constants worked out, ready to fill the mattes of tiles."""
    if not key.picks:
        return lambda tile, matte: matte.fill(ZERO)
    picks, refused = _vectors(key.picks, key.hue_offset), _vectors(key.refused, key.hue_offset)
    edges = (
        (key.tolerance, key.softness),
        (key.least_chroma, key.gate_softness),
        (key.least_saturation, key.saturation_edge),
        (key.most_saturation, key.saturation_edge),
        (key.least_lightness, key.lightness_edge),
        (key.most_lightness, key.lightness_edge),
    )
    limits = np.array([(limit, 1 / max(width, LEAST_WIDTH)) for limit, width in edges], np.float32)
    return lambda tile, matte: _hue_key_rows(tile, picks, refused, limits, matte)


RECORD = KeyRecord("hue", "By hue", "Matches the hue, so lit and shaded parts of one colour stay together.", HueKey, hue_key, prepare)
