"""The frame's main colours, found by clustering: suggestions for what to select."""

from dataclasses import dataclass, replace

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.names import colour_name, distinct_names
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats, Picture

CLUSTERS, LEAST_CHROMA, LEAST_COVERAGE = 16, 0.05, 0.3
SAME, NEAR = 7.0, 30.0  # degrees of hue: shades of one colour; colours that may have one name
SAMPLES, SEED = 6_000, 4
LIT = 75  # percentile of lightness: people name a thing by its lit side

Places = npt.NDArray[np.intp]


@dataclass(frozen=True)
class MainColour:
    """A main colour: its name, gamma-coded R'G'B', a place where it is found (0-1), the percent of the frame."""

    name: str
    colour: tuple[float, float, float]
    x: float
    y: float
    coverage: float


def main_colours(picture: Picture) -> list[MainColour]:
    """The frame's main colours, most of the frame first; near-greys are left out. No two have the same name.

    k-means (Lloyd) on the a-b plane of Oklab; clusters of nearly the same hue are joined, and those of a near hue that people call the same.
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
    _, labels, _ = cv2.kmeans(points, CLUSTERS, None, criteria, 3, cv2.KMEANS_PP_CENTERS)
    colours = picture.reshape(3, -1)
    found: list[MainColour] = []
    called: list[Floats] = []
    for members in _joined([chosen[labels.ravel() == n] for n in range(CLUSTERS)], lab, colours):
        coverage = 100 * len(members) / len(chosen) * len(coloured) / lab.shape[1]
        if coverage < LEAST_COVERAGE:
            continue
        middle = np.median(lab[:, members], axis=1, keepdims=True)
        place = members[np.argmin(((lab[:, members] - middle) ** 2).sum(axis=0))]
        r, g, b = (float(v) for v in colours[:, place])
        x, y = (place % width + 0.5) / width, (place // width + 0.5) / height
        found.append(MainColour("", (r, g, b), float(x), float(y), float(coverage)))
        called.append(_lit(members, lab, colours))
    names = distinct_names(called)
    return sorted((replace(c, name=name) for c, name in zip(found, names, strict=True)), key=lambda c: -c.coverage)


def _lit(members: Places, lab: Floats, colours: Floats) -> Floats:
    """The colour of the lit side of some pixels."""
    lit = members[lab[0, members] >= np.percentile(lab[0, members], LIT)]
    return np.asarray(np.median(colours[:, lit], axis=1))


def _joined(clusters: list[Places], lab: Floats, colours: Floats) -> list[Places]:
    """Clusters, round the circle, joined with the one before where both are of nearly one hue, or of a near hue and one name."""

    def hue(members: Places) -> float:
        a, b = lab[1:, members].mean(axis=1)
        return float(np.degrees(np.arctan2(b, a)))

    def one(a: Places, b: Places) -> bool:
        apart = abs((hue(a) - hue(b) + 180) % 360 - 180)
        return apart < SAME or (apart < NEAR and colour_name(_lit(a, lab, colours)) == colour_name(_lit(b, lab, colours)))

    groups: list[Places] = []
    for members in sorted((c for c in clusters if len(c)), key=hue):
        if groups and one(groups[-1], members):
            groups[-1] = np.concatenate([groups[-1], members])
        else:
            groups.append(members)
    if len(groups) > 1 and one(groups[0], groups[-1]):
        groups[0] = np.concatenate([groups[0], groups.pop()])
    return groups
