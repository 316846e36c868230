"""Grain: film grain of any size, stronger in the tones where film shows it."""

import numpy as np

from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Floats, Picture, as_picture, inline, kernel
from wenditas.core.params import Params, percent, pixels, seed, switch
from wenditas.core.tone.patterns import salt_of, uniform, uniform_fast
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment

STRENGTH = 0.35  # of the full range, at 100 %
ZERO, ONE, TWO, THREE, FOUR = (np.float32(v) for v in (0, 1, 2, 3, 4))


class Grain(Params):
    """How coarse, how strong, where, and whether it moves."""

    size: float = pixels(2, "Size", "Distance from grain to grain.", low=0.5, high=30, step=0.1)
    strength: float = percent(25, "Strength", "How far grains lighten and darken.")
    response: float = percent(70, "Middle tones", "0 % is even over all tones; 100 % is in the middle tones only.")
    colour: float = percent(0, "Colour", "0 % is grey grain; 100 % has grains of its own in each channel.")
    moving: bool = switch(True, "Moving", "New grain in every frame.")
    seed: float = seed()


def _salts(params: Grain, at: At) -> list[int]:
    """One for the grey grain and one for each channel."""
    return [salt_of(params.seed, at.phase, c) for c in range(4)]


def field(y: Floats, x: Floats, salt: int) -> Floats:
    """Value noise, -1 to 1, at places counted in grains: random values on a grid, eased between.

    Source: lattice value noise (general computer graphics), smoothstep interpolation.
    """
    top, left = np.floor(y), np.floor(x)
    fy, fx = y - top, x - left
    fy, fx = fy * fy * (3 - 2 * fy), fx * fx * (3 - 2 * fx)
    corner = {(dy, dx): uniform(left + dx, top + dy, salt) for dy in (0, 1) for dx in (0, 1)}
    upper = corner[0, 0] + (corner[0, 1] - corner[0, 0]) * fx
    lower = corner[1, 0] + (corner[1, 1] - corner[1, 0]) * fx
    return np.asarray((upper + (lower - upper) * fy) * 2 - 1)


def grain(picture: Picture, params: Grain, at: At) -> Picture:
    """value + strength * response(luma) * noise; response is 1 at 0 %, 4 Y' (1 - Y') at 100 %.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: stated formula; lattice value noise.
    """
    size = params.size * at.scale
    y, x = ((np.arange(at.first, at.first + picture.shape[1]) + 0.5) / size)[:, None], ((np.arange(picture.shape[2]) + 0.5) / size)[None, :]
    salts = _salts(params, at)
    grey = field(y, x, salts[0])
    tone = np.clip(luma(picture), 0, 1)
    weight = STRENGTH * params.strength / 100 * (1 + (4 * tone * (1 - tone) - 1) * params.response / 100)
    share = params.colour / 100
    noise = np.stack([grey + (field(y, x, salts[c + 1]) - grey) * share if share > 0 else grey for c in range(3)])
    return as_picture(picture + weight * noise)


@inline
def _noise(x, y, fx, fy, salt):  # type: ignore[no-untyped-def]
    a, b = uniform_fast(x, y, salt), uniform_fast(x + np.int32(1), y, salt)
    c, d = uniform_fast(x, y + np.int32(1), salt), uniform_fast(x + np.int32(1), y + np.int32(1), salt)
    upper, lower = a + (b - a) * fx, c + (d - c) * fx
    return (upper + (lower - upper) * fy) * TWO - ONE


@kernel
def _grain_tile(tile, first, size, strength, response, share, salts, out):  # type: ignore[no-untyped-def]
    width = tile.shape[2]
    left, fx = np.empty(width, np.int32), np.empty(width, np.float32)
    for x in range(width):
        place = (np.float64(x) + 0.5) / size
        left[x] = np.int32(np.floor(place))
        f = np.float32(place - np.floor(place))
        fx[x] = f * f * (THREE - TWO * f)
    for y in range(tile.shape[1]):
        place = (np.float64(first + y) + 0.5) / size
        top = np.int32(np.floor(place))
        f = np.float32(place - np.floor(place))
        fy = f * f * (THREE - TWO * f)
        for x in range(width):
            tone = min(max(KR * tile[0, y, x] + KG * tile[1, y, x] + KB * tile[2, y, x], ZERO), ONE)
            weight = strength * (ONE + (FOUR * tone * (ONE - tone) - ONE) * response)
            grey = _noise(left[x], top, fx[x], fy, salts[0])
            for c in range(3):
                noise = grey
                if share > ZERO:
                    noise = grey + (_noise(left[x], top, fx[x], fy, salts[c + 1]) - grey) * share
                out[c, y, x] = tile[c, y, x] + weight * noise


def prepare(params: Grain) -> Apply:
    """`grain` on tiles."""
    strength, response, share = (np.float32(v / 100) for v in (params.strength * STRENGTH, params.response, params.colour))

    def apply(tile: Picture, out: Picture, at: At) -> None:
        salts = np.array(_salts(params, at), np.uint32)
        _grain_tile(tile, at.first, params.size * at.scale, strength, response, share, salts, out)

    return apply


TREATMENT = Treatment(
    id="grain",
    name="Grain",
    group="soften",
    summary="Lays film grain over the picture, still or moving.",
    intents=("noise", "film", "texture"),
    source="Stated formula; lattice value noise",
    check="SciPy: mean, spread and evenness of the noise (Kolmogorov-Smirnov); spectrum by NumPy",
    params=Grain,
    neutral=({"strength": 0},),
    reference=grain,
    prepare=prepare,
    example={"strength": 80, "size": 4},
    phase=lambda params, frame: frame if params.moving else 0,
)
