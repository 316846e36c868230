"""A cut as other programs tell it: clips one after another and the dissolves between them, in frames at one rate."""

from dataclasses import dataclass, field
from fractions import Fraction


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


@dataclass(frozen=True)
class Cut:
    """Clips in order. told: what of the original could not be carried, a sentence each."""

    name: str
    rate: Fraction
    clips: tuple[Clip, ...]
    told: tuple[str, ...] = field(default=())
