"""Export of a 1080p shot against a plain transcode, and against decode, lut3d, encode through FFmpeg's libraries."""

import time
from collections.abc import Iterator
from pathlib import Path

import av

from bench.looks import one_colour_stays
from bench.timing import at_most, paired, seconds
from tests.rendering import export
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import CODING
from wenditas.media.writing.record import Canvas
from wenditas.media.writing.video import VideoSegment
from wenditas.render.from_file import job_from_file
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Executor, Here, Processes, perform

SECONDS = 4


def make_source(clip: Path, folder: Path) -> Path:
    """The demo clip enlarged to 1920 × 1080."""
    target = folder / "source.mp4"
    with av.open(str(clip)) as container:
        stream, width, height = container.streams.video[0], at_most(1920, 320), at_most(1080, 180)
        writer = VideoSegment(target, Canvas(width, height, stream.average_rate), CODING)
        for n, frame in enumerate(container.decode(stream)):
            if n >= at_most(SECONDS * 24, 6):
                break
            writer.encode(frame.reformat(width, height, "yuv420p"))
        writer.close()
    return target


def _frames(source: Path, lut: Path | None) -> Iterator[av.VideoFrame]:
    with av.open(str(source)) as container:
        stream = container.streams.video[0]
        stream.thread_type = "AUTO"
        graph = av.filter.Graph() if lut else None
        if graph:
            nodes = [
                graph.add_buffer(template=stream),
                graph.add("lut3d", f"file={lut}:interp=tetrahedral"),
                graph.add("format", "yuv420p"),
                graph.add("buffersink"),
            ]
            graph.link_nodes(*nodes).configure()
        for frame in container.decode(stream):
            if graph:
                graph.push(frame)
                frame = graph.pull()
            yield frame


def transcode(source: Path, target: Path, lut: Path | None = None) -> float:
    """Seconds to decode, filter where a LUT is given, and encode with the same encoder settings as ours."""
    started = time.perf_counter()
    with av.open(str(source)) as container:
        rate = container.streams.video[0].average_rate
    writer = VideoSegment(target, Canvas(1920, 1080, rate), CODING)
    for frame in _frames(source, lut):
        writer.encode(frame)
    writer.close()
    return time.perf_counter() - started


def _lut(folder: Path) -> Path:
    """A 33³ LUT that turns all to grey: as much work as any."""
    path = folder / "grey.cube"
    lines = ["LUT_3D_SIZE 33"]
    for b in range(33):
        for g in range(33):
            for r in range(33):
                y = (0.2126 * r + 0.7152 * g + 0.0722 * b) / 32
                lines.append(f"{y:.6f} {y:.6f} {y:.6f}")
    path.write_text("\n".join(lines) + "\n")
    return path


def _shared(source: Path, facts: Facts, index: Index, folder: Path) -> list[tuple[str, str]]:
    """The same job by one process, which has all threads, and by two, which share them. They start anew each time, as for a long export."""

    def by(executor: Executor, name: str) -> float:
        target = folder / f"{name}.mov"
        options = ExportOptions(format="prores-422-hq", sound=False)
        job = job_from_file(source, facts, index, one_colour_stays(), (0, facts.length - 1), target, options, folder / f"work-{name}")
        return seconds(lambda: perform(job, executor=executor))

    both = paired(lambda: by(Processes(2), "two"), lambda: by(Here(), "one"), 3)
    return [("export 1080p ProRes, by two processes against one", str(both))]


def measure(clip: Path, folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    source = make_source(clip, folder)
    facts, index = inspect(source)
    lut = _lut(folder)
    look, options, count = one_colour_stays(), ExportOptions(sound=False), facts.length

    def ours() -> float:
        return seconds(lambda: export(Reader(source, facts, index), source, look, 0, count - 1, folder / "o.mp4", options))

    plain = paired(ours, lambda: transcode(source, folder / "p.mp4"), 5)
    filtered = paired(ours, lambda: transcode(source, folder / "l.mp4", lut), 5)
    return [
        *_shared(source, facts, index, folder),
        ("export 1080p H.264, one colour stays", f"{count / plain.ours:.1f} fps"),
        ("… against a plain transcode", f"{plain} (target ≥ 0.70 ×)"),
        ("… against decode, lut3d, encode", f"{filtered} (target ≥ 1.4 ×)"),
    ]
