"""Tables of a channel's own value, and of one number made from the pixel: luma, lightness, a channel, hue or saturation."""

from typing import Literal, get_args

import numpy as np

from wenditas.core.colour.fast import angle_of, oklab
from wenditas.core.colour.oklab import lch_from_lab, limited_oklab
from wenditas.core.colour.ycbcr import LUMA_709, luma
from wenditas.core.kernel import Floats, Picture, as_picture, cell, copy, inline, kernel
from wenditas.core.tone.curves import HIGH, LOW, look_up
from wenditas.core.treat.record import Apply

Input = Literal["luma", "lightness", "red", "green", "blue", "hue", "saturation"]
INPUTS: tuple[Input, ...] = get_args(Input)
FULL_CHROMA = 0.33  # OkLCh chroma that counts as 100 % saturation; the most that sRGB holds is 0.3225, at magenta
KR, KG, KB = (np.float32(w) for w in LUMA_709)
ZERO, ONE, INVERSE_CHROMA, INVERSE_TURN = (np.float32(v) for v in (0, 1, 1 / FULL_CHROMA, 1 / 360))
NEXT, TWO, FOUR, FIVE, SIX = (np.uint32(v) for v in (1, 2, 4, 5, 6))
TABLE_LOW, TABLE_SPAN = np.float32(LOW), np.float32(HIGH - LOW)


@inline
def at_place(values, place):  # type: ignore[no-untyped-def]
    """Linear interpolation in a table at a place counted in samples, held at both ends."""
    last = values.shape[0] - 1
    place = min(max(place, ZERO), np.float32(last))
    n = cell(place, np.int32(last - 1))
    u = np.uint32(n)
    left, right = values[u], values[u + np.uint32(1)]
    return left + (right - left) * (place - np.float32(n))


def by_channel(picture: Picture, tables: Floats) -> Picture:
    """Each channel through its own table of `tone.curves.table`; `tables` is `(3, n)`."""
    return as_picture(np.stack([look_up(t, plane) for t, plane in zip(tables, picture, strict=True)]))


@inline
def _find(row, low, scale, last, places, shares):  # type: ignore[no-untyped-def]
    """Sample numbers and shares of the way to the next, for a row of values; vectorised, apart from the look-ups."""
    end, top = np.float32(last), np.int32(last - 1)
    for x in range(row.shape[0]):
        place = min(max((row[x] - low) * scale, ZERO), end)
        n = cell(place, top)
        places[x], shares[x] = n, place - np.float32(n)


@kernel
def _by_channel_tile(tile, tables, out):  # type: ignore[no-untyped-def]
    last, width = tables.shape[1] - 1, tile.shape[2]
    scale = np.float32(last) / TABLE_SPAN
    places, shares = np.empty(width, np.int32), np.empty(width, np.float32)
    for c in range(3):
        values = tables[c]
        for y in range(tile.shape[1]):
            to = out[c, y]
            _find(tile[c, y], TABLE_LOW, scale, last, places, shares)
            for x in range(width):
                u = np.uint32(places[x])
                left = values[u]
                to[x] = left + (values[u + NEXT] - left) * shares[x]


def prepare_by_channel(tables: Floats) -> Apply:
    """`by_channel` on tiles."""
    values = as_picture(tables)
    return lambda tile, out, at: _by_channel_tile(tile, values, out)


def number_of(picture: Picture, what: Input) -> Floats:
    """One number per pixel, 0-1: luma (BT.709), Oklab lightness, a channel, hue over 360, or chroma over 0.33."""
    if what == "luma":
        return luma(picture)
    if what in ("red", "green", "blue"):
        return np.asarray(picture[("red", "green", "blue").index(what)], np.float64)
    lightness, chroma, hue = lch_from_lab(limited_oklab(picture))
    return np.asarray({"lightness": lightness, "hue": hue / 360, "saturation": chroma / FULL_CHROMA}[what])


@inline
def _fill_row(what, r, g, b, row):  # type: ignore[no-untyped-def]
    if what == 0:
        for x in range(row.shape[0]):
            row[x] = KR * r[x] + KG * g[x] + KB * b[x]
    elif what == 1:
        for x in range(row.shape[0]):
            row[x] = oklab(r[x], g[x], b[x])[0]
    elif what == 2:
        copy(r, row)
    elif what == 3:
        copy(g, row)
    elif what == 4:
        copy(b, row)
    elif what == 5:
        for x in range(row.shape[0]):
            _, p, q = oklab(r[x], g[x], b[x])
            row[x] = angle_of(p, q) * INVERSE_TURN
    else:
        for x in range(row.shape[0]):
            _, p, q = oklab(r[x], g[x], b[x])
            row[x] = np.sqrt(p * p + q * q) * INVERSE_CHROMA


def by_number(picture: Picture, what: Input, tables: Floats, low: float = 0.0, high: float = 1.0) -> Picture:
    """Every pixel becomes the colour of its number in `tables` `(3, n)`, which cover `low` to `high`."""
    place = number_of(picture, what)
    return as_picture(np.stack([look_up(t, place, low, high) for t in tables]))


@kernel
def _by_number_tile(tile, what, flat, low, scale, out):  # type: ignore[no-untyped-def]
    """`flat` holds the tables sample by sample, each padded to four."""
    last, width = flat.shape[0] // 4 - 1, tile.shape[2]
    row, shares, places = np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.int32)
    for y in range(tile.shape[1]):
        _fill_row(what, tile[0, y], tile[1, y], tile[2, y], row)
        _find(row, low, scale, last, places, shares)
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(width):
            u, f = np.uint32(places[x]) * FOUR, shares[x]
            r, g, b = flat[u], flat[u + NEXT], flat[u + TWO]
            red[x], green[x], blue[x] = r + (flat[u + FOUR] - r) * f, g + (flat[u + FIVE] - g) * f, b + (flat[u + SIX] - b) * f


def prepare_by_number(what: Input, tables: Floats, low: float = 0.0, high: float = 1.0) -> Apply:
    """`by_number` on tiles."""
    number, count = INPUTS.index(what), np.shape(tables)[1]
    flat = np.zeros((count, 4), np.float32)
    flat[:, :3] = np.transpose(tables)
    start, scale, values = np.float32(low), np.float32((count - 1) / max(high - low, 1e-6)), flat.ravel()
    return lambda tile, out, at: _by_number_tile(tile, number, values, start, scale, out)
