"""Queries on exports."""

import json
import sqlite3
from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel

from wenditas.core.errors import NotFound
from wenditas.store.database import Database, new_id, now

State = Literal["waiting", "running", "done", "failed", "cancelled", "cut off"]

CUT_OFF = "The server stopped before this export was finished. It can be started again."


class ExportRow(BaseModel):
    """A rendered file, or the job that makes it. done, total: frames. shots: the revisions at which the shots of a reel stood, by id."""

    id: str
    document_id: str
    revision: int
    name: str
    options: dict[str, Any]
    state: State
    done: int
    total: int
    message: str
    bytes: int | None
    created: str
    finished: str | None
    shots: dict[str, int] = {}


def _export(row: sqlite3.Row) -> ExportRow:
    return ExportRow(**{**dict(row), "options": json.loads(row["options"]), "shots": json.loads(row["shots"])})


def exports_of(db: Database, project_id: str) -> list[ExportRow]:
    """The exports of a project, newest first."""
    sql = """
        SELECT e.* FROM exports e LEFT JOIN shots s ON s.id = e.document_id LEFT JOIN footage f ON f.id = s.footage_id
        LEFT JOIN reels r ON r.id = e.document_id WHERE COALESCE(f.project_id, r.project_id) = ? ORDER BY e.created DESC, e.rowid DESC
    """
    return [_export(r) for r in db.rows(sql, (project_id,))]


def export(db: Database, id: str) -> ExportRow:
    """One export. Raises `NotFound`."""
    row = db.row("SELECT * FROM exports WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no export {id!r}.")
    return _export(row)


def all_ids(db: Database) -> set[str]:
    """The ids of all exports."""
    return {r["id"] for r in db.rows("SELECT id FROM exports")}


def add_export(
    db: Database, document_id: str, revision: int, name: str, options: dict[str, Any], total: int, stood: Mapping[str, int] | None = None
) -> ExportRow:
    """A new export, waiting."""
    id = new_id()
    values = (id, document_id, revision, name, json.dumps(options), total, now(), json.dumps(dict(stood or {})))
    with db.atomic() as writer:
        sql = "INSERT INTO exports (id, document_id, revision, name, options, state, total, created, shots) VALUES (?, ?, ?, ?, ?, 'waiting', ?, ?, ?)"
        writer.execute(sql, values)
    return export(db, id)


def set_state(db: Database, id: str, state: State, message: str = "", size: int | None = None) -> None:
    """Move an export to a state; states other than waiting and running are final and stamped. One that is done has done all its frames."""
    ended = None if state in ("waiting", "running") else now()
    done = {"waiting": "0", "done": "total"}.get(state, "done")
    with db.atomic() as writer:
        writer.execute(f"UPDATE exports SET state = ?, message = ?, bytes = ?, finished = ?, done = {done} WHERE id = ?", (state, message, size, ended, id))


def set_done(db: Database, id: str, done: int) -> None:
    """How many frames are finished."""
    with db.atomic() as writer:
        writer.execute("UPDATE exports SET done = ? WHERE id = ?", (done, id))


def remove_export(db: Database, id: str) -> None:
    """Forget an export."""
    with db.atomic() as writer:
        writer.execute("DELETE FROM exports WHERE id = ?", (id,))


def mark_cut_off(db: Database) -> None:
    """What was running or waiting when the server stopped did not finish."""
    with db.atomic() as writer:
        writer.execute("UPDATE exports SET state = 'cut off', message = ?, finished = ? WHERE state IN ('running', 'waiting')", (CUT_OFF, now()))
