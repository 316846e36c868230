"""A cut as other programs tell it: clips one after another and the dissolves between them, in frames at one rate."""

from dataclasses import dataclass, field
from fractions import Fraction
from typing import Self


@dataclass(frozen=True)
class Clip:
    """A clip. media: the name of its file; first, frames: what of it is used, counted at the cut's rate from the start of the media.

    dissolve: over how many frames the clip before it gives way to it, of which `early` lie before its first.
    """

    name: str
    media: str
    first: int
    frames: int
    dissolve: int = 0
    early: int = 0

    @classmethod
    def gap(cls, frames: int) -> Self:
        """Nothing, for so many frames."""
        return cls("", "", 0, frames)

    @property
    def is_gap(self) -> bool:
        """Whether nothing is shown."""
        return not self.media


@dataclass(frozen=True)
class Cut:
    """Clips in order. told: what of the original could not be carried, a sentence each."""

    name: str
    rate: Fraction
    clips: tuple[Clip, ...]
    told: tuple[str, ...] = field(default=())
