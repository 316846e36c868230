"""The frame's main colours, found by clustering: suggestions for what to select."""

from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.colour.names import colour_name
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats, Picture

CLUSTERS, LEAST_CHROMA, LEAST_COVERAGE, SAME = 9, 0.05, 0.3, 14.0
SAMPLES, SEED = 20_000, 4


@dataclass(frozen=True)
class MainColour:
    """A main colour: its name, gamma-coded R'G'B', a place where it is found (0-1), the percent of the frame."""

    name: str
    colour: tuple[float, float, float]
    x: float
    y: float
    coverage: float


def main_colours(picture: Picture) -> list[MainColour]:
    """The frame's main colours, most of the frame first; near-greys are left out.

    k-means (Lloyd) on the a-b plane of Oklab, clusters of nearly the same hue joined.
    The place is that of a pixel nearest to the cluster's middle.
    """
    _, height, width = picture.shape
    lab = oklab_from_rgb(np.clip(picture, 0, 1.25)).reshape(3, -1)
    chroma = np.hypot(lab[1], lab[2])
    coloured = np.flatnonzero(chroma > LEAST_CHROMA)
    if len(coloured) < CLUSTERS:
        return []
    rng = np.random.default_rng(SEED)
    chosen = rng.choice(coloured, min(SAMPLES, len(coloured)), replace=False)
    points = np.ascontiguousarray(lab[1:, chosen].T, np.float32)
    cv2.setRNGSeed(SEED)
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 40, 1e-4)
    _, labels, centres = cv2.kmeans(points, CLUSTERS, None, criteria, 3, cv2.KMEANS_PP_CENTERS)
    groups = _join(centres)
    found = []
    for group in groups:
        members = chosen[np.isin(labels.ravel(), group)]
        coverage = 100 * len(members) / len(chosen) * len(coloured) / lab.shape[1]
        if coverage < LEAST_COVERAGE:
            continue
        middle = np.median(lab[:, members], axis=1, keepdims=True)
        place = members[np.argmin(((lab[:, members] - middle) ** 2).sum(axis=0))]
        r, g, b = (float(v) for v in picture.reshape(3, -1)[:, place])
        x, y = (place % width + 0.5) / width, (place // width + 0.5) / height
        found.append(MainColour(colour_name((r, g, b)), (r, g, b), float(x), float(y), float(coverage)))
    return sorted(found, key=lambda c: -c.coverage)


def _join(centres: Floats) -> list[list[int]]:
    """Clusters whose hues lie within `SAME` degrees of each other, as lists of their numbers."""
    hue = np.degrees(np.arctan2(centres[:, 1], centres[:, 0]))
    order = list(np.argsort(hue))
    groups = [[int(order[0])]]
    for n in order[1:]:
        if hue[n] - hue[groups[-1][-1]] < SAME:
            groups[-1].append(int(n))
        else:
            groups.append([int(n)])
    if len(groups) > 1 and hue[groups[0][0]] + 360 - hue[groups[-1][-1]] < SAME:
        groups[0] += groups.pop()
    return groups
