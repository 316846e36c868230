"""Selected area over time: the coverage of every frame, at reduced size, as it becomes known."""

import io
import json
from collections import deque
from collections.abc import Callable, Generator, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress

import numpy as np

from wenditas.core.errors import FootageRefused
from wenditas.core.files import Files
from wenditas.core.film import Footage, Memo, Node, Op, Shot, Shown, run
from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.measure.cuts import change, glimpse
from wenditas.core.tiles import single_threaded
from wenditas.media.memory import room
from wenditas.media.reader import Reader
from wenditas.render.cache import ByteCache
from wenditas.render.frames import FrameFiles
from wenditas.render.request import Request
from wenditas.render.sources import ScreenSources
from wenditas.render.things import Things

WIDTH, BATCH = 320, 8  # the width that coverage is measured at, on screen too
AT_ONCE = 2  # frames that are measured at the same time
AHEAD = 4  # small pictures that are read while one is measured
KEPT_BYTES, MEMO_BYTES = 192 << 20, 32 << 20
FILES_BYTES = 64 << 20
MOST_KEPT = 20_000  # coverages of a piece of footage, the newest ones, that a restart finds again


class Coverage:
    """Measures mattes on small pictures, which are remembered, so that a changed selection is measured without decoding again.

    kept: where what was measured is found again after a restart; nothing is decoded for it then.
    """

    def __init__(self, reader_of: Callable[[str, str, int], Reader], files: Files, things: Things | None = None, kept: FrameFiles | None = None) -> None:
        self._found, self._recalled = kept, set[str]()
        self._kept: ByteCache[Picture] = ByteCache(room(KEPT_BYTES), lambda p: p.nbytes)
        self._memo = Memo(room(MEMO_BYTES))
        self._values: dict[str, float] = {}
        self._changes: dict[str, Floats] = {}
        self._seen: tuple[str, int, Floats] = ("", -1, np.empty(0))
        self.sources, self._files = ScreenSources(reader_of, self._kept, "coverage", True, things), files

    def at(self, node: Node, frame: int, selection: str, check: Callable[[], None] = lambda: None) -> float:
        """Share of a frame that a selection covers, in percent. Frames with the same matte are measured once."""
        return self._share(_matte_of(node, frame, selection), check)

    def _share(self, op: Op, check: Callable[[], None] = lambda: None) -> float:
        key = op.digest
        if key not in self._values:
            matte: Matte = run(op, sources=self.sources, files=self._files, memo=self._memo, check=check)[0]
            if len(self._values) > 200_000:
                self._values.clear()
            self._values[key] = round(float(matte.mean(dtype=np.float64)) * 100, 4)
        return self._values[key]

    def forget(self) -> None:
        """Measure anew what was measured; the small pictures are kept."""
        self._values.clear()
        self._memo = Memo(room(MEMO_BYTES))

    def over_time(
        self, node: Shot, selection: str, stretch: tuple[int, int], cancelled: Callable[[], bool], give_way: Callable[[], None] = lambda: None
    ) -> Iterator[tuple[int, list[float]]]:
        """Batches of (first frame, coverages in percent) until done or cancelled: the frames of the stretch in use, then those after and before it.

        `give_way` is called before every frame. What stands still is measured once.
        """
        first, last = stretch
        self._recall(node)
        if isinstance(node.of, Footage) and node.of.still and not self._moves(node, selection):
            yield 0, [self.at(node, 0, selection)] * node.length
            return
        found: dict[str, float] = {}
        for part in (range(first, last + 1), range(last + 1, node.length), range(first)):
            read = self._read_ahead(node, part, selection)
            with ThreadPoolExecutor(AT_ONCE, "measuring") as measuring:
                try:
                    for start in range(part.start, part.stop, BATCH):
                        batch = []
                        for number in range(start, min(start + BATCH, part.stop)):
                            give_way()
                            if cancelled():
                                return
                            op = next(read)
                            batch.append((op.digest, measuring.submit(self._alone, op)))
                            self._look_at(node, number)
                        values = [(digest, measured.result()) for digest, measured in batch]
                        found.update(values)
                        yield start, [value for _, value in values]
                finally:
                    read.close()
        self._keep(node, found)

    def _recall(self, node: Shot) -> None:
        """Find again what was measured of a shot's footage before a restart."""
        if self._found is None or not isinstance(node.of, Footage) or (content := node.of.content) in self._recalled:
            return
        self._recalled.add(content)
        for key, value in self._kept_values(content).items():
            self._values.setdefault(key, value)
        if (told := self._found.get(("changes", content))) is not None:
            with suppress(ValueError, EOFError):  # a damaged file is measured anew
                changes = np.load(io.BytesIO(told))
                if changes.shape == (node.of.frames,):
                    self._changes.setdefault(content, changes)

    def _kept_values(self, content: str) -> dict[str, float]:
        """What was kept of some footage: coverages by their digests."""
        told = None if self._found is None else self._found.get(("coverage", content))
        with suppress(ValueError):  # a damaged file is measured anew
            found = {} if told is None else json.loads(told)
            if isinstance(found, dict) and all(isinstance(value, float) for value in found.values()):
                return found
        return {}

    def _keep(self, node: Shot, found: dict[str, float]) -> None:
        """Keep what was measured of a shot, by its digests, with what was kept of its footage before."""
        if self._found is None or not isinstance(node.of, Footage):
            return
        content = node.of.content
        before = self._kept_values(content)
        if not found.items() <= before.items():
            self._found.put(("coverage", content), json.dumps(dict(list({**before, **found}.items())[-MOST_KEPT:])).encode())
            held = io.BytesIO()
            np.save(held, self.changes(node))
            self._found.put(("changes", content), held.getvalue())

    def _alone(self, op: Op) -> float:
        """The same as `at`, on one thread: of small pictures several at once take less time than the rows of one shared out."""
        with single_threaded():
            return self._share(op)

    def _read_ahead(self, node: Shot, part: range, selection: str) -> Generator[Op, None, None]:
        """The matte of each frame of a stretch, once its small picture is there where it is needed; those of the next ones are read meanwhile."""
        footage = node.of
        if not isinstance(footage, Footage):
            yield from (_matte_of(node, n, selection) for n in part)
            return
        size, changes = Request(node=node, frame=0, width=WIDTH).size, self.changes(node)

        def read(n: int) -> Op:
            op = _matte_of(node, n, selection)
            if op.digest not in self._values or (n > 0 and np.isnan(changes[n])):  # for its matte, or for how much it differs from the one before it
                self._read(footage, n, size)
            return op

        with ThreadPoolExecutor(1, "coverage") as reader:
            coming = deque(reader.submit(read, n) for n in part[:AHEAD])
            try:
                for n in range(part.start + AHEAD, part.stop + AHEAD):
                    op = coming.popleft().result()
                    if n < part.stop:
                        coming.append(reader.submit(read, n))
                    yield op
            finally:
                for waiting in coming:
                    waiting.cancel()

    def _read(self, footage: Footage, frame: int, size: tuple[int, int]) -> None:
        with suppress(FootageRefused):  # said when it is measured
            self.sources.picture(footage, frame, size)

    def _moves(self, node: Shot, selection: str) -> bool:
        first = _matte_of(node, 0, selection).digest
        return any(_matte_of(node, number, selection).digest != first for number in range(1, node.length))

    def changes(self, node: Shot) -> Floats:
        """How much each frame of a shot's footage differs from the one before it, as far as that was seen while measuring; NaN where not."""
        known = self._changes.get(node.of.content) if isinstance(node.of, Footage) else None
        return np.full(node.length, np.nan) if known is None else known

    def _look_at(self, node: Shot, number: int) -> None:
        """Note how much a frame differs from the one before it, where that was seen last."""
        if not isinstance(node.of, Footage):
            return
        known = self._changes.setdefault(node.of.content, np.full(node.of.frames, np.nan))
        if np.isnan(known[number]) and (number > 0 or np.isnan(known[1:2]).any()):
            now = glimpse(self.sources.picture(node.of, number, Request(node=node, frame=number, width=WIDTH).size))
            content, before, seen = self._seen
            if content == node.of.content and before == number - 1:
                known[number] = change(seen, now)
            self._seen = (node.of.content, number, now)


def _matte_of(node: Node, frame: int, selection: str) -> Op:
    return Request(node=node, frame=frame, width=WIDTH, shown=Shown(view="matte", selection=selection)).resolved()
