"""What is declared about a way of matching colours, and what all keys share."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from pydantic import Field

from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.params import Params

FillMatte = Callable[[Picture, Matte], None]
LEAST_WIDTH = 1e-3  # a softness of zero becomes this, a hard edge


class KeyBase(Params):
    """What every key has: a name in its selection, a switch, and how it combines with the keys before it."""

    id: str = Field("", max_length=40)  # one without gets one from its selection
    on: bool = True
    combine: Literal["add", "intersect", "subtract"] = "add"


@dataclass(frozen=True)
class KeyRecord:
    """A key: its parameter model, its reference and its fast form.

    reference: `(picture (3, h, w), key) -> matte (h, w)`, plain NumPy.
    prepare: `key -> fill(tile, matte)`, which writes the matte of a tile in place.
    """

    id: str
    name: str
    summary: str
    model: type[KeyBase]
    reference: Callable[[Picture, Any], Matte]
    prepare: Callable[[Any], FillMatte]


def smooth(low: float | Floats, width: float, x: Floats) -> Floats:
    """Smoothstep in plain NumPy: 0 below `low`, 1 above `low + width`."""
    t = np.clip((x - low) / max(width, LEAST_WIDTH), 0, 1)
    return np.asarray(t * t * (3 - 2 * t))
