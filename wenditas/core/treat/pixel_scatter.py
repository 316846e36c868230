"""Pixel scatter: pixels stray from their places."""

import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.params import Params, degrees, percent, pixels, seed, switch
from wenditas.core.tone.patterns import salt_of, uniform
from wenditas.core.treat.parts.gather import Whole, cells_reference, gather_cells
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class PixelScatter(Params):
    """How far, which way, and how many."""

    distance: float = pixels(12, "Distance", "The farthest that a pixel strays.", high=300)
    angle: float = degrees(0, "Angle", "0° up, 90° right.", low=-360, high=360)
    spread: float = percent(100, "Spread", "0 % strays along the angle only, 100 % in every direction.")
    share: float = percent(60, "Share", "How many of the pixels stray.")
    size: float = pixels(2, "Size", "Side of what strays as one.", low=1, high=40, step=0.5)
    moving: bool = switch(True, "Moving", "Strays anew in every frame.")
    seed: float = seed()


def _cells(params: PixelScatter, at: At) -> tuple[Whole, Whole, Whole, Whole]:
    """The cell that every row and column belongs to, and how far down and across its pixels are taken from."""
    cell = max(params.size * at.scale, 1.0)
    row = np.floor((np.arange(at.height) + 0.5) / cell).astype(np.int32)
    column = np.floor((np.arange(at.width) + 0.5) / cell).astype(np.int32)
    j, i = np.arange(column[-1] + 1)[None, :], np.arange(row[-1] + 1)[:, None]
    salts = [salt_of(params.seed, at.phase, c) for c in range(3)]
    strays = uniform(j, i, salts[0]) < params.share / 100
    turn = np.radians(params.angle) + (uniform(j, i, salts[1]) * 2 - 1) * np.pi * params.spread / 100
    far = np.where(strays, uniform(j, i, salts[2]) * params.distance * at.scale, 0)
    return row, column, np.round(np.cos(turn) * far).astype(np.int32), np.round(-np.sin(turn) * far).astype(np.int32)


def pixel_scatter(picture: Picture, params: PixelScatter, at: At) -> Picture:
    """A share of the pixels, chosen by a hash, shows what lies a random way off.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: stated formula, our own.
    """
    return cells_reference(picture, *_cells(params, at))


def prepare(params: PixelScatter) -> Apply:
    """`pixel_scatter` on whole frames."""
    return lambda tile, out, at: gather_cells(tile, *_cells(params, at), out)


TREATMENT = Treatment(
    id="pixel-scatter",
    name="Pixel scatter",
    group="break",
    summary="Lets pixels stray from their places.",
    intents=("noise", "dissolve", "sand", "frosted glass"),
    source="Stated formula, our own",
    check="NumPy: only values of the picture occur; the share that strays meets the setting (binomial test)",
    params=PixelScatter,
    neutral=(
        {"distance": 0},
        {"share": 0},
    ),
    reference=pixel_scatter,
    prepare=prepare,
    reach=on_frames,
    example={"distance": 40, "size": 3},
    grainy=True,
    phase=lambda params, frame: frame if params.moving else 0,
)
