"""The export process: `python -m wenditas.render.worker JOB.json`, progress as JSON lines on standard output.

A process of its own keeps the server responsive, and can be stopped at any moment. Where its
progress cannot be written any more, because the server is gone, it stops by itself.
"""

import json
import os
import sys
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from wenditas.core.assets import ASSETS
from wenditas.core.errors import Cancelled, NotFound, WenditasError
from wenditas.core.look.document import Look
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.reader import Reader
from wenditas.render.export import VideoOptions, export_video
from wenditas.render.files import load_file
from wenditas.store.files import FileRow


class Job(BaseModel):
    """Everything an export depends on."""

    media: Path
    index: Path
    facts: Facts
    look: Look
    first: int
    last: int
    target: Path
    options: VideoOptions
    files: dict[str, FileRow] = {}
    files_folder: Path = Path()


def _say(**message: object) -> None:
    try:
        print(json.dumps(message), flush=True)
    except OSError as error:
        raise Cancelled("The server is gone.") from error


def _file(job: Job, digest: str) -> Any:
    if digest not in job.files:
        raise NotFound(f"There is no file with the digest {digest!r}.")
    return load_file(job.files_folder, job.files[digest])


def main(path: Path) -> int:
    """Run the job in a file. Returns the exit code."""
    job = Job.model_validate_json(path.read_text("utf-8"))
    try:
        ASSETS.load_with(lambda digest: _file(job, digest))
        reader = Reader(job.media, job.facts, Index.read(job.index))
        export_video(reader, job.media, job.look, job.first, job.last, job.target, job.options, lambda done, total: _say(done=done))
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
