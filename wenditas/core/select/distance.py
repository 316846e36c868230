"""The distance of every pixel to the edge of a matte, exact to the pixel grid.

Columns first, by two sweeps; then along each row the lower envelope of the parabolas that stand on the columns' distances:
Felzenszwalb and Huttenlocher, *Distance Transforms of Sampled Functions* (2012). Each pixel asks only for the other side's nearest
pixel, so both sides are done in one go, run by run.
"""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Matte, kernel
from wenditas.core.tiles import run_tiles

EDGE = 0.5  # what counts as selected where a matte must be cut in two
FAR = 1e4  # the distance told where there is no edge
NONE = np.float32(1e5)  # further than any column is high
BLOCK = 16  # pixels to a side of the blocks in which it is told where something is asked for
Blocks = npt.NDArray[np.uint8]
HALF, ONE = np.float32(0.5), np.float32(1)
TALL = 24 * 1024 // 480  # as if columns were this long: 480 of them make a tile of the first sweep


def signed_distance_reference(matte: Matte) -> Matte:
    """`signed_distance` by OpenCV's two transforms."""
    inside = (matte > EDGE).astype(np.uint8)
    if not inside.any() or inside.all():
        return np.full(matte.shape, FAR if inside.any() else -FAR, np.float32)
    within = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    without = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    return np.asarray(np.where(inside > 0, within - 0.5, 0.5 - without), np.float32)


@kernel
def _columns(matte, first, end, up_down):  # type: ignore[no-untyped-def]
    """For columns `first` to `end`: how far up or down the nearest pixel of the other side lies."""
    height = matte.shape[0]
    for x in range(first, end):
        up_down[0, x] = NONE
    for y in range(1, height):
        for x in range(first, end):
            same = (matte[y, x] > HALF) == (matte[y - 1, x] > HALF)
            up_down[y, x] = up_down[y - 1, x] + ONE if same else ONE
    for y in range(height - 2, -1, -1):
        for x in range(first, end):
            same = (matte[y, x] > HALF) == (matte[y + 1, x] > HALF)
            up_down[y, x] = min(up_down[y, x], up_down[y + 1, x] + ONE if same else ONE)


@kernel
def _run(reach, first, end, before, after, sign, corners, starts, out):  # type: ignore[no-untyped-def]
    """The distances of a run of pixels of one side, columns `first` to `end` of a row: to what lies above or below it, or beside it where there is something.

    No pixel beyond the ones beside the run can be nearer than they are.
    """
    count = 0
    for x in range(first - before, end + after):
        high = np.float64(0) if x < first or x >= end else np.float64(reach[x])
        if high >= NONE:
            continue
        at_x = np.float64(x)
        high = high * high + at_x * at_x
        meets = -1e18
        while count > 0:
            meets = (high - starts[1, count - 1]) / (2.0 * (at_x - corners[count - 1]))
            if meets > starts[0, count - 1]:
                break
            count -= 1
            meets = -1e18
        corners[count], starts[0, count], starts[1, count] = x, meets, high
        count += 1
    k = 0
    for x in range(first, end):
        if count == 0:
            out[x] = sign * np.float32(FAR)
            continue
        while k + 1 < count and starts[0, k + 1] < x:
            k += 1
        at_x = np.float64(x)
        square = at_x * at_x - 2.0 * at_x * corners[k] + starts[1, k]
        out[x] = sign * (np.float32(np.sqrt(square)) - HALF)


@kernel
def _rows(matte, up_down, near, first, end, out):  # type: ignore[no-untyped-def]
    width = matte.shape[1]
    corners, starts = np.empty(width + 2, np.float64), np.empty((2, width + 2), np.float64)
    for y in range(first, end):
        begin = 0
        while begin < width:
            inside, asked = matte[y, begin] > HALF, False
            stop = begin
            while stop < width and (matte[y, stop] > HALF) == inside:
                asked = asked or near[y // BLOCK, stop // BLOCK] != 0
                stop += 1
            sign = ONE if inside else -ONE
            if asked:
                _run(up_down[y], begin, stop, 1 if begin > 0 else 0, 1 if stop < width else 0, sign, corners, starts, out[y])
            else:
                for x in range(begin, stop):
                    out[y, x] = sign * np.float32(FAR)
            begin = stop


def signed_distance(matte: Matte, near: Blocks | None = None) -> Matte:
    """Distance to the matte's edge in pixels, positive inside (Euclidean, exact to the pixel grid).

    matte: `(h, w)`, cut in two at `EDGE`. near: which blocks of `BLOCK` by `BLOCK` pixels it is asked for, all where None;
    elsewhere, and where there is no edge at all, it may be `FAR`, with its sign.
    """
    height, width = matte.shape
    asked = np.ones((-(-height // BLOCK), -(-width // BLOCK)), np.uint8) if near is None else near
    up_down, out = np.empty(matte.shape, np.float32), np.empty(matte.shape, np.float32)
    run_tiles(width, TALL, lambda first, end, scratch: _columns(matte, first, end, up_down))
    run_tiles(height, width, lambda first, end, scratch: _rows(matte, up_down, asked, first, end, out))
    return out
