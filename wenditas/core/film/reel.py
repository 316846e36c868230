"""A reel: items in order, their joins and the spans over them; compiled to nodes."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Any, Self

from pydantic import Field, model_validator

from wenditas.core.colour.blend import Blend
from wenditas.core.film.nodes import Fit, Frame, Join, Node, Part, Percents, Placed, Rate, Reveal, Sequence, Side, Span, frames_at
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import Colour, Params


class Item(Params):
    """Frames `first` to `last` of a node in the reel, counted at the node's own rate; and how it lies in the frame (see `Placed`)."""

    id: str
    of: Node
    first: Frame
    last: Frame
    fit: Fit = "all"
    across: float = 50
    down: float = 50
    scale: float = 100
    turn: float = 0
    mirror_across: bool = False
    mirror_down: bool = False
    behind: Colour = "#000000"


class Joint(Params):
    """How an item gives way to the next, over some frames of the reel. at: how many of them lie before the cut, in percent."""

    after: str
    frames: int = Field(ge=1, le=100_000)
    at: float = Field(50, ge=0, le=100)
    linear: bool = False
    reveal: Reveal | None = None


class Laid(Params):
    """A look over frames `first` to `last` of the reel."""

    id: str
    first: Frame
    last: Frame
    look: Look = Look()
    amount: Percents = (Keyframe(frame=0, value=100.0),)
    blend: Blend = "normal"
    files: tuple[str, ...] = ()


class Reel(Params):
    """Items, joins and spans (the top one last) in a frame of a size, at a rate."""

    items: tuple[Item, ...] = Field(min_length=1, max_length=5000)
    joins: tuple[Joint, ...] = ()
    spans: tuple[Laid, ...] = ()
    width: Side
    height: Side
    fps: Rate

    @model_validator(mode="after")
    def _check(self) -> Self:
        ids = [item.id for item in self.items]
        if len(set(ids)) < len(ids):
            raise ValueError("two items have the same id")
        for join in self.joins:
            if join.after not in ids[:-1]:
                raise ValueError(f"a join stands after {join.after!r}, which is no item, or the last one")
        return self

    def cuts(self) -> list[int]:
        """Where each item begins, in frames of the reel, and where the last one ends."""
        found = [0]
        for item in self.items:
            found.append(found[-1] + self._frames(item))
        return found

    def _frames(self, item: Item) -> int:
        return frames_at((item.last - item.first + 1) * Fraction(self.fps) / item.of.rate)

    def _placed(self, item: Item) -> Placed:
        placing: dict[str, Any] = item.model_dump(exclude={"id", "of", "last"})
        return Placed(of=item.of, width=self.width, height=self.height, fps=self.fps, **placing)

    def node(self) -> Node:
        """What the reel shows, as nodes. Joins longer than their items are shortened."""
        found: Node = Sequence(parts=tuple(self._parts()))
        for span in self.spans:
            if span.first < found.length:
                last = min(span.last, found.length - 1)
                found = Span(of=found, first=span.first, last=last, look=span.look, amount=span.amount, blend=span.blend, files=span.files)
        return found

    def _parts(self) -> Iterator[Part]:
        """Items without what joins take from their ends, and the joins between them."""
        joins = {join.after: join for join in self.joins}
        nodes = [self._placed(item) for item in self.items]
        counts = [self._frames(item) for item in self.items]
        taken = 0  # frames at the beginning of the item at hand that the join before it shows
        for n, item in enumerate(self.items):
            join, before, after = joins.get(item.id), 0, 0
            if join is not None:
                early = round(join.frames * join.at / 100)
                before, after = min(early, counts[n] - taken), min(join.frames - early, counts[n + 1])
            first, end = nodes[n].ahead + taken, nodes[n].ahead + counts[n] - before
            if end > first:
                yield Part(of=nodes[n], first=first, last=end - 1)
            if join is not None and before + after:
                begin = nodes[n + 1].ahead - before
                made = Join(a=nodes[n], b=nodes[n + 1], frames=before + after, from_a=end, from_b=begin, linear=join.linear, reveal=join.reveal)
                yield Part(of=made, first=0, last=made.frames - 1)
            taken = after
