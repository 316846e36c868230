"""What checks share: luma, calm areas, what stands still."""

import cv2
import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.kernel import Matte, Picture
from wenditas.core.measure.checks.record import STILL, Seen


def luma(picture: Picture) -> Matte:
    """BT.709 luma of a picture, `(h, w)`."""
    return np.asarray(np.tensordot(np.array(LUMA_709, np.float32), picture, axes=1), np.float32)


def smooth(plane: Matte, sigma: float) -> Matte:
    """A plane after a Gaussian blur."""
    return np.asarray(cv2.GaussianBlur(plane, (0, 0), sigma), np.float32)


def still(one: Seen, other: Seen) -> np.ndarray:
    """Where what lies under the look is the same on two frames, but for noise."""
    apart = np.max([np.abs(smooth(a, 1.5) - smooth(b, 1.5)) for a, b in zip(one.source, other.source, strict=True)], axis=0)
    return np.asarray(cv2.erode((apart < STILL).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0)
