"""Pictures put together from other places of themselves."""

from collections.abc import Callable
from typing import Literal

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.tiles import run_tiles
from wenditas.core.treat.parts.blurs import sample

Edge = Literal["stretch", "mirror", "repeat", "black"]
EDGES: tuple[Edge, ...] = ("stretch", "mirror", "repeat", "black")
Places = Callable[[int, int], tuple[Floats, Floats]]
Whole = npt.NDArray[np.int32]


def fold(at: Floats, size: int, edge: Edge) -> Floats:
    """Places beyond 0 to `size - 1` brought back: the edge stretched, mirrored or repeated. "black" leaves them outside."""
    if edge == "mirror":
        turn = max(2 * (size - 1), 1)
        at = np.abs(at) % turn
        return np.where(at > size - 1, turn - at, at)
    if edge == "repeat":
        return at % size
    return np.clip(at, 0, size - 1)


def gather(picture: Picture, y: Floats, x: Floats, edge: Edge = "stretch") -> Picture:
    """Bilinear samples of every channel at places in pixels, `(h, w)` each. Source: definition of bilinear interpolation."""
    _, height, width = picture.shape
    inside = (y > -1) & (y < height) & (x > -1) & (x < width) if edge == "black" else True
    fy, fx = fold(y, height, edge), fold(x, width, edge)
    return as_picture(np.stack([np.where(inside, sample(plane.astype(np.float64), fy, fx), 0) for plane in picture]))


@kernel
def _fold_one(at, size, edge):  # type: ignore[no-untyped-def]
    last = np.float32(size - 1)
    if edge == 1:
        turn = max(last + last, np.float32(1))
        at = abs(at)
        at = at - turn * np.floor(at / turn)
        at = turn - at if at > last else at
    elif edge == 2:
        at = at - np.float32(size) * np.floor(at / np.float32(size))
    return min(max(at, np.float32(0)), last)


@kernel
def _gather_rows(picture, ys, xs, edge, first, out):  # type: ignore[no-untyped-def]
    height, width = picture.shape[1], picture.shape[2]
    for row in range(ys.shape[0]):
        for x in range(ys.shape[1]):
            sy, sx = ys[row, x], xs[row, x]
            black = edge == 3 and not (sy > np.float32(-1) and sy < np.float32(height) and sx > np.float32(-1) and sx < np.float32(width))
            sy, sx = _fold_one(sy, height, edge), _fold_one(sx, width, edge)
            top, left = np.int32(sy), np.int32(sx)
            below, right = min(top + 1, height - 1), min(left + 1, width - 1)
            fy, fx = sy - np.float32(top), sx - np.float32(left)
            for c in range(picture.shape[0]):
                upper = picture[c, top, left] + (picture[c, top, right] - picture[c, top, left]) * fx
                lower = picture[c, below, left] + (picture[c, below, right] - picture[c, below, left]) * fx
                out[c, first + row, x] = np.float32(0) if black else upper + (lower - upper) * fy


@kernel
def _grid_rows(picture, tops, fys, lefts, fxs, first, end, out):  # type: ignore[no-untyped-def]
    """Bilinear samples where rows and columns are chosen apart: two rows mixed once, then samples along them."""
    height, width = picture.shape[1], picture.shape[2]
    row = np.empty(width, np.float32)
    for c in range(picture.shape[0]):
        for y in range(first, end):
            top, fy = tops[y], fys[y]
            upper, lower, to = picture[c, top], picture[c, min(top + 1, height - 1)], out[c, y]
            for x in range(width):
                row[x] = upper[x] + (lower[x] - upper[x]) * fy
            for x in range(width):
                left = np.uint32(lefts[x])
                right = np.uint32(min(lefts[x] + 1, width - 1))
                to[x] = row[left] + (row[right] - row[left]) * fxs[x]


def _split(at: Floats, size: int, edge: Edge) -> tuple[npt.NDArray[np.int32], Picture]:
    places = fold(np.asarray(at, np.float64), size, edge)
    whole = np.clip(np.floor(places), 0, size - 1).astype(np.int32)
    return whole, as_picture(places - whole)


def gather_grid(picture: Picture, rows: Floats, columns: Floats, edge: Edge, out: Picture) -> None:
    """`gather` where the row of a sample depends on y alone and the column on x alone: `rows` `(h,)`, `columns` `(w,)`."""
    _, height, width = picture.shape
    tops, fys = _split(rows, height, edge)
    lefts, fxs = _split(columns, width, edge)
    run_tiles(height, width, lambda first, end, scratch: _grid_rows(picture, tops, fys, lefts, fxs, first, end, out))


@kernel
def _mirrored(at, size):  # type: ignore[no-untyped-def]
    turn = max(2 * (size - 1), 1)
    at = abs(at) % turn
    return turn - at if at > size - 1 else at


@kernel
def _cell_rows(picture, row_of, column_of, dys, dxs, first, end, out):  # type: ignore[no-untyped-def]
    height, width = picture.shape[1], picture.shape[2]
    for y in range(first, end):
        i = row_of[y]
        for x in range(width):
            j = column_of[x]
            sy, sx = _mirrored(y + dys[i, j], height), _mirrored(x + dxs[i, j], width)
            for c in range(3):
                out[c, y, x] = picture[c, sy, sx]


def cells_reference(picture: Picture, row_of: Whole, column_of: Whole, dys: Whole, dxs: Whole) -> Picture:
    """`gather_cells` by `gather`."""
    y, x = np.mgrid[0 : picture.shape[1], 0 : picture.shape[2]].astype(np.float64)
    places = np.ix_(row_of, column_of)
    return gather(picture, y + dys[places], x + dxs[places], "mirror")


def gather_cells(picture: Picture, row_of: Whole, column_of: Whole, dys: Whole, dxs: Whole, out: Picture) -> None:
    """Every pixel taken from some whole pixels away, by its cell: `row_of` `(h,)` and `column_of` `(w,)` number the cells; mirrored beyond the edge."""
    run_tiles(picture.shape[1], picture.shape[2], lambda first, end, scratch: _cell_rows(picture, row_of, column_of, dys, dxs, first, end, out))


def gather_by(picture: Picture, places: Places, edge: Edge, out: Picture) -> None:
    """`gather` by tiles: `places(first, end)` gives the rows and columns to sample, each `(rows, w)`."""
    number = EDGES.index(edge)

    def work(first: int, end: int, scratch: object) -> None:
        y, x = places(first, end)
        shape = (end - first, picture.shape[2])
        _gather_rows(picture, as_picture(np.broadcast_to(y, shape)), as_picture(np.broadcast_to(x, shape)), number, first, out)

    run_tiles(picture.shape[1], picture.shape[2], work)
