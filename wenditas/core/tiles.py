"""Pointwise work, a few rows at a time, on a small thread pool.

A tile of some rows stays in the second-level cache across all passes of a run, and the
kernels hold no GIL, so plain threads are enough.
"""

import os
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass

import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture

THREADS = "WENDITAS_THREADS"  # how many threads a process may use for tiles: where several processes share a machine, its cores divided by their number


def _workers() -> int:
    told = os.environ.get(THREADS, "")
    return max(1, min(64, int(told))) if told.isdecimal() else max(1, min(8, os.cpu_count() or 1))


WORKERS = _workers()
TILE_PIXELS = 24 * 1024  # about 300 KiB a picture tile: smaller ones cost more calls than they win in cache
_pool = ThreadPoolExecutor(WORKERS, thread_name_prefix="tiles")
_here = threading.local()


@contextmanager
def single_threaded() -> Iterator[None]:
    """Within this block this thread runs all its tiles itself: for work that is not to get in the way of other work."""
    _here.alone = True
    try:
        yield
    finally:
        _here.alone = False


@dataclass
class Scratch:
    """The buffers of one worker, cut to contiguous tiles of the height asked for."""

    width: int
    rows: int

    def __post_init__(self) -> None:
        self._flat: dict[int, Picture] = {}
        self._mattes: dict[int, Matte] = {}

    def picture(self, n: int, rows: int) -> Picture:
        """Buffer n (0 source, 1 running, 2 treated) as `(3, rows, width)`, made on first use."""
        if n not in self._flat:
            self._flat[n] = np.empty(3 * self.rows * self.width, np.float32)
        return self._flat[n][: 3 * rows * self.width].reshape(3, rows, self.width)

    def matte(self, n: int, rows: int) -> Matte:
        """Matte buffer n as `(rows, width)`, made on first use."""
        if n not in self._mattes:
            self._mattes[n] = np.empty(self.rows * self.width, np.float32)
        return self._mattes[n][: rows * self.width].reshape(rows, self.width)


Work = Callable[[int, int, Scratch], None]
Load = Callable[[int, Picture], None]  # the first row, and the tile to fill


def rows_per_tile(width: int) -> int:
    """An even number of rows whose picture fits in cache (even, for subsampled chroma)."""
    return max(2, TILE_PIXELS // max(width, 1) // 2 * 2)


def run_tiles(height: int, width: int, work: Work, workers: int = WORKERS) -> None:
    """Call `work(first row, last row + 1, scratch)` for every tile of the frame, in parallel."""
    rows = rows_per_tile(width)
    starts = list(range(0, height, rows))
    lanes = 1 if getattr(_here, "alone", False) else min(workers, len(starts))

    def lane(n: int) -> None:
        scratch = Scratch(width, rows)
        for start in starts[n::lanes]:
            work(start, min(start + rows, height), scratch)

    if lanes == 1:
        lane(0)
    else:
        for future in [_pool.submit(lane, n) for n in range(lanes)]:
            future.result()


def copy_rows(source: Floats, first: int, tile: Picture) -> None:
    """Rows of a float picture into a tile."""
    tile[:] = source[:, first : first + tile.shape[1]]


class Held:
    """A float picture or matte that is there as a whole, to be loaded tile by tile."""

    def __init__(self, array: Floats) -> None:
        self.array = array

    def __call__(self, first: int, tile: Picture) -> None:
        """Rows of it into a tile."""
        tile[:] = self.array[..., first : first + tile.shape[-2], :]
