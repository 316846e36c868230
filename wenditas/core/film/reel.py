"""A reel: items in order, their transitions and the spans over them; compiled to nodes."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import accumulate, pairwise
from math import ceil, floor
from typing import Any, Self

from pydantic import Field, model_validator

from wenditas.core.bounds import Side
from wenditas.core.colour.blend import Blend
from wenditas.core.film.nodes import (
    Accompanied,
    Fit,
    Footage,
    Frame,
    Inlaid,
    Node,
    Own,
    Part,
    Percents,
    Placed,
    Rate,
    Reveal,
    Sequence,
    Span,
    Transition,
    frames_at,
)
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import Colour, Params


class Item(Params):
    """Frames `first` to `last` of a node in the reel, counted at the node's own rate; how it lies in the frame, and how it is heard (see `Placed`).

    fade_in, fade_out: frames of the reel over which its sound fades in and out.
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
    fade_in: Frame = 0
    fade_out: Frame = 0


class TransitionPlan(Params):
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
    fade_in: Frame = 0
    fade_out: Frame = 0
    files: tuple[str, ...] = ()
    laid: tuple[Inlaid, ...] = ()


class SoundTrack(Params):
    """Sound beside the items' own (see `Accompanied`)."""

    of: Footage
    at: int = 0
    gain: float = 0
    fade_in: Frame = 0
    fade_out: Frame = 0


@dataclass(frozen=True)
class Standing:
    """An item where it stands: its node in the reel's frame, of which frames `begin` to before `end` are its own."""

    item: Item
    placed: Placed
    begin: int
    end: int

    @property
    def count(self) -> int:
        """Frames of the reel."""
        return self.end - self.begin


@dataclass(frozen=True)
class Overlap:
    """A join as it fits its items: `before` and `after` frames of the reel around the cut after an item, of which some are held edge frames."""

    after: str
    before: int
    behind: int
    held_out: int
    held_in: int


class Reel(Params):
    """Items, transitions and spans (the top one last) in a frame of a size, at a rate."""

    items: tuple[Item, ...] = Field(min_length=1, max_length=5000)
    transitions: tuple[TransitionPlan, ...] = ()
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
        for transition in self.transitions:
            if transition.after not in ids[:-1]:
                raise ValueError(f"a transition stands after {transition.after!r}, which is no item, or the last one")
        return self

    def cuts(self) -> list[int]:
        """Where each item begins, in frames of the reel, and where the last one ends."""
        return [0, *accumulate(standing.count for standing in self.standing())]

    def standing(self) -> list[Standing]:
        """The items where they stand.

        Items that go on in what the one before them shows are counted together, from where the first of them began: a split changes
        neither what follows nor any picture.
        """
        found: list[Standing] = []
        anchor, begin = self.items[0], 0
        for n, item in enumerate(self.items):
            ratio = Fraction(self.fps) / item.of.rate
            if n == 0 or not _goes_on(self.items[n - 1], item):
                anchor, begin = item, int(item.first * ratio)
            behind = int(anchor.first * ratio)
            goes_on = n + 1 < len(self.items) and _goes_on(item, self.items[n + 1])
            count = item.last + 1 - anchor.first
            end = behind + (first_shown(count, ratio) if goes_on else frames_at(count * ratio))
            found.append(self._standing(item, anchor.first, begin, max(end, begin + 1)))
            begin = found[-1].end
        return found

    def _standing(self, item: Item, first: int, begin: int, end: int) -> Standing:
        placing: dict[str, Any] = item.model_dump(exclude={"id", "of", "first", "last", "fade_in", "fade_out"})
        fades = {
            "fade_in": (begin, begin + item.fade_in) if item.fade_in else (0, 0),
            "fade_out": (max(end - item.fade_out, 0), end) if item.fade_out else (0, 0),
        }
        own = Own(begin=begin, end=end, first=item.first, last=item.last)
        placed = Placed(of=item.of, width=self.width, height=self.height, fps=self.fps, first=first, own=own, **placing, **fades)
        return Standing(item, placed, begin, end)

    def place_of(self, standing: Standing, frame: int, last: bool = False) -> int:
        """The first of an item's own frames at which a frame of its node, or a later one, is shown; with `last` the last at which it, or an earlier one, is."""
        if frame >= standing.item.last and last:  # it is held until the item ends
            return standing.count - 1
        since = standing.placed.ahead - standing.begin
        ratio = Fraction(self.fps) / standing.item.of.rate
        inside = frame - standing.placed.first
        found = first_shown(inside + 1, ratio) - 1 if last else first_shown(inside, ratio)
        return min(max(found + since, 0), standing.count - 1)

    def overlaps(self) -> list[Overlap]:
        """The transitions as they fit, in order. Where they are longer than their items they are shortened."""
        return self._overlaps(self.standing())

    def _overlaps(self, standing: list[Standing]) -> list[Overlap]:
        transitions = {transition.after: transition for transition in self.transitions}
        found, taken = [], 0  # frames at the beginning of the item at hand that the transition before it shows
        for here, coming in zip(standing, [*standing[1:], None], strict=True):
            transition, after = transitions.get(here.item.id), 0
            if transition is not None and coming is not None:
                early = floor(transition.frames * transition.at / 100 + 0.5)
                before, after = min(early, here.count - taken), min(transition.frames - early, coming.count)
                if before + after:
                    there = here.placed.length - here.end  # frames beyond the cut
                    found.append(Overlap(here.item.id, before, after, max(after - there, 0), max(before - coming.begin, 0)))
            taken = after
        return found

    def node(self) -> Node:
        """What the reel shows, as nodes. Transitions longer than their items are shortened."""
        found: Node = Sequence(parts=tuple(self._parts()))
        found = next(reversed(self.layers(found).values()), found)
        if self.track is not None:
            track: dict[str, Any] = {key: getattr(self.track, key) for key in ("at", "gain", "fade_in", "fade_out")}
            found = Accompanied(of=found, by=self.track.of, **track)
        return found

    def layers(self, under: Node) -> dict[str, Span]:
        """The spans over the reel's sequence of items, by id, each with what lies under it."""
        found: dict[str, Span] = {}
        for span in self.spans:
            if span.first < under.length:
                laid: dict[str, Any] = {key: getattr(span, key) for key in ("first", "look", "amount", "blend", "fade_in", "fade_out", "files", "laid")}
                under = found[span.id] = Span(of=under, last=min(span.last, under.length - 1), **laid)
        return found

    def fitted_transitions(self) -> dict[str, Transition]:
        """The transitions as they fit, by the item that they stand after."""
        standing = self.standing()
        return self._transitions_that_fit(standing, self._overlaps(standing))

    def _transitions_that_fit(self, standing: list[Standing], overlaps: list[Overlap]) -> dict[str, Transition]:
        transitions = {transition.after: transition for transition in self.transitions}
        pairs = {a.item.id: (a, b) for a, b in pairwise(standing)}
        found = {}
        for overlap in overlaps:
            transition, (a, b) = transitions[overlap.after], pairs[overlap.after]
            sides: dict[str, Any] = {"from_a": a.end - overlap.before, "from_b": b.begin - overlap.before}
            frames = overlap.before + overlap.behind
            found[overlap.after] = Transition(a=a.placed, b=b.placed, frames=frames, linear=transition.linear, reveal=transition.reveal, **sides)
        return found

    def _parts(self) -> Iterator[Part]:
        """Items without what transitions take from their ends, and the transitions between them."""
        standing = self.standing()
        fitted = self._overlaps(standing)
        overlaps, fitted_transitions = {o.after: o for o in fitted}, self._transitions_that_fit(standing, fitted)
        taken = 0
        for here in standing:
            overlap = overlaps.get(here.item.id)
            stop = here.end - (overlap.before if overlap else 0)
            if stop > here.begin + taken:
                yield Part(of=here.placed, first=here.begin + taken, last=stop - 1)
            taken = 0
            if overlap is not None:
                made, taken = fitted_transitions[here.item.id], overlap.behind
                yield Part(of=made, first=0, last=made.frames - 1)


def _goes_on(item: Item, other: Item) -> bool:
    """Whether an item begins with the frame after another's last, of the same node."""
    return other.first == item.last + 1 and (other.of is item.of or other.of == item.of)


def first_shown(frame: int, ratio: Fraction) -> int:
    """The first frame at which the nearest in time is a frame of another rate, or a later one. ratio: frames to one of the other's.

    >>> [first_shown(n, Fraction(60, 24)) for n in range(4)]
    [-1, 2, 4, 7]
    """
    return ceil((frame - Fraction(1, 2)) * ratio)
