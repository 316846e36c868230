"""An export as plain data, and the segments that it is cut into.

A segment is a pure function of its name, so one that is there is done: whatever stops an export, it goes on where it stood.
"""

import hashlib
import json
from functools import cached_property
from pathlib import Path
from typing import Any

from pydantic import BaseModel, ConfigDict

from wenditas.compiled import made_by
from wenditas.core.errors import NotFound
from wenditas.core.files import Files
from wenditas.core.film import Node
from wenditas.core.select.tracks import WHOLE
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import load_lut
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.mix import Piece
from wenditas.media.opened import Opened
from wenditas.media.overlay import load_still
from wenditas.media.reading import tone_mapping
from wenditas.render.options import ExportOptions

SECONDS = 4  # of a segment: long enough for its encoder, short enough to lose little


class MediaFile(BaseModel):
    """A media file of a job, and its frame index. digest: of the file, where it is known. mapped, lut: how its signal is read.

    stamp: its bytes and when it was changed last, as it was when the job was made; empty where nobody looked.
    """

    path: Path
    index: Path
    facts: Facts
    digest: str = ""
    mapped: str = ""
    lut: Path | None = None
    stamp: str = ""

    def check(self) -> None:
        """Raises `NotFound` where the file is not there any more, or another."""
        if self.stamp and self.stamp != stamp_of(self.path):
            what = "was changed" if self.path.exists() else "is not there any more"
            raise NotFound(f"The media file “{self.path.name}” {what}, so that the film would be made of two. Ask for the export anew.")

    @property
    def read_through(self) -> Lut | None:
        """The LUT that its signal is read through."""
        return tone_mapping(self.mapped) if self.mapped else None if self.lut is None else load_lut(self.lut)


def stamp_of(path: Path) -> str:
    """What tells a file from one that has taken its place: bytes and time of its last change; empty where it is not there."""
    try:
        stat = path.stat()
    except OSError:
        return ""
    return f"{stat.st_size} {stat.st_mtime_ns}"


class UsedFile(BaseModel):
    """A LUT (without index and facts) or a picture that passes use."""

    path: Path
    index: Path | None = None
    facts: Facts | None = None


class Heard(BaseModel):
    """The sound that goes with a job: of a track of a file, from a time in it."""

    path: Path
    start: float
    track: int = 0


class Stretch(BaseModel):
    """Some frames of an export, in order, that make one segment. name: of its file, without the ending."""

    model_config = ConfigDict(frozen=True)

    frames: tuple[int, ...]
    name: str


class Job(BaseModel):
    """Everything an export depends on, as plain data.

    first, last: the frames of the node that are written. sound: of one file; mix: of several. segments: the folder in which
    they are kept until the file is made. things: the folder of objects' mattes, where there is one that is shared.
    matte: a node that makes the matte as its picture, where that is no selection of `node`.
    """

    node: Node
    matte: Node | None = None
    first: int
    last: int
    options: ExportOptions
    target: Path
    segments: Path
    media: dict[str, MediaFile]
    files: dict[str, UsedFile] = {}
    sound: Heard | None = None
    mix: tuple[Piece, ...] = ()
    things: Path | None = None

    @property
    def frames(self) -> list[int]:
        """The frames of the node that are written, in order."""
        return self.options.frames(self.node, self.first, self.last)

    def stretches(self) -> list[Stretch]:
        """What it is cut into: whole seconds of frames, since groups of frames begin each second."""
        frames, rate = self.frames, self.options.canvas(self.node).rate
        each = max(1, round(rate)) * SECONDS
        basis = self._basis
        runs = [tuple(frames[at : at + each]) for at in range(0, len(frames), each)]
        return [Stretch(frames=run, name=_digest(basis, run)) for run in runs]

    @cached_property
    def _basis(self) -> str:
        """What all its segments depend on: the node, the files, what is written and how, and with what."""
        plain = self.model_dump(mode="json", context=WHOLE, include={"node", "matte", "options"})
        plain["options"].pop("sound"), plain["options"].pop("folder")
        media = {content: file.digest or str(file.path) for content, file in self.media.items()}
        return _digest(plain, media, sorted(self.files), made_by())

    @property
    def pin(self) -> str:
        """Names what it is made of, whatever makes it: a job that has waited is the same as long as this is."""
        plain = self.model_dump(mode="json", context=WHOLE, include={"node", "matte", "options", "first", "last", "sound", "mix"})
        return _digest(plain, {content: file.digest or str(file.path) for content, file in self.media.items()}, sorted(self.files))

    def check_media(self) -> None:
        """Raises `NotFound` where a media file is not the one that it was when the job was made."""
        for file in self.media.values():
            file.check()

    def segment(self, stretch: Stretch) -> Path:
        """Where a segment is kept."""
        return self.segments / f"{stretch.name}{self.options.made.segment_suffix or self.options.made.suffix}"


def _digest(*parts: Any) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()[:40]


class JobMedia:
    """Where the readers of a job find its files."""

    def __init__(self, job: Job) -> None:
        self._files = job.media

    def open(self, content: str) -> Opened:
        """A file. Raises `NotFound`."""
        if content not in self._files or not self._files[content].path.exists():
            raise NotFound("A media file of this export is missing.")
        file = self._files[content]
        file.check()
        return Opened(file.path, file.facts, Index.read(file.index), file.read_through)


def files_of(job: Job) -> Files:
    """The LUTs and pictures that its passes use, as far as they are there."""
    return Files({digest: _loaded(file) for digest, file in job.files.items() if file.path.exists()})


def _loaded(file: UsedFile) -> Any:
    if file.index is None or file.facts is None:
        return load_lut(file.path)
    return load_still(file.path, file.facts, Index.read(file.index))
