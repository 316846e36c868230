"""The census: the frame's own colours, hue across (0-360 degrees), lightness (0-1) or chroma (0-0.32) up."""

from typing import Literal

import numpy as np

from wenditas.core.colour.fast import ZERO, angle, oklab
from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.kernel import Floats, Picture, finite, kernel

COLUMNS, ROWS = 180, 64
LEAST_CHROMA = 0.02  # below it a hue is noise
FULL = np.float32(360)
MOST_CHROMA = np.float32(0.32)  # a little over the most that sRGB reaches
Up = Literal["lightness", "chroma"]


@kernel
def _count(picture, columns, rows, least, chroma_up, sums, counts):  # type: ignore[no-untyped-def]
    for y in range(picture.shape[1]):
        for x in range(picture.shape[2]):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            lightness, oka, okb = oklab(r, g, b)
            if oka * oka + okb * okb < least * least:
                continue
            turn = angle(oka, abs(okb))
            hue = FULL - turn if okb < ZERO else turn
            column = min(max(int(hue / FULL * columns), 0), columns - 1)
            height = np.sqrt(oka * oka + okb * okb) / MOST_CHROMA if chroma_up else lightness
            row = min(max(int((1 - height) * rows), 0), rows - 1)
            counts[row, column] += 1
            sums[0, row, column] += r
            sums[1, row, column] += g
            sums[2, row, column] += b


def census(picture: Picture, columns: int = COLUMNS, rows: int = ROWS, least: float = LEAST_CHROMA, up: Up = "lightness") -> tuple[Floats, Floats]:
    """Count the colours of a picture by hue and lightness, or hue and chroma.

    picture: `(3, h, w)`. Returns the counts `(rows, columns)` and the mean colour of each
    cell `(3, rows, columns)`, 0 where empty. Row 0 is the lightest. Greys below `least`
    chroma are left out.
    """
    sums, counts = np.zeros((3, rows, columns)), np.zeros((rows, columns))
    _count(finite(picture), columns, rows, np.float32(least), up == "chroma", sums, counts)
    return counts, sums / np.maximum(counts, 1)


def census_reference(picture: Picture, columns: int = COLUMNS, rows: int = ROWS, least: float = LEAST_CHROMA, up: Up = "lightness") -> Floats:
    """The counts of `census` by NumPy's own two-dimensional histogram."""
    lightness, chroma, hue = oklch_from_rgb(picture.reshape(3, -1))
    keep = chroma >= least
    height = chroma / float(MOST_CHROMA) if up == "chroma" else lightness
    edges = (np.linspace(0, 1, rows + 1), np.linspace(0, 360, columns + 1))
    counts, _, _ = np.histogram2d(1 - np.clip(height[keep], 0, 1), hue[keep], bins=edges)
    return np.asarray(counts)


def census_picture(picture: Picture, up: Up = "lightness") -> Picture:
    """The census drawn as a picture `(3, ROWS, COLUMNS)`: each cell its mean colour, fuller cells brighter."""
    counts, colours = census(picture, up=up)
    most = max(float(counts.max()), 1.0)
    weight = np.where(counts > 0, 0.25 + 0.75 * np.log1p(counts) / np.log1p(most), 0)
    return np.asarray(colours * weight, np.float32)
