"""Look-up tables of colour: one-dimensional per channel, or a cube read by tetrahedra."""

from dataclasses import dataclass

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture, kernel

ZERO, ONE = np.float32(0), np.float32(1)


@dataclass(frozen=True)
class Lut:
    """A LUT. table: float32 `(n, 3)`, or `(n, n, n, 3)` indexed blue, green, red; low, high: the input range per channel."""

    title: str
    table: Picture
    low: tuple[float, float, float] = (0.0, 0.0, 0.0)
    high: tuple[float, float, float] = (1.0, 1.0, 1.0)

    @property
    def cube(self) -> bool:
        """Whether it is three-dimensional."""
        return self.table.ndim == 4

    @property
    def size(self) -> int:
        """Samples along an edge."""
        return int(self.table.shape[0])


def apply_lut(picture: Picture, lut: Lut) -> Picture:
    """A picture through a LUT: linear between samples in one dimension, tetrahedral in three; inputs held to the LUT's range.

    picture: `(3, h, w)`. Returns the same shape, not limited.
    Source: Kasson, Nin, Plouffe & Hafner 1995, tetrahedral interpolation; the published .cube description for the rest.
    """
    low, high = np.array(lut.low)[:, None, None], np.array(lut.high)[:, None, None]
    place = np.clip((picture.astype(np.float64) - low) / (high - low), 0, 1) * (lut.size - 1)
    n = np.minimum(place.astype(int), lut.size - 2)
    f = place - n
    if not lut.cube:
        planes = [lut.table[n[c], c] + (lut.table[n[c] + 1, c] - lut.table[n[c], c]) * f[c] for c in range(3)]
        return as_picture(np.stack(planes))
    order = np.argsort(-f, axis=0, kind="stable")  # the largest step first: red, green, blue where equal
    corner, before = n.copy(), lut.table[n[2], n[1], n[0]].astype(np.float64)
    out = before.copy()
    for step in range(3):
        axis = order[step]
        for c in range(3):
            corner[c] += axis == c
        value = lut.table[corner[2], corner[1], corner[0]].astype(np.float64)
        share = np.take_along_axis(f, axis[None], axis=0)[0]
        out += (value - before) * share[..., None]
        before = value
    return as_picture(np.moveaxis(out, -1, 0))


@kernel
def cube_tile(tile, flat, size, low, scale, out):  # type: ignore[no-untyped-def]
    """The cube on a tile; `flat` is `(n * n * n, 3)`, red fastest."""
    last, top = np.float32(size - 1), np.int32(size - 2)
    sr, sg, sb = np.int32(1), np.int32(size), np.int32(size * size)
    for y in range(tile.shape[1]):
        for x in range(tile.shape[2]):
            pr = min(max((tile[0, y, x] - low[0]) * scale[0], ZERO), last)
            pg = min(max((tile[1, y, x] - low[1]) * scale[1], ZERO), last)
            pb = min(max((tile[2, y, x] - low[2]) * scale[2], ZERO), last)
            nr, ng, nb = min(np.int32(pr), top), min(np.int32(pg), top), min(np.int32(pb), top)
            fr, fg, fb = pr - np.float32(nr), pg - np.float32(ng), pb - np.float32(nb)
            first = np.uint32(nr * sr + ng * sg + nb * sb)
            end = np.uint32(first + np.uint32(sr + sg + sb))
            # The two corners between the near one and the far one, in the order of the fractions.
            if fr >= fg:
                if fg >= fb:
                    a, b, w1, w2, w3 = sr, sr + sg, fr, fg, fb
                elif fr >= fb:
                    a, b, w1, w2, w3 = sr, sr + sb, fr, fb, fg
                else:
                    a, b, w1, w2, w3 = sb, sb + sr, fb, fr, fg
            elif fr >= fb:
                a, b, w1, w2, w3 = sg, sg + sr, fg, fr, fb
            elif fg >= fb:
                a, b, w1, w2, w3 = sg, sg + sb, fg, fb, fr
            else:
                a, b, w1, w2, w3 = sb, sb + sg, fb, fg, fr
            second, third = np.uint32(first + np.uint32(a)), np.uint32(first + np.uint32(b))
            k0, k1, k2 = ONE - w1, w1 - w2, w2 - w3
            for c in range(3):
                out[c, y, x] = k0 * flat[first, c] + k1 * flat[second, c] + k2 * flat[third, c] + w3 * flat[end, c]


@kernel
def line_tile(tile, table, low, scale, out):  # type: ignore[no-untyped-def]
    """The one-dimensional LUT on a tile; `table` is `(n, 3)`."""
    last, top = np.float32(table.shape[0] - 1), np.int32(table.shape[0] - 2)
    for c in range(3):
        for y in range(tile.shape[1]):
            for x in range(tile.shape[2]):
                p = min(max((tile[c, y, x] - low[c]) * scale[c], ZERO), last)
                n = min(np.int32(p), top)
                u = np.uint32(n)
                out[c, y, x] = table[u, c] + (table[u + np.uint32(1), c] - table[u, c]) * (p - np.float32(n))


def prepare_lut(lut: Lut) -> tuple[Floats, Floats, Floats]:
    """The flat table, the low ends and the samples per unit, float32, for the kernels."""
    flat = as_picture(lut.table.reshape(-1, 3))
    low, high = np.array(lut.low), np.array(lut.high)
    return flat, as_picture(low), as_picture((lut.size - 1) / (high - low))
