"""How one picture becomes another: the plain forms. What runs is in `crossing.py`."""

from typing import Literal

import cv2
import numpy as np

from wenditas.core.colour.oklab import limited_oklab
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.kernel import Matte, Picture, as_picture

Grows = Literal["likeness", "outward", "light", "dark"]


def dissolve(a: Picture, b: Picture, share: float, linear: bool) -> Picture:
    """`b` over `a` with a constant alpha of `share` (0-1), as coded or in linear light.

    a, b: `(3, h, w)`. Returns the same shape, not limited.
    Source: source-over with constant alpha, W3C Compositing and Blending Level 1, 5.1: a + (b - a) share; definition for linear light.
    """
    if linear:
        return as_picture(srgb_encode(srgb_decode(a) * (1 - share) + srgb_decode(b) * share))
    return as_picture(a + (b - a) * np.float32(share))


def smooth(t: Matte) -> Matte:
    """3 t^2 - 2 t^3, t limited to 0-1."""
    t = np.clip(t, 0, 1)
    return np.asarray(t * t * (3 - 2 * t), np.float32)


def distance_to(matte: Matte) -> Matte:
    """Pixels to what is selected by half or more; 0 everywhere where nothing is."""
    outside = (matte < 0.5).astype(np.uint8)
    return np.zeros_like(matte) if outside.all() else np.asarray(cv2.distanceTransform(outside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE), np.float32)


def order_of(picture: Picture, matte: Matte, grows: Grows) -> Matte:
    """When each pixel goes once the hole takes all: 0 first, 1 last, `(h, w)`; all of them first where it cannot be told.

    likeness: by distance in Oklab from the mean colour of the matte; outward: by distance from it; light, dark: by lightness. Colours are limited
    to 0-1.25 first.
    Source: our own; Oklab (Ottosson 2020), Euclidean distance transform.
    """
    if grows == "outward":
        found = distance_to(matte)
    else:
        lab = limited_oklab(picture)
        if grows == "likeness":
            weight = matte / max(float(matte.sum(dtype=np.float64)), 1e-6)
            mean = (lab * weight).sum(axis=(1, 2), dtype=np.float64)
            found = np.sqrt(((lab - mean[:, None, None]) ** 2).sum(axis=0))
        else:
            found = 1 - lab[0] if grows == "light" else lab[0]
    low, high = float(found.min()), float(found.max())
    return np.asarray((found - low) / max(high - low, 1e-6), np.float32)


def revealed(a: Picture, b: Picture, source: Picture, matte: Matte, opens: float, takes: float, edge: float, grows: Grows) -> Picture:
    """`b` seen through a hole in `a`: within the matte as far as it `opens`, and everywhere as far as it `takes` all (0-1 each).

    edge: how soft that is, 0-1. Every pixel's share rises with both, is 0 where both are 0, and 1 where `takes` is 1. Source: our own.
    """
    hole = matte * smooth((opens * (1 + edge) - (1 - matte)) / edge)
    share = np.maximum(hole, smooth((takes * (1 + edge) - order_of(source, matte, grows)) / edge)) if takes > 0 else hole
    return as_picture(a + (b - a) * share)
