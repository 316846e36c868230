"""Files that a look carries along, for its passes."""

import atexit
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from wenditas.app.jobs import used_file
from wenditas.core.files import NO_FILES, Files
from wenditas.formats.look_json import Carried
from wenditas.project.files import Files as ProjectFiles
from wenditas.render.job import UsedFile
from wenditas.store.database import Database


@dataclass(frozen=True)
class Provided:
    """files: loaded when they are asked for. used: where they lie, by digest."""

    files: Files = NO_FILES
    used: dict[str, UsedFile] = field(default_factory=dict)


def provided(carried: Sequence[Carried]) -> Provided:
    """The files, in a folder of their own that lasts as long as this process."""
    if not carried:
        return Provided()
    folder = tempfile.TemporaryDirectory(prefix="wenditas-")
    atexit.register(folder.cleanup)
    kept = ProjectFiles(Path(folder.name), Database(Path(folder.name) / "files.db"))
    rows = [kept.take_in(file.data, file.name) for file in carried]
    return Provided(kept.loaded, {row.digest: used_file(kept, row) for row in rows})
