"""The pixel report: one pixel in numbers."""

from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Picture


@dataclass(frozen=True)
class PixelReport:
    """hex: 8-bit code values. rgb, luma: R′G′B′ and luma of BT.709 in percent. hue in degrees, chroma and lightness as OkLCh."""

    hex: str
    rgb: tuple[float, float, float]
    luma: float
    lightness: float
    chroma: float
    hue: float


def pixel_report(picture: Picture, x: float, y: float) -> PixelReport:
    """The pixel of a float picture at x, y (0-1 across and down)."""
    _, height, width = picture.shape
    colour = picture[:, min(int(y * height), height - 1), min(int(x * width), width - 1)]
    codes = np.clip(np.rint(colour * 255), 0, 255).astype(int)
    lightness, chroma, hue = oklch_from_rgb(colour)
    red, green, blue = (float(v) * 100 for v in colour)
    return PixelReport("#" + "".join(f"{c:02X}" for c in codes), (red, green, blue), float(luma(colour)) * 100, float(lightness), float(chroma), float(hue))
