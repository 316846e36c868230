"""A picture moved, scaled, turned, cropped and mirrored within a frame."""

from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.treat.parts.blurs import sample

FINEST = 4  # samples across a pixel of the frame, at most, where the picture is made smaller


@dataclass(frozen=True)
class Placing:
    """Where a picture of `(rows, columns)` lies in a frame: its middle in pixels of the frame, frame pixels to one of its own, degrees clockwise.

    crop: shares (0-1) taken off its left, top, right and bottom. mirror: across, down.
    """

    rows: int
    columns: int
    x: float
    y: float
    zoom: float
    turn: float = 0.0
    crop: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    mirror: tuple[bool, bool] = (False, False)

    @property
    def finer(self) -> int:
        """Samples across a pixel of the frame: as many as the picture has there."""
        return int(np.clip(np.ceil(1 / max(self.zoom, 1e-6)), 1, FINEST))

    def matrix(self, finer: int = 1) -> Floats:
        """`(2, 3)`: from pixels of the frame, of which there are `finer` times as many, to pixels of the picture."""
        turn = np.radians(self.turn)
        m = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]]) / max(self.zoom, 1e-6)
        m = np.diag([-1.0 if self.mirror[0] else 1.0, -1.0 if self.mirror[1] else 1.0]) @ m
        # A place in finer pixels is (p + 0.5) / finer - 0.5 in those of the frame.
        own, centre = np.array([self.columns, self.rows]) / 2 - 0.5, np.array([self.x, self.y]) - 0.5
        shift = 0.5 / finer - 0.5
        return np.column_stack([m / finer, own + m @ (np.array([shift, shift]) - centre)])

    def coverage(self, height: int, width: int) -> Matte:
        """How much of each pixel of a frame the cropped picture covers, 0-1: its edges fade over one pixel."""
        m = self.matrix()
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        found = np.ones((height, width), np.float32)
        ends = ((m[0], self.columns, self.crop[0], self.crop[2]), (m[1], self.rows, self.crop[1], self.crop[3]))
        for row, length, low, high in ends:
            at = np.float32(row[0]) * x + np.float32(row[1]) * y + np.float32(row[2])
            inside = np.minimum(at - (low * length - 0.5), (1 - high) * length - 0.5 - at) / float(np.hypot(row[0], row[1]))
            found *= np.clip(inside + 0.5, 0, 1)
        return found


def placed_reference(planes: Floats, placing: Placing, height: int, width: int) -> Floats:
    """Planes `(n, rows, columns)` in a frame, bilinear, their edges going on beyond; the mean of several samples where they are made smaller."""
    f = placing.finer
    m = placing.matrix(f)
    y, x = np.mgrid[0 : height * f, 0 : width * f].astype(np.float64)
    sx, sy = m[0, 0] * x + m[0, 1] * y + m[0, 2], m[1, 0] * x + m[1, 1] * y + m[1, 2]
    fine = np.stack([sample(plane.astype(np.float64), sy, sx) for plane in planes])
    return np.asarray(fine.reshape(len(planes), height, f, width, f).mean(axis=(2, 4)))


def placed(planes: Picture, placing: Placing, height: int, width: int) -> Picture:
    """`placed_reference` by OpenCV, whose places are exact to 1/32 of a pixel."""
    f = placing.finer
    m, flags = placing.matrix(f), cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    out = np.empty((len(planes), height, width), np.float32)
    for c, plane in enumerate(planes):
        fine = cv2.warpAffine(plane, m, (width * f, height * f), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        out[c] = fine if f == 1 else cv2.resize(fine, (width, height), interpolation=cv2.INTER_AREA)
    return out
