"""Key by ranges of hue, saturation and lightness (HSL, CSS Color 4), each switched on or off."""

from typing import Literal

import numpy as np

from wenditas.core.colour.fast import ONE, TINY, ZERO, smoothstep
from wenditas.core.colour.hsl import hsl_from_rgb
from wenditas.core.colour.oklab import hue_distance
from wenditas.core.kernel import Matte, Picture, kernel
from wenditas.core.params import number, switch
from wenditas.core.select.keys.record import LEAST_WIDTH, FillMatte, KeyBase, KeyRecord, smooth

HALF, TWO, FOUR, SIX, SIXTH_TURN, TURN = (np.float32(v) for v in (0.5, 2, 4, 6, 60, 360))
NONE = 1e6  # an edge so far out that the range selects everything


class RangesKey(KeyBase):
    """The parameters of a key by ranges. Each end is soft to the same width."""

    type: Literal["ranges"] = "ranges"
    hue_on: bool = switch(True, "Hue", "Whether hue is limited.")
    hue: float = number(0, "Hue middle", "The middle of the hues, in HSL degrees.", low=0, high=360, step=1, unit="°")
    hue_reach: float = number(20, "Hue reach", "How far to both sides of the middle hues are selected.", low=0, high=180, step=1, unit="°")
    hue_soft: float = number(10, "Hue softness", "How gradually the hues end.", low=0, high=90, step=1, unit="°")
    saturation_on: bool = switch(True, "Saturation", "Whether saturation is limited.")
    saturation_low: float = number(25, "Saturation from", "The least saturation.", low=0, high=100, step=1, unit="%")
    saturation_high: float = number(100, "Saturation to", "The greatest saturation.", low=0, high=100, step=1, unit="%")
    saturation_soft: float = number(10, "Saturation softness", "How gradually both ends fade.", low=0, high=50, step=1, unit="%")
    lightness_on: bool = switch(False, "Lightness", "Whether lightness is limited.")
    lightness_low: float = number(0, "Lightness from", "The least lightness.", low=0, high=100, step=1, unit="%")
    lightness_high: float = number(100, "Lightness to", "The greatest lightness.", low=0, high=100, step=1, unit="%")
    lightness_soft: float = number(10, "Lightness softness", "How gradually both ends fade.", low=0, high=50, step=1, unit="%")


def ranges_key(picture: Picture, key: RangesKey) -> Matte:
    """The matte of a key by ranges, in plain NumPy (reference).

    The product of the ranges that are on; each is 1 within its ends and fades by smoothstep beyond.
    picture: `(3, h, w)` gamma-coded, limited to 0-1. Returns `(h, w)`, 0-1.
    Source: HSL by CSS Color 4, 7.1; the formula above.
    """
    hue, saturation, lightness = hsl_from_rgb(np.clip(picture, 0, 1))
    matte = np.ones(picture.shape[1:])
    if key.hue_on:
        matte = matte * (1 - smooth(key.hue_reach, key.hue_soft, hue_distance(hue, key.hue)))
    if key.saturation_on:
        matte = matte * _between(100 * saturation, key.saturation_low, key.saturation_high, key.saturation_soft)
    if key.lightness_on:
        matte = matte * _between(100 * lightness, key.lightness_low, key.lightness_high, key.lightness_soft)
    return np.asarray(matte, np.float32)


def _between(values, low: float, high: float, soft: float):  # type: ignore[no-untyped-def]
    soft = max(soft, LEAST_WIDTH)
    return smooth(low - soft, soft, values) * (1 - smooth(high, soft, values))


@kernel
def _ranges_rows(tile, n, matte):  # type: ignore[no-untyped-def]
    """n: hue, reach, 1/softness; saturation start, 1/softness, end; lightness start, 1/softness, end."""
    for y in range(tile.shape[1]):
        red, green, blue, row = tile[0, y], tile[1, y], tile[2, y], matte[y]
        for x in range(tile.shape[2]):
            r, g, b = min(max(red[x], ZERO), ONE), min(max(green[x], ZERO), ONE), min(max(blue[x], ZERO), ONE)
            high, low = max(r, max(g, b)), min(r, min(g, b))
            span, lightness = high - low, (high + low) * HALF
            per = ONE / max(span, TINY)
            on_red = (g - b) * per
            on_red = on_red + SIX if on_red < ZERO else on_red
            sector = on_red if high == r else ((b - r) * per + TWO if high == g else (r - g) * per + FOUR)
            hue = sector * SIXTH_TURN if span > ZERO else ZERO
            saturation = span / max(ONE - abs(TWO * lightness - ONE), TINY)
            d = abs(hue - n[0])
            d = min(d, TURN - d)
            value = ONE - smoothstep(n[1], n[2], d)
            value *= smoothstep(n[3], n[4], saturation) * (ONE - smoothstep(n[5], n[4], saturation))
            row[x] = value * smoothstep(n[6], n[7], lightness) * (ONE - smoothstep(n[8], n[7], lightness))


def prepare(key: RangesKey) -> FillMatte:
    """The key with its constants worked out, ready to fill the mattes of tiles."""

    def ends(on: bool, low: float, high: float, soft: float) -> list[float]:
        soft = max(soft, LEAST_WIDTH)
        return [(low - soft) / 100, 100 / soft, high / 100] if on else [-NONE, 1.0, NONE]

    hue = [key.hue % 360, key.hue_reach if key.hue_on else NONE, 1 / max(key.hue_soft, LEAST_WIDTH)]
    saturation = ends(key.saturation_on, key.saturation_low, key.saturation_high, key.saturation_soft)
    lightness = ends(key.lightness_on, key.lightness_low, key.lightness_high, key.lightness_soft)
    numbers = np.array(hue + saturation + lightness, np.float32)
    return lambda tile, matte: _ranges_rows(tile, numbers, matte)


RECORD = KeyRecord("ranges", "By ranges", "Matches ranges of hue, saturation and lightness, each on or off.", RangesKey, ranges_key, prepare)
