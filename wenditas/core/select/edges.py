"""Outlines and the edges of a picture: how well one lies on them, and how it is moved onto them."""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

Grey = npt.NDArray[np.uint8]
ROOM = 6  # pixels around what is looked at
AWAY = 8  # pixels to either side among which the edge under an outline is to be the strongest
FAR, ROUGH = 0.3, 0.15  # what it costs to go as far as can be, and that neighbours differ by a pixel
STRONG = 30.0  # change of luma over a pixel that counts as a whole edge


def spread(points: Floats, apart: float) -> Floats:
    """Places along a closed outline `(n, 2)`, evenly, about so many pixels apart: 8 or more."""
    closed = np.concatenate([points, points[:1]])
    far = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1))])
    at = np.linspace(0, far[-1], max(8, round(far[-1] / apart)), endpoint=False)
    return np.stack([np.interp(at, far, closed[:, k]) for k in (0, 1)], axis=1)


def turns_right(points: Floats) -> bool:
    """Whether a closed outline goes around as a clock's hand does, y being down."""
    after = np.roll(points, -1, axis=0)
    return float((points[:, 0] * after[:, 1] - after[:, 0] * points[:, 1]).sum()) > 0


def normals_of(points: Floats) -> Floats:
    """The directions that lead out of a closed outline at its places `(n, 2)`, of length 1."""
    along = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    across = np.stack([along[:, 1], -along[:, 0]], axis=1) * (1 if turns_right(points) else -1)
    return np.asarray(across / np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9))


def changes(grey: Grey, points: Floats, reach: int) -> Floats:
    """How strongly luma changes across an outline, a pixel, at steps of one from within to without: `(n, 2 reach + 1)`.

    grey: `(h, w)`; points: `(n, 2)`, x and y, in its pixels, whose middles are at halves.
    """
    room = reach + ROOM
    low = np.clip(np.floor(points.min(axis=0)) - room, 0, np.array(grey.shape[::-1]) - 1).astype(int)
    high = np.maximum(np.ceil(points.max(axis=0)).astype(int) + room, low + 1)
    soft = cv2.GaussianBlur(grey[low[1] : high[1], low[0] : high[0]].astype(np.float32), (0, 0), 1.0)
    ways = points[:, None] + np.arange(-reach - 1, reach + 2)[None, :, None] * normals_of(points)[:, None] - 0.5 - low
    values = cv2.remap(soft, ways.astype(np.float32), None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    return np.asarray(np.abs(values[:, 2:] - values[:, :-2]) / 2, np.float64)


def best_way(costs: Floats) -> npt.NDArray[np.intp]:
    """For each place of a closed outline the step that costs least in all, where neighbours' steps cost as they differ: `(n,)`.

    costs: `(n, steps)`. Source: Amini, Weymouth and Jain (1990), active contours by dynamic programming; twice around, of which the middle is kept.
    """
    count, steps = costs.shape
    apart = ROUGH * np.square(np.subtract.outer(np.arange(steps), np.arange(steps)))
    total, came = costs[0], np.zeros((2 * count, steps), np.intp)
    for n in range(1, 2 * count):
        each = total[:, None] + apart
        came[n] = each.argmin(axis=0)
        total = each.min(axis=0) + costs[n % count]
    found = np.zeros(2 * count, np.intp)
    found[-1] = total.argmin()
    for n in range(2 * count - 1, 0, -1):
        found[n - 1] = came[n, found[n]]
    middle = count // 2
    return np.roll(found[middle : middle + count], middle)


def lies(grey: Grey, points: Floats) -> float:
    """How well an outline `(n, 2)` lies on an edge, 0-1: how strong that is under it, of how strong it is at the best place near by."""
    strength = changes(grey, points, AWAY)
    under = strength[:, AWAY - 1 : AWAY + 2].max(axis=1)
    return float(np.clip(under.sum() / max(strength.max(axis=1).sum(), 1e-6), 0, 1))


def snapped(grey: Grey, points: Floats, reach: int) -> Floats:
    """Places `(n, 2)` of a closed outline, moved across it to the strongest edge within `reach` pixels, together with their neighbours."""
    far = FAR * np.square(np.arange(-reach, reach + 1) / max(reach, 1))
    steps = best_way(far - np.minimum(changes(grey, points, reach) / STRONG, 1)) - reach
    return np.asarray(points + steps[:, None] * normals_of(points))
