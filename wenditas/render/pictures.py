"""Pictures for the screen, remembered by what they show.

A request is plain data; its answer depends on nothing but the request, the footage and the files it names.
"""

import hashlib
from collections.abc import Callable

from wenditas.compiled import engine
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import Keys, Memo, Shot, Sources, Span, footage_at, render
from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look
from wenditas.core.measure.steps import amplified
from wenditas.media.reader import Reader
from wenditas.media.reading import sight, through
from wenditas.media.stills import encode_jpeg, encode_png
from wenditas.render.cache import ByteCache
from wenditas.render.frames import ShownFrames
from wenditas.render.giving_up import checking
from wenditas.render.proxies import Proxies
from wenditas.render.request import Request
from wenditas.render.sources import KEPT_BYTES, Media, Readers, ScreenSources

RESULT_BYTES, MEMO_BYTES, ENCODED_BYTES = 128 << 20, 256 << 20, 128 << 20
KEEPING = {"live", "strip"}  # purposes whose sources and float pictures are kept; playback keeps only what it shows


def _nbytes(picture: Picture) -> int:
    return picture.nbytes


class Pictures:
    """Renders requests, with bounded caches of sources, results and encoded files."""

    def __init__(self, media: Media, proxies: Proxies | None = None, files: Files = NO_FILES) -> None:
        self.media, self.files, self._proxies = media, files, proxies
        self.readers = Readers(media)
        self.keys = Keys(engine())
        self.shown_frames = ShownFrames(media.cache_path("frames"))
        self.encoded_files: ByteCache[bytes] = ByteCache(ENCODED_BYTES, len)
        self._sources = {proxy: ByteCache[Picture](KEPT_BYTES if not proxy else KEPT_BYTES // 4, _nbytes) for proxy in (False, True)}
        self._results: ByteCache[Picture] = ByteCache(RESULT_BYTES, _nbytes)
        self._memos = {proxy: Memo(self.keys, MEMO_BYTES, "proxy" if proxy else "") for proxy in (False, True)}
        self._before: Request | None = None  # the last result that was rendered: what the next one may share with it

    def _reader_of(self, proxy: bool) -> Callable[[str, str, int], Reader]:
        def reader(digest: str, purpose: str, number: int) -> Reader:
            copy = self._proxies.reader(digest, purpose) if proxy and self._proxies else None
            return copy or self.readers.reader(digest, purpose, number)

        return reader

    def sources(self, purpose: str, proxy: bool = False) -> Sources:
        """Where frames come from for some purpose."""
        return ScreenSources(self._reader_of(proxy), self._sources[proxy], purpose, purpose in KEEPING)

    def key(self, request: Request) -> str:
        """The content key of a request: equal for requests that give the same picture."""
        shown = self.keys.of(request.node, request.frame, request.view, request.selection, request.upto)
        return hashlib.sha256(f"{shown} {request.size} {request.view} {request.proxy} {request.sight}".encode()).hexdigest()

    def picture(self, request: Request, purpose: str = "live") -> Picture:
        """The float picture of a request."""
        key = self.key(request)
        found = self._results.get(key)
        if found is None:
            found = self._render(request, purpose)
            if purpose in KEEPING:
                self._results.put(key, found)
        return found

    def _render(self, request: Request, purpose: str) -> Picture:
        if purpose == "live" and request.view == "result":
            self._memos[request.proxy].keep = self._shared(request)
        picture = self.render(request, self.sources(purpose, request.proxy))
        if request.sight == "usual":
            return picture
        return amplified(picture) if request.sight == "steps" else through(sight(request.sight), picture)

    def render(self, request: Request, sources: Sources) -> Picture:
        """The float picture of a request from some sources, without remembering it."""
        memo, view = self._memos[request.proxy], (request.view, request.upto, request.selection)
        return render(request.node, request.frame, request.size, *view, sources=sources, files=self.files, memo=memo, check=checking())

    def _shared(self, request: Request) -> tuple[int, int] | None:
        """The look of a request, and how many passes at its beginning are as in the request before this one; None where nothing is won by that."""
        before, self._before = self._before, request
        ours, theirs = look_of(request), None if before is None else look_of(before)
        if before is None or ours is None or theirs is None or any(s.reads for s in (*ours.selections, *theirs.selections)):
            return None
        if (before.frame, before.size, before.upto, before.proxy) != (request.frame, request.size, request.upto, request.proxy):
            return None
        end = len(ours.passes) if request.upto is None else request.upto
        same = 0
        for mine, other in zip(ours.passes[:end], theirs.passes, strict=False):
            if mine != other or (mine.selection and ours.selection(mine.selection) != theirs.selection(mine.selection)):
                break
            same += 1
        return (id(ours), same) if 0 < same < end and any(p.on for p in ours.passes[:same]) else None

    def quick(self, request: Request, purpose: str) -> Request:
        """The request as it is shown while something moves: through preview copies, unless the originals are at hand."""
        if self._proxies is None:
            return request
        shown = list(footage_at(request.node, request.frame))
        if all(self._proxies.reader(footage.content, purpose) is None for footage, _ in shown):
            return request
        if purpose == "live" and all((f.content, f.fps, n, request.size) in self._sources[False] for f, n in shown):
            return request
        return request.but(proxy=True)

    def decode(self, request: Request, purpose: str) -> None:
        """Decode what a request is made from, so that rendering finds it in the reader: in order, whoever renders it then."""
        for footage, number in footage_at(request.node, request.frame):
            self._reader_of(request.proxy)(footage.content, purpose, number).frame(number)

    def prepare(self, request: Request, later: Request, purpose: str) -> None:
        """Open and place the decoders of what comes later, where it does not simply go on from what is decoded now."""
        now = [(footage.content, number) for footage, number in footage_at(request.node, request.frame)]
        apart = 2 * (later.frame - request.frame)
        for footage, number in footage_at(later.node, later.frame):
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


def look_of(request: Request) -> Look | None:
    """The look that a request is about, where its node has one."""
    return request.node.look if isinstance(request.node, Shot | Span) else None
