"""Block displacement: squares of the picture jump to other places."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number, percent, pixels, seed
from wenditas.core.tone.patterns import salt_of, uniform
from wenditas.core.treat.parts.gather import gather, gather_by
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


def _places(params: BlockDisplacement, at: At, first: int, end: int) -> tuple[Floats, Floats]:
    state = at.frame // int(params.every) if params.every >= 1 else 0
    y, x = np.arange(first, end, dtype=np.float64)[:, None], np.arange(at.width, dtype=np.float64)[None, :]
    row = np.floor((y + 0.5) / (params.height * at.scale)).astype(int)
    column = np.floor((x + 0.5) / (params.width * at.scale)).astype(int)
    salts = [salt_of(params.seed, state, c) for c in range(3)]
    moves = uniform(column, row, salts[0]) < params.density / 100
    dx = np.round((uniform(column, row, salts[1]) * 2 - 1) * params.across * at.scale)
    dy = np.round((uniform(column, row, salts[2]) * 2 - 1) * params.down * at.scale)
    return y + np.where(moves, dy, 0), x + np.where(moves, dx, 0)


def block_displacement(picture: Picture, params: BlockDisplacement, at: At) -> Picture:
    """A share of the blocks, chosen by a hash, shows the picture from another place, by whole pixels.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: stated formula, our own.
    """
    return gather(picture, *_places(params, at, 0, at.height), "mirror")


def prepare(params: BlockDisplacement) -> Apply:
    """`block_displacement` on whole frames."""
    return lambda tile, out, at: gather_by(tile, lambda first, end: _places(params, at, first, end), "mirror", out)


TREATMENT = Treatment(
    id="block-displacement",
    name="Block displacement",
    group="break",
    summary="Makes blocks of the picture jump, still or changing.",
    source="Stated formula, our own",
    check="NumPy: only values of the picture occur; the share of moved blocks meets the density (binomial test)",
    params=BlockDisplacement,
    reference=block_displacement,
    prepare=prepare,
    reach=on_frames,
    example={"density": 45},
    grainy=True,
)
