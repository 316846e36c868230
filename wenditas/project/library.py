"""The data folder: where media files, indexes and exports lie, and open readers of footage."""

import hashlib
import os
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from wenditas.core.errors import FootageDamaged, FootageRefused, InUse, NotFound
from wenditas.core.film import Footage
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.noise import measured
from wenditas.media.opened import Opened
from wenditas.media.probe import probe, suffix_of
from wenditas.project.one import OneAtATime
from wenditas.store import footage as store
from wenditas.store import shots
from wenditas.store.database import Database, new_id

SUFFIXES = {".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi", ".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp"}
MOST_HELD = 8


@dataclass(frozen=True)
class Taken:
    """Footage that a file has become; already: it was there before."""

    row: store.FootageRow
    already: bool = False


@dataclass(frozen=True)
class Held:
    """A damaged file of which a part can be used, kept until it is said whether to."""

    project_id: str
    path: Path
    name: str


def node_of(content: str, facts: Facts) -> Footage:
    """Footage with these facts as a node."""
    return Footage(
        content=content,
        width=facts.width,
        height=facts.height,
        fps=facts.rate,
        frames=facts.length,
        still=facts.kind == "still",
        alpha=facts.alpha,
        noise=facts.noise or 0.0,
    )


class Library:
    """Files by id under one data folder; nothing outside it is touched. It is where rendering finds its media."""

    def __init__(self, folder: Path, db: Database) -> None:
        self.folder, self.db = folder, db
        for name in ("media", "incoming", "cache", "exports"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        self._facts: dict[str, Facts] = {}  # of files, which never change
        self._held: OrderedDict[str, Held] = OrderedDict()
        self._arrivals = OneAtATime()
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

    def take_in(self, project_id: str, arrived: Path, name: str, take: bool = False) -> Taken:
        """Probe a file that has arrived and make it footage of a project; the same content is footage once.

        The file is moved into the library only when it can be used. Raises `FootageRefused`, then nothing is
        left behind; or `FootageDamaged` where `take` does not say that a part will do: the file is held until then.
        """
        suffix, id = Path(name).suffix.lower(), new_id()
        index = self.index_path(id)
        target: Path | None = None
        try:
            if suffix not in SUFFIXES:
                kinds = "MP4, MOV, MKV, WebM and AVI video, and PNG, JPEG, TIFF and WebP pictures"
                raise FootageRefused(f"“{suffix or 'no ending'}” is not a kind of file that Wenditas takes. It takes {kinds}.")
            digest = _digest(arrived)
            with self._arrivals.one((project_id, digest)):
                known = store.with_digest(self.db, project_id, digest)
                if known is not None:
                    arrived.unlink(missing_ok=True)
                    return Taken(known, already=True)
                facts = probe(arrived, index, take)
                facts = facts.model_copy(update={"noise": measured(arrived, facts, Index.read(index))})
                row = store.FootageRow(
                    id=id,
                    project_id=project_id,
                    name=name,
                    suffix=suffix_of(facts, suffix),
                    digest=digest,
                    bytes=arrived.stat().st_size,
                    facts=facts.model_dump(),
                )
                target = self.media_path(row)
                arrived.replace(target)
                store.add_footage(self.db, row)
        except FootageDamaged as damaged:
            raise FootageDamaged(damaged.damage, self._hold(project_id, arrived, name)) from damaged
        except BaseException:
            for path in (arrived, index, target):
                if path is not None:
                    path.unlink(missing_ok=True)
            raise
        return Taken(row)

    def _hold(self, project_id: str, arrived: Path, name: str) -> str:
        """Keep a damaged file until it is said what to do with it; of many the oldest goes."""
        held = arrived.with_name(f"held-{arrived.name}")
        arrived.replace(held)
        with self._lock:
            self._held[arrived.name] = Held(project_id, held, name)
            gone = [self._held.popitem(last=False)[1] for _ in range(len(self._held) - MOST_HELD)]
        for old in gone:
            old.path.unlink(missing_ok=True)
        return arrived.name

    def take_held(self, project_id: str, id: str) -> Taken:
        """Take what is there of a damaged file that is held. Raises `NotFound`, `FootageRefused`."""
        held = self._let_go(project_id, id)
        return self.take_in(project_id, held.path, held.name, take=True)

    def drop_held(self, project_id: str, id: str) -> None:
        """Forget a damaged file that is held. Raises `NotFound`."""
        self._let_go(project_id, id).path.unlink(missing_ok=True)

    def _let_go(self, project_id: str, id: str) -> Held:
        with self._lock:
            held = self._held.get(id)
            if held is None or held.project_id != project_id:
                raise NotFound("This file is no longer here; send it again.")
            return self._held.pop(id)

    def conform(self, footage_id: str, rate: Fraction) -> store.FootageRow:
        """Show footage at another, even rate: as footage of another id, since its frames are others.

        Raises `InUse` where a shot counts its frames already, `FootageRefused` where it has no rate or none like that.
        """
        row = store.footage(self.db, footage_id)
        facts = Facts.model_validate(row.facts)
        if facts.kind == "still":
            raise FootageRefused("A still has no frame rate of its own.")
        if shots.use_footage(self.db, footage_id):
            raise InUse(f"“{row.name}” has shots already, whose frames and keyframes would move. Remove it, and bring it in again for another rate.")
        index = Index.read(self.index_path(footage_id)).conformed(rate)
        changed = facts.model_copy(update={"rate": str(index.rate), "length": len(index.order), "variable_rate": True})
        made = row.model_copy(update={"id": new_id(), "facts": changed.model_dump()})
        try:
            index.save(self.index_path(made.id))
            os.link(self.media_path(row), self.media_path(made))
            store.replace_footage(self.db, row.id, made)
        except BaseException:
            for path in (self.index_path(made.id), self.media_path(made)):
                path.unlink(missing_ok=True)
            raise
        for path in [*(self.folder / "media").glob(f"{row.id}.*"), *(self.folder / "cache").glob(f"*-{row.id}.*")]:
            path.unlink(missing_ok=True)
        return made

    def copy_in(self, project_id: str, path: Path, name: str) -> store.FootageRow:
        """Take in a copy of a file that is to stay where it is."""
        arrived = self.incoming()
        shutil.copyfile(path, arrived)
        return self.take_in(project_id, arrived, name).row

    def facts(self, footage_id: str) -> Facts:
        """The facts of a piece of footage."""
        if footage_id not in self._facts:
            self._facts[footage_id] = Facts.model_validate(store.footage(self.db, footage_id).facts)
        return self._facts[footage_id]

    def _measured(self, footage_id: str) -> Facts:
        """The facts, with the noise of footage that was taken in before noise was measured."""
        facts = self.facts(footage_id)
        if facts.noise is not None:
            return facts
        with self._arrivals.one(footage_id):
            facts = self.facts(footage_id)
            if facts.noise is None:
                try:
                    opened = self.open(footage_id)
                except NotFound:  # said where it is to be shown
                    return facts
                facts = facts.model_copy(update={"noise": measured(opened.path, opened.facts, opened.index)})
                store.set_facts(self.db, footage_id, facts.model_dump())
                self._facts[footage_id] = facts
        return facts

    def open(self, content: str) -> Opened:
        """The media file of a piece of footage, ready to be read. Raises `NotFound` where it is missing."""
        row = store.footage(self.db, content)
        path = self.media_path(row)
        if not path.exists():
            raise NotFound(f"The file of “{row.name}” is missing from the data folder.")
        return Opened(path, Facts.model_validate(row.facts), Index.read(self.index_path(content)))

    def node(self, footage_id: str) -> Footage:
        """A piece of footage as a node."""
        return node_of(footage_id, self._measured(footage_id))

    def cached_file(self, name: str, make: Callable[[Path], None]) -> Path:
        """A file in the cache folder, made on first use, once, and appearing only when complete."""
        path = self.cache_path(name)
        with self._arrivals.one(name):
            if path.exists():
                return path
            part = path.with_name(f"{new_id()}.part{path.suffix}")
            try:
                make(part)
                part.replace(path)
            finally:
                part.unlink(missing_ok=True)
        return path

    def free_bytes(self) -> int:
        """Room left on the disk of the data folder."""
        stats = os.statvfs(self.folder)
        return stats.f_bavail * stats.f_frsize


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
