"""What is declared about a treatment."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from wenditas.core.kernel import Picture
from wenditas.core.params import Params

Group = Literal["remove", "shift", "map", "fill", "tone", "soften", "break"]
ApplyTile = Callable[[Picture, Picture], None]


@dataclass(frozen=True)
class Treatment:
    """A treatment: the calculation a pass performs, its parameters and its two forms.

    reference: `(picture (3, h, w), params) -> picture`, plain NumPy, float64 inside.
    prepare: `params -> apply(tile, out)`: reads a tile `(3, rows, w)`, writes the treated one to `out`.
    presets: named sets of parameter values; source: where the maths comes from.
    """

    id: str
    name: str
    group: Group
    summary: str
    source: str
    params: type[Params]
    reference: Callable[[Picture, Any], Picture]
    prepare: Callable[[Any], ApplyTile]
    presets: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
