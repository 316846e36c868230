"""Key by lightness: a stretch of Oklab lightness with two soft ends (a trapezoid with smooth flanks)."""

from typing import Literal

import numpy as np

from wenditas.core.colour.fast import ONE, oklab, smoothstep
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Matte, Picture, kernel
from wenditas.core.params import number
from wenditas.core.select.keys.record import LEAST_WIDTH, FillMatte, KeyBase, KeyRecord, smooth


class LightnessKey(KeyBase):
    """The parameters of a key by lightness, in percent of Oklab lightness."""

    type: Literal["lightness"] = "lightness"
    low: float = number(60, "From", "The darkest lightness that is fully selected.", low=0, high=100, step=0.5, unit="%")
    high: float = number(100, "To", "The lightest lightness that is fully selected.", low=0, high=100, step=0.5, unit="%")
    soft_low: float = number(10, "Soft below", "How gradually the selection begins below the darker end.", low=0, high=100, step=0.5, unit="%")
    soft_high: float = number(0, "Soft above", "How gradually the selection ends above the lighter end.", low=0, high=100, step=0.5, unit="%")


def lightness_key(picture: Picture, key: LightnessKey) -> Matte:
    """The matte of a key by lightness, in plain NumPy (reference).

    smoothstep(low - soft_low, low, L) * (1 - smoothstep(high, high + soft_high, L)), L in percent.
    picture: `(3, h, w)` gamma-coded, limited to 0-1.25. Returns `(h, w)`, 0-1.
    Source: Oklab lightness by Ottosson 2020; the formula above.
    """
    lightness = 100 * oklab_from_rgb(np.clip(picture, 0, 1.25))[0]
    soft_low, soft_high = max(key.soft_low, LEAST_WIDTH), max(key.soft_high, LEAST_WIDTH)
    return np.asarray(smooth(key.low - soft_low, soft_low, lightness) * (1 - smooth(key.high, soft_high, lightness)), np.float32)


@kernel
def _lightness_rows(tile, start, per_low, end, per_high, matte):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        red, green, blue, row = tile[0, y], tile[1, y], tile[2, y], matte[y]
        for x in range(tile.shape[2]):
            lightness, _, _ = oklab(red[x], green[x], blue[x])
            row[x] = smoothstep(start, per_low, lightness) * (ONE - smoothstep(end, per_high, lightness))


def prepare(key: LightnessKey) -> FillMatte:
    """The key with its constants worked out, ready to fill the mattes of tiles."""
    soft_low, soft_high = max(key.soft_low, LEAST_WIDTH), max(key.soft_high, LEAST_WIDTH)
    numbers = ((key.low - soft_low) / 100, 100 / soft_low, key.high / 100, 100 / soft_high)
    start, per_low, end, per_high = (np.float32(v) for v in numbers)
    return lambda tile, matte: _lightness_rows(tile, start, per_low, end, per_high, matte)


RECORD = KeyRecord("lightness", "By lightness", "Matches a stretch of lightness with two soft ends.", LightnessKey, lightness_key, prepare)
