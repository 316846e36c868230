"""One SQLite file: a single writer behind a lock, a reader per thread, migrations, nested transactions."""

import logging
import sqlite3
import threading
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path
from typing import Any

log = logging.getLogger("wenditas.sql")


def now() -> str:
    """The time in UTC, ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def new_id() -> str:
    """A short random id, safe in URLs."""
    return uuid.uuid4().hex[:12]


def _connect(path: Path, read_only: bool) -> sqlite3.Connection:
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False, timeout=10)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")  # an acknowledged edit survives a power cut
    if read_only:
        connection.execute("PRAGMA query_only = ON")
    connection.set_trace_callback(log.debug)
    return connection


def _migrations() -> list[tuple[int, str]]:
    files = sorted(resources.files("wenditas.store").joinpath("migrations").iterdir(), key=lambda f: f.name)
    return [(int(f.name[:3]), f.read_text("utf-8")) for f in files if f.name.endswith(".sql")]


class Database:
    """The project database in one file."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._writer = _connect(path, read_only=False)
        self._lock = threading.RLock()
        self._local = threading.local()
        self._readers: list[sqlite3.Connection] = []
        self._depth = 0
        self._migrate()

    def _migrate(self) -> None:
        with self._lock:
            version = self._writer.execute("PRAGMA user_version").fetchone()[0]
            for number, sql in _migrations():
                if number > version:
                    self._writer.executescript(f"BEGIN;\n{sql}\nPRAGMA user_version = {number};\nCOMMIT;")

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """The writer inside a transaction; nested uses become savepoints."""
        with self._lock:
            name = f"level_{self._depth}"
            self._writer.execute("BEGIN IMMEDIATE" if self._depth == 0 else f"SAVEPOINT {name}")
            self._depth += 1
            try:
                yield self._writer
            except BaseException:
                self._depth -= 1
                if self._depth == 0:
                    self._writer.execute("ROLLBACK")
                else:
                    self._writer.execute(f"ROLLBACK TO {name}")
                    self._writer.execute(f"RELEASE {name}")
                raise
            self._depth -= 1
            self._writer.execute("COMMIT" if self._depth == 0 else f"RELEASE {name}")

    def _reader(self) -> sqlite3.Connection:
        if not hasattr(self._local, "reader"):
            self._local.reader = _connect(self.path, read_only=True)
            with self._lock:
                self._readers.append(self._local.reader)
        reader: sqlite3.Connection = self._local.reader
        return reader

    def rows(self, sql: str, values: tuple[Any, ...] = ()) -> list[sqlite3.Row]:
        """All rows of a query, from a read-only connection."""
        return self._reader().execute(sql, values).fetchall()

    def row(self, sql: str, values: tuple[Any, ...] = ()) -> sqlite3.Row | None:
        """The first row of a query, or None."""
        found: sqlite3.Row | None = self._reader().execute(sql, values).fetchone()
        return found

    def close(self) -> None:
        """Close all connections."""
        with self._lock:
            for connection in [*self._readers, self._writer]:
                connection.close()
