"""Nodes one after another, and sound beside one."""

from fractions import Fraction
from functools import cached_property
from typing import TYPE_CHECKING, Literal, Self

from pydantic import Field, model_validator

from wenditas.core.bounds import MOST_FRAMES
from wenditas.core.film.heard import Pieces, faded, later
from wenditas.core.film.nodes.footage import Footage
from wenditas.core.film.nodes.moving import Frame, Moving, Wrapper
from wenditas.core.film.resolving import Resolving
from wenditas.core.look.shown import Shown
from wenditas.core.params import Params
from wenditas.core.work.operation import Op, Size

if TYPE_CHECKING:
    from wenditas.core.film.nodes import Node


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

    @property
    def length(self) -> int:
        """Frames."""
        return self.last - self.first + 1


class Sequence(Moving):
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
        return sum(part.length for part in self.parts)

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return self.parts[0].of.rate

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.parts[0].of.size

    @property
    def children(self) -> tuple["Node", ...]:
        """What the parts are of."""
        return tuple(part.of for part in self.parts)

    def part_at(self, frame: int) -> tuple[Part, int]:
        """The part that is on at a frame, and the frame of its node."""
        for part in self.parts:
            if frame < part.length:
                return part, part.first + frame
            frame -= part.length
        return self.parts[-1], self.parts[-1].last

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """The part that is on."""
        part, number = self.part_at(frame)
        return to.picture(part.of, number, size, shown)

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """The sound of each part while it is on."""
        at = Fraction(0)
        for part in self.parts:
            length = part.length / self.rate
            low, high = max(begin, at), min(end, at + length)
            if high > low:
                inner = part.first / self.rate - at
                yield from later(part.of.heard_between(low + inner, high + inner), low - begin)
            at += length


class Accompanied(Wrapper):
    """Another node with the sound of footage beside its own.

    at: the frame of the node at which the footage begins, before its first where negative. gain: dB. fade_in, fade_out: frames of fading.
    """

    type: Literal["accompanied"] = "accompanied"
    by: Footage
    at: int = Field(0, ge=-MOST_FRAMES, le=MOST_FRAMES)
    gain: float = Field(0, ge=-120, le=24)
    fade_in: Frame = 0
    fade_out: Frame = 0

    @property
    def children(self) -> tuple["Node", ...]:
        """The sound, and what is seen."""
        return self.by, self.of

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """The other's sound, then what is heard beside it."""
        yield from super().pieces(begin, end)
        apart = -self.at / self.rate
        beside = later(self.by.heard_between(begin + apart, end + apart), max(-begin - apart, Fraction(0)))
        over = min(self.by.length / self.by.rate - apart, self.length / self.rate)  # when the footage ends, or the node
        since = max(-apart, Fraction(0))
        yield from faded(beside, begin, self.gain, (since, since + self.fade_in / self.rate), (over - self.fade_out / self.rate, over))
