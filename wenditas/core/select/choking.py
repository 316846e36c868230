"""Drawing the edge of a matte in, or growing it, fractions of a pixel included."""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Matte, kernel
from wenditas.core.select.distance import EDGE, FAR, signed_distance, signed_distance_reference
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
def _move_rows(matte, distance, blurred, pixels, first, end, out):  # type: ignore[no-untyped-def]
    """Each pixel's value from `pixels` further out; the gradient of the blurred distance by Sobel's operator, mirrored at the rim."""
    height, width = matte.shape
    half, two = np.float32(EDGE), np.float32(2)
    for y in range(first, end):
        a, b = (y - 1 if y > 0 else min(1, height - 1)), (y + 1 if y + 1 < height else max(height - 2, 0))
        for x in range(width):
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
def _restless_rows(matte, first, end, rows, columns):  # type: ignore[no-untyped-def]
    """Marks rows and columns in which a pixel differs from the one after it, across or down."""
    height, width = matte.shape
    for y in range(first, end):
        below = min(y + 1, height - 1)
        for x in range(width):
            beside = min(x + 1, width - 1)
            here = matte[y, x]
            if here != matte[y, beside] or here != matte[below, x]:
                rows[y] = rows[below] = columns[x] = columns[beside] = 1


def restless(matte: Matte, beside: float) -> tuple[slice, slice] | None:
    """The rows and columns in which a matte is not even, with some pixels beside them; None where all of it is one value.

    Outside of them it is even up to the rim of the frame, so what looks no further than `beside` changes nothing there.
    """
    height, width = matte.shape
    rows, columns = np.zeros(height, np.uint8), np.zeros(width, np.uint8)
    run_tiles(height, width, lambda first, end, scratch: _restless_rows(matte, first, end, rows, columns))
    if not rows.any():
        return None
    return _span(rows, beside), _span(columns, beside)


def _span(marks: npt.NDArray[np.uint8], beside: float) -> slice:
    found, margin = np.flatnonzero(marks), int(np.ceil(beside))
    return slice(max(int(found[0]) - margin, 0), int(found[-1]) + margin + 1)


def choke(matte: Matte, pixels: float) -> Matte:
    """The matte with its edge drawn in by `pixels` (grown where negative), fractions included.

    Every pixel takes the value that lies `pixels` further out along the normal of the edge,
    so that soft edges keep their softness. Source: Euclidean distance transform; the edge
    moves along its gradient. Worked out only where the matte is not even.
    """
    where = restless(matte, abs(pixels) + BESIDE) if pixels else None
    if where is None:
        return matte
    part = np.ascontiguousarray(matte[where])
    distance = signed_distance(part)
    if np.abs(distance).min() >= FAR:
        return matte
    blurred, moved, by = cv2.GaussianBlur(distance, (0, 0), BLUR), np.empty_like(part), np.float32(pixels)
    run_tiles(part.shape[0], part.shape[1], lambda first, end, scratch: _move_rows(part, distance, blurred, by, first, end, moved))
    out = matte.copy()
    out[where] = moved
    return out
