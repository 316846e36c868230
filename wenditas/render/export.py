"""Rendering frames of a node into a segment: decode ahead, render, encode behind."""

import errno
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

import av

from wenditas.core.errors import Cancelled, DiskFull, ExportFailed
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import RESULT, Memo, Node, Op, Shown, render, resolve, run
from wenditas.media.memory import room_of_export
from wenditas.media.stills import encode_png
from wenditas.media.writing.record import Canvas, Segment, Slot
from wenditas.render.options import ExportOptions
from wenditas.render.sources import FileSources
from wenditas.store.database import new_id

Progress = Callable[[int, int], None]
AHEAD, DEPTH = 3, 6  # frames decoded ahead, and in flight between renderer and encoder
SLOT_BYTES = 384 << 20  # that frames in flight may hold together
MEMO_BYTES = 640 << 20  # mattes, and pictures after passes, that frames to come may read


def part_of(target: Path) -> Path:
    """A name beside a file that is to be written, which nothing else has: it is renamed when complete."""
    return target.with_name(f"{target.stem[:80]}.{new_id()}.part{target.suffix}")


def stopped(error: Exception) -> ExportFailed | DiskFull:
    """What is said where writing failed."""
    if getattr(error, "errno", None) == errno.ENOSPC:
        return DiskFull("Writing stopped: the disk is full. Nothing was kept of the unfinished file.")
    return ExportFailed(f"Writing stopped: {getattr(error, 'strerror', None) or error}. Nothing was kept of the unfinished file.")


def render_segment(
    node: Node,
    frames: Sequence[int],
    target: Path,
    options: ExportOptions,
    sources: FileSources,
    files: Files = NO_FILES,
    progress: Callable[[int], None] = lambda done: None,
    cancelled: Callable[[], bool] = lambda: False,
    matte: Node | None = None,
) -> None:
    """Render frames of a node to a segment of an export. matte: a node that makes the matte as its picture; else it is a selection of the node.

    The file is written beside `target` and renamed when complete. Raises `Cancelled`, `DiskFull` or
    `ExportFailed`; then nothing is left behind.
    """
    canvas, part = options.canvas(node), part_of(target)
    work = _Work(node, frames, options, canvas, sources, files, progress, cancelled, matte)
    try:
        writer = options.made.begin(part, canvas)
        try:
            work.into(writer)
            writer.close()
        except BaseException:
            writer.abandon()
            raise
        part.replace(target)
    except (av.error.FFmpegError, OSError) as error:
        raise stopped(error) from error
    finally:
        part.unlink(missing_ok=True)


class _Work:
    """Frames of a node on their way into a file."""

    def __init__(
        self,
        node: Node,
        frames: Sequence[int],
        options: ExportOptions,
        canvas: Canvas,
        sources: FileSources,
        files: Files,
        progress: Callable[[int], None],
        cancelled: Callable[[], bool],
        matte: Node | None,
    ) -> None:
        self.frames, self._sources = frames, sources
        self._progress, self._cancelled = progress, cancelled
        own = (canvas.width, canvas.height) == tuple(node.size)
        size = None if own else (canvas.height, canvas.width)
        self._depth = max(1, min(DEPTH, room_of_export(SLOT_BYTES) // (canvas.width * canvas.height * 12)))
        self._run = partial(run, sources=sources, files=files, memo=Memo(room_of_export(MEMO_BYTES)), check=self._check)
        selected = Shown(view="matte", selection=options.selection)
        of_matte = partial(resolve, node, size=size, shown=selected) if matte is None else partial(resolve, matte, size=size, shown=RESULT)
        of_result = partial(resolve, node, size=size)
        self._needed = {"result": (of_result,), "matte": (of_matte,), "alpha": (of_result, of_matte)}[options.shows]

    def _check(self) -> None:
        if self._cancelled():
            raise Cancelled("The export was cancelled.")

    def _expect(self, number: int) -> tuple[Op, ...]:
        """What is computed for a frame, once what it reads is decoded."""
        ops = tuple(resolve_at(frame=number) for resolve_at in self._needed)
        for op in ops:
            self._sources.expect(op)
        return ops

    def _decoded_ahead(self) -> Iterator[tuple[int, tuple[Op, ...]]]:
        """The frames one after another, while those to come are decoded."""
        with ThreadPoolExecutor(1, "decode") as decoder:
            coming = deque(decoder.submit(self._expect, n) for n in self.frames[:AHEAD])
            try:
                for done, number in enumerate(self.frames):
                    self._check()
                    ops = coming.popleft().result()
                    if done + AHEAD < len(self.frames):
                        coming.append(decoder.submit(self._expect, self.frames[done + AHEAD]))
                    yield number, ops
                    self._progress(done + 1)
            finally:
                for waiting in coming:
                    waiting.cancel()

    def into(self, writer: Segment[Any]) -> None:
        """Every frame into an encoder, which works behind."""
        going: deque[Future[None]] = deque()
        with ThreadPoolExecutor(1, "encode") as encoder:
            try:
                for number, ops in self._decoded_ahead():
                    slot = writer.slot()
                    self._fill(slot, ops)
                    going.append(encoder.submit(writer.write, slot, number))
                    if len(going) >= self._depth:
                        going.popleft().result()
                for future in going:
                    future.result()
            finally:
                for waiting in going:
                    waiting.cancel()

    def _fill(self, slot: Slot, ops: tuple[Op, ...]) -> None:
        self._run(ops[0], store=slot.store)
        if len(ops) > 1:
            slot.put_alpha(self._run(ops[1])[0])


def export_still(node: Node, frame: int, target: Path, sources: FileSources, files: Files = NO_FILES) -> None:
    """Render one frame at full size to a PNG."""
    picture = render(node, frame, sources=sources, files=files)
    part = part_of(target)
    try:
        part.write_bytes(encode_png(picture, level=6))
        part.replace(target)
    except OSError as error:
        raise stopped(error) from error
    finally:
        part.unlink(missing_ok=True)
