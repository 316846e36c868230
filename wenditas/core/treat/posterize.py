"""Posterize: a few levels in place of many, with hard or grainy borders."""

from functools import partial
from typing import Literal

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Floats, Picture, as_picture, cell, inline, kernel
from wenditas.core.params import Colours, Params, choice, colours, number, percent, pixels, switch
from wenditas.core.tone.patterns import bayer, blue_noise, salt_of, uniform, uniform_fast
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment

Per = Literal["luma as grey", "luma, colour kept", "channel", "luma, a colour each"]
Border = Literal["hard", "ordered", "blue noise", "random"]
GREY, KEPT, CHANNEL = 0, 1, 2
ZERO, HALF = np.float32(0), np.float32(0.5)


class Posterize(Params):
    """How many levels, of what, and how one gives way to the next."""

    levels: float = number(5, "Levels", "How many, with true black and white at the ends.", low=2, high=16, step=1)
    per: Per = choice(
        "luma as grey", "Levels of", "Luma as plain greys, luma with the colour kept, each channel by itself, or luma with a colour for each level."
    )
    colours: Colours = colours(
        ("#14202b", "#4a2b3a", "#b3392b", "#e0a458", "#f4ead2"),
        "Colours",
        "One for each level, from dark to light; where there are fewer, they are spread evenly.",
    )
    border: Border = choice("hard", "Borders", "Hard, or broken up by an ordered, a blue-noise or a random grain.")
    grain: float = pixels(2, "Grain size", "Side of one grain.", low=1, high=40, step=0.5)
    strength: float = percent(60, "Grain strength", "How far the grain reaches into the levels on either side.")
    moving: bool = switch(False, "Moving grain", "A new random grain in every frame.")


def _thresholds(params: Posterize, at: At, rows: int) -> Floats:
    """Where in the step from one level to the next a pixel changes, `(rows, width)`, 0-1."""
    cell = max(params.grain * at.scale, 1.0)
    y, x = np.floor((np.arange(at.first, at.first + rows) + 0.5) / cell).astype(int), np.floor((np.arange(at.width) + 0.5) / cell).astype(int)
    if params.border == "hard":
        return np.full((rows, at.width), 0.5)
    if params.border == "random":
        t = uniform(x[None, :], y[:, None], salt_of(1, at.phase))
    else:
        pattern = bayer() if params.border == "ordered" else blue_noise()
        t = pattern[np.ix_(y % pattern.shape[0], x % pattern.shape[1])].astype(np.float64)
    return np.asarray(0.5 + (t - 0.5) * params.strength / 100)


def _palette(params: Posterize) -> Floats:
    """The colour of every level, `(levels, 3)`; greys where none are chosen."""
    steps = np.linspace(0, 1, int(params.levels))
    if params.per != "luma, a colour each" or not params.colours:
        return np.repeat(steps[:, None], 3, axis=1)
    chosen = np.stack([rgb_from_hex(c) for c in params.colours])
    return np.asarray(chosen[np.round(steps * (len(chosen) - 1)).astype(int)])


def posterize(picture: Picture, params: Posterize, at: At) -> Picture:
    """The nearest of N levels k / (N - 1), the border between two moved by the grain.

    picture: `(3, h, w)`, limited to 0-1 (but for kept colour). Returns the same shape.
    Source: levels at k * 100 / (N - 1) % (common practice); Bayer 1973 and Ulichney 1993 for the grains.
    """
    steps = int(params.levels) - 1
    t = _thresholds(params, at, picture.shape[1])
    level = partial(_level, steps=steps, t=t)
    if params.per == "channel":
        return as_picture(np.stack([level(plane.astype(np.float64)) for plane in picture]) / steps)
    grey = luma(picture)
    n = level(grey)
    if params.per == "luma, colour kept":
        return as_picture(picture + (n / steps - np.clip(grey, 0, 1)))
    return as_picture(np.moveaxis(_palette(params)[n.astype(int)], -1, 0))


def _level(value: Floats, steps: int, t: Floats) -> Floats:
    return np.asarray(np.minimum(np.floor(np.clip(value, 0, 1) * steps + t), steps))


@inline
def _level_of(value, steps, t):  # type: ignore[no-untyped-def]
    return min(np.floor(min(max(value, ZERO), np.float32(1)) * steps + t), steps)


@kernel
def _posterize_tile(tile, per, palette, t, out):  # type: ignore[no-untyped-def]
    steps = np.float32(palette.shape[0] - 1)
    for y in range(tile.shape[1]):
        for x in range(tile.shape[2]):
            if per == CHANNEL:
                for c in range(3):
                    out[c, y, x] = _level_of(tile[c, y, x], steps, t[y, x]) / steps
                continue
            grey = KR * tile[0, y, x] + KG * tile[1, y, x] + KB * tile[2, y, x]
            n = _level_of(grey, steps, t[y, x])
            for c in range(3):
                if per == KEPT:
                    out[c, y, x] = tile[c, y, x] + (n / steps - min(max(grey, ZERO), np.float32(1)))
                else:
                    out[c, y, x] = palette[np.uint32(cell(n, np.int32(palette.shape[0] - 1))), c]


@kernel
def _random_thresholds(first, cell, salt, strength, t):  # type: ignore[no-untyped-def]
    for y in range(t.shape[0]):
        row = np.int32(np.floor((np.float64(first + y) + 0.5) / cell))
        for x in range(t.shape[1]):
            t[y, x] = HALF + (uniform_fast(np.int32(np.floor((np.float64(x) + 0.5) / cell)), row, salt) - HALF) * strength


def prepare(params: Posterize) -> Apply:
    """`posterize` on tiles."""
    palette = as_picture(_palette(params))
    per = {"luma as grey": GREY, "luma, colour kept": KEPT, "channel": CHANNEL, "luma, a colour each": GREY}[params.per]

    def apply(tile: Picture, out: Picture, at: At) -> None:
        if params.border == "random":
            t = np.empty(tile.shape[1:], np.float32)
            salt = np.uint32(salt_of(1, at.phase))
            _random_thresholds(at.first, max(params.grain * at.scale, 1.0), salt, np.float32(params.strength / 100), t)
        else:
            t = as_picture(_thresholds(params, at, tile.shape[1]))
        _posterize_tile(tile, per, palette, t, out)

    return apply


TREATMENT = Treatment(
    id="posterize",
    name="Posterize",
    group="map",
    summary="Reduces the tones to a few levels, true black and white included, with hard or grainy borders.",
    intents=("threshold", "flat", "comic", "steps", "two tones"),
    source="Levels at k * 100 / (N - 1) % (common practice); Bayer 1973; Ulichney 1993",
    check="NumPy rounding; levels at 0, 25, 50, 75 and 100 % for five (common practice); the mean is kept by the grains",
    params=Posterize,
    takes_palette=lambda params, colours: {"per": "luma, a colour each", "colours": list(colours), "levels": max(2, len(colours))},
    reference=posterize,
    prepare=prepare,
    presets={
        "Five greys": {"levels": 5},
        "Grainy poster": {"levels": 5, "per": "luma, a colour each", "border": "blue noise", "strength": 70, "grain": 3},
        "Newsprint": {"levels": 2, "border": "ordered", "strength": 100, "grain": 3},
    },
    example={"levels": 4},
    grainy=True,
    phase=lambda params, frame: frame if params.border == "random" and params.moving else 0,
)
