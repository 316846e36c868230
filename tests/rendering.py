"""Rendering a look on a clip, by the one way to a picture."""

from pathlib import Path

from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import Shot, render
from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look
from wenditas.core.look.plan import View
from wenditas.media.reader import Reader
from wenditas.project.library import Library, node_of
from wenditas.render.export import Sound, VideoOptions, export_video
from wenditas.render.request import FULL, Request
from wenditas.render.sources import FileSources


def shot_of(look: Look, reader: Reader) -> Shot:
    """All frames of a clip under a look."""
    footage = node_of("clip", reader.facts)
    return Shot(of=footage, first=0, last=footage.length - 1, look=look)


def sources_of(reader: Reader) -> FileSources:
    """The frames of one clip."""
    readers = {"in order": reader, "beside": reader.twin()}
    return FileSources(lambda content, purpose, number: readers[purpose])


def rendered(
    look: Look, frame: int, reader: Reader, size: tuple[int, int] | None = None, upto: int | None = None, view: View = "result",
    selection: str | None = None, files: Files = NO_FILES, used: tuple[str, ...] = (),
) -> Picture:  # fmt: skip
    """A view of a look on a frame of a clip."""
    node = shot_of(look, reader).model_copy(update={"files": used})
    return render(node, frame, size, view, upto, selection, sources=sources_of(reader), files=files)


def export(reader: Reader, source: Path, look: Look, first: int, last: int, target: Path, options: VideoOptions, **more) -> None:  # type: ignore[no-untyped-def]
    """Frames of a clip under a look into a file, with the clip's sound."""
    start = float(int(reader.index.times[0]) * reader.index.time_base) + first / float(reader.facts.frame_rate)
    sound = Sound(source, start) if options.sound and reader.facts.sound is not None and options.kind == "video" else None
    export_video(shot_of(look, reader), (first, last), target, options, sources_of(reader), sound=sound, **more)


def request(library: Library, id: str, look: Look, frame: int, width: int = FULL, view: View = "result", selection: str | None = None, **more) -> Request:  # type: ignore[no-untyped-def]
    """A view of some footage of a library under a look."""
    footage = library.node(id)
    node = Shot(of=footage, first=0, last=footage.length - 1, look=look)
    return Request(node=node, frame=frame, width=width, view=view, selection=selection, **more)
