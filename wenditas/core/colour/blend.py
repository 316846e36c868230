"""The sixteen blend modes of W3C Compositing and Blending Level 1, and the mixing of a pass into the picture.

`blend` is the plain form; `mix` lays a treated tile over the running one with a compiled kernel.
"""

from typing import Literal, get_args

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Matte, Picture, inline, kernel

Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]  # fmt: skip
BLENDS: tuple[Blend, ...] = get_args(Blend)
NORMAL, MULTIPLY, SCREEN, OVERLAY, DARKEN, LIGHTEN, DODGE, BURN, HARD, SOFT, DIFFERENCE, EXCLUSION, HUE, SATURATION, COLOUR, LUMINOSITY = range(16)
ZERO, HALF, ONE, TWO, THREE, FOUR, TWELVE, SIXTEEN, QUARTER = (np.float32(v) for v in (0, 0.5, 1, 2, 3, 4, 12, 16, 0.25))
LR, LG, LB = (np.float32(v) for v in (0.3, 0.59, 0.11))  # the Recommendation's own weights
TINY = np.float32(1e-12)


def _lum(c: Floats) -> Floats:
    return np.asarray(0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2])


def _clip_colour(c: Floats) -> Floats:
    lum, low, high = _lum(c), c.min(axis=0), c.max(axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        c = np.where(low < 0, lum + (c - lum) * lum / (lum - low), c)
        c = np.where(high > 1, lum + (c - lum) * (1 - lum) / (high - lum), c)
    return c


def _set_lum(c: Floats, lum: Floats) -> Floats:
    return _clip_colour(c + (lum - _lum(c)))


def _sat(c: Floats) -> Floats:
    return np.asarray(c.max(axis=0) - c.min(axis=0))


def _set_sat(c: Floats, sat: Floats) -> Floats:
    span = _sat(c)
    return np.where(span > 0, (c - c.min(axis=0)) * sat / np.where(span > 0, span, 1), 0)


def _soft(b: Floats, s: Floats) -> Floats:
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b))


def _hard(b: Floats, s: Floats) -> Floats:
    return np.where(s <= 0.5, 2 * b * s, b + (2 * s - 1) - b * (2 * s - 1))


def _dodge(b: Floats, s: Floats) -> Floats:
    return np.where(b <= 0, 0, np.where(s >= 1, 1, np.minimum(1, b / np.where(s < 1, 1 - s, 1))))


def _burn(b: Floats, s: Floats) -> Floats:
    return np.where(b >= 1, 1, np.where(s <= 0, 0, 1 - np.minimum(1, (1 - b) / np.where(s > 0, s, 1))))


def blend(mode: Blend, backdrop: npt.ArrayLike, source: npt.ArrayLike) -> Floats:
    """B(backdrop, source) for opaque colours.

    Both `(3, ...)`, gamma-coded; every mode but normal limits both to 0-1 first. Returns `(3, ...)`, float64.
    Source: W3C Compositing and Blending Level 1, 9.1 and 9.2.

    >>> blend("multiply", [0.5, 1, 0], [0.5, 0.5, 0.5]).tolist()
    [0.25, 0.5, 0.0]
    """
    source = np.asarray(source, dtype=np.float64)
    if mode == "normal":
        return source
    b, s = np.clip(np.asarray(backdrop, dtype=np.float64), 0, 1), np.clip(source, 0, 1)
    if mode == "multiply":
        return np.asarray(b * s)
    if mode == "screen":
        return np.asarray(b + s - b * s)
    if mode == "overlay":
        return _hard(s, b)
    if mode == "darken":
        return np.asarray(np.minimum(b, s))
    if mode == "lighten":
        return np.asarray(np.maximum(b, s))
    if mode == "color-dodge":
        return _dodge(b, s)
    if mode == "color-burn":
        return _burn(b, s)
    if mode == "hard-light":
        return _hard(b, s)
    if mode == "soft-light":
        return _soft(b, s)
    if mode == "difference":
        return np.asarray(np.abs(b - s))
    if mode == "exclusion":
        return np.asarray(b + s - 2 * b * s)
    if mode == "hue":
        return _set_lum(_set_sat(s, _sat(b)), _lum(b))
    if mode == "saturation":
        return _set_lum(_set_sat(b, _sat(s)), _lum(b))
    if mode == "color":
        return _set_lum(s, _lum(b))
    return _set_lum(b, _lum(s))


@inline
def _unit(x):  # type: ignore[no-untyped-def]
    return min(max(x, ZERO), ONE)


@inline
def _hard_one(b, s):  # type: ignore[no-untyped-def]
    return TWO * b * s if s <= HALF else b + (TWO * s - ONE) * (ONE - b)


@inline
def _soft_one(b, s):  # type: ignore[no-untyped-def]
    d = ((SIXTEEN * b - TWELVE) * b + FOUR) * b if b <= QUARTER else np.sqrt(b)
    return b - (ONE - TWO * s) * b * (ONE - b) if s <= HALF else b + (TWO * s - ONE) * (d - b)


@kernel
def _mix_row(mode, r, t, w):  # type: ignore[no-untyped-def]
    """One channel of one row: r += (B(r, t) - r) * w, for the twelve separable modes."""
    n = r.shape[0]
    if mode == NORMAL:
        for x in range(n):
            r[x] += (t[x] - r[x]) * w[x]
    elif mode == MULTIPLY:
        for x in range(n):
            r[x] += (_unit(r[x]) * _unit(t[x]) - r[x]) * w[x]
    elif mode == SCREEN:
        for x in range(n):
            b, s = _unit(r[x]), _unit(t[x])
            r[x] += (b + s - b * s - r[x]) * w[x]
    elif mode == OVERLAY:
        for x in range(n):
            r[x] += (_hard_one(_unit(t[x]), _unit(r[x])) - r[x]) * w[x]
    elif mode == DARKEN:
        for x in range(n):
            r[x] += (min(_unit(r[x]), _unit(t[x])) - r[x]) * w[x]
    elif mode == LIGHTEN:
        for x in range(n):
            r[x] += (max(_unit(r[x]), _unit(t[x])) - r[x]) * w[x]
    elif mode == DODGE:
        for x in range(n):
            b, s = _unit(r[x]), _unit(t[x])
            value = min(ONE, b / max(ONE - s, TINY))
            r[x] += ((ZERO if b <= ZERO else value) - r[x]) * w[x]
    elif mode == BURN:
        for x in range(n):
            b, s = _unit(r[x]), _unit(t[x])
            value = ONE - min(ONE, (ONE - b) / max(s, TINY))
            r[x] += ((ONE if b >= ONE else value) - r[x]) * w[x]
    elif mode == HARD:
        for x in range(n):
            r[x] += (_hard_one(_unit(r[x]), _unit(t[x])) - r[x]) * w[x]
    elif mode == SOFT:
        for x in range(n):
            r[x] += (_soft_one(_unit(r[x]), _unit(t[x])) - r[x]) * w[x]
    elif mode == DIFFERENCE:
        for x in range(n):
            r[x] += (abs(_unit(r[x]) - _unit(t[x])) - r[x]) * w[x]
    else:
        for x in range(n):
            b, s = _unit(r[x]), _unit(t[x])
            r[x] += (b + s - TWO * b * s - r[x]) * w[x]


@inline
def _lum_one(r, g, b):  # type: ignore[no-untyped-def]
    return LR * r + LG * g + LB * b


@inline
def _set_lum_one(r, g, b, lum):  # type: ignore[no-untyped-def]
    d = lum - _lum_one(r, g, b)
    r, g, b = r + d, g + d, b + d
    low, high = min(min(r, g), b), max(max(r, g), b)
    down = lum / max(lum - low, TINY) if low < ZERO else ONE
    r, g, b = lum + (r - lum) * down, lum + (g - lum) * down, lum + (b - lum) * down
    high = lum + (high - lum) * down
    up = (ONE - lum) / max(high - lum, TINY) if high > ONE else ONE
    return lum + (r - lum) * up, lum + (g - lum) * up, lum + (b - lum) * up


@inline
def _set_sat_one(r, g, b, sat):  # type: ignore[no-untyped-def]
    low, high = min(min(r, g), b), max(max(r, g), b)
    k = sat / max(high - low, TINY) if high > low else ZERO
    return (r - low) * k, (g - low) * k, (b - low) * k


@kernel
def _mix_rows_colour(mode, running, treated, y, w):  # type: ignore[no-untyped-def]
    """One row of all channels, for hue, saturation, color and luminosity."""
    for x in range(running.shape[2]):
        br, bg, bb = _unit(running[0, y, x]), _unit(running[1, y, x]), _unit(running[2, y, x])
        sr, sg, sb = _unit(treated[0, y, x]), _unit(treated[1, y, x]), _unit(treated[2, y, x])
        blum, slum = _lum_one(br, bg, bb), _lum_one(sr, sg, sb)
        bsat, ssat = max(max(br, bg), bb) - min(min(br, bg), bb), max(max(sr, sg), sb) - min(min(sr, sg), sb)
        if mode == HUE:
            r, g, b = _set_sat_one(sr, sg, sb, bsat)
        elif mode == SATURATION:
            r, g, b = _set_sat_one(br, bg, bb, ssat)
        elif mode == COLOUR:
            r, g, b = sr, sg, sb
        else:
            r, g, b = br, bg, bb
        r, g, b = _set_lum_one(r, g, b, slum if mode == LUMINOSITY else blum)
        running[0, y, x] += (r - running[0, y, x]) * w[x]
        running[1, y, x] += (g - running[1, y, x]) * w[x]
        running[2, y, x] += (b - running[2, y, x]) * w[x]


@kernel
def _mix_even(mode, running, treated, amount, first, end):  # type: ignore[no-untyped-def]
    weight = np.full(running.shape[2], amount)
    for y in range(first, end):
        if mode >= HUE:
            _mix_rows_colour(mode, running, treated, y, weight)
        else:
            for c in range(3):
                _mix_row(mode, running[c, y], treated[c, y], weight)


@kernel
def _mix_matte(mode, running, treated, matte, scale, base, first, end):  # type: ignore[no-untyped-def]
    weight = np.empty(running.shape[2], np.float32)
    for y in range(first, end):
        m = matte[y]
        for x in range(weight.shape[0]):
            weight[x] = base + scale * m[x]
        if mode >= HUE:
            _mix_rows_colour(mode, running, treated, y, weight)
        else:
            for c in range(3):
                _mix_row(mode, running[c, y], treated[c, y], weight)


def mix(
    mode: Blend, running: Picture, treated: Picture, amount: float, matte: Matte | None = None, outside: bool = False, rows: tuple[int, int] | None = None
) -> None:
    """R + (B(R, T) - R) * a, in place; a is amount, times the matte or one minus the matte.

    running, treated: float32 `(3, h, w)`, C-contiguous; matte: float32 `(h, w)`. rows: the rows to mix, all of them where None.
    """
    number, a = BLENDS.index(mode), np.float32(amount)
    first, end = rows or (0, running.shape[1])
    if matte is None:
        _mix_even(number, running, treated, a, first, end)
    elif outside:
        _mix_matte(number, running, treated, matte, -a, a, first, end)
    else:
        _mix_matte(number, running, treated, matte, a, np.float32(0), first, end)
