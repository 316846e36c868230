"""Queries on the history of documents: edits as patches, documents kept whole now and then, and where a document stands."""

import json
import sqlite3
from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

from wenditas.core.errors import Conflict, NotFound, StaleRevision
from wenditas.store.database import Database, now

MOST_EDITS = 400  # that are listed
NONE = 0  # no revision


class RevisionRow(BaseModel):
    """A state of a document, and how it came about. distance: edits since the document was last kept whole."""

    id: int
    parent: int | None
    words: str
    distance: int


class EditRow(BaseModel):
    """One edit of a document. current: whether the document as it stands has come about through it; touched: the targets that it changed."""

    id: int
    parent: int | None
    words: str
    created: str
    current: bool
    touched: list[str] = []


class NewRevision(BaseModel):
    """An edit to be stored.

    document: what it makes, to be kept whole, or None; edit, author: its own id, and the page it comes from; aside: kept beside
    what is in work, which stays.
    """

    words: str
    patch: list[Any] = []
    touched: list[str] = [""]
    document: dict[str, Any] | None = None
    edit: str | None = None
    author: str = ""
    aside: bool = False


def _row(row: sqlite3.Row) -> RevisionRow:
    return RevisionRow(id=row["id"], parent=row["parent"], words=row["words"], distance=row["distance"])


def head_id(db: Database, document_id: str) -> int:
    """Where a document stands. Raises `NotFound`."""
    row = db.row("SELECT head FROM documents WHERE id = ?", (document_id,))
    if row is None:
        raise NotFound(f"There is no document {document_id!r}.")
    return int(row["head"])


def revision(db: Database, document_id: str, id: int) -> RevisionRow:
    """One revision of a document. Raises `NotFound`."""
    row = db.row("SELECT * FROM revisions WHERE document_id = ? AND id = ?", (document_id, id))
    if row is None:
        raise NotFound(f"This document has no revision {id}.")
    return _row(row)


def made_by(db: Database, document_id: str, edit: str) -> int | None:
    """The revision that an edit has made already; None where it has not."""
    row = db.row("SELECT id FROM revisions WHERE document_id = ? AND edit = ?", (document_id, edit))
    return None if row is None else int(row["id"])


def redo_target(db: Database, document_id: str) -> RevisionRow | None:
    """The newest revision made from where the document stands, or None."""
    row = db.row(
        """
        SELECT r.* FROM revisions r JOIN documents s ON s.id = r.document_id AND r.parent = s.head
        WHERE s.id = ? AND NOT r.aside ORDER BY r.id DESC LIMIT 1
        """,
        (document_id,),
    )
    return None if row is None else _row(row)


def kept(db: Database, document_id: str, id: int) -> tuple[dict[str, Any], list[list[Any]]]:
    """The last whole document before a revision, and the patches from there to it. Raises `NotFound`."""
    revision(db, document_id, id)
    sql = """
        WITH RECURSIVE line (id, parent, patch, distance) AS (
          SELECT id, parent, patch, distance FROM revisions WHERE id = ?
          UNION ALL SELECT r.id, r.parent, r.patch, r.distance FROM revisions r JOIN line l ON r.id = l.parent WHERE l.distance > 0
        )
        SELECT line.patch, snapshots.document FROM line LEFT JOIN snapshots ON snapshots.revision = line.id ORDER BY line.id
    """
    first, *rest = db.rows(sql, (id,))
    return json.loads(first["document"]), [json.loads(r["patch"]) for r in rest]


def insert(writer: sqlite3.Connection, document_id: str, parent: int | None, new: NewRevision) -> int:
    """Store a revision within a transaction. Returns its id."""
    distance = 0
    if new.document is None:
        distance = 1 + int(writer.execute("SELECT distance FROM revisions WHERE id = ?", (parent,)).fetchone()["distance"])
    values = (document_id, parent, new.words, json.dumps(new.patch), json.dumps(new.touched), distance, new.edit, new.author, now(), int(new.aside))
    columns = "document_id, parent, words, patch, touched, distance, edit, author, created, aside"
    cursor = writer.execute(f"INSERT INTO revisions ({columns}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", values)
    assert cursor.lastrowid is not None
    if new.document is not None:
        writer.execute("INSERT INTO snapshots (revision, document) VALUES (?, ?)", (cursor.lastrowid, json.dumps(new.document)))
    return cursor.lastrowid


def begin(writer: sqlite3.Connection, id: str, kind: str, first: NewRevision, row: Callable[[], object]) -> None:
    """A new document with its first revision, within a transaction; `row` stores what it is besides."""
    writer.execute("INSERT INTO documents (id, kind) VALUES (?, ?)", (id, kind))
    row()
    writer.execute("UPDATE documents SET head = ? WHERE id = ?", (insert(writer, id, None, first), id))


def kind_of(db: Database, id: str) -> str:
    """What a document is. Raises `NotFound`."""
    row = db.row("SELECT kind FROM documents WHERE id = ?", (id,))
    if row is None:
        raise NotFound(f"There is no document {id!r}.")
    return str(row["kind"])


def add(db: Database, document_id: str, base: int, new: NewRevision) -> int:
    """Store an edit of revision `base` and move the head to it, unless it is kept aside, in one transaction. Returns its id.

    Raises `StaleRevision` where the head is no longer `base`; then nothing is stored.
    """
    with db.atomic() as writer:
        check_base(writer, document_id, base)
        made = insert(writer, document_id, base, new)
        if not new.aside:
            writer.execute("UPDATE documents SET head = ? WHERE id = ?", (made, document_id))
    return made


def check_base(writer: sqlite3.Connection, document_id: str, base: int) -> None:
    """Raise `StaleRevision` where the head of a document is no longer `base`, `NotFound` where there is no such document."""
    row = writer.execute("SELECT head FROM documents WHERE id = ?", (document_id,)).fetchone()
    if row is None:
        raise NotFound(f"There is no document {document_id!r}.")
    if row["head"] != base:
        raise StaleRevision(base, row["head"])


def _line(db: Database, document_id: str, id: int, upto: int) -> dict[int, sqlite3.Row]:
    """A revision and those it came from, back to `upto` where that is one of them, else to the first."""
    sql = """
        WITH RECURSIVE line (id, parent, touched, author) AS (
          SELECT id, parent, touched, author FROM revisions WHERE document_id = ? AND id = ?
          UNION ALL SELECT r.id, r.parent, r.touched, r.author FROM revisions r JOIN line l ON r.id = l.parent WHERE l.id <> ?
        )
        SELECT * FROM line
    """
    return {r["id"]: r for r in db.rows(sql, (document_id, id, upto))}


def touched_between(db: Database, document_id: str, base: int, head: int, author: str) -> list[str]:
    """The targets that were changed from one state to another: by edits made since, but for the author's own, and by all that were taken back."""
    if base == head:
        return []
    made = _line(db, document_id, head, base)
    if base in made:
        lost, since = [], [r for id, r in made.items() if id != base]
    else:
        seen = _line(db, document_id, base, NONE)
        lost, since = [r for id, r in seen.items() if id not in made], [r for id, r in made.items() if id not in seen]
    told = [*lost, *(r for r in since if not author or r["author"] != author)]
    return [target for r in told for target in json.loads(r["touched"])]


def step(db: Database, document_id: str, base: int, forward: bool) -> None:
    """Undo, or redo where `forward`, from a state; done already, it is not done again.

    Raises `StaleRevision`, or `Conflict` where there is nothing to do.
    """
    with db.atomic() as writer:
        if forward:
            sql = "SELECT id FROM revisions WHERE document_id = ? AND parent = ? AND NOT aside ORDER BY id DESC LIMIT 1"
            row = writer.execute(sql, (document_id, base)).fetchone()
        else:
            row = writer.execute("SELECT parent AS id FROM revisions WHERE document_id = ? AND id = ? AND parent IS NOT NULL", (document_id, base)).fetchone()
        if row is not None and row["id"] == head_id(db, document_id):
            return
        check_base(writer, document_id, base)
        if row is None:
            raise Conflict("There is nothing to redo." if forward else "There is nothing to undo.")
        writer.execute("UPDATE documents SET head = ? WHERE id = ?", (row["id"], document_id))


def go_to(db: Database, document_id: str, base: int, id: int) -> None:
    """Make any revision of a document its newest state; where it stands there already, nothing is done. Raises `StaleRevision`, `NotFound`."""
    revision(db, document_id, id)
    with db.atomic() as writer:
        if head_id(db, document_id) == id:
            return
        check_base(writer, document_id, base)
        writer.execute("UPDATE documents SET head = ? WHERE id = ?", (id, document_id))


def edits_of(db: Database, document_id: str) -> list[EditRow]:
    """The newest edits of a document, newest first, those on other branches too."""
    head = head_id(db, document_id)
    rows = db.rows("SELECT id, parent, words, created, touched FROM revisions WHERE document_id = ? ORDER BY id DESC LIMIT ?", (document_id, MOST_EDITS))
    parents = {r["id"]: r["parent"] for r in rows}
    line: set[int] = set()
    at: int | None = head
    while at is not None:
        line.add(at)
        at = parents.get(at)
    return [
        EditRow(id=r["id"], parent=r["parent"], words=r["words"], created=r["created"], current=r["id"] in line, touched=json.loads(r["touched"])) for r in rows
    ]
