"""What to show: one view of a node at one frame, as plain data. It survives JSON."""

from typing import Any, Literal

from pydantic import Field

from wenditas.core.film import Node
from wenditas.core.look.plan import View
from wenditas.core.params import Params

FULL = 100_000  # a width that no picture exceeds: its own size


Sight = Literal["usual", "protan", "deutan", "tritan", "steps"]
Shown = View | Literal["protan", "deutan", "tritan", "steps"]  # what a screen can ask for


def seen_as(shown: Shown) -> dict[str, Any]:
    """A view that a screen asks for, as the view of a request and how that is seen."""
    return {"view": "result", "sight": shown} if shown in ("protan", "deutan", "tritan", "steps") else {"view": shown}


class Request(Params):
    """One view of a node at one frame, at most `width` wide. upto, selection: see `render`. proxy: through the preview copies of footage.

    sight: as it is; as a kind of colour-vision deficiency gives it; or with its smallest steps amplified.
    """

    node: Node
    frame: int
    width: int = Field(FULL, ge=1)
    view: View = "result"
    selection: str | None = None
    upto: int | None = None
    proxy: bool = False
    sight: Sight = "usual"

    def but(self, **changes: Any) -> "Request":
        """The same request with something changed; its node stays the same object."""
        return self.model_copy(update=changes)

    @property
    def size(self) -> tuple[int, int]:
        """`(height, width)` of the picture."""
        width, height = self.node.size
        return (height, width) if self.width >= width else (max(1, round(height * self.width / width)), self.width)
