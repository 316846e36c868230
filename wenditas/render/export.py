"""Rendering a node to a file: decode ahead, render, encode behind. Used by the server's worker and the command line."""

import errno
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Literal

import av

from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import Memo, Node, render
from wenditas.core.look.plan import View
from wenditas.core.params import Params
from wenditas.media.alpha import AlphaVideo, PictureZip
from wenditas.media.encode import DEPTH, QUALITIES, Quality, VideoWriter
from wenditas.media.mix import MIX_RATE, Piece, mixed
from wenditas.media.sound import sound_rate, stretch
from wenditas.media.stills import encode_png
from wenditas.render.sources import FileSources
from wenditas.store.database import new_id

Progress = Callable[[int, int], None]
AHEAD = 3
MEMO_BYTES = 640 << 20  # mattes, and pictures after passes, that frames to come may read


Kind = Literal["video", "matte", "matte pictures", "alpha", "alpha pictures"]
SUFFIXES: dict[Kind, str] = {"video": ".mp4", "matte": ".mp4", "matte pictures": ".zip", "alpha": ".mov", "alpha pictures": ".zip"}


def part_of(target: Path) -> Path:
    """A name beside a file that is to be written, which nothing else has: it is renamed when complete."""
    return target.with_name(f"{target.stem[:80]}.{new_id()}.part{target.suffix}")


def _stopped(error: Exception) -> ExportFailed:
    """What is said where writing failed."""
    number = getattr(error, "errno", None)
    why = "the disk is full; make room and start it again" if number == errno.ENOSPC else getattr(error, "strerror", None) or str(error)
    return ExportFailed(f"Writing stopped: {why}. Nothing was kept of the unfinished file.")


class VideoOptions(Params):
    """What to write, and how.

    kind: the finished shot; a selection's matte as grey video or PNG pictures; the shot with
    the matte as its alpha channel (ProRes 4444, or PNG pictures). The latter four name a selection.
    """

    kind: Kind = "video"
    selection: str | None = None
    quality: Quality = "good"
    sound: bool = True


@dataclass(frozen=True)
class Sound:
    """Where the sound of an export comes from: a file, and when in it the first frame is (seconds)."""

    path: Path
    start: float

    @property
    def rate(self) -> int | None:
        """Samples a second that it is written at; None where there is none."""
        return sound_rate(self.path)

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """Exactly so many seconds of it."""
        return stretch(self.path, self.start, seconds, rate)


@dataclass(frozen=True)
class Mixed:
    """The sound of an export that is made of several files."""

    pieces: tuple[Piece, ...]
    rate: int = MIX_RATE

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """Exactly so many seconds of it."""
        return mixed(self.pieces, seconds, rate)


def export_video(
    node: Node,
    stretch_of: tuple[int, int],
    target: Path,
    options: VideoOptions,
    sources: FileSources,
    files: Files = NO_FILES,
    sound: Sound | Mixed | None = None,
    progress: Progress = lambda done, total: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> None:
    """Render frames of a node (first and last, both included) to a file of the kind that the options say.

    The file is written beside `target` and renamed when complete. Raises `Cancelled` or
    `ExportFailed`; then nothing is left behind.
    """
    work = _Work(node, range(stretch_of[0], stretch_of[1] + 1), options, sources, files, progress, cancelled)
    if options.kind not in ("video", "matte"):
        work.with_matte(target)
        return
    part, rate = part_of(target), sound.rate if sound else None
    heard = sound.frames(float(len(work.frames) / node.rate), rate) if sound and rate else None
    width, height = node.size
    try:
        writer = VideoWriter(part, width, height, node.rate, QUALITIES[options.quality], heard, rate)
    except av.error.FFmpegError as error:
        raise ExportFailed(f"The encoder cannot write {width} × {height} at {node.rate} frames a second: {error.strerror}.") from error
    try:
        work.into(writer)
        writer.close()
        part.replace(target)
    except (av.error.FFmpegError, OSError) as error:
        writer.abandon()
        raise _stopped(error) from error
    except BaseException:
        writer.abandon()
        raise
    finally:
        part.unlink(missing_ok=True)


class _Work:
    """Frames of a node on their way into a file."""

    def __init__(
        self,
        node: Node,
        frames: range,
        options: VideoOptions,
        sources: FileSources,
        files: Files,
        progress: Progress,
        cancelled: Callable[[], bool],
    ) -> None:
        self.node, self.frames, self._options, self._sources = node, frames, options, sources
        self._progress, self._cancelled = progress, cancelled
        self._render = partial(render, node, sources=sources, files=files, memo=Memo(limit=MEMO_BYTES), check=self._check)

    def _check(self) -> None:
        if self._cancelled():
            raise Cancelled("The export was cancelled.")

    def _decoded_ahead(self) -> Iterator[int]:
        """The frames one after another, while those to come are decoded."""
        with ThreadPoolExecutor(1, "decode") as decoder:
            coming = [decoder.submit(self._sources.expect, self.node, n) for n in self.frames[:AHEAD]]
            try:
                for done, number in enumerate(self.frames):
                    self._check()
                    coming.pop(0).result()
                    if done + AHEAD < len(self.frames):
                        coming.append(decoder.submit(self._sources.expect, self.node, self.frames[done + AHEAD]))
                    yield number
                    self._progress(done + 1, len(self.frames))
            finally:
                for waiting in coming:
                    waiting.cancel()

    def into(self, writer: VideoWriter) -> None:
        """Every frame into an encoder, which works behind."""
        view: View = "result" if self._options.kind == "video" else "matte"
        going: deque[Future[None]] = deque()
        with ThreadPoolExecutor(1, "encode") as encoder:
            try:
                for number in self._decoded_ahead():
                    frame, out = writer.blank()
                    self._render(number, view=view, selection=self._options.selection, store=out.store)
                    going.append(encoder.submit(writer.write, frame))
                    if len(going) >= DEPTH:
                        going.popleft().result()
                for future in going:
                    future.result()
            finally:
                for waiting in going:
                    waiting.cancel()

    def with_matte(self, target: Path) -> None:
        """Pictures that carry a selection's matte: PNG files in a ZIP, or ProRes 4444 with alpha.

        The picture is the finished one. Alpha is straight, not multiplied into the colours. Written beside
        `target` and renamed; nothing is left where it fails.
        """
        options = self._options
        if options.selection is None:
            raise ExportFailed("This export needs a selection whose matte is to be written.")
        part = part_of(target)
        width, height = self.node.size
        try:
            with AlphaVideo(part, width, height, self.node.rate) if options.kind == "alpha" else PictureZip(part) as sink:
                for number in self._decoded_ahead():
                    alpha = self._render(number, view="matte", selection=options.selection)[0]
                    sink.write(number, None if options.kind == "matte pictures" else self._render(number), alpha)
            part.replace(target)
        except (av.error.FFmpegError, OSError) as error:
            raise _stopped(error) from error
        finally:
            part.unlink(missing_ok=True)


def export_still(node: Node, frame: int, target: Path, sources: FileSources, files: Files = NO_FILES) -> None:
    """Render one frame at full size to a PNG."""
    picture = render(node, frame, sources=sources, files=files)
    part = part_of(target)
    try:
        part.write_bytes(encode_png(picture, level=6))
        part.replace(target)
    except OSError as error:
        raise _stopped(error) from error
    finally:
        part.unlink(missing_ok=True)
