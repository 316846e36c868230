"""One SQLite file: a single writer behind a lock, a few readers, migrations, nested transactions."""

import logging
import queue
import sqlite3
import threading
import uuid
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path
from typing import Any, Literal

from wenditas.core.errors import DataFolderError, DiskFull

log = logging.getLogger("wenditas.sql")
READERS = 4
FULL = (sqlite3.SQLITE_FULL, sqlite3.SQLITE_IOERR_WRITE, sqlite3.SQLITE_IOERR_FSYNC, sqlite3.SQLITE_IOERR_SHMSIZE, sqlite3.SQLITE_IOERR_TRUNCATE)
DISK_FULL = "The disk is full: nothing was changed. Make room and try again."


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
    if read_only:
        connection.execute("PRAGMA query_only = ON")
    if log.isEnabledFor(logging.DEBUG):  # asked for at the start: a callback for each statement doubles the time of large inserts
        connection.set_trace_callback(log.debug)
    return connection


def _identity(path: Path) -> tuple[int, int] | None:
    """What tells a file from another at the same place; None where there is none."""
    try:
        stat = path.stat()
    except OSError:
        return None
    return stat.st_dev, stat.st_ino


def _migrations() -> list[tuple[int, str]]:
    files = sorted(resources.files("wenditas.store").joinpath("migrations").iterdir(), key=lambda f: f.name)
    return [(int(f.name[:3]), f.read_text("utf-8")) for f in files if f.name.endswith(".sql")]


class Database:
    """The project database in one file. Raises `DataFolderError` where it is damaged or was written by a newer version."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock = threading.RLock()
        self._readers: queue.LifoQueue[sqlite3.Connection | None] = queue.LifoQueue()
        for _ in range(READERS):
            self._readers.put(None)  # opened on first use
        self._depth, self._closed = 0, False
        self._here = threading.local()  # what this thread reads through: its own transaction, or a snapshot
        try:
            self._writer = _connect(path, read_only=False)
            self._refuse_newer()
            self._writer.execute("PRAGMA journal_mode = WAL")
            self._writer.execute("PRAGMA synchronous = FULL")  # an acknowledged edit survives a power cut
            self._migrate()
            self._file = _identity(path)
        except sqlite3.DatabaseError as error:
            if isinstance(error, sqlite3.OperationalError) and error.sqlite_errorcode in FULL:
                raise DiskFull(DISK_FULL) from error
            raise DataFolderError(f"The database {path} cannot be read: {error}. Restore it from a backup, or choose another data folder.") from error

    def _version(self) -> int:
        return int(self._writer.execute("PRAGMA user_version").fetchone()[0])

    def _refuse_newer(self) -> None:
        found, known = self._version(), _migrations()[-1][0]
        if found > known:
            self._writer.close()
            message = f"The database {self.path} was written by a newer Wenditas (version {found} of the store; this one knows {known}). It was not touched."
            raise DataFolderError(message)

    def _migrate(self) -> None:
        version = self._version()
        self._writer.execute("PRAGMA foreign_keys = OFF")  # a table that is made anew is not there for a moment
        for number, sql in _migrations():
            if number > version:
                self._writer.executescript(f"BEGIN;\n{sql}\nPRAGMA user_version = {number};")
                if broken := self._writer.execute("PRAGMA foreign_key_check").fetchall():
                    raise sqlite3.DatabaseError(f"{len(broken)} rows of {broken[0]['table']} belong to nothing")  # closing takes the step back
                self._writer.execute("COMMIT")
        self._writer.execute("PRAGMA foreign_keys = ON")

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """The writer inside a transaction; nested uses become savepoints. What this thread reads meanwhile it reads through it.

        Raises `DiskFull` where there is no room, `DataFolderError` where the file is not there any more; then nothing has changed.
        """
        with self._lock:
            if not self._depth and _identity(self.path) != self._file:
                gone = f"The data folder {self.path.parent} is not there any more, or is another: nothing was stored."
                raise DataFolderError(f"{gone} Put it back, then restart.")
            before = getattr(self._here, "connection", None)
            try:
                with self._level():
                    self._here.connection = self._writer
                    yield self._writer
            except sqlite3.OperationalError as error:
                if error.sqlite_errorcode in FULL:
                    raise DiskFull(DISK_FULL) from error
                raise
            finally:
                self._here.connection = before

    @contextmanager
    def snapshot(self) -> Iterator[None]:
        """All that this thread reads within is of one moment, whatever is stored meanwhile."""
        if getattr(self._here, "connection", None) is not None:
            yield
            return
        with self._reader() as reader:
            reader.execute("BEGIN")
            self._here.connection = reader
            try:
                yield
            finally:
                self._here.connection = None
                reader.execute("ROLLBACK")

    @contextmanager
    def _level(self) -> Iterator[None]:
        name = f"level_{self._depth}"
        self._writer.execute("BEGIN IMMEDIATE" if self._depth == 0 else f"SAVEPOINT {name}")
        self._depth += 1
        try:
            yield
            self._writer.execute("COMMIT" if self._depth == 1 else f"RELEASE {name}")
        except BaseException:
            if self._writer.in_transaction:  # SQLite itself takes everything back where the disk is full
                if self._depth == 1:
                    self._writer.execute("ROLLBACK")
                else:
                    with suppress(sqlite3.OperationalError):
                        self._writer.execute(f"ROLLBACK TO {name}")
                        self._writer.execute(f"RELEASE {name}")
            raise
        finally:
            self._depth -= 1

    @contextmanager
    def _reader(self) -> Iterator[sqlite3.Connection]:
        own = getattr(self._here, "connection", None)
        if own is not None:
            yield own
            return
        connection = self._readers.get()
        try:
            if self._closed:
                raise sqlite3.ProgrammingError("the database is closed")
            connection = connection or _connect(self.path, read_only=True)
            yield connection
        finally:
            self._readers.put(connection)

    def rows(self, sql: str, values: tuple[Any, ...] | dict[str, Any] = ()) -> list[sqlite3.Row]:
        """All rows of a query, from a read-only connection; within a transaction of this thread, with what that has changed."""
        with self._reader() as reader:
            return reader.execute(sql, values).fetchall()

    def row(self, sql: str, values: tuple[Any, ...] = ()) -> sqlite3.Row | None:
        """The first row of a query, or None."""
        with self._reader() as reader:
            found: sqlite3.Row | None = reader.execute(sql, values).fetchone()
            return found

    def close(self) -> None:
        """Close all connections, once those in use are given back."""
        self._closed = True
        given_back = [self._readers.get() for _ in range(READERS)]
        for connection in given_back:
            if connection is not None:
                connection.close()
            self._readers.put(None)
        with self._lock:
            self._writer.close()


Removable = Literal["palettes", "projects", "shelf", "shots", "takes"]


def mark_removed(db: Database, table: Removable, id: str, removed: bool) -> None:
    """Mark a row as removed, or as there again. Nothing of it is deleted, so that it can be brought back."""
    with db.atomic() as writer:
        writer.execute(f"UPDATE {table} SET removed = ? WHERE id = ?", (now() if removed else None, id))
