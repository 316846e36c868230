"""Selected area over time: where it drops or jumps."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

NEAR, FAR = 4, 72  # frames: what is compared with, on either side, from so near to so far
DROP, JUMP = 0.85, 1.25  # ratios to the neighbourhood
LEAST, JOIN = 0.05, 8  # percent of the frame below which nothing is said; frames between stretches that are one
FALL, SUDDEN = 0.5, 12  # ratio to what came before, and frames within which it is reached, where what is lost stays lost


@dataclass(frozen=True)
class WeakFrame:
    """The worst frame of a stretch where the coverage leaves its surroundings. value, usual: percent of the frame."""

    frame: int
    first: int
    last: int
    kind: Literal["drop", "jump"]
    value: float
    usual: float


def weak_frames(values: npt.ArrayLike, first: int = 0, last: int | None = None, cuts: Sequence[int] = ()) -> list[WeakFrame]:
    """Stretches whose coverage is far below (or above) what it is on *both* sides of them, in order.

    values: percent of the frame, one per frame; NaN where unknown. A slow change, an object that
    enters or leaves, is no weak frame: it has no usual value on one of its sides.
    first, last: the frames in use; cuts: frames that begin another scene, with which nothing before them is compared.
    """
    values = np.asarray(values, np.float64)
    end = len(values) if last is None else min(last + 1, len(values))
    edges = [first, *(c for c in sorted(cuts) if first < c < end), end]
    return [replace(w, frame=w.frame + a, first=w.first + a, last=w.last + a) for a, b in pairwise(edges) for w in _weak(values[a:b])]


def lasting_falls(values: npt.ArrayLike, cuts: Sequence[int] = ()) -> list[WeakFrame]:
    """Where the coverage suddenly falls below half of what it was and stays there until the scene ends: its object has gone, or is not selected any more.

    values: percent of the frame, one per frame; NaN where unknown. frame: the first that is as low as those after it. Source: our own.

    >>> [(fall.first, fall.last, fall.usual) for fall in lasting_falls([8.0] * 20 + [1.0] * 20)]
    [(20, 39, 8.0)]
    """
    values = np.asarray(values, np.float64)
    edges = [0, *(c for c in sorted(cuts) if 0 < c < len(values)), len(values)]
    found = ((a, _lasting_fall(values[a:b])) for a, b in pairwise(edges))
    return [replace(fall, frame=fall.frame + a, first=fall.first + a, last=fall.last + a) for a, fall in found if fall]


def _lasting_fall(values: Floats) -> WeakFrame | None:
    most_after = np.maximum.accumulate(values[::-1])[::-1]  # from each frame on; NaN where one is not known
    most_before = np.fmax.accumulate(values)
    for n in NEAR + np.flatnonzero(most_after[NEAR:-NEAR] < FALL * most_before[NEAR - 1 : -NEAR - 1]):
        before, rest = values[max(0, n - FAR) : n], values[n:]
        usual = float(np.nanpercentile(before, 90)) if np.isfinite(before).sum() >= NEAR else 0.0
        if usual > LEAST and most_after[n] < FALL * usual and np.nanmax(values[max(0, n - SUDDEN) : n], initial=0) >= DROP * usual:
            at = int(n) + int(np.argmax(rest <= np.median(rest) + (1 - DROP) * (usual - np.median(rest))))
            return WeakFrame(at, int(n), len(values) - 1, "drop", float(values[at]), usual)
    return None


def _weak(values: Floats) -> list[WeakFrame]:
    count = len(values)
    sides = np.full((2, count), np.nan)
    for n in range(count):
        for side, part in enumerate((values[max(0, n - FAR) : max(0, n - NEAR)], values[n + NEAR + 1 : n + FAR + 1])):
            known = part[np.isfinite(part)]
            if len(known) >= NEAR:
                sides[side, n] = np.percentile(known, 90)
    return _joined(_stretches(values, sides))


def _joined(stretches: list[WeakFrame]) -> list[WeakFrame]:
    """Stretches of one kind with little between them as one, with the worst frame of them all."""
    found: list[WeakFrame] = []
    for new in stretches:
        old = found[-1] if found else None
        if old is None or old.kind != new.kind or new.first - old.last > JOIN:
            found.append(new)
            continue
        worst = min(old, new, key=lambda w: w.value if w.kind == "drop" else -w.value)
        found[-1] = replace(worst, first=old.first, last=new.last)
    return found


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
