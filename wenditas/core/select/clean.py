"""Cleaning a matte: despeckle, fill holes, choke or grow, soften, levels, invert.

Lengths are pixels of a 1080-line picture; `scale` is the picture's height over 1080.
"""

import cv2
import numpy as np

from wenditas.core.kernel import Matte
from wenditas.core.params import Params, number, switch

EDGE = 0.5  # what counts as selected where a matte must be cut in two
FAINT = 0.1  # an island reaches down to here, a hole up to 1 - FAINT


class Cleaning(Params):
    """How the picture is calmed before it is keyed, and how the matte is cleaned, in this order."""

    calm: float = number(
        100, "Calm", "Smooths chroma before it is keyed and widens soft edges, as far as the footage's noise needs: 100 % is as measured.",
        low=0, high=400, step=5, unit="%",
    )  # fmt: skip
    despeckle: float = number(0, "Despeckle", "Islands smaller than a square of this side are removed.", low=0, high=200, step=1, unit="px")
    fill_holes: float = number(0, "Fill holes", "Holes smaller than a square of this side are filled.", low=0, high=200, step=1, unit="px")
    choke: float = number(0, "Choke", "Draws the edge in; below nought it grows the matte.", low=-50, high=50, step=0.25, unit="px")
    soften: float = number(0, "Soften", "Blurs the edge (standard deviation).", low=0, high=100, step=0.25, unit="px")
    black: float = number(0, "Matte black", "What counts as not selected.", low=0, high=100, step=1, unit="%")
    white: float = number(100, "Matte white", "What counts as fully selected.", low=0, high=100, step=1, unit="%")
    steady: float = number(0, "Steady", "Averages the matte with this many frames before and after, against flicker.", low=0, high=3, step=1, unit="fr")
    invert: bool = switch(False, "Invert", "Selects what was not selected.")

    @property
    def idle(self) -> bool:
        """Whether nothing is cleaned."""
        return self.model_copy(update={"calm": 0}) == UNTOUCHED


UNTOUCHED = Cleaning(calm=0)


def remove_islands(matte: Matte, area: float) -> Matte:
    """The matte without connected pieces (8-neighbours) of fewer than `area` pixels.

    Pieces are cut out where the matte is above `FAINT`. Source: area opening (Vincent 1993).
    """
    count, labels, stats, _ = cv2.connectedComponentsWithStats((matte > FAINT).astype(np.uint8), connectivity=8, ltype=cv2.CV_32S)
    small = stats[:, cv2.CC_STAT_AREA] < area
    small[0] = False
    if count <= 1 or not small.any():
        return matte
    return np.asarray(np.where(small[labels], np.float32(0), matte), np.float32)


def fill_holes(matte: Matte, area: float) -> Matte:
    """The matte with enclosed or open gaps of fewer than `area` pixels filled: `remove_islands` of its negative."""
    return np.asarray(1 - remove_islands(1 - matte, area), np.float32)


def signed_distance(matte: Matte) -> Matte:
    """Distance to the matte's edge in pixels, positive inside (Euclidean, exact to the pixel grid)."""
    inside = (matte > EDGE).astype(np.uint8)
    if not inside.any() or inside.all():
        return np.full(matte.shape, 1e4 if inside.any() else -1e4, np.float32)
    within = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    without = cv2.distanceTransform(1 - inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    return np.asarray(np.where(inside > 0, within - 0.5, 0.5 - without), np.float32)


def choke(matte: Matte, pixels: float) -> Matte:
    """The matte with its edge drawn in by `pixels` (grown where negative), fractions included.

    Every pixel takes the value that lies `pixels` further out along the normal of the edge,
    so that soft edges keep their softness. Source: Euclidean distance transform; the edge
    moves along its gradient.
    """
    if pixels == 0:
        return matte
    distance = signed_distance(matte)
    if np.abs(distance).min() > 1e3:
        return matte
    blurred = cv2.GaussianBlur(distance, (0, 0), 1.0)
    dx, dy = cv2.Sobel(blurred, cv2.CV_32F, 1, 0), cv2.Sobel(blurred, cv2.CV_32F, 0, 1)
    per = pixels / np.maximum(np.hypot(dx, dy), 1e-6)
    height, width = matte.shape
    columns, rows = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    moved = cv2.remap(matte, columns - dx * per, rows - dy * per, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    # Along the middle line of a narrow part the normal is undefined; distance alone decides there.
    gone, come = (distance < pixels - 1) & (moved > EDGE), (distance > pixels + 1) & (moved < EDGE)
    return np.asarray(np.where(gone, 0, np.where(come, 1, moved)), np.float32)


def soften(matte: Matte, sigma: float) -> Matte:
    """Gaussian blur with standard deviation `sigma` pixels; beyond the frame the edge values go on (definition)."""
    if sigma <= 0.05:
        return matte
    return np.asarray(cv2.GaussianBlur(matte, (0, 0), sigma, borderType=cv2.BORDER_REPLICATE), np.float32)


def levels(matte: Matte, black: float, white: float) -> Matte:
    """Stretch `black`..`white` (0-1) to 0..1; where they meet or cross, cut in two at `black`."""
    if black == 0 and white == 1:
        return matte
    return np.asarray(np.clip((matte - black) / max(white - black, 1e-6), 0, 1), np.float32)


def clean(matte: Matte, cleaning: Cleaning, scale: float) -> Matte:
    """All steps but the averaging over time, in order. `(h, w)`, 0-1, to the same."""
    if cleaning.despeckle > 0:
        matte = remove_islands(matte, (cleaning.despeckle * scale) ** 2)
    if cleaning.fill_holes > 0:
        matte = fill_holes(matte, (cleaning.fill_holes * scale) ** 2)
    matte = soften(choke(matte, cleaning.choke * scale), cleaning.soften * scale)
    matte = levels(matte, cleaning.black / 100, cleaning.white / 100)
    return np.asarray(1 - matte, np.float32) if cleaning.invert else matte
