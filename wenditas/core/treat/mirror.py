"""Mirror: one side of the frame shown on the other."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, choice, percent
from wenditas.core.treat.parts.gather import gather, gather_grid
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

Side = Literal["left onto right", "right onto left", "top onto bottom", "bottom onto top", "flipped across", "flipped down"]


class Mirror(Params):
    """Which side is shown twice, and where the glass stands."""

    side: Side = choice("left onto right", "Shows", "Which part of the frame is seen on both sides of the line; or the whole frame flipped about it.")
    line: float = percent(50, "Line", "Where the mirror stands, from the left or the top edge.")


def _lines(params: Mirror, at: At) -> tuple[Floats, Floats]:
    """The rows and columns that are seen."""
    y, x = np.arange(at.height, dtype=np.float64), np.arange(at.width, dtype=np.float64)
    across = params.side in ("left onto right", "right onto left", "flipped across")
    size, along = (at.width, x) if across else (at.height, y)
    line = params.line / 100 * size - 0.5
    if params.side in ("flipped across", "flipped down"):
        seen = 2 * line - along
        return (y, seen) if across else (seen, x)
    onto_higher = params.side in ("left onto right", "top onto bottom")
    seen = line - np.abs(along - line) if onto_higher else line + np.abs(along - line)
    return (y, seen) if across else (seen, x)


def mirror(picture: Picture, params: Mirror, at: At) -> Picture:
    """The frame, or one side of it, reflected about a line; what the glass would show beyond the edge is mirrored again.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: reflection, by definition.
    """
    return gather(picture, *np.meshgrid(*_lines(params, at), indexing="ij"), "mirror")


def prepare(params: Mirror) -> Apply:
    """`mirror` on whole frames."""
    return lambda tile, out, at: gather_grid(tile, *_lines(params, at), "mirror", out)


TREATMENT = Treatment(
    id="mirror",
    name="Mirror",
    group="break",
    summary="Shows one side of the frame on the other as well, or flips the whole frame.",
    intents=("flip", "reflect", "symmetry", "kaleidoscope"),
    source="Reflection, by definition",
    check="NumPy flip",
    params=Mirror,
    reference=mirror,
    prepare=prepare,
    reach=on_frames,
)
