"""Luma and Y'CbCr (ITU-R BT.709-6, BT.601-7), in code values or normalised."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

LUMA_709 = (0.2126, 0.7152, 0.0722)  # BT.709-6, 3.2
LUMA_601 = (0.299, 0.587, 0.114)  # BT.601-7, 2.5.1
LUMA_2020 = (0.2627, 0.6780, 0.0593)  # BT.2020-2, table 4, non-constant luminance


@dataclass(frozen=True)
class Signal:
    """How code values stand for Y'CbCr: luma weights, range and bit depth."""

    luma: tuple[float, float, float] = LUMA_709
    full_range: bool = False
    bits: int = 8

    @property
    def black(self) -> float:
        """Code value of black luma. BT.709-6, 4.6: 16 at 8 bits."""
        return 0.0 if self.full_range else 16.0 * 2.0 ** (self.bits - 8)

    @property
    def luma_span(self) -> float:
        """Code values from black to white: 219 at 8 bits (BT.709-6, 4.6)."""
        return 2.0**self.bits - 1 if self.full_range else 219.0 * 2.0 ** (self.bits - 8)

    @property
    def chroma_zero(self) -> float:
        """Code value of no colour difference: 128 at 8 bits."""
        return 128.0 * 2.0 ** (self.bits - 8)

    @property
    def chroma_span(self) -> float:
        """Code values from -0.5 to 0.5: 224 at 8 bits (BT.709-6, 4.6)."""
        return 2.0**self.bits - 1 if self.full_range else 224.0 * 2.0 ** (self.bits - 8)


def luma(coded: npt.ArrayLike, weights: tuple[float, float, float] = LUMA_709) -> Floats:
    """Weighted sum of gamma-coded R'G'B' `(3, ...)`; BT.709 by default. Returns `(...)`.

    >>> float(luma([0.0, 1.0, 0.0]))
    0.7152
    """
    return np.asarray(np.tensordot(np.asarray(weights), np.asarray(coded, dtype=np.float64), axes=1))


def spans(weights: tuple[float, float, float] = LUMA_709) -> tuple[float, float]:
    """How far B'-Y' and R'-Y' reach where Cb and Cr go from -0.5 to 0.5 (BT.709-6, 3.3)."""
    return 2 * (1 - weights[2]), 2 * (1 - weights[0])


def differences(coded: npt.ArrayLike, weights: tuple[float, float, float] = LUMA_709) -> Floats:
    """Gamma-coded R'G'B' `(3, ...)` as luma (nominal 0-1), Cb and Cr (-0.5 to 0.5) `(3, ...)`. Source: BT.709-6, 3.2-3.3.

    >>> differences([0.0, 0.0, 1.0]).round(4).tolist()
    [0.0722, 0.5, -0.0458]
    """
    rgb = np.asarray(coded, dtype=np.float64)
    y, (blue, red) = luma(rgb, weights), spans(weights)
    return np.stack([y, (rgb[2] - y) / blue, (rgb[0] - y) / red])


def rgb_from_differences(values: npt.ArrayLike, weights: tuple[float, float, float] = LUMA_709) -> Floats:
    """The inverse of `differences`, not limited."""
    y, cb, cr = np.asarray(values, dtype=np.float64)
    (kr, kg, kb), (blue, red) = weights, spans(weights)
    r, b = y + red * cr, y + blue * cb
    return np.stack([r, (y - kr * r - kb * b) / kg, b])


def ycbcr_from_rgb(coded: npt.ArrayLike, signal: Signal) -> Floats:
    """Gamma-coded R'G'B' `(3, ...)`, nominal 0-1, to unrounded code values `(3, ...)`.

    Source: BT.709-6, 3.2-3.5. Values outside 0-1 go outside the nominal range.

    >>> ycbcr_from_rgb([1.0, 1.0, 1.0], Signal()).round(3).tolist()
    [235.0, 128.0, 128.0]
    """
    y, cb, cr = differences(coded, signal.luma)
    zero = signal.chroma_zero
    return np.stack([y * signal.luma_span + signal.black, cb * signal.chroma_span + zero, cr * signal.chroma_span + zero])


def rgb_from_ycbcr(codes: npt.ArrayLike, signal: Signal) -> Floats:
    """Code values `(3, ...)` to gamma-coded R'G'B', not limited; the inverse of `ycbcr_from_rgb`."""
    values = np.asarray(codes, dtype=np.float64)
    y = (values[0] - signal.black) / signal.luma_span
    cb, cr = (values[1:] - signal.chroma_zero) / signal.chroma_span
    return rgb_from_differences([y, cb, cr], signal.luma)
