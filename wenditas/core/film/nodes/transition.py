"""How one node becomes another."""

from collections.abc import Iterator
from fractions import Fraction
from functools import cached_property
from typing import TYPE_CHECKING, Literal, Self

from pydantic import Field, model_validator

from wenditas.core.bounds import MOST_FRAMES
from wenditas.core.film.crossing import DISSOLVE, ORDER, SHARE
from wenditas.core.film.heard import Fade, Heard, Pieces, later
from wenditas.core.film.nodes.moving import Moving, Percents
from wenditas.core.film.nodes.placed import Placed
from wenditas.core.film.nodes.shot import Shot
from wenditas.core.film.resolving import Resolving
from wenditas.core.film.transitions import Grows
from wenditas.core.look.animate import percent_at
from wenditas.core.look.document import Look
from wenditas.core.look.shown import Shown
from wenditas.core.params import Params
from wenditas.core.work.mixing import blended, plane_of
from wenditas.core.work.operation import Op, Size

if TYPE_CHECKING:
    from wenditas.core.film.nodes import Node


class Reveal(Params):
    """How one node becomes another through a selection on one of them: the hole opens, then it takes all.

    look: holds the selection. of: whose picture it is made from. opens, takes: keyframes in percent, at thousandths of the transition's time.
    grows: in what order the rest goes. edge: how soft that is, in percent of the way.
    """

    look: Look
    selection: str
    of: Literal["outgoing", "incoming"] = "outgoing"
    opens: Percents
    takes: Percents
    grows: Grows = "likeness"
    edge: float = Field(10, ge=0.5, le=100)


class Transition(Moving):
    """How one node becomes another, of the same size and rate, over some frames: the overlap alone.

    from_a, from_b: the frames of the two with which it begins; beyond their ends the edge frames are held.
    linear: whether a dissolve mixes in linear light. reveal: else a dissolve.
    """

    type: Literal["transition"] = "transition"
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
            raise ValueError("a transition needs two of the same size and rate")
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

    @property
    def children(self) -> tuple["Node", ...]:
        """Both sides."""
        return self.a, self.b

    def sides(self, frame: int) -> tuple[int, int]:
        """The frames of the outgoing and the incoming node at a frame of the transition."""
        return self.a.held(self.from_a + frame), self.b.held(self.from_b + frame)

    def side(self, frame: int) -> int:
        """The frame of the side that a reveal is made from, at a frame of the transition."""
        return self.sides(frame)[0 if self.reveal is not None and self.reveal.of == "outgoing" else 1]

    @cached_property
    def hole(self) -> Shot | Placed:
        """What the selection of a reveal is made on, as long as the side that it is made from: what was filmed there, placed as its picture is."""
        assert self.reveal is not None
        side, look = self.a if self.reveal.of == "outgoing" else self.b, self.reveal.look
        if isinstance(side, Shot):
            return side.model_copy(update={"look": look})
        if isinstance(side, Placed) and isinstance(side.of, Shot):
            return side.model_copy(update={"of": side.of.model_copy(update={"look": look}), "behind": "#000000"})
        return Shot(of=side, first=0, last=side.length - 1, look=look)

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """One side over the other; other views are of the hole."""
        reveal = self.reveal
        if reveal is not None and shown.view != "result":
            return to.picture(self.hole, self.side(frame), size, shown)
        a, b = self.sides(frame)
        before, after = to.picture(self.a, a, size), to.picture(self.b, b, size)
        if reveal is None:
            share = (frame + 1) / (self.frames + 1)
            return Op(DISSOLVE, share, (before, after), size) if self.linear else blended("normal", share, before, after)
        matte = plane_of(to.picture(self.hole, self.side(frame), size, Shown(view="matte", selection=reveal.selection)))
        at = 1000 * frame / max(self.frames - 1, 1)
        opens, takes = (percent_at(keyframes, at) / 100 for keyframes in (reveal.opens, reveal.takes))
        source = before if reveal.of == "outgoing" else after
        order = (Op(ORDER, reveal.grows, (source, matte), size),) if takes > 0 else ()
        return blended("normal", 1, before, after, Op(SHARE, (opens, takes, reveal.edge / 100), (matte, *order), size))

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """Both sides, one going as the other comes."""
        whole = self.frames / self.rate
        for side, frame, out in ((self.a, self.from_a, True), (self.b, self.from_b, False)):
            offset = frame / self.rate
            yield from _crossing(later(side.heard_between(begin + offset, end + offset), max(-begin - offset, Fraction(0))), begin, whole, out)


def _crossing(pieces: Pieces, begin: Fraction, whole: Fraction, out: bool) -> Iterator[Heard]:
    for piece in pieces:
        fade = Fade(begin=-begin - piece.at, end=whole - begin - piece.at, out=out)
        yield piece.model_copy(update={"fades": (*piece.fades, fade)})
