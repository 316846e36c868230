"""What all nodes tell: everything that moves, as plain data. They are immutable, comparable, and survive JSON.

Frames of a node are counted from 0. Nothing that asks these questions needs to know which node it asks.
"""

from abc import abstractmethod
from collections.abc import Iterator
from fractions import Fraction
from functools import cache
from math import floor
from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from wenditas.core.bounds import MOST_FRAMES, Side
from wenditas.core.film.heard import Heard, Pieces
from wenditas.core.film.resolving import Resolving
from wenditas.core.look.lanes import Keyframe
from wenditas.core.look.shown import Shown
from wenditas.core.params import Params
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.work.operation import Op, Size

if TYPE_CHECKING:
    from wenditas.core.film.nodes import Node

Rate = Annotated[str, Field(pattern=r"^[1-9][0-9]{0,8}(/[1-9][0-9]{0,8})?$")]
Frame = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
Percents = Annotated[tuple[Keyframe, ...], Field(min_length=1, max_length=1000)]


@cache
def rate_of(fps: str) -> Fraction:
    """A rate that is written as a ratio, as the ratio: read once, since it is asked for again and again."""
    return Fraction(fps)


def frames_at(length: Fraction) -> int:
    """A length in frames as whole frames, at least one."""
    return max(1, floor(length + Fraction(1, 2)))


class Moving(Params):
    """A node."""

    @property
    @abstractmethod
    def length(self) -> int:
        """Frames."""

    @property
    @abstractmethod
    def rate(self) -> Fraction:
        """Frames a second."""

    @property
    @abstractmethod
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""

    @property
    def children(self) -> tuple["Node", ...]:
        """The nodes that it is made of, those that are laid in or heard beside it too."""
        return ()

    @property
    def footage_noise(self) -> Noise:
        """The noise of what it shows, where that is one piece of footage as it is."""
        return NO_NOISE

    def held(self, frame: int) -> int:
        """The frame itself, or the nearest there is."""
        return min(max(frame, 0), self.length - 1)

    @abstractmethod
    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """What it shows at one of its frames, as operations. Nodes without a look have only results."""

    def resolve_alpha(self, frame: int, size: Size, to: Resolving) -> Op | None:
        """Its alpha channel; None where it has none."""
        return None

    def resolve_thing(self, part: ObjectPart, frame: int, size: Size, to: Resolving) -> Op | None:
        """The matte of an object that is stroked on its frames; None where it is no footage."""
        return None

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """What is heard between two of its times, which lie within it; times count from `begin`."""
        return iter(())

    def heard_between(self, begin: Fraction, end: Fraction) -> Pieces:
        """The same for any two times."""
        begin, end = max(begin, Fraction(0)), min(end, self.length / self.rate)
        if end > begin:
            yield from self.pieces(begin, end)

    def sound(self, first: int, last: int) -> tuple[Heard, ...]:
        """What is heard of frames `first` to `last`, in the order in which it begins. Rates are conformed by the picture alone: sound runs on."""
        return tuple(self.heard_between(max(first, 0) / self.rate, (min(last, self.length - 1) + 1) / self.rate))

    def within(self) -> "Iterator[Moving]":
        """The node and all that it is made of."""
        yield self
        for child in self.children:
            yield from child.within()


class Framed(Moving):
    """A node that says itself how large and how fast it is."""

    width: Side
    height: Side
    fps: Rate

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return rate_of(self.fps)

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.width, self.height


class Wrapper(Moving):
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

    @property
    def children(self) -> tuple["Node", ...]:
        """What it is made of."""
        return (self.of,)

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """As the other shows it."""
        return to.picture(self.of, frame, size, shown)

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """As the other sounds."""
        return self.of.heard_between(begin, end)
