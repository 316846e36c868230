"""The one way to a picture: what a node shows at a frame is resolved, then run. Screen, files, measurements and tests all go it."""

from collections.abc import Sequence
from typing import Any

from wenditas.core.colour.deficiency import table
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film.nodes import Node
from wenditas.core.film.resolving import Resolving
from wenditas.core.kernel import Picture
from wenditas.core.look.shown import RESULT, Shown
from wenditas.core.tone.lut import Lut, cube_tile
from wenditas.core.tone.steps import amplified
from wenditas.core.work.memo import Memo
from wenditas.core.work.operation import Kind, Op, Place, Rows, Size, Sources
from wenditas.core.work.run import Check, Store, run


def _seen(sight: str) -> Rows:
    lut = Lut(sight, table(sight))
    flat, low, scale = lut.prepared

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        cube_tile(inputs[0], flat, lut.size, low, scale, out)

    return rows


SIGHT = Kind("sight", rows=_seen, prepares=True, cost=9)
STEPS = Kind("steps", whole=lambda params: lambda inputs, place: amplified(inputs[0]), cost=51)


def size_of(node: Node) -> Size:
    """Height and width of a node's own pictures."""
    width, height = node.size
    return height, width


def resolve(node: Node, frame: int, size: Size | None = None, shown: Shown = RESULT, copies: str = "", moving: bool = False) -> Op:
    """What is computed for a view of a node at a frame: equal digests, and only they, name the same computation.

    size: `(h, w)`, the node's own by default; lengths are scaled with it. Views are of the look of a shot, a span or the hole of a reveal,
    also where it is placed or in a sequence; other nodes have only results. copies, moving: see `Resolving`. Frames beyond the ends show the
    first or last one. Reads no pixel. Raises `BadLook` for an unknown selection.
    """
    size = size or size_of(node)
    if shown.sight == "usual":
        return Resolving(copies, moving).picture(node, frame, size, shown)
    op = Resolving(copies, moving).picture(node, frame, size, shown.model_copy(update={"sight": "usual"}))
    return Op(STEPS, None, (op,), size) if shown.sight == "steps" else Op(SIGHT, shown.sight, (op,), size)


def render(
    node: Node,
    frame: int,
    size: Size | None = None,
    shown: Shown = RESULT,
    *,
    sources: Sources,
    files: Files = NO_FILES,
    memo: Memo | None = None,
    store: Store | None = None,
    check: Check = lambda: None,
) -> Picture:
    """A view of a node at a frame: float32 `(3, h, w)`, gamma-coded BT.709 R'G'B', not limited. See `resolve` and `run`."""
    return run(resolve(node, frame, size, shown), sources=sources, files=files, memo=memo, store=store, check=check)
