"""Pictures for the screen, remembered by what they show.

A request is immutable; its answer depends on nothing but the request and the footage.
"""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Literal

import numpy as np

from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.measure.census import Up, census_picture
from wenditas.core.measure.pixel import pixel_report
from wenditas.core.measure.scopes import Scope, histogram_of, scope_picture
from wenditas.core.select.picks import sample, sample_box
from wenditas.core.select.selection import Moment, Selection
from wenditas.media.reader import fit, scale
from wenditas.media.stills import encode_bytes, encode_jpeg, encode_png
from wenditas.render.cache import ByteCache
from wenditas.render.frames import ShownFrames
from wenditas.render.giving_up import checking
from wenditas.render.library import Library
from wenditas.render.proxies import Proxies
from wenditas.render.request import FULL, Keys, Request

SOURCE_BYTES, RESULT_BYTES, MATTE_BYTES, ENCODED_BYTES = 256 << 20, 128 << 20, 64 << 20, 128 << 20
STRIP_COLUMNS, STRIP_HEIGHT, POSTER_WIDTH = 24, 40, 480
HISTOGRAM_BINS = 128
KEEPING = {"live", "near", "stage", "strip", "scope"}  # purposes whose sources and float pictures are kept
Of = Literal["result", "source", "inside", "outside"]


def _nbytes(picture: Picture) -> int:
    return picture.nbytes


class Pictures:
    """Renders requests, with bounded caches of sources, results and encoded files."""

    def __init__(self, library: Library, proxies: Proxies | None = None) -> None:
        self.library, self._proxies, self._keys = library, proxies, Keys()
        self._shown = ShownFrames(library.cache_path("frames"))
        self._sources: ByteCache[Picture] = ByteCache(SOURCE_BYTES, _nbytes)
        self._results: ByteCache[Picture] = ByteCache(RESULT_BYTES, _nbytes)
        self._mattes: ByteCache[Matte] = ByteCache(MATTE_BYTES, _nbytes)
        self._encoded: ByteCache[bytes] = ByteCache(ENCODED_BYTES, len)
        self._before: Request | None = None  # the last result that was rendered: what the next one may share with it

    def source(self, request: Request, purpose: str = "live") -> Picture:
        """The source frame of a request, at most as wide as it says."""
        facts = self.library.facts(request.footage_id)
        frame = 0 if facts.kind == "still" else request.frame
        key = self._source_key(request)
        found = self._sources.get(key)
        if found is None:
            copy = self._proxies.reader(request.footage_id, purpose) if request.proxy and self._proxies else None
            size = fit(facts, request.width)
            if copy is not None:
                found = scale(copy.picture(frame, fit(copy.facts, request.width)), size or (facts.height, facts.width))
            else:
                found = self.library.reader(request.footage_id, purpose).picture(frame, size)
            if purpose in KEEPING:  # playback keeps only what it shows, so that its memory is used again at once
                self._sources.put(key, found)
        return found

    def _source_key(self, request: Request) -> tuple[str, int, int, bool]:
        facts = self.library.facts(request.footage_id)
        return request.footage_id, 0 if facts.kind == "still" else request.frame, min(request.width, facts.width), request.proxy

    def key(self, request: Request) -> str:
        """The content key of a request: equal for requests that give the same picture."""
        return self._keys.of(request, float(self.library.facts(request.footage_id).frame_rate))

    def picture(self, request: Request, purpose: str = "live") -> Picture:
        """The float picture of a request."""
        key = self.key(request)
        found = self._results.get(key)
        if found is None:
            found = self._render(self._still(request), purpose)
            if purpose in KEEPING:
                self._results.put(key, found)
        return found

    def _still(self, request: Request) -> Request:
        """The request with every animated value worked out at its frame."""
        if not request.look.lanes:
            return request
        rate = float(self.library.facts(request.footage_id).frame_rate)
        return replace(request, look=look_at(request.look, request.frame, rate))

    def _render(self, request: Request, purpose: str) -> Picture:
        """Render a request, from the last stage that it shares with the one before where the passes up to there are the same."""
        source = self.source(request, purpose)
        moment = self._moment(request, purpose)
        shared = self._shared(request) if purpose == "live" and request.view == "result" else 0
        plan = compile_look(request.look, request.upto, request.view, request.selection, after=shared)
        if shared and not plan.over_time:
            return run_on_picture(plan, source, moment, self.picture(replace(request, upto=shared), "stage"))
        if shared:
            plan = compile_look(request.look, request.upto, request.view, request.selection)
        return run_on_picture(plan, source, moment)

    def _shared(self, request: Request) -> int:
        """How many passes at the beginning are as in the request before this one; 0 where nothing is won by that."""
        before, self._before = self._before, request
        if before is None or any(s.reads for s in request.look.selections):
            return 0
        if replace(before, look=request.look, upto=request.upto) != request:
            return 0
        ours, theirs = request.look, before.look
        end = len(ours.passes) if request.upto is None else request.upto
        same = 0
        for mine, other in zip(ours.passes[:end], theirs.passes, strict=False):
            if mine != other or (mine.selection and ours.selection(mine.selection) != theirs.selection(mine.selection)):
                break
            same += 1
        return same if same < end and any(p.on for p in ours.passes[:same]) else 0

    def scope(self, request: Request, scope: Scope, of: Of, purpose: str = "live", shown: Picture | None = None) -> bytes:
        """A scope as a PNG: of the result, the source, or the result inside or outside the request's selection.

        shown: the request's own picture where it is at hand, so that it is not rendered again.
        """
        counted = replace(request, view="source" if of == "source" else "result")
        inside = replace(request, view="matte") if of in ("inside", "outside") and request.selection is not None else None
        key = self._scope_key(request, scope, of)
        found = self._shown.get(key)
        if found is None:
            picture = shown if shown is not None and counted.view == request.view else self.picture(counted, purpose)
            matte = None if inside is None else self.picture(inside, purpose)[0]
            found = encode_bytes(scope_picture(scope, picture, 1 - matte if matte is not None and of == "outside" else matte))
            self._shown.put(key, found)
        return found

    def _scope_key(self, request: Request, scope: Scope, of: Of) -> tuple[str, ...]:
        selected = self.key(replace(request, view="matte")) if of in ("inside", "outside") and request.selection is not None else ""
        return "scope", scope, of, self.key(replace(request, view="source" if of == "source" else "result")), selected

    def quick(self, request: Request, purpose: str) -> Request:
        """The request as it is shown while something moves: through the preview copy, unless the original is at hand."""
        if self._proxies is None or self._proxies.reader(request.footage_id, purpose) is None:
            return request
        if purpose == "live" and self._source_key(request) in self._sources:
            return request
        return replace(request, proxy=True)

    def shown(self, request: Request, purpose: str, scope: Scope | None = None, of: Of = "result") -> tuple[bytes, bytes]:
        """What goes to the screen while something moves: the picture as a JPEG, and its scope (nothing where none is asked for).

        The float picture is rendered once for both.
        """
        key = self.key(request)
        picture = None
        jpeg = self._shown.get(key)
        if jpeg is None:
            picture = self.picture(request, purpose)
            jpeg = encode_jpeg(picture)
            self._shown.put(key, jpeg)
        return jpeg, b"" if scope is None else self.scope(request, scope, of, purpose, picture)

    def ready(self, request: Request, scope: Scope | None = None, of: Of = "result") -> bool:
        """Whether `shown` has its answer at hand."""
        return self.key(request) in self._shown and (scope is None or self._scope_key(request, scope, of) in self._shown)

    def decode(self, request: Request, purpose: str) -> None:
        """Decode the source of a request that is not ready, so that `shown` finds it in the reader: in order, whoever renders it then."""
        if self.ready(request):
            return
        copy = self._proxies.reader(request.footage_id, purpose) if request.proxy and self._proxies else None
        (copy or self.library.reader(request.footage_id, purpose)).frame(request.frame)

    def histogram(self, request: Request) -> dict[str, list[float]]:
        """Shares of pixels in even bins of luma and of each channel."""
        picture = self.picture(request)
        weight = np.ones(picture.shape[1:], np.float32)
        planes = {"luma": luma(picture).astype(np.float32), "red": picture[0], "green": picture[1], "blue": picture[2]}
        return {name: [round(float(v), 6) for v in histogram_of(plane, weight, HISTOGRAM_BINS)] for name, plane in planes.items()}

    def _moment(self, request: Request, purpose: str, width: int | None = None) -> Moment:
        facts = self.library.facts(request.footage_id)
        width = request.width if width is None else width
        check = checking()
        near = {"play": "near-play", "ahead": "near-ahead"}.get(purpose, "near")

        def neighbour(number: int) -> Picture:
            check()
            return self.source(replace(request, frame=min(max(number, 0), facts.length - 1), width=width), near)

        def memo(selection: Selection, compute: Callable[[], Matte]) -> Matte:
            key = (request.footage_id, request.frame, width, request.proxy, selection.model_dump_json(exclude={"id", "name"}))
            found = self._mattes.get(key)
            if found is None:
                found = compute()
                self._mattes.put(key, found)
            return found

        def alpha(number: int) -> Matte | None:
            return self.library.reader(request.footage_id, purpose).alpha(number, fit(facts, width)) if facts.alpha else None

        return Moment(request.frame, neighbour, alpha, memo, check)

    def encoded(self, request: Request, kind: str, purpose: str = "live") -> bytes:
        """The picture as a JPEG ("jpg", for motion) or PNG ("png", lossless) file."""
        key = (self.key(request), kind)
        found = self._encoded.get(key)
        if found is None:
            picture = self.picture(request, purpose)
            found = encode_jpeg(picture) if kind == "jpg" else encode_png(picture)
            self._encoded.put(key, found)
        return found

    def thumbnail(self, request: Request, width: int) -> bytes:
        """A small JPEG, rendered from a small source taken from the preview-sized one."""
        facts = self.library.facts(request.footage_id)
        size = fit(facts, width)
        key = (self.key(request), "thumb", width)
        found = self._encoded.get(key)
        if found is None:
            request = self._still(request)
            source = self.source(request)
            plan = compile_look(request.look, request.upto, request.view, request.selection)
            moment = self._moment(request, "live", width)
            found = encode_jpeg(run_on_picture(plan, source if size is None else scale(source, size), moment))
            self._encoded.put(key, found)
        return found

    def report(self, request: Request, x: float, y: float) -> dict[str, object]:
        """The pixel report at x, y (0-1), with the matte of the request's selection in percent."""
        shown = request if request.view in ("result", "source") else replace(request, view="source")
        found = pixel_report(self.picture(shown), x, y)
        answer: dict[str, object] = {"hex": found.hex, "hue": found.hue, "chroma": found.chroma, "lightness": found.lightness, "matte": None}
        if request.selection is not None:
            matte = self.matte(request)
            _, height, width = matte.shape
            answer["matte"] = float(matte[0, min(int(y * height), height - 1), min(int(x * width), width - 1)] * 100)
        return answer

    def matte(self, request: Request) -> Picture:
        """The matte of the request's selection, as a grey picture."""
        return self.picture(replace(request, view="matte", upto=None))

    def coverage(self, request: Request) -> float:
        """Share of the frame that the request's selection covers, in percent."""
        return float(self.matte(request)[0].mean(dtype=np.float64) * 100)

    def footage_frame(self, footage_id: str, frame: int, width: int, purpose: str = "live") -> Picture:
        """A frame of footage at most `width` wide, without any look."""
        return self.source(Request(footage_id, Look(), frame, width, "source"), purpose)

    def census(self, footage_id: str, frame: int, up: Up = "lightness") -> bytes:
        """The census of a source frame as a PNG."""
        key = (footage_id, frame, "census", up)
        found = self._encoded.get(key)
        if found is None:
            found = encode_png(census_picture(self.footage_frame(footage_id, frame, 640), up))
            self._encoded.put(key, found)
        return found

    def sample(self, footage_id: str, frame: int, x: float, y: float, patch: int, box: tuple[float, float] | None = None) -> tuple[float, float, float]:
        """The median colour around a place of a source frame, at full size: of a patch, or of a box (shares of width and height)."""
        if box is not None:
            return sample_box(self.footage_frame(footage_id, frame, FULL), x, y, *box)
        return sample(self.footage_frame(footage_id, frame, FULL), x, y, patch)

    def poster_file(self, footage_id: str) -> Path:
        """A picture from a third of the way in, as a JPEG file."""

        def make(part: Path) -> None:
            facts = self.library.facts(footage_id)
            part.write_bytes(encode_jpeg(self.footage_frame(footage_id, facts.length // 3, POSTER_WIDTH, "strip")))

        return self.library.cached_file(f"poster-{footage_id}.jpg", make)

    def strip_file(self, footage_id: str) -> Path:
        """A film strip: frames evenly spread over the footage, side by side, as a JPEG file."""

        def make(part: Path) -> None:
            facts = self.library.facts(footage_id)
            width = max(1, round(STRIP_HEIGHT * facts.width / facts.height))
            reader = self.library.reader(footage_id, "strip")
            cells = [reader.picture(int((n + 0.5) * facts.length / STRIP_COLUMNS), (STRIP_HEIGHT, width)) for n in range(STRIP_COLUMNS)]
            part.write_bytes(encode_jpeg(np.ascontiguousarray(np.concatenate(cells, axis=2)), 85))

        return self.library.cached_file(f"strip-{footage_id}.jpg", make)

    def make_ready(self, footage_id: str) -> None:
        """Make the poster and the strip now, so that no room waits for them."""
        self.poster_file(footage_id)
        self.strip_file(footage_id)
