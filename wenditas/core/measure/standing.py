"""The frame that stands for a shot: the one whose colours are nearest the shot's average."""

from collections.abc import Sequence

import numpy as np

from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats, Picture

BINS = 6  # of lightness, and of each of Oklab's a and b
COLOURS = 0.3  # as far as a and b are told apart


def colours_of(picture: Picture) -> Floats:
    """How the colours of a picture `(3, h, w)` are spread: shares of its pixels in even cells of Oklab, which together are 1."""
    lightness, a, b = oklab_from_rgb(np.clip(picture, 0, 1)).reshape(3, -1)
    places = np.stack([lightness * BINS, (a / COLOURS + 1) / 2 * BINS, (b / COLOURS + 1) / 2 * BINS])
    cells = np.clip(places.astype(int), 0, BINS - 1)
    counts = np.bincount(cells[0] * BINS * BINS + cells[1] * BINS + cells[2], minlength=BINS**3)
    return np.asarray(counts / counts.sum())


def standing(pictures: Sequence[Picture]) -> int:
    """Which of some pictures stands for all: the one whose colours differ least from their average (sum of absolute differences; the first of equals).

    Source: definition; Oklab (Ottosson 2020).
    """
    spreads = np.array([colours_of(p) for p in pictures])
    return int(np.argmin(np.abs(spreads - spreads.mean(axis=0)).sum(axis=1)))
