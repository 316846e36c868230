"""A treatment as an operation."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import numpy as np

from wenditas.core.params import Params, describe, uncounted
from wenditas.core.treat.record import Apply, At, Treatment, idle
from wenditas.core.work.operation import Kind, Op, Place, Rows, Whole


@dataclass(frozen=True)
class Treated:
    """A treatment with its parameters, what it takes from the frame's number, and which of its inputs follow the picture, in this order."""

    treatment: Treatment
    params: Params
    phase: int = 0
    source: bool = False
    matte: bool = False
    inset: int = 0  # 1: a picture; 2: with a matte

    def at(self, inputs: Sequence[Any], place: Place) -> At:
        """Where the treatment works, with what it has besides the picture."""
        rest = iter(inputs[1:])
        source = next(rest) if self.source else None
        matte = next(rest) if self.matte else None
        inset = (next(rest), next(rest) if self.inset == 2 else None) if self.inset else None
        return At(place.height, place.width, place.first, self.phase, tuple(rest), place.files, matte, source, inset)


def _rows(treated: Treated) -> Rows:
    apply: Apply = treated.treatment.prepare(treated.params)
    return lambda inputs, out, place: apply(inputs[0], out, treated.at(inputs, place))


def _whole(treated: Treated) -> Whole:
    apply: Apply = treated.treatment.prepare(treated.params)

    def whole(inputs: Sequence[Any], place: Place) -> Any:
        out = np.empty_like(inputs[0])
        apply(inputs[0], out, treated.at(inputs, place))
        return out

    return whole


TREAT = Kind("treat", rows=_rows, prepares=True, cost=8)
TREAT_FRAME = Kind("treat frame", whole=_whole, prepares=True, cost=33)
TREAT_TIME = Kind("treat time", whole=_whole, prepares=True, keeps=1, cost=11)
KINDS = (TREAT, TREAT_FRAME, TREAT_TIME)
OF_REACH = {"pixel": TREAT, "frame": TREAT_FRAME, "time": TREAT_TIME}


@dataclass(frozen=True)
class Settled:
    """A treatment with its parameters checked, and as text."""

    treatment: Treatment
    params: Params
    named: str
    files: tuple[str, ...]  # by their digests; empty where none is chosen

    @cached_property
    def kind(self) -> Kind:
        """Whether it works by pixel, on the frame or over time."""
        return OF_REACH[self.treatment.reach(self.params)]

    @cached_property
    def idle(self) -> bool:
        """Whether it gives back its input, whatever that is."""
        return "" in self.files or idle(self.treatment, self.params)

    def op(self, picture: Op, frame: int, source: Op | None, matte: Op | None, inset: tuple[Op, ...], others: tuple[Op, ...]) -> Op:
        """The operation at a frame."""
        phase = self.treatment.phase(self.params, frame)
        treated = Treated(self.treatment, self.params, phase, source is not None, matte is not None, len(inset))
        inputs = (picture, *(op for op in (source, matte) if op is not None), *inset, *others)
        return Op(self.kind, treated, inputs, picture.size, f"{self.named} {phase} {treated.source:d}{treated.matte:d}{treated.inset}")


def settled(treatment: Treatment, params: dict[str, Any]) -> Settled:
    """A treatment with parameters as a document has them."""
    found = treatment.params.model_validate(params)
    files = tuple(str(getattr(found, key)) for key in _files_of(treatment.params))
    return Settled(treatment, found, f"{treatment.id} {found.model_dump_json(exclude=uncounted(found))}", files)


@cache
def _files_of(model: type[Params]) -> tuple[str, ...]:
    """The parameters that name files."""
    return tuple(info.key for info in describe(model) if info.kind == "file")
