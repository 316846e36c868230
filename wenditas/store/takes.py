"""Queries on takes and on the list of a shot's edits."""

import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import Conflict, NotFound
from wenditas.store import shots
from wenditas.store.database import Database, new_id, now

MOST_EDITS = 400


class TakeRow(BaseModel):
    """A saved version of a shot's look."""

    id: str
    shot_id: str
    revision: int
    name: str
    created: str


class EditRow(BaseModel):
    """One edit of a shot. current: whether the shot as it stands has come about through it."""

    id: int
    parent: int | None
    words: str
    created: str
    current: bool


def _take(row: sqlite3.Row) -> TakeRow:
    return TakeRow(**{k: row[k] for k in ("id", "shot_id", "revision", "name", "created")})


def takes(db: Database, shot_id: str) -> list[TakeRow]:
    """The takes of a shot, newest first."""
    return [_take(r) for r in db.rows("SELECT * FROM takes WHERE shot_id = ? AND removed IS NULL ORDER BY created DESC, rowid DESC", (shot_id,))]


def take(db: Database, id: str) -> TakeRow:
    """One take, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM takes WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no take {id!r}.")
    return _take(row)


def add_take(db: Database, shot_id: str, revision: int, name: str) -> TakeRow:
    """Name a revision. Raises `NotFound` where the shot has no such revision."""
    shots.revision(db, shot_id, revision)
    id = new_id()
    with db.atomic() as writer:
        writer.execute("INSERT INTO takes (id, shot_id, revision, name, created) VALUES (?, ?, ?, ?, ?)", (id, shot_id, revision, name, now()))
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
    with db.atomic() as writer:
        writer.execute("UPDATE takes SET removed = ? WHERE id = ?", (now() if removed else None, id))


def edits_of(db: Database, shot_id: str) -> list[EditRow]:
    """The newest edits of a shot, newest first, those on other branches too."""
    head = shots.shot(db, shot_id).head
    rows = db.rows("SELECT id, parent, words, created FROM revisions WHERE shot_id = ? ORDER BY id DESC LIMIT ?", (shot_id, MOST_EDITS))
    parents = {r["id"]: r["parent"] for r in rows}
    line, at = set(), head
    while at is not None:
        line.add(at)
        at = parents.get(at)
    return [EditRow(id=r["id"], parent=r["parent"], words=r["words"], created=r["created"], current=r["id"] in line) for r in rows]


def go_to(db: Database, shot_id: str, base: int, revision: int) -> None:
    """Make any revision of a shot its newest state. Raises `StaleRevision`, `NotFound`, or `Conflict` where it is that already."""
    shots.revision(db, shot_id, revision)
    if base == revision:
        raise Conflict("The shot stands there already.")
    with db.atomic() as writer:
        shots.check_base(writer, shot_id, base)
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (revision, shot_id))
