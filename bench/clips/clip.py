"""What a clip with a true matte is."""

from collections.abc import Callable
from dataclasses import dataclass

from wenditas.core.kernel import Matte, Picture

WORKED_ON, REPORTED, FRESH = "worked on", "reported", "fresh"
Drawn = tuple[list[Picture], list[Matte]]


@dataclass(frozen=True)
class Clip:
    """A clip: its name, its half, and what draws `count` frames of `height` lines and the coverage of the thing in each. below: rows that count."""

    name: str
    half: str
    draw: Callable[[int, int], Drawn]
    heights: tuple[int, ...] = (540, 1080)
    below: int | None = None
