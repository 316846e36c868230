"""Drawing the edge of a matte in, or growing it, fractions of a pixel included."""

import cv2
import numpy as np

from wenditas.core.kernel import Matte, apart, copy, fill, kernel
from wenditas.core.select.distance import BLOCK, EDGE, FAR, Blocks, signed_distance, signed_distance_reference
from wenditas.core.tiles import run_tiles

BLUR = 1.0  # standard deviation of the blur of the distance, before its gradient is taken
BESIDE = 6  # pixels beside what changes, for the blur and the gradient of the distance
ZERO, ONE, LEAST = np.float32(0), np.float32(1), np.float32(1e-6)


def choke_reference(matte: Matte, pixels: float) -> Matte:
    """`choke` in plain NumPy and OpenCV, on the whole matte."""
    distance = signed_distance_reference(matte)
    if pixels == 0 or np.abs(distance).min() >= FAR:
        return matte
    blurred = cv2.GaussianBlur(distance, (0, 0), BLUR)
    dx, dy = cv2.Sobel(blurred, cv2.CV_32F, 1, 0), cv2.Sobel(blurred, cv2.CV_32F, 0, 1)
    per = pixels / np.maximum(np.hypot(dx, dy), 1e-6)
    height, width = matte.shape
    columns, rows = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    moved = cv2.remap(matte, columns - dx * per, rows - dy * per, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    # Along the middle line of a narrow part the normal is undefined; distance alone decides there.
    gone, come = (distance < pixels - 1) & (moved > EDGE), (distance > pixels + 1) & (moved < EDGE)
    return np.asarray(np.where(gone, 0, np.where(come, 1, moved)), np.float32)


@apart
def _move(flat, distance, blurred, height, width, row, first, end, pixels, out):  # type: ignore[no-untyped-def]
    """Some pixels of a row, all in flat arrays; `blurred` has one pixel more all round."""
    half, two, right, bottom, one = np.float32(EDGE), np.float32(2), np.float32(width - 1), np.float32(height - 1), np.uint64(1)
    at, up = np.uint64(row * width), np.uint64(row * (width + 2))
    here, down = up + np.uint64(width + 2), up + np.uint64(2 * (width + 2))
    for x in range(np.uint64(first), np.uint64(end)):
        y, z = x + one, x + one + one
        dx = blurred[up + z] - blurred[up + x] + two * (blurred[here + z] - blurred[here + x]) + blurred[down + z] - blurred[down + x]
        dy = blurred[down + x] - blurred[up + x] + two * (blurred[down + y] - blurred[up + y]) + blurred[down + z] - blurred[up + z]
        per = pixels / max(np.sqrt(dx * dx + dy * dy), LEAST)
        u = min(max(np.float32(np.int32(x)) - dx * per, ZERO), right)
        v = min(max(np.float32(np.int32(row)) - dy * per, ZERO), bottom)
        left, top = np.int32(u), np.int32(v)
        across, along = u - np.float32(left), v - np.float32(top)
        corner, beside, under = top * np.int32(width) + left, np.int32(left < width - 1), np.int32(width) * np.int32(top < height - 1)
        a, b = flat[np.uint64(corner)], flat[np.uint64(corner + beside)]
        c, d = flat[np.uint64(corner + under)], flat[np.uint64(corner + under + beside)]
        high, low = a + (b - a) * across, c + (d - c) * across
        moved = high + (low - high) * along
        moved = ZERO if distance[at + x] < pixels - ONE and moved > half else moved
        out[at + x] = ONE if distance[at + x] > pixels + ONE and moved < half else moved


@kernel
def _move_rows(matte, distance, blurred, near, pixels, first, end, out):  # type: ignore[no-untyped-def]
    """Each pixel's value from `pixels` further out; the gradient of the blurred distance by Sobel's operator. Flat arrays, see `_move`."""
    (height, width), (_, across) = matte.shape, near.shape
    flat, told = matte.reshape(-1), out.reshape(-1)
    for y in range(first, end):
        b = 0
        while b < across:
            last, moves = b, near[y // BLOCK, b]
            while last < across and near[y // BLOCK, last] == moves:
                last += 1
            a, z = b * BLOCK, min(last * BLOCK, width)
            if moves:
                _move(flat, distance, blurred, height, width, y, a, z, pixels, told)
            else:
                copy(flat[y * width + a : y * width + z], told[y * width + a : y * width + z])
            b = last


@apart
def _differs(row, other, flags):  # type: ignore[no-untyped-def]
    for x in range(row.size):
        flags[x] |= row[x] != other[x]


@kernel
def _restless_rows(matte, first, end, blocks):  # type: ignore[no-untyped-def]
    """Marks the blocks, of which rows `first` to `end` are made, with a pixel that differs from one beside it."""
    height, width = matte.shape
    across, down = np.zeros(width + 1, np.uint8), np.zeros(width, np.uint8)  # whether columns x - 1 and x differ; whether two rows do
    for top in range(first, end, BLOCK):
        fill(across, np.uint8(0))
        fill(down, np.uint8(0))
        for y in range(max(top - 1, 0), min(top + BLOCK, height - 1)):
            _differs(matte[y], matte[y + 1], down)
        for y in range(top, min(top + BLOCK, height)):
            _differs(matte[y, 1:], matte[y, :-1], across[1:])
        for x in range(width):
            blocks[top // BLOCK, x // BLOCK] |= down[x] | across[x] | across[x + 1]


def restless(matte: Matte, beside: float) -> Blocks:
    """Which blocks of `BLOCK` by `BLOCK` pixels of a matte are not even, or lie within some pixels of one that is not: uint8, 1 where so.

    Elsewhere the matte is even as far as `beside`, so what looks no further changes nothing there.
    """
    height, width = matte.shape
    blocks = np.zeros((-(-height // BLOCK), -(-width // BLOCK)), np.uint8)
    run_tiles(len(blocks), width * BLOCK, lambda first, end, scratch: _restless_rows(matte, first * BLOCK, end * BLOCK, blocks))
    size = 2 * int(np.ceil(beside / BLOCK)) + 1
    return np.asarray(cv2.dilate(blocks, np.ones((size, size), np.uint8)), np.uint8) if blocks.any() else blocks


def extent(blocks: Blocks) -> tuple[slice, slice] | None:
    """The rows and columns of pixels between which all marked blocks lie, whole blocks; None where none is marked."""
    rows, columns = np.flatnonzero(blocks.any(axis=1)), np.flatnonzero(blocks.any(axis=0))
    if not rows.size:
        return None
    return slice(int(rows[0]) * BLOCK, (int(rows[-1]) + 1) * BLOCK), slice(int(columns[0]) * BLOCK, (int(columns[-1]) + 1) * BLOCK)


def laid_in(matte: Matte, where: tuple[slice, slice], part: Matte) -> Matte:
    """The matte with another part; that part itself where it is all of it."""
    if part.shape == matte.shape:
        return part
    out = matte.copy()
    out[where] = part
    return out


def choke(matte: Matte, pixels: float) -> Matte:
    """The matte with its edge drawn in by `pixels` (grown where negative), fractions included.

    Every pixel takes the value that lies `pixels` further out along the normal of the edge,
    so that soft edges keep their softness. Source: Euclidean distance transform; the edge
    moves along its gradient. Worked out only where the matte is not even.
    """
    if pixels == 0 or matte.max() <= EDGE or matte.min() > EDGE:
        return matte
    blocks = restless(matte, abs(pixels) + BESIDE)
    where = extent(blocks)
    if where is None:
        return matte
    part = np.ascontiguousarray(matte[where])
    near = np.ascontiguousarray(blocks[tuple(slice(s.start // BLOCK, s.stop // BLOCK) for s in where)])
    distance = signed_distance(part, near)
    blurred = cv2.copyMakeBorder(cv2.GaussianBlur(distance, (0, 0), BLUR), 1, 1, 1, 1, cv2.BORDER_REFLECT_101)
    moved, by, told = np.empty_like(part), np.float32(pixels), (distance.reshape(-1), blurred.reshape(-1))
    run_tiles(part.shape[0], part.shape[1], lambda first, end, scratch: _move_rows(part, *told, near, by, first, end, moved))
    return laid_in(matte, where, moved)
