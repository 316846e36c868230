"""The distance of every pixel to the edge of a matte, exact to the pixel grid.

Columns first, by two sweeps; then along each row the lower envelope of the parabolas that stand on the columns' distances:
Felzenszwalb and Huttenlocher, *Distance Transforms of Sampled Functions* (2012). Each pixel asks only for the other side's nearest
pixel, so both sides are done in one go, run by run.
"""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Matte, apart, fill, kernel
from wenditas.core.tiles import run_tiles

EDGE = 0.5  # what counts as selected where a matte must be cut in two
FAR = 1e4  # the distance told where there is no edge
NONE = np.float32(1e5)  # further than any column is high
PIECE = 32  # pixels of a row whose distances are sought together
LOOKED = 32  # how far it is looked for column by column, before an envelope is quicker
BLOCK = 8  # pixels to a side of the blocks in which it is told where something is asked for
Blocks = npt.NDArray[np.uint8]
HALF, ZERO, ONE = np.float32(0.5), np.float32(0), np.float32(1)
TALL = 24 * 1024 // 480  # as if columns were this long: 480 of them make a tile of the first sweep


def signed_distance_reference(matte: Matte) -> Matte:
    """`signed_distance` by OpenCV's two transforms."""
    inside = (matte > EDGE).astype(np.uint8)
    if not inside.any() or inside.all():
        return np.full(matte.shape, FAR if inside.any() else -FAR, np.float32)
    within = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    without = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    return np.asarray(np.where(inside > 0, within - 0.5, 0.5 - without), np.float32)


@apart
def _step(here, before, reach, told):  # type: ignore[no-untyped-def]
    """How far the nearest pixel of the other side lies, one row on; the nearer of that and what is told already."""
    for x in range(here.size):
        same = (here[x] > HALF) == (before[x] > HALF)
        told[x] = min(told[x], reach[x] + ONE if same else ONE)


@kernel
def _columns(matte, first, end, up_down):  # type: ignore[no-untyped-def]
    """For columns `first` to `end`: how far up or down the nearest pixel of the other side lies."""
    height = matte.shape[0]
    for y in range(height):
        fill(up_down[y, first:end], NONE)
    for y in range(1, height):
        _step(matte[y, first:end], matte[y - 1, first:end], up_down[y - 1, first:end], up_down[y, first:end])
    for y in range(height - 2, -1, -1):
        _step(matte[y, first:end], matte[y + 1, first:end], up_down[y + 1, first:end], up_down[y, first:end])


@kernel
def _envelope(reach, begin, stop, before, after, corners, starts):  # type: ignore[no-untyped-def]
    """The lower envelope of the parabolas of columns `begin` to `stop`, and of those beside them that belong to the other side; how many make it."""
    count = 0
    for x in range(begin - before, stop + after):
        high = np.float64(0) if x < begin or x >= stop else np.float64(reach[x])
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
    return count


@apart
def _looked(reach, first, end, begin, stop, within, out):  # type: ignore[no-untyped-def]
    """Squared distances, by looking at the columns beside the pixels one after another, as far as `within`; `out` holds upper bounds.

    Counted in unsigned numbers, which are never taken from an end, and not by slices, which cost more than the looking.
    """
    for k in range(1, within + 1):
        square, step = np.float32(k * k), np.uint64(k)
        for x in range(np.uint64(max(first, begin + k)), np.uint64(end)):
            out[x] = min(out[x], reach[x - step] * reach[x - step] + square)
        for x in range(np.uint64(first), np.uint64(max(min(end, stop - k), first))):
            out[x] = min(out[x], reach[x + step] * reach[x + step] + square)


@kernel
def _any_of(asked, first, last):  # type: ignore[no-untyped-def]
    count = 0
    for block in range(first, last + 1):
        count += asked[block]
    return count > 0


@kernel
def _near_piece(reach, first, end, begin, stop, width, out):  # type: ignore[no-untyped-def]
    """Squared distances of some pixels of a run, columns `begin` to `stop` of a row, if none is further than `LOOKED`; whether that is so.

    No column beyond the ones beside the run can be nearer than they are.
    """
    furthest = ZERO
    left, right = np.float32(1 - begin) if begin > 0 else NONE, np.float32(stop) if stop < width else NONE  # with a column's number, how far it is
    for x in range(np.uint64(first), np.uint64(end)):
        column = np.float32(np.int32(x))
        known = min(reach[x], min(left + column, right - column))
        out[x] = known * known
        furthest = max(furthest, known)
    if furthest > LOOKED:
        return False
    _looked(reach, first, end, begin, stop, np.int64(furthest) - 1, out)
    return True


@kernel
def _enveloped(first, end, count, corners, starts, out):  # type: ignore[no-untyped-def]
    """Squared distances by the envelope of a run."""
    k = 0
    for x in range(first, end):
        while k + 1 < count and starts[0, k + 1] < x:
            k += 1
        at_x = np.float64(x)
        out[x] = at_x * at_x - 2.0 * at_x * corners[k] + starts[1, k] if count else (FAR + 0.5) ** 2


@kernel
def _run(reach, asked, begin, stop, sign, corners, starts, out):  # type: ignore[no-untyped-def]
    """The distances of a run of pixels of one side, columns `begin` to `stop` of a row, in the pieces of it that are asked for."""
    width, count, a = out.size, -1, begin
    while a < stop:
        z = min((a // PIECE + 1) * PIECE, stop)
        if not _any_of(asked, a // BLOCK, (z - 1) // BLOCK):
            fill(out[a:z], sign * np.float32(FAR))
        else:
            if not _near_piece(reach, a, z, begin, stop, width, out):
                if count < 0:
                    count = _envelope(reach, begin, stop, 1 if begin > 0 else 0, 1 if stop < width else 0, corners, starts)
                _enveloped(a, z, count, corners, starts, out)
            for x in range(np.uint64(a), np.uint64(z)):
                out[x] = sign * (np.sqrt(out[x]) - HALF)
        a = z


@kernel
def _rows(matte, up_down, near, first, end, out):  # type: ignore[no-untyped-def]
    width = matte.shape[1]
    corners, starts = np.empty(width + 2, np.float64), np.empty((2, width + 2), np.float64)
    for y in range(first, end):
        row, begin = matte[y], np.int64(0)  # not a literal, for which all that is called would be compiled once more
        while begin < width:
            inside, stop = row[begin] > HALF, begin
            while stop < width and (row[stop] > HALF) == inside:
                stop += 1
            _run(up_down[y], near[y // BLOCK], begin, stop, ONE if inside else -ONE, corners, starts, out[y])
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
