"""A 33³ LUT, tetrahedral, 8 bits in and out, on two threads: ours, OpenColorIO's CPU processor, FFmpeg's lut3d."""

import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import av
import cv2
import numpy as np
import PyOpenColorIO as ocio

from bench.timing import Work, against
from wenditas.core.files import Files
from wenditas.core.film import Footage, Memo, Shot, resolve, run
from wenditas.core.kernel import Picture
from wenditas.core.look.document import parse_look
from wenditas.core.tiles import Load
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import write_cube

SIZE, THREADS = 33, 2


def _lut() -> Lut:
    axis = np.linspace(0, 1, SIZE, dtype=np.float32)
    blue, green, red = np.meshgrid(axis, axis, axis, indexing="ij")
    return Lut("bent", np.stack([red**1.2 * 0.9, 0.8 * green + 0.2 * red, blue**0.8], axis=-1).astype(np.float32))


def _ours(codes: np.ndarray) -> Work:
    look = parse_look({"passes": [{"id": "l", "name": "l", "treatment": "lut", "params": {"lut": "bench"}}]})
    _, height, width = codes.shape
    op = resolve(Shot(of=Footage(content="codes", width=width, height=height, fps="24", frames=1), first=0, last=0, look=look, files=("bench",)), 0)
    out = np.empty_like(codes)
    unit, top = np.float32(1 / 255), np.float32(255)

    class Codes:
        def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
            return lambda first, tile: np.multiply(codes[:, first : first + tile.shape[1]], unit, out=tile)

        def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> None:
            return None

    def store(first: int, tile: Picture) -> None:
        tile *= top
        np.rint(tile, out=tile)
        np.clip(tile, 0, 255, out=tile)
        out[:, first : first + tile.shape[1]] = tile

    files, memo = Files({"bench": _lut()}), Memo()
    return lambda: run(op, sources=Codes(), files=files, memo=memo, store=store)


def _opencolorio(codes: np.ndarray) -> Work:
    lut = _lut()
    transform = ocio.Lut3DTransform(gridSize=SIZE)
    transform.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    transform.setData(np.ascontiguousarray(lut.table.transpose(2, 1, 0, 3)).ravel())
    processor = ocio.Config.CreateRaw().getProcessor(transform)
    cpu = processor.getOptimizedCPUProcessor(ocio.BIT_DEPTH_UINT8, ocio.BIT_DEPTH_UINT8, ocio.OPTIMIZATION_DEFAULT)
    pixels = np.ascontiguousarray(codes.transpose(1, 2, 0))
    halves = np.array_split(pixels, THREADS)
    pool = ThreadPoolExecutor(THREADS)

    def half(part: np.ndarray) -> None:
        cpu.apply(ocio.PackedImageDesc(np.ascontiguousarray(part), part.shape[1], part.shape[0], 3, ocio.BIT_DEPTH_UINT8, 1, 3, 3 * part.shape[1]))

    return lambda: list(pool.map(half, halves))


def _ffmpeg(codes: np.ndarray, folder: Path) -> Work:
    path = folder / "bench.cube"
    path.write_text(write_cube(_lut()))
    frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(codes.transpose(1, 2, 0)), format="rgb24").reformat(format="gbrp")
    graph = av.filter.Graph()
    graph.threads = THREADS
    source = graph.add_buffer(width=frame.width, height=frame.height, format=frame.format, time_base=av.time_base and "1/25")
    sink = graph.add("buffersink")
    graph.link_nodes(source, graph.add("lut3d", f"file={path}:interp=tetrahedral"), sink).configure()

    def run() -> None:
        graph.push(frame)
        graph.pull()

    return run


def measure(frame: Picture) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    picture = np.stack([cv2.resize(plane, (1920, 1080)) for plane in frame])
    codes = np.clip(picture * 255 + 0.5, 0, 255).astype(np.uint8)
    ours = _ours(codes)
    with tempfile.TemporaryDirectory() as name:
        theirs, filtered = against(ours, _opencolorio(codes)), against(ours, _ffmpeg(codes, Path(name)))
    line = f"{1000 * theirs.ours:.1f} ms; {theirs} OpenColorIO (target ≥ 1.2), {filtered} FFmpeg lut3d (target ≥ 1.5)"
    return [("33³ LUT, 1920 × 1080, 8 bit in and out, 2 threads", line)]
