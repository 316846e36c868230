"""Keys on noisy footage: their soft edges are as wide as the noise needs, at least.

Coded chroma wavers by the same amount everywhere; what that means in Oklab depends on the colour. At each pick the error is carried
through the conversion (first-order propagation of uncertainty, JCGM 100:2008, 5.1.2), which gives how far chroma, and with it hue, wavers there.
"""

from functools import lru_cache
from typing import TypeVar

import numpy as np

from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.colour.ycbcr import differences, rgb_from_differences
from wenditas.core.kernel import Floats
from wenditas.core.select.denoise import Noise
from wenditas.core.select.keys.colour import ColourKey
from wenditas.core.select.keys.hue import HueKey
from wenditas.core.select.picks import Pick

K = TypeVar("K")
STEP = 1 / 255  # of coded chroma, for the derivative
MOST_DEGREES, MOST_CHROMA, MOST_DISTANCE = 30.0, 0.05, 10.0  # that a soft edge is widened by


def _lab(y: float, cb: float, cr: float) -> Floats:
    return oklab_from_rgb(np.clip(rgb_from_differences([y, cb, cr]), 0, 1.25))


def chroma_error(pick: Pick, sigma: float) -> float:
    """Standard deviation of Oklab's a and b at a pick, where coded Cb and Cr have that of `sigma` each."""
    return sigma * _slope(pick.colour)


@lru_cache(4096)
def _slope(colour: tuple[float, float, float]) -> float:
    y, cb, cr = (float(v) for v in differences(colour))
    by_blue, by_red = _lab(y, cb + STEP, cr) - _lab(y, cb - STEP, cr), _lab(y, cb, cr + STEP) - _lab(y, cb, cr - STEP)
    slopes = np.concatenate([by_blue[1:], by_red[1:]]) / (2 * STEP)
    return float(np.sqrt((slopes**2).sum() / 2))


@lru_cache(4096)
def _chroma(colour: tuple[float, float, float]) -> float:
    return float(np.hypot(*oklab_from_rgb(np.clip(colour, 0, 1.25))[1:]))


@lru_cache(1024)
def widened(key: K, noise: Noise) -> K:
    """The key with soft edges that are wider by the noise at its picks; keys without picks, and clean footage, leave it as it is."""
    if not isinstance(key, HueKey | ColourKey) or noise.negligible or not key.picks:
        return key
    error = float(np.median([chroma_error(p, noise.sigma) for p in key.picks]))
    if isinstance(key, ColourKey):
        return key.model_copy(update={"softness": key.softness + min(100 * error, MOST_DISTANCE)})
    chroma = float(np.median([_chroma(p.colour) for p in key.picks]))
    degrees = min(float(np.degrees(error / max(chroma, 1e-3))), MOST_DEGREES)
    return key.model_copy(update={"softness": key.softness + degrees, "gate_softness": key.gate_softness + min(error, MOST_CHROMA)})
