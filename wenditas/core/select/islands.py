"""Islands: the connected pieces of a matte."""

from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte
from wenditas.core.select.distance import EDGE

MOST, LEAST_SHARE = 24, 0.0005


@dataclass(frozen=True)
class Island:
    """A piece of a matte. Places are pixels of a 1080-line picture.

    share: of all that is selected, in percent. coverage: of the frame, in percent.
    box: left, top, right, bottom. outline: a rough polygon around it, `(n, 2)`.
    """

    share: float
    coverage: float
    box: tuple[float, float, float, float]
    outline: Floats


def islands(matte: Matte, most: int = MOST) -> list[Island]:
    """The largest islands first (8-neighbours, cut at 50 %), at most `most`; specks below 0.05 % of the whole are left out."""
    cut = (matte > EDGE).astype(np.uint8)
    total = int(cut.sum())
    if total == 0:
        return []
    _, labels, stats, _ = cv2.connectedComponentsWithStats(cut, connectivity=8, ltype=cv2.CV_32S)
    order = np.argsort(-stats[1:, cv2.CC_STAT_AREA], kind="stable")[:most] + 1
    scale = 1080 / matte.shape[0]
    found = []
    for label in order:
        left, top, width, height, area = (int(v) for v in stats[label])
        if area < max(1, LEAST_SHARE * total):
            break
        part = (labels[top : top + height, left : left + width] == label).astype(np.uint8)
        outline = (_hull(part) + (left, top)) * scale
        box = (left * scale, top * scale, (left + width) * scale, (top + height) * scale)
        found.append(Island(100 * area / total, 100 * area / matte.size, box, outline))
    return found


def _hull(part: Floats) -> Floats:
    """A convex polygon of few points around a piece."""
    contours, _ = cv2.findContours(part, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    hull = cv2.convexHull(np.concatenate(contours)).reshape(-1, 2).astype(np.float64) + 0.5
    rough = cv2.approxPolyDP(hull.astype(np.float32).reshape(-1, 1, 2), 0.01 * sum(part.shape), True)
    return np.asarray(rough.reshape(-1, 2), np.float64)


def fence_around(outline: Floats, margin: float) -> Floats:
    """The outline moved outward by about `margin` (same unit), at least a small diamond; `(n, 2)`, n >= 3."""
    middle = outline.mean(axis=0)
    away = outline - middle
    length = np.linalg.norm(away, axis=1, keepdims=True)
    if len(outline) < 3 or length.max() < 1e-6:
        reach = margin + (length.max() if len(outline) else 0)
        return np.asarray(middle + reach * np.array([(-1, 0), (0, -1), (1, 0), (0, 1)]))
    return np.asarray(middle + away * (1 + margin / np.maximum(length, 1e-6)))
