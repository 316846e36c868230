"""Queries on the files that passes use."""

import json
import sqlite3
from typing import Any, Literal

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, now

FileKind = Literal["lut", "picture"]


class FileRow(BaseModel):
    """A LUT or a picture. facts: for pictures what the probe found, for LUTs their title and size."""

    digest: str
    kind: FileKind
    name: str
    suffix: str
    bytes: int
    facts: dict[str, Any]


def _file(row: sqlite3.Row) -> FileRow:
    return FileRow(**{k: row[k] for k in ("digest", "kind", "name", "suffix", "bytes")}, facts=json.loads(row["facts"]))


def files(db: Database) -> list[FileRow]:
    """All files, newest first."""
    return [_file(r) for r in db.rows("SELECT * FROM files ORDER BY rowid DESC")]


def find_file(db: Database, digest: str) -> FileRow | None:
    """One file, or None."""
    row = db.row("SELECT * FROM files WHERE digest = ?", (digest,))
    return None if row is None else _file(row)


def file(db: Database, digest: str) -> FileRow:
    """One file. Raises `NotFound`."""
    found = find_file(db, digest)
    if found is None:
        raise NotFound(f"There is no file with the digest {digest!r}.")
    return found


def add_file(db: Database, row: FileRow) -> None:
    """Remember a file; one that is known already stays as it is."""
    values = (row.digest, row.kind, row.name, row.suffix, row.bytes, json.dumps(row.facts), now())
    with db.atomic() as writer:
        writer.execute("INSERT OR IGNORE INTO files (digest, kind, name, suffix, bytes, facts, created) VALUES (?, ?, ?, ?, ?, ?, ?)", values)
