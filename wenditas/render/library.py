"""The data folder: where media files, indexes and exports lie, and open readers of footage."""

import hashlib
import os
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from wenditas.core.errors import FootageRefused, NotFound
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.probe import probe
from wenditas.media.reader import Reader
from wenditas.store import footage as store
from wenditas.store.database import Database, new_id

SUFFIXES = {".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi", ".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}
OPEN_READERS, LEAST_READERS = 8, 2
READER_BYTES = 640 << 20  # that all open readers may hold together; two may always be open
KEEP_REMOVED = timedelta(days=1)


class Library:
    """Files by id under one data folder; nothing outside it is touched."""

    def __init__(self, folder: Path, db: Database) -> None:
        self.folder, self.db = folder, db
        for name in ("media", "incoming", "cache", "exports"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        self._readers: OrderedDict[tuple[str, str], Reader] = OrderedDict()
        self._facts: dict[str, Facts] = {}  # of files, which never change
        self._lock = threading.Lock()

    def media_path(self, row: store.FootageRow) -> Path:
        """The file of a piece of footage."""
        return self.folder / "media" / f"{row.id}{row.suffix}"

    def index_path(self, id: str) -> Path:
        """The frame index of a piece of footage."""
        return self.folder / "media" / f"{id}.index.npz"

    def incoming(self) -> Path:
        """A fresh name for a file on its way in."""
        return self.folder / "incoming" / new_id()

    def cache_path(self, name: str) -> Path:
        """A place for something that can be made again."""
        return self.folder / "cache" / name

    def export_path(self, id: str, suffix: str) -> Path:
        """The finished file of an export."""
        return self.folder / "exports" / f"{id}{suffix}"

    def take_in(self, project_id: str, arrived: Path, name: str) -> store.FootageRow:
        """Probe a file that has arrived and make it footage of a project.

        The file is moved into the library only when it can be used. Raises `FootageRefused`;
        then nothing is left behind.
        """
        suffix = Path(name).suffix.lower()
        id = new_id()
        index = self.index_path(id)
        try:
            if suffix not in SUFFIXES:
                kinds = "MP4, MOV, MKV, WebM and AVI video, and PNG, JPEG, TIFF and WebP pictures"
                raise FootageRefused(f"“{suffix or 'no ending'}” is not a kind of file that Wenditas takes. It takes {kinds}.")
            facts = probe(arrived, index)
            row = store.FootageRow(
                id=id, project_id=project_id, name=name, suffix=suffix, digest=_digest(arrived), bytes=arrived.stat().st_size, facts=facts.model_dump()
            )
            arrived.replace(self.media_path(row))
            store.add_footage(self.db, row)
        except BaseException:
            arrived.unlink(missing_ok=True)
            index.unlink(missing_ok=True)
            (self.folder / "media" / f"{id}{suffix}").unlink(missing_ok=True)
            raise
        return row

    def copy_in(self, project_id: str, path: Path, name: str) -> store.FootageRow:
        """Take in a copy of a file that is to stay where it is."""
        arrived = self.incoming()
        shutil.copyfile(path, arrived)
        return self.take_in(project_id, arrived, name)

    def facts(self, footage_id: str) -> Facts:
        """The facts of a piece of footage."""
        if footage_id not in self._facts:
            self._facts[footage_id] = Facts.model_validate(store.footage(self.db, footage_id).facts)
        return self._facts[footage_id]

    def reader(self, footage_id: str, purpose: str) -> Reader:
        """An open reader; readers for different purposes do not disturb each other's position."""
        key = (footage_id, purpose)
        with self._lock:
            if key in self._readers:
                self._readers.move_to_end(key)
                return self._readers[key]
            row = store.footage(self.db, footage_id)
            path = self.media_path(row)
            if not path.exists():
                raise NotFound(f"The file of “{row.name}” is missing from the data folder.")
            reader = Reader(path, Facts.model_validate(row.facts), Index.read(self.index_path(footage_id)))
            self._readers[key] = reader
            while len(self._readers) > OPEN_READERS or (len(self._readers) > LEAST_READERS and sum(r.nbytes for r in self._readers.values()) > READER_BYTES):
                self._readers.popitem(last=False)  # closed once whoever reads from it is done
            return reader

    def cached_file(self, name: str, make: Callable[[Path], None]) -> Path:
        """A file in the cache folder, made on first use and appearing only when complete."""
        path = self.cache_path(name)
        if not path.exists():
            part = path.with_name(f"{new_id()}{path.suffix}")
            try:
                make(part)
                part.replace(path)
            finally:
                part.unlink(missing_ok=True)
        return path

    def sweep(self) -> None:
        """At start: forget half-arrived files, and the files of footage removed more than a day ago."""
        for path in (self.folder / "incoming").iterdir():
            path.unlink()
        for path in (self.folder / "exports").glob("*.part*"):
            path.unlink()
        before = (datetime.now(UTC) - KEEP_REMOVED).isoformat(timespec="milliseconds")
        for row in store.removed_before(self.db, before):
            self.media_path(row).unlink(missing_ok=True)
            for path in (self.folder / "cache").glob(f"*-{row.id}.*"):  # poster, strip, sound, preview copy
                path.unlink()

    def free_bytes(self) -> int:
        """Room left on the disk of the data folder."""
        stats = os.statvfs(self.folder)
        return stats.f_bavail * stats.f_frsize


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
