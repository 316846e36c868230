"""Scopes, histograms and what is told of pixels, from the pictures of requests."""

from dataclasses import asdict
from typing import Literal

import numpy as np

from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Picture
from wenditas.core.measure.census import Up, census_picture
from wenditas.core.measure.pixel import pixel_report
from wenditas.core.measure.scopes import Scope, histogram_of, scope_picture
from wenditas.core.select.picks import sample, sample_box
from wenditas.media.stills import encode_bytes, encode_jpeg, encode_png
from wenditas.render.pictures import Pictures
from wenditas.render.request import FULL, Request

HISTOGRAM_BINS, CENSUS_WIDTH = 128, 640
MOVING = ("play", "ahead")  # purposes of which nobody sees one picture for long: their chroma is sent at half the size
Of = Literal["result", "source", "inside", "outside"]


class Scopes:
    """What is measured of pictures for the screen. What was shown is kept by content."""

    def __init__(self, pictures: Pictures) -> None:
        self._pictures = pictures
        self._shown = pictures.shown_frames

    def scope(self, request: Request, scope: Scope, of: Of, purpose: str = "live", shown: Picture | None = None) -> bytes:
        """A scope as a PNG: of the result, the source, or the result inside or outside the request's selection.

        shown: the request's own picture where it is at hand, so that it is not rendered again.
        """
        counted = request.but(view="source" if of == "source" else "result")
        inside = self._selected(request) if of in ("inside", "outside") and request.shown.selection is not None else None
        key = self._scope_key(request, scope, of)
        found = self._shown.get(key)
        if found is None:
            picture = shown if shown is not None and counted.shown.view == request.shown.view else self._pictures.picture(counted, purpose)
            matte = None if inside is None else self._pictures.picture(inside, purpose)[0]
            found = encode_bytes(scope_picture(scope, picture, 1 - matte if matte is not None and of == "outside" else matte))
            self._shown.put(key, found)
        return found

    def _scope_key(self, request: Request, scope: Scope, of: Of) -> tuple[str, ...]:
        selected = self._pictures.key(self._selected(request)) if of in ("inside", "outside") and request.shown.selection is not None else ""
        return "scope", scope, of, self._pictures.key(request.but(view="source" if of == "source" else "result")), selected

    def shown(self, request: Request, purpose: str, scope: Scope | None = None, of: Of = "result") -> tuple[bytes, bytes]:
        """What goes to the screen while something moves: the picture as a JPEG, and its scope (nothing where none is asked for).

        The float picture is rendered once for both.
        """
        key = self._pictures.key(request)
        picture = None
        jpeg = self._shown.get(key)
        if jpeg is None:
            picture = self._pictures.picture(request, purpose)
            jpeg = encode_jpeg(picture, subsampled=purpose in MOVING)
            self._shown.put(key, jpeg)
        return jpeg, b"" if scope is None else self.scope(request, scope, of, purpose, picture)

    def ready(self, request: Request, scope: Scope | None = None, of: Of = "result") -> bool:
        """Whether `shown` has its answer at hand."""
        return self._pictures.key(request) in self._shown and (scope is None or self._scope_key(request, scope, of) in self._shown)

    def histogram(self, request: Request) -> dict[str, list[float]]:
        """Shares of pixels in even bins of luma and of each channel."""
        picture = self._pictures.picture(request)
        weight = np.ones(picture.shape[1:], np.float32)
        planes = {"luma": luma(picture).astype(np.float32), "red": picture[0], "green": picture[1], "blue": picture[2]}
        return {name: [round(float(v), 6) for v in histogram_of(plane, weight, HISTOGRAM_BINS)] for name, plane in planes.items()}

    def report(self, request: Request, x: float, y: float) -> dict[str, object]:
        """The pixel report at x, y (0-1), with the matte of the request's selection in percent."""
        shown = request if request.shown.view in ("result", "source") else request.but(view="source")
        found = pixel_report(self._pictures.picture(shown), x, y)
        answer: dict[str, object] = {**asdict(found), "matte": None}
        if request.shown.selection is not None:
            matte = self.matte(request)
            _, height, width = matte.shape
            answer["matte"] = float(matte[0, min(int(y * height), height - 1), min(int(x * width), width - 1)] * 100)
        return answer

    def matte(self, request: Request) -> Picture:
        """The matte of the request's selection, as a grey picture."""
        return self._pictures.picture(self._selected(request))

    @staticmethod
    def _selected(request: Request) -> Request:
        """The matte of the request's selection: a measure, which is seen through nothing and belongs to no pass."""
        return request.but(view="matte", upto=None, sight="usual")

    def census(self, request: Request, up: Up = "lightness") -> bytes:
        """The census of the picture of a request as a PNG."""
        key = (self._pictures.key(request), "census", up)
        found = self._pictures.encoded_files.get(key)
        if found is None:
            found = encode_png(census_picture(self._pictures.picture(request), up))
            self._pictures.encoded_files.put(key, found)
        return found

    def sample(self, request: Request, x: float, y: float, patch: int, box: tuple[float, float] | None = None) -> tuple[float, float, float]:
        """The median colour around a place of a picture at full size: of a patch, or of a box (shares of width and height)."""
        picture = self._pictures.picture(request.but(width=FULL))
        return sample(picture, x, y, patch) if box is None else sample_box(picture, x, y, *box)
