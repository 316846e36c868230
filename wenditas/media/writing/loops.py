"""Short loops: animated WebP and GIF. Segments hold their pictures without loss; the loop is made of all of them at the join."""

from collections.abc import Iterator, Sequence
from functools import cache
from pathlib import Path

import av
import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.tone.patterns import blue_noise
from wenditas.media.writing.pictures import PNG_16, members
from wenditas.media.writing.record import Canvas, Format, SoundOf

COLOURS, SAMPLES = 255, 60_000  # of a palette; pixels that it is found from. One code is left for what is transparent
SPREAD = 0.6  # how far the dither reaches, in steps between neighbouring colours of the palette
QUALITY = {"fine": "92", "good": "80", "small": "55"}
TICKS = 100  # of GIF's clock, a second (GIF89a, 23)


def _frames(parts: Sequence[Path]) -> Iterator[np.ndarray]:
    """The pictures as float `(h, w, 3 or 4)`, R G B A, 0-1."""
    for _, opened in members(parts):
        with opened as source:
            image = cv2.imdecode(np.frombuffer(source.read(), np.uint8), cv2.IMREAD_UNCHANGED)
        assert image is not None, "a segment that this program wrote is whole"
        if image.ndim == 2:
            image = np.dstack([image] * 3)
        order = [2, 1, 0, 3][: image.shape[2]]
        yield image[:, :, order].astype(np.float32) / np.float32(65535)


def find_palette(parts: Sequence[Path], frames: int) -> np.ndarray:
    """Up to 255 colours, uint8 `(n, 3)`, for pictures: the middles of groups of pixels of all of them (k-means; Lloyd 1982)."""
    each = max(1, SAMPLES // max(frames, 1))
    chance = np.random.default_rng(0)
    found = []
    for image in _frames(parts):
        pixels = image[..., :3].reshape(-1, 3)
        found.append(pixels[chance.integers(0, len(pixels), min(each, len(pixels)))])
    samples = np.concatenate(found)
    distinct = np.unique(np.rint(samples * 255).astype(np.uint8), axis=0)
    if len(distinct) <= COLOURS:
        return distinct
    cv2.setRNGSeed(0)
    _, _, middles = cv2.kmeans(samples, COLOURS, None, (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 12, 1e-4), 1, cv2.KMEANS_PP_CENTERS)
    return np.unique(np.rint(np.clip(middles, 0, 1) * 255).astype(np.uint8), axis=0)


def _nearest(palette: np.ndarray) -> np.ndarray:
    """For each colour of a 32-cube, the nearest of the palette; and how far apart neighbours of it are."""
    axis = (np.arange(32, dtype=np.float32) + 0.5) / 32
    cube = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), -1).reshape(-1, 3)
    colours = palette.astype(np.float32) / 255
    distances = (cube**2).sum(1)[:, None] - 2 * cube @ colours.T + (colours**2).sum(1)
    nearest: npt.NDArray[np.uint8] = distances.argmin(1).astype(np.uint8).reshape(32, 32, 32)
    return nearest


@cache
def _noise() -> np.ndarray:
    return np.asarray(blue_noise(), np.float32)


def dithered(image: np.ndarray, palette: np.ndarray, nearest: np.ndarray) -> np.ndarray:
    """Indexes into a palette, `(h, w)` uint8. Blue-noise dither (Ulichney 1993) over the usual distance between its colours."""
    height, width = image.shape[:2]
    tile = _noise()
    noise = np.tile(tile, (height // tile.shape[0] + 1, width // tile.shape[1] + 1))[:height, :width, None] - np.float32(0.5)
    step = SPREAD * (1 / max(len(palette), 2)) ** (1 / 3) if len(palette) >= COLOURS // 2 else 0.0
    codes = np.clip((image[..., :3] + noise * np.float32(step)) * 32, 0, 31).astype(np.int64)
    chosen: npt.NDArray[np.uint8] = nearest[codes[..., 0], codes[..., 1], codes[..., 2]]
    return chosen


def join_gif(parts: Sequence[Path], target: Path, canvas: Canvas, frames: int, sound: SoundOf | None) -> None:
    """A GIF that plays for ever, with a palette of its own."""
    palette = find_palette(parts, frames)
    nearest = _nearest(palette)
    table = np.zeros((256, 4), np.uint8)
    table[:, 0] = 255  # alpha comes first
    table[: len(palette), 1:] = palette
    with av.open(str(target), "w", format="gif", options={"loop": "0"}) as out:
        stream = out.add_stream("gif", rate=canvas.rate)
        stream.width, stream.height, stream.pix_fmt = canvas.width, canvas.height, "pal8"
        stream.codec_context.time_base = 1 / canvas.rate
        for number, image in enumerate(_frames(parts)):
            frame = av.VideoFrame.from_ndarray((dithered(image, palette, nearest), table), format="pal8")
            frame.pts, frame.time_base = number, 1 / canvas.rate
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))


def join_webp(parts: Sequence[Path], target: Path, canvas: Canvas, frames: int, sound: SoundOf | None) -> None:
    """An animated WebP that plays for ever."""
    with av.open(str(target), "w", format="webp", options={"loop": "0"}) as out:
        stream = out.add_stream("libwebp_anim", rate=canvas.rate, options={"quality": QUALITY[canvas.quality], "loop": "0"})
        stream.width, stream.height, stream.pix_fmt = canvas.width, canvas.height, "bgra"
        stream.codec_context.time_base = 1 / canvas.rate
        for number, image in enumerate(_frames(parts)):
            alpha = image[..., 3:] if image.shape[2] == 4 else np.ones((*image.shape[:2], 1), np.float32)
            pixels = np.rint(np.concatenate([image[..., 2::-1], alpha], axis=2) * 255).astype(np.uint8)
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="bgra")
            frame.pts, frame.time_base = number, 1 / canvas.rate
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))


JOINED = "Made at the join, from pictures that the segments hold without loss: its colours depend on all of them."
WEBP = Format(
    "webp", "Animated WebP", "A loop for a page; can carry alpha.", ".webp", JOINED, PNG_16.begin, join_webp, ".zip",
    alpha=True, choose=True, loop=True,
)  # fmt: skip
GIF = Format(
    "gif",
    "GIF",
    "A loop that plays everywhere: 255 colours of its own, dithered.",
    ".gif",
    JOINED,
    PNG_16.begin,
    join_gif,
    ".zip",
    loop=True,
    most_rate=TICKS // 2,
)
