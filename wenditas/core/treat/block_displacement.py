"""Block displacement: squares of the picture jump to other places."""

import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.params import Params, number, percent, pixels, seed
from wenditas.core.tone.patterns import salt_of, uniform
from wenditas.core.treat.parts.gather import Whole, cells_reference, gather_cells
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class BlockDisplacement(Params):
    """How large the blocks, how many move, how far, and how often they change."""

    width: float = pixels(96, "Block width", "Across.", low=4, high=800)
    height: float = pixels(32, "Block height", "Down.", low=4, high=800)
    density: float = percent(25, "Density", "How many of the blocks move.")
    across: float = pixels(80, "Across", "The farthest that a block moves to either side.", high=600)
    down: float = pixels(0, "Down", "The farthest that a block moves up or down.", high=600)
    every: float = number(4, "Changes every", "Frames from one pattern to the next; 0 keeps it still.", low=0, high=240, step=1, unit="fr")
    seed: float = seed()


def _cells(params: BlockDisplacement, at: At) -> tuple[Whole, Whole, Whole, Whole]:
    """The block that every row and column belongs to, and how far each block jumps down and across."""
    row = np.floor((np.arange(at.height) + 0.5) / (params.height * at.scale)).astype(np.int32)
    column = np.floor((np.arange(at.width) + 0.5) / (params.width * at.scale)).astype(np.int32)
    j, i = np.arange(column[-1] + 1)[None, :], np.arange(row[-1] + 1)[:, None]
    salts = [salt_of(params.seed, at.phase, c) for c in range(3)]
    moves = uniform(j, i, salts[0]) < params.density / 100
    dx = np.round((uniform(j, i, salts[1]) * 2 - 1) * params.across * at.scale)
    dy = np.round((uniform(j, i, salts[2]) * 2 - 1) * params.down * at.scale)
    return row, column, np.where(moves, dy, 0).astype(np.int32), np.where(moves, dx, 0).astype(np.int32)


def block_displacement(picture: Picture, params: BlockDisplacement, at: At) -> Picture:
    """A share of the blocks, chosen by a hash, shows the picture from another place, by whole pixels.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: stated formula, our own.
    """
    return cells_reference(picture, *_cells(params, at))


def prepare(params: BlockDisplacement) -> Apply:
    """`block_displacement` on whole frames."""
    return lambda tile, out, at: gather_cells(tile, *_cells(params, at), out)


TREATMENT = Treatment(
    id="block-displacement",
    name="Block displacement",
    group="break",
    summary="Makes blocks of the picture jump, still or changing.",
    intents=("broken signal", "transmission", "interference"),
    source="Stated formula, our own",
    check="NumPy: only values of the picture occur; the share of moved blocks meets the density (binomial test)",
    params=BlockDisplacement,
    neutral=(
        {"density": 0},
        {"across": 0, "down": 0},
    ),
    reference=block_displacement,
    prepare=prepare,
    reach=on_frames,
    example={"density": 45},
    grainy=True,
    phase=lambda params, frame: frame // int(params.every) if params.every >= 1 else 0,
)
