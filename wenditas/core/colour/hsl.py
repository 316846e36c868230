"""Hue, saturation, lightness (CSS Color 4, 7.1)."""

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats


def hsl_from_rgb(coded: npt.ArrayLike) -> Floats:
    """Gamma-coded R'G'B' to HSL.

    coded: `(3, ...)`, 0-1. Returns `(3, ...)`: hue in degrees (0 for greys),
    saturation 0-1, lightness 0-1. Source: CSS Color Module Level 4, 7.1.

    >>> hsl_from_rgb([0.5, 0.25, 0.25]).round(4).tolist()
    [0.0, 0.3333, 0.375]
    """
    rgb = np.asarray(coded, dtype=np.float64)
    r, g, b = rgb
    high, low = rgb.max(axis=0), rgb.min(axis=0)
    span = high - low
    lightness = (high + low) / 2
    room = 1 - np.abs(2 * lightness - 1)
    saturation = np.where((span > 0) & (room > 0), span / np.where(room > 0, room, 1), 0.0)
    safe = np.where(span > 0, span, 1)
    hue = np.where(high == r, (g - b) / safe % 6, np.where(high == g, (b - r) / safe + 2, (r - g) / safe + 4)) * 60
    return np.stack([np.where(span > 0, hue, 0.0), saturation, lightness])


def rgb_from_hsl(hsl: npt.ArrayLike) -> Floats:
    """HSL to gamma-coded R'G'B'; the inverse of `hsl_from_rgb`. Source: CSS Color 4, 7.1."""
    hue, saturation, lightness = np.asarray(hsl, dtype=np.float64)
    a = saturation * np.minimum(lightness, 1 - lightness)

    def channel(n: int) -> Floats:
        k = (n + hue / 30) % 12
        return np.asarray(lightness - a * np.maximum(-1, np.minimum(np.minimum(k - 3, 9 - k), 1)))

    return np.stack([channel(0), channel(8), channel(4)])
