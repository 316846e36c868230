"""What is measured of pictures that a look is to be made from, or for."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Floats, Picture

SAMPLES = 20_000
CELLS = 16  # to a side of Oklab's cube in which areas are told apart
EVEN = 0.5  # exponent by which large areas of one colour count for less
BAR, EVEN_BAR = 0.03, 0.012  # luma of a bar at most, and how far it may waver
LEAST_SIDE = 8
ONE, NOISE = 0.012, 0.06  # spread of Oklab below which there is one colour; share of it that is left in blocks of what is mere noise
SEED = 6


@dataclass(frozen=True, eq=False)
class Measured:
    """Pixels of some pictures. rgb, lab: `(3, n)`, gamma-coded and Oklab; weight: `(n)`, sums to 1, less for what lies in large even areas."""

    rgb: Floats
    lab: Floats
    weight: Floats

    @cached_property
    def chroma(self) -> Floats:
        """Oklab's, `(n)`."""
        return np.asarray(np.hypot(self.lab[1], self.lab[2]))

    @cached_property
    def luma(self) -> Floats:
        """BT.709's, gamma-coded, `(n)`."""
        return np.asarray(luma(self.rgb))

    def quantiles(self, values: Floats, shares: Sequence[float] | Floats) -> Floats:
        """Values `(n)` below which such shares (0-1) of the weight lie."""
        order = np.argsort(values)
        total = np.cumsum(self.weight[order]) - self.weight[order] / 2
        return np.interp(shares, total, values[order])

    def share(self, where: npt.NDArray[np.bool_]) -> float:
        """How much of the pictures some pixels `(n)` are, as they are seen: large areas count in full."""
        return float(where.mean())


def without_bars(picture: Picture) -> Picture:
    """The picture without black bars around it."""
    grey = np.asarray(luma(picture))

    def ends(lines: Floats) -> tuple[int, int]:
        live = np.flatnonzero((lines.max(axis=1) > BAR) | (np.ptp(lines, axis=1) > EVEN_BAR))
        return (int(live[0]), int(live[-1]) + 1) if live.size else (0, lines.shape[0])

    top, bottom = ends(grey)
    left, right = ends(grey.T)
    return picture[:, top:bottom, left:right]


def tells_nothing(picture: Picture) -> str:
    """Why no look can be had from a picture, as a sentence; empty where it can."""
    height, width = picture.shape[1:]
    if min(height, width) < LEAST_SIDE:
        return f"The picture is {width} × {height} pixels: too small to tell a look from. It needs {LEAST_SIDE} to a side at least."
    lab = oklab_from_rgb(np.clip(picture, 0, 1.25))
    spread = float(np.sqrt(np.square(lab - lab.reshape(3, -1).mean(axis=1)[:, None, None]).sum(axis=0).mean()))
    if spread < ONE:
        light = float(lab[0].mean())
        what = "black" if light < 0.15 else "white" if light > 0.97 else "of one colour"
        return f"The picture is all {what}: nothing in it tells how tones and colours lie to one another."
    blocks = cv2.resize(np.ascontiguousarray(np.moveaxis(lab, 0, 2), np.float32), (max(width // 8, 1), max(height // 8, 1)), interpolation=cv2.INTER_AREA)
    left = float(np.sqrt(np.square(blocks - blocks.reshape(-1, 3).mean(axis=0)).sum(axis=2).mean()))
    if min(blocks.shape[:2]) > 2 and left / spread < 1 / 8 + NOISE:
        return "The picture is mere noise: no area in it is darker, lighter or of another colour than the rest."
    return ""


def _calmed(picture: Picture) -> Picture:
    """Without the noise of film and of compression: the median of 5 by 5 pixels."""
    return np.stack([cv2.medianBlur(np.ascontiguousarray(plane, np.float32), 5) for plane in picture])


def measured(pictures: Sequence[Picture], samples: int = SAMPLES) -> Measured:
    """Pixels of some pictures, as many of each. Areas are told apart by cells of Oklab; each counts by a root of its size."""
    rng = np.random.default_rng(SEED)
    parts = []
    for picture in pictures:
        flat = _calmed(np.clip(without_bars(picture), 0, 1)).reshape(3, -1)
        parts.append(flat[:, rng.choice(flat.shape[1], min(samples // len(pictures), flat.shape[1]), replace=False)])
    rgb = np.concatenate(parts, axis=1).astype(np.float64)
    lab = oklab_from_rgb(rgb)
    cell = np.clip(((lab + np.array([[0], [0.4], [0.4]])) / np.array([[1], [0.8], [0.8]]) * CELLS).astype(int), 0, CELLS - 1)
    number = (cell[0] * CELLS + cell[1]) * CELLS + cell[2]
    weight = np.bincount(number, minlength=CELLS**3)[number] ** -EVEN
    return Measured(rgb, lab, weight / weight.sum())
