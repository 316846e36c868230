"""Queries on footage."""

import json
import sqlite3

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, new_id, now


class FootageRow(BaseModel):
    """A piece of footage as stored. `facts` is JSON of `wenditas.media.facts.Facts`, `reading` of `wenditas.media.reading.Reading`.

    digest, bytes: of its file; came_as: the digest of what that was made from, empty where it is what came. lies, changed: where its file
    lies, where it was not copied, and when that was last changed, in nanoseconds.
    """

    id: str
    project_id: str
    name: str
    suffix: str
    digest: str
    bytes: int
    facts: dict  # type: ignore[type-arg]
    reading: dict = {}  # type: ignore[type-arg]
    lies: str | None = None
    changed: int | None = None
    came_as: str = ""


def _footage(row: sqlite3.Row) -> FootageRow:
    plain = ("id", "project_id", "name", "suffix", "digest", "bytes", "lies", "changed", "came_as")
    return FootageRow(**{k: row[k] for k in plain}, facts=json.loads(row["facts"]), reading=json.loads(row["reading"]))


def footage_of(db: Database, project_id: str) -> list[FootageRow]:
    """The footage of a project, oldest first, without what was removed."""
    rows = db.rows("SELECT * FROM footage WHERE project_id = ? AND removed IS NULL ORDER BY rowid", (project_id,))
    return [_footage(r) for r in rows]


def footage(db: Database, id: str) -> FootageRow:
    """One piece of footage, also when removed. Raises `NotFound`."""
    row = db.row("SELECT * FROM footage WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no footage {id!r}.")
    return _footage(row)


def with_digest(db: Database, project_id: str, digest: str) -> FootageRow | None:
    """The footage of a project that has these bytes, or was made from them, without what was removed."""
    sql = "SELECT * FROM footage WHERE project_id = ? AND ? IN (digest, came_as) AND removed IS NULL ORDER BY rowid LIMIT 1"
    row = db.row(sql, (project_id, digest))
    return None if row is None else _footage(row)


def all_ids(db: Database) -> set[str]:
    """The ids of all footage, also of what was removed."""
    return {r["id"] for r in db.rows("SELECT id FROM footage")}


def add_footage(db: Database, row: FootageRow) -> None:
    """Store a new piece of footage."""
    _insert(db, row, now())


def set_facts(db: Database, id: str, facts: dict) -> None:  # type: ignore[type-arg]
    """Store what more is known of a piece of footage."""
    with db.atomic() as writer:
        writer.execute("UPDATE footage SET facts = ? WHERE id = ?", (json.dumps(facts), id))


def set_reading(db: Database, id: str, reading: dict) -> None:  # type: ignore[type-arg]
    """Store how a piece of footage is read."""
    with db.atomic() as writer:
        writer.execute("UPDATE footage SET reading = ? WHERE id = ?", (json.dumps(reading), id))


def set_place(db: Database, id: str, lies: str | None, changed: int | None) -> None:
    """Store where the file of a piece of footage lies; None for the data folder."""
    with db.atomic() as writer:
        writer.execute("UPDATE footage SET lies = ?, changed = ? WHERE id = ?", (lies, changed, id))


def set_file(db: Database, id: str, digest: str, size: int) -> None:
    """Store what file a piece of footage has now."""
    with db.atomic() as writer:
        writer.execute("UPDATE footage SET digest = ?, bytes = ? WHERE id = ?", (digest, size, id))


def replace_footage(db: Database, id: str, row: FootageRow) -> None:
    """Put footage in the place of some that no shot uses."""
    with db.atomic() as writer:
        old = writer.execute("DELETE FROM footage WHERE id = ? RETURNING created", (id,)).fetchone()
        _insert(db, row, old["created"])


def _insert(db: Database, row: FootageRow, created: str) -> None:
    texts = json.dumps(row.facts), json.dumps(row.reading)
    values = (row.id, row.project_id, row.name, row.suffix, row.digest, row.bytes, *texts, row.lies, row.changed, row.came_as, created)
    columns = "id, project_id, name, suffix, digest, bytes, facts, reading, lies, changed, came_as, created"
    with db.atomic() as writer:
        writer.execute(f"INSERT INTO footage ({columns}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", values)


def set_removed(db: Database, id: str, removed: bool) -> None:
    """Remove a piece of footage with its shots, or bring it back with those that went with it."""
    footage(db, id)
    with db.atomic() as writer:
        if removed:
            stamp = f"{now()} {new_id()}"  # the id tells shots that went with it from one removed in the same moment
            writer.execute("UPDATE footage SET removed = ? WHERE id = ? AND removed IS NULL", (stamp, id))
            writer.execute("UPDATE shots SET removed = ? WHERE footage_id = ? AND removed IS NULL", (stamp, id))
        else:
            writer.execute("UPDATE shots SET removed = NULL WHERE footage_id = ? AND removed = (SELECT removed FROM footage WHERE id = ?)", (id, id))
            writer.execute("UPDATE footage SET removed = NULL WHERE id = ?", (id,))


def removed_before(db: Database, stamp: str) -> list[FootageRow]:
    """Footage removed before a time, whose files may go."""
    return [_footage(r) for r in db.rows("SELECT * FROM footage WHERE removed < ?", (stamp,))]
