"""Checks: what is measured on a frame to warn of before it disappoints."""

import cv2
import numpy as np

from wenditas.core.colour.oklab import lch_from_lab, limited_oklab
from wenditas.core.kernel import Picture

SKY_LIGHT, SKY_CHROMA = 0.72, 0.16  # Oklab lightness above which, and chroma below which, a sky counts as bright
SKY_EVEN = 0.012  # the most that lightness changes from pixel to pixel in a sky
SKY_ROWS = 0.45  # a sky lies in this part of the frame, from the top
LINES = 270  # the check is made on a picture of about so many lines


def bright_sky(picture: Picture) -> float:
    """Share of the frame, 0-1, that is bright, even sky: light, smooth, in the upper part and reaching its top edge.

    picture: `(3, h, w)`. Source: stated thresholds, our own; Oklab (Ottosson 2020) for lightness and chroma.
    """
    _, height, width = picture.shape
    if height < 8 or width < 8:
        return 0.0
    size = (max(8, round(width * LINES / height)), LINES)
    small = np.stack([cv2.resize(plane, size, interpolation=cv2.INTER_AREA) for plane in picture])
    lightness, chroma, _ = lch_from_lab(limited_oklab(small))
    soft = cv2.GaussianBlur(lightness, (0, 0), 2)
    slope = np.hypot(*np.gradient(soft))
    sky = (soft > SKY_LIGHT) & (chroma < SKY_CHROMA) & (slope < SKY_EVEN)
    count, labels = cv2.connectedComponents(sky.astype(np.uint8), connectivity=8)
    reaching = set(np.unique(labels[:3])) - {0}
    upper = np.arange(LINES)[:, None] < LINES * SKY_ROWS
    return float((np.isin(labels, list(reaching)) & upper).mean()) if count > 1 else 0.0
