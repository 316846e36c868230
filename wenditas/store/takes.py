"""Queries on takes."""

import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store import history
from wenditas.store.database import Database, mark_removed, new_id, now


class TakeRow(BaseModel):
    """A saved version of a document."""

    id: str
    document_id: str
    revision: int
    name: str
    created: str


def _take(row: sqlite3.Row) -> TakeRow:
    return TakeRow(**{k: row[k] for k in ("id", "document_id", "revision", "name", "created")})


def takes(db: Database, document_id: str) -> list[TakeRow]:
    """The takes of a document, newest first."""
    return [_take(r) for r in db.rows("SELECT * FROM takes WHERE document_id = ? AND removed IS NULL ORDER BY rowid DESC", (document_id,))]


def take(db: Database, id: str) -> TakeRow:
    """One take, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM takes WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no take {id!r}.")
    return _take(row)


def add_take(db: Database, document_id: str, revision: int, name: str) -> TakeRow:
    """Name a revision. Raises `NotFound` where the document has no such revision."""
    history.revision(db, document_id, revision)
    id = new_id()
    with db.atomic() as writer:
        writer.execute("INSERT INTO takes (id, document_id, revision, name, created) VALUES (?, ?, ?, ?, ?)", (id, document_id, revision, name, now()))
    return take(db, id)


def rename_take(db: Database, id: str, name: str) -> TakeRow:
    """Give a take another name."""
    take(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE takes SET name = ? WHERE id = ?", (name, id))
    return take(db, id)


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Remove a take, or bring it back; its revision stays in any case."""
    take(db, id)
    mark_removed(db, "takes", id, removed)
