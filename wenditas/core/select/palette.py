"""The colours of a picture as a palette."""

import cv2
import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.kernel import Picture, finite

SAMPLES, SEED, ATTEMPTS = 12_000, 7, 3
LEAST, MOST = 2, 12


def palette_of(picture: Picture, count: int) -> list[str]:
    """As many colours as asked for that stand for a picture, as #rrggbb, dark to light; fewer where it has no more.

    picture: `(3, h, w)`, gamma-coded. The middles of clusters in Oklab (k-means, Lloyd 1982, begun as k-means++).
    Source: Oklab (Ottosson 2020) for distance and order.
    """
    pixels = np.clip(finite(picture).reshape(3, -1), 0, 1)
    rng = np.random.default_rng(SEED)
    chosen = pixels[:, rng.choice(pixels.shape[1], min(SAMPLES, pixels.shape[1]), replace=False)]
    points = np.ascontiguousarray(oklab_from_rgb(chosen).T, np.float32)
    different = np.unique((points * 500).round(), axis=0)
    count = min(max(count, 1), MOST, len(different))
    cv2.setRNGSeed(SEED)
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 60, 1e-5)
    _, _, centres = cv2.kmeans(points, count, None, criteria, ATTEMPTS, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    ordered = centres[np.argsort(centres[:, 0])].astype(np.float64)
    return [hex_from_rgb(rgb_from_oklab(c)) for c in ordered]
