"""The export process: `python -m wenditas.render.worker JOB.json`, progress as JSON lines on standard output.

A process of its own keeps the server responsive, and can be stopped at any moment. Where its
progress cannot be written any more, because the server is gone, it stops by itself.
"""

import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from wenditas.core.errors import Cancelled, NotFound, WenditasError
from wenditas.core.files import Files
from wenditas.core.film import Node
from wenditas.formats.cube import load_lut
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.mix import Piece
from wenditas.media.opened import Opened
from wenditas.media.overlay import load_still
from wenditas.render.export import Mixed, Progress, Sound, VideoOptions, export_video
from wenditas.render.sources import FileSources, Readers


class MediaFile(BaseModel):
    """A media file of a job, and its frame index."""

    path: Path
    index: Path
    facts: Facts


class UsedFile(BaseModel):
    """A LUT (without index and facts) or a picture that passes use."""

    path: Path
    index: Path | None = None
    facts: Facts | None = None


class Heard(BaseModel):
    """The sound that goes with a job: of a file, from a time in it."""

    path: Path
    start: float


class Job(BaseModel):
    """Everything an export depends on, as plain data. first, last: the frames of the node that are written. sound: of one file; mix: of several."""

    node: Node
    first: int
    last: int
    options: VideoOptions
    target: Path
    media: dict[str, MediaFile]
    files: dict[str, UsedFile] = {}
    sound: Heard | None = None
    mix: tuple[Piece, ...] = ()


class _Media:
    """Where the readers of a job find its files."""

    def __init__(self, job: Job) -> None:
        self._files = job.media

    def open(self, content: str) -> Opened:
        if content not in self._files or not self._files[content].path.exists():
            raise NotFound("A media file of this export is missing.")
        file = self._files[content]
        return Opened(file.path, file.facts, Index.read(file.index))


def _loaded(file: UsedFile) -> Any:
    if file.index is None or file.facts is None:
        return load_lut(file.path)
    return load_still(file.path, file.facts, Index.read(file.index))


def _say(**message: object) -> None:
    try:
        print(json.dumps(message), flush=True)
    except OSError as error:
        raise Cancelled("The server is gone.") from error


def run(job: Job, progress: Progress, cancelled: Callable[[], bool] = lambda: False) -> None:
    """Do a job. Raises `ExportFailed`, `Cancelled` and what else stands in its way."""
    sources = FileSources(Readers(_Media(job)).reader)
    files = Files({digest: _loaded(file) for digest, file in job.files.items() if file.path.exists()})
    sound = Mixed(job.mix) if job.mix else None if job.sound is None else Sound(job.sound.path, job.sound.start)
    export_video(job.node, (job.first, job.last), job.target, job.options, sources, files, sound, progress, cancelled)


def main(path: Path) -> int:
    """Run the job in a file. Returns the exit code."""
    try:
        run(Job.model_validate_json(path.read_text("utf-8")), lambda done, total: _say(done=done))
        _say(finished=True)
        return 0
    except Cancelled:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # else Python complains at its end that it cannot flush
        return 1
    except WenditasError as error:
        _say(failed=str(error))
    except (OSError, MemoryError) as error:
        _say(failed=f"{getattr(error, 'strerror', None) or error or 'there is not enough memory'}.")
    return 1


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
