"""Rendering a look to a file: decode ahead, evaluate, encode behind. Used by the server's worker and the command line."""

import errno
from collections import OrderedDict, deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path
from typing import Literal

import av

from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look
from wenditas.core.look.plan import Load, Plan, View, compile_look, run_on_picture
from wenditas.core.look.tiles import copy_rows
from wenditas.core.params import Params
from wenditas.core.select.selection import Moment
from wenditas.media.alpha import AlphaVideo, PictureZip
from wenditas.media.encode import DEPTH, QUALITIES, Quality, VideoWriter
from wenditas.media.reader import Reader
from wenditas.media.sound import sound_rate, stretch
from wenditas.media.stills import encode_png
from wenditas.store.database import new_id

Progress = Callable[[int, int], None]
AHEAD = 3
LEAST_NEIGHBOURS, NEIGHBOUR_BYTES = 8, 640 << 20  # three frames on either side always; more, for trails, as memory allows


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


def export_video(
    reader: Reader,
    source: Path,
    look: Look,
    first: int,
    last: int,
    target: Path,
    options: VideoOptions,
    progress: Progress = lambda done, total: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> None:
    """Render frames `first` to `last` (both included) to an MP4.

    The file is written beside `target` and renamed when complete. Raises `Cancelled` or
    `ExportFailed`; then nothing is left behind.
    """
    facts = reader.facts
    part = part_of(target)
    total = last - first + 1
    if options.kind not in ("video", "matte"):
        export_with_matte(reader, look, first, last, target, options, progress, cancelled)
        return
    has_sound = options.sound and facts.sound is not None and options.kind == "video"
    rate = sound_rate(source) if has_sound else None
    start = float(int(reader.index.times[0]) * reader.index.time_base) + first / float(facts.frame_rate) if has_sound else 0.0
    sound = stretch(source, start, float(total / facts.frame_rate), rate) if rate else None
    try:
        writer = VideoWriter(part, facts.width, facts.height, Fraction(facts.rate), QUALITIES[options.quality], sound, rate)
    except av.error.FFmpegError as error:
        raise ExportFailed(f"The encoder cannot write {facts.width} × {facts.height} at {facts.rate} frames a second: {error.strerror}.") from error
    try:
        _render_all(reader, look, range(first, last + 1), writer, progress, cancelled, options)
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


def _render_all(
    reader: Reader, look: Look, frames: range, writer: VideoWriter, progress: Progress, cancelled: Callable[[], bool], options: VideoOptions
) -> None:
    view: View = "result" if options.kind == "video" else "matte"
    plans = Plans(look, float(reader.facts.frame_rate), view, options.selection)
    height, width = reader.facts.height, reader.facts.width
    neighbours = Neighbours(reader)
    with ThreadPoolExecutor(1, "decode") as decoder, ThreadPoolExecutor(1, "encode") as encoder:
        coming: deque[Future[Load]] = deque()
        going: deque[Future[None]] = deque()
        wanted = iter(frames)

        def ask() -> None:
            number = next(wanted, None)
            if number is not None:
                coming.append(decoder.submit(_loader, reader, number))

        try:
            for _ in range(AHEAD):
                ask()
            for done in range(len(frames)):
                if cancelled():
                    raise Cancelled("The export was cancelled.")
                load = coming.popleft().result()
                ask()
                frame, out = writer.blank()
                plans.at(frames[done]).run(height, width, load, out.store, moment=Moment(frames[done], neighbours.picture, neighbours.alpha))
                going.append(encoder.submit(writer.write, frame))
                if len(going) >= DEPTH:
                    going.popleft().result()
                progress(done + 1, len(frames))
            for future in going:
                future.result()
        finally:
            for waiting in [*coming, *going]:
                waiting.cancel()


def export_with_matte(
    reader: Reader, look: Look, first: int, last: int, target: Path, options: VideoOptions, progress: Progress, cancelled: Callable[[], bool]
) -> None:
    """Render pictures that carry a selection's matte: PNG files in a ZIP, or ProRes 4444 with alpha.

    The matte is computed from the source; the picture is the finished one. Alpha is straight,
    not multiplied into the colours. Written beside `target` and renamed; nothing is left where it fails.
    """
    if options.selection is None:
        raise ExportFailed("This export needs a selection whose matte is to be written.")
    rate = float(reader.facts.frame_rate)
    result, matte = Plans(look, rate, "result"), Plans(look, rate, "matte", options.selection)
    neighbours = Neighbours(reader)
    part = part_of(target)
    total = last - first + 1
    try:
        with AlphaVideo(part, reader.facts) if options.kind == "alpha" else PictureZip(part) as sink:
            for done, number in enumerate(range(first, last + 1), 1):
                if cancelled():
                    raise Cancelled("The export was cancelled.")
                source, moment = reader.picture(number), Moment(number, neighbours.picture, neighbours.alpha)
                alpha = run_on_picture(matte.at(number), source, moment)[0]
                picture = None if options.kind == "matte pictures" else run_on_picture(result.at(number), source, moment)
                sink.write(number, picture, alpha)
                progress(done, total)
        part.replace(target)
    except (av.error.FFmpegError, OSError) as error:
        raise _stopped(error) from error
    finally:
        part.unlink(missing_ok=True)


class Plans:
    """The plan of a look for each frame; a look that stands still is compiled once."""

    def __init__(self, look: Look, rate: float, view: View, selection: str | None = None) -> None:
        self._look, self._rate, self._view, self._selection = look, rate, view, selection
        self._shown: Look | None = None
        self._plan: Plan | None = None

    def at(self, frame: int) -> Plan:
        """The plan for a source frame."""
        shown = look_at(self._look, frame, self._rate)
        if self._plan is None or (shown is not self._shown and shown != self._shown):
            self._shown, self._plan = shown, compile_look(shown, view=self._view, selection=self._selection)
        return self._plan


class Neighbours:
    """Pictures around the frame being rendered, through a reader of their own; a few are kept."""

    def __init__(self, reader: Reader) -> None:
        self._main = reader
        self._reader: Reader | None = None
        self._kept: OrderedDict[int, Picture] = OrderedDict()

    def alpha(self, number: int) -> Matte | None:
        """The alpha channel of a frame; None where the footage has none."""
        if not self._main.facts.alpha:
            return None
        self._reader = self._reader or self._main.twin()
        return self._reader.alpha(min(max(number, 0), self._main.facts.length - 1))

    def picture(self, number: int) -> Picture:
        """The source at a frame, the first or last one beyond the ends."""
        number = min(max(number, 0), self._main.facts.length - 1)
        if number not in self._kept:
            if self._reader is None:
                self._reader = self._main.twin()
            self._kept[number] = self._reader.picture(number)
            while len(self._kept) > max(LEAST_NEIGHBOURS, NEIGHBOUR_BYTES // max(self._kept[number].nbytes, 1)):
                self._kept.popitem(last=False)
        return self._kept[number]


def _loader(reader: Reader, number: int) -> Load:
    """The source of one frame as something tiles can be loaded from."""
    planes = reader.planes(number)
    if planes is not None:
        return planes.load
    picture = reader.picture(number)
    return lambda first, tile: copy_rows(picture, first, tile)


def export_still(reader: Reader, look: Look, frame: int, target: Path) -> None:
    """Render one frame at full size to a PNG."""
    plan = Plans(look, float(reader.facts.frame_rate), "result").at(frame)
    picture = run_on_picture(plan, reader.picture(frame), Moment(frame, Neighbours(reader).picture, reader.alpha))
    part = part_of(target)
    try:
        part.write_bytes(encode_png(picture, level=6))
        part.replace(target)
    except OSError as error:
        raise _stopped(error) from error
    finally:
        part.unlink(missing_ok=True)
