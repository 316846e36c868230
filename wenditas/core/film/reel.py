"""A reel: items in order, their joins and the spans over them; compiled to nodes."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import floor
from typing import Any, Self

from pydantic import Field, model_validator

from wenditas.core.colour.blend import Blend
from wenditas.core.film.nodes import Accompanied, Fit, Footage, Frame, Inlaid, Join, Node, Part, Percents, Placed, Rate, Reveal, Sequence, Side, Span, frames_at
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import Colour, Params


class Item(Params):
    """Frames `first` to `last` of a node in the reel, counted at the node's own rate; how it lies in the frame, and how it is heard (see `Placed`).

    rise, fall: frames of the reel over which its sound fades in and out.
    """

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
    heard: bool = True
    gain: float = 0
    rise: Frame = 0
    fall: Frame = 0


class Joint(Params):
    """How an item gives way to the next, over some frames of the reel. at: how many of them lie before the cut, in percent."""

    after: str
    frames: int = Field(ge=1, le=100_000)
    at: float = Field(50, ge=0, le=100)
    linear: bool = False
    reveal: Reveal | None = None


class Laid(Params):
    """A look over frames `first` to `last` of the reel (see `Span`)."""

    id: str
    first: Frame
    last: Frame
    look: Look = Look()
    amount: Percents = (Keyframe(frame=0, value=100.0),)
    blend: Blend = "normal"
    rise: Frame = 0
    fall: Frame = 0
    files: tuple[str, ...] = ()
    laid: tuple[Inlaid, ...] = ()


class SoundTrack(Params):
    """Sound beside the items' own (see `Accompanied`)."""

    of: Footage
    at: int = 0
    gain: float = 0
    rise: Frame = 0
    fall: Frame = 0


@dataclass(frozen=True)
class Overlap:
    """A join as it fits its items: `before` and `after` frames of the reel around the cut after an item, of which some are held edge frames."""

    after: str
    before: int
    behind: int
    held_out: int
    held_in: int


class Reel(Params):
    """Items, joins and spans (the top one last) in a frame of a size, at a rate."""

    items: tuple[Item, ...] = Field(min_length=1, max_length=5000)
    joins: tuple[Joint, ...] = ()
    spans: tuple[Laid, ...] = ()
    width: Side
    height: Side
    fps: Rate
    track: SoundTrack | None = None

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
        placing: dict[str, Any] = item.model_dump(exclude={"id", "of", "last", "rise", "fall"})
        placed = Placed(of=item.of, width=self.width, height=self.height, fps=self.fps, **placing)
        begin, end = placed.ahead, placed.ahead + self._frames(item)
        rise = (begin, begin + item.rise) if item.rise else (0, 0)
        fall = (max(end - item.fall, 0), end) if item.fall else (0, 0)
        return placed.model_copy(update={"rise": rise, "fall": fall})

    def overlaps(self) -> list[Overlap]:
        """The joins as they fit, in order. Where they are longer than their items they are shortened."""
        joins = {join.after: join for join in self.joins}
        counts = [self._frames(item) for item in self.items]
        found, taken = [], 0  # frames at the beginning of the item at hand that the join before it shows
        for n, item in enumerate(self.items):
            join, after = joins.get(item.id), 0
            if join is not None:
                early = floor(join.frames * join.at / 100 + 0.5)
                before, after = min(early, counts[n] - taken), min(join.frames - early, counts[n + 1])
                if before + after:
                    node, coming = self._placed(item), self._placed(self.items[n + 1])
                    there, ahead = node.length - node.ahead - counts[n], coming.ahead  # frames beyond the cut on both sides
                    found.append(Overlap(item.id, before, after, max(after - there, 0), max(before - ahead, 0)))
            taken = after
        return found

    def node(self) -> Node:
        """What the reel shows, as nodes. Joins longer than their items are shortened."""
        found: Node = Sequence(parts=tuple(self._parts()))
        found = next(reversed(self.layers(found).values()), found)
        if self.track is not None:
            track: dict[str, Any] = {key: getattr(self.track, key) for key in ("at", "gain", "rise", "fall")}
            found = Accompanied(of=found, by=self.track.of, **track)
        return found

    def layers(self, under: Node) -> dict[str, Span]:
        """The spans over the reel's sequence of items, by id, each with what lies under it."""
        found: dict[str, Span] = {}
        for span in self.spans:
            if span.first < under.length:
                laid: dict[str, Any] = {key: getattr(span, key) for key in ("first", "look", "amount", "blend", "rise", "fall", "files", "laid")}
                under = found[span.id] = Span(of=under, last=min(span.last, under.length - 1), **laid)
        return found

    def joined(self) -> dict[str, Join]:
        """The joins as they fit, by the item that they stand after."""
        return self._joined({item.id: self._placed(item) for item in self.items}, self.overlaps())

    def _joined(self, nodes: dict[str, Placed], overlaps: list[Overlap]) -> dict[str, Join]:
        joins = {join.after: join for join in self.joins}
        counts = {item.id: self._frames(item) for item in self.items}
        following = {item.id: nodes[after.id] for item, after in pairwise(self.items)}
        found = {}
        for overlap in overlaps:
            join, a, b = joins[overlap.after], nodes[overlap.after], following[overlap.after]
            stop = a.ahead + counts[overlap.after] - overlap.before
            sides: dict[str, Any] = {"from_a": stop, "from_b": b.ahead - overlap.before}
            found[overlap.after] = Join(a=a, b=b, frames=overlap.before + overlap.behind, linear=join.linear, reveal=join.reveal, **sides)
        return found

    def _parts(self) -> Iterator[Part]:
        """Items without what joins take from their ends, and the joins between them."""
        nodes, fitted = {item.id: self._placed(item) for item in self.items}, self.overlaps()
        overlaps, joined = {o.after: o for o in fitted}, self._joined(nodes, fitted)
        taken = 0
        for item in self.items:
            overlap, node = overlaps.get(item.id), nodes[item.id]
            begin, end = node.ahead, node.ahead + self._frames(item)
            stop = end - (overlap.before if overlap else 0)
            if stop > begin + taken:
                yield Part(of=node, first=begin + taken, last=stop - 1)
            taken = 0
            if overlap is not None:
                made, taken = joined[item.id], overlap.behind
                yield Part(of=made, first=0, last=made.frames - 1)
