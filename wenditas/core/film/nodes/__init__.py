"""The kinds of nodes: one file for those that belong together, each a member of `Node`."""

from typing import Annotated, Any

from pydantic import Field, TypeAdapter, ValidationError

from wenditas.core.errors import BadLook
from wenditas.core.film.nodes.footage import Blank, Footage
from wenditas.core.film.nodes.moving import Frame, Moving, Percents, Rate, Wrapper, frames_at
from wenditas.core.film.nodes.placed import Own, Placed
from wenditas.core.film.nodes.sequence import Accompanied, Part, Sequence
from wenditas.core.film.nodes.shot import Dressed, Inlaid, Shot, Span
from wenditas.core.film.nodes.transition import Reveal, Transition
from wenditas.core.film.placing import Fit
from wenditas.core.film.transitions import Grows

Node = Annotated[Footage | Blank | Shot | Placed | Transition | Span | Sequence | Accompanied, Field(discriminator="type")]
for _model in (Wrapper, Dressed, Inlaid, Shot, Placed, Transition, Span, Part, Sequence, Accompanied):
    _model.model_rebuild(_types_namespace={"Node": Node, "Shot": Shot})
_NODE: TypeAdapter[Any] = TypeAdapter(Node)


def parse_node(data: Any) -> Node:
    """A node from plain JSON data. Raises `BadLook`."""
    try:
        found: Node = _NODE.validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadLook(f"This is not a film: {'/'.join(map(str, first['loc']))}: {first['msg']}") from error
    return found


__all__ = [
    "Accompanied",
    "Blank",
    "Fit",
    "Footage",
    "Frame",
    "Grows",
    "Inlaid",
    "Moving",
    "Node",
    "Own",
    "Part",
    "Percents",
    "Placed",
    "Rate",
    "Reveal",
    "Sequence",
    "Shot",
    "Span",
    "Transition",
    "frames_at",
    "parse_node",
]
