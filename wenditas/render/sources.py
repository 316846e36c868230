"""Frames of footage from open files: readers, and what of them is kept."""

import threading
from collections import OrderedDict, deque
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any, Protocol

from wenditas.core.errors import FootageRefused
from wenditas.core.film import Footage, Op
from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.objects.marks import Stroke
from wenditas.core.tiles import Held, Load
from wenditas.core.work.operation import reads
from wenditas.media.facts import Facts
from wenditas.media.memory import room
from wenditas.media.opened import Opened
from wenditas.media.reader import Reader, scale
from wenditas.render.cache import ByteCache
from wenditas.render.things import Things

OPEN_READERS, LEAST_READERS = 8, 2
READER_BYTES = 640 << 20  # that all open readers may hold together; two may always be open
KEPT_BYTES = 256 << 20
IN_ORDER = ("play", "in order")  # purposes that go on from frame to frame: of two places of one file in turn, each has a reader of its own
BACK, ON, FAR = 4, 48, -1_000_000  # frames behind and ahead of the last one that is asked for, up to which a reader is near
EXPECTED, DECODED = 16, 512  # frames that are remembered as asked for in order, and as decoded


class Media(Protocol):
    """Where media files are found by the content of a footage node, and where what is made of them may be kept."""

    def open(self, content: str) -> Opened:
        """A file. Raises `NotFound` where it is missing."""
        ...

    def facts(self, content: str) -> Facts:
        """What is known of it."""
        ...

    def cache_path(self, name: str) -> Path:
        """A place for something that can be made again."""
        ...

    def cached_file(self, name: str, make: Callable[[Path], None]) -> Path:
        """A file in the cache folder, made on first use, once, and appearing only when complete."""
        ...


class Readers:
    """Open readers; readers for different purposes do not disturb each other's position. The least recently used close themselves."""

    def __init__(self, media: Media) -> None:
        self.media = media
        self._most = room(READER_BYTES)
        self._open: OrderedDict[tuple[str, str, int], Reader] = OrderedDict()
        self._lock = threading.Lock()
        self._used: dict[tuple[str, str], int] = {}  # which of two readers was used last
        self._at: dict[tuple[str, str, int], int] = {}  # the frame that it was asked for then

    def reader(self, content: str, purpose: str, number: int | None = None) -> Reader:
        """An open reader, for a frame: where a purpose goes on in two places of a file in turn, as in a transition, the one that is there already."""
        place = (content, purpose)
        if number is None or purpose not in IN_ORDER:
            return self._reader((*place, 0))
        with self._lock:
            last = self._used.get(place, 1)
            ahead = {which: number - self._at.get((*place, which), FAR) for which in (last, 1 - last)}
            near = [which for which in ahead if -BACK <= ahead[which] <= ON]
            which = min(near, key=lambda w: abs(ahead[w])) if near else 1 - last  # else the one that was not read from last goes there
            self._used[place] = which
            self._at[(*place, which)] = number
        return self._reader((*place, which))

    def _reader(self, key: tuple[str, str, int]) -> Reader:
        content = key[0]
        with self._lock:
            if key in self._open:
                self._open.move_to_end(key)
                return self._open[key]
        found = self.media.open(content)  # not under the lock: an index may be long, and a LUT large
        opened = Reader(found.path, found.facts, found.index, lut=found.lut)
        with self._lock:
            reader = self._open.setdefault(key, opened)  # another thread may have been faster
            while len(self._open) > OPEN_READERS or (len(self._open) > LEAST_READERS and sum(r.nbytes for r in self._open.values()) > self._most):
                self._open.popitem(last=False)  # it closes itself once whoever reads from it is done
            return reader

    def let_go(self, is_it: Callable[[str], bool]) -> None:
        """Close the readers of footage that is not read any more, or is another by now, by the content that names it."""
        with self._lock:
            by_content: tuple[dict[Any, Any], ...] = (self._open, self._used, self._at)
            for known in by_content:
                for key in [k for k in known if is_it(k[0])]:
                    del known[key]


class FileSources:
    """Frames read once, in order, for files: planes go to the tiles as they are decoded. What is not expected is read beside that."""

    def __init__(self, reader_of: Callable[[str, str, int], Reader], things: Things | None = None) -> None:
        self._reader_of = reader_of
        self._things = things or Things(lambda content, purpose, frame: reader_of(content, "beside", frame))
        self._expected: deque[tuple[str, int]] = deque(maxlen=EXPECTED)
        self._decoded: deque[tuple[str, int]] = deque(maxlen=DECODED)

    def expect(self, op: Op) -> None:
        """Decode what an operation reads, which is asked for soon; not again what was decoded for those before it."""
        wanted = {(footage.content, number) for footage, number in (leaf.params for leaf in reads(op))}
        for content, number in sorted(wanted.difference(self._decoded)):
            self._expected.append((content, number))
            self._decoded.append((content, number))
            with suppress(FootageRefused):  # said when it is asked for
                self._reader_of(content, "in order", number).frame(number)

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
        """See `Sources`."""
        reader = self._reader_of(footage.content, "in order" if (footage.content, frame) in self._expected else "beside", frame)
        if size == (footage.height, footage.width):
            planes = reader.planes(frame)
            if planes is not None:
                return planes.load
            return Held(reader.picture(frame))
        return Held(scale(reader.picture(frame, size), size))

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> Matte | None:
        """See `Sources`."""
        return self._reader_of(footage.content, "beside", frame).alpha(frame, size) if footage.alpha else None

    def thing(self, footage: Footage, frame: int, strokes: tuple[Stroke, ...], size: tuple[int, int]) -> Matte:
        """See `Sources`."""
        return self._things.matte(footage, frame, strokes, size)


class ScreenSources:
    """Frames for the screen: kept where they may be asked for again, and through preview copies where these will do."""

    def __init__(self, reader_of: Callable[[str, str, int], Reader], kept: ByteCache[Picture], purpose: str, keeps: bool, things: Things | None = None) -> None:
        self._reader_of, self._kept, self._purpose, self._keeps = reader_of, kept, purpose, keeps
        self._things = things or Things(reader_of)

    def picture(self, footage: Footage, frame: int, size: tuple[int, int]) -> Picture:
        """A frame as a float picture."""
        key = (footage.content, footage.fps, 0 if footage.still else frame, size)
        found = self._kept.get(key)
        if found is None:
            reader = self._reader_of(footage.content, self._purpose, frame)
            found = reader.picture(frame, None if size == (reader.facts.height, reader.facts.width) else size)
            if self._keeps:  # playback keeps only what it shows, so that its memory is used again at once
                self._kept.put(key, found)
        return found

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
        """See `Sources`."""
        return Held(self.picture(footage, frame, size))

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> Matte | None:
        """See `Sources`."""
        return self._reader_of(footage.content, self._purpose, frame).alpha(frame, size) if footage.alpha else None

    def thing(self, footage: Footage, frame: int, strokes: tuple[Stroke, ...], size: tuple[int, int]) -> Matte:
        """See `Sources`."""
        return self._things.matte(footage, frame, strokes, size)
