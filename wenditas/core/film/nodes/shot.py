"""Nodes that wear a look: shots, and spans over other nodes."""

from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING, Literal, Self

from pydantic import Field, model_validator

from wenditas.core.colour.blend import Blend
from wenditas.core.film.heard import Pieces
from wenditas.core.film.nodes.moving import Frame, Percents, Wrapper
from wenditas.core.film.resolving import Resolving
from wenditas.core.look.animate import percent_at
from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.look.shown import Shown
from wenditas.core.params import Params
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.treat.record import Inset
from wenditas.core.work.mixing import blended, plane_of
from wenditas.core.work.operation import Op, Size

if TYPE_CHECKING:
    from wenditas.core.film.nodes import Node


class Inlaid(Params):
    """Another shot that passes of a look may lay in, by its id."""

    id: str = Field(min_length=1, max_length=40)
    of: "Shot"

    def frame(self, number: int) -> int:
        """The frame of the shot for one that is counted as the Bench counts them, from the start of its footage: the nearest there is."""
        return self.of.held(number - self.of.first)

    def resolve(self, asked: Inset, frame: int, rate: Fraction, height: int, to: Resolving) -> tuple[Op, ...]:
        """Its picture as it is asked for at a frame of a shot, and what of it is seen where that is not all. rate, height: of that shot, and of its picture."""
        width, rows = self.of.size
        inner_rows = min(max(1, round(height * asked.percent / 100)), rows)
        size = inner_rows, max(1, round(width * inner_rows / rows))
        number = self.frame(asked.frame(frame, float(self.of.rate / rate)))
        picture = to.picture(self.of, number, size)
        if any(s.id == asked.part for s in self.of.look.selections):
            return picture, plane_of(to.picture(self.of, number, size, Shown(view="matte", selection=asked.part)))
        alpha = to.alpha(self.of, number, size)
        return (picture,) if alpha is None else (picture, alpha)


class Dressed(Wrapper):
    """A node that wears a look.

    files: the digests that are at hand. laid: the shots that its passes lay in, as far as they are there.
    """

    first: Frame
    last: Frame
    look: Look = Look()
    files: tuple[str, ...] = ()
    laid: tuple[Inlaid, ...] = ()

    @model_validator(mode="after")
    def _check(self) -> Self:
        if not self.first <= self.last < self.of.length:
            raise ValueError(f"frames {self.first} to {self.last} do not lie, in this order, within the {self.of.length} frames of what is under them")
        return self

    @property
    def children(self) -> tuple["Node", ...]:
        """What it is made of, and what is laid in."""
        return (*(other.of for other in self.laid), self.of)

    @property
    def apart(self) -> int:
        """How many frames the node under it is ahead of the count of its lanes."""
        return 0

    def under(self, size: Size, to: Resolving) -> "UnderNode":
        """What lies under its look."""
        return UnderNode(self, size, to)


class Shot(Dressed):
    """Frames `first` to `last` of another node under a look, whose lanes count the frames of that node."""

    type: Literal["shot"] = "shot"

    @property
    def length(self) -> int:
        """Frames."""
        return self.last - self.first + 1

    @property
    def footage_noise(self) -> Noise:
        """That of its footage, where its look leaves it as it is."""
        return NO_NOISE if self.look.passes else self.of.footage_noise

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """Its frame under its look."""
        return to.worn(self, size).shown(self.first + frame, shown)

    def resolve_alpha(self, frame: int, size: Size, to: Resolving) -> Op | None:
        """That of what it is made of."""
        return to.alpha(self.of, self.first + frame, size)

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """The sound of its frames."""
        apart = self.first / self.rate
        return self.of.heard_between(begin + apart, end + apart)


class Span(Dressed):
    """A look over frames `first` to `last` of another node, which count from 0 for its lanes.

    amount: keyframes in percent, at frames of the span; blend: how the treated picture is laid over what is there.
    fade_in, fade_out: over how many frames it comes at its beginning, and goes at its end.
    """

    type: Literal["span"] = "span"
    amount: Percents = (Keyframe(frame=0, value=100.0),)
    blend: Blend = "normal"
    fade_in: Frame = 0
    fade_out: Frame = 0

    @property
    def apart(self) -> int:
        """Its lanes count from its first frame."""
        return self.first

    def faded(self, number: int) -> float:
        """How far it has come, 0-1, at one of its frames: even steps, of which the first and the last are more than nothing (as a dissolve's are)."""
        left = self.last - self.first - number
        return min((number + 1) / (self.fade_in + 1), (left + 1) / (self.fade_out + 1), 1.0)

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """Its look laid over the other. What a part of the look makes is seen as it is, not laid over."""
        number = frame - self.first
        if not shown.whole:
            return to.worn(self, size).shown(number, shown)
        under = to.picture(self.of, frame, size)
        amount = percent_at(self.amount, number) / 100 * self.faded(number) if self.first <= frame <= self.last else 0
        return blended(self.blend, amount, under, to.worn(self, size).shown(number, shown)) if amount > 0 else under


@dataclass(frozen=True)
class UnderNode:
    """What lies under the look of a node, at the frames that its lanes count; see `Under`."""

    node: Dressed
    size: Size
    to: Resolving

    @property
    def noise(self) -> Noise:
        """Of the footage, where it is seen as it is."""
        return self.node.of.footage_noise

    @property
    def alone(self) -> bool:
        """Films have other frames, if only the same one again."""
        return False

    def nearest(self, frame: int) -> int:
        """The frame itself, or the nearest there is."""
        return self.node.of.held(frame + self.node.apart) - self.node.apart

    def picture(self, frame: int) -> Op:
        """What lies under the look."""
        return self.to.picture(self.node.of, frame + self.node.apart, self.size)

    def alpha(self, frame: int) -> Op | None:
        """Its alpha channel."""
        return self.to.alpha(self.node.of, frame + self.node.apart, self.size)

    def thing(self, part: ObjectPart, frame: int) -> Op | None:
        """The matte of an object."""
        return self.to.thing(self.node.of, part, frame + self.node.apart, self.size)

    def has(self, file: str) -> bool:
        """Whether a file is at hand."""
        return file in self.node.files

    def inset(self, asked: Inset, frame: int, size: Size) -> tuple[Op, ...]:
        """Another shot that is laid in."""
        other = next((other for other in self.node.laid if other.id == asked.shot), None)
        return () if other is None else other.resolve(asked, frame, self.node.rate, size[0], self.to)
