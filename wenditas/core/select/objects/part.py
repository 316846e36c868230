"""The part of a selection that is made from strokes, as it stands in a document, and how it combines with the rest."""

from functools import cached_property
from typing import Literal

import numpy as np
from pydantic import Field, field_validator

from wenditas.core.kernel import Matte
from wenditas.core.named import named
from wenditas.core.params import Params, number, pixels
from wenditas.core.select.distance import signed_distance
from wenditas.core.select.objects.marks import MOST_STROKES, Stroke
from wenditas.core.work.operation import plain

METHOD = 1  # the version of the way in which objects are carried


class ObjectPart(Params):
    """A thing that is stroked on some frames and carried through the shot.

    mode: *keep* selects only what of the rest lies in it, *leave out* only what does not, *is* makes it the matte by itself.
    method: the version of the way in which it is carried.
    """

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    on: bool = True
    mode: Literal["keep", "leave out", "is"] = "keep"
    margin: float = number(0, "Margin", "How far beyond its edge it reaches; below nought it stays within.", low=-100, high=200, step=1, unit="px")
    feather: float = number(0, "Feather", "Over how much its edge falls off.", low=0, high=200, step=1, unit="px")
    fine: float = pixels(
        0, "Fine edge", "How wide hair, fur or blur is along its edge: drawn from the colours at rest and in exports. None where it is sharp.", high=60
    )
    method: int = Field(METHOD, ge=1, le=METHOD)
    strokes: tuple[Stroke, ...] = Field((), max_length=MOST_STROKES)

    @field_validator("strokes")
    @classmethod
    def _each_once(cls, strokes: tuple[Stroke, ...]) -> tuple[Stroke, ...]:
        return named(strokes, "m", "strokes")

    @cached_property
    def named(self) -> str:
        """How it is carried and all that is stroked, as text: put so once, for there may be much of it."""
        return plain((self.method, self.strokes))

    @property
    def makes_a_difference(self) -> bool:
        """Whether it is on, and something of it is stroked."""
        return self.on and any(stroke.kind == "this" for stroke in self.strokes)


def reached(thing: Matte, margin: float, feather: float) -> Matte:
    """An object's matte with a margin and a feather, both in pixels: `(h, w)`, 0-1. Source: smoothstep of the signed distance."""
    if margin == 0 and feather == 0:
        return thing
    away = (signed_distance(thing) + margin) / max(feather, 1.0) + 0.5
    share = np.clip(away, 0, 1)
    return np.asarray(share * share * (3 - 2 * share), np.float32)


def combined(matte: Matte, thing: Matte, mode: str) -> Matte:
    """A matte with an object in it, by its mode."""
    if mode == "is":
        return thing.copy()
    return np.asarray(matte * (thing if mode == "keep" else 1 - thing), np.float32)
