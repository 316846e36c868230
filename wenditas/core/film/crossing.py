"""The operations of transitions, by pixel and compiled. The plain forms are in `transitions.py`."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from wenditas.core.colour.fast import ONE, ZERO, encode, oklab, power, smoothstep
from wenditas.core.film.transitions import Grows, distance_to
from wenditas.core.kernel import Matte, Picture, inline, kernel
from wenditas.core.tiles import run_tiles
from wenditas.core.work.operation import Kind, Place, Rows

KNEE, TOE, OFFSET, SCALE, POWER = (np.float32(v) for v in (0.04045, 1 / 12.92, 0.055, 1 / 1.055, 2.4))
LEAST_SPAN = 1e-6


@inline
def _light(coded):  # type: ignore[no-untyped-def]
    """`srgb_decode` of any value."""
    a = abs(coded)
    value = a * TOE if a <= KNEE else power((a + OFFSET) * SCALE, POWER)
    return value if coded >= ZERO else -value


@kernel
def _dissolve(out, b, share):  # type: ignore[no-untyped-def]
    for c in range(out.shape[0]):
        for y in range(out.shape[1]):
            to, over = out[c, y], b[c, y]
            for x in range(to.size):
                under = _light(to[x])
                to[x] = encode(under + (_light(over[x]) - under) * share)


def _dissolved(params: float) -> Rows:
    share = np.float32(params)
    return lambda inputs, out, place: _dissolve(out, inputs[1], share)


@kernel
def _open(matte, start, inverse, out):  # type: ignore[no-untyped-def]
    for y in range(matte.shape[0]):
        m, to = matte[y], out[y]
        for x in range(m.size):
            to[x] = m[x] * smoothstep(start, inverse, m[x])


@kernel
def _take(order, reach, inverse, out):  # type: ignore[no-untyped-def]
    for y in range(order.shape[0]):
        o, to = order[y], out[y]
        for x in range(o.size):
            to[x] = max(to[x], smoothstep(ZERO, inverse, reach - o[x]))


def _shared(params: tuple[float, float, float]) -> Rows:
    opens, takes, edge = params
    start, reach, inverse = np.float32(1 - opens * (1 + edge)), np.float32(takes * (1 + edge)), np.float32(1 / edge)

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        _open(inputs[0], start, inverse, out)
        if len(inputs) > 1:
            _take(inputs[1], reach, inverse, out)

    return rows


@kernel
def _measured(picture, matte, first, end, lab, sums):  # type: ignore[no-untyped-def]
    """Oklab of some rows, and of each the sums over what is selected of lightness, a, b, and of the matte."""
    for y in range(first, end):
        r, g, b, m = picture[0, y], picture[1, y], picture[2, y], matte[y]
        light, p, q = lab[0, y], lab[1, y], lab[2, y]
        for x in range(m.size):
            light[x], p[x], q[x] = oklab(r[x], g[x], b[x])
        weight, of_light, of_p, of_q = 0.0, 0.0, 0.0, 0.0
        for x in range(m.size):
            weight += m[x]
            of_light += light[x] * m[x]
            of_p += p[x] * m[x]
            of_q += q[x] * m[x]
        sums[y, 0], sums[y, 1], sums[y, 2], sums[y, 3] = of_light, of_p, of_q, weight


@kernel
def _distances(lab, mean, first, end, out):  # type: ignore[no-untyped-def]
    l0, a0, b0 = mean[0], mean[1], mean[2]
    for y in range(first, end):
        light, p, q, to = lab[0, y], lab[1, y], lab[2, y], out[y]
        for x in range(to.size):
            dl, da, db = light[x] - l0, p[x] - a0, q[x] - b0
            to[x] = np.sqrt(dl * dl + da * da + db * db)


def order(picture: Picture, matte: Matte, grows: Grows) -> Matte:
    """`order_of`, compiled; values are limited to 0-1.25 first."""
    if grows == "outward":
        found = distance_to(matte)
    else:
        height, width = matte.shape
        lab, sums, found = np.empty((3, height, width), np.float32), np.empty((height, 4)), np.empty((height, width), np.float32)
        run_tiles(height, width, lambda first, end, scratch: _measured(picture, matte, first, end, lab, sums))
        if grows == "likeness":
            total = sums.sum(axis=0)
            mean = np.asarray(total[:3] / max(total[3], LEAST_SPAN), np.float32)
            run_tiles(height, width, lambda first, end, scratch: _distances(lab, mean, first, end, found))
        else:
            found = ONE - lab[0] if grows == "light" else lab[0]
    low, high = float(found.min()), float(found.max())
    return np.asarray((found - np.float32(low)) * np.float32(1 / max(high - low, LEAST_SPAN)), np.float32)


DISSOLVE = Kind("dissolve", rows=_dissolved, over=True, cost=4)  # in linear light; as coded it is one picture laid over another, as a reveal is by its share
ORDER = Kind("order", "matte", whole=lambda params: lambda inputs, place: order(inputs[0], inputs[1], params), cost=20)
SHARE = Kind("share", "matte", rows=_shared, cost=1)
KINDS = (DISSOLVE, ORDER, SHARE)
