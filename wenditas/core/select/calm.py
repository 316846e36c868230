"""Calming chroma before a key: what the codec and the sensor left in it is smoothed, edges are kept, and it is brought up to size by luma.

Chroma is what compression saves on: it comes at half size, coarsely quantised, in blocks, and where it is small its hue is noise.
On chroma at its own size a bilateral filter (Tomasi and Manduchi 1998) with Tukey's biweight for likeness (Durand and Dorsey 2002)
looks at luma and chroma; its reach in both is a multiple of the measured noise, so that clean footage stays as it is. Then each
pixel takes the chroma of those of the four nearest samples whose luma is like its own: joint bilateral upsampling (Kopf, Cohen,
Lischinski and Uyttendaele 2007).
"""

from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709, differences, rgb_from_differences, spans
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.tiles import run_tiles

RADIUS, SMALL_RADIUS = 3, 2  # in samples of chroma at half size; of pictures that are smaller than the footage, whose chroma is averaged already
CHROMA_REACH, LUMA_REACH = 10.0, 16.0  # differences that count as nothing to do with each other, in standard deviations of the noise
LIFT_REACH, LIFT_LEAST = 0.12, 1e-3  # difference in luma at which a sample no longer speaks for a pixel; the least that it does all the same
LEAST_NOISE = 1e-3  # a quarter of a code value of 8 bits: nothing to calm
NATIVE = 0.75  # of the footage's lines from which a picture of it still has chroma at half size
KR, KG, KB = (np.float32(k) for k in LUMA_709)
BLUE, RED = (np.float32(v) for v in spans())
PER_B, PER_R = (np.float32(1 / v) for v in spans())
QUARTER, ZERO, ONE, LEAST = np.float32(0.25), np.float32(0), np.float32(1), np.float32(LIFT_LEAST)
SHARES = np.array([[9, 3], [3, 1]], np.float32) / np.float32(16)  # of bilinear interpolation: the sample that a pixel lies in, and its neighbours


@dataclass(frozen=True)
class Noise:
    """How much the colours of footage waver. sigma: standard deviation of coded chroma (white is 1); lines: of the footage it was measured on, 0: unknown."""

    sigma: float = 0.0
    lines: int = 0

    def times(self, share: float) -> "Noise":
        """A share of it."""
        return Noise(self.sigma * share, self.lines)

    @property
    def calm(self) -> bool:
        """Whether there is nothing to calm."""
        return self.sigma < LEAST_NOISE


NO_NOISE = Noise()


def _nearness(radius: int) -> Floats:
    across = np.arange(-radius, radius + 1)
    return as_picture(np.exp(-(across[:, None] ** 2 + across[None] ** 2) / (2 * (radius / 1.5) ** 2)))


NEARNESS, SMALL_NEARNESS = _nearness(RADIUS), _nearness(SMALL_RADIUS)


def _halves(noise: Noise, height: int, width: int) -> bool:
    """Whether chroma is taken at half size: on pictures about as large as the footage."""
    return height >= NATIVE * noise.lines and min(height, width) > 1


def calmed_reference(picture: Picture, noise: Noise) -> Picture:
    """`calmed` in plain NumPy, float64."""
    if noise.calm:
        return picture
    planes = differences(picture)
    y = planes[0]
    halves = _halves(noise, *y.shape)
    small: Floats = _halved_reference(planes) if halves else planes
    nearness = NEARNESS if halves else SMALL_NEARNESS
    r = len(nearness) // 2
    padded = np.pad(small, ((0, 0), (r, r), (r, r)), mode="edge")
    total, sums = np.zeros(small.shape[1:], np.float64), np.zeros((2, *small.shape[1:]), np.float64)
    rows, columns = small.shape[1:]
    for j in range(2 * r + 1):
        for i in range(2 * r + 1):
            there = padded[:, j : j + rows, i : i + columns]
            d = there - small
            t = (d[0] / (LUMA_REACH * noise.sigma)) ** 2 + (d[1] ** 2 + d[2] ** 2) / (CHROMA_REACH * noise.sigma) ** 2
            weight = nearness[j, i] * np.maximum(1 - t, 0) ** 2
            total, sums = total + weight, sums + weight * there[1:]
    smooth = sums / total
    chroma: Floats = _lifted_reference(np.concatenate([small[:1], smooth]), y) if halves else smooth
    return as_picture(rgb_from_differences([y, *chroma]))


def _halved_reference(planes: Floats) -> Floats:
    _, rows, columns = planes.shape
    even = np.pad(planes, ((0, 0), (0, rows % 2), (0, columns % 2)), mode="edge")
    return np.asarray((even[:, ::2, ::2] + even[:, 1::2, ::2] + even[:, ::2, 1::2] + even[:, 1::2, 1::2]) / 4)


def _lifted_reference(small: Floats, y: Floats) -> Floats:
    total, sums = np.zeros(y.shape), np.zeros((2, *y.shape))
    rows, columns = (np.arange(n) for n in y.shape)
    for j in (0, 1):
        for i in (0, 1):
            near_row, near_column = (
                (rows // 2 if j == 0 else rows // 2 + np.where(rows % 2, 1, -1)),
                (columns // 2 if i == 0 else columns // 2 + np.where(columns % 2, 1, -1)),
            )
            at = np.ix_(np.clip(near_row, 0, small.shape[1] - 1), np.clip(near_column, 0, small.shape[2] - 1))
            share = (0.75 if j == 0 else 0.25) * (0.75 if i == 0 else 0.25)
            like = np.maximum(1 - ((small[0][at] - y) / LIFT_REACH) ** 2, 0) ** 2 + LIFT_LEAST
            total, sums = total + share * like, sums + share * like * np.stack([small[1][at], small[2][at]])
    return np.asarray(sums / total)


@kernel
def _planes_rows(picture, halves, first, end, out):  # type: ignore[no-untyped-def]
    """Luma and chroma, at half size where `halves`, into rows `first` to `end` of `out`, which is padded by `RADIUS` on every side."""
    height, width = picture.shape[1], picture.shape[2]
    columns = out.shape[2] - 2 * RADIUS
    for row in range(first, end):
        to = row + RADIUS
        for x in range(columns):
            r, g, b = ZERO, ZERO, ZERO
            if halves:
                y0, x0 = 2 * row, 2 * x
                y1, x1 = min(y0 + 1, height - 1), min(x0 + 1, width - 1)
                r = (picture[0, y0, x0] + picture[0, y1, x0] + picture[0, y0, x1] + picture[0, y1, x1]) * QUARTER
                g = (picture[1, y0, x0] + picture[1, y1, x0] + picture[1, y0, x1] + picture[1, y1, x1]) * QUARTER
                b = (picture[2, y0, x0] + picture[2, y1, x0] + picture[2, y0, x1] + picture[2, y1, x1]) * QUARTER
            else:
                r, g, b = picture[0, row, x], picture[1, row, x], picture[2, row, x]
            luma = KR * r + KG * g + KB * b
            out[0, to, x + RADIUS], out[1, to, x + RADIUS], out[2, to, x + RADIUS] = luma, (b - luma) * PER_B, (r - luma) * PER_R
        for c in range(3):
            for x in range(RADIUS):
                out[c, to, x] = out[c, to, RADIUS]
                out[c, to, columns + RADIUS + x] = out[c, to, columns + RADIUS - 1]


@kernel
def _smooth_rows(planes, nearness, per_luma, per_chroma, first, end, out):  # type: ignore[no-untyped-def]
    """The bilateral filter on rows of padded planes; `out` is `(3, rows, columns)`: luma as it is, and the chroma."""
    columns, edge = out.shape[2], RADIUS - nearness.shape[0] // 2
    total, blues, reds = np.empty(columns, np.float32), np.empty(columns, np.float32), np.empty(columns, np.float32)
    for row in range(first, end):
        y, b, r = planes[0, row + RADIUS, RADIUS:], planes[1, row + RADIUS, RADIUS:], planes[2, row + RADIUS, RADIUS:]
        for x in range(columns):
            total[x], blues[x], reds[x] = ZERO, ZERO, ZERO
        for j in range(nearness.shape[0]):
            for i in range(nearness.shape[1]):
                near, down, across = nearness[j, i], row + j + edge, i + edge
                ty, tb, tr = planes[0, down, across:], planes[1, down, across:], planes[2, down, across:]
                for x in range(columns):
                    dy, db, dr = ty[x] - y[x], tb[x] - b[x], tr[x] - r[x]
                    like = max(ONE - dy * dy * per_luma - (db * db + dr * dr) * per_chroma, ZERO)
                    weight = near * like * like
                    total[x] += weight
                    blues[x] += weight * tb[x]
                    reds[x] += weight * tr[x]
        for x in range(columns):
            out[0, row, x], out[1, row, x], out[2, row, x] = y[x], blues[x] / total[x], reds[x] / total[x]


@kernel
def _coloured_rows(picture, small, first, end, out):  # type: ignore[no-untyped-def]
    """Rows of the picture with its own luma and the chroma of `small`, which is of the same size."""
    for row in range(first, end):
        _colour(picture[:, row], small[1, row], small[2, row], out[:, row])


@kernel
def _colour(from_row, blue, red, to):  # type: ignore[no-untyped-def]
    for x in range(from_row.shape[1]):
        luma = KR * from_row[0, x] + KG * from_row[1, x] + KB * from_row[2, x]
        r, b = luma + RED * red[x], luma + BLUE * blue[x]
        to[0, x], to[1, x], to[2, x] = r, (luma - KR * r - KB * b) / KG, b


@kernel
def _spread(row, near, far):  # type: ignore[no-untyped-def]
    """For every pixel of a row twice as wide: the sample that it lies in, and the next one on its side."""
    last = row.size - 1
    for k in range(row.size):
        near[2 * k] = near[2 * k + 1] = row[k]
        far[2 * k], far[2 * k + 1] = row[max(k - 1, 0)], row[min(k + 1, last)]


@kernel
def _lifted_rows(picture, small, per_lift, first, end, out):  # type: ignore[no-untyped-def]
    """Rows of the picture with its own luma and the chroma of `small`, lifted to twice the size."""
    width, rows = picture.shape[2], small.shape[1]
    spread = np.empty((2, 3, 2 * small.shape[2]), np.float32)
    total, blue, red = np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.float32)
    for row in range(first, end):
        r, g, b = picture[0, row], picture[1, row], picture[2, row]
        for x in range(width):
            total[x], blue[x], red[x] = ZERO, ZERO, ZERO
        for j in range(2):
            at = row // 2 if j == 0 else min(max(row // 2 + (1 if row % 2 == 1 else -1), 0), rows - 1)
            for c in range(3):
                _spread(small[c, at], spread[0, c], spread[1, c])
            for i in range(2):
                share = SHARES[j, i]
                ys, bs, rs = spread[i, 0], spread[i, 1], spread[i, 2]
                for x in range(width):
                    d = ys[x] - (KR * r[x] + KG * g[x] + KB * b[x])
                    like = max(ONE - d * d * per_lift, ZERO)
                    weight = share * (like * like + LEAST)
                    total[x] += weight
                    blue[x] += weight * bs[x]
                    red[x] += weight * rs[x]
        for x in range(width):
            blue[x], red[x] = blue[x] / total[x], red[x] / total[x]
        _colour(picture[:, row], blue, red, out[:, row])


def calmed(picture: Picture, noise: Noise) -> Picture:
    """The picture with calmer chroma and its own luma; the same object where there is nothing to calm.

    picture: `(3, h, w)`, gamma-coded R'G'B'. Returns the same shape, not limited. Source: see above; the reaches are our own, chosen by `bench/keys.py`.
    """
    if noise.calm:
        return picture
    _, height, width = picture.shape
    halves = _halves(noise, height, width)
    rows, columns = ((height + 1) // 2, (width + 1) // 2) if halves else (height, width)
    planes = np.empty((3, rows + 2 * RADIUS, columns + 2 * RADIUS), np.float32)
    small, out = np.empty((3, rows, columns), np.float32), np.empty_like(picture)
    run_tiles(rows, columns, lambda first, end, scratch: _planes_rows(picture, halves, first, end, planes))
    planes[:, :RADIUS], planes[:, rows + RADIUS :] = planes[:, RADIUS : RADIUS + 1], planes[:, rows + RADIUS - 1 : rows + RADIUS]
    per_luma, per_chroma = np.float32(1 / (LUMA_REACH * noise.sigma) ** 2), np.float32(1 / (CHROMA_REACH * noise.sigma) ** 2)
    run_tiles(rows, columns, lambda first, end, scratch: _smooth_rows(planes, NEARNESS if halves else SMALL_NEARNESS, per_luma, per_chroma, first, end, small))
    if halves:
        run_tiles(height, width, lambda first, end, scratch: _lifted_rows(picture, small, np.float32(1 / LIFT_REACH**2), first, end, out))
    else:
        run_tiles(height, width, lambda first, end, scratch: _coloured_rows(picture, small, first, end, out))
    return out
