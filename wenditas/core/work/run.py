"""`run`: an operation to its picture. It knows nothing of films, looks or keyframes, and is pure: same operation, same bytes."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Matte, Picture
from wenditas.core.tiles import Held, Scratch, run_tiles
from wenditas.core.work.memo import Memo
from wenditas.core.work.operation import Op, Place, Sources
from wenditas.core.work.schedule import Step, schedule
from wenditas.core.work.tile import Program

Check = Callable[[], None]
Store = Callable[[int, Picture], None]


def run(
    op: Op,
    *,
    sources: Sources,
    files: Files = NO_FILES,
    memo: Memo | None = None,
    store: Store | None = None,
    check: Check = lambda: None,
) -> Picture | Matte:
    """What an operation gives: float32 `(3, h, w)` or, of one that gives a matte, `(h, w)`.

    memo: may make it faster, never other. store: takes the rows of a picture as they become ready, which then are not put together (the
    picture returned is empty). check: may raise `Cancelled`. Raises `TooHeavy`.
    """
    if 0 in op.size:
        return np.empty((3, *op.size) if op.kind.gives == "picture" else op.size, np.float32)
    return _Running(op, sources, files, memo or Memo(), store, check).run()


class _Running:
    """One call of `run`: the values that are whole."""

    def __init__(self, op: Op, sources: Sources, files: Files, memo: Memo, store: Store | None, check: Check) -> None:
        self._op, self._sources, self._files, self._memo, self._store, self._check = op, sources, files, memo, store, check
        self._schedule = schedule(op, memo.get, memo.shared)
        self._schedule.check()
        self._values = dict(self._schedule.values)
        self._owned: set[str] = set()  # what nobody else has, and may be overwritten once it is read no more

    def run(self) -> Picture | Matte:
        """Step by step; what is read no more is let go."""
        for n, step in enumerate(self._schedule.steps):
            self._check()
            ends = [digest for digest in step.reads if self._schedule.last[digest] == n]
            stored = step.target is self._op and self._store is not None and step.target.kind.whole is None
            self._perform(step, ends, stored)
            if stored:
                return np.empty((3, 0, 0), np.float32)
            if step.kept:
                self._memo.put(step.target.digest, self._values[step.target.digest])
                self._owned.discard(step.target.digest)
            for digest in ends:
                self._values.pop(digest, None)
        return self._handed_over()

    def _handed_over(self) -> Picture | Matte:
        """The result, row by row where it is to be stored, and never what others have."""
        found = self._values[self._op.digest]
        store = self._store
        if store is None:
            return found if self._op.digest in self._owned else found.copy()  # type: ignore[no-any-return]
        run_tiles(*self._op.size, lambda first, end, scratch: store(first, np.ascontiguousarray(found[..., first:end, :])))
        return np.empty((3, 0, 0), np.float32)

    def _perform(self, step: Step, ends: list[str], stored: bool) -> None:
        target = step.target
        place = Place(*target.size, files=self._files)
        if target.kind.whole is not None:
            inputs = [self._values[needed.digest] for needed in target.inputs]
            if target.kind.over and not self._gives_way(target, ends):
                inputs[0] = inputs[0].copy()
            made = self._memo.prepared(target)(inputs, place)
            self._have(target, made, not target.kind.over and any(made is each for each in inputs))
            return
        loads = {op.digest: op.kind.load(op.params, op.size, self._sources) for op in step.chain if op.kind.load is not None}
        held = loads.get(target.digest)
        if isinstance(held, Held) and not stored:
            self._values[target.digest] = held.array
            return
        if target.kind.band is not None and len(step.chain) == 1 and not stored:
            self._in_bands(target, ends)
            return
        out = None if stored else np.empty((3, *target.size) if target.kind.gives == "picture" else target.size, np.float32)
        program = Program(step, self._values, loads, self._memo.prepared)
        run_tiles(*target.size, partial(self._tile, program, place, out))
        if out is not None:
            self._have(target, out)

    def _have(self, op: Op, value: Any, shared: bool = False) -> None:
        self._values[op.digest] = value
        if not shared:
            self._owned.add(op.digest)

    def _tile(self, program: Program, place: Place, out: Any, first: int, end: int, scratch: Scratch) -> None:
        self._check()
        tile = program.run(replace(place, first=first), end, scratch)
        if out is not None:
            out[..., first:end, :] = tile
        else:
            assert self._store is not None
            self._store(first, tile)

    def _gives_way(self, target: Op, ends: list[str]) -> bool:
        """Whether the first input of an operation may be overwritten by it."""
        under = target.inputs[0].digest
        return under in ends and under in self._owned and all(needed.digest != under for needed in target.inputs[1:])

    def _in_bands(self, target: Op, ends: list[str]) -> None:
        """An operation by itself on what is whole: its first input gives way to it where nobody reads that any more."""
        assert target.kind.band is not None
        inputs = [self._values[needed.digest] for needed in target.inputs]
        takes = target.kind.over and self._gives_way(target, ends)
        out = inputs[0] if takes else np.empty_like(inputs[0])
        work = target.kind.band(target.params)

        def band(first: int, end: int, scratch: Scratch) -> None:
            self._check()
            if not takes:
                out[..., first:end, :] = inputs[0][..., first:end, :]
            work(inputs, out, (first, end))

        run_tiles(*target.size, band)
        self._have(target, out)
