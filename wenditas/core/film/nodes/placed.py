"""A node in a frame of another size and rate."""

from fractions import Fraction
from functools import cached_property
from math import floor
from typing import Literal

from pydantic import Field

from wenditas.core.film.heard import Pieces, faded, later
from wenditas.core.film.nodes.moving import Frame, Framed, Wrapper, frames_at
from wenditas.core.film.placing import PLACE, Fit, Framing, inner_size, lies_as_it_is
from wenditas.core.film.resolving import Resolving
from wenditas.core.look.shown import Shown
from wenditas.core.params import Colour, Params
from wenditas.core.work.operation import Op, Size, plain


class Own(Params):
    """From frame `begin` to before frame `end` of a placed node nothing but frames `first` to `last` of what is placed is shown."""

    begin: Frame
    end: Frame
    first: Frame
    last: Frame


class Placed(Framed, Wrapper):
    """Another node in a frame of another size and rate.

    first: the frame of `of` at the frame `ahead` of this node; what lies before it comes before. Each frame shows the one of `of` that is
    nearest in time; where they are an item's own, the nearest of these. fit: all of it (with bars), the frame filled (cropped), or its own
    size. across, down: where it lies in the room that is left, or which part is shown, in percent. Then scaled (percent) and turned
    (degrees, clockwise) about its middle; mirrored before all that. behind: what is seen where it is not. heard, gain: whether its sound
    is, and by how many dB louder. fade_in, fade_out: the frames between which its sound fades in and out.
    """

    type: Literal["placed"] = "placed"
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
    fade_in: tuple[Frame, Frame] = (0, 0)
    fade_out: tuple[Frame, Frame] = (0, 0)

    @cached_property
    def ahead(self) -> int:
        """Frames before the one that shows `first`."""
        return int(self.first * self.rate / self.of.rate)

    @cached_property
    def length(self) -> int:
        """Frames."""
        there = self.ahead + frames_at((self.of.length - self.first) * self.rate / self.of.rate)
        return max(there, self.own.end) if self.own is not None else there

    def shown(self, frame: int) -> int:
        """The frame of `of` that is nearest in time: first + round(frames since then * its rate / this rate), ties to the later one.

        Where the frames are an item's own, the nearest of these. Source: nearest frame in time (definition).
        """
        number = self.first + floor((frame - self.ahead) * self.of.rate / self.rate + Fraction(1, 2))
        if self.own is not None and self.own.begin <= frame < self.own.end:
            number = min(max(number, self.own.first), self.own.last)
        return self.of.held(number)

    @property
    def framing(self) -> Framing:
        """How the picture lies in the frame."""
        mirrored = self.mirror_across, self.mirror_down
        return Framing(self.of.size, self.size, self.fit, self.across, self.down, self.scale, self.turn, mirrored, self.behind)

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """The other's frame, placed."""
        framing = self.framing
        inner = to.picture(self.of, self.shown(frame), inner_size(framing, size), shown)
        return inner if lies_as_it_is(framing, inner.size, size) else Op(PLACE, framing, (inner,), size, plain(framing.values()))

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """The other's sound, as the picture runs at the first of its frames."""
        if not self.heard:
            return
        apart = self.first / self.of.rate - self.ahead / self.rate  # what the frames of both are apart in time
        pieces = later(self.of.heard_between(begin + apart, end + apart), max(-begin - apart, Fraction(0)))
        fade_in, fade_out = ((a / self.rate, b / self.rate) for a, b in (self.fade_in, self.fade_out))
        yield from faded(pieces, begin, self.gain, fade_in, fade_out)
