"""A frame as objects are sought in it: small, in luma and colour differences, with its flow to another."""

import threading
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.ycbcr import LUMA_709, spans
from wenditas.core.kernel import Floats, Matte, Picture, kernel
from wenditas.core.select.denoise import Noise

MOST_WIDTH, MOST_HEIGHT = 960, 540  # of the frames in which objects are sought
KR, KG, KB = (np.float32(k) for k in LUMA_709)
PER_B, PER_R = (np.float32(1 / v) for v in spans())

_local = threading.local()


@kernel
def _differences(picture, out):  # type: ignore[no-untyped-def]
    for y in range(picture.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        luma, by_blue, by_red = out[0, y], out[1, y], out[2, y]
        for x in range(picture.shape[2]):
            light = KR * red[x] + KG * green[x] + KB * blue[x]
            luma[x], by_blue[x], by_red[x] = light, (blue[x] - light) * PER_B, (red[x] - light) * PER_R


def working_size(height: int, width: int) -> tuple[int, int]:
    """`(height, width)` of the frames in which objects of footage of some size are sought: even, and not larger than it."""
    share = min(1.0, MOST_WIDTH / width, MOST_HEIGHT / height)
    return max(2, round(height * share / 2) * 2), max(2, round(width * share / 2) * 2)


@dataclass(frozen=True, eq=False)
class Seen:
    """picture: `(3, h, w)`, R'G'B'. planes: `(3, h, w)`, luma and colour differences. grey: `(h/2, w/2)`, 8 bits, for flow. noise: of the footage."""

    picture: Picture
    planes: Floats
    grey: npt.NDArray[np.uint8]
    noise: Noise

    @classmethod
    def of(cls, picture: Picture, noise: Noise) -> "Seen":
        """A picture of working size."""
        picture = np.ascontiguousarray(picture, np.float32)
        planes = np.empty_like(picture)
        _differences(picture, planes)
        height, width = picture.shape[1:]
        half = cv2.resize(planes[0], (max(width // 2, 1), max(height // 2, 1)), interpolation=cv2.INTER_AREA)
        lifted = np.sqrt(np.clip(half, 0, 1))  # so that flow sees the dark as well
        return cls(picture, planes, np.asarray(lifted * 255 + 0.5, np.uint8), noise)

    @property
    def size(self) -> tuple[int, int]:
        """`(height, width)`."""
        return self.planes.shape[1], self.planes.shape[2]


LEAST_FLOW = 32  # pixels to a side below which there is no flow to be had


def flow(one: Seen, other: Seen) -> Floats:
    """Where each pixel of a frame has gone in another: `(h, w, 2)`, x and y, in pixels.

    Dense inverse search (Kroeger et al. 2016), at half the size, as OpenCV has it.
    """
    height, width = one.size
    if min(one.grey.shape) < LEAST_FLOW:
        return np.zeros((height, width, 2), np.float32)
    if not hasattr(_local, "dis"):
        _local.dis = cv2.DISOpticalFlow_create(cv2.DISOPTICAL_FLOW_PRESET_FAST)  # type: ignore[attr-defined]  # missing in its stubs
    found = _local.dis.calc(one.grey, other.grey, None)
    return np.asarray(cv2.resize(found, (width, height), interpolation=cv2.INTER_LINEAR) * np.float32(2), np.float32)


def moved(values: Matte, way: Floats) -> Matte:
    """What lies at the end of each pixel's way; beyond the frame there is nothing."""
    return np.asarray(cv2.remap(values, grid(*values.shape) + way, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=0), np.float32)


@lru_cache(4)
def grid(height: int, width: int) -> Floats:
    """The place of each pixel, `(h, w, 2)`, x and y; not to be written to."""
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    out = np.stack([x, y], axis=2)
    out.flags.writeable = False
    return out
