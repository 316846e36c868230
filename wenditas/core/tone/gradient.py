"""Colour gradients over 0-1: stops, how colours mix between them, spacing and slide."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
import numpy.typing as npt

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.kernel import Floats
from wenditas.core.params import Stop

Mixing = Literal["linear", "smooth", "stepped"]
Space = Literal["sRGB", "Oklab"]
SAMPLES = 4096


def gradient(stops: Sequence[Stop], at: npt.ArrayLike, mixing: Mixing = "linear", space: Space = "sRGB", spacing: float = 0.0, slide: float = 0.0) -> Floats:
    """The colours of a gradient at places 0-1: `(...)` to `(3, ...)`, gamma-coded.

    mixing: straight between stops, eased by a smoothstep, or each stop's colour held until the next.
    spacing: 0-1, squeezes every transition towards its middle; 1 makes hard edges.
    slide: shares of the palette (1 is once round), moves the palette along; what leaves at one end comes in at the other.
    Source: CSS Images 3, 3.4 (linear gradients) for position and coincident stops; interpolation in Oklab as in CSS Color 4, 12.

    >>> gradient([Stop(position=0, colour="#000000"), Stop(position=100, colour="#ffffff")], 0.25).tolist()
    [0.25, 0.25, 0.25]
    """
    place = np.asarray(at, dtype=np.float64)
    if slide % 1:
        place = (place - slide) % 1
    x = np.array([s.position for s in stops]) / 100
    rgb = np.stack([rgb_from_hex(s.colour) for s in stops], axis=1)
    colours = oklab_from_rgb(rgb) if space == "Oklab" else rgb
    last = len(stops) - 1
    n = np.searchsorted(x, place, side="right") - 1
    left, right = np.clip(n, 0, last), np.clip(n + 1, 0, last)
    width = x[right] - x[left]
    t = np.where((n < 0) | (width <= 0), 0, (place - x[left]) / np.where(width > 0, width, 1))
    t = _ease(np.clip(t, 0, 1), mixing, spacing)
    mixed = colours[:, left] + (colours[:, right] - colours[:, left]) * t
    return np.clip(rgb_from_oklab(mixed), 0, 1) if space == "Oklab" else mixed


def _ease(t: Floats, mixing: Mixing, spacing: float) -> Floats:
    if mixing == "stepped":
        return np.where(t >= 1, 1.0, 0.0)
    if spacing >= 1:
        return np.where(t >= 0.5, 1.0, 0.0)
    t = np.clip(0.5 + (t - 0.5) / (1 - spacing), 0, 1)
    return t * t * (3 - 2 * t) if mixing == "smooth" else t


def gradient_table(stops: Sequence[Stop], mixing: Mixing, space: Space, spacing: float, slide: float) -> npt.NDArray[np.float32]:
    """The gradient at `SAMPLES + 1` places over 0-1 as `(3, SAMPLES + 1)`, for kernels."""
    at = np.linspace(0, 1, SAMPLES + 1)
    if slide % 1:
        at[-1] = np.nextafter(1, 0)  # the palette wraps at 1; its last sample is what comes before
    return np.ascontiguousarray(gradient(stops, at, mixing, space, spacing, slide), dtype=np.float32)
