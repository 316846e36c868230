"""From an object's matte to an outline that an editor can take hold of, and back to strokes."""

from collections.abc import Sequence

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte
from wenditas.core.select.objects.marks import MOST_STROKES, Stroke
from wenditas.core.select.tracks import MOST_POINTS

NEAR = 1.0  # pixels of the matte that an outline may be off
AGAIN = 1.3  # how much further off where that takes too many points
LINES, ROOM = 6, 24.0  # lines within a thing; pixels of 1080 lines between it and the line around it
LEAST_PIECE = 16  # quarters of a pixel below which a piece is none
LEAST_INSIDE = 3.0  # pixels from the edge to a stroke


def outline_of(matte: Matte) -> Floats:
    """The outline of the greatest piece of a matte, in as few points as keep within one pixel of it: `(n, 2)`, x and y in pixels of 1080 lines.

    Empty where there is nothing to go around. Source: Douglas and Peucker (1973), as OpenCV has it.
    """
    piece, off = piece_of(matte).astype(np.float32), NEAR
    found = cv2.approxPolyDP(piece, off, True) if len(piece) else piece
    while len(found) > MOST_POINTS:
        off *= AGAIN
        found = cv2.approxPolyDP(piece, off, True)
    return np.asarray(found.reshape(-1, 2).astype(np.float64) * 1080 / matte.shape[0]) if len(found) >= 3 else np.empty((0, 2))


def piece_of(matte: Matte) -> Floats:
    """The outline of the greatest piece of a matte, point by point: `(n, 2)`, in pixels whose middles are at halves. Empty where there is none."""
    height, width = matte.shape
    large = cv2.resize(matte, (2 * width, 2 * height), interpolation=cv2.INTER_LINEAR)  # so that corners lie between pixels
    pieces, _ = cv2.findContours((large > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    piece = max(pieces, key=cv2.contourArea, default=None)
    return np.empty((0, 2)) if piece is None or cv2.contourArea(piece) < LEAST_PIECE else (piece[:, 0].astype(np.float64) + 0.5) / 2


def strokes_of(outline: Floats, frame: int, ids: Sequence[str]) -> tuple[Stroke, ...]:
    """Strokes that say the same as an outline `(n, 2)` in pixels of 1080 lines: lines within it, and one around it. ids: names for them, enough of them."""
    low = outline.min(axis=0) - 4 * ROOM
    size = np.ceil(outline.max(axis=0) - low + 4 * ROOM).astype(int)
    inside = np.zeros((int(min(size[1], 4000)), int(min(size[0], 4000))), np.uint8)
    cv2.fillPoly(inside, [np.round(outline - low).astype(np.int32)], 1)
    deep = cv2.distanceTransform(inside, cv2.DIST_L2, 5)
    most, lines = float(deep.max()), list[Floats]()
    left = deep.copy()
    for _ in range(LINES):
        y, x = np.unravel_index(int(left.argmax()), left.shape)
        if left[y, x] < max(0.35 * most, LEAST_INSIDE):
            break
        lines.append(np.array([(x, y)], np.float64))
        cv2.circle(left, (int(x), int(y)), int(1.5 * left[y, x]) + 1, 0, -1)
    joined = [lines[0]] if lines else []
    for n, place in enumerate(lines[1:], 1):
        near = min((line[0] for line in lines[:n]), key=lambda p: float(np.hypot(*(p - place[0]))))
        way = np.linspace(near, place[0], 16)
        clear = all(deep[int(y), int(x)] > LEAST_INSIDE for x, y in way)
        joined.append(np.stack([near, place[0]]) if clear else place)
    ring, _ = cv2.findContours((cv2.distanceTransform(1 - inside, cv2.DIST_L2, 5) < ROOM).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    around = cv2.approxPolyDP(max(ring, key=cv2.contourArea), 3, True)[:, 0].astype(np.float64)
    around = np.concatenate([around, around[:1]])
    radius = float(np.clip(most / 3, 1, 12))
    told = [*(("this", line) for line in joined), ("not this", around)]
    return tuple(
        Stroke.model_validate({"id": id, "frame": frame, "kind": kind, "radius": radius, "points": [(round(x, 1), round(y, 1)) for x, y in line + low]})
        for id, (kind, line) in zip(ids, told[:MOST_STROKES], strict=False)
    )
