"""Fit to picks: tolerance, softness and least chroma of a key by hue, from measurements around its picks.

Around every pick and not-this pick the pixels that belong to the same thing are taken
(connected to the pick, near it in Oklab). Tolerance reaches as far as the picked things do;
softness takes a part of the gap to the refused ones; least chroma lies below the greyest
of what was picked.
"""

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb
from wenditas.core.kernel import Floats, Picture
from wenditas.core.select.keys.hue import HueKey, hues
from wenditas.core.select.picks import Pick

REACH = 0.09  # half the side of the neighbourhood, as a share of the frame's height
SAME = 0.11  # Oklab distance up to which a neighbour is the same thing; lightness counts a third
PART, MARGIN = 97, 1.0  # percentile of the picked hues that tolerance covers, and degrees on top
GOOD_SOFTNESS = 7.2  # 2 % of the hue circle (common practice)
OVERLAP = 0.25  # share of refused pixels inside the picked hues from which the two cannot be told apart


@dataclass(frozen=True)
class Fit:
    """The fitted key, and what was found. overlap: share of the refused pixels that lie among the picked hues."""

    key: HueKey
    overlap: float
    apart: bool
    words: str


def same_thing(picture: Picture, pick: Pick) -> Floats:
    """Lightness, chroma, hue `(3, n)` of the pixels around a pick that belong to what was picked."""
    _, height, width = picture.shape
    reach = max(4, int(REACH * height))
    column, row = min(int(pick.x * width), width - 1), min(int(pick.y * height), height - 1)
    left, top = max(0, column - reach), max(0, row - reach)
    lab = oklab_from_rgb(np.clip(picture[:, top : row + reach + 1, left : column + reach + 1], 0, 1.25))
    target = oklab_from_rgb(pick.colour).reshape(3, 1, 1)
    weights = np.array([1 / 9, 1, 1]).reshape(3, 1, 1)
    near = (np.sqrt((weights * (lab - target) ** 2).sum(axis=0)) < SAME).astype(np.uint8)
    near[row - top, column - left] = 1
    _, labels = cv2.connectedComponents(near, connectivity=8)
    belongs = labels == labels[row - top, column - left]
    return lch_from_lab(lab[:, belongs])


def fit_to_picks(key: HueKey, picture_at: Callable[[int], Picture]) -> Fit:
    """Fit a key by hue to its picks. `picture_at` gives the source at a frame. Needs at least one pick."""
    picked = np.concatenate([same_thing(picture_at(p.frame), p) for p in key.picks], axis=1)
    refused = [same_thing(picture_at(p.frame), p) for p in key.refused]
    chroma_floor = float(np.percentile(picked[1], 3))
    coloured = picked[:, picked[1] >= 0.5 * chroma_floor]
    d = _nearest(coloured[2], hues(key.picks, 0))
    tolerance = float(np.percentile(d, PART)) + MARGIN
    softness, overlap = GOOD_SOFTNESS, 0.0
    if refused:
        others = np.concatenate(refused, axis=1)
        away = _nearest(others[2], hues(key.picks, 0))
        overlap = float((away <= tolerance).mean())
        gap = float(np.percentile(away, 5)) - tolerance
        softness = float(np.clip(gap, 1.0, GOOD_SOFTNESS))
    fitted = key.model_copy(
        update={
            "tolerance": round(min(tolerance, 90), 1),
            "softness": round(softness, 1),
            "least_chroma": round(float(np.clip(0.7 * chroma_floor, 0.01, 0.3)), 3),
            "gate_softness": round(float(np.clip(0.3 * chroma_floor, 0.005, 0.2)), 3),
            "hue_offset": 0.0,
        }
    )
    apart = overlap < OVERLAP
    words = f"Fitted: tolerance {fitted.tolerance:g}°, softness {fitted.softness:g}°, least chroma {fitted.least_chroma:g}."
    if not apart:
        words = f"This and that overlap by {100 * overlap:.0f} % in hue: colour alone cannot tell them apart. Draw a shape around one of them."
    return Fit(fitted, overlap, apart, words)


def _nearest(hue: Floats, centres: list[float]) -> Floats:
    return np.asarray(np.min([hue_distance(hue, c) for c in centres], axis=0))
