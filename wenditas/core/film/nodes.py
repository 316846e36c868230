"""Nodes: everything that moves, as plain data. They are immutable, comparable, and survive JSON.

Frames of a node are counted from 0. A node tells its `length` in frames, its `rate` and its `size` (width, height);
what it shows at a frame is told by `render`, and whether two frames show the same by `Keys`.
"""

from collections.abc import Iterator
from fractions import Fraction
from functools import cache, cached_property
from math import floor
from typing import Annotated, Any, Literal, Self

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from wenditas.core.bounds import MOST_FRAMES, Side
from wenditas.core.colour.blend import Blend
from wenditas.core.errors import BadLook
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import Colour, Params
from wenditas.core.select.calm import MOST_NOISE, NO_NOISE, Noise

Rate = Annotated[str, Field(pattern=r"^[1-9][0-9]{0,8}(/[1-9][0-9]{0,8})?$")]
Frame = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
Percents = Annotated[tuple[Keyframe, ...], Field(min_length=1, max_length=1000)]


@cache
def rate_of(fps: str) -> Fraction:
    """A rate that is written as a ratio, as the ratio: read once, since it is asked for again and again."""
    return Fraction(fps)


class Footage(Params):
    """Decoded frames. A still shows one picture at all its frames.

    content: names the frames; no others ever have that name (the id of footage that was taken in, or a digest).
    noise: standard deviation of the error of its coded chroma; white is 1.
    """

    type: Literal["footage"] = "footage"
    content: str = Field(min_length=1, max_length=128)
    width: Side
    height: Side
    fps: Rate
    frames: int = Field(ge=1, le=MOST_FRAMES)
    still: bool = False
    alpha: bool = False
    noise: float = Field(0, ge=0, le=MOST_NOISE)

    @property
    def length(self) -> int:
        """Frames."""
        return self.frames

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return rate_of(self.fps)

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.width, self.height


class Blank(Params):
    """One colour and silence, for some frames: what stands where there is nothing to show."""

    type: Literal["blank"] = "blank"
    width: Side
    height: Side
    fps: Rate
    frames: int = Field(ge=1, le=MOST_FRAMES)
    colour: Colour = "#000000"

    @property
    def length(self) -> int:
        """Frames."""
        return self.frames

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return rate_of(self.fps)

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.width, self.height


class Stretched(Params):
    """A node made of one other, as long, as fast and as large as that one where it does not say otherwise."""

    of: "Node"

    @property
    def length(self) -> int:
        """Frames."""
        return self.of.length

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return self.of.rate

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.of.size


class Inlaid(Params):
    """Another shot that passes of a look may lay in, by its id."""

    id: str = Field(min_length=1, max_length=40)
    of: "Shot"

    def frame(self, number: int) -> int:
        """The frame of the shot for one that is counted as the Bench counts them, from the start of its footage: the nearest there is."""
        return min(max(number - self.of.first, 0), self.of.length - 1)

    def part(self, id: str) -> str | None:
        """The selection of the shot that is its shape; None for all of it, and where there is no such selection any more."""
        return next((s.id for s in self.of.look.selections if s.id == id), None)


class Shot(Stretched):
    """Frames `first` to `last` of another node under a look, whose lanes count the frames of that node.

    files: the digests that are at hand. laid: the shots that its passes lay in, as far as they are there.
    """

    type: Literal["shot"] = "shot"
    first: Frame
    last: Frame
    look: Look = Look()
    files: tuple[str, ...] = ()
    laid: tuple[Inlaid, ...] = ()

    @model_validator(mode="after")
    def _check(self) -> Self:
        if not self.first <= self.last < self.of.length:
            raise ValueError(f"frames {self.first} to {self.last} do not lie, in this order, within the {self.of.length} frames of what they are taken from")
        return self

    @property
    def length(self) -> int:
        """Frames."""
        return self.last - self.first + 1


Fit = Literal["all", "fill", "own"]


class Own(Params):
    """From frame `begin` to before frame `end` of a placed node nothing but frames `first` to `last` of what is placed is shown."""

    begin: Frame
    end: Frame
    first: Frame
    last: Frame


class Placed(Stretched):
    """Another node in a frame of another size and rate.

    first: the frame of `of` at the frame `ahead` of this node; what lies before it comes before. Each frame shows the one of `of` that is
    nearest in time; where they are an item's own, the nearest of these. fit: all of it (with bars), the frame filled (cropped), or its own
    size. across, down: where it lies in the room that is left, or which part is shown, in percent. Then scaled (percent) and turned
    (degrees, clockwise) about its middle; mirrored before all that. behind: what is seen where it is not. heard, gain: whether its sound
    is, and by how many dB louder. rise, fall: the frames between which its sound fades in and out.
    """

    type: Literal["placed"] = "placed"
    width: Side
    height: Side
    fps: Rate
    first: Frame = 0
    own: Own | None = None
    fit: Fit = "all"
    across: float = Field(50, ge=-500, le=600)
    down: float = Field(50, ge=-500, le=600)
    scale: float = Field(100, ge=1, le=2000)
    turn: float = Field(0, ge=-360, le=360)
    mirror_across: bool = False
    mirror_down: bool = False
    behind: Colour = "#000000"
    heard: bool = True
    gain: float = Field(0, ge=-120, le=24)
    rise: tuple[Frame, Frame] = (0, 0)
    fall: tuple[Frame, Frame] = (0, 0)

    @cached_property
    def ahead(self) -> int:
        """Frames before the one that shows `first`."""
        return int(self.first * self.rate / self.of.rate)

    @cached_property
    def length(self) -> int:
        """Frames."""
        there = self.ahead + frames_at((self.of.length - self.first) * self.rate / self.of.rate)
        return max(there, self.own.end) if self.own is not None else there

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return rate_of(self.fps)

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.width, self.height

    def shown(self, frame: int) -> int:
        """The frame of `of` that is nearest in time: first + round(frames since then * its rate / this rate), ties to the later one.

        Where the frames are an item's own, the nearest of these. Source: nearest frame in time (definition).
        """
        number = self.first + floor((frame - self.ahead) * self.of.rate / self.rate + Fraction(1, 2))
        if self.own is not None and self.own.begin <= frame < self.own.end:
            number = min(max(number, self.own.first), self.own.last)
        return min(max(number, 0), self.of.length - 1)


def frames_at(length: Fraction) -> int:
    """A length in frames as whole frames, at least one."""
    return max(1, floor(length + Fraction(1, 2)))


Grows = Literal["likeness", "outward", "light", "dark"]


class Reveal(Params):
    """How one node becomes another through a selection on one of them: the hole opens, then it takes all.

    look: holds the selection. of: whose picture it is made from. opens, takes: keyframes in percent, at thousandths of the join's time.
    grows: in what order the rest goes. edge: how soft that is, in percent of the way.
    """

    look: Look
    selection: str
    of: Literal["outgoing", "incoming"] = "outgoing"
    opens: Percents
    takes: Percents
    grows: Grows = "likeness"
    edge: float = Field(10, ge=0.5, le=100)


class Join(Params):
    """How one node becomes another, of the same size and rate, over some frames: the overlap alone.

    from_a, from_b: the frames of the two with which it begins; beyond their ends the edge frames are held.
    linear: whether a dissolve mixes in linear light. reveal: else a dissolve.
    """

    type: Literal["join"] = "join"
    a: "Node"
    b: "Node"
    frames: int = Field(ge=1, le=MOST_FRAMES)
    from_a: int = Field(ge=-MOST_FRAMES, le=MOST_FRAMES)
    from_b: int = Field(ge=-MOST_FRAMES, le=MOST_FRAMES)
    linear: bool = False
    reveal: Reveal | None = None

    @model_validator(mode="after")
    def _check(self) -> Self:
        if (self.a.size, self.a.rate) != (self.b.size, self.b.rate):
            raise ValueError("a join needs two of the same size and rate")
        return self

    @property
    def length(self) -> int:
        """Frames."""
        return self.frames

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return self.a.rate

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.a.size

    def sides(self, frame: int) -> tuple[int, int]:
        """The frames of the outgoing and the incoming node at a frame of the join."""
        return (min(max(self.from_a + frame, 0), self.a.length - 1), min(max(self.from_b + frame, 0), self.b.length - 1))

    def side(self, frame: int) -> int:
        """The frame of the side that a reveal is made from, at a frame of the join."""
        return self.sides(frame)[0 if self.reveal is not None and self.reveal.of == "outgoing" else 1]

    @cached_property
    def hole(self) -> "Shot | Placed":
        """What the selection of a reveal is made on, as long as the side that it is made from: what was filmed there, placed as its picture is."""
        assert self.reveal is not None
        side, look = self.a if self.reveal.of == "outgoing" else self.b, self.reveal.look
        if isinstance(side, Shot):
            return side.model_copy(update={"look": look})
        if isinstance(side, Placed) and isinstance(side.of, Shot):
            return side.model_copy(update={"of": side.of.model_copy(update={"look": look}), "behind": "#000000"})
        return Shot(of=side, first=0, last=side.length - 1, look=look)


class Span(Stretched):
    """A look over frames `first` to `last` of another node, which count from 0 for its lanes.

    amount: keyframes in percent, at frames of the span; blend: how the treated picture is laid over what is there.
    rise, fall: over how many frames it comes at its beginning, and goes at its end.
    """

    type: Literal["span"] = "span"
    first: Frame
    last: Frame
    look: Look = Look()
    amount: Percents = (Keyframe(frame=0, value=100.0),)
    blend: Blend = "normal"
    rise: Frame = 0
    fall: Frame = 0
    files: tuple[str, ...] = ()
    laid: tuple[Inlaid, ...] = ()

    @model_validator(mode="after")
    def _check(self) -> Self:
        if not self.first <= self.last < self.of.length:
            raise ValueError(f"frames {self.first} to {self.last} do not lie, in this order, within the {self.of.length} frames of what they are laid over")
        return self

    def faded(self, number: int) -> float:
        """How far it has come, 0-1, at one of its frames: even steps, of which the first and the last are more than nothing (as a dissolve's are)."""
        left = self.last - self.first - number
        return min((number + 1) / (self.rise + 1), (left + 1) / (self.fall + 1), 1.0)


class Accompanied(Stretched):
    """Another node with the sound of footage beside its own.

    at: the frame of the node at which the footage begins, before its first where negative. gain: dB. rise, fall: frames of fading.
    """

    type: Literal["accompanied"] = "accompanied"
    by: Footage
    at: int = Field(0, ge=-MOST_FRAMES, le=MOST_FRAMES)
    gain: float = Field(0, ge=-120, le=24)
    rise: Frame = 0
    fall: Frame = 0


class Part(Params):
    """Frames `first` to `last` of a node, as a part of a sequence."""

    of: "Node"
    first: Frame
    last: Frame

    @model_validator(mode="after")
    def _check(self) -> Self:
        if not self.first <= self.last < self.of.length:
            raise ValueError(f"frames {self.first} to {self.last} do not lie, in this order, within the {self.of.length} frames there are")
        return self


class Sequence(Params):
    """Parts one after another, all of the same size and rate."""

    type: Literal["sequence"] = "sequence"
    parts: tuple[Part, ...] = Field(min_length=1, max_length=10_000)

    @model_validator(mode="after")
    def _check(self) -> Self:
        if len({(p.of.size, p.of.rate) for p in self.parts}) > 1:
            raise ValueError("the parts of a sequence are of the same size and rate")
        return self

    @cached_property
    def length(self) -> int:
        """Frames."""
        return sum(p.last - p.first + 1 for p in self.parts)

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return self.parts[0].of.rate

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.parts[0].of.size

    def part_at(self, frame: int) -> tuple[Part, int]:
        """The part that is on at a frame, and the frame of its node."""
        for part in self.parts:
            count = part.last - part.first + 1
            if frame < count:
                return part, part.first + frame
            frame -= count
        return self.parts[-1], self.parts[-1].last


def noise_under(node: "Node") -> Noise:
    """The noise of what a node shows, where that is one piece of footage as it is."""
    if isinstance(node, Footage):
        return Noise(node.noise, node.height)
    return noise_under(node.of) if isinstance(node, Shot) and not node.look.passes else NO_NOISE


def all_within(node: "Node") -> Iterator["Shot | Span | Footage"]:
    """The shots, spans and footage that a node is made of, those that are laid in too."""
    if isinstance(node, Footage | Shot | Span):
        yield node
    if isinstance(node, Shot | Span):
        for other in node.laid:
            yield from all_within(other.of)
    if isinstance(node, Accompanied):
        yield node.by
    if isinstance(node, Shot | Span | Placed | Accompanied):
        yield from all_within(node.of)
    elif isinstance(node, Join):
        yield from all_within(node.a)
        yield from all_within(node.b)
    elif isinstance(node, Sequence):
        for each in node.parts:
            yield from all_within(each.of)


def footage_at(node: "Node", frame: int) -> Iterator[tuple[Footage, int]]:
    """The footage, and its frames, that a node shows at a frame (without what passes read beside it)."""
    frame = min(max(frame, 0), node.length - 1)
    if isinstance(node, Footage):
        yield node, 0 if node.still else frame
    elif isinstance(node, Shot):
        yield from footage_at(node.of, node.first + frame)
    elif isinstance(node, Placed):
        yield from footage_at(node.of, node.shown(frame))
    elif isinstance(node, Span | Accompanied):
        yield from footage_at(node.of, frame)
    elif isinstance(node, Join):
        for side, number in zip((node.a, node.b), node.sides(frame), strict=True):
            yield from footage_at(side, number)
    elif not isinstance(node, Blank):
        part, number = node.part_at(frame)
        yield from footage_at(part.of, number)


Node = Annotated[Footage | Blank | Shot | Placed | Join | Span | Sequence | Accompanied, Field(discriminator="type")]
for _model in (Stretched, Inlaid, Shot, Placed, Join, Span, Part, Sequence, Accompanied):
    _model.model_rebuild()
_NODE: TypeAdapter[Any] = TypeAdapter(Node)


def parse_node(data: Any) -> Node:
    """A node from plain JSON data. Raises `BadLook`."""
    try:
        found: Node = _NODE.validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise BadLook(f"This is not a film: {'/'.join(map(str, first['loc']))}: {first['msg']}") from error
    return found
