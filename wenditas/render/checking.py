"""Checks on the frames of a look: the frame at hand, and a whole shot in idle time."""

from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import replace
from functools import partial

import numpy as np

from wenditas.core.errors import FootageRefused
from wenditas.core.files import Files
from wenditas.core.film import Memo, Shot, Shown, render, resolve
from wenditas.core.kernel import Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.commands import apply_commands, parse_commands
from wenditas.core.look.document import parse_look, tracks_of
from wenditas.core.look.shown import View
from wenditas.core.measure.checks import CHECKS, coverage_drop, flash
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen
from wenditas.core.measure.coverage import WeakFrame
from wenditas.core.measure.cuts import change, cuts, glimpse
from wenditas.core.tiles import single_threaded
from wenditas.core.work.operation import reads
from wenditas.media.memory import room
from wenditas.media.reader import Reader
from wenditas.render.cache import ByteCache
from wenditas.render.kept_marks import KeptMarks
from wenditas.render.over_time import WIDTH
from wenditas.render.request import Request
from wenditas.render.sources import ScreenSources
from wenditas.render.things import Things

SMALL, OWN = WIDTH, 1920  # pixels across, and for checks that need the picture's own size
EVERY = 24  # frames between two that are looked at in their own size
TELL = 8  # frames between two reports
JOIN = 12  # frames between marks that are one
MOST = 200  # marks of a check that are told
MEMO_BYTES = 64 << 20


class Checking:
    """Runs checks. small: where pictures of `SMALL` come from, the same that coverage is measured on; large ones are read and not kept.

    kept: where the marks of a whole shot are found again, after a restart too; nothing is looked at for it then.
    """

    def __init__(
        self, small: ScreenSources, reader_of: Callable[[str, str, int], Reader], files: Files, things: Things | None = None, kept: KeptMarks | None = None
    ) -> None:
        self._memo = Memo(room(MEMO_BYTES))
        self._small, self._large = small, ScreenSources(reader_of, ByteCache(0, lambda p: p.nbytes), "checks", False, things)
        self._files, self._kept = files, kept

    def seen(self, node: Shot, frame: int, width: int) -> Seen:
        """What checks look at, of a frame that the lanes of a shot's look count."""
        size = Request(node=node, frame=frame, width=width).size
        sources = self._small if width == SMALL else self._large

        def view(name: View, selection: str | None = None) -> Picture:
            return render(node, frame, size, Shown(view=name, selection=selection), sources=sources, files=self._files, memo=self._memo)

        rate = float(node.rate)
        look = look_at(node.look, frame, rate) if node.look.lanes else node.look
        used = {p.selection for p in look.passes if p.active and p.side != "everywhere" and p.selection}
        mattes = {s.id: np.asarray(view("matte", s.id)[0]) for s in look.selections if s.id in used}
        return Seen(frame, rate, look, view("source"), view("result"), mattes, node.of.footage_noise)

    def at(self, node: Shot, frame: int, ends: tuple[int, int]) -> list[Mark]:
        """The marks of one frame, compared with its neighbours within the frames in use, as they are found over the shot. Those of a whole shot have none."""
        now = self.seen(node, frame, SMALL)
        beside = [self.seen(node, n, SMALL) if ends[0] <= n <= ends[1] else None for n in (frame - 1, frame + 1)]
        now = replace(now, before=beside[0], after=beside[1])
        found = [m for check in _of("frame", "neighbours") if not check.own_size for m in check.measure(now)]
        return [*self.own_size(node, frame), *found]

    def own_size(self, node: Shot, frame: int) -> list[Mark]:
        """The marks of the checks that need the picture's own size."""
        now = self.seen(node, frame, OWN)
        return [m for check in CHECKS.values() if check.own_size for m in check.measure(now)]

    def over_shot(
        self, node: Shot, ends: tuple[int, int], gone: Callable[[], bool] = lambda: False, give_way: Callable[[], None] = lambda: None
    ) -> Iterator[tuple[int, list[Mark]]]:
        """Frames done, and all marks that are known then; at the end those of the whole shot too. Every frame is looked at small, some in their own size."""
        first, last = ends
        if self._kept is not None and not gone() and (found := self._kept.get(node, ends)) is not None:
            yield last - first + 1, found
            return
        marks: list[Mark] = []
        glances: list[flash.Glance] = []
        covered: dict[str, list[float]] = {}
        changes = np.full(last - first + 1, np.nan)
        window: deque[Seen] = deque(maxlen=3)
        small: np.ndarray | None = None
        with single_threaded(), ThreadPoolExecutor(1, "checks") as reader:
            coming = reader.submit(self._read, node, first)
            for frame in range(first, last + 1):
                give_way()
                if gone():
                    return
                coming.result()
                coming = reader.submit(self._read, node, min(frame + 1, last))
                now = self.seen(node, frame, SMALL)
                glances.append(flash.glance(now.result))
                for id, matte in now.mattes.items():
                    covered.setdefault(id, [np.nan] * (last - first + 1))[frame - first] = float(matte.mean()) * 100
                before, small = small, glimpse(now.source)
                changes[frame - first] = np.nan if before is None else change(before, small)
                window.append(now)
                marks += self._compared(window, frame == last)
                if (frame - first) % EVERY == 0:
                    marks += self.own_size(node, frame)
                if (frame - first + 1) % TELL == 0:
                    yield frame - first + 1, joined(marks)
        at_cuts = [first + n for n in cuts(changes)]
        marks = [m for m in marks if CHECKS[m.check].over != "neighbours" or not any(c - 1 <= m.frame <= c for c in at_cuts)]
        marks += flash.marks(glances, float(node.rate), first)
        named = {s.id: s.name for s in node.look.selections}
        for id, values in covered.items():
            fix_of = partial(self._picked_again, node, first, id, values)
            for mark in coverage_drop.marks(values, named.get(id, id), id, [c - first for c in at_cuts], fix_of):
                marks.append(replace(mark, frame=mark.frame + first, first=mark.first + first, last=mark.last + first))
        whole = joined(marks)
        if self._kept is not None:
            self._kept.put(node, ends, whole)
        yield last - first + 1, whole

    def _picked_again(self, node: Shot, first: int, id: str, values: Sequence[float], weak: WeakFrame) -> Fix | None:
        """A pick from a frame that loses a selection, where the selection then has what it lost, there and no more than that where it had it all along."""
        beside = coverage_drop.usual_frame(values, weak)
        if beside is None:
            return None
        usual, lost = (self.seen(node, first + n, SMALL) for n in (beside, weak.frame))
        fix = coverage_drop.fix(usual, lost, id)
        if fix is None:
            return None
        changed = apply_commands({"look": node.look.model_dump(mode="json")}, parse_commands(list(fix.commands)))["look"]
        with_fix = node.model_copy(update={"look": parse_look(changed, tracks_of(node.look))})
        there, elsewhere = (self.seen(with_fix, first + n, SMALL).mattes[id] for n in (weak.frame, beside))
        kept = coverage_drop.brings_back(lost.mattes[id], there, weak.usual) and not coverage_drop.takes_more(elsewhere, weak.usual)
        return fix if kept else None

    def _compared(self, window: deque[Seen], ends: bool) -> list[Mark]:
        """The marks of the middle frame of three, and of the last one where the shot ends with it."""
        found = []
        if len(window) >= 2:
            at = len(window) - 2
            middle = replace(window[at], before=_plain(window[at - 1]) if at else None, after=_plain(window[at + 1]))
            found += [m for check in _of("frame", "neighbours") if not check.own_size for m in check.measure(middle)]
        if ends:
            found += [m for check in _of("frame") if not check.own_size for m in check.measure(_plain(window[-1]))]
        return found

    def _read(self, node: Shot, frame: int) -> None:
        for leaf in reads(resolve(node.of, frame, Request(node=node, frame=frame, width=SMALL).size)):
            with suppress(FootageRefused):  # said where it is shown
                footage, number = leaf.params
                self._small.picture(footage, number, leaf.size)


def _plain(seen: Seen) -> Seen:
    return replace(seen, before=None, after=None)


def _of(*over: str) -> list[Check]:
    return [check for check in CHECKS.values() if check.over in over]


def joined(marks: Sequence[Mark]) -> list[Mark]:
    """Marks of one check and one selection that are near to each other as one, with the worst frame of them, in the order of the checks."""
    found: list[Mark] = []
    for id, check in CHECKS.items():
        for selection in dict.fromkeys(m.selection for m in marks if m.check == id):
            run: list[Mark] = []
            for mark in sorted((m for m in marks if m.check == id and m.selection == selection), key=lambda m: (m.frame, m.words)):
                mark = replace(mark, first=mark.span[0], last=mark.span[1], where=None)
                old = run[-1] if run else None
                if old is None or mark.first - old.last > max(JOIN, EVERY if check.own_size else 0):
                    run.append(mark)
                    continue
                worst = min(old, mark, key=lambda m: m.value) if check.below else max(old, mark, key=lambda m: m.value)
                run[-1] = replace(worst, first=min(old.first, mark.first), last=max(old.last, mark.last))
            found += run[:MOST]
    return found
