"""Following edges: around the edge of a matte each pixel goes with those nearby that look like it.

Compression moves and frays the edge of a key, for the key sees chroma, which is coarse. Where the matte goes from all to nothing within a few
pixels, each pixel takes a mean of the matte around it, weighted by likeness of luma and chroma and by nearness: a joint bilateral filter
(Tomasi and Manduchi 1998; Petschnigg et al. 2004, *Digital Photography with Flash and No-Flash Image Pairs*), along rows and along columns in turn (Pham
and van Vliet 2005, *Separable Bilateral Filtering for Fast Video Preprocessing*). What lies at the edge itself, and is least sure, counts
little. Contrast is raised after each round, so that pixels decide; a short blur gives back what a pixel across an edge covers. A matte that
falls off slowly is meant to, and stays as it is; so does all of it where the picture was never coded (no noise at all).
The figures are our own, chosen on one half of `bench/keys.py`'s clips and reported on the other.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.ycbcr import LUMA_709, differences, spans
from wenditas.core.kernel import Floats, Matte, Picture, bound, kernel
from wenditas.core.select.denoise import Noise
from wenditas.core.tiles import run_tiles

ROUNDS, RADIUS, STEP, BAND, SIGMA = 4, 12, 3, 8, 6.0  # pixels: how far is looked, every so many, how far from the edge is voted, spread of nearness
SMALLEST = 0.5  # of these lengths, on pictures that are smaller than their footage
LUMA_REACH, CHROMA_REACH = 12.0, 12.0  # standard deviations of the noise at which likeness has fallen to 0.59 (1 - 1/8 to the power of 4)
LEAST_NOISE = 1e-3  # that is reckoned with
UNSURE, LESS, CONTRAST = 0.07, np.float32(1 - 0.07), 1.4  # weight of what lies within two pixels of the edge; how much contrast is raised
ALL, NONE = 0.9, 0.1  # what counts as in and as out
SOFT = 0.6  # standard deviation in pixels of the blur at the end
NEAR = 4  # pixels further that an edge and a blur look at
KR, KG, KB = (np.float32(k) for k in LUMA_709)
PER_B, PER_R = (np.float32(1 / v) for v in spans())
ZERO, ONE, HALF, EIGHTH, TINY = np.float32(0), np.float32(1), np.float32(0.5), np.float32(0.125), np.float32(1e-12)


Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Ask:
    """Whom a pixel asks. offsets: pixels from it, along a row or a column; nearness: what each counts; luma, chroma: what squared differences count."""

    offsets: npt.NDArray[np.int64]
    nearness: Floats
    luma: np.float32
    chroma: np.float32

    @classmethod
    def of(cls, noise: Noise, scale: float) -> "Ask":
        """As many and as like as the noise of the footage lets it be told, at a scale."""
        step = max(1, round(STEP * scale))
        each = round(RADIUS * scale) // step
        offsets = np.arange(-each, each + 1) * step
        sigma = max(noise.sigma, LEAST_NOISE)
        likeness = (np.float32(1 / (reach * sigma) ** 2) for reach in (LUMA_REACH, CHROMA_REACH))
        return cls(offsets, np.asarray(np.exp(-(offsets**2) / (2 * (SIGMA * scale) ** 2)), np.float32), *likeness)


def _scale(noise: Noise, height: int) -> float:
    return float(np.clip(height / noise.lines, SMALLEST, 1)) if noise.lines else 1.0


def _box(reach: int) -> npt.NDArray[np.uint8]:
    return np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)


def disputed(matte: Matte, reach: int) -> Mask:
    """Where a matte goes from all to nothing: what has both within `reach` pixels."""
    inside, outside = (matte > ALL).view(np.uint8), (matte < NONE).view(np.uint8)
    return np.asarray(cv2.bitwise_and(cv2.dilate(inside, _box(reach)), cv2.dilate(outside, _box(reach)))).view(np.bool_)


def _at_edge(matte: Matte) -> npt.NDArray[np.uint8]:
    """1 where the matte is least sure, within two pixels of its edge; else 0."""
    inside = (matte > HALF).view(np.uint8)
    return np.asarray(cv2.bitwise_xor(cv2.dilate(inside, _box(2)), cv2.erode(inside, _box(2))), np.uint8)


def _softened(matte: Matte, where: Mask, sigma: float) -> Matte:
    soft = cv2.GaussianBlur(matte, (5, 5), sigma, borderType=cv2.BORDER_REPLICATE)
    np.copyto(soft, matte, where=~where)
    return np.asarray(soft, np.float32)


def _shared(before: Matte, after: Matte, share: float) -> Matte:
    return after if share == 1 else np.asarray(before + (after - before) * np.float32(share), np.float32)


def followed_reference(matte: Matte, picture: Picture, noise: Noise, share: float = 1.0) -> Matte:
    """`followed` in plain NumPy."""
    if noise.sigma == 0:
        return matte
    scale = _scale(noise, matte.shape[0])
    before, planes, where, ask = matte, differences(picture), disputed(matte, round(BAND * scale)), Ask.of(noise, scale)
    for n in range(ROUNDS):
        voted = _asked_reference(matte, planes, np.where(_at_edge(matte), UNSURE, 1.0), ask, (n + 1) % 2)
        matte = np.where(where, np.clip((voted - 0.5) * CONTRAST + 0.5, 0, 1), matte).astype(np.float32)
    return _shared(before, _softened(matte, where, SOFT * scale), share)


def _asked_reference(matte: Matte, planes: Floats, sure: Floats, ask: Ask, axis: int) -> Floats:
    """What those along an axis say to each pixel; beyond the frame there is nobody."""
    total, sums, length = np.zeros(matte.shape), np.zeros(matte.shape), matte.shape[axis]
    for offset, near in zip(ask.offsets, ask.nearness, strict=True):
        at = np.arange(length) + offset
        there = np.clip(at, 0, length - 1)
        d = np.take(planes, there, axis=axis + 1) - planes
        like = np.maximum(1 - (d[0] ** 2 * ask.luma + (d[1] ** 2 + d[2] ** 2) * ask.chroma) / 8, 0) ** 4
        is_there = np.expand_dims((at >= 0) & (at < length), 1 - axis)
        weight = like * near * np.take(sure, there, axis=axis) * is_there
        total += weight
        sums += weight * np.take(matte, there, axis=axis)
    return np.asarray(sums / total)


# Rows lie in flat arrays with room at both ends, so that nobody asks beyond them; the loops over short runs of pixels count in unsigned
# numbers, which are never taken from an end, and not by slices, which cost more than the work on them.


@kernel
def _planes_row(red, green, blue, at, luma, by_blue, by_red):  # type: ignore[no-untyped-def]
    to = np.uint64(at)
    for x in range(np.uint64(red.size)):
        y = KR * red[x] + KG * green[x] + KB * blue[x]
        luma[to + x], by_blue[to + x], by_red[to + x] = y, (blue[x] - y) * PER_B, (red[x] - y) * PER_R


@kernel
def _planes_rows(picture, top, left, width, room, first, end, planes):  # type: ignore[no-untyped-def]
    """Luma and colour differences of some rows of a part of a picture."""
    for y in range(first, end):
        red, green, blue = picture[0, top + y, left : left + width], picture[1, top + y, left : left + width], picture[2, top + y, left : left + width]
        _planes_row(red, green, blue, y * (width + 2 * room) + room, planes[0], planes[1], planes[2])


@kernel
def _runs(where, room, asked):  # type: ignore[no-untyped-def]
    """The runs of pixels that vote, in order, and the number of those before each row.

    Of each: its row, where its first pixel lies in flat arrays, its length, where its weights lie. asked: by each pixel along one axis.
    """
    height, width = where.shape
    found, before = np.empty((height * ((width + 1) // 2), 4), np.int64), np.zeros(height + 1, np.int64)
    n, weights = 0, 0
    for y in range(height):
        x = 0
        while x < width:
            if not where[y, x]:
                x += 1
                continue
            end = x
            while end < width and where[y, end]:
                end += 1
            found[n] = y, y * (width + 2 * room) + room + x, end - x, weights
            weights += (end - x) * asked
            n, x = n + 1, end
        before[y + 1] = n
    return found[:n], before, weights


@kernel
def _like(planes, here, there, count, near, per_luma, per_chroma, at, out):  # type: ignore[no-untyped-def]
    """How much some pixels go with others."""
    h, t, to = np.uint64(here), np.uint64(there), np.uint64(at)
    for x in range(np.uint64(count)):
        dy, db, dr = planes[0, t + x] - planes[0, h + x], planes[1, t + x] - planes[1, h + x], planes[2, t + x] - planes[2, h + x]
        like = max(ONE - (dy * dy * per_luma + (db * db + dr * dr) * per_chroma) * EIGHTH, ZERO)
        like *= like
        out[to + x] = like * like * near


@kernel
def _weigh(planes, runs, offsets, nearness, per_luma, per_chroma, height, stride, first, end, out):  # type: ignore[no-untyped-def]
    """What each pixel of some runs gives on those that it asks, across and down; run by run, and in it one asked after another."""
    for n in range(first, end):
        y, here, count, at = runs[n, 0], runs[n, 1], runs[n, 2], runs[n, 3]
        for t in range(offsets.size):
            down = min(max(y + offsets[t], 0), height - 1) - y
            near = nearness[t] if down == offsets[t] else ZERO
            _like(planes, here, here + offsets[t], count, nearness[t], per_luma, per_chroma, at, out[0])
            _like(planes, here, here + down * stride, count, near, per_luma, per_chroma, at, out[1])
            at += count


@kernel
def _flags(matte, at, width, out, to):  # type: ignore[no-untyped-def]
    """Which pixels of a row are inside, and two more at both ends that are as those are."""
    a, z = np.uint64(at), np.uint64(to)
    for x in range(np.uint64(width)):
        out[z + x] = np.uint8(matte[a + x] > HALF)
    for k in range(1, 3):
        out[to - k], out[to + width - 1 + k] = out[to], out[to + width - 1]


@kernel
def _some_and_all(flags, at, step, width, some, every):  # type: ignore[no-untyped-def]
    """Of five flags, `step` apart, whether one is set, and whether all are."""
    a, b, c, d, e = np.uint64(at - 2 * step), np.uint64(at - step), np.uint64(at), np.uint64(at + step), np.uint64(at + 2 * step)
    for x in range(np.uint64(width)):
        some[x] = flags[a + x] | flags[b + x] | flags[c + x] | flags[d + x] | flags[e + x]
        every[x] = flags[a + x] & flags[b + x] & flags[c + x] & flags[d + x] & flags[e + x]


@kernel
def _counted(some, every, matte, at, width, sure, product):  # type: ignore[no-untyped-def]
    """How much the pixels of a row count, which is little within two pixels of the matte's edge, and that times the matte."""
    to = np.uint64(at)
    for x in range(np.uint64(width)):
        one = some[x] | some[x + np.uint64(1)] | some[x + np.uint64(2)] | some[x + np.uint64(3)] | some[x + np.uint64(4)]
        whole = every[x] & every[x + np.uint64(1)] & every[x + np.uint64(2)] & every[x + np.uint64(3)] & every[x + np.uint64(4)]
        counts = ONE - LESS * np.float32(one ^ whole)
        sure[to + x] = counts
        product[to + x] = counts * matte[to + x]


@kernel
def _count_rows(matte, before, reach, width, room, first, end, sure, product):  # type: ignore[no-untyped-def]
    """How much each pixel counts, and that times its matte, in rows that are asked."""
    height, stride = before.size - 1, width + 2 * room
    flags = np.empty((end - first + 4) * (width + 4), np.uint8)
    some, every = np.empty(width + 4, np.uint8), np.empty(width + 4, np.uint8)
    for k in range(end - first + 4):
        row = min(max(first - 2 + k, 0), height - 1)
        _flags(matte, row * stride + room, width, flags, k * (width + 4) + 2)
    for y in range(first, end):
        if before[min(y + reach + 1, height)] > before[max(y - reach, 0)]:
            _some_and_all(flags, (y - first + 2) * (width + 4), width + 4, width + 4, some, every)
            _counted(some, every, matte, y * stride + room, width, sure, product)


@kernel
def _add(weights, at, sure, product, there, count, total, sums):  # type: ignore[no-untyped-def]
    a, t = np.uint64(at), np.uint64(there)
    for x in range(np.uint64(count)):
        weight = weights[a + x]
        total[x] += weight * sure[t + x]
        sums[x] += weight * product[t + x]


@kernel
def _decide(total, sums, count, contrast, at, out):  # type: ignore[no-untyped-def]
    to = np.uint64(at)
    for x in range(np.uint64(count)):
        out[to + x] = min(max((sums[x] / total[x] - HALF) * contrast + HALF, ZERO), ONE)


@kernel
def _vote(sure, product, weights, runs, offsets, down, contrast, height, stride, first, end, out):  # type: ignore[no-untyped-def]
    """The votes of some runs, put into the matte."""
    total, sums = np.empty(stride, np.float32), np.empty(stride, np.float32)
    for n in range(first, end):
        y, here, count, at = runs[n, 0], runs[n, 1], runs[n, 2], runs[n, 3]
        total[:count], sums[:count] = TINY, HALF * TINY
        for t in range(offsets.size):
            there = here + (min(max(y + offsets[t], 0), height - 1) - y) * stride if down else here + offsets[t]
            _add(weights, at, sure, product, there, count, total, sums)
            at += count
        _decide(total, sums, count, contrast, here, out)


@kernel
def _blur(matte, here, count, height_left, y, stride, taps, total):  # type: ignore[no-untyped-def]
    """A run of pixels after a blur of five by five; beyond the frame the last row goes on."""
    for x in range(np.uint64(count)):
        total[x] = ZERO
    for i in range(-2, 3):
        row = here + (min(max(y + i, 0), height_left) - y) * stride
        for j in range(-2, 3):
            there, tap = np.uint64(row + j), taps[i + 2] * taps[j + 2]
            for x in range(np.uint64(count)):
                total[x] += tap * matte[there + x]


@kernel
def _soften(matte, runs, taps, height, stride, first, end, out):  # type: ignore[no-untyped-def]
    """Some runs of a matte, softened, into another."""
    total = np.empty(stride, np.float32)
    for n in range(first, end):
        y, here, count = runs[n, 0], runs[n, 1], runs[n, 2]
        _blur(matte, here, count, height - 1, y, stride, taps, total)
        out[here : here + count] = total[:count]


def followed(matte: Matte, picture: Picture, noise: Noise, share: float = 1.0) -> Matte:
    """The matte with an edge that follows the picture's.

    matte: `(h, w)`, 0-1. picture: `(3, h, w)`, what was keyed. noise: of the footage. share: 0-1, how much of the change is made.
    Returns `(h, w)`, 0-1. Source: see above.
    """
    scale = _scale(noise, matte.shape[0])
    where = disputed(matte, round(BAND * scale))
    if noise.sigma == 0 or share <= 0 or not where.any():
        return matte
    ask = Ask.of(noise, scale)
    box = _box_around(where, int(ask.offsets[-1]) + NEAR)
    part = np.ascontiguousarray(matte[box])
    out = matte.copy()
    out[box] = _shared(part, bound(_voted(part, picture, (box[0].start, box[1].start), np.ascontiguousarray(where[box]), ask, SOFT * scale)), share)
    return out


def _box_around(where: Mask, room: int) -> tuple[slice, slice]:
    """The rows and columns of all that is set, with some room."""
    rows, columns = np.flatnonzero(where.any(axis=1)), np.flatnonzero(where.any(axis=0))
    return slice(max(int(rows[0]) - room, 0), int(rows[-1]) + room + 1), slice(max(int(columns[0]) - room, 0), int(columns[-1]) + room + 1)


class Ballot:
    """Who votes in a part of a picture, and how much each counts with whom."""

    def __init__(self, picture: Picture, corner: tuple[int, int], where: Mask, ask: Ask) -> None:
        """picture: whole; corner: the part's first row and column in it; where: `(h, w)` of the part, what votes; ask: whom each asks."""
        height, width = where.shape
        self._size = (height, width)
        room = self._room = int(ask.offsets[-1])
        stride = self._stride = width + 2 * room
        picture, planes = np.ascontiguousarray(picture), np.empty((3, height * stride), np.float32)
        self._counts = np.empty(height * stride, np.float32), np.empty(height * stride, np.float32)  # how much each pixel counts, and that times its matte
        for plane in (*planes, *self._counts):
            rows = plane.reshape(height, stride)
            rows[:, :room] = rows[:, room + width :] = 0
        run_tiles(height, width, lambda first, end, scratch: _planes_rows(picture, *corner, width, room, first, end, planes))
        self._runs, self._before, count = _runs(where, room, ask.offsets.size)
        self._offsets, self._weights = ask.offsets, np.empty((2, count), np.float32)
        likeness = ask.offsets, ask.nearness, ask.luma, ask.chroma, height, stride
        self._each_run(lambda first, end: _weigh(planes, self._runs, *likeness, first, end, self._weights))

    def _each_run(self, work: Callable[[int, int], None]) -> None:
        """Do something with all runs, some rows of them at a time."""
        before = self._before
        run_tiles(*self._size, lambda first, end, scratch: work(before[first], before[end]))

    def laid_out(self, matte: Matte) -> Floats:
        """A matte of the part as its votes are put into it: flat, with room at both ends of each row, in which the ends go on."""
        return np.pad(matte, ((0, 0), (self._room, self._room)), mode="edge").reshape(-1)

    def of(self, flat: Floats) -> Matte:
        """The matte that is laid out so."""
        return flat.reshape(self._size[0], self._stride)[:, self._room : self._room + self._size[1]]

    def vote(self, flat: Floats, axis: int, contrast: float) -> None:
        """One round: each pixel takes the mean of those that it asks along an axis (0 across, 1 down), with some contrast about one half."""
        (height, width), (sure, product) = self._size, self._counts
        run_tiles(height, width, lambda first, end, scratch: _count_rows(flat, self._before, self._room, width, self._room, first, end, sure, product))
        vote = sure, product, self._weights[axis], self._runs, self._offsets, axis, np.float32(contrast), height, self._stride
        self._each_run(lambda first, end: _vote(*vote, first, end, flat))

    def soften(self, flat: Floats, sigma: float) -> Floats:
        """What votes, after a blur of five by five with a standard deviation."""
        rows, taps, room, width = flat.reshape(self._size[0], self._stride), cv2.getGaussianKernel(5, sigma, cv2.CV_32F).ravel(), self._room, self._size[1]
        rows[:, :room], rows[:, room + width :] = rows[:, room : room + 1], rows[:, room + width - 1 : room + width]
        out = flat.copy()
        self._each_run(lambda first, end: _soften(flat, self._runs, taps, self._size[0], self._stride, first, end, out))
        return out


def _voted(matte: Matte, picture: Picture, corner: tuple[int, int], where: Mask, ask: Ask, soft: float) -> Matte:
    """A part of a matte after all rounds, softened. corner: its first row and column in the picture; soft: standard deviation of the blur."""
    ballot = Ballot(picture, corner, where, ask)
    flat = ballot.laid_out(matte)
    for n in range(ROUNDS):
        ballot.vote(flat, n % 2, CONTRAST)
    return np.ascontiguousarray(ballot.of(ballot.soften(flat, soft)))
