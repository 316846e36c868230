"""Pictures for the screen, remembered by what they show.

A request is plain data; its answer depends on nothing but the request, the footage and the files it names.
"""

import hashlib
import weakref
from collections.abc import Callable, Iterator
from threading import Lock

from cachetools import LRUCache

from wenditas.compiled import engine
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import Footage, Memo, Node, Op, Sources, run
from wenditas.core.kernel import Picture
from wenditas.core.work.operation import reads
from wenditas.media.memory import room
from wenditas.media.reader import Reader
from wenditas.media.stills import encode_jpeg, encode_png
from wenditas.render.cache import ByteCache
from wenditas.render.frames import MEMORY_BYTES, ShownFrames
from wenditas.render.giving_up import checking
from wenditas.render.proxies import Proxies
from wenditas.render.request import Request
from wenditas.render.sources import KEPT_BYTES, Media, Readers, ScreenSources
from wenditas.render.things import Things

RESULT_BYTES, MEMO_BYTES, ENCODED_BYTES = 128 << 20, 256 << 20, 128 << 20
MOST_NAMED, MOST_RESOLVED = 4096, 32  # requests whose names, and whose operations, are remembered
KEEPING = {"live", "strip"}  # purposes whose sources and float pictures are kept; playback keeps only what it shows


def _nbytes(picture: Picture) -> int:
    return picture.nbytes


class Pictures:
    """Renders requests, with bounded caches of sources, results and encoded files."""

    def __init__(self, media: Media, proxies: Proxies | None = None, files: Files = NO_FILES) -> None:
        self.media, self.files, self._proxies = media, files, proxies
        self.readers = Readers(media)
        self.things = Things(self.readers.reader, media.cache_path("things"))
        self._engine = engine()
        self.shown_frames = ShownFrames(media.cache_path("frames"), room(MEMORY_BYTES))
        self.encoded_files: ByteCache[bytes] = ByteCache(room(ENCODED_BYTES), len)
        self._sources = {proxy: ByteCache[Picture](room(KEPT_BYTES if not proxy else KEPT_BYTES // 4), _nbytes) for proxy in (False, True)}
        self._results: ByteCache[Picture] = ByteCache(room(RESULT_BYTES), _nbytes)
        self._memo = Memo(room(MEMO_BYTES))
        self._names: LRUCache[object, tuple[weakref.ref[Node], str]] = LRUCache(MOST_NAMED)  # a slider makes a node for each picture: none of them is held
        self._resolved: LRUCache[object, tuple[Node, Op]] = LRUCache(MOST_RESOLVED)
        self._lock = Lock()

    def _reader_of(self, proxy: bool) -> Callable[[str, str, int], Reader]:
        def reader(digest: str, purpose: str, number: int) -> Reader:
            copy = self._proxies.reader(digest, purpose) if proxy and self._proxies else None
            return copy or self.readers.reader(digest, purpose, number)

        return reader

    def sources(self, purpose: str, proxy: bool = False) -> Sources:
        """Where frames come from for some purpose."""
        return ScreenSources(self._reader_of(proxy), self._sources[proxy], purpose, purpose in KEEPING, self.things)

    def op(self, request: Request) -> Op:
        """What is computed for a request, resolved once."""
        place = _place(request)
        with self._lock:
            kept = self._resolved.get(place)
        if kept is None or kept[0] is not request.node:
            kept = request.node, request.resolved()  # holding the node keeps its id from being used again
            with self._lock:
                self._resolved[place] = kept
        return kept[1]

    def key(self, request: Request) -> str:
        """The content key of a request: equal for requests that give the same picture, with the same engine."""
        place = _place(request)
        with self._lock:
            kept = self._names.get(place)
        if kept is None or kept[0]() is not request.node:
            kept = weakref.ref(request.node), hashlib.sha256(f"{self._engine} {self.op(request).digest}".encode()).hexdigest()
            with self._lock:
                self._names[place] = kept
        return kept[1]

    def picture(self, request: Request, purpose: str = "live") -> Picture:
        """The float picture of a request."""
        key = self.key(request)
        found = self._results.get(key)
        if found is None:
            found = self.render(request, self.sources(purpose, request.proxy))
            if purpose in KEEPING:
                self._results.put(key, found)
        return found

    def render(self, request: Request, sources: Sources, copies: str = "") -> Picture:
        """The float picture of a request from some sources, without remembering it. copies: of which kind of copies these are, other than the request says."""
        op = request.resolved(copies) if copies else self.op(request)
        return run(op, sources=sources, files=self.files, memo=self._memo, check=checking())

    def _read(self, request: Request) -> Iterator[tuple[Footage, int, tuple[int, int]]]:
        """The frames that have to be read for a request, with their sizes: not those that are remembered."""
        for leaf in reads(self.op(request), self._memo.get):
            yield (*leaf.params, leaf.size)

    def quick(self, request: Request, purpose: str) -> Request:
        """The request as it is shown while something moves: without what is seen at rest alone, through preview copies, unless the originals are at hand."""
        request = request.but(moving=True)
        if self._proxies is None:
            return request
        read = list(self._read(request))
        if all(self._proxies.reader(footage.content, purpose) is None for footage, _, _ in read):
            return request
        if purpose == "live" and all((footage.content, footage.fps, number, size) in self._sources[False] for footage, number, size in read):
            return request
        return request.but(proxy=True)

    def decode(self, request: Request, purpose: str) -> None:
        """Decode what a request is made from, so that rendering finds it in the reader: in order, whoever renders it then."""
        for footage, number, _ in sorted(self._read(request), key=lambda read: (read[0].content, read[1])):
            self._reader_of(request.proxy)(footage.content, purpose, number).frame(number)

    def prepare(self, request: Request, later: Request, purpose: str) -> None:
        """Open and place the decoders of what comes later, where it does not simply go on from what is decoded now."""
        now = [(footage.content, number) for footage, number, _ in self._read(request)]
        apart = 2 * (later.frame - request.frame)
        for footage, number, _ in self._read(later):
            if any(footage.content == content and 0 <= number - before <= apart for content, before in now):
                continue
            reader = self._reader_of(request.proxy)(footage.content, purpose, number)
            if not reader.ready_for(number):
                reader.frame(number)

    def encoded(self, request: Request, kind: str, purpose: str = "live") -> bytes:
        """The picture as a JPEG ("jpg", for motion) or PNG ("png", lossless) file."""
        key = (self.key(request), kind)
        found = self.encoded_files.get(key)
        if found is None:
            picture = self.picture(request, purpose)
            found = encode_jpeg(picture) if kind == "jpg" else encode_png(picture)
            self.encoded_files.put(key, found)
        return found


def _place(request: Request) -> object:
    return id(request.node), request.frame, request.size, request.shown, request.proxy, request.moving
