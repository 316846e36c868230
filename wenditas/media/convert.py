"""Planar Y'CbCr code values to float R'G'B' tiles and back: Numba kernels.

The matrices are those of `wenditas.core.colour.ycbcr`, which is also the reference.
Chroma of 4:2:0 and 4:2:2 is sited left (ITU-T H.264, E.2.1, default for video): on the
even columns across, and for 4:2:0 half way between two lines; or in the centre (JFIF 1.02, 9):
half way between two columns too.
"""

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_601, Signal
from wenditas.core.kernel import Floats, Picture, apart, copy, fill, inline, kernel
from wenditas.core.tiles import run_tiles
from wenditas.media.levels import levels_of

HALF, QUARTER, THREE_QUARTERS, ZERO, ONE = (np.float32(v) for v in (0.5, 0.25, 0.75, 0, 1))
# JPEG (JFIF 1.02): full-range Y'CbCr with the weights of BT.601; chroma, where it is subsampled, in the middle of four pixels.
JPEG = np.array([*LUMA_601, 255, 0], np.float32)  # weights of luma, its span, black
PER_CB, PER_CR = np.float32(0.5 / (1 - LUMA_601[2])), np.float32(0.5 / (1 - LUMA_601[0]))
CODES, MIDDLE = np.float32(255), np.float32(128)


@kernel
def _chroma_line(plane, y, vertical, out):  # type: ignore[no-untyped-def]
    """The chroma samples that belong to luma line y, interpolated between lines where subsampled."""
    if not vertical:
        for x in range(out.size):
            out[x] = plane[y, x]
        return
    near = y >> 1
    far = min(max(near + (1 if y & 1 else -1), 0), plane.shape[0] - 1)
    for x in range(out.size):
        out[x] = THREE_QUARTERS * plane[near, x] + QUARTER * plane[far, x]


@kernel
def _widen(line, out):  # type: ignore[no-untyped-def]
    """Left-sited samples at every second column to every column."""
    last = line.size - 1
    for k in range(last):
        out[2 * k] = line[k]
        out[2 * k + 1] = HALF * (line[k] + line[k + 1])
    out[2 * last] = line[last]
    out[2 * last + 1] = line[last]


@kernel
def _widen_centred(line, out):  # type: ignore[no-untyped-def]
    """Samples sited between every two columns to every column."""
    last = line.size - 1
    for k in range(line.size):
        left, here, right = line[max(k - 1, 0)], line[k], line[min(k + 1, last)]
        out[2 * k] = THREE_QUARTERS * here + QUARTER * left
        out[2 * k + 1] = THREE_QUARTERS * here + QUARTER * right


@kernel
def _load(luma, cb, cr, first, end, horizontal, vertical, centred, scales, target, at):  # type: ignore[no-untyped-def]
    """Lines `first` to `end` of the planes to the rows of `target` from `at` on."""
    width = target.shape[2]
    columns = (width + 1) >> 1 if horizontal else width
    u, v = np.empty(columns, np.float32), np.empty(columns, np.float32)
    wide_u, wide_v = np.empty(2 * columns, np.float32), np.empty(2 * columns, np.float32)
    black, per_luma, zero = scales[0], scales[1], scales[2]
    red_cr, green_cb, green_cr, blue_cb = scales[3], scales[4], scales[5], scales[6]
    for y in range(first, end):
        row = at + y - first
        _chroma_line(cb, y, vertical, u)
        _chroma_line(cr, y, vertical, v)
        if horizontal and centred:
            _widen_centred(u, wide_u)
            _widen_centred(v, wide_v)
        elif horizontal:
            _widen(u, wide_u)
            _widen(v, wide_v)
        else:
            copy(u, wide_u)
            copy(v, wide_v)
        codes, r, g, b = luma[y], target[0, row], target[1, row], target[2, row]
        for x in range(width):
            light = (np.float32(codes[x]) - black) * per_luma
            du, dv = wide_u[x] - zero, wide_v[x] - zero
            r[x] = light + red_cr * dv
            g[x] = light + green_cb * du + green_cr * dv
            b[x] = light + blue_cb * du


def _load_scales(signal: Signal) -> Floats:
    kr, kg, kb = signal.luma
    per_chroma = 1 / signal.chroma_span
    red, blue = 2 * (1 - kr) * per_chroma, 2 * (1 - kb) * per_chroma
    values = [signal.black, 1 / signal.luma_span, signal.chroma_zero, red, -blue * kb / kg, -red * kr / kg, blue]
    return np.array(values, np.float32)


class Planes:
    """A decoded Y'CbCr frame: three planes of code values, each `(lines, stride)`, 8 or 16 bits."""

    def __init__(
        self,
        planes: tuple[np.ndarray, np.ndarray, np.ndarray],
        width: int,
        height: int,
        subsampled: tuple[bool, bool],
        signal: Signal,
        centred: bool = False,
    ) -> None:
        self.planes = planes
        self.width, self.height = width, height
        self.subsampled, self.centred = subsampled, centred  # horizontally, vertically; sited between the columns
        self._scales = _load_scales(signal)

    def load(self, first: int, tile: Picture) -> None:
        """Rows from `first` on into a tile, as float R'G'B'."""
        self._rows(first, first + tile.shape[1], tile, 0)

    def picture(self) -> Picture:
        """The whole frame as a float picture, on the thread pool."""
        out = np.empty((3, self.height, self.width), np.float32)
        run_tiles(self.height, self.width, lambda first, end, scratch: self._rows(first, end, out, first))
        return out

    def _rows(self, first: int, end: int, target: Picture, at: int) -> None:
        y, u, v = self.planes
        _load(y, u, v, first, end, self.subsampled[0], self.subsampled[1], self.centred, self._scales, target, at)

    @property
    def nbytes(self) -> int:
        """Memory held, for caches."""
        return sum(p.nbytes for p in self.planes)


def bayer(order: int = 3) -> Floats:
    """The ordered dither matrix of side 2**order, thresholds strictly between 0 and 1 (Bayer 1973)."""
    matrix = np.zeros((1, 1))
    for _ in range(order):
        matrix = np.block([[4 * matrix, 4 * matrix + 2], [4 * matrix + 3, 4 * matrix + 1]])
    return np.asarray((matrix + 0.5) / matrix.size, np.float32)


DITHER = bayer()


@inline
def _limited(value):  # type: ignore[no-untyped-def]
    return min(max(value, ZERO), ONE)


@apart
def _repeated(eight, to):  # type: ignore[no-untyped-def]
    """A row of the dither, again and again."""
    whole = to.size - to.size % 8
    for x in range(0, whole, 8):
        for k in range(8):
            to[x + k] = eight[k]
    for x in range(whole, to.size):
        to[x] = eight[x & 7]


@kernel
def _thresholds(dither, levels, row, to):  # type: ignore[no-untyped-def]
    """Thresholds of a row: those of the dither, and one half, which rounds, where the picture holds levels of its own (see `levels`)."""
    _repeated(dither, to)
    if levels.size:
        for x in range(to.size):
            to[x] = HALF if levels[row, x] else to[x]


@apart
def _add_light(r, g, b, scales, at, top, luma, sum_b, sum_r):  # type: ignore[no-untyped-def]
    """The luma of a row as code values, and its colour differences onto sums."""
    kr, kg, kb, span, black = scales[0], scales[1], scales[2], scales[3], scales[4]
    for x in range(luma.size):
        rx, gx, bx = _limited(r[x]), _limited(g[x]), _limited(b[x])
        y = kr * rx + kg * gx + kb * bx
        luma[x] = np.int32(min(y * span + black + at[x], top))
        sum_b[x] += bx - y
        sum_r[x] += rx - y


@kernel
def _store(tile, first, scales, dither, levels, top, luma, cb, cr):  # type: ignore[no-untyped-def]
    """Float rows to limited 4:2:0 code values; `first` and the number of rows are even."""
    width = tile.shape[2]
    per_cb, per_cr, zero = scales[5], scales[6], scales[7]
    sum_b, sum_r = np.empty(width + 2, np.float32), np.empty(width + 2, np.float32)
    at = np.empty(width, np.float32)
    for row in range(0, tile.shape[1], 2):
        fill(sum_b, np.float32(0))
        fill(sum_r, np.float32(0))
        for k in range(2):
            _thresholds(dither[(first + row + k) & 7], levels, row + k, at)
            light = luma[first + row + k, :width]
            _add_light(tile[0, row + k], tile[1, row + k], tile[2, row + k], scales, at, top, light, sum_b[1 : width + 1], sum_r[1 : width + 1])
        sum_b[0], sum_r[0] = sum_b[2], sum_r[2]
        thresholds, half = dither[((first + row) >> 1) & 7], (first + row) >> 1
        for x in range(width >> 1):
            c = 2 * x + 1
            u = (sum_b[c - 1] + sum_b[c] + sum_b[c] + sum_b[c + 1]) * per_cb + zero
            v = (sum_r[c - 1] + sum_r[c] + sum_r[c] + sum_r[c + 1]) * per_cr + zero
            exact = levels.size > 0 and levels[row, 2 * x] > 0 and levels[row + 1, 2 * x] > 0
            t = HALF if exact else thresholds[x & 7]
            cb[half, x] = np.int32(min(u + t, top))
            cr[half, x] = np.int32(min(v + t, top))


def _store_scales(signal: Signal) -> Floats:
    kr, kg, kb = signal.luma
    # Eight weighted samples are added up for each chroma value, hence the eighths.
    per_cb = signal.chroma_span / (2 * (1 - kb)) / 8
    per_cr = signal.chroma_span / (2 * (1 - kr)) / 8
    return np.array([kr, kg, kb, signal.luma_span, signal.black, per_cb, per_cr, signal.chroma_zero], np.float32)


class Out420:
    """Planes of a 4:2:0 frame of even size being filled, ordered dither on every sample but for levels of the picture's own."""

    def __init__(self, planes: tuple[np.ndarray, np.ndarray, np.ndarray], signal: Signal) -> None:
        self.planes = planes
        self._scales = _store_scales(signal)
        self._top = np.float32(2**signal.bits - 1)

    def store(self, first: int, tile: Picture) -> None:
        """A tile from row `first` on (both even), limited to 0-1, into the planes.

        A tile of odd size is completed by repeating its last row and column.
        """
        _, rows, width = tile.shape
        if rows % 2 or width % 2:
            tile = np.ascontiguousarray(np.pad(tile, ((0, 0), (0, rows % 2), (0, width % 2)), mode="edge"))
        y, u, v = self.planes
        _store(tile, first, self._scales, DITHER, levels_of(tile), self._top, y, u, v)


@kernel
def _store_wide(tile, first, scales, top, half, luma, cb, cr):  # type: ignore[no-untyped-def]
    """Float rows to limited 4:4:4 code values, or 4:2:2 ones where `half`, rounded; then the width is even."""
    width = tile.shape[2]
    kr, kg, kb = scales[0], scales[1], scales[2]
    span, black, per_cb, per_cr, zero = scales[3], scales[4], scales[5], scales[6], scales[7]
    line_b, line_r = np.empty(width + 2, np.float32), np.empty(width + 2, np.float32)
    for row in range(tile.shape[1]):
        r, g, b = tile[0, row], tile[1, row], tile[2, row]
        out, out_b, out_r = luma[first + row], cb[first + row], cr[first + row]
        for x in range(width):
            rx, gx, bx = _limited(r[x]), _limited(g[x]), _limited(b[x])
            y = kr * rx + kg * gx + kb * bx
            out[x] = np.int32(min(y * span + black + HALF, top))
            line_b[x + 1] = bx - y
            line_r[x + 1] = rx - y
        if half:
            line_b[0], line_r[0] = line_b[2], line_r[2]
            for x in range(width >> 1):
                c = 2 * x + 1
                u = (line_b[c - 1] + line_b[c] + line_b[c] + line_b[c + 1]) * (per_cb + per_cb)
                v = (line_r[c - 1] + line_r[c] + line_r[c] + line_r[c + 1]) * (per_cr + per_cr)
                out_b[x] = np.int32(min(u + zero + HALF, top))
                out_r[x] = np.int32(min(v + zero + HALF, top))
        else:
            for x in range(width):
                out_b[x] = np.int32(min(line_b[x + 1] * per_cb * np.float32(8) + zero + HALF, top))
                out_r[x] = np.int32(min(line_r[x + 1] * per_cr * np.float32(8) + zero + HALF, top))


class OutWide:
    """Planes of a frame of more than 8 bits, 4:4:4 or 4:2:2 (then of even width), being filled; values are rounded."""

    def __init__(self, planes: tuple[np.ndarray, np.ndarray, np.ndarray], signal: Signal, half: bool) -> None:
        self.planes, self._half = planes, half
        self._scales = _store_scales(signal)
        self._top = np.float32(2**signal.bits - 1)

    def store(self, first: int, tile: Picture) -> None:
        """A tile from row `first` on, limited to 0-1, into the planes. For 4:2:2 one of odd width is completed by repeating its last column."""
        if self._half and tile.shape[2] % 2:
            tile = np.ascontiguousarray(np.pad(tile, ((0, 0), (0, 0), (0, 1)), mode="edge"))
        _store_wide(tile, first, self._scales, self._top, self._half, *self.planes)


@kernel
def _store_rgb16(tile, first, r, g, b):  # type: ignore[no-untyped-def]
    for c in range(3):
        plane = r if c == 0 else g if c == 1 else b
        for row in range(tile.shape[1]):
            values, out = tile[c, row], plane[first + row]
            for x in range(tile.shape[2]):
                out[x] = np.uint16(np.int32(_limited(values[x]) * np.float32(65535) + HALF))


class OutRgb16:
    """Planes R, G, B of a 16-bit frame being filled; values are rounded."""

    def __init__(self, planes: tuple[np.ndarray, np.ndarray, np.ndarray]) -> None:
        self.planes = planes

    def store(self, first: int, tile: Picture) -> None:
        """A tile from row `first` on, limited to 0-1, into the planes."""
        _store_rgb16(tile, first, *self.planes)


@apart
def _codes(values, at, to):  # type: ignore[no-untyped-def]
    for x in range(to.size):
        to[x] = np.uint8(np.int32(_limited(values[x]) * CODES + at[x]))


@apart
def _interleaved(r, g, b, to):  # type: ignore[no-untyped-def]
    for x in range(r.size):
        to[3 * x], to[3 * x + 1], to[3 * x + 2] = r[x], g[x], b[x]


@kernel
def _store_rgb(tile, first, dither, levels, out):  # type: ignore[no-untyped-def]
    """Float rows to rows of `out`, each of which holds R, G, B after one another, pixel by pixel."""
    at, line = np.empty(tile.shape[2], np.float32), np.empty((3, tile.shape[2]), np.uint8)
    for row in range(tile.shape[1]):
        _thresholds(dither[(first + row) & 7], levels, row, at)
        for c in range(3):
            _codes(tile[c, row], at, line[c])
        _interleaved(line[0], line[1], line[2], out[first + row])


def store_rgb8(first: int, tile: Picture, out: np.ndarray) -> None:
    """A tile into rows of an 8-bit `(h, w, 3)` picture, limited to 0-1, ordered dither but for levels of its own."""
    _store_rgb(tile, first, DITHER, levels_of(tile), out.reshape(out.shape[0], -1))


def to_rgb8(picture: Picture) -> np.ndarray:
    """A whole float picture as 8-bit `(h, w, 3)`, limited to 0-1, ordered dither."""
    out = np.empty((*picture.shape[1:], 3), np.uint8)
    store_rgb8(0, picture, out)
    return out


@apart
def _chroma_codes(difference, scale, at, to):  # type: ignore[no-untyped-def]
    """Colour differences of a row as code values of a JPEG."""
    for x in range(to.size):
        to[x] = np.uint8(np.int32(min(difference[x] * scale * CODES + MIDDLE + at[x], CODES)))


@apart
def _pairs(row, to):  # type: ignore[no-untyped-def]
    """Sums of two by two."""
    for x in range(to.size):
        to[x] = row[2 * x] + row[2 * x + 1]


@kernel
def _store_jpeg(picture, first, end, dither, luma, cb, cr):  # type: ignore[no-untyped-def]
    width = picture.shape[2]
    at, blues, reds = np.empty(width, np.float32), np.empty(width, np.float32), np.empty(width, np.float32)
    for row in range(first, end):
        blues[:], reds[:] = ZERO, ZERO
        _repeated(dither[row & 7], at)
        _add_light(picture[0, row], picture[1, row], picture[2, row], JPEG, at, CODES, luma[row], blues, reds)
        _chroma_codes(blues, PER_CB, at, cb[row])
        _chroma_codes(reds, PER_CR, at, cr[row])


@kernel
def _store_jpeg_420(picture, first, end, dither, luma, cb, cr):  # type: ignore[no-untyped-def]
    """As `_store_jpeg`, with chroma of half the size; `first` is even, the last row and column stand for those that are missing."""
    _, height, width = picture.shape
    columns = (width + 1) >> 1
    blues, reds = np.empty(2 * columns, np.float32), np.empty(2 * columns, np.float32)
    at, sums = np.empty(2 * columns, np.float32), np.empty(columns, np.float32)
    for top in range(first, end, 2):
        blues[:], reds[:] = ZERO, ZERO
        for k in range(2):
            row = min(top + k, height - 1)
            _repeated(dither[row & 7], at)
            _add_light(picture[0, row], picture[1, row], picture[2, row], JPEG, at, CODES, luma[row], blues[:width], reds[:width])
        if width & 1:
            blues[width], reds[width] = blues[width - 1], reds[width - 1]
        _repeated(dither[(top >> 1) & 7], at)
        _pairs(blues, sums)
        _chroma_codes(sums, QUARTER * PER_CB, at, cb[top >> 1])
        _pairs(reds, sums)
        _chroma_codes(sums, QUARTER * PER_CR, at, cr[top >> 1])


def to_jpeg_planes(picture: Picture, subsampled: bool = False) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A float picture as the 8-bit Y', Cb, Cr planes of a JPEG, limited to 0-1, ordered dither. subsampled: chroma at half the size (4:2:0)."""
    _, height, width = picture.shape
    small = ((height + 1) // 2, (width + 1) // 2) if subsampled else (height, width)
    planes = np.empty((height, width), np.uint8), np.empty(small, np.uint8), np.empty(small, np.uint8)
    store = _store_jpeg_420 if subsampled else _store_jpeg
    run_tiles(height, width, lambda first, end, scratch: store(picture, first, end, DITHER, *planes))
    return planes
