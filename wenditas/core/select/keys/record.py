"""What is declared about a way of matching colours."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from wenditas.core.kernel import Matte, Picture
from wenditas.core.params import Params

FillMatte = Callable[[Picture, Matte], None]


@dataclass(frozen=True)
class KeyRecord:
    """A key: its parameter model, its reference and its fast form.

    reference: `(picture (3, h, w), key) -> matte (h, w)`, plain NumPy.
    prepare: `key -> fill(tile, matte)`, which writes the matte of a tile in place.
    """

    id: str
    name: str
    summary: str
    model: type[Params]
    reference: Callable[[Picture, Any], Matte]
    prepare: Callable[[Any], FillMatte]
