"""What to show: one view of a node at one frame, as plain data. It survives JSON."""

from typing import Any, Literal

from pydantic import Field

from wenditas.core.film import RESULT, Node, Op, Shown, resolve
from wenditas.core.look.shown import View
from wenditas.core.params import Params

FULL = 100_000  # a width that no picture exceeds: its own size

ScreenView = View | Literal["protan", "deutan", "tritan", "steps"]  # what a screen can ask for


def seen_as(view: ScreenView, selection: str | None = None, upto: int | None = None) -> Shown:
    """A view that a screen asks for, and how that is seen."""
    if view in ("protan", "deutan", "tritan", "steps"):
        return Shown(sight=view, selection=selection, upto=upto)
    return Shown(view=view, selection=selection, upto=upto)


class Request(Params):
    """A view of a node at one frame, at most `width` wide. proxy: through the preview copies of footage. moving: seen in passing."""

    node: Node
    frame: int
    width: int = Field(FULL, ge=1)
    shown: Shown = RESULT
    proxy: bool = False
    moving: bool = False

    def but(self, **changes: Any) -> "Request":
        """The same request with something changed, of what is shown too; its node stays the same object."""
        seen = {key: changes.pop(key) for key in tuple(changes) if key in Shown.model_fields}
        return self.model_copy(update={**changes, "shown": self.shown.model_copy(update=seen)} if seen else changes)

    @property
    def size(self) -> tuple[int, int]:
        """`(height, width)` of the picture."""
        width, height = self.node.size
        return (height, width) if self.width >= width else (max(1, round(height * self.width / width)), self.width)

    def resolved(self, copies: str = "") -> Op:
        """What is computed for it. copies: see `resolve`; those of the request where none is named."""
        return resolve(self.node, self.frame, self.size, self.shown, copies or ("proxy" if self.proxy else ""), self.moving)
