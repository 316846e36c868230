"""Look-up tables of colour: one-dimensional per channel, or a cube read by tetrahedra."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture, cell, kernel

ZERO, ONE = np.float32(0), np.float32(1)
G, B = np.uint32(1), np.uint32(2)


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

    @property
    def nbytes(self) -> int:
        """Memory held, about: as it was read, and as the kernels take it."""
        return int(self.table.nbytes) * (2 if self.cube else 1)

    @cached_property
    def prepared(self) -> tuple[Floats, Floats, Floats]:
        """What the kernels take, worked out once."""
        return prepare_lut(self)


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
    """The cube on a tile; `flat` is `(n * n * n * 4,)`, red fastest, each sample padded to four.

    A row's corners and weights are found first, without branches and by the vectoriser: the second corner
    is one step from the near one along the largest fraction, the third one step short of the far one along the least.
    """
    width = tile.shape[2]
    corners, weights = np.empty((4, width), np.int32), np.empty((4, width), np.float32)
    c0, c1, c2, c3 = corners[0], corners[1], corners[2], corners[3]
    w0, w1, w2, w3 = weights[0], weights[1], weights[2], weights[3]
    last, top = np.float32(size - 1), np.int32(size - 2)
    sr, sg, sb = np.int32(4), np.int32(4 * size), np.int32(4 * size * size)
    far = np.int32(sr + sg + sb)
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        for x in range(width):
            pr = min(max((r[x] - low[0]) * scale[0], ZERO), last)
            pg = min(max((g[x] - low[1]) * scale[1], ZERO), last)
            pb = min(max((b[x] - low[2]) * scale[2], ZERO), last)
            nr, ng, nb = cell(pr, top), cell(pg, top), cell(pb, top)
            fr, fg, fb = pr - np.float32(nr), pg - np.float32(ng), pb - np.float32(nb)
            most, least = max(max(fr, fg), fb), min(min(fr, fg), fb)
            middle = max(min(fr, fg), min(max(fr, fg), fb))
            first = sr if fr >= fg and fr >= fb else (sg if fg >= fb else sb)
            final = sb if fb <= fr and fb <= fg else (sg if fg <= fr else sr)
            near = np.int32(nr * sr + ng * sg + nb * sb)
            c0[x], c1[x], c2[x], c3[x] = near, near + first, near + far - final, near + far
            w0[x], w1[x], w2[x], w3[x] = ONE - most, most - middle, middle - least, least
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(width):
            i, j, k, n = np.uint32(c0[x]), np.uint32(c1[x]), np.uint32(c2[x]), np.uint32(c3[x])
            p, q, s, t = w0[x], w1[x], w2[x], w3[x]
            red[x] = p * flat[i] + q * flat[j] + s * flat[k] + t * flat[n]
            green[x] = p * flat[i + G] + q * flat[j + G] + s * flat[k + G] + t * flat[n + G]
            blue[x] = p * flat[i + B] + q * flat[j + B] + s * flat[k + B] + t * flat[n + B]


@kernel
def line_tile(tile, table, low, scale, out):  # type: ignore[no-untyped-def]
    """The one-dimensional LUT on a tile; `table` is `(n, 3)`."""
    last, top = np.float32(table.shape[0] - 1), np.int32(table.shape[0] - 2)
    for c in range(3):
        for y in range(tile.shape[1]):
            for x in range(tile.shape[2]):
                p = min(max((tile[c, y, x] - low[c]) * scale[c], ZERO), last)
                n = cell(p, top)
                u = np.uint32(n)
                out[c, y, x] = table[u, c] + (table[u + np.uint32(1), c] - table[u, c]) * (p - np.float32(n))


def prepare_lut(lut: Lut) -> tuple[Floats, Floats, Floats]:
    """The table as the kernels take it, the low ends and the samples per unit, float32."""
    flat = as_picture(lut.table)
    if lut.cube:
        flat = np.zeros((lut.size**3, 4), np.float32)
        flat[:, :3] = lut.table.reshape(-1, 3)
        flat = flat.ravel()
    low, high = np.array(lut.low), np.array(lut.high)
    return flat, as_picture(low), as_picture((lut.size - 1) / (high - low))
