"""Slope, offset and power per channel: what levels, lift/gamma/gain and the ASC CDL come down to."""

import numpy as np

from wenditas.core.colour.fast import power
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.treat.record import Apply

ONE = np.float32(1)


def powers(picture: Picture, slope: Floats, offset: Floats, exponent: Floats, after: Floats, add: Floats, limit: bool = False) -> Picture:
    """max(value * slope + offset, 0) ** exponent * after + add, per channel; with `limit` also held below 1 before the power."""
    s, o, e, k, a = (np.asarray(v, np.float64)[:, None, None] for v in (slope, offset, exponent, after, add))
    base = np.maximum(picture * s + o, 0)
    return as_picture((np.minimum(base, 1) if limit else base) ** e * k + a)


@kernel
def _powers_tile(tile, slope, offset, exponent, after, add, top, out):  # type: ignore[no-untyped-def]
    for c in range(3):
        s, o, e, k, a = slope[c], offset[c], exponent[c], after[c], add[c]
        for y in range(tile.shape[1]):
            row, to = tile[c, y], out[c, y]
            if e == ONE:
                for x in range(tile.shape[2]):
                    to[x] = min(max(row[x] * s + o, np.float32(0)), top) * k + a
            else:
                for x in range(tile.shape[2]):
                    to[x] = power(min(row[x] * s + o, top), e) * k + a


def prepare_powers(slope: Floats, offset: Floats, exponent: Floats, after: Floats, add: Floats, limit: bool = False) -> Apply:
    """`powers` on tiles."""
    s, o, e, k, a = (as_picture(v) for v in (slope, offset, exponent, after, add))
    top = np.float32(1 if limit else 1e9)
    return lambda tile, out, at: _powers_tile(tile, s, o, e, k, a, top, out)
