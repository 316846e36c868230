"""Cleaning a matte: despeckle, fill holes, choke or grow, soften, levels, invert.

Lengths are pixels of a 1080-line picture; `scale` is the picture's height over 1080.
"""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Matte, kernel
from wenditas.core.params import Params, number, switch
from wenditas.core.select.choking import choke, extent, laid_in, restless
from wenditas.core.tiles import run_tiles

Mask = npt.NDArray[np.bool_]

ENDS = 2  # standard deviations of a blurred edge to where it counts as ended: 2 % are left
REACH = 4  # standard deviations that OpenCV's blur of floats looks at
FAINT = 0.1  # an island reaches down to here, a hole up to 1 - FAINT


class Cleaning(Params):
    """How chroma is denoised before it is keyed, and how the matte is cleaned, in this order."""

    denoise_chroma: float = number(
        0, "Denoise chroma", "Smooths chroma before it is keyed and widens soft edges, as far as the footage's noise needs: 100 % is as measured.",
        low=0, high=400, step=5, unit="%",
    )  # fmt: skip
    follow: float = number(
        100, "Follow edges", "Around the edge each pixel goes with those nearby that look like it, which mends what compression frays. Soft ramps stay.",
        low=0, high=100, step=5, unit="%",
    )  # fmt: skip
    despeckle: float = number(0, "Despeckle", "Islands smaller than a square of this side are removed.", low=0, high=200, step=1, unit="px")
    fill_holes: float = number(0, "Fill holes", "Holes smaller than a square of this side are filled.", low=0, high=200, step=1, unit="px")
    choke: float = number(0, "Choke", "Draws the edge in, where the matte is at 50 %; below nought it grows.", low=-50, high=50, step=0.25, unit="px")
    soften: float = number(
        0, "Soften", "Blurs the edge (standard deviation): it reaches about twice as far to both sides. The view Edge shows how far.",
        low=0, high=100, step=0.25, unit="px",
    )  # fmt: skip
    inwards: bool = switch(False, "Soften inwards", "What is softened ends where the edge was, instead of reaching beyond it: the matte is drawn in first.")
    black: float = number(0, "Matte black", "What counts as not selected.", low=0, high=100, step=1, unit="%")
    white: float = number(100, "Matte white", "What counts as fully selected.", low=0, high=100, step=1, unit="%")
    steady: float = number(0, "Steady", "Averages the matte with this many frames before and after, against flicker.", low=0, high=3, step=1, unit="fr")
    invert: bool = switch(False, "Invert", "Selects what was not selected.")

    @property
    def idle(self) -> bool:
        """Whether nothing is cleaned."""
        return self.model_copy(update={"denoise_chroma": 0, "follow": 0}) == UNTOUCHED


UNTOUCHED = Cleaning(denoise_chroma=0, follow=0)


def remove_islands(matte: Matte, area: float) -> Matte:
    """The matte without connected pieces (8-neighbours) of fewer than `area` pixels.

    Pieces are cut out where the matte is above `FAINT`. Source: area opening (Vincent 1993).
    """
    mask = matte > FAINT
    where = _extent(mask)
    if where is None:
        return matte
    count, labels, stats, _ = cv2.connectedComponentsWithStats(np.ascontiguousarray(mask[where]).view(np.uint8), connectivity=8, ltype=cv2.CV_32S)
    small = stats[:, cv2.CC_STAT_AREA] < area
    small[0] = False
    if count <= 1 or not small.any():
        return matte
    out, top, left = matte.copy(), where[0].start, where[1].start
    run_tiles(labels.shape[0], labels.shape[1], lambda first, end, scratch: _blank_rows(labels, small, first, end, top, left, out))
    return out


def _extent(mask: Mask) -> tuple[slice, slice] | None:
    """The rows and columns between which all that is set lies; None where nothing is."""
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    return None if rows.size == 0 else (slice(int(rows[0]), int(rows[-1]) + 1), slice(int(columns[0]), int(columns[-1]) + 1))


@kernel
def _blank_rows(labels, small, first, end, top, left, out):  # type: ignore[no-untyped-def]
    """Sets the matte to 0 under small pieces. `out` comes whole: a part of it would be of another type, compiled anew, where it is narrower."""
    for y in range(first, end):
        for x in range(labels.shape[1]):
            if small[labels[y, x]]:
                out[top + y, left + x] = np.float32(0)


def fill_holes(matte: Matte, area: float) -> Matte:
    """The matte with enclosed or open gaps of fewer than `area` pixels filled: `remove_islands` of its negative."""
    return np.asarray(1 - remove_islands(1 - matte, area), np.float32)


def soften(matte: Matte, sigma: float) -> Matte:
    """Gaussian blur with standard deviation `sigma` pixels; beyond the frame the edge values go on (definition)."""
    where = extent(restless(matte, REACH * sigma + 1)) if sigma > 0.05 else None
    if where is None:
        return matte
    return laid_in(matte, where, np.asarray(cv2.GaussianBlur(matte[where], (0, 0), sigma, borderType=cv2.BORDER_REPLICATE | cv2.BORDER_ISOLATED), np.float32))


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
    drawn_in = cleaning.choke + (ENDS * cleaning.soften if cleaning.inwards else 0)
    matte = soften(choke(matte, drawn_in * scale), cleaning.soften * scale)
    matte = levels(matte, cleaning.black / 100, cleaning.white / 100)
    return np.asarray(1 - matte, np.float32) if cleaning.invert else matte
