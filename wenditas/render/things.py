"""Objects carried through footage: mattes made when they are asked for, from the nearest one that is there, and kept in files.

Each is a pure function of its name: what its anchor depends on, and the frame. A process that was killed goes on from what is there.
"""

import struct
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from cachetools import LRUCache

from wenditas.core.film import Footage
from wenditas.core.kernel import Matte, Picture
from wenditas.core.measure.cuts import change, glimpse
from wenditas.core.select.objects.anchors import Anchor, anchors, beside
from wenditas.core.select.objects.carry import step
from wenditas.core.select.objects.colours import Known
from wenditas.core.select.objects.marks import Stroke, painted
from wenditas.core.select.objects.part import METHOD
from wenditas.core.select.objects.seen import Seen, working_size
from wenditas.core.select.objects.start import known_of, started
from wenditas.core.select.objects.sure import CUT, how_sure
from wenditas.core.work.operation import plain
from wenditas.media.memory import room
from wenditas.media.reader import Reader
from wenditas.render.cache import ByteCache
from wenditas.render.frames import FrameFiles
from wenditas.render.giving_up import checking

MEMORY_BYTES, DISK_BYTES = 96 << 20, 1 << 30
SCENE = 0.14  # mean change in Oklab between two frames from which on another scene is seen
ANCHORS_KEPT = 16
PNG = [cv2.IMWRITE_PNG_COMPRESSION, 1, cv2.IMWRITE_PNG_STRATEGY, cv2.IMWRITE_PNG_STRATEGY_RLE]
HEAD = struct.Struct("<fHH")
BOTH = 2.0  # contrast of what two anchors say together


@dataclass(frozen=True, eq=False)
class Carried:
    """A matte at working size, 8 bits, and how sure it is."""

    codes: np.ndarray
    sure: float

    @property
    def matte(self) -> Matte:
        """0-1."""
        return self.codes.astype(np.float32) / np.float32(255)

    def packed(self) -> bytes:
        """As bytes: how sure, the first row and column of what is not empty, and that as a PNG."""
        rows, columns = np.flatnonzero(self.codes.any(axis=1)), np.flatnonzero(self.codes.any(axis=0))
        top, left = (int(rows[0]), int(columns[0])) if rows.size else (0, 0)
        part = self.codes[top : rows[-1] + 1, left : columns[-1] + 1] if rows.size else self.codes[:1, :1]
        return HEAD.pack(self.sure, top, left) + cv2.imencode(".png", part, PNG)[1].tobytes()

    @classmethod
    def unpacked(cls, data: bytes, size: tuple[int, int]) -> "Carried | None":
        """From bytes; None where they are damaged."""
        part = cv2.imdecode(np.frombuffer(data, np.uint8, offset=HEAD.size), cv2.IMREAD_GRAYSCALE) if len(data) > HEAD.size else None
        if part is None:
            return None
        sure, top, left = HEAD.unpack_from(data)
        if top + part.shape[0] > size[0] or left + part.shape[1] > size[1]:
            return None
        codes = np.zeros(size, np.uint8)
        codes[top : top + part.shape[0], left : left + part.shape[1]] = part
        return cls(codes, sure)


def _coded(matte: Matte, sure: float) -> Carried:
    return Carried(np.asarray(np.clip(matte, 0, 1) * 255 + 0.5, np.uint8), float(np.float32(sure)))


class Things:
    """The mattes of objects, carried through the originals of their footage."""

    def __init__(self, reader_of: Callable[[str, str, int], Reader], folder: Path | None = None) -> None:
        """folder: where they are kept; in memory alone where None."""
        self._reader_of = reader_of
        self._memory: ByteCache[bytes] = ByteCache(room(MEMORY_BYTES), len)
        self._files: FrameFiles | None = None
        self._folder = folder
        self._known: OrderedDict[str, Known] = OrderedDict()
        self._seen: OrderedDict[tuple[str, int], Seen] = OrderedDict()
        self._anchored: LRUCache[tuple[int, str], tuple[tuple[Stroke, ...], Footage, tuple[Anchor, ...]]] = LRUCache(ANCHORS_KEPT)
        self._lock, self._run = threading.Lock(), threading.RLock()

    def matte(self, footage: Footage, frame: int, strokes: tuple[Stroke, ...], size: tuple[int, int]) -> Matte:
        """The matte of an object at a frame, `(height, width)` of `size`, 0-1."""
        matte = self.carried(footage, strokes, frame).matte
        if matte.shape == size:
            return matte
        shrinking = size[0] < matte.shape[0]
        return np.asarray(cv2.resize(matte, (size[1], size[0]), interpolation=cv2.INTER_AREA if shrinking else cv2.INTER_CUBIC).clip(0, 1), np.float32)

    def carried(self, footage: Footage, strokes: tuple[Stroke, ...], frame: int) -> Carried:
        """The matte at a frame, and how sure it is: carried from the stroked frames on both sides, as far as there are."""
        found = self._anchors(footage, strokes)
        nothing = Carried(np.zeros(working_size(footage.height, footage.width), np.uint8), 0)
        before, after = beside(found, frame)
        if before is None and after is None:
            return nothing
        if before is None or after is None or before is after:
            return self._carried_from(footage, before or after or found[0], frame)
        one, other = self._carried_from(footage, before, frame), self._carried_from(footage, after, frame)
        share = (frame - before.frame) / (after.frame - before.frame)
        if min(one.sure, other.sure) <= 0:  # only one of them sees it
            return max(one, other, key=lambda c: c.sure)
        mixed = one.matte * (1 - share) + other.matte * share
        return _coded(np.clip((mixed - 0.5) * BOTH + 0.5, 0, 1), one.sure * (1 - share) + other.sure * share)

    def known_at(self, footage: Footage, strokes: tuple[Stroke, ...], frame: int) -> bool:
        """Whether the matte at a frame is at hand."""
        around = {a.name: a for a in beside(self._anchors(footage, strokes), frame) if a is not None}
        return all(self._kept(a.name, frame, footage) is not None for a in around.values())

    def through(self, footage: Footage, strokes: tuple[Stroke, ...], frame: int, stretch: tuple[int, int]) -> Iterator[tuple[int, float]]:
        """How sure each frame of a stretch is, outward from one: what is not there yet is made."""
        first, last = stretch
        on, back = iter(range(max(frame, first), last + 1)), iter(range(min(frame - 1, last), first - 1, -1))
        ways = [on, back]
        while ways:
            for way in list(ways):
                number = next(way, None)
                if number is None:
                    ways.remove(way)
                else:
                    yield number, self.carried(footage, strokes, number).sure

    def _anchors(self, footage: Footage, strokes: tuple[Stroke, ...]) -> tuple[Anchor, ...]:
        """The anchors of some strokes; worked out once for the same ones, which are asked for with every frame."""
        place = (id(strokes), footage.content)
        with self._lock:
            kept = self._anchored.get(place)
            if kept is None or kept[0] is not strokes or kept[1] != footage:
                kept = self._anchored[place] = strokes, footage, self._anchors_of(footage, strokes)
        return kept[2]

    @staticmethod
    def _anchors_of(footage: Footage, strokes: tuple[Stroke, ...]) -> tuple[Anchor, ...]:
        named = plain((METHOD, footage.content, footage.fps, footage.noise, footage.width, footage.height))
        return anchors(named, strokes, lambda frame: 0 if footage.still else min(frame, footage.length - 1))

    def _kept(self, name: str, frame: int, footage: Footage) -> Carried | None:
        key = f"{name} {frame}"
        data = self._memory.get(key)
        if data is None and self._disk is not None:
            data = self._disk.get(key)
            if data is not None:
                self._memory.put(key, data)
        return None if data is None else Carried.unpacked(data, working_size(footage.height, footage.width))

    @property
    def _disk(self) -> FrameFiles | None:
        if self._files is None and self._folder is not None:
            with self._lock, suppress(OSError):  # a folder that cannot be written: they are made again when they are asked for
                self._files = self._files or FrameFiles(self._folder, DISK_BYTES)
        return self._files

    def _keep(self, name: str, frame: int, made: Carried) -> Carried:
        data = made.packed()
        self._memory.put(f"{name} {frame}", data)
        if self._disk is not None:
            self._disk.put(f"{name} {frame}", data)
        return made

    def _carried_from(self, footage: Footage, anchor: Anchor, frame: int) -> Carried:
        """What an anchor's matte becomes at a frame, from the nearest frame on the way that is at hand."""
        found = self._kept(anchor.name, frame, footage)
        if found is not None:
            return found
        check, toward, at, here = checking(), 1 if frame > anchor.frame else -1, frame, None
        while at != anchor.frame and here is None:
            at -= toward
            here = self._kept(anchor.name, at, footage)
        here = here or self._started(footage, anchor)
        while at != frame:
            check()
            with self._run:  # for one frame at a time: whoever waits for another comes in between
                after = self._kept(anchor.name, at + toward, footage)
                here = after or self._keep(anchor.name, at + toward, self._next(footage, anchor, here, at, at + toward))
            at += toward
        return here

    def _started(self, footage: Footage, anchor: Anchor) -> Carried:
        """The matte of an anchor."""
        before = None if anchor.parent is None else self._carried_from(footage, anchor.parent, anchor.frame).matte
        with self._run:
            found = self._kept(anchor.name, anchor.frame, footage)
            if found is not None:
                return found
            here = self._seen_at(footage, anchor.frame)
            matte = started(here, painted(anchor.strokes, "this", here.size), painted(anchor.strokes, "not this", here.size), before)
            return self._keep(anchor.name, anchor.frame, _coded(matte, 1.0 if matte.any() else 0.0))

    def _next(self, footage: Footage, anchor: Anchor, before: Carried, at: int, to: int) -> Carried:
        if before.sure == CUT:
            return before
        one, other = self._seen_at(footage, at), self._seen_at(footage, to)
        if change(glimpse(one.picture), glimpse(other.picture)) > SCENE:
            return Carried(np.zeros_like(before.codes), CUT)
        known = self._known_of(footage, anchor)
        found = step(one, before.matte, other, known)
        return _coded(found.matte, how_sure(found, float((found.matte > 0.5).sum()) / max(known.area, 1.0), abs(to - anchor.frame)))

    def _known_of(self, footage: Footage, anchor: Anchor) -> Known:
        if anchor.name not in self._known:
            matte = self._carried_from(footage, anchor, anchor.frame).matte
            self._known[anchor.name] = known_of(self._seen_at(footage, anchor.frame), matte)
            while len(self._known) > ANCHORS_KEPT:
                self._known.popitem(last=False)
        return self._known[anchor.name]

    def _seen_at(self, footage: Footage, frame: int) -> Seen:
        """A frame as objects are sought in it; the last two are kept."""
        key = (footage.content, frame)
        if key not in self._seen:
            self._seen[key] = Seen.of(self._picture(footage, frame), footage.footage_noise)
            while len(self._seen) > 3:
                self._seen.popitem(last=False)
        self._seen.move_to_end(key)
        return self._seen[key]

    def _picture(self, footage: Footage, frame: int) -> Picture:
        size = working_size(footage.height, footage.width)
        return self._reader_of(footage.content, "things", frame).picture(frame, None if size == (footage.height, footage.width) else size)
