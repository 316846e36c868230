"""A look on a file, or on a sequence of them, as a job: without a project, a database or a server."""

from collections.abc import Mapping
from pathlib import Path

from wenditas.core.film import Shot
from wenditas.core.look.document import Look
from wenditas.media.as_node import footage_of
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.reading import Reading
from wenditas.render.job import Heard, Job, MediaFile, UsedFile
from wenditas.render.options import ExportOptions


def mapped(facts: Facts) -> str:
    """The tone mapping that a file is read through, as the application reads it until something else is chosen: "hlg", "pq", or none."""
    return Reading().applied(facts.signal)


def job_from_file(
    source: Path, facts: Facts, index: Index, look: Look, stretch: tuple[int, int], target: Path, options: ExportOptions,
    work: Path, files: Mapping[str, UsedFile] = {}, digest: str = "",
) -> Job:  # fmt: skip
    """Frames of a file under a look. work: a folder for its index and its segments. digest: of the file, where it is known."""
    work.mkdir(parents=True, exist_ok=True)
    index_path = work / "index.npz"
    index.save(index_path)
    footage = footage_of("input", facts)
    node = Shot(of=footage, first=0, last=footage.length - 1, look=look, files=tuple(files))
    heard = options.heard and facts.sound is not None
    start = float(int(index.times[0]) * index.time_base) + stretch[0] / float(facts.frame_rate)
    return Job(
        node=node,
        first=stretch[0],
        last=stretch[1],
        options=options,
        target=target.resolve(),
        segments=work.resolve() / "segments",
        media={"input": MediaFile(path=source.resolve(), index=index_path.resolve(), facts=facts, digest=digest, mapped=mapped(facts))},
        files=dict(files),
        sound=Heard(path=source.resolve(), start=start) if heard else None,
    )
