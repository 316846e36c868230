"""Drawing the edge of a matte in, or growing it, fractions of a pixel included."""

import cv2
import numpy as np

from wenditas.core.kernel import Matte, kernel
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


@kernel
def _move_rows(matte, distance, blurred, near, pixels, first, end, out):  # type: ignore[no-untyped-def]
    """Each pixel's value from `pixels` further out; the gradient of the blurred distance by Sobel's operator, mirrored at the rim."""
    height, width = matte.shape
    half, two = np.float32(EDGE), np.float32(2)
    for y in range(first, end):
        a, b = (y - 1 if y > 0 else min(1, height - 1)), (y + 1 if y + 1 < height else max(height - 2, 0))
        for x in range(width):
            if near[y // BLOCK, x // BLOCK] == 0:
                out[y, x] = matte[y, x]
                continue
            p, q = (x - 1 if x > 0 else min(1, width - 1)), (x + 1 if x + 1 < width else max(width - 2, 0))
            dx = blurred[a, q] - blurred[a, p] + two * (blurred[y, q] - blurred[y, p]) + blurred[b, q] - blurred[b, p]
            dy = blurred[b, p] - blurred[a, p] + two * (blurred[b, x] - blurred[a, x]) + blurred[b, q] - blurred[a, q]
            per = pixels / max(np.sqrt(dx * dx + dy * dy), LEAST)
            u = min(max(np.float32(x) - dx * per, ZERO), np.float32(width - 1))
            v = min(max(np.float32(y) - dy * per, ZERO), np.float32(height - 1))
            left, top = int(u), int(v)
            right, bottom = min(left + 1, width - 1), min(top + 1, height - 1)
            across, down = u - np.float32(left), v - np.float32(top)
            above = matte[top, left] + (matte[top, right] - matte[top, left]) * across
            below = matte[bottom, left] + (matte[bottom, right] - matte[bottom, left]) * across
            moved = above + (below - above) * down
            if distance[y, x] < pixels - ONE and moved > half:
                moved = ZERO
            elif distance[y, x] > pixels + ONE and moved < half:
                moved = ONE
            out[y, x] = moved


@kernel
def _differs(row, other, flags):  # type: ignore[no-untyped-def]
    for x in range(row.size):
        flags[x] |= row[x] != other[x]


@kernel
def _restless_rows(matte, first, end, blocks):  # type: ignore[no-untyped-def]
    """Marks the blocks, of which rows `first` to `end` are made, with a pixel that differs from one beside it."""
    height, width = matte.shape
    across, down = np.zeros(width + 1, np.uint8), np.zeros(width, np.uint8)  # whether columns x - 1 and x differ; whether two rows do
    for top in range(first, end, BLOCK):
        across[:], down[:] = 0, 0
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
    blurred, moved, by = cv2.GaussianBlur(distance, (0, 0), BLUR), np.empty_like(part), np.float32(pixels)
    run_tiles(part.shape[0], part.shape[1], lambda first, end, scratch: _move_rows(part, distance, blurred, near, by, first, end, moved))
    return laid_in(matte, where, moved)
