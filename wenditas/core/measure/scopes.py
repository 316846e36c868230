"""Scopes: waveform, parade, vectorscope and histogram of a picture, as small pictures of their own.

Each is uint8 `(h, w, 3)`, black where nothing is; brightness tells how many pixels fall on a place.
Source: BT.709-6 signals: Y' and R'G'B' in percent of nominal range, C'b and C'r from -0.5 to 0.5.
"""

from typing import Literal, get_args

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Matte, Picture, finite, kernel
from wenditas.core.treat.parts.tables import KB, KG, KR

Scope = Literal["waveform", "parade", "vectorscope", "histogram"]
SCOPES: tuple[Scope, ...] = get_args(Scope)
WIDTH, HEIGHT = 256, 140
LOW, HIGH = -0.09, 1.09  # what waveforms show: a little below black and above white
SIDE = 256  # of the vectorscope
CHROMA = 0.6  # C'b and C'r at its edge: full signals reach 0.5
TALL = 100
INK = np.array([0.92, 0.92, 0.92])
CHANNELS = np.array([[1.0, 0.25, 0.22], [0.25, 0.9, 0.35], [0.35, 0.5, 1.0]])
BINS = 256

Pixels = npt.NDArray[np.uint8]
Counts = npt.NDArray[np.float32]


@kernel
def _by_column(plane, matte, columns, low, scale, counts):  # type: ignore[no-untyped-def]
    height, width = plane.shape
    last = counts.shape[0] - 1
    for y in range(height):
        for x in range(width):
            level = np.int32((plane[y, x] - low) * scale + np.float32(0.5))
            level = min(max(level, np.int32(0)), np.int32(last))
            counts[last - level, x * columns // width] += matte[y, x]


@kernel
def _by_chroma(picture, matte, scale, counts):  # type: ignore[no-untyped-def]
    side = counts.shape[0]
    middle = np.float32(side / 2)
    for y in range(picture.shape[1]):
        for x in range(picture.shape[2]):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            luma = KR * r + KG * g + KB * b
            cb, cr = (b - luma) / np.float32(1.8556), (r - luma) / np.float32(1.5748)
            column = min(max(np.int32(middle + cb * scale), 0), side - 1)
            row = min(max(np.int32(middle - cr * scale), 0), side - 1)
            counts[row, column] += matte[y, x]


def columns_of(plane: Matte, matte: Matte, columns: int = WIDTH, levels: int = HEIGHT) -> Counts:
    """How often each level (`LOW` at the bottom to `HIGH` at the top) occurs in each column of a plane `(h, w)`: `(levels, columns)`."""
    counts = np.zeros((levels, columns), np.float32)
    _by_column(np.ascontiguousarray(plane), matte, columns, np.float32(LOW), np.float32((levels - 1) / (HIGH - LOW)), counts)
    return counts


def chroma_of(picture: Picture, matte: Matte, side: int = SIDE) -> Counts:
    """How often each C'b (across) and C'r (up) occurs, -`CHROMA` to `CHROMA`: `(side, side)`."""
    counts = np.zeros((side, side), np.float32)
    _by_chroma(picture, matte, np.float32(side / 2 / CHROMA), counts)
    return counts


def histogram_of(plane: Matte, matte: Matte, bins: int = BINS) -> Counts:
    """Shares of pixels in even bins over 0-1, values beyond counted at the ends. Sums to 1 where anything is counted."""
    plane, matte = finite(plane), finite(matte)
    places = np.minimum((np.clip(plane, 0, 1) * bins).astype(np.int32), bins - 1)
    counts = np.bincount(places.ravel(), matte.ravel(), bins)
    return np.asarray(counts / max(float(matte.sum()), 1e-6), np.float32)


def _lit(counts: Counts, per: float) -> Counts:
    """Counts as brightness: a hundredth of a full load already shows."""
    return np.asarray(1 - np.exp(-counts / max(per, 1e-6) * 6), np.float32)


def _painted(light: Counts, ink: npt.ArrayLike) -> npt.NDArray[np.float64]:
    return np.asarray(light[..., None].astype(np.float64) * np.asarray(ink))


def _bytes(picture: npt.NDArray[np.float64]) -> Pixels:
    return np.asarray(np.clip(picture, 0, 1) * 255 + 0.5, np.uint8)


def _luma(picture: Picture) -> Matte:
    return np.asarray(KR * picture[0] + KG * picture[1] + KB * picture[2], np.float32)


def waveform(picture: Picture, matte: Matte) -> Pixels:
    """Luma of every column."""
    _, height, width = picture.shape
    return _bytes(_painted(_lit(columns_of(_luma(picture), matte), height * width / WIDTH / 8), INK))


def parade(picture: Picture, matte: Matte) -> Pixels:
    """Red, green and blue of every column, side by side."""
    _, height, width = picture.shape
    third = WIDTH // 3
    parts = [_painted(_lit(columns_of(picture[c], matte, third), height * width / third / 8), CHANNELS[c]) for c in range(3)]
    return _bytes(np.concatenate([*parts, np.zeros((HEIGHT, WIDTH - 3 * third, 3))], axis=1))


def vectorscope(picture: Picture, matte: Matte) -> Pixels:
    """C'b across, C'r up, painted in the colours that lie there."""
    counts = chroma_of(picture, matte)
    at = (np.arange(SIDE) + 0.5 - SIDE / 2) / (SIDE / 2) * CHROMA
    cb, cr = at[None, :], -at[:, None]
    r, b = 0.55 + 1.5748 * cr + 0 * cb, 0.55 + 1.8556 * cb + 0 * cr
    g = (0.55 - 0.2126 * r - 0.0722 * b) / 0.7152
    return _bytes(_lit(counts, picture.shape[1] * picture.shape[2] / 2000)[..., None] * np.clip(np.stack([r, g, b], axis=-1), 0.15, 1))


def histogram(picture: Picture, matte: Matte) -> Pixels:
    """Luma as a grey area, the channels as lines laid over."""
    out = np.zeros((TALL, BINS, 3))
    shares = [histogram_of(p, matte) for p in (_luma(picture), *picture)]
    top = max(float(np.quantile(np.concatenate(shares), 0.995)), 1e-6)
    rows = np.arange(TALL)[::-1][:, None]
    out[rows <= shares[0] / top * TALL] = 0.34
    for share, ink in zip(shares[1:], CHANNELS, strict=True):
        heights = np.where(share > 0, np.clip(share / top * (TALL - 1), 0, TALL - 1), -1)
        left = np.minimum(heights, np.roll(heights, 1))
        line = (rows >= np.floor(left)[None, :]) & (rows <= np.ceil(np.maximum(heights, np.roll(heights, 1)))[None, :])
        out += line[..., None] * ink * 0.8
    return _bytes(out)


MAKERS = {"waveform": waveform, "parade": parade, "vectorscope": vectorscope, "histogram": histogram}


def scope_picture(scope: Scope, picture: Picture, matte: Matte | None = None) -> Pixels:
    """A scope of a picture `(3, h, w)`, of what a matte `(h, w)` covers where one is given."""
    weight = np.ones(picture.shape[1:], np.float32) if matte is None else np.ascontiguousarray(matte, np.float32)
    return MAKERS[scope](picture, weight)
