"""Queries on the tracks that documents name by their digest."""

import re
import sqlite3
import threading
from collections.abc import Iterable, Iterator, Mapping

from cachetools import LRUCache

from wenditas.core.select.tracks import Track
from wenditas.store.database import Database

REMEMBERED = 256
DIGEST = re.compile(r'"([0-9a-f]{32})"')
NAMING = (("snapshots", "document"), ("revisions", "patch"), ("shelf", "look"))  # where documents and edits lie


class StoredTracks(Mapping[str, Track]):
    """All tracks of a data folder by their digest; those asked for last are kept ready."""

    def __init__(self, db: Database) -> None:
        self._db = db
        self._kept: LRUCache[str, Track] = LRUCache(REMEMBERED)
        self._lock = threading.Lock()

    def __getitem__(self, digest: str) -> Track:
        with self._lock:
            kept = self._kept.get(digest)
        if kept is not None:
            return kept
        row = self._db.row("SELECT frames FROM tracks WHERE digest = ?", (digest,))
        if row is None:
            raise KeyError(digest)
        found = Track.unpacked(row["frames"])
        with self._lock:
            self._kept[digest] = found
        return found

    def __iter__(self) -> Iterator[str]:
        return iter([r["digest"] for r in self._db.rows("SELECT digest FROM tracks")])

    def __len__(self) -> int:
        return len(list(iter(self)))


def keep(writer: sqlite3.Connection, tracks: Iterable[Track]) -> None:
    """Store tracks within a transaction; those that are there stay."""
    for track in tracks:
        writer.execute("INSERT INTO tracks (digest, frames) VALUES (?, ?) ON CONFLICT DO NOTHING", (track.digest, track.packed))


def sweep(db: Database) -> int:
    """Remove the tracks that no revision and nothing on the shelf names. Returns how many."""
    left = {r["digest"] for r in db.rows("SELECT digest FROM tracks")}
    for table, column in NAMING:
        if not left:
            return 0
        for row in db.rows(f"SELECT {column} FROM {table} WHERE instr({column}, 'track')"):
            left.difference_update(DIGEST.findall(row[column]))
    with db.atomic() as writer:
        writer.executemany("DELETE FROM tracks WHERE digest = ?", [(digest,) for digest in left])
    return len(left)
