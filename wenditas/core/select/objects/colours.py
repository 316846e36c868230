"""What colours are a thing's and what are its ground's, here and there.

The colours of a frame are put into a few dozen classes; in cells of the frame the classes of the thing and of its ground are counted, so
that what is sought lies between the two where it is. The idea of many local models along an edge is of Bai, Wang, Simons and Sapiro
(2009), *Video SnapCut*; cells in a grid in place of windows, and classes in place of mixtures, are ours, for speed.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Matte, kernel

STEPS = np.array([0.06, 0.03, 0.03], np.float32)  # of luma and colour differences, that make a class at first
MOST_CLASSES = 64
TOGETHER = 1024
CELL = 24  # pixels to a side
ALIKE = 0.035  # distance at which two classes count 0.6 for each other; differences count twice what luma does
WEIGHTS = np.array([1, 2, 2], np.float32)
FEW = 6.0  # pixels in a cell that are as much as what is known of the thing everywhere

Classes = npt.NDArray[np.uint8]
Box = tuple[slice, slice]


@kernel
def _nearest(values, centres, out):  # type: ignore[no-untyped-def]
    """The nearest centre of each colour; a thousand of them at a time, so that each centre is held against many."""
    luma, blue, red, best = values[0], values[1], values[2], np.empty(TOGETHER, np.float32)
    for first in range(0, luma.size, TOGETHER):
        count, start = min(TOGETHER, luma.size - first), np.uint64(first)
        for n in range(count):
            best[n] = np.float32(1e9)
        for k in range(centres.shape[0]):
            y, b, r, at = centres[k, 0], centres[k, 1], centres[k, 2], np.uint8(k)
            for n in range(np.uint64(count)):
                dy, db, dr = luma[start + n] - y, blue[start + n] - b, red[start + n] - r
                d = dy * dy + np.float32(4) * (db * db + dr * dr)
                nearer = d < best[n]
                best[n] = d if nearer else best[n]
                out[start + n] = at if nearer else out[start + n]


@dataclass(frozen=True, eq=False)
class Palette:
    """centres: `(k, 3)`, luma and colour differences. alike: `(k, k)`, how much a class counts for another, rows summing to 1."""

    centres: Floats
    alike: Floats

    @classmethod
    def of(cls, values: Floats, noise: float) -> "Palette":
        """The commonest colours of some, `(3, n)`, in order. noise: of luma, one standard deviation."""
        codes = np.round(values / STEPS[:, None]).astype(np.int32)
        packed = (codes[0] + 64) * 65536 + (codes[1] + 64) * 256 + codes[2] + 64
        names, where, counts = np.unique(packed, return_inverse=True, return_counts=True)
        chosen = np.argsort(-counts, kind="stable")[:MOST_CLASSES]
        rank = np.full(len(names), -1)
        rank[chosen] = np.arange(len(chosen))
        at = rank[where]
        known = at >= 0
        sums = np.stack([np.bincount(at[known], plane[known], len(chosen)) for plane in values])
        centres = np.ascontiguousarray((sums / counts[chosen]).T, np.float32)
        apart = (((centres[:, None] - centres[None]) * WEIGHTS) ** 2).sum(axis=2)
        reach = ALIKE**2 + (2 * noise) ** 2
        alike = np.exp(-apart / (2 * reach))
        return cls(centres, np.asarray(alike / alike.sum(axis=1, keepdims=True), np.float32))

    def classes(self, values: Floats) -> Classes:
        """The class of each of some colours, `(3, ...)`."""
        flat = np.ascontiguousarray(values.reshape(3, -1), np.float32)
        out = np.empty(flat.shape[1], np.uint8)
        _nearest(flat, self.centres, out)
        return out.reshape(values.shape[1:])


@dataclass(frozen=True, eq=False)
class Known:
    """What is known of a thing for good, from the frame on which it was stroked: colours `(3, n)` of it and of what was around it, and its area."""

    inside: Floats
    outside: Floats
    area: float

    def odds(self, palette: Palette) -> Floats:
        """How much more likely each class is the thing's than its ground's, as a logarithm `(k,)`."""
        count = len(palette.centres)
        shares = [np.bincount(palette.classes(c), minlength=count) @ palette.alike / max(c.shape[1], 1) for c in (self.inside, self.outside)]
        return np.asarray(np.log((shares[0] + 1e-3) / (shares[1] + 1e-3)), np.float32)


def _counted(classes: Classes, y: Floats, x: Floats, weight: Floats, rows: int, columns: int, palette: Palette) -> Floats:
    """How often each class comes, in cells `(rows, columns, k)`; a cell knows its neighbours."""
    count = len(palette.centres)
    cells = (np.clip(y / CELL, 0, rows - 1).astype(np.int64) * columns + np.clip(x / CELL, 0, columns - 1).astype(np.int64)) * count + classes
    found = np.bincount(cells, weight, rows * columns * count).reshape(rows, columns, count).astype(np.float32)
    taps = np.array([0.5, 1, 0.5], np.float32)
    for axis in (0, 1):
        padded = np.pad(found, [(1, 1) if a == axis else (0, 0) for a in range(3)])
        found = sum(t * np.take(padded, range(k, k + found.shape[axis]), axis=axis) for k, t in enumerate(taps))  # type: ignore[assignment]
    return found @ palette.alike


def odds_between(seen: tuple[Classes, Matte, Floats], sought: Classes, palette: Palette, known: Floats) -> Floats:
    """How much more likely each pixel of a box is the thing's than its ground's, as a logarithm `(h, w)`.

    seen: classes of pixels whose matte is known, that matte, and their places `(2, h, w)` (y, x) in the box; sought: classes of the box.
    known: the odds of each class for good, which count where little is seen.
    """
    height, width = sought.shape
    rows, columns = -(-height // CELL), -(-width // CELL)
    classes, matte, places = seen[0].ravel(), seen[1].ravel(), seen[2].reshape(2, -1)
    counts = [_counted(classes, places[0], places[1], w, rows, columns, palette) for w in (matte, 1 - matte)]
    share = 1 / (1 + np.exp(-np.clip(known, -4, 4)))
    local = np.log((counts[0] + FEW * share) / (counts[1] + FEW * (1 - share)))
    return _between(np.asarray(local, np.float32), sought)


def _between(cells: Floats, sought: Classes) -> Floats:
    """The value of each pixel's class, between the four cells around it."""
    height, width = sought.shape
    rows, columns, _ = cells.shape
    y, x = (np.arange(height) + 0.5) / CELL - 0.5, (np.arange(width) + 0.5) / CELL - 0.5
    top, left = np.clip(np.floor(y).astype(int), 0, rows - 1), np.clip(np.floor(x).astype(int), 0, columns - 1)
    down, across = np.clip(y - top, 0, 1).astype(np.float32)[:, None], np.clip(x - left, 0, 1).astype(np.float32)[None]
    below, right = np.minimum(top + 1, rows - 1), np.minimum(left + 1, columns - 1)
    corners = [cells[a[:, None], b[None], sought] for a, b in ((top, left), (top, right), (below, left), (below, right))]
    upper, lower = corners[0] + (corners[1] - corners[0]) * across, corners[2] + (corners[3] - corners[2]) * across
    return np.asarray(upper + (lower - upper) * down, np.float32)


def around(matte: Matte, room: int) -> Box | None:
    """The rows and columns of what is more than half in, with some room; None where nothing is."""
    inside = matte > 0.5
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    if not rows.size:
        return None
    height, width = matte.shape
    return slice(max(int(rows[0]) - room, 0), min(int(rows[-1]) + room + 1, height)), slice(
        max(int(columns[0]) - room, 0), min(int(columns[-1]) + room + 1, width)
    )


def signed(matte: Matte) -> Floats:
    """Distance to the edge in pixels, positive inside."""
    inside = (matte > 0.5).astype(np.uint8)
    within = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_5)
    return np.asarray(within - cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_5), np.float32)
