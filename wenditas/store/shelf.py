"""Queries on the shelf: saved looks and passes."""

import json
import sqlite3
from collections.abc import Sequence
from typing import Any, Literal

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, mark_removed, new_id, now

ShelfKind = Literal["look", "pass"]


class ShelfRow(BaseModel):
    """A saved look, or a pass with the selection it uses, as a look document."""

    id: str
    kind: ShelfKind
    name: str
    words: str
    tags: list[str]
    look: dict[str, Any]


def _item(row: sqlite3.Row) -> ShelfRow:
    return ShelfRow(**{k: row[k] for k in ("id", "kind", "name", "words")}, tags=json.loads(row["tags"]), look=json.loads(row["look"]))


def items(db: Database) -> list[ShelfRow]:
    """Everything saved, newest first, without what was removed."""
    return [_item(r) for r in db.rows("SELECT * FROM shelf WHERE removed IS NULL ORDER BY rowid DESC")]


def item(db: Database, id: str) -> ShelfRow:
    """One saved item, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM shelf WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is nothing with the id {id!r} on the shelf.")
    return _item(row)


def add_item(db: Database, kind: ShelfKind, name: str, words: str, look: dict[str, Any], tags: Sequence[str] = ()) -> ShelfRow:
    """Save a look or a pass."""
    id = new_id()
    with db.atomic() as writer:
        values = (id, kind, name, words, json.dumps(look), now(), json.dumps(list(tags)))
        writer.execute("INSERT INTO shelf (id, kind, name, words, look, created, tags) VALUES (?, ?, ?, ?, ?, ?, ?)", values)
    return item(db, id)


def change_item(db: Database, id: str, name: str | None, words: str | None, tags: Sequence[str] | None) -> ShelfRow:
    """Give a saved item another name, other words or tags; None leaves what is there."""
    known = item(db, id)
    with db.atomic() as writer:
        values = (known.name if name is None else name, known.words if words is None else words, json.dumps(list(known.tags if tags is None else tags)), id)
        writer.execute("UPDATE shelf SET name = ?, words = ?, tags = ? WHERE id = ?", values)
    return item(db, id)


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Take an item from the shelf, or put it back."""
    item(db, id)
    mark_removed(db, "shelf", id, removed)
