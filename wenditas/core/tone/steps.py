"""The smallest steps of a picture made large, so that banding can be seen before it is seen."""

import cv2
import numpy as np

from wenditas.core.kernel import Picture, as_picture, finite

TIMES, SIGMA = 16.0, 12.0  # how much larger; pixels of a 1080-line picture over which the mean is taken that is left out


def amplified(picture: Picture) -> Picture:
    """What a picture `(3, h, w)` has beyond its blurred self, times 16, about middle grey; rounded to 8 bits first, as it is shown.

    Source: unsharp residual (common practice).
    """
    codes = np.rint(np.clip(finite(picture), 0, 1) * 255).astype(np.float32) / np.float32(255)
    sigma = max(2.0, SIGMA * picture.shape[1] / 1080)
    return as_picture([(plane - cv2.GaussianBlur(plane, (0, 0), sigma)) * TIMES + 0.5 for plane in codes])
