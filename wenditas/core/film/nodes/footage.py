"""Leaves: footage, and what stands where there is nothing to show."""

from fractions import Fraction
from typing import Literal

from pydantic import Field

from wenditas.core.bounds import MOST_FRAMES
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.film.heard import Heard, Pieces
from wenditas.core.film.nodes.moving import Framed
from wenditas.core.film.resolving import Resolving
from wenditas.core.look.shown import Shown
from wenditas.core.params import Colour
from wenditas.core.select.denoise import MOST_NOISE, Noise
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.select.operations import ALPHA, OBJECT
from wenditas.core.work.mixing import COLOUR, SOURCE
from wenditas.core.work.operation import Op, Size, plain


class Leaf(Framed):
    """A node that is made of no other."""

    frames: int = Field(ge=1, le=MOST_FRAMES)

    @property
    def length(self) -> int:
        """Frames."""
        return self.frames


class Footage(Leaf):
    """Decoded frames. A still shows one picture at all its frames.

    content: names the frames; no others ever have that name (the id of footage that was taken in, or a digest).
    noise: standard deviation of the error of its coded chroma; white is 1.
    """

    type: Literal["footage"] = "footage"
    content: str = Field(min_length=1, max_length=128)
    still: bool = False
    alpha: bool = False
    noise: float = Field(0, ge=0, le=MOST_NOISE)

    @property
    def footage_noise(self) -> Noise:
        """As it was measured."""
        return Noise(self.noise, self.height)

    def _leaf(self, frame: int, to: Resolving) -> tuple[tuple["Footage", int], str]:
        """The parameters of a leaf, and what names them: not what has no effect on the frame."""
        number = 0 if self.still else frame
        return (self, number), plain((self.content, self.fps, number, to.copies))

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """A frame of it."""
        params, named = self._leaf(frame, to)
        return Op(SOURCE, params, (), size, named)

    def resolve_alpha(self, frame: int, size: Size, to: Resolving) -> Op | None:
        """Its alpha channel."""
        if not self.alpha:
            return None
        params, named = self._leaf(frame, to)
        return Op(ALPHA, params, (), size, named)

    def resolve_thing(self, part: ObjectPart, frame: int, size: Size, to: Resolving) -> Op | None:
        """The matte of an object: carried through the originals, whatever copies the picture is made of."""
        number = 0 if self.still else frame
        return Op(OBJECT, (self, number, part.strokes), (), size, plain((self.content, self.fps, self.noise, number, part.named)))

    def pieces(self, begin: Fraction, end: Fraction) -> Pieces:
        """Its own sound."""
        if not self.still:
            yield Heard(content=self.content, at=Fraction(0), start=begin, seconds=end - begin)


class Blank(Leaf):
    """One colour and silence, for some frames: what stands where there is nothing to show."""

    type: Literal["blank"] = "blank"
    colour: Colour = "#000000"

    def resolve(self, frame: int, size: Size, shown: Shown, to: Resolving) -> Op:
        """Its colour."""
        return Op(COLOUR, tuple(float(v) for v in rgb_from_hex(self.colour)), (), size)
