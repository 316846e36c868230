"""A project with all that belongs to it, as rows: out of a database and into one."""

import json
import sqlite3
from collections.abc import Iterable, Iterator
from typing import Any

from wenditas.store.database import Database
from wenditas.store.tracks import DIGEST

Row = dict[str, Any]
# How the rows of a project are found, each table after those that it names.
TABLES = {
    "projects": "SELECT * FROM projects WHERE id = :project",
    "footage": "SELECT * FROM footage WHERE project_id = :project ORDER BY rowid",
    "documents": """
        SELECT * FROM documents WHERE id IN (SELECT s.id FROM shots s JOIN footage f ON f.id = s.footage_id WHERE f.project_id = :project)
        OR id IN (SELECT id FROM reels WHERE project_id = :project) ORDER BY rowid
    """,
    "shots": "SELECT s.* FROM shots s JOIN footage f ON f.id = s.footage_id WHERE f.project_id = :project ORDER BY s.rowid",
    "reels": "SELECT * FROM reels WHERE project_id = :project",
    "revisions": "SELECT * FROM revisions WHERE document_id IN (SELECT value FROM json_each(:documents)) ORDER BY id",
    "snapshots": """
        SELECT s.* FROM snapshots s JOIN revisions r ON r.id = s.revision
        WHERE r.document_id IN (SELECT value FROM json_each(:documents)) ORDER BY s.revision
    """,
    "takes": "SELECT * FROM takes WHERE document_id IN (SELECT value FROM json_each(:documents)) ORDER BY rowid",
}
NAMED = {"tracks": "frames", "files": "name"}  # tables whose rows are named by digests in documents
JSON_COLUMNS = {"revisions": ("patch", "touched"), "snapshots": ("document",)}
COLUMNS = {  # that an archive may fill: others are not known, and refused
    "projects": {"id", "name", "created", "removed"},
    "footage": {"id", "project_id", "name", "suffix", "digest", "bytes", "facts", "created", "removed", "reading", "lies", "changed", "came_as"},
    "documents": {"id", "kind", "head"},
    "shots": {"id", "footage_id", "name", "created", "removed"},
    "reels": {"id", "project_id", "created"},
    "revisions": {"id", "document_id", "parent", "words", "patch", "created", "distance", "edit", "author", "touched", "aside"},
    "snapshots": {"revision", "document"},
    "takes": {"id", "document_id", "revision", "name", "created", "removed"},
    "tracks": {"digest", "frames"},
    "files": {"digest", "kind", "name", "suffix", "bytes", "facts", "created"},
}


def rows_of(db: Database, project_id: str) -> dict[str, list[Row]]:
    """All rows that belong to a project, and the tracks and files that its documents name, by table."""
    found: dict[str, list[Row]] = {}
    documents = "[]"
    for table, sql in TABLES.items():
        found[table] = [dict(r) for r in db.rows(sql, {"project": project_id, "documents": documents})]
        if table == "documents":
            documents = json.dumps([r["id"] for r in found["documents"]])
    texts = [r[column] for table, columns in JSON_COLUMNS.items() for r in found[table] for column in columns]
    named = {digest for text in texts for digest in DIGEST.findall(text)}
    for table in NAMED:
        found[table] = [dict(r) for r in db.rows(f"SELECT * FROM {table} ORDER BY rowid") if r["digest"] in named]
    return found


def taken_ids(db: Database, ids: Iterable[str]) -> bool:
    """Whether one of some ids is in use in a database already."""
    text = json.dumps(list(ids))
    sql = " UNION ALL ".join(f"SELECT id FROM {t} WHERE id IN (SELECT value FROM json_each(?1))" for t in ("projects", "footage", "documents", "takes"))
    return db.row(f"{sql} LIMIT 1", (text,)) is not None


def put(db: Database, tables: dict[str, list[Row]]) -> None:
    """Store all rows in one transaction. Revisions get new numbers, and what names them follows. Raises `sqlite3.IntegrityError`."""
    with db.atomic() as writer:
        writer.execute("PRAGMA defer_foreign_keys = ON")
        numbers: dict[int, int] = {}
        for table in (*TABLES, *NAMED):
            for row in tables.get(table, []):
                _insert(writer, table, row, numbers)
        for row in tables.get("documents", []):
            writer.execute("UPDATE documents SET head = ? WHERE id = ?", (numbers[row["head"]], row["id"]))


def _insert(writer: sqlite3.Connection, table: str, row: Row, numbers: dict[int, int]) -> None:
    row = dict(row)
    own = row.pop("id") if table == "revisions" else None
    for column in ("parent", "revision"):
        if row.get(column) is not None:
            row[column] = numbers[row[column]]
    columns = ", ".join(row)
    clash = " ON CONFLICT DO NOTHING" if table in NAMED else ""
    cursor = writer.execute(f"INSERT INTO {table} ({columns}) VALUES ({', '.join('?' * len(row))}){clash}", tuple(row.values()))
    if own is not None:
        assert cursor.lastrowid is not None
        numbers[own] = cursor.lastrowid


def ids_of(tables: dict[str, list[Row]]) -> Iterator[str]:
    """The ids that a project and its parts have."""
    for table in ("projects", "footage", "documents", "takes"):
        yield from (row["id"] for row in tables[table])
