"""Queries on exports."""

import json
import sqlite3
from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel

from wenditas.core.errors import BadRequest, NotFound
from wenditas.store.database import Database, new_id, now

State = Literal["waiting", "running", "paused", "done", "failed", "cancelled", "cut off"]
AT_WORK = ("waiting", "running", "paused")
MOST_PRESETS = 100


class ExportRow(BaseModel):
    """A rendered file, or the job that makes it. done, total: frames. shots: the revisions at which the shots of a reel stood, by id.

    place: in the order in which those that wait are taken. digest: SHA-256 of the file. part: the span of a reel that is shown, by id.
    pin: names what it was made of when it was asked for (see `Job.pin`).
    """

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
    place: float = 0
    digest: str = ""
    part: str = ""
    pin: str = ""


class PresetRow(BaseModel):
    """Options of exports under a name of one's own."""

    id: str
    name: str
    options: dict[str, Any]


def _export(row: sqlite3.Row) -> ExportRow:
    return ExportRow(**{**dict(row), "options": json.loads(row["options"]), "shots": json.loads(row["shots"])})


def exports_of(db: Database, project_id: str) -> list[ExportRow]:
    """The exports of a project, newest first."""
    sql = """
        SELECT e.* FROM exports e LEFT JOIN shots s ON s.id = e.document_id LEFT JOIN footage f ON f.id = s.footage_id
        LEFT JOIN reels r ON r.id = e.document_id WHERE COALESCE(f.project_id, r.project_id) = ? ORDER BY e.rowid DESC
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


def unfinished_ids(db: Database) -> set[str]:
    """The ids of exports that may go on."""
    return {r["id"] for r in db.rows("SELECT id FROM exports WHERE state NOT IN ('done', 'cancelled')")}


def next_waiting(db: Database, without: set[str]) -> ExportRow | None:
    """The export that is to be taken next, apart from some."""
    rows = db.rows("SELECT * FROM exports WHERE state IN ('waiting', 'running') ORDER BY state = 'waiting', place, rowid")
    return next((_export(r) for r in rows if r["id"] not in without), None)


def add_export(
    db: Database, document_id: str, revision: int, name: str, options: dict[str, Any], total: int, stood: Mapping[str, int] | None = None, part: str = "",
    pin: str = "",
) -> ExportRow:  # fmt: skip
    """A new export, waiting, after all others."""
    id = new_id()
    values = (id, document_id, revision, name, json.dumps(options), total, now(), json.dumps(dict(stood or {})), part, pin)
    with db.atomic() as writer:
        sql = """
            INSERT INTO exports (id, document_id, revision, name, options, state, total, created, shots, part, pin, place)
            VALUES (?, ?, ?, ?, ?, 'waiting', ?, ?, ?, ?, ?, (SELECT COALESCE(MAX(place), 0) + 1 FROM exports))
        """
        writer.execute(sql, values)
    return export(db, id)


def set_state(db: Database, id: str, state: State, message: str = "", size: int | None = None, digest: str = "") -> None:
    """Move an export to a state; those after which it does not go on by itself are stamped. One that is done has done all its frames."""
    ended = None if state in AT_WORK else now()
    done = "total" if state == "done" else "done"
    with db.atomic() as writer:
        sql = f"UPDATE exports SET state = ?, message = ?, bytes = ?, finished = ?, digest = ?, done = {done} WHERE id = ?"
        writer.execute(sql, (state, message, size, ended, digest, id))


def set_done(db: Database, id: str, done: int) -> None:
    """How many frames are finished."""
    with db.atomic() as writer:
        writer.execute("UPDATE exports SET done = ? WHERE id = ?", (done, id))


def put_before(db: Database, id: str, before: str | None) -> None:
    """Let an export be taken before another, or last. Raises `NotFound`."""
    export(db, id)
    with db.atomic() as writer:
        if before is None:
            place = writer.execute("SELECT MAX(place) + 1 AS place FROM exports").fetchone()["place"]
        else:
            at = export(db, before).place
            row = writer.execute("SELECT MAX(place) AS place FROM exports WHERE place < ? AND id != ?", (at, id)).fetchone()
            place = at - 1 if row["place"] is None else (at + row["place"]) / 2
        writer.execute("UPDATE exports SET place = ? WHERE id = ?", (place, id))


def remove_export(db: Database, id: str) -> None:
    """Forget an export."""
    with db.atomic() as writer:
        writer.execute("DELETE FROM exports WHERE id = ?", (id,))


def let_wait(db: Database) -> None:
    """What was running when the server stopped waits, and goes on where it stood."""
    with db.atomic() as writer:
        writer.execute("UPDATE exports SET state = 'waiting' WHERE state = 'running'")


def presets(db: Database) -> list[PresetRow]:
    """All presets, by name."""
    return [PresetRow(id=r["id"], name=r["name"], options=json.loads(r["options"])) for r in db.rows("SELECT * FROM export_presets ORDER BY name")]


def save_preset(db: Database, name: str, options: dict[str, Any]) -> PresetRow:
    """Keep options under a name, in the place of others of the same name."""
    if len(presets(db)) >= MOST_PRESETS:
        raise BadRequest(f"There are {MOST_PRESETS} presets already; remove one first.")
    with db.atomic() as writer:
        sql = "INSERT INTO export_presets (id, name, options) VALUES (?, ?, ?) ON CONFLICT (name) DO UPDATE SET options = excluded.options"
        writer.execute(sql, (new_id(), name, json.dumps(options)))
    return next(p for p in presets(db) if p.name == name)


def remove_preset(db: Database, id: str) -> None:
    """Forget a preset."""
    with db.atomic() as writer:
        writer.execute("DELETE FROM export_presets WHERE id = ?", (id,))
