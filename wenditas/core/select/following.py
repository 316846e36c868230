"""Following edges: around the edge of a matte each pixel goes with those nearby that look like it.

Compression moves and frays the edge of a key, for the key sees chroma, which is coarse. Where the matte goes from all to nothing within a few
pixels, each pixel takes a mean of the matte around it, weighted by likeness of luma and chroma and by nearness: a joint bilateral filter
(Tomasi and Manduchi 1998; Petschnigg et al. 2004, *Digital Photography with Flash and No-Flash Image Pairs*), along rows and along columns in turn (Pham
and van Vliet 2005, *Separable Bilateral Filtering for Fast Video Preprocessing*). What lies at the edge itself, and is least sure, counts
little. Contrast is raised after each round, so that pixels decide; a short blur gives back what a pixel across an edge covers. A matte that
falls off slowly is meant to, and stays as it is; so does all of it where the picture was never coded (no noise at all).
The figures are our own, chosen on one half of `bench/keys.py`'s clips and reported on the other.
"""

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
BLOCK = 16  # pixels of a row that go through together, which a processor does at once
KR, KG, KB = (np.float32(k) for k in LUMA_709)
PER_B, PER_R = (np.float32(1 / v) for v in spans())
ZERO, ONE, HALF, EIGHTH, TINY = np.float32(0), np.float32(1), np.float32(0.5), np.float32(0.125), np.float32(1e-12)


Mask = npt.NDArray[np.bool_]
Blocks = npt.NDArray[np.int64]  # `(n, 2)`: row and first column, in order


@dataclass(frozen=True)
class _Ask:
    """Whom a pixel asks. offsets: pixels from it, along a row or a column; nearness: what each counts; luma, chroma: what squared differences count."""

    offsets: npt.NDArray[np.int64]
    nearness: Floats
    luma: np.float32
    chroma: np.float32

    @classmethod
    def of(cls, noise: Noise, scale: float) -> "_Ask":
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
    before, planes, where, ask = matte, differences(picture), disputed(matte, round(BAND * scale)), _Ask.of(noise, scale)
    for n in range(ROUNDS):
        voted = _asked_reference(matte, planes, np.where(_at_edge(matte), UNSURE, 1.0), ask, (n + 1) % 2)
        matte = np.where(where, np.clip((voted - 0.5) * CONTRAST + 0.5, 0, 1), matte).astype(np.float32)
    return _shared(before, _softened(matte, where, SOFT * scale), share)


def _asked_reference(matte: Matte, planes: Floats, sure: Floats, ask: _Ask, axis: int) -> Floats:
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


@kernel
def _planes_row(red, green, blue, luma, by_blue, by_red):  # type: ignore[no-untyped-def]
    for x in range(luma.size):
        y = KR * red[x] + KG * green[x] + KB * blue[x]
        luma[x], by_blue[x], by_red[x] = y, (blue[x] - y) * PER_B, (red[x] - y) * PER_R


@kernel
def _planes_rows(picture, top, left, width, room, first, end, out):  # type: ignore[no-untyped-def]
    """Luma and colour differences of some rows of a part of a picture, with room on both sides."""
    for y in range(first, end):
        row, z = top + y, left + width
        part = out[:, y, room : room + width]
        _planes_row(picture[0, row, left:z], picture[1, row, left:z], picture[2, row, left:z], part[0], part[1], part[2])


@kernel
def _sure_row(at_edge, matte, sure, product):  # type: ignore[no-untyped-def]
    for x in range(matte.size):
        counts = ONE - LESS * np.float32(at_edge[x])
        sure[x] = counts
        product[x] = counts * matte[x]


@kernel
def _sure_rows(at_edge, matte, before, reach, room, first, end, sure, product):  # type: ignore[no-untyped-def]
    """How much each pixel counts, and that times its matte, in rows that are asked."""
    height, width = matte.shape
    for y in range(first, end):
        if before[min(y + reach + 1, height)] > before[max(y - reach, 0)]:
            _sure_row(at_edge[y], matte[y], sure[y, room : room + width], product[y, room : room + width])


@kernel
def _blocks(where, width):  # type: ignore[no-untyped-def]
    """Rows and first columns of the blocks in which there is a vote, in order; the number of those before each row."""
    rows, columns = where.shape
    found = np.empty((rows * ((columns + width - 1) // width), 2), np.int64)
    before, n = np.zeros(rows + 1, np.int64), 0
    for y in range(rows):
        for x in range(0, columns, width):
            for k in range(x, min(x + width, columns)):
                if where[y, k]:
                    found[n, 0], found[n, 1] = y, x
                    n += 1
                    break
        before[y + 1] = n
    return found[:n], before


@kernel
def _like(hy, hb, hr, ty, tb, tr, near, per_luma, per_chroma, out):  # type: ignore[no-untyped-def]
    """How much the pixels of a block go with those of another; each given by luma, blue, red."""
    for k in range(BLOCK):
        dy, db, dr = ty[k] - hy[k], tb[k] - hb[k], tr[k] - hr[k]
        like = max(ONE - (dy * dy * per_luma + (db * db + dr * dr) * per_chroma) * EIGHTH, ZERO)
        like *= like
        out[k] = like * like * near


@kernel
def _weigh(planes, blocks, offsets, nearness, per_luma, per_chroma, room, first, end, out):  # type: ignore[no-untyped-def]
    """What each pixel of some blocks gives on those that it asks: `(across and down, blocks, asked, pixels)`."""
    height = planes.shape[1]
    for n in range(first, end):
        y, a = blocks[n, 0], blocks[n, 1] + room
        z = a + BLOCK
        hy, hb, hr = planes[0, y, a:z], planes[1, y, a:z], planes[2, y, a:z]
        for t in range(offsets.size):
            p, q, near = a + offsets[t], z + offsets[t], nearness[t]
            _like(hy, hb, hr, planes[0, y, p:q], planes[1, y, p:q], planes[2, y, p:q], near, per_luma, per_chroma, out[0, n, t])
            row = min(max(y + offsets[t], 0), height - 1)
            if row != y + offsets[t]:
                near = ZERO
            _like(hy, hb, hr, planes[0, row, a:z], planes[1, row, a:z], planes[2, row, a:z], near, per_luma, per_chroma, out[1, n, t])


@kernel
def _add(weights, values, sums):  # type: ignore[no-untyped-def]
    for k in range(BLOCK):
        sums[k] += weights[k] * values[k]


@kernel
def _vote(sure, product, weights, where, blocks, offsets, down, contrast, room, first, end, out):  # type: ignore[no-untyped-def]
    """The votes of some blocks, put into the matte."""
    height, width = where.shape
    total, sums = np.empty(BLOCK, np.float32), np.empty(BLOCK, np.float32)
    for n in range(first, end):
        y, x = blocks[n, 0], blocks[n, 1]
        for k in range(BLOCK):
            total[k], sums[k] = TINY, HALF * TINY
        for t in range(offsets.size):
            row, a = (min(max(y + offsets[t], 0), height - 1), x + room) if down else (y, x + room + offsets[t])
            z = a + BLOCK
            _add(weights[n, t], sure[row, a:z], total)
            _add(weights[n, t], product[row, a:z], sums)
        for k in range(min(BLOCK, width - x)):
            if where[y, x + k]:
                out[y, x + k] = min(max((sums[k] / total[k] - HALF) * contrast + HALF, ZERO), ONE)


def followed(matte: Matte, picture: Picture, noise: Noise, share: float = 1.0) -> Matte:
    """The matte with an edge that follows the picture's.

    matte: `(h, w)`, 0-1. picture: `(3, h, w)`, what was keyed. noise: of the footage. share: 0-1, how much of the change is made.
    Returns `(h, w)`, 0-1. Source: see above.
    """
    scale = _scale(noise, matte.shape[0])
    where = disputed(matte, round(BAND * scale))
    if noise.sigma == 0 or share <= 0 or not where.any():
        return matte
    ask = _Ask.of(noise, scale)
    box = _box_around(where, int(ask.offsets[-1]) + NEAR)
    part = np.ascontiguousarray(matte[box])
    voted = _voted(part, picture, (box[0].start, box[1].start), np.ascontiguousarray(where[box]), ask)
    out = matte.copy()
    out[box] = _shared(part, _softened(bound(voted), where[box], SOFT * scale), share)
    return out


def _box_around(where: Mask, room: int) -> tuple[slice, slice]:
    """The rows and columns of all that is set, with some room."""
    rows, columns = np.flatnonzero(where.any(axis=1)), np.flatnonzero(where.any(axis=0))
    return slice(max(int(rows[0]) - room, 0), int(rows[-1]) + room + 1), slice(max(int(columns[0]) - room, 0), int(columns[-1]) + room + 1)


def _voted(matte: Matte, picture: Picture, corner: tuple[int, int], where: Mask, ask: _Ask) -> Matte:
    """A part of a matte after all rounds. corner: its first row and column in the picture."""
    height, width = matte.shape
    room = int(ask.offsets[-1])
    padded = (width + BLOCK - 1) // BLOCK * BLOCK + 2 * room
    planes = np.empty((3, height, padded), np.float32)
    sure = np.empty((height, padded), np.float32), np.empty((height, padded), np.float32)  # how much each pixel counts, and that times its matte
    for plane in (*planes, *sure):
        plane[:, :room] = plane[:, room + width :] = 0
    picture = np.ascontiguousarray(picture)
    run_tiles(height, width, lambda first, end, scratch: _planes_rows(picture, *corner, width, room, first, end, planes))
    blocks, before = _blocks(where, BLOCK)
    weights, voted = np.empty((2, len(blocks), ask.offsets.size, BLOCK), np.float32), matte.copy()
    likeness = ask.offsets, ask.nearness, ask.luma, ask.chroma
    run_tiles(height, width, lambda first, end, scratch: _weigh(planes, blocks, *likeness, room, before[first], before[end], weights))
    for n in range(ROUNDS):
        count = _at_edge(voted), voted, before, room, room
        run_tiles(height, width, lambda first, end, scratch: _sure_rows(*count, first, end, *sure))  # noqa: B023
        vote = *sure, weights[n % 2], where, blocks, ask.offsets, n % 2, np.float32(CONTRAST), room
        run_tiles(height, width, lambda first, end, scratch: _vote(*vote, before[first], before[end], voted))  # noqa: B023
    return voted
