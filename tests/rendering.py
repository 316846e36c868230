"""Rendering a look on a clip, by the one way to a picture."""

from pathlib import Path
from tempfile import TemporaryDirectory

from wenditas.core.files import NO_FILES, Files
from wenditas.core.film import RESULT, Shot, Shown, render
from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look
from wenditas.media.as_node import footage_of
from wenditas.media.reader import Reader
from wenditas.project.library import Library
from wenditas.render.from_file import job_from_file
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Executor, Here, perform
from wenditas.render.request import FULL, Request
from wenditas.render.sources import FileSources
from wenditas.render.verify import Made


def shot_of(look: Look, reader: Reader) -> Shot:
    """All frames of a clip under a look."""
    footage = footage_of("clip", reader.facts)
    return Shot(of=footage, first=0, last=footage.length - 1, look=look)


def sources_of(reader: Reader) -> FileSources:
    """The frames of one clip."""
    readers = {"in order": reader, "beside": reader.twin()}
    return FileSources(lambda content, purpose, number: readers[purpose])


def rendered(
    look: Look, frame: int, reader: Reader, size: tuple[int, int] | None = None, shown: Shown = RESULT,
    files: Files = NO_FILES, used: tuple[str, ...] = (),
) -> Picture:  # fmt: skip
    """A view of a look on a frame of a clip."""
    node = shot_of(look, reader).model_copy(update={"files": used})
    return render(node, frame, size, shown, sources=sources_of(reader), files=files)


def export(
    reader: Reader, source: Path, look: Look, first: int, last: int, target: Path, options: ExportOptions, executor: Executor | None = None, **more
) -> Made:  # type: ignore[no-untyped-def]
    """Frames of a clip under a look into a file, with the clip's sound; what was made on the way is thrown away."""
    with TemporaryDirectory(dir=target.parent, prefix="work") as work:
        job = job_from_file(source, reader.facts, reader.index, look, (first, last), target, options, Path(work))
        return perform(job, executor=executor or Here(), **more)


def request(library: Library, id: str, look: Look, frame: int, width: int = FULL, proxy: bool = False, **shown) -> Request:  # type: ignore[no-untyped-def]
    """A view of some footage of a library under a look."""
    footage = library.node(id)
    node = Shot(of=footage, first=0, last=footage.length - 1, look=look)
    return Request(node=node, frame=frame, width=width, proxy=proxy, shown=Shown(**shown))
