"""Pictures and calls shared by the checks of treatments."""

from typing import Any

import numpy as np
import PyOpenColorIO as ocio
from coloraide import Color

from tests.core.treatments import one_pass
from wenditas.core.kernel import Picture
from wenditas.core.look.apply import apply_look
from wenditas.core.select.matte import Moment
from wenditas.core.treat import TREATMENTS


def noise(height: int = 24, width: int = 31, seed: int = 5) -> Picture:
    return np.random.default_rng(seed).random((3, height, width), np.float32)


def smooth(height: int = 64, width: int = 96) -> Picture:
    """Soft waves of colour between 0.05 and 0.95."""
    y, x = np.mgrid[0:height, 0:width] / height
    planes = [0.5 + 0.45 * np.sin(7 * x + 3 * y), 0.5 + 0.45 * np.cos(5 * y - 2 * x), 0.5 + 0.45 * np.sin(9 * x * y)]
    return np.stack(planes).astype(np.float32)


def treat(id: str, picture: Picture, moment: Moment | None = None, /, **params: Any) -> Picture:
    """The picture after one pass, by the compiled kernels."""
    return apply_look(one_pass(TREATMENTS[id], params), picture, moment)


def swatches(*colours: str) -> Picture:
    """A picture of one row with a pixel of each colour."""
    return np.array([Color(c).convert("srgb").coords() for c in colours], np.float32).T[:, None, :]


def pixels_of(picture: Picture) -> list[Color]:
    """The pixels of the first row as coloraide colours."""
    return [Color("srgb", [float(v) for v in picture[:, 0, x]]) for x in range(picture.shape[2])]


def by_ocio(transform: ocio.Transform, picture: Picture) -> Picture:
    """The picture through an OpenColorIO transform."""
    processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
    pixels = np.ascontiguousarray(picture.transpose(1, 2, 0))
    processor.applyRGB(pixels)
    return pixels.transpose(2, 0, 1)
