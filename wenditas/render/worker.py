"""The export process: `python -m wenditas.render.worker JOB.json`, progress as JSON lines on standard output.

A process of its own keeps the server responsive, and can be stopped at any moment.
"""

import json
import sys
from pathlib import Path

from pydantic import BaseModel

from wenditas.core.errors import WenditasError
from wenditas.core.look.document import Look
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.reader import Reader
from wenditas.render.export import VideoOptions, export_video


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


def _say(**message: object) -> None:
    print(json.dumps(message), flush=True)


def main(path: Path) -> int:
    """Run the job in a file. Returns the exit code."""
    job = Job.model_validate_json(path.read_text("utf-8"))
    try:
        reader = Reader(job.media, job.facts, Index.read(job.index))
        export_video(reader, job.media, job.look, job.first, job.last, job.target, job.options, lambda done, total: _say(done=done))
        _say(finished=True)
        return 0
    except WenditasError as error:
        _say(failed=str(error))
        return 1


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
