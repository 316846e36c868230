"""The one way to a picture. `render` is pure: same arguments, same bytes; screen, files, measurements and tests all call it."""

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import partial
from threading import Lock
from typing import Any, Protocol

import numpy as np
from cachetools import LRUCache

from wenditas.core.colour.blend import mix
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.errors import BadRequest
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film.joins import dissolve, revealed
from wenditas.core.film.keys import Keys
from wenditas.core.film.nodes import Accompanied, Blank, Footage, Join, Node, Placed, Sequence, Shot, Span, noise_under
from wenditas.core.film.placing import inner_size, place
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.animate import look_at, percent_at
from wenditas.core.look.document import Look
from wenditas.core.look.plan import Load, Plan, Store, View, compile_look, stages_read, within_bundles
from wenditas.core.select.selection import Moment, Selection
from wenditas.core.tiles import copy_rows, run_tiles
from wenditas.core.treat.record import Inlay

MOST_AT_ONCE = 1536 << 20  # bytes of pictures that one picture may be made of
MEMO_BYTES = 256 << 20
MOST_PLANS = 64
Size = tuple[int, int]  # height, width
Check = Callable[[], None]


class TooHeavy(BadRequest):
    """A picture that is made of more others than fit into memory."""


class Sources(Protocol):
    """Where the frames of footage come from."""

    def load(self, footage: Footage, frame: int, size: Size) -> Load:
        """A frame scaled to `(height, width)`, to be loaded tile by tile."""
        ...

    def alpha(self, footage: Footage, frame: int, size: Size) -> Matte | None:
        """The alpha channel of a frame at the same size; None where there is none."""
        ...


def _nbytes(value: Any) -> int:
    return int(value.nbytes)


@dataclass
class Memo:
    """What may be used again from one picture to the next: mattes and pictures after passes, by content; bounded by bytes. Thread-safe.

    keep: of the look with that id, the picture after so many passes is worth keeping too.
    """

    keys: Keys = field(default_factory=Keys)
    limit: int = MEMO_BYTES
    kind: str = ""  # of sources that are not the originals
    keep: tuple[int, int] | None = None

    def __post_init__(self) -> None:
        self._known: LRUCache[tuple[Any, ...], Any] = LRUCache(self.limit, _nbytes)
        self._plans: LRUCache[tuple[Any, ...], tuple[Look, Plan]] = LRUCache(MOST_PLANS)
        self._lock = Lock()

    def get(self, key: tuple[Any, ...]) -> Any:
        """What is kept under a key, or None."""
        with self._lock:
            return self._known.get(key)

    def put(self, key: tuple[Any, ...], value: Any) -> None:
        """Keep something, if it is not larger than all that is kept."""
        with self._lock:
            if value.nbytes <= self.limit:
                self._known[key] = value

    def plan(self, look: Look, view: View, selection: str | None, upto: int | None, after: int) -> Plan:
        """The plan of a look that stands still, compiled once."""
        place = (id(look), view, selection, upto, after)
        with self._lock:
            kept = self._plans.get(place)
        if kept is None or kept[0] is not look:
            kept = (look, compile_look(look, upto, view, selection, after))
            with self._lock:
                self._plans[place] = kept
        return kept[1]


def size_of(node: Node) -> Size:
    """Height and width of a node's own pictures."""
    width, height = node.size
    return height, width


def render(
    node: Node,
    frame: int,
    size: Size | None = None,
    view: View = "result",
    upto: int | None = None,
    selection: str | None = None,
    *,
    sources: Sources,
    files: Files = NO_FILES,
    memo: Memo | None = None,
    store: Store | None = None,
    check: Check = lambda: None,
) -> Picture:
    """A view of a node at a frame: float32 `(3, h, w)`, gamma-coded BT.709 R'G'B', not limited.

    size: `(h, w)`, the node's own by default; lengths are scaled with it. view, upto, selection: what is shown of the look of a shot,
    a span or the hole of a reveal (see `compile_look`), also where it is placed or in a sequence; other nodes have only results.
    memo: may make it faster, never other. store: takes the rows of the picture as they become ready, which then are not put together
    (the picture returned is empty). check: may raise `Cancelled`.
    Frames beyond the ends show the first or last one. Raises `BadLook`, `TooHeavy`.
    """
    at = _Rendering(sources, files, memo or Memo(), check)
    size = size or size_of(node)
    if store is None:
        return at.picture(node, frame, size, view, upto, selection)
    at.into(node, frame, size, view, upto, selection, store)
    return np.empty((3, 0, 0), np.float32)


class _Rendering:
    """One call of `render`: what it is made of, and the pictures that are read more than once within it."""

    def __init__(self, sources: Sources, files: Files, memo: Memo, check: Check) -> None:
        self._sources, self._files, self._memo, self._check = sources, files, memo, check
        self._stages: dict[tuple[int, int, int, Size], Picture] = {}
        self._looks: dict[tuple[int, int], tuple[Look, Look]] = {}
        self._held = 0

    def picture(self, node: Node, frame: int, size: Size, view: View = "result", upto: int | None = None, selection: str | None = None) -> Picture:
        """A view of a node as a whole picture."""
        height, width = size
        out = np.empty((3, height, width), np.float32)

        def store(first: int, tile: Picture) -> None:
            out[:, first : first + tile.shape[1]] = tile

        self.into(node, frame, size, view, upto, selection, store)
        return out

    def into(self, node: Node, frame: int, size: Size, view: View, upto: int | None, selection: str | None, store: Store) -> None:
        """A view of a node, row by row."""
        self._check()
        frame = min(max(frame, 0), node.length - 1)
        if isinstance(node, Shot):
            self._looked(node, node.first + frame, size, view, upto, selection, store)
        elif isinstance(node, Span):
            self._span(node, frame, size, view, upto, selection, store)
        elif isinstance(node, Accompanied):
            self.into(node.of, frame, size, view, upto, selection, store)
        elif isinstance(node, Sequence):
            part, number = node.part_at(frame)
            self.into(part.of, number, size, view, upto, selection, store)
        elif isinstance(node, Join) and node.reveal is not None and view != "result":
            self.into(node.hole, node.side(frame), size, view, upto, selection, store)
        elif isinstance(node, Placed) and view != "result":
            inner = self.picture(node.of, node.shown(frame), inner_size(node, size), view, upto, selection)
            _copy(partial(copy_rows, place(node, inner, size)), size, store)
        else:
            _copy(self._load(node, frame, size), size, store)

    def _load(self, node: Node, frame: int, size: Size) -> Load:
        """The result of a node, to be loaded tile by tile."""
        frame = min(max(frame, 0), node.length - 1)
        if isinstance(node, Footage):
            return self._sources.load(node, 0 if node.still else frame, size)
        if isinstance(node, Blank):
            even = np.empty((3, *size), np.float32)
            even[:] = np.asarray(rgb_from_hex(node.colour), np.float32)[:, None, None]
            return partial(copy_rows, even)
        if isinstance(node, Shot | Span | Accompanied):
            return partial(copy_rows, self.picture(node, frame, size))
        if isinstance(node, Placed):
            inner = inner_size(node, size)
            return partial(copy_rows, place(node, self.picture(node.of, node.shown(frame), inner), size))
        if isinstance(node, Join):
            return partial(copy_rows, self._join(node, frame, size))
        part, number = node.part_at(frame)
        return self._load(part.of, number, size)

    def _join(self, node: Join, frame: int, size: Size) -> Picture:
        a, b = node.sides(frame)
        before, after = self.picture(node.a, a, size), self.picture(node.b, b, size)
        if node.reveal is None:
            return dissolve(before, after, (frame + 1) / (node.frames + 1), node.linear)
        reveal = node.reveal
        matte = np.asarray(self.picture(node.hole, node.side(frame), size, "matte", None, reveal.selection)[0])
        source = before if reveal.of == "outgoing" else after
        at = 1000 * frame / max(node.frames - 1, 1)
        opens, takes = (percent_at(k, at) / 100 for k in (reveal.opens, reveal.takes))
        return revealed(before, after, source, matte, reveal, opens, takes)

    def _span(self, node: Span, frame: int, size: Size, view: View, upto: int | None, selection: str | None, store: Store) -> None:
        number = frame - node.first
        if view != "result" or upto is not None:  # what a part of the look makes is seen as it is, not laid over
            self._looked(node, number, size, view, upto, selection, store)
            return
        amount = percent_at(node.amount, number) / 100 * node.faded(number)
        if not node.first <= frame <= node.last or amount <= 0:
            _copy(self._load(node.of, frame, size), size, store)
            return
        if amount == 1 and node.blend == "normal":
            self._looked(node, number, size, view, upto, selection, store)
            return
        under = np.empty((3, *size), np.float32)
        _copy(self._load(node.of, frame, size), size, partial(_put, under))  # once, for the look and for what it is laid over

        def lay(first: int, tile: Picture) -> None:
            running = np.ascontiguousarray(under[:, first : first + tile.shape[1]])
            mix(node.blend, running, np.ascontiguousarray(tile), amount, None, False)
            store(first, running)

        self._looked(node, number, size, view, upto, selection, lay, partial(copy_rows, under))

    def _looked(
        self, node: Shot | Span, number: int, size: Size, view: View, upto: int | None, selection: str | None, store: Store, load: Load | None = None
    ) -> None:
        """A view of the look of a shot or span at a frame that its lanes count. load: what lies under it, where that is at hand."""
        look = self._look_at(node, number)
        end = len(look.passes) if upto is None else min(upto, len(look.passes))
        begin = self._boundary(node, look, end, number) if view == "result" else 0
        plan = self._memo.plan(look, view, selection, upto, begin)
        start = self._stage(node, begin, number, size) if begin else None
        load = load or self._load(node.of, self._under(node, number), size)
        plan.run(*size, load, store, moment=self._moment(node, number, size), start=start)

    def _under(self, node: Shot | Span, number: int) -> int:
        """The frame of what lies under a look, for one that its lanes count; the nearest end beyond these."""
        return min(max(number + (node.first if isinstance(node, Span) else 0), 0), node.of.length - 1)

    def _look_at(self, node: Shot | Span, number: int) -> Look:
        """The look with its animated values as they are at a frame; the same object for the same frame."""
        if not node.look.lanes:
            return node.look
        kept = self._looks.get((id(node.look), number))
        if kept is None:
            kept = self._looks[id(node.look), number] = (node.look, look_at(node.look, number, float(node.rate)))
        return kept[1]

    def _boundary(self, node: Shot | Span, look: Look, end: int, number: int) -> int:
        """After how many passes, fewer than `end`, the last picture stands that is worth going on from: others read it too, or it is at hand."""
        places = list(stages_read(look))
        keep = self._memo.keep
        if keep is not None and keep[0] == id(node.look):
            places = sorted({*places, keep[1]})
        inside = within_bundles(look)
        places = [n for n in places if n not in inside]
        at = bisect_right(places, end - 1)
        return places[at - 1] if at else 0

    def _stage(self, node: Shot | Span, upto: int, number: int, size: Size) -> Picture:
        """The picture after the first `upto` passes at a frame; worked out once, and remembered for the pictures that follow."""
        number = self._under(node, number) - (node.first if isinstance(node, Span) else 0)
        place = (id(node), upto, number, size)
        found = self._stages.get(place)
        if found is None:
            key = ("stage", self._memo.kind, size, self._memo.keys.look_key(node, number, "result", None, upto))
            found = self._memo.get(key)
            if found is None:
                out = np.empty((3, *size), np.float32)
                if upto:
                    under = partial(copy_rows, self._stage(node, 0, number, size))
                    self._looked(node, number, size, "result", upto, None, partial(_put, out), under)
                else:
                    _copy(self._load(node.of, self._under(node, number), size), size, partial(_put, out))
                found = out
                self._memo.put(key, found)
            self._held += found.nbytes
            if self._held > MOST_AT_ONCE:
                count = len(self._stages)
                raise TooHeavy(
                    f"This look reads more than {count} other pictures for one of its own, more than fit into memory at this size. Turn off one of its trails."
                )
            self._stages[place] = found
        return found

    def _moment(self, node: Shot | Span, number: int, size: Size) -> Moment:
        def memo(selection: Selection, compute: Callable[[], Matte]) -> Matte:
            key = ("matte", self._memo.kind, size, self._memo.keys.matte_key(node, selection.id, number))
            found: Matte | None = self._memo.get(key)
            if found is None:
                found = compute()
                self._memo.put(key, found)
            return found

        return Moment(
            frame=number,
            neighbour=lambda n: self._stage(node, 0, n, size),
            alpha=lambda n: self._alpha(node.of, self._under(node, n), size),
            stage=lambda upto, n: self._stage(node, upto, n, size),
            then=lambda id, n: self._look_at(node, n).selection(id),
            memo=memo,
            noise=noise_under(node.of),
            inlay=partial(self._inlay, node),
            files=replace(self._files, only=frozenset(node.files)),
            check=self._check,
        )

    def _inlay(self, node: Shot | Span, id: str) -> Inlay | None:
        """A shot that is laid in, whose frames are counted as the Bench counts them: those of what it is made from."""
        laid = next((laid for laid in node.laid if laid.id == id), None)
        if laid is None:
            return None
        height, width = size_of(laid.of)

        def picture(frame: int, rows: int, part: str) -> tuple[Picture, Matte | None]:
            size, number, selection = (rows, max(1, round(width * rows / height))), laid.frame(frame), laid.part(part)
            matte = self._alpha(laid.of, number, size) if selection is None else self.picture(laid.of, number, size, "matte", None, selection)[0]
            return self.picture(laid.of, number, size), matte

        return Inlay(height, float(laid.of.rate / node.rate), picture)

    def _alpha(self, node: Node, frame: int, size: Size) -> Matte | None:
        if isinstance(node, Footage):
            return self._sources.alpha(node, 0 if node.still else frame, size)
        if isinstance(node, Shot):
            return self._alpha(node.of, node.first + frame, size)
        return None


def _put(picture: Picture, first: int, tile: Picture) -> None:
    picture[:, first : first + tile.shape[1]] = tile


def _copy(load: Load, size: Size, store: Store) -> None:
    def work(first: int, end: int, scratch: Any) -> None:
        tile = scratch.picture(0, end - first)
        load(first, tile)
        store(first, tile)

    run_tiles(*size, work)
