"""How much the colours of footage waver, measured from its pictures.

Two things are looked for in luma and chroma at half size. Noise of the sensor or of film shows in the finest detail: Donoho and
Johnstone 1994, the median of the diagonal Haar coefficients over 0.6745. A codec's error does not, for it takes the finest detail
away; it shows in the steps between blocks, which are larger than those within them (Wang, Sheikh and Bovik 2002), for chroma every
four samples, as for luma at half size. How large the error is for a step was fitted, by least squares, to H.264 of several qualities.
"""

from collections.abc import Sequence

import cv2
import numpy as np

from wenditas.core.colour.ycbcr import differences
from wenditas.core.kernel import Floats, Picture, as_picture, finite
from wenditas.core.select.denoise import MOST_NOISE, Noise

ROBUST = 0.6745  # the median of the absolute values of a standard normal distribution
BLOCK, MIDDLE = 4, 1  # samples of a block; the step within it that is furthest from its edges
QUIET = 0.9  # share of the blocks that are looked at: those with the least change, for edges are no noise
CHROMA_PER_STEP, LUMA_PER_STEP = 4.5, 2.7  # error of chroma for a step between blocks, of chroma and of luma


def robust_sigma(plane: Floats) -> float:
    """Standard deviation of noise in a plane `(h, w)`, from its finest detail; 0 where it is too small to tell.

    >>> robust_sigma(np.zeros((1, 9)))
    0.0
    """
    rows, columns = (n // 2 * 2 for n in plane.shape)
    if not rows or not columns:
        return 0.0
    a, b, c, d = plane[:rows:2, :columns:2], plane[1:rows:2, :columns:2], plane[:rows:2, 1:columns:2], plane[1:rows:2, 1:columns:2]
    return float(np.median(np.abs(a - b - c + d) / 2) / ROBUST)


def block_steps(plane: Floats) -> float:
    """How much larger the steps between blocks are than those within them, in a plane `(h, w)`, across and down; 0 where they are not."""
    found = []
    for turned in (plane, plane.T):
        steps = np.abs(np.diff(turned, axis=1))
        count = steps.shape[1] // BLOCK * BLOCK
        if not count:
            return 0.0
        blocks = steps[:, :count].reshape(-1, BLOCK)
        quiet = blocks[blocks.max(axis=1) <= np.quantile(blocks.max(axis=1), QUIET)]
        mean = quiet.mean(axis=0)
        found.append(float(mean[BLOCK - 1] - mean[MIDDLE]))
    return max(0.0, float(np.mean(found)))


def sigma_of(picture: Picture) -> float:
    """Standard deviation of the error of coded chroma in a picture `(3, h, w)` at the size it was encoded in; white is 1.

    Source: see above; the median estimator by definition, the sizes of steps by our own fit.
    """
    planes = as_picture(differences(np.clip(finite(picture), 0, 1)))
    _, height, width = picture.shape
    if min(height, width) < 4 * BLOCK:
        return 0.0
    small = [cv2.resize(np.ascontiguousarray(p[: height // 2 * 2, : width // 2 * 2]), (width // 2, height // 2), interpolation=cv2.INTER_AREA) for p in planes]
    fine = max(robust_sigma(p) for p in small[1:])
    coded = np.hypot(CHROMA_PER_STEP * max(block_steps(p) for p in small[1:]), LUMA_PER_STEP * block_steps(small[0]))
    return float(np.hypot(fine, coded))


def noise_of(pictures: Sequence[Picture]) -> Noise:
    """The noise of footage from some of its pictures, at its own size: the median of what each shows."""
    if not pictures:
        return Noise()
    return Noise(round(min(float(np.median([sigma_of(p) for p in pictures])), MOST_NOISE), 5), pictures[0].shape[1])
