"""A chain of operations by pixel, ready to go through tiles: each tile stays in the cache from the first to the last."""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from wenditas.core.tiles import Scratch
from wenditas.core.work.operation import Op, Place
from wenditas.core.work.schedule import Step

Prepared = Callable[[Op], Any]


@dataclass(frozen=True)
class _Line:
    """One thing to do to a tile: fill buffer `to`. load: by loading it; copy: first as a copy of what is at `reads[0]`; work: by an operation.

    to, reads: numbers of places, each a buffer or something whole.
    """

    to: int
    reads: tuple[int, ...] = ()
    load: Any = None
    copy: bool = False
    work: Any = None


class Program:
    """What a chain does to each tile. Buffers are used again as soon as what is in them is read no more."""

    def __init__(self, step: Step, values: dict[str, Any], loads: dict[str, Any], prepared: Prepared) -> None:
        self._values, self._lines = values, list[_Line]()
        self._places: dict[tuple[str, int] | str, int] = {}
        self._left = Counter(needed.digest for op in step.chain for needed in op.inputs)
        self._at: dict[str, tuple[str, int]] = {}
        self._free: dict[str, list[int]] = {"picture": [], "matte": []}
        self._made = Counter[str]()
        for op in step.chain:
            self._add(op, loads, prepared)
        self._out = self._place(self._at[step.target.digest])

    def _place(self, where: tuple[str, int] | str) -> int:
        return self._places.setdefault(where, len(self._places))

    def _buffer(self, gives: str) -> tuple[str, int]:
        if self._free[gives]:
            return gives, self._free[gives].pop()
        self._made[gives] += 1
        return gives, self._made[gives] - 1

    def _input(self, op: Op) -> tuple[str, int] | str:
        """Where an input is. Whole pictures are copied to a buffer, since rows of their planes do not lie together; rows of mattes do."""
        if op.digest not in self._at:
            if op.kind.gives == "matte":
                return op.digest
            self._at[op.digest] = self._buffer("picture")
            self._lines.append(_Line(self._place(self._at[op.digest]), (self._place(op.digest),), copy=True))
        return self._at[op.digest]

    def _let_go(self, op: Op) -> None:
        self._left[op.digest] -= 1
        if not self._left[op.digest] and op.digest in self._at:
            gives, number = self._at.pop(op.digest)
            self._free[gives].append(number)

    def _add(self, op: Op, loads: dict[str, Any], prepared: Prepared) -> None:
        if op.kind.load is not None:
            self._at[op.digest] = self._buffer(op.kind.gives)
            self._lines.append(_Line(self._place(self._at[op.digest]), load=loads[op.digest]))
            return
        reads = tuple(map(self._input, op.inputs))
        first = op.inputs[0] if op.inputs else None
        takes = op.kind.over and first is not None and self._left[first.digest] == 1 and first.digest in self._at
        if takes:
            assert first is not None
            to = self._at.pop(first.digest)
            self._left[first.digest] -= 1
        else:
            to = self._buffer(op.kind.gives)
        self._lines.append(_Line(self._place(to), tuple(map(self._place, reads)), copy=op.kind.over and not takes, work=prepared(op)))
        for needed in op.inputs[1:] if takes else op.inputs:
            self._let_go(needed)
        self._at[op.digest] = to

    def run(self, place: Place, end: int, scratch: Scratch) -> Any:
        """The chain on the rows from `place.first` to before `end`. Returns the tile of its last operation, which is used again for the next tile."""
        first, rows = place.first, end - place.first

        tiles: list[Any] = []
        for where in self._places:
            if isinstance(where, str):
                tiles.append(self._values[where][..., first:end, :])
            else:
                tiles.append(scratch.picture(where[1], rows) if where[0] == "picture" else scratch.matte(where[1], rows))
        for line in self._lines:
            to = tiles[line.to]
            if line.load is not None:
                line.load(first, to)
                continue
            if line.copy:
                np.copyto(to, tiles[line.reads[0]])
            if line.work is not None:
                line.work([tiles[n] for n in line.reads], to, place)
        return tiles[self._out]
