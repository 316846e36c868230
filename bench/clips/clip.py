"""What a clip with a true matte is."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture

WORKED_ON, REPORTED = "worked on", "reported"
Drawn = tuple[list[Picture], list[Matte]]


@dataclass(frozen=True)
class Clip:
    """A clip: its name, its half, and what draws `count` frames of `height` lines and the coverage of the thing in each."""

    name: str
    half: str
    draw: Callable[[int, int], Drawn]
    heights: tuple[int, ...] = (540, 1080)


def shaken(values: Floats, seed: int) -> Floats:
    """Values off by up to a tenth, always by the same: hands and lamps do not go by rule."""
    dice = np.random.default_rng(seed)
    return np.asarray(values * (1 + dice.uniform(-0.1, 0.1, values.shape)))
