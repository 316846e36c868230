"""What comes in: files that are sent or lie in media folders, numbered pictures, sound; and what is missing, found again."""

import hashlib
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

from wenditas.core.errors import FootageDamaged, FootageRefused, NotFound, OnlySound
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.noise import measured
from wenditas.media.probe import probe, suffix_of
from wenditas.media.sequence import SequenceJob, take
from wenditas.media.sound_alone import take_sound
from wenditas.project.kinds import SOUNDS, SUFFIXES
from wenditas.project.library import Library
from wenditas.project.one import OneAtATime
from wenditas.store import footage as store
from wenditas.store.database import new_id

MOST_HELD = 8
Said = Callable[[int, int], None]


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


class Arrivals:
    """Makes footage of a library of what comes in. It appears only when it is complete and can be used."""

    def __init__(self, library: Library) -> None:
        self._library, self._db = library, library.db
        self._held: OrderedDict[str, Held] = OrderedDict()
        self._coming = OneAtATime()
        self._lock = threading.Lock()

    def take_in(self, project_id: str, arrived: Path, name: str, take: bool = False) -> Taken:
        """Probe a file that has arrived and make it footage of a project; the same content is footage once.

        The file is moved into the library only when it can be used. Raises `FootageRefused`, then nothing is
        left behind; or `FootageDamaged` where `take` does not say that a part will do: the file is held until then.
        """
        suffix, id = Path(name).suffix.lower(), new_id()
        index = self._library.index_path(id)
        drawn, target = arrived.with_name(f"{arrived.name}.mkv"), None
        try:
            check_suffix(suffix)
            digest = _digest(arrived)
            with self._coming.one((project_id, digest)):
                known = store.with_digest(self._db, project_id, digest)
                if known is not None:
                    self._put_back(known, arrived)
                    return Taken(store.footage(self._db, known.id), already=True)
                kept, facts = self._read(arrived, index, drawn, take)
                row = _row(id, project_id, name, kept, facts, digest, made=kept is drawn)
                target = self._library.media_path(row)
                kept.replace(target)
                arrived.unlink(missing_ok=True)
                store.add_footage(self._db, row)
        except FootageDamaged as damaged:
            raise FootageDamaged(damaged.damage, self._hold(project_id, arrived, name)) from damaged
        except BaseException:
            for path in (arrived, drawn, index, target):
                if path is not None:
                    path.unlink(missing_ok=True)
            raise
        return Taken(row)

    def _read(self, file: Path, index: Path, drawn: Path, take: bool) -> tuple[Path, Facts]:
        """The file that is to be read as footage, with its facts: the one given, or what is drawn of sound alone. Raises as `take_in`."""
        try:
            kept, facts = file, probe(file, index, take)
        except OnlySound:
            kept, facts = drawn, take_sound(file, drawn, index, take)
        return kept, facts.model_copy(update={"noise": measured(kept, facts, Index.read(index))})

    def _put_back(self, known: store.FootageRow, arrived: Path) -> None:
        """A file that came in once more: where the one that was there is gone, this one takes its place."""
        if self._library.state(known) == "here":
            arrived.unlink(missing_ok=True)
            return
        if known.lies is not None:
            store.set_place(self._db, known.id, None, None)
        if known.came_as:  # its wave is drawn anew
            kept, _ = self._read(arrived, self._library.index_path(known.id), arrived.with_name(f"{arrived.name}.mkv"), take=True)
            self._put_made(known, kept)
            arrived.unlink(missing_ok=True)
        else:
            arrived.replace(self._library.media_path(store.footage(self._db, known.id)))

    def _put_made(self, known: store.FootageRow, made: Path) -> None:
        """Give footage a file again that was made from what came in."""
        store.set_file(self._db, known.id, _digest(made), made.stat().st_size)
        made.replace(self._library.media_path(store.footage(self._db, known.id)))

    def take_where_it_lies(self, project_id: str, path: Path, take: bool = False) -> Taken:
        """Make a file footage without copying it: it is read where it lies, and never written. Sound alone is copied beside its wave.

        Raises `FootageRefused`, or `FootageDamaged` where `take` does not say that a part will do.
        """
        suffix, id = path.suffix.lower(), new_id()
        check_suffix(suffix)
        stat, digest, index = path.stat(), _digest(path), self._library.index_path(id)
        with self._coming.one((project_id, digest)):
            known = store.with_digest(self._db, project_id, digest)
            if known is not None:
                if self._library.state(known) != "here" and known.came_as:
                    self._put_back(known, Path(shutil.copy(path, self._library.incoming())))
                elif self._library.state(known) != "here":
                    store.set_place(self._db, known.id, str(path), stat.st_mtime_ns)
                return Taken(store.footage(self._db, known.id), already=True)
            drawn = self._library.incoming().with_suffix(".mkv")
            try:
                kept, facts = self._read(path, index, drawn, take)
                row = _row(id, project_id, path.name, kept, facts, digest, made=kept is drawn)
                if kept is drawn:
                    drawn.replace(self._library.media_path(row))
                else:
                    row = row.model_copy(update={"lies": str(path), "changed": stat.st_mtime_ns})
                store.add_footage(self._db, row)
            except BaseException:
                for left in (index, drawn, self._library.folder / "media" / f"{id}{drawn.suffix}"):  # never the file that lies elsewhere
                    left.unlink(missing_ok=True)
                raise
        return Taken(row)

    def take_sequence(self, project_id: str, job: SequenceJob, name: str, said: Said, gone: Callable[[], bool]) -> Taken:
        """Make numbered pictures footage: one lossless file, since whatever reads video reads that. Raises as `take_in`, and `Cancelled`."""
        id, arrived = new_id(), self._library.incoming().with_suffix(".mkv")
        index = self._library.index_path(id)
        digest = _digest_of_all(job)
        known = store.with_digest(self._db, project_id, digest)
        if known is not None and self._library.state(known) == "here":
            return Taken(known, already=True)
        try:
            facts = take(job.model_copy(update={"target": arrived, "index": index}), said, gone)
            if known is not None:
                index.unlink(missing_ok=True)
                self._put_made(known, arrived)
                return Taken(store.footage(self._db, known.id), already=True)
            row = _row(id, project_id, name, arrived, facts, digest, made=True)
            arrived.replace(self._library.media_path(row))
            store.add_footage(self._db, row)
        except BaseException:
            for path in (arrived, index):
                path.unlink(missing_ok=True)
            raise
        return Taken(row)

    def find_again(self, footage_id: str, paths: Iterable[Path]) -> store.FootageRow:
        """Find the file of footage, which moved or was touched, by its content: where it lay, or among others. Raises `NotFound`."""
        row = store.footage(self._db, footage_id)
        where = [self._library.media_path(row)] if row.lies is not None else []
        for path in (*where, *paths):
            try:
                stat = path.stat()
                if stat.st_size == row.bytes and _digest(path) == row.digest:
                    store.set_place(self._db, row.id, str(path), stat.st_mtime_ns)
                    return store.footage(self._db, row.id)
            except OSError:
                continue
        where_said = "in the media folders" if paths else "there"
        raise NotFound(f"No file with the content of “{row.name}” is {where_said}. Bring the file in again: it takes its place, under all its shots.")

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

    def copy_in(self, project_id: str, path: Path, name: str) -> store.FootageRow:
        """Take in a copy of a file that is to stay where it is."""
        arrived = self._library.incoming()
        shutil.copyfile(path, arrived)
        return self.take_in(project_id, arrived, name).row


def check_suffix(suffix: str) -> None:
    """Raises `FootageRefused` for an ending that no footage has."""
    if suffix not in SUFFIXES | SOUNDS:
        pictures = "PNG, JPEG, TIFF and WebP pictures, PNG, TIFF, EXR or DPX pictures that are numbered"
        kinds = f"MP4, MOV, MKV, WebM and AVI video, {pictures}, and WAV, FLAC, MP3, M4A, OGG or AIFF sound"
        raise FootageRefused(f"“{suffix or 'no ending'}” is not a kind of file that Wenditas takes. It takes {kinds}.")


def _row(id: str, project_id: str, name: str, kept: Path, facts: Facts, came: str, made: bool = False) -> store.FootageRow:
    """Footage with a file. came: the digest of what came in, of which the file was made, or which it is."""
    suffix = kept.suffix if made else Path(name).suffix.lower()
    digests = {"digest": _digest(kept), "came_as": came} if made else {"digest": came}
    about = {"name": name, "suffix": suffix_of(facts, suffix), "bytes": kept.stat().st_size, "facts": facts.model_dump()}
    return store.FootageRow(id=id, project_id=project_id, **digests, **about)


def _digest_of_all(job: SequenceJob) -> str:
    """Of the names and contents of all pictures, their rate and their alpha."""
    found = hashlib.sha256(f"{job.rate} {job.alpha}".encode())
    for name in job.names:
        found.update(f"{name} {_digest(job.folder / name)}".encode())
    return found.hexdigest()


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
