"""What a file format is, to an export: who writes its segments, and how they are joined."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, Literal, Protocol, TypeVar

import av

from wenditas.core.kernel import Matte, Picture

Quality = Literal["fine", "good", "small"]


@dataclass(frozen=True)
class Canvas:
    """What is written: size in pixels, frames a second, how finely; whether frames carry straight alpha, or are grey alone."""

    width: int
    height: int
    rate: Fraction
    quality: Quality = "good"
    alpha: bool = False
    grey: bool = False


class Slot(Protocol):
    """A place for one frame. store: takes its rows as they become ready, even ones first; a matte may be put beside them."""

    def store(self, first: int, tile: Picture) -> None:
        """Rows of the picture, from the first on."""
        ...

    def put_alpha(self, alpha: Matte) -> None:
        """Straight coverage, 0-1, `(h, w)`."""
        ...


Place = TypeVar("Place", bound=Slot)


class Segment(Protocol[Place]):
    """Frames, in order, on their way into a file of their own. Slots are taken and written by one thread each."""

    def slot(self) -> Place:
        """A place for the next frame."""
        ...

    def write(self, slot: Place, number: int) -> None:
        """Encode a filled slot; number: of the frame, for pictures that are named by it."""
        ...

    def close(self) -> None:
        """Finish the file."""
        ...

    def abandon(self) -> None:
        """Let the file go unfinished; raises nothing."""
        ...


class SoundOf(Protocol):
    """Where the sound of an export comes from."""

    @property
    def rate(self) -> int | None:
        """Samples a second that it is written at; None where there is none."""
        ...

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """Exactly so many seconds of it, stereo."""
        ...


Join = Callable[[Sequence[Path], Path, Canvas, int, SoundOf | None], None]


@dataclass(frozen=True)
class Format:
    """A kind of file that can be written.

    suffix: of the file; segment_suffix: of its segments. sound: the codec of sound that goes with it, None for none. alpha: it can
    carry straight alpha. choose: qualities mean something to it. pictures: it is one file for each frame. loop: it is small,
    plays again and again, and may have a size and rate of its own. most_rate: frames a second that it can hold. joined: how
    segments become the file, in a sentence. begin: starts a segment; join: `(segments, target, canvas, frames, sound)` makes the file.
    """

    id: str
    name: str
    tells: str
    suffix: str
    joined: str
    begin: Callable[[Path, Canvas], Segment[Any]]
    join: Join
    segment_suffix: str = ""
    sound: str | None = None
    alpha: bool = False
    choose: bool = False
    pictures: bool = False
    loop: bool = False
    most_rate: int | None = None
