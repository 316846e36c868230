"""A look compiled into a plan: mattes and steps, run tile by tile.

R    running picture          S  the shot's source
I  = R or S                   (the pass's "reads")
T  = treatment(I)
a  = amount * (M inside | 1 - M outside | 1 everywhere)
R' = R + (T - R) * a
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Literal, get_args

import cv2
import numpy as np

from wenditas.core.errors import BadLook, choices
from wenditas.core.kernel import Matte, Picture, kernel
from wenditas.core.look.document import Look, Pass
from wenditas.core.look.tiles import WORKERS, Scratch, copy_rows, run_tiles
from wenditas.core.select.keys.record import FillMatte
from wenditas.core.select.selection import Moment, Selection, prepare_keys, selection_matte
from wenditas.core.treat import TREATMENTS, ApplyTile

View = Literal["result", "source", "matte", "selected", "edge", "hatched"]
MATTE_VIEWS = ("matte", "selected", "edge", "hatched")  # views of a selection
VIEWS = get_args(View)
EDGE_LINE, EDGE_SIDE = np.float32(2), np.float32(3)  # marks in the picture of an edge
HATCH, HATCH_STRENGTH = 4, np.float32(0.5)  # pixels, share
PLAIN_GREY = np.float32(115 / 255)  # a code value, so that it is not dithered

Load = Callable[[int, Picture], None]
Store = Callable[[int, Picture], None]

SOURCE, RUNNING, TREATED = 0, 1, 2


@kernel
def _mix_even(running, treated, amount):  # type: ignore[no-untyped-def]
    for c in range(3):
        for y in range(running.shape[1]):
            r, t = running[c, y], treated[c, y]
            for x in range(running.shape[2]):
                r[x] += (t[x] - r[x]) * amount


@kernel
def _mix_matte(running, treated, matte, scale, base):  # type: ignore[no-untyped-def]
    """R + (T - R) * (base + scale * M)."""
    for c in range(3):
        for y in range(running.shape[1]):
            r, t, m = running[c, y], treated[c, y], matte[y]
            for x in range(running.shape[2]):
                r[x] += (t[x] - r[x]) * (base + scale * m[x])


@dataclass(frozen=True)
class Step:
    """A pass ready to run: its treatment, and how it is laid over the running picture."""

    apply: ApplyTile
    matte: int | None
    outside: bool
    amount: float
    reads_source: bool

    def run(self, scratch: Scratch, rows: int) -> None:
        """Perform the pass on the tile in `scratch`."""
        running, treated = scratch.picture(RUNNING, rows), scratch.picture(TREATED, rows)
        self.apply(scratch.picture(SOURCE, rows) if self.reads_source else running, treated)
        amount = np.float32(self.amount)
        if self.matte is None:
            _mix_even(running, treated, amount)
        elif self.outside:
            _mix_matte(running, treated, scratch.matte(self.matte, rows), -amount, amount)
        else:
            _mix_matte(running, treated, scratch.matte(self.matte, rows), amount, np.float32(0))


@dataclass(frozen=True)
class MattePlan:
    """A selection ready to be evaluated: within the tiles where it is pointwise, else over the whole frame."""

    selection: Selection
    fill: FillMatte | None
    before: "Plan | None" = None

    def whole(self, source: Picture, moment: Moment) -> Matte:
        """The matte of a whole frame."""
        if self.before is not None:
            return selection_matte(self.selection, run_on_picture(self.before, source, moment), moment)
        if moment.memo is not None:
            return moment.memo(self.selection, lambda: selection_matte(self.selection, source, moment))
        return selection_matte(self.selection, source, moment)


@dataclass(frozen=True)
class Plan:
    """What to compute for one view of a look."""

    view: View
    mattes: tuple[MattePlan, ...]
    steps: tuple[Step, ...]
    shown_matte: int | None = None

    def run(self, height: int, width: int, load: Load, store: Store, workers: int = WORKERS, moment: Moment | None = None) -> None:
        """Run over a frame: `load(first row, tile)` brings the source, `store(first row, tile)` takes the result."""
        fills = [m.fill for m in self.mattes]
        whole: dict[int, Matte] = {}
        if any(fill is None for fill in fills):
            picture = _load_all(height, width, load)
            whole = {n: m.whole(picture, moment or Moment()) for n, m in enumerate(self.mattes) if m.fill is None}
            load = partial(copy_rows, picture)
        if self.view == "edge" and self.shown_matte is not None:
            whole[0] = edge_of(whole[0])

        def work(first: int, end: int, scratch: Scratch) -> None:
            rows = end - first
            source, running = scratch.picture(SOURCE, rows), scratch.picture(RUNNING, rows)
            load(first, source)
            for n, fill in enumerate(fills):
                matte = scratch.matte(n, rows)
                if fill is None:
                    matte[:] = whole[n][first:end]
                else:
                    fill(source, matte)
            running[:] = source
            for step in self.steps:
                step.run(scratch, rows)
            self._show(scratch, first, rows)
            store(first, running)

        run_tiles(height, width, work, workers)

    def _show(self, scratch: Scratch, first: int, rows: int) -> None:
        if self.view not in MATTE_VIEWS:
            return
        running = scratch.picture(RUNNING, rows)
        matte: Matte | float = 0.0 if self.shown_matte is None else scratch.matte(self.shown_matte, rows)
        if self.view == "matte":
            running[:] = matte
        elif self.view == "selected":
            running[:] = PLAIN_GREY + (running - PLAIN_GREY) * matte
        elif self.view == "edge":  # white, with black on either side, so that it shows on any picture
            running[:] = np.where(matte == EDGE_LINE, np.float32(1), np.where(matte == EDGE_SIDE, np.float32(0), running))
        else:
            row, column = np.mgrid[first : first + rows, 0 : running.shape[2]]
            stripe = np.where((row + column) // HATCH % 2 == 0, np.float32(1), np.float32(0))
            running[:] = running + (stripe - running) * matte * HATCH_STRENGTH


def edge_of(matte: Matte) -> Matte:
    """Where the edge of a matte (at 50 %) is drawn: `EDGE_LINE` on it, `EDGE_SIDE` beside it, 0 elsewhere."""
    cut = (matte > 0.5).astype(np.uint8)
    line = cv2.morphologyEx(cut, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    side = cv2.dilate(line, np.ones((3, 3), np.uint8))
    return np.asarray(np.where(line > 0, EDGE_LINE, np.where(side > 0, EDGE_SIDE, 0)), np.float32)


def _load_all(height: int, width: int, load: Load) -> Picture:
    picture = np.empty((3, height, width), np.float32)

    def work(first: int, end: int, scratch: Scratch) -> None:
        tile = scratch.picture(SOURCE, end - first)
        load(first, tile)
        picture[:, first:end] = tile

    run_tiles(height, width, work)
    return picture


def _active(item: Pass) -> bool:
    return item.on and item.known and item.amount > 0


def _plan_matte(look: Look, id: str, whole: bool = False) -> MattePlan:
    selection = look.selection(id)
    if selection.pointwise and not whole:
        return MattePlan(selection, prepare_keys(selection))
    before = None
    if selection.reads is not None:
        upto = next(n for n, p in enumerate(look.passes) if p.id == selection.reads) + 1
        before = compile_look(look, upto)
    return MattePlan(selection, None, before)


def compile_look(look: Look, upto: int | None = None, view: View = "result", selection: str | None = None) -> Plan:
    """The plan for a view of a look.

    upto: perform only the first `upto` passes. view: the result, the source, a selection's
    matte, or the selected colour only. selection: which one the latter two show; none shows
    an empty matte. Raises `BadLook` for an unknown view or selection.
    """
    if view not in VIEWS:
        raise BadLook(f"There is no view {view!r}; choose from {choices(VIEWS)}.")
    if view == "source":
        return Plan(view, (), ())
    if view in MATTE_VIEWS:
        if selection is None:
            return Plan(view, (), ())
        return Plan(view, (_plan_matte(look, selection, whole=view == "edge"),), (), 0)
    order: list[str] = []
    steps = []
    for item in look.passes[:upto]:
        if not _active(item):
            continue
        treatment = TREATMENTS[item.treatment]
        matte = None
        if item.side != "everywhere" and item.selection is not None:
            if item.selection not in order:
                order.append(item.selection)
            matte = order.index(item.selection)
        apply = treatment.prepare(treatment.params.model_validate(item.params))
        steps.append(Step(apply, matte, item.side == "outside", item.amount / 100, item.reads == "source"))
    return Plan(view, tuple(_plan_matte(look, id) for id in order), tuple(steps))


def run_on_picture(plan: Plan, picture: Picture, moment: Moment | None = None) -> Picture:
    """The plan's view of a float picture `(3, h, w)`; the picture given is not changed."""
    _, height, width = picture.shape
    out = np.empty_like(picture)

    def store(first: int, tile: Picture) -> None:
        out[:, first : first + tile.shape[1]] = tile

    plan.run(height, width, partial(copy_rows, picture), store, moment=moment)
    return out
