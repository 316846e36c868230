"""Queries on the shelf: saved looks and passes."""

import json
import sqlite3
from typing import Any, Literal

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, new_id, now

ShelfKind = Literal["look", "pass"]


class ShelfRow(BaseModel):
    """A saved look, or a pass with the selection it uses, as a look document."""

    id: str
    kind: ShelfKind
    name: str
    words: str
    look: dict[str, Any]


def _item(row: sqlite3.Row) -> ShelfRow:
    return ShelfRow(**{k: row[k] for k in ("id", "kind", "name", "words")}, look=json.loads(row["look"]))


def items(db: Database) -> list[ShelfRow]:
    """Everything saved, newest first, without what was removed."""
    return [_item(r) for r in db.rows("SELECT * FROM shelf WHERE removed IS NULL ORDER BY created DESC, rowid DESC")]


def item(db: Database, id: str) -> ShelfRow:
    """One saved item, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM shelf WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is nothing with the id {id!r} on the shelf.")
    return _item(row)


def add_item(db: Database, kind: ShelfKind, name: str, words: str, look: dict[str, Any]) -> ShelfRow:
    """Save a look or a pass."""
    id = new_id()
    with db.atomic() as writer:
        values = (id, kind, name, words, json.dumps(look), now())
        writer.execute("INSERT INTO shelf (id, kind, name, words, look, created) VALUES (?, ?, ?, ?, ?, ?)", values)
    return item(db, id)


def rename_item(db: Database, id: str, name: str) -> ShelfRow:
    """Give a saved item another name."""
    item(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE shelf SET name = ? WHERE id = ?", (name, id))
    return item(db, id)


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Take an item from the shelf, or put it back."""
    item(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE shelf SET removed = ? WHERE id = ?", (now() if removed else None, id))
