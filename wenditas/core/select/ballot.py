"""A ballot: pixels take the mean of those along their row or column that look like them, with the noise of the footage as measure of likeness.

A joint bilateral filter (see `following.py`), worked out for some pixels of a part of a picture alone. Pixels vote by blocks of `LANES` in a
row, so that each loop has a length that is known when it is compiled and fills the vectors of the processor. Rows lie in flat arrays with a
block of room at both ends, in which nobody counts; loops count in unsigned numbers, which are never taken from an end.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.ycbcr import LUMA_709, spans
from wenditas.core.kernel import Floats, Matte, Picture, apart, fill, inline, kernel
from wenditas.core.select.denoise import Noise
from wenditas.core.tiles import run_tiles

RADIUS, STEP, SIGMA = 12, 3, 6.0  # pixels: how far is looked, every so many, spread of nearness
LUMA_REACH, CHROMA_REACH = 12.0, 12.0  # standard deviations of the noise at which likeness has fallen to 0.59 (1 - 1/8 to the power of 4)
LEAST_NOISE = 1e-3  # that is reckoned with
UNSURE = 0.07  # weight of what lies within two pixels of the edge
UNLIKE = np.float32(1e9)  # a value that is like no other
BY = 3  # how many votes are added at a time
LANES = 16  # pixels of a block: as many as a vector holds at most; no less than `RADIUS`
KR, KG, KB = (np.float32(k) for k in LUMA_709)
PER_B, PER_R = (np.float32(1 / v) for v in spans())
ZERO, ONE, HALF, EIGHTH, TINY, LESS = (np.float32(v) for v in (0, 1, 0.5, 0.125, 1e-12, UNSURE))

Mask = npt.NDArray[np.bool_]
Flags = npt.NDArray[np.uint8]


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


@kernel
def _stretch(asked, b):  # type: ignore[no-untyped-def]
    """The next stretch of a row's blocks that are asked, from block `b` on: its first, and the one after its last."""
    while b < asked.size and not asked[b]:
        b += 1
    end = b
    while end < asked.size and asked[end]:
        end += 1
    return b, end


@apart
def _planes_row(red, green, blue, at, luma, by_blue, by_red):  # type: ignore[no-untyped-def]
    to = np.uint64(at)
    for x in range(np.uint64(red.size)):
        y = KR * red[x] + KG * green[x] + KB * blue[x]
        luma[to + x], by_blue[to + x], by_red[to + x] = y, (blue[x] - y) * PER_B, (red[x] - y) * PER_R


@kernel
def _planes_rows(picture, top, left, width, asked, first, end, planes):  # type: ignore[no-untyped-def]
    """Luma and colour differences of the blocks of a part of a picture that are asked; beyond it what is like nothing."""
    stride = (asked.shape[1] + 2) * LANES
    for y in range(first, end):
        for c in range(3):
            fill(planes[c, y * stride : y * stride + LANES], UNLIKE)
            fill(planes[c, y * stride + LANES + width : (y + 1) * stride], UNLIKE)
        b, last = _stretch(asked[y], 0)
        while b < last:
            a, z = left + b * LANES, left + min(last * LANES, width)
            row = picture[:, top + y, a:z]
            _planes_row(row[0], row[1], row[2], y * stride + (b + 1) * LANES, planes[0], planes[1], planes[2])
            b, last = _stretch(asked[y], last)


@apart
def _flags(matte, at, width, out, to):  # type: ignore[no-untyped-def]
    """Which pixels of a row are inside."""
    a, z = np.uint64(at), np.uint64(to)
    for x in range(np.uint64(width)):
        out[z + x] = np.uint8(matte[a + x] > HALF)


@apart
def _some_and_all(flags, at, step, width, some, every):  # type: ignore[no-untyped-def]
    """Of five flags, `step` apart, whether one is set, and whether all are."""
    a, b, c, d, e = np.uint64(at - 2 * step), np.uint64(at - step), np.uint64(at), np.uint64(at + step), np.uint64(at + 2 * step)
    for x in range(np.uint64(width)):
        some[x] = flags[a + x] | flags[b + x] | flags[c + x] | flags[d + x] | flags[e + x]
        every[x] = flags[a + x] & flags[b + x] & flags[c + x] & flags[d + x] & flags[e + x]


@apart
def _surely(some, every, at, width, sure):  # type: ignore[no-untyped-def]
    """1, but 0 where of five times five flags one is set, and not all."""
    b, c, d, e, to = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4), np.uint64(at)
    for x in range(np.uint64(width)):
        one = some[x] | some[x + b] | some[x + c] | some[x + d] | some[x + e]
        whole = every[x] & every[x + b] & every[x + c] & every[x + d] & every[x + e]
        sure[to + x] = np.uint8(1) ^ one ^ whole


@kernel
def _sure_rows(matte, asked, width, first, end, sure):  # type: ignore[no-untyped-def]
    """Which pixels of the blocks that are asked lie further than two pixels from the matte's edge; beyond the frame it goes on as at its rim."""
    height, stride = asked.shape[0], (asked.shape[1] + 2) * LANES
    flags = np.empty((end - first + 4) * stride, np.uint8)
    some, every = np.empty(stride, np.uint8), np.empty(stride, np.uint8)
    for k in range(end - first + 4):
        at, to = min(max(first - 2 + k, 0), height - 1) * stride, k * stride
        _flags(matte, at + LANES, width, flags, to + LANES)
        for beside in range(1, 3):
            flags[to + LANES - beside], flags[to + LANES + width - 1 + beside] = flags[to + LANES], flags[to + LANES + width - 1]
    for y in range(first, end):
        b, last = _stretch(asked[y], 0)
        while b < last:
            at, count = (b + 1) * LANES, min(last * LANES, width) - b * LANES
            _some_and_all(flags, (y - first + 2) * stride + at - 2, stride, count + 4, some, every)
            _surely(some, every, y * stride + at, count, sure)
            b, last = _stretch(asked[y], last)


@inline
def _like(dy, db, dr, per_luma, per_chroma):  # type: ignore[no-untyped-def]
    like = max(ONE - (dy * dy * per_luma + (db * db + dr * dr) * per_chroma) * EIGHTH, ZERO)
    like *= like
    return like * like


@apart
def _told(luma, blue, red, matte, sure, here, there, near, per_luma, per_chroma, total, sums):  # type: ignore[no-untyped-def]
    """Adds what three pixels say to each of a block, as far as they are alike. near: what each counts for its distance.

    Three at once: the sums are in the way of each other where they are put back after each.
    """
    h, t, u, v = np.uint64(here), np.uint64(there[0]), np.uint64(there[1]), np.uint64(there[2])
    for x in range(np.uint64(LANES)):
        y, b, r = luma[h + x], blue[h + x], red[h + x]
        first = _like(luma[t + x] - y, blue[t + x] - b, red[t + x] - r, per_luma, per_chroma) * (near[0] if sure[t + x] else near[0] * LESS)
        second = _like(luma[u + x] - y, blue[u + x] - b, red[u + x] - r, per_luma, per_chroma) * (near[1] if sure[u + x] else near[1] * LESS)
        third = _like(luma[v + x] - y, blue[v + x] - b, red[v + x] - r, per_luma, per_chroma) * (near[2] if sure[v + x] else near[2] * LESS)
        total[x] += first + second + third
        sums[x] += first * matte[t + x] + second * matte[u + x] + third * matte[v + x]


@apart
def _decide(total, sums, contrast, votes, at, out):  # type: ignore[no-untyped-def]
    to = np.uint64(at)
    for x in range(np.uint64(LANES)):
        decided = min(max((sums[x] / total[x] - HALF) * contrast + HALF, ZERO), ONE)
        out[to + x] = decided if votes[to + x] else out[to + x]


@kernel
def _vote(planes, matte, sure, pieces, votes, offsets, nearness, per_luma, per_chroma, down, contrast, shape, first, end, out):  # type: ignore[no-untyped-def]
    """The votes of some blocks, put into another matte."""
    height, across = shape
    stride = (across + 2) * LANES
    luma, blue, red = planes[0], planes[1], planes[2]
    total, sums, there, near = np.empty(LANES, np.float32), np.empty(LANES, np.float32), np.empty(BY, np.int64), np.empty(BY, np.float32)
    for n in range(first, end):
        y, left = pieces[n] // across, pieces[n] % across * LANES
        here = y * stride + LANES + left
        for x in range(LANES):
            total[x], sums[x] = TINY, HALF * TINY
        for t in range(0, offsets.size, BY):
            for k in range(BY):
                below = min(max(y + offsets[t + k], 0), height - 1) - y if down else 0
                there[k] = here + (below * stride if down else offsets[t + k])
                near[k] = nearness[t + k] if not down or below == offsets[t + k] else ZERO
            _told(luma, blue, red, matte, sure, here, there, near, per_luma, per_chroma, total, sums)
        _decide(total, sums, contrast, votes, here, out)


@apart
def _taps(matte, at, taps, share, total):  # type: ignore[no-untyped-def]
    """Adds five pixels of a row, each by its share."""
    a, b, c, d, e = np.uint64(at - 2), np.uint64(at - 1), np.uint64(at), np.uint64(at + 1), np.uint64(at + 2)
    outer, inner, middle = taps[0] * share, taps[1] * share, taps[2] * share
    for x in range(np.uint64(LANES)):
        total[x] += outer * (matte[a + x] + matte[e + x]) + inner * (matte[b + x] + matte[d + x]) + middle * matte[c + x]


@kernel
def _soften(matte, pieces, votes, taps, shape, first, end, out):  # type: ignore[no-untyped-def]
    """What votes in some blocks of a matte, after a blur of five by five, into another; beyond the frame the last row goes on."""
    height, across = shape
    stride = (across + 2) * LANES
    total = np.empty(LANES, np.float32)
    for n in range(first, end):
        y = pieces[n] // across
        here = y * stride + (pieces[n] % across + 1) * LANES
        fill(total, ZERO)
        for i in range(-2, 3):
            _taps(matte, here + (min(max(y + i, 0), height - 1) - y) * stride, taps, taps[i + 2], total)
        for x in range(LANES):
            out[here + x] = total[x] if votes[here + x] else out[here + x]


class Ballot:
    """Who votes in a part of a picture, and how much each counts with whom."""

    def __init__(self, picture: Picture, corner: tuple[int, int], where: Mask, ask: Ask) -> None:
        """picture: whole; corner: the part's first row and column in it; where: `(h, w)` of the part, what votes; ask: whom each asks."""
        height, width = where.shape
        self._size = (height, width)
        across = -(-width // LANES)
        self._shape, self._stride = (height, across), (across + 2) * LANES
        votes = np.zeros((height, self._stride), np.bool_)
        votes[:, LANES : LANES + width] = where
        words = votes.view(np.uint64).reshape(height, across + 2, LANES // 8)[:, 1:-1]
        blocks = np.bitwise_or.reduce(words, axis=2).astype(np.bool_).view(np.uint8)
        self.votes = votes.reshape(-1)  # of each pixel, in rows with room at both ends
        self._pieces = np.flatnonzero(blocks)
        self._before = np.concatenate([[0], np.cumsum(np.count_nonzero(blocks, axis=1))])
        self._asked = _beside(blocks, 0, 1), _beside(blocks, int(ask.offsets[-1]), 0)
        picture, planes = np.ascontiguousarray(picture), np.empty((3, height * self._stride), np.float32)
        part, either = (*corner, width), self._asked[0] | self._asked[1]
        run_tiles(height, width, lambda first, end, scratch: _planes_rows(picture, *part, either, first, end, planes))
        none = -ask.offsets.size % BY  # asked, but not counted
        self._planes, self._ask = planes, replace(ask, offsets=np.pad(ask.offsets, (0, none)), nearness=np.pad(ask.nearness, (0, none)))

    def _each(self, work: Callable[[int, int], None]) -> None:
        """Do something with all blocks that vote, some rows of them at a time."""
        before = self._before
        run_tiles(*self._size, lambda first, end, scratch: work(before[first], before[end]))

    def laid_out(self, matte: Floats) -> Floats:
        """A matte of the part as its votes are put into it: flat, with room at both ends of each row, in which the ends go on."""
        height, width = self._size
        rows = np.empty((height, self._stride), np.float32)
        rows[:, LANES : LANES + width] = matte
        rows[:, :LANES], rows[:, LANES + width :] = matte[:, :1], matte[:, -1:]
        return rows.reshape(-1)

    def of(self, flat: Floats) -> Matte:
        """The matte that is laid out so."""
        return flat.reshape(self._size[0], self._stride)[:, LANES : LANES + self._size[1]]

    def rounds(self, matte: Matte, count: int, contrast: float, after: Callable[[Floats], None] = lambda flat: None) -> Floats:
        """A matte after some rounds, laid out: in each its pixels take the mean of those that they ask, across and down in turn, with some contrast
        about one half. after: may change, after each round, what votes."""
        here = self.laid_out(matte)
        there = here.copy()
        for n in range(count):
            self._round(here, n % 2, contrast, there)
            here, there = there, here
            after(here)
        return here

    def _round(self, flat: Floats, axis: int, contrast: float, out: Floats) -> None:
        (height, width), asked, ask, sure = self._size, self._asked[axis], self._ask, np.empty(flat.size, np.uint8)
        run_tiles(height, width, lambda first, end, scratch: _sure_rows(flat, asked, width, first, end, sure))
        alike = ask.offsets, ask.nearness, ask.luma, ask.chroma, bool(axis), np.float32(contrast), self._shape
        self._each(lambda first, end: _vote(self._planes, flat, sure, self._pieces, self.votes, *alike, first, end, out))

    def soften(self, flat: Floats, sigma: float) -> Floats:
        """What votes, after a blur of five by five with a standard deviation."""
        rows, taps, width = flat.reshape(self._size[0], self._stride), cv2.getGaussianKernel(5, sigma, cv2.CV_32F).ravel(), self._size[1]
        rows[:, :LANES], rows[:, LANES + width :] = rows[:, LANES : LANES + 1], rows[:, LANES + width - 1 : LANES + width]
        out = flat.copy()
        self._each(lambda first, end: _soften(flat, self._pieces, self.votes, taps, self._shape, first, end, out))
        return out


def _beside(blocks: Flags, rows: int, columns: int) -> Flags:
    """The blocks that lie no more than some rows and columns of blocks from a marked one."""
    return np.asarray(cv2.dilate(blocks, np.ones((2 * rows + 1, 2 * columns + 1), np.uint8)), np.uint8)
