"""Monotone cubic curves through points, open or closed into a ring."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

Points = Sequence[Sequence[float]] | Floats


def _slopes(x: Floats, y: Floats) -> Floats:
    """Slopes at the points: weighted harmonic means inside, three-point formulas at the ends, both keeping order."""
    h, d = np.diff(x), np.diff(y) / np.diff(x)
    if len(x) == 2:
        return np.array([d[0], d[0]])
    slopes = np.zeros(len(x))
    w1, w2 = 2 * h[1:] + h[:-1], h[1:] + 2 * h[:-1]
    same = d[:-1] * d[1:] > 0
    with np.errstate(divide="ignore", invalid="ignore"):
        inner = (w1 + w2) / (w1 / d[:-1] + w2 / d[1:])
    slopes[1:-1] = np.where(same, inner, 0)
    slopes[0] = _end(h[0], h[1], d[0], d[1])
    slopes[-1] = _end(h[-1], h[-2], d[-1], d[-2])
    return slopes


def _end(h0: float, h1: float, d0: float, d1: float) -> float:
    slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    if slope * d0 <= 0:
        return 0.0
    return 3 * d0 if d0 * d1 <= 0 and abs(slope) > 3 * abs(d0) else slope


def curve(points: Points, at: npt.ArrayLike) -> Floats:
    """The curve through `points` ((x, y), x rising) at `at`: monotone where the points are, level beyond the ends.

    One point gives a constant. Any shape in, the same shape out, float64.
    Source: Fritsch & Carlson 1980, with the harmonic-mean slopes of Fritsch & Butland 1984.

    >>> curve([(0, 0), (50, 80), (100, 100)], [0, 50, 100]).tolist()
    [0.0, 80.0, 100.0]
    """
    x, y = np.asarray(points, dtype=np.float64).T
    at = np.asarray(at, dtype=np.float64)
    if len(x) == 1:
        return np.full(at.shape, y[0])
    slopes = _slopes(x, y)
    n = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2)
    h = x[n + 1] - x[n]
    t = np.clip((at - x[n]) / h, 0, 1)
    s = 1 - t
    return np.asarray((1 + 2 * t) * s**2 * y[n] + t * s**2 * h * slopes[n] + t**2 * (3 - 2 * t) * y[n + 1] - t**2 * s * h * slopes[n + 1])


def ring(points: Points, at: npt.ArrayLike, turn: float = 360.0) -> Floats:
    """The closed curve through `points`, whose ends meet after `turn`: `curve` over the domain repeated to either side."""
    x, y = np.asarray(points, dtype=np.float64).T
    at = np.asarray(at, dtype=np.float64) % turn
    if len(x) == 1:
        return np.full(at.shape, y[0])
    order = np.argsort(x % turn, kind="stable")
    x, y = (x % turn)[order], y[order]
    keep = np.append(np.diff(x) > 0, True)  # 0 and 360 are the same place: the later one counts
    x, y = x[keep], y[keep]
    return curve(np.stack([np.concatenate([x - turn, x, x + turn]), np.tile(y, 3)], axis=1), at)


SAMPLES = 4098  # divisible by six, so that 0 and 1 fall on samples
LOW, HIGH = -0.25, 1.25  # tables cover a little more than the nominal range


def table(points: Points) -> npt.NDArray[np.float32]:
    """A tone curve in percent as `SAMPLES + 1` values over `LOW`-`HIGH`; beyond its end points it goes on at a slope of one."""
    at = np.linspace(LOW, HIGH, SAMPLES + 1)
    x = np.asarray(points, dtype=np.float64)[:, 0] / 100
    beyond = np.minimum(at - x[0], 0) + np.maximum(at - x[-1], 0)
    return np.ascontiguousarray(curve(points, at * 100) / 100 + beyond, dtype=np.float32)


def look_up(values: Floats, at: npt.ArrayLike, low: float = LOW, high: float = HIGH) -> Floats:
    """Linear interpolation in an even table over `low`-`high`, held beyond; what kernels do, in float64."""
    place = np.clip((np.asarray(at, dtype=np.float64) - low) / (high - low), 0, 1) * (len(values) - 1)
    n = np.minimum(place.astype(int), len(values) - 2)
    left, right = values[n].astype(np.float64), values[n + 1].astype(np.float64)
    return np.asarray(left + (right - left) * (place - n))
