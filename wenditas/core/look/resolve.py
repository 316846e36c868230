"""What a look at a frame resolves to. Everything is decided here: lanes are evaluated, what is off or has no effect is dropped."""

from collections.abc import Callable
from typing import Protocol

from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Bundle, Look, Pass
from wenditas.core.look.shown import Shown
from wenditas.core.select.denoise import Noise
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.select.operations import resolve_once, resolve_selection
from wenditas.core.treat.record import Inset
from wenditas.core.work.mixing import EDGE, GREY, HATCHED, OUTLINED, SELECTED, blended, bounded, even
from wenditas.core.work.operation import Op, Size


class Under(Protocol):
    """What lies under a look, at the frames that its lanes count."""

    @property
    def noise(self) -> Noise:
        """Of the footage, where it is seen as it is."""
        ...

    @property
    def alone(self) -> bool:
        """Whether there is one frame only, and nothing before or after it."""
        ...

    def nearest(self, frame: int) -> int:
        """The frame itself, or the nearest there is."""
        ...

    def picture(self, frame: int) -> Op:
        """What lies under the look at a frame."""
        ...

    def alpha(self, frame: int) -> Op | None:
        """Its alpha channel, None where it has none."""
        ...

    def thing(self, part: ObjectPart, frame: int) -> Op | None:
        """The matte of an object at a frame, None where what lies under the look is no footage."""
        ...

    def has(self, file: str) -> bool:
        """Whether a file that passes use is at hand."""
        ...

    def inset(self, asked: Inset, frame: int, size: Size) -> tuple[Op, ...]:
        """Another shot for a frame, and what of it is seen where that is not all; nothing where it is not there."""
        ...


class Worn:
    """A look over something that moves: its pictures and mattes at any frame, each resolved once."""

    def __init__(self, look: Look, rate: float, under: Under, size: Size) -> None:
        self.look, self.under, self.size = look, under, size
        self._rate = rate
        self._at: dict[int, _AtFrame] = {}

    def at(self, frame: int) -> "_AtFrame":
        """The look as it is at a frame, which may lie beyond what there is under it."""
        found = self._at.get(frame)
        if found is None:
            found = self._at[frame] = _AtFrame(self, look_at(self.look, frame, self._rate), frame)
        return found

    def after(self, upto: int, frame: int) -> Op:
        """The picture after the first `upto` passes, for what reads it: at the nearest frame there is."""
        frame = self.under.nearest(frame)
        return self.under.picture(frame) if not upto else bounded(self.at(frame).after(upto))

    def shown(self, frame: int, shown: Shown) -> Op:
        """A view of it at a frame. Raises `BadLook` for an unknown selection."""
        at = self.at(frame)
        if shown.view == "result":
            count = len(at.look.passes)
            return bounded(at.after(count if shown.upto is None else min(shown.upto, count)))
        if shown.view == "source":
            return bounded(at.source)
        matte = even(0, self.size) if shown.selection is None else at.matte(shown.selection)
        return _view(shown.view, at.source, matte)


def _view(view: str, source: Op, matte: Op) -> Op:
    if view == "matte":
        return Op(GREY, None, (matte,), matte.size)
    if view == "edge":
        return bounded(Op(OUTLINED, None, (source, Op(EDGE, None, (matte,), matte.size)), matte.size))
    return bounded(Op(SELECTED if view == "selected" else HATCHED, None, (source, matte), matte.size))


class _AtFrame:
    """A look that stands still, with the running picture after each of its passes, as far as that was asked for."""

    def __init__(self, worn: Worn, look: Look, frame: int) -> None:
        self.look, self._worn, self._frame = look, worn, frame
        self.source = worn.under.picture(frame)
        self._running = [self.source]
        self._under_bundle = self.source  # what there was when the bundle at hand began
        self._worked = False  # whether a pass of it does something
        self._mattes: dict[str, Op] = {}
        self._bundles = {bundle.id: bundle for bundle in look.bundles}

    def after(self, upto: int) -> Op:
        """The running picture after the first `upto` passes; within a bundle as the bundle's passes have it."""
        while len(self._running) <= upto:
            self._running.append(self._next(len(self._running) - 1))
        return self._running[upto]

    def _next(self, number: int) -> Op:
        """The picture after one more pass."""
        passes = self.look.passes
        item, running = passes[number], self._running[number]
        bundle = self._bundles.get(item.bundle or "")
        if bundle is not None and (number == 0 or passes[number - 1].bundle != item.bundle):
            self._under_bundle, self._worked = running, False
        if item.active and (bundle is None or (bundle.on and bundle.amount > 0)):
            running, self._worked = self._passed(number, item, running), True
        ends = number + 1 == len(passes) or passes[number + 1].bundle != item.bundle
        if bundle is not None and ends and self._worked:
            running = self._laid(bundle, self._under_bundle, running, self._where(bundle))
        return running

    def _where(self, item: Pass | Bundle) -> Op | None:
        return None if item.side == "everywhere" or item.selection is None else self.matte(item.selection)

    @staticmethod
    def _laid(item: Pass | Bundle, under: Op, over: Op, matte: Op | None) -> Op:
        return blended(item.blend, item.amount / 100, under, over, matte, item.side == "outside")

    def _passed(self, number: int, item: Pass, running: Op) -> Op:
        """A pass laid over the running picture."""
        settled = item.settled
        read, matte = self.source if item.reads == "source" else running, self._where(item)
        through = None if item.side == "from inside" else matte
        if settled.idle or not all(map(self._worn.under.has, settled.files)):
            return self._laid(item, running, read, through)
        treatment, params = settled.treatment, settled.params
        asked = treatment.inset(params)
        inset = () if asked is None else self._worn.under.inset(asked, self._frame, self._worn.size)
        if asked is not None and not inset:
            return self._laid(item, running, read, through)
        upto = 0 if item.reads == "source" else number
        looks = () if self._worn.under.alone else treatment.looks(params)
        others = tuple(self._worn.after(upto, max(self._frame + back, 0)) for back in looks)
        source = self.source if treatment.needs_source(params) else None
        given = matte if item.side == "from inside" or treatment.reads_matte else None
        return self._laid(item, running, settled.op(read, self._frame, source, given, inset, others), through)

    def matte(self, id: str) -> Op:
        """The matte of a selection. Raises `BadLook` where there is none."""
        found = self._mattes.get(id)
        if found is None:
            selection, worn = self.look.selection(id), self._worn
            found = self.matte_once(id) if worn.under.alone else resolve_selection(selection, self._frame, lambda frame: worn.at(frame).matte_once(id))
            self._mattes[id] = found
        return found

    def matte_once(self, id: str) -> Op:
        """The matte of a selection before it is steadied, with the values of this frame."""
        selection = self.look.selection(id)
        return resolve_once(selection, self._frame, self._read_by(selection.reads), self._alpha(), self._worn.under.noise, self._thing)

    def _read_by(self, reads: str | None) -> Op:
        if reads is None:
            return self.source
        number = next(n for n, item in enumerate(self.look.passes, 1) if item.id == reads)
        return self._worn.after(number, self._frame)

    def _thing(self, part: ObjectPart) -> Op | None:
        return self._worn.under.thing(part, self._frame)

    def _alpha(self) -> Callable[[], Op | None]:
        return lambda: self._worn.under.alpha(self._frame)
