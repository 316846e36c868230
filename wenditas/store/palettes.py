"""Queries on the palettes that are kept."""

import json
import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, mark_removed, new_id, now


class PaletteRow(BaseModel):
    """A palette: its colours as #rrggbb, dark to light."""

    id: str
    name: str
    colours: list[str]


def _palette(row: sqlite3.Row) -> PaletteRow:
    return PaletteRow(id=row["id"], name=row["name"], colours=json.loads(row["colours"]))


def palettes(db: Database) -> list[PaletteRow]:
    """Everything kept, newest first, without what was removed."""
    return [_palette(r) for r in db.rows("SELECT * FROM palettes WHERE removed IS NULL ORDER BY rowid DESC")]


def add_palette(db: Database, name: str, colours: list[str]) -> PaletteRow:
    """Keep a palette."""
    row = PaletteRow(id=new_id(), name=name, colours=colours)
    with db.atomic() as writer:
        writer.execute("INSERT INTO palettes (id, name, colours, created) VALUES (?, ?, ?, ?)", (row.id, name, json.dumps(colours), now()))
    return row


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Take a palette away, or bring it back. Raises `NotFound`."""
    if db.row("SELECT 1 FROM palettes WHERE id = ?", (id,)) is None:
        raise NotFound(f"There is no palette {id!r}.")
    mark_removed(db, "palettes", id, removed)
