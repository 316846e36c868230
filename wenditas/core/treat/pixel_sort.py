"""Pixel sort: runs of bright pixels put in order along a direction."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.params import Params, choice, percent
from wenditas.core.tiles import run_tiles
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

Direction = Literal["right", "left", "down", "up"]


class PixelSort(Params):
    """What is sorted, and which way it grows brighter."""

    low: float = percent(40, "Above", "Pixels darker than this stay where they are.")
    high: float = percent(100, "Below", "Pixels brighter than this stay where they are.")
    direction: Direction = choice("right", "Brighter towards", "The way along which a run grows brighter.")


def _turned(picture: Picture, direction: Direction) -> Picture:
    """The picture so that the direction goes right; its own inverse but for the contiguous copy."""
    turned = picture.transpose(0, 2, 1) if direction in ("down", "up") else picture
    return turned[:, :, ::-1] if direction in ("left", "up") else turned


def _back(picture: Picture, direction: Direction) -> Picture:
    flipped = picture[:, :, ::-1] if direction in ("left", "up") else picture
    return flipped.transpose(0, 2, 1) if direction in ("down", "up") else flipped


def pixel_sort(picture: Picture, params: PixelSort, at: At) -> Picture:
    """Every run of pixels with luma between the limits, along rows or columns, sorted by luma; a stable sort.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: sorting, by definition.
    """
    turned = as_picture(_turned(picture, params.direction)).copy()
    grey = _luma(turned)
    inside = (grey >= params.low / 100) & (grey <= params.high / 100)
    for y in range(turned.shape[1]):
        edges = np.flatnonzero(np.diff(np.concatenate([[False], inside[y], [False]]).astype(int)))
        for start, end in zip(edges[::2], edges[1::2], strict=True):
            turned[:, y, start:end] = turned[:, y, start + np.argsort(grey[y, start:end], kind="stable")]
    return as_picture(_back(turned, params.direction))


def _luma(picture: Picture) -> Floats:
    """Luma in float32, so that ties fall as in the kernel."""
    return np.asarray(KR * picture[0] + KG * picture[1] + KB * picture[2])


@kernel
def _sort_rows(picture, low, high, first, end, out):  # type: ignore[no-untyped-def]
    width = picture.shape[2]
    grey = np.empty(width, np.float32)
    for y in range(first, end):
        for x in range(width):
            grey[x] = KR * picture[0, y, x] + KG * picture[1, y, x] + KB * picture[2, y, x]
        x = 0
        while x < width:
            start = x
            while x < width and grey[x] >= low and grey[x] <= high:
                x += 1
            if x == start:
                for c in range(3):
                    out[c, y, x] = picture[c, y, x]
                x += 1
                continue
            order = np.argsort(grey[start:x], kind="mergesort")
            for n in range(x - start):
                for c in range(3):
                    out[c, y, start + n] = picture[c, y, start + order[n]]


def prepare(params: PixelSort) -> Apply:
    """`pixel_sort` on whole frames."""
    low, high = np.float32(params.low / 100), np.float32(params.high / 100)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        turned = as_picture(_turned(tile, params.direction))
        done = np.empty_like(turned)
        run_tiles(turned.shape[1], turned.shape[2], lambda first, end, scratch: _sort_rows(turned, low, high, first, end, done))
        out[:] = _back(done, params.direction)

    return apply


TREATMENT = Treatment(
    id="pixel-sort",
    name="Pixel sort",
    group="break",
    summary="Puts runs of bright pixels in order, so that they melt along a direction.",
    intents=("melt", "drip", "streaks"),
    source="Sorting, by definition",
    check="NumPy sort of each run; every pixel is kept",
    params=PixelSort,
    reference=pixel_sort,
    prepare=prepare,
    reach=on_frames,
    grainy=True,
)
