"""A project once more, by itself: its own documents, histories and takes, over the same media."""

import os
import shutil
from pathlib import Path

from wenditas.project.archive import with_ids
from wenditas.project.library import Library
from wenditas.store import footage, projects
from wenditas.store.database import new_id
from wenditas.store.whole import ids_of, put, rows_of


def duplicated(library: Library, project_id: str) -> projects.Project:
    """A project with all that belongs to it under new ids, named as a copy. Media share their bytes on the disk where it can. Raises `NotFound`."""
    with library.db.snapshot():  # of one moment, whatever is edited meanwhile
        source = projects.project(library.db, project_id)
        tables = rows_of(library.db, project_id)
    ids = {id: new_id() for id in ids_of(tables)}
    made = with_ids(tables, ids)
    made["projects"][0].update(name=_free(f"{source.name[:70]}, copy", {p.name for p in projects.all_projects(library.db)}), removed=None)
    placed: list[Path] = []
    try:
        for row in tables["footage"]:
            old = footage.footage(library.db, row["id"])
            pairs = [(library.index_path(old.id), library.index_path(ids[old.id]))]
            if row["lies"] is None:  # what lies elsewhere is named there by both
                pairs.append((library.media_path(old), library.folder / "media" / f"{ids[old.id]}{old.suffix}"))
            for path, target in pairs:
                if path.exists():
                    placed.append(target)
                    _shared(path, target)
        put(library.db, made)
        placed = []
    finally:
        for path in placed:
            path.unlink(missing_ok=True)
    return projects.project(library.db, made["projects"][0]["id"])


def _shared(path: Path, target: Path) -> None:
    """The same file under another name; a copy where the disk has no links. Media are never written to."""
    try:
        os.link(path, target)
    except OSError:
        shutil.copyfile(path, target)


def _free(name: str, taken: set[str]) -> str:
    n, tried = 1, name
    while tried in taken:
        n, tried = n + 1, f"{name} {n + 1}"
    return tried
