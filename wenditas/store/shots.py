"""Queries on shots; see `history` for their documents."""

import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store import history
from wenditas.store.database import Database, mark_removed, new_id, now


class ShotRow(BaseModel):
    """A shot: one use of a piece of footage."""

    id: str
    footage_id: str
    name: str
    head: int


def _shot(row: sqlite3.Row) -> ShotRow:
    return ShotRow(id=row["id"], footage_id=row["footage_id"], name=row["name"], head=row["head"])


def shots_of(db: Database, project_id: str) -> list[ShotRow]:
    """The shots of a project, oldest first, without what was removed."""
    sql = """
        SELECT s.*, d.head FROM shots s JOIN footage f ON f.id = s.footage_id JOIN documents d ON d.id = s.id
        WHERE f.project_id = ? AND s.removed IS NULL AND f.removed IS NULL ORDER BY s.rowid
    """
    return [_shot(r) for r in db.rows(sql, (project_id,))]


def use_footage(db: Database, footage_id: str) -> bool:
    """Whether a shot, removed or not, is a use of some footage."""
    return db.row("SELECT 1 FROM shots WHERE footage_id = ? LIMIT 1", (footage_id,)) is not None


def made_of(db: Database, footage_id: str) -> list[str]:
    """The ids of all shots that are uses of some footage, removed ones too."""
    return [r["id"] for r in db.rows("SELECT id FROM shots WHERE footage_id = ? ORDER BY rowid", (footage_id,))]


def set_footage(db: Database, ids: list[str], footage_id: str) -> None:
    """Let shots be uses of other footage."""
    with db.atomic() as writer:
        writer.executemany("UPDATE shots SET footage_id = ? WHERE id = ?", [(footage_id, id) for id in ids])


def shot(db: Database, id: str) -> ShotRow:
    """One shot, also when removed. Raises `NotFound`."""
    row = db.row("SELECT s.*, d.head FROM shots s JOIN documents d ON d.id = s.id WHERE s.id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no shot {id!r}.")
    return _shot(row)


def in_use(db: Database, id: str) -> bool:
    """Whether there is a shot of that id, which neither itself nor with its footage was removed."""
    sql = "SELECT 1 FROM shots s JOIN footage f ON f.id = s.footage_id WHERE s.id = ? AND s.removed IS NULL AND f.removed IS NULL"
    return db.row(sql, (id,)) is not None


def add_shot(db: Database, footage_id: str, name: str, first: history.NewRevision) -> ShotRow:
    """A new shot with its first revision, which keeps its document whole."""
    id = new_id()
    with db.atomic() as writer:
        history.begin(
            writer,
            id,
            "shot",
            first,
            lambda: writer.execute("INSERT INTO shots (id, footage_id, name, created) VALUES (?, ?, ?, ?)", (id, footage_id, name, now())),
        )
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
    mark_removed(db, "shots", id, removed)
