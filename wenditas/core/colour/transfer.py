"""The sRGB transfer function (IEC 61966-2-1:1999)."""

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats


def srgb_decode(coded: npt.ArrayLike) -> Floats:
    """Gamma-coded to linear light.

    coded: any shape, nominal 0-1; negative values are mirrored through zero, as
    CSS Color 4 does for extended values. Returns the same shape, float64.
    Source: IEC 61966-2-1:1999, 5.2.

    >>> float(srgb_decode(0.5).round(6))
    0.214041
    """
    x = np.asarray(coded, dtype=np.float64)
    a = np.abs(x)
    return np.asarray(np.sign(x) * np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4))


def srgb_encode(linear: npt.ArrayLike) -> Floats:
    """Linear light to gamma-coded; the inverse of `srgb_decode`.

    linear: any shape, nominal 0-1. Returns the same shape, float64.
    Source: IEC 61966-2-1:1999, 5.2.

    >>> float(srgb_encode(0.214041).round(4))
    0.5
    """
    x = np.asarray(linear, dtype=np.float64)
    a = np.abs(x)
    return np.asarray(np.sign(x) * np.where(a <= 0.0031308, a * 12.92, 1.055 * a ** (1 / 2.4) - 0.055))
