"""Selected area over time: where it drops or jumps."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

NEAR, FAR = 4, 48  # frames: what is compared with, on either side, from so near to so far
DROP, JUMP, LEAST = 0.8, 1.3, 0.05  # ratios to the neighbourhood, and percent of the frame below which nothing is said


@dataclass(frozen=True)
class WeakFrame:
    """The worst frame of a stretch where the coverage leaves its surroundings. value, usual: percent of the frame."""

    frame: int
    first: int
    last: int
    kind: Literal["drop", "jump"]
    value: float
    usual: float


def weak_frames(values: npt.ArrayLike) -> list[WeakFrame]:
    """Stretches whose coverage is far below (or above) what it is on *both* sides of them, in order.

    values: percent of the frame, one per frame; NaN where unknown. A slow change, an object that
    enters or leaves, is no weak frame: it has no usual value on one of its sides.
    """
    values = np.asarray(values, np.float64)
    count = len(values)
    sides = np.full((2, count), np.nan)
    for n in range(count):
        for side, part in enumerate((values[max(0, n - FAR) : max(0, n - NEAR)], values[n + NEAR + 1 : n + FAR + 1])):
            known = part[np.isfinite(part)]
            if len(known) >= NEAR:
                sides[side, n] = np.percentile(known, 90)
    return _stretches(values, sides)


def _stretches(values: Floats, sides: Floats) -> list[WeakFrame]:
    low, high = np.minimum(*sides), np.maximum(*sides)
    with np.errstate(invalid="ignore"):
        kinds = np.where((values < DROP * low) & (low > LEAST), -1, np.where((values > JUMP * high) & (values > LEAST), 1, 0))
    kinds[~np.isfinite(values) | ~np.isfinite(low)] = 0
    found = []
    start = 0
    for n in range(1, len(kinds) + 1):
        if n < len(kinds) and kinds[n] == kinds[start]:
            continue
        if kinds[start]:
            part = values[start:n]
            at = start + int(np.argmin(part) if kinds[start] < 0 else np.argmax(part))
            usual = float(low[at] if kinds[start] < 0 else high[at])
            found.append(WeakFrame(at, start, n - 1, "drop" if kinds[start] < 0 else "jump", float(values[at]), usual))
        start = n
    return found
