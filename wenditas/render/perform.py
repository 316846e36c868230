"""Doing a job: its segments, here, in several processes or on several machines; then the file, which is verified."""

import json
import multiprocessing
import os
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import FIRST_COMPLETED, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Protocol

import av

from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.tiles import THREADS
from wenditas.media.mix import MIX_RATE, Piece, mixed
from wenditas.media.sound import sound_rate, stretch
from wenditas.media.writing.record import SoundOf
from wenditas.render.export import part_of, render_segment, stopped
from wenditas.render.job import Job, JobMedia, Stretch, files_of
from wenditas.render.sources import FileSources, Readers
from wenditas.render.things import Things
from wenditas.render.verify import Made, verified

Progress = Callable[[int, int], None]
Check = Callable[[], bool]
WATCH = 0.5  # seconds between two looks at whether the process that a worker works for is still there
TRIES = 3  # of a segment whose process was ended from outside


@dataclass(frozen=True)
class Sound:
    """Where the sound of an export comes from: a track of a file, and when in it the first frame is (seconds)."""

    path: Path
    start: float
    track: int = 0

    @property
    def rate(self) -> int | None:
        """Samples a second that it is written at; None where there is none."""
        return sound_rate(self.path, self.track)

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """Exactly so many seconds of it."""
        return stretch(self.path, self.start, seconds, rate, self.track)


@dataclass(frozen=True)
class Mixed:
    """The sound of an export that is made of several files."""

    pieces: tuple[Piece, ...]
    rate: int = MIX_RATE

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """Exactly so many seconds of it."""
        return mixed(self.pieces, seconds, rate)


def sound_of(job: Job) -> SoundOf | None:
    """What is heard of a job."""
    if not job.options.heard:
        return None
    return Mixed(job.mix) if job.mix else None if job.sound is None else Sound(job.sound.path, job.sound.start, job.sound.track)


class Executor(Protocol):
    """Where segments are rendered. Each that is done is told by `done(stretch)`, frames on the way by `on_the_way(stretch, count)`."""

    def run(self, job: Job, stretches: list[Stretch], done: Callable[[Stretch], None], on_the_way: Callable[[Stretch, int], None], cancelled: Check) -> None:
        """Render them all. Raises what one of them raises."""
        ...


class Here:
    """In this process, one after another."""

    def run(self, job: Job, stretches: list[Stretch], done: Callable[[Stretch], None], on_the_way: Callable[[Stretch, int], None], cancelled: Check) -> None:
        """See `Executor`."""
        render = Renderer(job)
        for one in stretches:
            render.segment(one, lambda count, one=one: on_the_way(one, count), cancelled)  # type: ignore[misc]
            done(one)


class Processes:
    """In several processes, among which the cores are shared. They end with the one that started them, however it ends."""

    def __init__(self, count: int) -> None:
        self.count = count

    def run(self, job: Job, stretches: list[Stretch], done: Callable[[Stretch], None], on_the_way: Callable[[Stretch, int], None], cancelled: Check) -> None:
        """See `Executor`. Where one is ended from outside, its segments are begun again, `TRIES` times at most."""
        left = list(stretches)
        for attempt in range(1, TRIES + 1):
            try:
                self._run(job, left, done, on_the_way, cancelled)
                return
            except BrokenProcessPool as error:
                left = [s for s in left if not job.segment(s).exists()]
                if attempt == TRIES:
                    raise ExportFailed("A process of this export was ended from outside again and again, or has too little memory.") from error

    def _run(self, job: Job, stretches: list[Stretch], done, on_the_way, cancelled: Check) -> None:  # type: ignore[no-untyped-def]
        context = multiprocessing.get_context("spawn")
        heard, said = context.Pipe(duplex=False)
        by_name = {s.name: s for s in stretches}
        listener = threading.Thread(target=_listen, args=(heard, lambda name, count: on_the_way(by_name[name], count)), daemon=True)
        listener.start()
        count = min(self.count, len(stretches))
        with _fewer_threads(max(1, (os.cpu_count() or 1) // count)):
            pool = ProcessPoolExecutor(count, context, _begin, (os.getpid(), job, said))
            going = {pool.submit(_segment, s): s for s in stretches}
            try:
                while going:
                    finished, _ = wait(going, timeout=WATCH, return_when=FIRST_COMPLETED)
                    if cancelled():
                        raise Cancelled("The export was cancelled.")
                    for future in finished:
                        future.result()
                        done(going.pop(future))
            finally:
                stopped_early, processes = bool(going), list((pool._processes or {}).values())
                pool.shutdown(wait=not stopped_early, cancel_futures=True)
                for process in processes if stopped_early else ():
                    process.kill()
                    process.join()
                _say(said)
                listener.join()
                said.close()
                heard.close()


@contextmanager
def _fewer_threads(count: int) -> Iterator[None]:
    """Processes that are started within use so many threads for tiles."""
    before = os.environ.get(THREADS)
    os.environ[THREADS] = str(count)
    try:
        yield
    finally:
        if before is None:
            del os.environ[THREADS]
        else:
            os.environ[THREADS] = before


def _say(said: Connection, *message: str | int) -> None:
    """Send a message of a few bytes: the system writes it as one, so that processes need no lock, which one that is killed would keep."""
    said.send_bytes(json.dumps(message).encode())


def _listen(heard: Connection, tell: Callable[[str, int], None]) -> None:
    while message := json.loads(heard.recv_bytes()):
        tell(*message)


class Renderer:
    """Renders segments of one job, with readers that stay open between them."""

    def __init__(self, job: Job) -> None:
        self.job = job
        reader = Readers(JobMedia(job)).reader  # type: ignore[arg-type]
        self._sources = FileSources(reader, Things(reader, job.things or job.segments / f"things-{job.pin[:12]}"))
        self._files = files_of(job)

    def segment(self, one: Stretch, progress: Callable[[int], None] = lambda done: None, cancelled: Check = lambda: False) -> None:
        """Render a segment, if it is not there."""
        job, target = self.job, self.job.segment(one)
        if target.exists():
            return
        target.parent.mkdir(parents=True, exist_ok=True)
        render_segment(job.node, one.frames, target, job.options, self._sources, self._files, progress, cancelled, job.matte)


_worker: tuple[Renderer, Connection] | None = None  # of a process that renders segments of one job, which it was started for


def _begin(parent: int, job: Job, said: Connection) -> None:
    global _worker
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()
    _worker = Renderer(job), said


def _end_with(parent: int) -> None:
    """End this process once the one that it works for is gone."""
    while os.getppid() == parent:
        time.sleep(WATCH)
    os._exit(1)


def _segment(one: Stretch) -> None:
    assert _worker is not None
    renderer, said = _worker
    renderer.segment(one, lambda count: _say(said, one.name, count))


def processes_for(job: Job, asked: int | None = None) -> int:
    """How many processes a job is worth: one for two cores, and no more than it has segments."""
    most = asked or max(1, (os.cpu_count() or 1) // 2)
    return max(1, min(most, 8, len(job.stretches())))


def perform(job: Job, progress: Progress = lambda done, total: None, cancelled: Check = lambda: False, executor: Executor | None = None) -> Made:
    """Do a job: render the segments that are not there, join them, verify the file. Its segments are removed then.

    The file is written beside the target and renamed when complete. Raises `Cancelled`, `DiskFull`, `ExportFailed`; then the segments
    that are complete are kept, and a job of the same kind goes on from there.
    """
    job.options.check()
    stretches = job.stretches()
    total = sum(len(s.frames) for s in stretches)
    job.segments.mkdir(parents=True, exist_ok=True)
    missing = [s for s in stretches if not job.segment(s).exists()]
    counter = _Counter(total - sum(len(s.frames) for s in missing), total, progress)
    counter.tell()
    if executor is None:
        count = processes_for(job)
        executor = Processes(count) if count > 1 else Here()
    executor.run(job, missing, counter.done, counter.on_the_way, cancelled)
    if cancelled():
        raise Cancelled("The export was cancelled.")
    job.check_media()  # else some segments may be made of one file and some of another
    made = _join(job, stretches, total)
    shutil.rmtree(job.segments, ignore_errors=True)
    return made


class _Counter:
    """Frames that are done, of segments that are finished and of those under way."""

    def __init__(self, finished: int, total: int, progress: Progress) -> None:
        self._finished, self._total, self._progress = finished, total, progress
        self._under_way: dict[str, int] = {}
        self._lock = threading.Lock()

    def tell(self) -> None:
        """Say how many are done."""
        if at := self._finished + sum(self._under_way.values()):
            self._progress(at, self._total)

    def on_the_way(self, stretch: Stretch, count: int) -> None:
        """Frames of a segment under way."""
        with self._lock:
            self._under_way[stretch.name] = count
            self.tell()

    def done(self, stretch: Stretch) -> None:
        """A segment is finished."""
        with self._lock:
            self._under_way.pop(stretch.name, None)
            self._finished += len(stretch.frames)
            self.tell()


def _join(job: Job, stretches: list[Stretch], total: int) -> Made:
    canvas, format = job.options.canvas(job.node), job.options.made
    part = part_of(job.target)
    try:
        if job.options.folder:
            part.mkdir()
        format.join([job.segment(s) for s in stretches], part, canvas, total, sound_of(job))
        made = verified(part, job.options, canvas, total, sound_of(job) is not None)
        made = made.model_copy(update={"told": " ".join([f"{made.told}.", *job.options.told(job.node)]).removesuffix(".")})
        if job.target.is_dir():
            shutil.rmtree(job.target)
        part.replace(job.target)
    except (av.error.FFmpegError, OSError) as error:
        raise stopped(error) from error
    finally:
        if part.is_dir():
            shutil.rmtree(part, ignore_errors=True)
        else:
            part.unlink(missing_ok=True)
    return made
