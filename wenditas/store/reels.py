"""Queries on reels, of which a project has one; see `history` for their documents."""

import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store import history
from wenditas.store.database import Database, new_id, now


class ReelRow(BaseModel):
    """The reel of a project."""

    id: str
    project_id: str
    head: int


class StandingRow(BaseModel):
    """A shot as a reel needs it: what it is called, where it stands, and whether it can be had at all."""

    id: str
    name: str
    footage_id: str
    head: int
    gone: bool


def _reel(row: sqlite3.Row) -> ReelRow:
    return ReelRow(id=row["id"], project_id=row["project_id"], head=row["head"])


def reel(db: Database, id: str) -> ReelRow:
    """One reel. Raises `NotFound`."""
    row = db.row("SELECT r.*, d.head FROM reels r JOIN documents d ON d.id = r.id WHERE r.id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no reel {id!r}.")
    return _reel(row)


def reel_of(db: Database, project_id: str) -> ReelRow | None:
    """The reel of a project, where it has begun."""
    row = db.row("SELECT r.*, d.head FROM reels r JOIN documents d ON d.id = r.id WHERE r.project_id = ?", (project_id,))
    return None if row is None else _reel(row)


def begin_reel(db: Database, project_id: str, first: history.NewRevision) -> ReelRow:
    """The reel of a project, made with its first revision where there is none."""
    with db.atomic() as writer:
        if writer.execute("SELECT 1 FROM projects WHERE id = ?", (project_id,)).fetchone() is None:
            raise NotFound(f"There is no project {project_id!r}.")
        if writer.execute("SELECT 1 FROM reels WHERE project_id = ?", (project_id,)).fetchone() is None:
            id = new_id()
            values = (id, project_id, now())
            history.begin(writer, id, "reel", first, lambda: writer.execute("INSERT INTO reels (id, project_id, created) VALUES (?, ?, ?)", values))
    found = reel_of(db, project_id)
    assert found is not None
    return found


def standing(db: Database, project_id: str) -> dict[str, StandingRow]:
    """All shots of a project by id, those that were removed too."""
    sql = """
        SELECT s.id, s.name, s.footage_id, d.head, s.removed IS NOT NULL OR f.removed IS NOT NULL AS gone
        FROM shots s JOIN documents d ON d.id = s.id JOIN footage f ON f.id = s.footage_id WHERE f.project_id = ?
    """
    return {r["id"]: StandingRow(**dict(r)) for r in db.rows(sql, (project_id,))}
