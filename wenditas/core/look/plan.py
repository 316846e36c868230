"""A look compiled into a plan: mattes and steps, run tile by tile.

R    running picture          S  the shot's source
I  = R or S                   (the pass's "reads")
T  = treatment(I)
B  = blend(R, T)              W3C Compositing and Blending Level 1
a  = amount * (M inside | 1 - M outside | 1 everywhere)
R' = R + (B - R) * a
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import groupby, pairwise, takewhile
from typing import Literal, get_args

import cv2
import numpy as np

from wenditas.core.colour.blend import Blend, mix
from wenditas.core.errors import BadLook, choices
from wenditas.core.kernel import Matte, Picture, bound
from wenditas.core.look.document import Bundle, Look, Pass
from wenditas.core.params import Params
from wenditas.core.select.keys.record import FillMatte
from wenditas.core.select.selection import Calmed, Moment, Selection, prepare_keys, selection_matte
from wenditas.core.tiles import WORKERS, Scratch, copy_rows, run_tiles
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import Apply, At, Reach, idle

View = Literal["result", "source", "matte", "selected", "edge", "hatched"]
MATTE_VIEWS = ("matte", "selected", "edge", "hatched")  # views of a selection
VIEWS = get_args(View)
EDGE_LINE, EDGE_SIDE = np.float32(2), np.float32(3)  # marks in the picture of an edge
HATCH, HATCH_STRENGTH = 4, np.float32(0.5)  # pixels, share
PLAIN_GREY = np.float32(115 / 255)  # a code value, so that it is not dithered

Load = Callable[[int, Picture], None]
Store = Callable[[int, Picture], None]

SOURCE, RUNNING, TREATED, KEPT = 0, 1, 2, 3


@dataclass(frozen=True)
class Step:
    """A pass ready to run: its treatment, and how it is laid over the running picture.

    number: its place in the look. matte: which one it is laid through; given: which one the treatment reads.
    """

    number: int
    apply: Apply
    reach: Reach
    matte: int | None
    outside: bool
    amount: float
    blend: Blend
    reads_source: bool
    given: int | None = None

    @property
    def replaces(self) -> bool:
        """Whether the treated picture simply takes the place of the running one."""
        return self.blend == "normal" and self.matte is None and self.amount == 1

    def run(self, source: Picture, running: Picture, spare: Picture, matte: Matte | None, at: At) -> tuple[Picture, Picture]:
        """Perform the pass on a tile or a frame. Returns the new running picture and a buffer that is free now."""
        self.apply(source if self.reads_source else running, spare, at)
        if self.replaces:
            return spare, running
        mix(self.blend, running, spare, self.amount, matte, self.outside)
        return running, spare


@dataclass(frozen=True)
class Opens:
    """A bundle begins: what is there is kept."""

    reach: Reach = "pixel"


@dataclass(frozen=True)
class Closes:
    """A bundle ends: what its passes have made is laid over what was kept."""

    matte: int | None
    outside: bool
    amount: float
    blend: Blend
    reach: Reach = "pixel"


@dataclass(frozen=True)
class MattePlan:
    """A selection ready to be evaluated: within the tiles where it is pointwise, else over the whole frame.

    before: after how many passes the picture that it reads stands; None: it reads the source.
    """

    selection: Selection
    fill: FillMatte | None
    before: int | None = None

    def needs_frame(self, moment: Moment) -> bool:
        """Whether it cannot be evaluated within tiles."""
        return self.fill is None or not self.selection.noise(moment.noise).calm

    def whole(self, source: Picture, moment: Moment) -> Matte:
        """The matte of a whole frame."""
        moment.check()

        def compute() -> Matte:
            if self.before is None or moment.stage is None:
                return selection_matte(self.selection, source, moment)
            return selection_matte(self.selection, moment.stage(self.before, moment.frame), moment)

        return compute() if moment.memo is None else moment.memo(self.selection, compute)


@dataclass(frozen=True)
class Plan:
    """What to compute for one view of a look, which stands still. For a moment without stages they are worked out from its look."""

    look: Look
    view: View
    mattes: tuple[MattePlan, ...]
    steps: tuple[Step | Opens | Closes, ...]
    shown_matte: int | None = None

    @property
    def by_tiles(self) -> bool:
        """Whether every pass works pixel by pixel, so that a tile goes through all of them at once."""
        return all(step.reach == "pixel" for step in self.steps)

    @property
    def over_time(self) -> bool:
        """Whether a pass needs other frames."""
        return any(step.reach == "time" for step in self.steps)

    @property
    def reads_stages(self) -> bool:
        """Whether a pass or a selection reads the picture after other passes."""
        return any(m.before is not None for m in self.mattes) or any(isinstance(s, Step) and s.reach == "time" and not s.reads_source for s in self.steps)

    def run(
        self, height: int, width: int, load: Load, store: Store, workers: int = WORKERS, moment: Moment | None = None, start: Picture | None = None
    ) -> None:
        """Run over a frame: `load(first row, tile)` brings the source, `store(first row, tile)` takes the result.

        start: the running picture to go on from, where the plan holds the later passes only.
        """
        if not height or not width:
            return
        moment = moment or Moment()
        if moment.stage is None and self.reads_stages:
            moment = replace(moment, stage=Stages(self.look, _load_all(height, width, load), moment).at)
        whole: dict[int, Matte] = {}
        if not self.by_tiles or any(m.needs_frame(moment) for m in self.mattes):
            picture = _load_all(height, width, load)
            moment = replace(moment, calmed=Calmed())
            whole = {n: m.whole(picture, moment) for n, m in enumerate(self.mattes) if not self.by_tiles or m.needs_frame(moment)}
            load = partial(copy_rows, picture)
        if self.view == "edge" and self.shown_matte is not None:
            whole[0] = edge_of(whole[0])
        if self.by_tiles:
            run_tiles(
                height,
                width,
                partial(self._tile, self.steps, whole, load, store, At(height, width, 0, moment.frame, files=moment.files), start, moment.check),
                workers,
            )
        else:
            self._frame(picture, whole, store, moment, start, workers)

    def _tile(
        self,
        steps: Sequence[Step | Opens | Closes],
        whole: dict[int, Matte],
        load: Load,
        store: Store,
        at: At,
        start: Picture | None,
        check: Callable[[], None],
        first: int,
        end: int,
        scratch: Scratch,
    ) -> None:
        """All passes of a run of pointwise ones on one tile."""
        check()
        rows = end - first
        at = replace(at, first=first)
        source, running, spare = (scratch.picture(n, rows) for n in (SOURCE, RUNNING, TREATED))
        load(first, source)
        for n, plan in enumerate(self.mattes):
            if n in whole:
                scratch.matte(n, rows)[:] = whole[n][first:end]
            elif plan.fill is not None:
                plan.fill(source, scratch.matte(n, rows))
        running[:] = source if start is None else start[:, first:end]
        kept = None
        for step in steps:
            if isinstance(step, Opens):
                kept = scratch.picture(KEPT, rows)
                kept[:] = running
                continue
            matte = None if step.matte is None else scratch.matte(step.matte, rows)
            if isinstance(step, Closes):
                assert kept is not None
                mix(step.blend, kept, running, step.amount, matte, step.outside)
                running[:] = kept
            else:
                running, spare = step.run(source, running, spare, matte, at)
        self._show(scratch, running, first, rows)
        store(first, bound(running))

    def _frame(self, source: Picture, whole: dict[int, Matte], store: Store, moment: Moment, start: Picture | None, workers: int) -> None:
        """Runs of pointwise passes by tiles, the others on the whole frame."""
        _, height, width = source.shape
        running, spare = (source if start is None else start).copy(), np.empty_like(source)
        at = At(height, width, 0, moment.frame, files=moment.files, source=source, inlay=moment.inlay)
        number, kept = 0, running
        while number < len(self.steps):
            step = self.steps[number]
            if isinstance(step, Opens):
                kept = running.copy()
                number += 1
            elif isinstance(step, Closes):
                run_tiles(height, width, partial(_lay, step, kept, running, None if step.matte is None else whole[step.matte]), workers)
                running, kept = kept, running
                number += 1
            elif step.reach == "pixel":
                run = list(takewhile(lambda s: isinstance(s, Step) and s.reach == "pixel", self.steps[number:]))
                run_tiles(height, width, partial(self._tile, run, whole, partial(copy_rows, source), partial(_put, spare), at, running, moment.check), workers)
                running, spare = spare, running
                number += len(run)
            else:
                moment.check()
                place = replace(at, read=_reader(step, moment)) if step.reach == "time" else at
                if step.given is not None:
                    place = replace(place, matte=whole[step.given])
                step.apply(source if step.reads_source else running, spare, place)
                if step.replaces:
                    running, spare = spare, running
                else:
                    run_tiles(height, width, partial(_lay, step, running, spare, None if step.matte is None else whole[step.matte]), workers)
                number += 1
        run_tiles(height, width, lambda first, end, scratch: store(first, bound(running[:, first:end].copy())), workers)

    def _show(self, scratch: Scratch, running: Picture, first: int, rows: int) -> None:
        if self.view not in MATTE_VIEWS:
            return
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


class Stages:
    """The pictures after passes of a look that stands still, at the frames around a moment; each is worked out once."""

    def __init__(self, look: Look, source: Picture, moment: Moment) -> None:
        self._look, self._source, self._moment = look, source, moment
        self._known: dict[tuple[int, int], Picture] = {}

    def at(self, upto: int, frame: int) -> Picture:
        """The picture after the first `upto` passes at a frame."""
        found = self._known.get((upto, frame))
        if found is None:
            here = frame == self._moment.frame or self._moment.neighbour is None
            found = self._source if here else self._moment.neighbour(frame)  # type: ignore[misc]
            if upto:
                found = run_on_picture(compile_look(self._look, upto), found, replace(self._moment, frame=frame, stage=self.at, memo=None))
            self._known[upto, frame] = found
        return found


def _reader(step: Step, moment: Moment) -> Callable[[int], Picture] | None:
    """How a pass gets the picture that it reads at another frame."""
    stage = moment.stage
    if moment.neighbour is None or stage is None or step.reads_source:
        return moment.neighbour
    return lambda frame: stage(step.number, frame)


def _put(picture: Picture, first: int, tile: Picture) -> None:
    picture[:, first : first + tile.shape[1]] = tile


def _lay(step: Step | Closes, running: Picture, treated: Picture, matte: Matte | None, first: int, end: int, scratch: Scratch) -> None:
    mix(step.blend, running, treated, step.amount, matte, step.outside, (first, end))


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


def active(item: Pass) -> bool:
    """Whether a pass by itself does anything."""
    return item.on and item.known and item.amount > 0


def at_work(look: Look) -> list[tuple[int, Pass]]:
    """The passes of a still look that do something, with their places: those that are on, in no bundle that is off."""
    off = {b.id for b in look.bundles if not b.on or b.amount == 0}
    return [(n, p) for n, p in enumerate(look.passes) if active(p) and p.bundle not in off]


def within_bundles(look: Look) -> set[int]:
    """After how many passes of a look a bundle is still open."""
    return {n for n, (a, b) in enumerate(pairwise(look.passes), 1) if a.bundle is not None and a.bundle == b.bundle}


def _plan_matte(look: Look, id: str, whole: bool = False) -> MattePlan:
    selection = look.selection(id)
    if selection.pointwise and not whole:
        return MattePlan(selection, prepare_keys(selection))
    before = None if selection.reads is None else next(n for n, p in enumerate(look.passes, 1) if p.id == selection.reads)
    return MattePlan(selection, None, before)


def compile_look(look: Look, upto: int | None = None, view: View = "result", selection: str | None = None, after: int = 0) -> Plan:
    """The plan for a view of a look that stands still.

    upto: perform only the first `upto` passes; after: leave out that many of them, which `start` stands for. view: the result, the source, a selection's
    matte, or the selected colour only. selection: which one the latter two show; none shows
    an empty matte. Raises `BadLook` for an unknown view or selection.
    """
    if view not in VIEWS:
        raise BadLook(f"There is no view {view!r}; choose from {choices(VIEWS)}.")
    if view == "source":
        return Plan(look, view, (), ())
    if view in MATTE_VIEWS:
        if selection is None:
            return Plan(look, view, (), ())
        return Plan(look, view, (_plan_matte(look, selection, whole=view == "edge"),), (), 0)
    end = len(look.passes) if upto is None else upto
    order: list[str] = []

    def numbered(item: Pass | Bundle) -> int | None:
        if item.side == "everywhere" or item.selection is None:
            return None
        if item.selection not in order:
            order.append(item.selection)
        return order.index(item.selection)

    steps: list[Step | Opens | Closes] = []
    working = [(n, p) for n, p in at_work(look) if after <= n < end]
    for bundle_id, run in groupby(working, key=lambda pair: pair[1].bundle):
        passes = list(run)
        bundle = next((b for b in look.bundles if b.id == bundle_id), None)
        whole = bundle is not None and not bundle.plain and not any(p.bundle == bundle_id for p in look.passes[end:])
        steps += [Opens()] if whole else []
        steps += [_step(number, item, numbered(item)) for number, item in passes]
        if bundle is not None and whole:
            steps.append(Closes(numbered(bundle), bundle.side == "outside", bundle.amount / 100, bundle.blend))
    return Plan(look, view, tuple(_plan_matte(look, id) for id in order), tuple(steps))


def stages_read(look: Look) -> tuple[int, ...]:
    """After how many passes, ascending, stand the pictures of a still look that other passes, or selections in use, read."""
    working = at_work(look)
    found = {n for n, p in working if n and p.reads == "running" and reach_of(p) == "time"}
    used = {item.selection for _, p in working for item in (p, look.bundle_of(p)) if item is not None}
    order = [p.id for p in look.passes]
    return tuple(sorted(found | {order.index(s.reads) + 1 for s in look.selections if s.reads is not None and s.id in used}))


def params_of(item: Pass) -> Params:
    """The parameters of a pass whose treatment is known."""
    return TREATMENTS[item.treatment].params.model_validate(item.params)


def reach_of(item: Pass) -> Reach:
    """What a pass whose treatment is known sees."""
    return TREATMENTS[item.treatment].reach(params_of(item))


def _step(number: int, item: Pass, matte: int | None) -> Step:
    treatment = TREATMENTS[item.treatment]
    params = params_of(item)
    from_inside = item.side == "from inside"
    given = matte if from_inside or treatment.reads_matte else None
    laid, amount, source = None if from_inside else matte, item.amount / 100, item.reads == "source"
    if idle(treatment, params):
        return Step(number, _same, "pixel", laid, item.side == "outside", amount, item.blend, source)
    return Step(number, treatment.prepare(params), treatment.reach(params), laid, item.side == "outside", amount, item.blend, source, given)


def _same(tile: Picture, out: Picture, at: At) -> None:
    out[:] = tile


def run_on_picture(plan: Plan, picture: Picture, moment: Moment | None = None, start: Picture | None = None) -> Picture:
    """The plan's view of a float picture `(3, h, w)`; the pictures given are not changed. See `Plan.run` for `start`."""
    _, height, width = picture.shape
    out = np.empty_like(picture)
    plan.run(height, width, partial(copy_rows, picture), partial(_put, out), moment=moment, start=start)
    return out
