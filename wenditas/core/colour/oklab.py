"""Oklab and OkLCh (Björn Ottosson, "A perceptual color space for image processing", 2020).

Colour is on the first axis: `(3, ...)`. Hue is in degrees, 0 <= h < 360.
"""

import numpy as np
import numpy.typing as npt

from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.kernel import Floats

# Linear sRGB to cone response and cone response to Oklab, as published (revision of 2021-01-25).
LMS_FROM_RGB = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
LAB_FROM_LMS = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def oklab_from_rgb(coded: npt.ArrayLike) -> Floats:
    """Gamma-coded R'G'B' to Oklab.

    coded: `(3, ...)`, nominal 0-1. Returns `(3, ...)`: lightness 0-1, a, b (about -0.4 to 0.4).
    Source: Ottosson 2020.

    >>> oklab_from_rgb([1.0, 0.0, 0.0]).round(4).tolist()
    [0.628, 0.2249, 0.1258]
    """
    linear = srgb_decode(coded)
    lms = np.cbrt(np.tensordot(LMS_FROM_RGB, linear, axes=1))
    return np.asarray(np.tensordot(LAB_FROM_LMS, lms, axes=1))


def rgb_from_oklab(lab: npt.ArrayLike) -> Floats:
    """Oklab to gamma-coded R'G'B'; the inverse of `oklab_from_rgb`. Not limited to 0-1."""
    lms = np.tensordot(np.linalg.inv(LAB_FROM_LMS), np.asarray(lab, dtype=np.float64), axes=1) ** 3
    return srgb_encode(np.tensordot(np.linalg.inv(LMS_FROM_RGB), lms, axes=1))


def lch_from_lab(lab: npt.ArrayLike) -> Floats:
    """Oklab to lightness, chroma, hue in degrees. `(3, ...)` to `(3, ...)`.

    The hue of a grey is noise; it is returned as it falls.
    """
    lightness, a, b = np.asarray(lab, dtype=np.float64)
    return np.stack([lightness, np.hypot(a, b), np.degrees(np.arctan2(b, a)) % 360.0])


def oklch_from_rgb(coded: npt.ArrayLike) -> Floats:
    """Gamma-coded R'G'B' `(3, ...)` to lightness, chroma, hue in degrees.

    >>> oklch_from_rgb([1.0, 0.0, 0.0]).round(3).tolist()
    [0.628, 0.258, 29.234]
    """
    return lch_from_lab(oklab_from_rgb(coded))


def hue_distance(hue: npt.ArrayLike, other: npt.ArrayLike) -> Floats:
    """Least angle between two hues, in degrees, 0-180. Broadcasts."""
    d = np.abs(np.asarray(hue, dtype=np.float64) - np.asarray(other, dtype=np.float64)) % 360.0
    return np.asarray(np.minimum(d, 360.0 - d))


def into_gamut(lab: npt.ArrayLike) -> Floats:
    """Oklab `(3, ...)` to gamma-coded R'G'B' within 0-1.

    A colour outside moves in linear light along the straight line to the grey of its own
    lightness until it is inside, so that lightness stays and chroma gives way.
    Source: chroma reduction towards the neutral axis, as CSS Color 4, 13.1 motivates it; the straight line is our own simplification.
    """
    lms = np.tensordot(np.linalg.inv(LAB_FROM_LMS), np.asarray(lab, dtype=np.float64), axes=1) ** 3
    linear = np.tensordot(np.linalg.inv(LMS_FROM_RGB), lms, axes=1)
    grey = np.clip(np.asarray(lab)[0] ** 3, 0, 1)
    over = (1 - grey) / np.maximum(linear - grey, 1e-20)
    under = grey / np.maximum(grey - linear, 1e-20)
    share = np.minimum(np.minimum(over, under), 1).min(axis=0)
    return srgb_encode(grey + (linear - grey) * share)


def limited_oklab(coded: npt.ArrayLike) -> Floats:
    """`oklab_from_rgb` of values limited to 0-1.25, as the compiled kernels take them."""
    return oklab_from_rgb(np.clip(np.asarray(coded, dtype=np.float64), 0, 1.25))
