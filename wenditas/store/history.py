"""Queries on the history of shots: edits as patches, documents kept whole now and then, and where a shot stands."""

import json
import sqlite3
from typing import Any

from pydantic import BaseModel

from wenditas.core.errors import Conflict, NotFound, StaleRevision
from wenditas.store.database import Database, now

MOST_EDITS = 400  # that are listed
NONE = 0  # no revision


class RevisionRow(BaseModel):
    """A state of a shot, and how it came about. distance: edits since the document was last kept whole."""

    id: int
    parent: int | None
    words: str
    distance: int


class EditRow(BaseModel):
    """One edit of a shot. current: whether the shot as it stands has come about through it; touched: the targets that it changed."""

    id: int
    parent: int | None
    words: str
    created: str
    current: bool
    touched: list[str] = []


class NewRevision(BaseModel):
    """An edit to be stored. document: what it makes, to be kept whole, or None; edit, author: its own id, and the page it comes from."""

    words: str
    patch: list[Any] = []
    touched: list[str] = [""]
    document: dict[str, Any] | None = None
    edit: str | None = None
    author: str = ""


def _row(row: sqlite3.Row) -> RevisionRow:
    return RevisionRow(id=row["id"], parent=row["parent"], words=row["words"], distance=row["distance"])


def head_id(db: Database, shot_id: str) -> int:
    """Where a shot stands. Raises `NotFound`."""
    row = db.row("SELECT head FROM shots WHERE id = ?", (shot_id,))
    if row is None:
        raise NotFound(f"There is no shot {shot_id!r}.")
    return int(row["head"])


def revision(db: Database, shot_id: str, id: int) -> RevisionRow:
    """One revision of a shot. Raises `NotFound`."""
    row = db.row("SELECT * FROM revisions WHERE shot_id = ? AND id = ?", (shot_id, id))
    if row is None:
        raise NotFound(f"This shot has no revision {id}.")
    return _row(row)


def made_by(db: Database, shot_id: str, edit: str) -> int | None:
    """The revision that an edit has made already; None where it has not."""
    row = db.row("SELECT id FROM revisions WHERE shot_id = ? AND edit = ?", (shot_id, edit))
    return None if row is None else int(row["id"])


def redo_target(db: Database, shot_id: str) -> RevisionRow | None:
    """The newest revision made from where the shot stands, or None."""
    row = db.row("SELECT r.* FROM revisions r JOIN shots s ON s.id = r.shot_id AND r.parent = s.head WHERE s.id = ? ORDER BY r.id DESC LIMIT 1", (shot_id,))
    return None if row is None else _row(row)


def kept(db: Database, shot_id: str, id: int) -> tuple[dict[str, Any], list[list[Any]]]:
    """The last whole document before a revision, and the patches from there to it. Raises `NotFound`."""
    revision(db, shot_id, id)
    sql = """
        WITH RECURSIVE line (id, parent, patch, distance) AS (
          SELECT id, parent, patch, distance FROM revisions WHERE id = ?
          UNION ALL SELECT r.id, r.parent, r.patch, r.distance FROM revisions r JOIN line l ON r.id = l.parent WHERE l.distance > 0
        )
        SELECT line.patch, snapshots.document FROM line LEFT JOIN snapshots ON snapshots.revision = line.id ORDER BY line.id
    """
    first, *rest = db.rows(sql, (id,))
    return json.loads(first["document"]), [json.loads(r["patch"]) for r in rest]


def insert(writer: sqlite3.Connection, shot_id: str, parent: int | None, new: NewRevision) -> int:
    """Store a revision within a transaction. Returns its id."""
    distance = 0
    if new.document is None:
        distance = 1 + int(writer.execute("SELECT distance FROM revisions WHERE id = ?", (parent,)).fetchone()["distance"])
    values = (shot_id, parent, new.words, json.dumps(new.patch), json.dumps(new.touched), distance, new.edit, new.author, now())
    columns = "shot_id, parent, words, patch, touched, distance, edit, author, created"
    cursor = writer.execute(f"INSERT INTO revisions ({columns}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", values)
    assert cursor.lastrowid is not None
    if new.document is not None:
        writer.execute("INSERT INTO snapshots (revision, document) VALUES (?, ?)", (cursor.lastrowid, json.dumps(new.document)))
    return cursor.lastrowid


def add(db: Database, shot_id: str, base: int, new: NewRevision) -> int:
    """Store an edit of revision `base` and move the head to it, in one transaction. Returns its id.

    Raises `StaleRevision` where the head is no longer `base`; then nothing is stored.
    """
    with db.atomic() as writer:
        check_base(writer, shot_id, base)
        made = insert(writer, shot_id, base, new)
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (made, shot_id))
    return made


def check_base(writer: sqlite3.Connection, shot_id: str, base: int) -> None:
    """Raise `StaleRevision` where the head of a shot is no longer `base`, `NotFound` where there is no such shot."""
    row = writer.execute("SELECT head FROM shots WHERE id = ?", (shot_id,)).fetchone()
    if row is None:
        raise NotFound(f"There is no shot {shot_id!r}.")
    if row["head"] != base:
        raise StaleRevision(base, row["head"])


def _line(db: Database, shot_id: str, id: int, upto: int) -> dict[int, sqlite3.Row]:
    """A revision and those it came from, back to `upto` where that is one of them, else to the first."""
    sql = """
        WITH RECURSIVE line (id, parent, touched, author) AS (
          SELECT id, parent, touched, author FROM revisions WHERE shot_id = ? AND id = ?
          UNION ALL SELECT r.id, r.parent, r.touched, r.author FROM revisions r JOIN line l ON r.id = l.parent WHERE l.id <> ?
        )
        SELECT * FROM line
    """
    return {r["id"]: r for r in db.rows(sql, (shot_id, id, upto))}


def touched_between(db: Database, shot_id: str, base: int, head: int, author: str) -> list[str]:
    """The targets that were changed from one state to another: by edits made since, but for the author's own, and by all that were taken back."""
    if base == head:
        return []
    made = _line(db, shot_id, head, base)
    if base in made:
        lost, since = [], [r for id, r in made.items() if id != base]
    else:
        seen = _line(db, shot_id, base, NONE)
        lost, since = [r for id, r in seen.items() if id not in made], [r for id, r in made.items() if id not in seen]
    told = [*lost, *(r for r in since if not author or r["author"] != author)]
    return [target for r in told for target in json.loads(r["touched"])]


def step(db: Database, shot_id: str, base: int, forward: bool) -> None:
    """Undo, or redo where `forward`, from a state; done already, it is not done again.

    Raises `StaleRevision`, or `Conflict` where there is nothing to do.
    """
    with db.atomic() as writer:
        if forward:
            row = writer.execute("SELECT id FROM revisions WHERE shot_id = ? AND parent = ? ORDER BY id DESC LIMIT 1", (shot_id, base)).fetchone()
        else:
            row = writer.execute("SELECT parent AS id FROM revisions WHERE shot_id = ? AND id = ? AND parent IS NOT NULL", (shot_id, base)).fetchone()
        if row is not None and row["id"] == head_id(db, shot_id):
            return
        check_base(writer, shot_id, base)
        if row is None:
            raise Conflict("There is nothing to redo." if forward else "There is nothing to undo.")
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (row["id"], shot_id))


def go_to(db: Database, shot_id: str, base: int, id: int) -> None:
    """Make any revision of a shot its newest state; where it stands there already, nothing is done. Raises `StaleRevision`, `NotFound`."""
    revision(db, shot_id, id)
    with db.atomic() as writer:
        if head_id(db, shot_id) == id:
            return
        check_base(writer, shot_id, base)
        writer.execute("UPDATE shots SET head = ? WHERE id = ?", (id, shot_id))


def edits_of(db: Database, shot_id: str) -> list[EditRow]:
    """The newest edits of a shot, newest first, those on other branches too."""
    head = head_id(db, shot_id)
    rows = db.rows("SELECT id, parent, words, created, touched FROM revisions WHERE shot_id = ? ORDER BY id DESC LIMIT ?", (shot_id, MOST_EDITS))
    parents = {r["id"]: r["parent"] for r in rows}
    line, at = set(), head
    while at is not None:
        line.add(at)
        at = parents.get(at)
    return [
        EditRow(id=r["id"], parent=r["parent"], words=r["words"], created=r["created"], current=r["id"] in line, touched=json.loads(r["touched"])) for r in rows
    ]
