"""Folders of this machine from which footage is taken without copying it: read only, and nothing outside them."""

import hashlib
import os
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from wenditas.core.errors import BadRequest, NotFound
from wenditas.media.sequence import PICTURES, numbered
from wenditas.project.kinds import SOUNDS, SUFFIXES

MOST_LISTED = 2000


@dataclass(frozen=True)
class Place:
    """A folder that was named when Wenditas was started."""

    id: str
    name: str
    root: Path


@dataclass(frozen=True)
class Listed:
    """Something in a folder. kind: a folder, a file, or numbered pictures that belong together (then name is their first, count how many)."""

    name: str
    kind: str
    bytes: int = 0
    changed: float = 0
    count: int = 0


class Places:
    """The folders that are offered."""

    def __init__(self, roots: Sequence[Path] = ()) -> None:
        found: dict[str, Place] = {}
        for root in roots:
            try:
                real = root.resolve(strict=True)
            except OSError as error:
                raise BadRequest(f"The media folder {root} is not there.") from error
            if not real.is_dir():
                raise BadRequest(f"{root} is not a folder.")
            id = hashlib.sha256(str(real).encode()).hexdigest()[:12]
            found[id] = Place(id, real.name or str(real), real)
        self.all = found

    def inside(self, place: str, path: str) -> Path:
        """A file or folder inside a place, by its path from there; its real path lies in the place too. Raises `NotFound`, `BadRequest`."""
        if place not in self.all:
            raise NotFound("There is no such media folder; it may not have been named at this start.")
        root = self.all[place].root
        if "\x00" in path:
            raise BadRequest("This is no path.")
        try:
            real = (root / path).resolve()  # also of what is not there: whether anything lies outside is nobody's business
        except (OSError, RuntimeError) as error:  # the latter of links that lead to each other
            raise NotFound(f"“{path}” leads nowhere in “{self.all[place].name}”.") from error
        if real != root and root not in real.parents:
            raise BadRequest(f"“{path}” leads out of “{self.all[place].name}”; only what lies in it is read.")
        try:
            return real.resolve(strict=True)
        except OSError as error:
            raise NotFound(f"“{path}” is not in “{self.all[place].name}” any more.") from error

    def listed(self, place: str, path: str) -> tuple[list[Listed], int]:
        """What a folder holds: folders first, then footage, by name; and how many there are in all. Numbered pictures are told as one."""
        folder = self.inside(place, path)
        if not folder.is_dir():
            raise BadRequest(f"“{path}” is not a folder.")
        folders, files = [], []
        for entry in sorted(folder.iterdir(), key=lambda p: _natural(p.name)):
            if entry.name.startswith("."):
                continue
            try:
                real = self.inside(place, str(entry.relative_to(self.all[place].root)))
                stat = real.stat()
            except (NotFound, BadRequest, OSError):
                continue  # a link that leads out, or to nothing
            if real.is_dir():
                folders.append(Listed(entry.name, "folder"))
            elif entry.suffix.lower() in SUFFIXES | SOUNDS | PICTURES:
                files.append(Listed(entry.name, "file", stat.st_size, stat.st_mtime))
        found = [*folders, *_told_as_one(files)]
        return found[:MOST_LISTED], len(found)

    def all_files(self) -> Iterator[Path]:
        """Every file in any of them, by its real path."""
        for place in self.all.values():
            for folder, _, names in os.walk(place.root):  # which follows no links
                for name in names:
                    try:
                        found = self.inside(place.id, str((Path(folder) / name).relative_to(place.root)))
                        if found.is_file():
                            yield found
                    except (NotFound, BadRequest, OSError):
                        continue


def _natural(name: str) -> list[tuple[int, int, str]]:
    """So that 9 comes before 10."""
    return [(0, int(part), "") if part.isdecimal() else (1, 0, part.casefold()) for part in re.split(r"(\d+)", name)]


def _told_as_one(files: list[Listed]) -> list[Listed]:
    by_name = {f.name: f for f in files}
    runs = numbered([f.name for f in files])
    first_of = {run[0]: run for run in runs}
    within = {name for run in runs for name in run}
    found = []
    for file in files:
        if file.name in first_of:
            run = first_of[file.name]
            found.append(Listed(file.name, "sequence", sum(by_name[n].bytes for n in run), max(by_name[n].changed for n in run), len(run)))
        elif file.name not in within:
            found.append(file)
    return found
