"""Calming chroma before a key: what the codec and the sensor left in it is smoothed, edges are kept, and it is brought up to size by luma.

Chroma is what compression saves on: it comes at half size, coarsely quantised, in blocks, and where it is small its hue is noise.
On chroma at its own size a bilateral filter (Tomasi and Manduchi 1998) with Tukey's biweight for likeness (Durand and Dorsey 2002)
looks at luma and chroma, along rows and then along columns (Pham and van Vliet 2005, *Separable Bilateral Filtering for Fast Video
Preprocessing*); its reach in both is a multiple of the measured noise, so that clean footage stays as it is. Then each
pixel takes the chroma of those of the four nearest samples whose luma is like its own: joint bilateral upsampling (Kopf, Cohen,
Lischinski and Uyttendaele 2007).
"""

from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709, differences, rgb_from_differences, spans
from wenditas.core.kernel import Floats, Picture, apart, as_picture, fill, kernel
from wenditas.core.tiles import run_tiles

RADIUS, SMALL_RADIUS = 3, 2  # in samples of chroma at half size; of pictures that are smaller than the footage, whose chroma is averaged already
CHROMA_REACH, LUMA_REACH = 10.0, 16.0  # differences that count as nothing to do with each other, in standard deviations of the noise
LIFT_REACH, LIFT_LEAST = 0.12, 1e-3  # difference in luma at which a sample no longer speaks for a pixel; the least that it does all the same
MOST_NOISE = 1.0  # a standard deviation as large as white: there is nothing to be told from noise
LEAST_NOISE = 1e-3  # a quarter of a code value of 8 bits: nothing to smooth
NATIVE = 0.75  # of the footage's lines from which a picture of it still has chroma at half size
KR, KG, KB = (np.float32(k) for k in LUMA_709)
BLUE, RED = (np.float32(v) for v in spans())
PER_B, PER_R = (np.float32(1 / v) for v in spans())
QUARTER, HALF, ZERO, ONE, LEAST = np.float32(0.25), np.float32(0.5), np.float32(0), np.float32(1), np.float32(LIFT_LEAST)
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
    def negligible(self) -> bool:
        """Whether it is too little to be told from none."""
        return self.sigma < LEAST_NOISE


NO_NOISE = Noise()


def _nearness(radius: int) -> Floats:
    across = np.arange(-radius, radius + 1)
    return as_picture(np.exp(-(across**2) / (2 * (radius / 1.5) ** 2)))


NEARNESS, SMALL_NEARNESS = _nearness(RADIUS), _nearness(SMALL_RADIUS)


def _halves(noise: Noise, height: int, width: int) -> bool:
    """Whether chroma is taken at half size: on pictures about as large as the footage."""
    return height >= NATIVE * noise.lines and min(height, width) > 1


def denoised_reference(picture: Picture, noise: Noise) -> Picture:
    """`denoised` in plain NumPy, float64."""
    if noise.negligible:
        return picture
    planes = differences(picture)
    y = planes[0]
    halves = _halves(noise, *y.shape)
    small: Floats = _halved_reference(planes) if halves else planes
    nearness = NEARNESS if halves else SMALL_NEARNESS
    for axis in (2, 1):
        small = _smoothed_reference(small, nearness, noise.sigma, axis)
    chroma: Floats = _lifted_reference(small, y) if halves else small[1:]
    return as_picture(rgb_from_differences([y, *chroma]))


def _smoothed_reference(planes: Floats, nearness: Floats, sigma: float, axis: int) -> Floats:
    """The bilateral filter along one axis: luma as it is, and the chroma."""
    r = len(nearness) // 2
    padded = np.pad(planes, [(r, r) if n == axis else (0, 0) for n in range(3)], mode="edge")
    total, sums = np.zeros(planes.shape[1:], np.float64), np.zeros((2, *planes.shape[1:]), np.float64)
    for k in range(2 * r + 1):
        there = np.take(padded, range(k, k + planes.shape[axis]), axis=axis)
        d = there - planes
        t = (d[0] / (LUMA_REACH * sigma)) ** 2 + (d[1] ** 2 + d[2] ** 2) / (CHROMA_REACH * sigma) ** 2
        weight = nearness[k] * np.maximum(1 - t, 0) ** 2
        total, sums = total + weight, sums + weight * there[1:]
    return np.concatenate([planes[:1], sums / total])


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


@apart
def _paired(upper, lower, out):  # type: ignore[no-untyped-def]
    """Means of two by two: of what two rows have beside each other. The last of an odd row stands twice."""
    pairs = upper.size // 2
    for x in range(pairs):
        out[x] = ((upper[2 * x] + lower[2 * x]) + (upper[2 * x + 1] + lower[2 * x + 1])) * QUARTER
    if out.size > pairs:
        out[pairs] = (upper[2 * pairs] + lower[2 * pairs]) * HALF


@apart
def _light(r, g, b, luma):  # type: ignore[no-untyped-def]
    """Luma of a row."""
    for x in range(luma.size):
        luma[x] = KR * r[x] + KG * g[x] + KB * b[x]


@apart
def _differ(r, g, b, luma, blue, red):  # type: ignore[no-untyped-def]
    """Luma and colour differences of a row."""
    for x in range(luma.size):
        y = KR * r[x] + KG * g[x] + KB * b[x]
        luma[x], blue[x], red[x] = y, (b[x] - y) * PER_B, (r[x] - y) * PER_R


@kernel
def _planes_rows(picture, halves, nearness, per_luma, per_chroma, first, end, out):  # type: ignore[no-untyped-def]
    """Luma and chroma, at half size where `halves`, smoothed along rows, into rows `first` to `end` of `out`."""
    height = picture.shape[1]
    columns = out.shape[2]
    inner = columns + RADIUS
    rgb, line = np.empty((3, columns), np.float32), np.empty((3, columns + 2 * RADIUS), np.float32)
    total, blues, reds = np.empty(columns, np.float32), np.empty(columns, np.float32), np.empty(columns, np.float32)
    for row in range(first, end):
        if halves:
            for c in range(3):
                _paired(picture[c, 2 * row], picture[c, min(2 * row + 1, height - 1)], rgb[c])
            _differ(rgb[0], rgb[1], rgb[2], line[0, RADIUS:inner], line[1, RADIUS:inner], line[2, RADIUS:inner])
        else:
            _differ(picture[0, row], picture[1, row], picture[2, row], line[0, RADIUS:inner], line[1, RADIUS:inner], line[2, RADIUS:inner])
        for c in range(3):
            for x in range(RADIUS):
                line[c, x], line[c, columns + RADIUS + x] = line[c, RADIUS], line[c, columns + RADIUS - 1]
        _smooth(line, nearness, per_luma, per_chroma, total, blues, reds, out[:, row])


@apart
def _gather(y, b, r, ty, tb, tr, near, per_luma, per_chroma, total, blues, reds):  # type: ignore[no-untyped-def]
    """Adds samples (`t`) to the sums for others, as far as they are alike."""
    for x in range(total.size):
        dy, db, dr = ty[x] - y[x], tb[x] - b[x], tr[x] - r[x]
        like = max(ONE - dy * dy * per_luma - (db * db + dr * dr) * per_chroma, ZERO)
        weight = near * like * like
        total[x] += weight
        blues[x] += weight * tb[x]
        reds[x] += weight * tr[x]


@kernel
def _smooth(line, nearness, per_luma, per_chroma, total, blues, reds, out):  # type: ignore[no-untyped-def]
    """The bilateral filter along a padded line; `out` is `(3, columns)`: luma as it is, and the chroma."""
    columns, edge = out.shape[1], RADIUS - nearness.size // 2
    end = columns + RADIUS
    for x in range(columns):
        total[x], blues[x], reds[x] = ZERO, ZERO, ZERO
    for k in range(nearness.size):
        a, z = k + edge, k + edge + columns
        _gather(
            line[0, RADIUS:end],
            line[1, RADIUS:end],
            line[2, RADIUS:end],
            line[0, a:z],
            line[1, a:z],
            line[2, a:z],
            nearness[k],
            per_luma,
            per_chroma,
            total,
            blues,
            reds,
        )
    for x in range(columns):
        out[0, x], out[1, x], out[2, x] = line[0, x + RADIUS], blues[x] / total[x], reds[x] / total[x]


@kernel
def _smooth_rows(planes, nearness, per_luma, per_chroma, first, end, out):  # type: ignore[no-untyped-def]
    """The bilateral filter along columns, for rows `first` to `end`; `out` is `(3, rows, columns)`: luma as it is, and the chroma."""
    columns, rows, reach = out.shape[2], out.shape[1], nearness.size // 2
    total, blues, reds = np.empty(columns, np.float32), np.empty(columns, np.float32), np.empty(columns, np.float32)
    for row in range(first, end):
        y, b, r = planes[0, row], planes[1, row], planes[2, row]
        for x in range(columns):
            total[x], blues[x], reds[x] = ZERO, ZERO, ZERO
        for k in range(nearness.size):
            near, at = nearness[k], min(max(row + k - reach, 0), rows - 1)
            _gather(y, b, r, planes[0, at], planes[1, at], planes[2, at], near, per_luma, per_chroma, total, blues, reds)
        for x in range(columns):
            out[0, row, x], out[1, row, x], out[2, row, x] = y[x], blues[x] / total[x], reds[x] / total[x]


@kernel
def _coloured_rows(picture, small, first, end, out):  # type: ignore[no-untyped-def]
    """Rows of the picture with its own luma and the chroma of `small`, which is of the same size."""
    for row in range(first, end):
        _colour(small[0, row], small[1, row], small[2, row], out[0, row], out[1, row], out[2, row])


@apart
def _colour(luma, blue, red, r, g, b):  # type: ignore[no-untyped-def]
    """A row of R'G'B' from luma and colour differences."""
    for x in range(luma.size):
        y, to_red, to_blue = luma[x], luma[x] + RED * red[x], luma[x] + BLUE * blue[x]
        r[x], g[x], b[x] = to_red, (y - KR * to_red - KB * to_blue) / KG, to_blue


@kernel
def _lifted_rows(picture, small, per_lift, first, end, out):  # type: ignore[no-untyped-def]
    """Rows of the picture with its own luma and the chroma of `small`, lifted to twice the size: pixels at even and at odd places by themselves."""
    width, rows, columns = picture.shape[2], small.shape[1], small.shape[2]
    padded, luma = np.empty((3, columns + 2), np.float32), np.zeros(2 * columns, np.float32)
    apiece, sums = np.empty((2, columns), np.float32), np.empty((2, 3, columns), np.float32)  # of pixels at even and at odd places
    chroma = np.empty((2, 2 * columns), np.float32)
    for row in range(first, end):
        _light(picture[0, row], picture[1, row], picture[2, row], luma[:width])
        _split(luma, apiece[0], apiece[1])
        for odd in range(2):
            for c in range(3):
                fill(sums[odd, c], ZERO)
        for j in range(2):
            at = row // 2 if j == 0 else min(max(row // 2 + (1 if row % 2 == 1 else -1), 0), rows - 1)
            for c in range(3):
                for k in range(columns):
                    padded[c, k + 1] = small[c, at, k]
                padded[c, 0], padded[c, columns + 1] = small[c, at, 0], small[c, at, columns - 1]
            for odd in range(2):
                for i in range(2):  # the sample that a pixel lies in, and the next one on its side
                    a = 1 if i == 0 else 2 * odd
                    z, to = a + columns, sums[odd]
                    _lift(apiece[odd], padded[0, a:z], padded[1, a:z], padded[2, a:z], SHARES[j, i], per_lift, to[0], to[1], to[2])
        for c in range(2):
            _woven(sums[0, 0], sums[0, c + 1], sums[1, 0], sums[1, c + 1], chroma[c])
        _colour(luma[:width], chroma[0, :width], chroma[1, :width], out[0, row], out[1, row], out[2, row])


@apart
def _split(row, even, odd):  # type: ignore[no-untyped-def]
    for k in range(even.size):
        even[k], odd[k] = row[2 * k], row[2 * k + 1]


@apart
def _woven(even_total, even, odd_total, odd, row):  # type: ignore[no-untyped-def]
    """A row of means from sums at even and at odd places."""
    for k in range(even.size):
        row[2 * k], row[2 * k + 1] = even[k] / even_total[k], odd[k] / odd_total[k]


@apart
def _lift(luma, ys, bs, rs, share, per_lift, total, blue, red):  # type: ignore[no-untyped-def]
    """Adds the chroma of samples to the sums for a row of pixels, as far as their luma is like its own."""
    for x in range(luma.size):
        d = ys[x] - luma[x]
        like = max(ONE - d * d * per_lift, ZERO)
        weight = share * (like * like + LEAST)
        total[x] += weight
        blue[x] += weight * bs[x]
        red[x] += weight * rs[x]


def denoised(picture: Picture, noise: Noise) -> Picture:
    """The picture with calmer chroma and its own luma; the same object where there is nothing to calm.

    picture: `(3, h, w)`, gamma-coded R'G'B'. Returns the same shape, not limited. Source: see above; the reaches are our own, chosen by `bench/keys.py`.
    """
    if noise.negligible:
        return picture
    _, height, width = picture.shape
    halves = _halves(noise, height, width)
    rows, columns = ((height + 1) // 2, (width + 1) // 2) if halves else (height, width)
    planes, small, out = np.empty((3, rows, columns), np.float32), np.empty((3, rows, columns), np.float32), np.empty_like(picture)
    near = NEARNESS if halves else SMALL_NEARNESS
    reach = np.float32(1 / (LUMA_REACH * noise.sigma) ** 2), np.float32(1 / (CHROMA_REACH * noise.sigma) ** 2)
    run_tiles(rows, columns, lambda first, end, scratch: _planes_rows(picture, halves, near, *reach, first, end, planes))
    run_tiles(rows, columns, lambda first, end, scratch: _smooth_rows(planes, near, *reach, first, end, small))
    if halves:
        run_tiles(height, width, lambda first, end, scratch: _lifted_rows(picture, small, np.float32(1 / LIFT_REACH**2), first, end, out))
    else:
        run_tiles(height, width, lambda first, end, scratch: _coloured_rows(picture, small, first, end, out))
    return out
