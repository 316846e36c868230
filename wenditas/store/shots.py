"""Queries on shots, their documents and the history of these."""

import json
import sqlite3
from typing import Any

from pydantic import BaseModel

from wenditas.core.errors import Conflict, NotFound, StaleRevision
from wenditas.store.database import Database, new_id, now


class ShotRow(BaseModel):
    """A shot: one use of a piece of footage."""

    id: str
    footage_id: str
    name: str
    head: int


class RevisionRow(BaseModel):
    """A state of a shot's document, and how it came about."""

    id: int
    parent: int | None
    words: str
    document: dict[str, Any]


def _shot(row: sqlite3.Row) -> ShotRow:
    return ShotRow(id=row["id"], footage_id=row["footage_id"], name=row["name"], head=row["head"])


def shots_of(db: Database, project_id: str) -> list[ShotRow]:
    """The shots of a project, oldest first, without what was removed."""
    sql = """
        SELECT s.* FROM shots s JOIN footage f ON f.id = s.footage_id
        WHERE f.project_id = ? AND s.removed IS NULL AND f.removed IS NULL ORDER BY s.created, s.rowid
    """
    return [_shot(r) for r in db.rows(sql, (project_id,))]


def use_footage(db: Database, footage_id: str) -> bool:
    """Whether a shot, removed or not, is a use of some footage."""
    return db.row("SELECT 1 FROM shots WHERE footage_id = ? LIMIT 1", (footage_id,)) is not None


def shot(db: Database, id: str) -> ShotRow:
    """One shot, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM shots WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no shot {id!r}.")
    return _shot(row)


def add_shot(db: Database, footage_id: str, name: str, document: dict[str, Any], words: str = "Shot made") -> ShotRow:
    """A new shot with its first revision."""
    id = new_id()
    with db.atomic() as writer:
        writer.execute("INSERT INTO shots (id, footage_id, name, created) VALUES (?, ?, ?, ?)", (id, footage_id, name, now()))
        head = _insert(writer, id, None, words, [], document)
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (head, id))
    return shot(db, id)


def rename_shot(db: Database, id: str, name: str) -> ShotRow:
    """Give a shot another name."""
    shot(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE shots SET name = ? WHERE id = ?", (name, id))
    return shot(db, id)


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Remove a shot, or bring it back."""
    shot(db, id)
    with db.atomic() as writer:
        writer.execute("UPDATE shots SET removed = ? WHERE id = ?", (now() if removed else None, id))


def _insert(writer: sqlite3.Connection, shot_id: str, parent: int | None, words: str, patch: list[Any], document: dict[str, Any]) -> int:
    values = (shot_id, parent, words, json.dumps(patch), json.dumps(document), now())
    cursor = writer.execute("INSERT INTO revisions (shot_id, parent, words, patch, document, created) VALUES (?, ?, ?, ?, ?, ?)", values)
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def _revision(row: sqlite3.Row) -> RevisionRow:
    return RevisionRow(id=row["id"], parent=row["parent"], words=row["words"], document=json.loads(row["document"]))


def revision(db: Database, shot_id: str, id: int) -> RevisionRow:
    """One revision of a shot. Raises `NotFound`."""
    row = db.row("SELECT * FROM revisions WHERE shot_id = ? AND id = ?", (shot_id, id))
    if row is None:
        raise NotFound(f"This shot has no revision {id}.")
    return _revision(row)


def head(db: Database, shot_id: str) -> RevisionRow:
    """The revision a shot stands at."""
    return revision(db, shot_id, shot(db, shot_id).head)


def redo_target(db: Database, shot_id: str) -> RevisionRow | None:
    """The newest revision made from the head, or None."""
    row = db.row("SELECT r.* FROM revisions r JOIN shots s ON s.id = r.shot_id AND r.parent = s.head WHERE s.id = ? ORDER BY r.id DESC LIMIT 1", (shot_id,))
    return None if row is None else _revision(row)


def add_revision(db: Database, shot_id: str, base: int, words: str, patch: list[Any], document: dict[str, Any]) -> None:
    """Store an edit of revision `base` and move the head to it, in one transaction.

    Raises `StaleRevision` where the head is no longer `base`; then nothing is stored.
    """
    with db.atomic() as writer:
        check_base(writer, shot_id, base)
        new = _insert(writer, shot_id, base, words, patch, document)
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (new, shot_id))


def check_base(writer: sqlite3.Connection, shot_id: str, base: int) -> None:
    """Raise `StaleRevision` where the head of a shot is no longer `base`, `NotFound` where there is no such shot."""
    row = writer.execute("SELECT head FROM shots WHERE id = ?", (shot_id,)).fetchone()
    if row is None:
        raise NotFound(f"There is no shot {shot_id!r}.")
    if row["head"] != base:
        raise StaleRevision(base, row["head"])


def move_head(db: Database, shot_id: str, base: int, forward: bool) -> None:
    """Undo, or redo where `forward`. Raises `StaleRevision`, or `Conflict` where there is nothing to do."""
    with db.atomic() as writer:
        check_base(writer, shot_id, base)
        if forward:
            row = writer.execute("SELECT id FROM revisions WHERE shot_id = ? AND parent = ? ORDER BY id DESC LIMIT 1", (shot_id, base)).fetchone()
        else:
            row = writer.execute("SELECT parent AS id FROM revisions WHERE shot_id = ? AND id = ? AND parent IS NOT NULL", (shot_id, base)).fetchone()
        if row is None:
            raise Conflict("There is nothing to redo." if forward else "There is nothing to undo.")
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (row["id"], shot_id))
