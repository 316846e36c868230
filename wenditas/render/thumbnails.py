"""Small pictures: of stages, treatments and looks on a frame; posters and film strips of footage."""

from pathlib import Path

import numpy as np

from wenditas.core.film import Footage
from wenditas.core.kernel import Picture
from wenditas.core.tiles import Held, Load
from wenditas.media.reader import scale
from wenditas.media.stills import encode_jpeg
from wenditas.render.pictures import Pictures
from wenditas.render.request import Request

STRIP_COLUMNS, STRIP_HEIGHT, POSTER_WIDTH = 24, 96, 480
Part = tuple[float, float, float, float]  # left, top, right, bottom, as shares of a picture
ROOM, LEAST_PART, MOST_PART, SEEN = 1.3, 0.15, 0.6, 0.3
PREVIEW = 960  # small pictures are scaled down from pictures of that width, which are at hand


class _Smaller:
    """Sources scaled down from larger pictures that are kept."""

    def __init__(self, pictures: Pictures) -> None:
        self._sources = pictures.sources("live")

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
        large = (footage.height, footage.width) if footage.width <= PREVIEW else (max(1, round(footage.height * PREVIEW / footage.width)), PREVIEW)
        return Held(scale(self._sources.picture(footage, frame, large), size))  # type: ignore[attr-defined]

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]):  # type: ignore[no-untyped-def]
        return self._sources.alpha(footage, frame, size)

    def thing(self, footage: Footage, frame: int, strokes: object, size: tuple[int, int]):  # type: ignore[no-untyped-def]
        return self._sources.thing(footage, frame, strokes, size)


def _cut(picture: Picture, part: Part) -> Picture:
    height, width = picture.shape[1:]
    left, top, right, bottom = part
    return np.ascontiguousarray(picture[:, round(top * height) : round(bottom * height), round(left * width) : round(right * width)])


class Thumbnails:
    """Small pictures, remembered by content."""

    def __init__(self, pictures: Pictures) -> None:
        self._pictures = pictures

    def thumbnail(self, request: Request, part: Part | None = None) -> bytes:
        """A small JPEG, rendered from a small source taken from the preview-sized one. part: of the picture, as shares of it."""
        key = (self._pictures.key(request), "thumb", part)
        found = self._pictures.encoded_files.get(key)
        if found is None:
            picture = self._pictures.render(request, _Smaller(self._pictures), "smaller")
            found = encode_jpeg(picture if part is None else _cut(picture, part))
            self._pictures.encoded_files.put(key, found)
        return found

    def part(self, request: Request) -> Part | None:
        """Where in the picture the matte of a request's selection lies, with room around it; None where that is most of it, or nothing."""
        matte = self._pictures.render(request.but(view="matte"), _Smaller(self._pictures), "smaller")[0]
        rows, columns = np.flatnonzero((matte > SEEN).any(axis=1)), np.flatnonzero((matte > SEEN).any(axis=0))
        if rows.size == 0:
            return None
        top, bottom, left, right = rows[0] / matte.shape[0], (rows[-1] + 1) / matte.shape[0], columns[0] / matte.shape[1], (columns[-1] + 1) / matte.shape[1]
        side = max(bottom - top, right - left) * ROOM
        if side >= MOST_PART:
            return None
        side = max(side, LEAST_PART)
        x, y = (min(max((a + b - side) / 2, 0), 1 - side) for a, b in ((left, right), (top, bottom)))
        return round(x, 3), round(y, 3), round(x + side, 3), round(y + side, 3)

    def poster(self, footage: Footage) -> Path:
        """A picture from a third of the way in, as a JPEG file."""

        def make(part: Path) -> None:
            request = Request(node=footage, frame=footage.length // 3, width=POSTER_WIDTH)
            part.write_bytes(encode_jpeg(self._pictures.picture(request, "strip")))

        return self._pictures.media.cached_file(f"poster-{footage.content}.jpg", make)

    def strip(self, footage: Footage) -> Path:
        """A film strip: frames evenly spread over the footage, side by side, as a JPEG file."""

        def make(part: Path) -> None:
            size = STRIP_HEIGHT, max(1, round(STRIP_HEIGHT * footage.width / footage.height))
            reader = self._pictures.readers.reader(footage.content, "strip")
            cells = [reader.picture(int((n + 0.5) * footage.length / STRIP_COLUMNS), size) for n in range(STRIP_COLUMNS)]
            part.write_bytes(encode_jpeg(np.ascontiguousarray(np.concatenate(cells, axis=2)), 85))

        return self._pictures.media.cached_file(f"film-{footage.content}.jpg", make)

    def make_ready(self, footage: Footage) -> None:
        """Make the poster and the strip now, so that no room waits for them."""
        self.poster(footage)
        self.strip(footage)


def small(picture: Picture, width: int) -> Picture:
    """A picture at most so wide."""
    _, h, w = picture.shape
    return picture if w <= width else scale(picture, (max(1, round(h * width / w)), width))
