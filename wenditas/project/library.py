"""The data folder: where media files, indexes and exports lie, and open readers of footage."""

import hashlib
import os
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Literal

from wenditas.core.errors import BadRequest, FootageDamaged, FootageRefused, InUse, NotFound, OnlySound
from wenditas.core.film import Footage
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import load_lut
from wenditas.media.as_node import footage_of
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.noise import measured
from wenditas.media.opened import Opened
from wenditas.media.probe import probe, suffix_of
from wenditas.media.reading import MAPPED, Reading, tone_mapping
from wenditas.media.sequence import SequenceJob, take
from wenditas.media.sound_alone import take_sound
from wenditas.project.kinds import SOUNDS, SUFFIXES
from wenditas.project.one import OneAtATime
from wenditas.store import files as file_store
from wenditas.store import footage as store
from wenditas.store import shots
from wenditas.store.database import Database, new_id

APART = "~"  # between the id of footage and how it is read, in the name of its frames
MOST_HELD = 8
GONE = {"missing here": "missing from the data folder", "missing": "not in {} any more", "changed": "another than was taken in"}
State = Literal["here", "missing", "changed"]
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


class Library:
    """Files by id under one data folder; nothing outside it is touched. It is where rendering finds its media."""

    def __init__(self, folder: Path, db: Database) -> None:
        self.folder, self.db = folder, db
        for name in ("media", "incoming", "cache", "exports"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        self._facts: dict[str, Facts] = {}  # of files, which never change
        self._contents: dict[str, str] = {}  # what names the frames of footage, as it is read now
        self._held: OrderedDict[str, Held] = OrderedDict()
        self._arrivals = OneAtATime()
        self._lock = threading.Lock()

    def media_path(self, row: store.FootageRow) -> Path:
        """The file of a piece of footage."""
        return self.folder / "media" / f"{row.id}{row.suffix}" if row.lies is None else Path(row.lies)

    def state(self, row: store.FootageRow) -> State:
        """Whether the file of a piece of footage is there, and the one that was taken in."""
        try:
            stat = self.media_path(row).stat()
        except OSError:
            return "missing"
        return "changed" if row.lies is not None and (stat.st_size, stat.st_mtime_ns) != (row.bytes, row.changed) else "here"

    def reading(self, row: store.FootageRow) -> Reading:
        """How a piece of footage is read."""
        return Reading.model_validate(row.reading)

    def content(self, row: store.FootageRow) -> str:
        """What names its frames: its id, and how it is read where that is not as it is."""
        name = self.reading(row).name(Facts.model_validate(row.facts).signal)
        return f"{row.id}{APART}{name}" if name else row.id

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
        drawn, target = arrived.with_name(f"{arrived.name}.mkv"), None
        try:
            check_suffix(suffix)
            digest = _digest(arrived)
            with self._arrivals.one((project_id, digest)):
                known = store.with_digest(self.db, project_id, digest)
                if known is not None:
                    self._put_back(known, arrived)
                    return Taken(store.footage(self.db, known.id), already=True)
                kept, facts = self._read(arrived, index, drawn, take)
                row = _row(id, project_id, name, kept, facts, digest, made=kept is drawn)
                target = self.media_path(row)
                kept.replace(target)
                arrived.unlink(missing_ok=True)
                store.add_footage(self.db, row)
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
        if self.state(known) == "here":
            arrived.unlink(missing_ok=True)
            return
        if known.lies is not None:
            store.set_place(self.db, known.id, None, None)
        if known.came_as:  # its wave is drawn anew
            kept, _ = self._read(arrived, self.index_path(known.id), arrived.with_name(f"{arrived.name}.mkv"), take=True)
            self._put_made(known, kept)
            arrived.unlink(missing_ok=True)
        else:
            arrived.replace(self.media_path(store.footage(self.db, known.id)))

    def _put_made(self, known: store.FootageRow, made: Path) -> None:
        """Give footage a file again that was made from what came in."""
        store.set_file(self.db, known.id, _digest(made), made.stat().st_size)
        made.replace(self.media_path(store.footage(self.db, known.id)))

    def take_where_it_lies(self, project_id: str, path: Path, take: bool = False) -> Taken:
        """Make a file footage without copying it: it is read where it lies, and never written. Sound alone is copied beside its wave.

        Raises `FootageRefused`, or `FootageDamaged` where `take` does not say that a part will do.
        """
        suffix, id = path.suffix.lower(), new_id()
        check_suffix(suffix)
        stat, digest, index = path.stat(), _digest(path), self.index_path(id)
        with self._arrivals.one((project_id, digest)):
            known = store.with_digest(self.db, project_id, digest)
            if known is not None:
                if self.state(known) != "here" and known.came_as:
                    self._put_back(known, Path(shutil.copy(path, self.incoming())))
                elif self.state(known) != "here":
                    store.set_place(self.db, known.id, str(path), stat.st_mtime_ns)
                return Taken(store.footage(self.db, known.id), already=True)
            drawn = self.incoming().with_suffix(".mkv")
            try:
                kept, facts = self._read(path, index, drawn, take)
                row = _row(id, project_id, path.name, kept, facts, digest, made=kept is drawn)
                if kept is drawn:
                    drawn.replace(self.media_path(row))
                else:
                    row = row.model_copy(update={"lies": str(path), "changed": stat.st_mtime_ns})
                store.add_footage(self.db, row)
            except BaseException:
                for left in (index, drawn):
                    left.unlink(missing_ok=True)
                raise
        return Taken(row)

    def take_sequence(self, project_id: str, job: SequenceJob, name: str, said: Said, gone: Callable[[], bool]) -> Taken:
        """Make numbered pictures footage: one lossless file, since whatever reads video reads that. Raises as `take_in`, and `Cancelled`."""
        id, arrived = new_id(), self.incoming().with_suffix(".mkv")
        index = self.index_path(id)
        digest = _digest_of_all(job)
        known = store.with_digest(self.db, project_id, digest)
        if known is not None and self.state(known) == "here":
            return Taken(known, already=True)
        try:
            facts = take(job.model_copy(update={"target": arrived, "index": index}), said, gone)
            if known is not None:
                index.unlink(missing_ok=True)
                self._put_made(known, arrived)
                return Taken(store.footage(self.db, known.id), already=True)
            row = _row(id, project_id, name, arrived, facts, digest, made=True)
            arrived.replace(self.media_path(row))
            store.add_footage(self.db, row)
        except BaseException:
            for path in (arrived, index):
                path.unlink(missing_ok=True)
            raise
        return Taken(row)

    def find_again(self, footage_id: str, paths: Iterable[Path]) -> store.FootageRow:
        """Find the file of footage, which moved or was touched, by its content: where it lay, or among others. Raises `NotFound`."""
        row = store.footage(self.db, footage_id)
        where = [self.media_path(row)] if row.lies is not None else []
        for path in (*where, *paths):
            try:
                stat = path.stat()
                if stat.st_size == row.bytes and _digest(path) == row.digest:
                    store.set_place(self.db, row.id, str(path), stat.st_mtime_ns)
                    return store.footage(self.db, row.id)
            except OSError:
                continue
        where_said = "in the media folders" if paths else "there"
        raise NotFound(f"No file with the content of “{row.name}” is {where_said}. Bring the file in again: it takes its place, under all its shots.")

    def read_as(self, footage_id: str, reading: Reading) -> store.FootageRow:
        """Choose how a piece of footage is read. Its frames have another name then, so that nothing shows what was."""
        if reading.way == "lut":
            lut = file_store.file(self.db, reading.lut or "")
            if lut.kind != "lut":
                raise BadRequest(f"“{lut.name}” is no LUT.")
        store.set_reading(self.db, footage_id, reading.model_dump())
        self._contents.pop(footage_id, None)
        return store.footage(self.db, footage_id)

    def replace_under(self, footage_id: str, other_id: str, only: Sequence[str] | None = None) -> list[str]:
        """Let the shots of one piece of footage (or some of them) be shots of another. Returns their ids. Raises `InUse` where it is shorter."""
        one, other = store.footage(self.db, footage_id), store.footage(self.db, other_id)
        if one.project_id != other.project_id:
            raise NotFound("That footage is of another project.")
        moved = [id for id in shots.made_of(self.db, footage_id) if only is None or id in only]
        longer, shorter = self.facts(footage_id).length, self.facts(other_id).length
        if shorter < longer:
            raise InUse(f"“{other.name}” has {shorter} frames, “{one.name}” {longer}: what is at frames that are not there would be lost.")
        shots.set_footage(self.db, moved, other_id)
        return moved

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
            if row.lies is None:
                os.link(self.media_path(row), self.media_path(made))
            store.replace_footage(self.db, row.id, made)
        except BaseException:
            for path in (self.index_path(made.id), self.folder / "media" / f"{made.id}{made.suffix}"):  # never what lies elsewhere
                path.unlink(missing_ok=True)
            raise
        for path in [*(self.folder / "media").glob(f"{row.id}.*"), *(self.folder / "cache").glob(f"*-{row.id}[.~]*")]:
            path.unlink(missing_ok=True)
        return made

    def copy_in(self, project_id: str, path: Path, name: str) -> store.FootageRow:
        """Take in a copy of a file that is to stay where it is."""
        arrived = self.incoming()
        shutil.copyfile(path, arrived)
        return self.take_in(project_id, arrived, name).row

    def facts(self, content: str) -> Facts:
        """The facts of a piece of footage, by its id or by what names its frames."""
        footage_id = id_of(content)
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
        """The media file of a piece of footage, ready to be read. Raises `NotFound` where it is missing, or another by now."""
        row = store.footage(self.db, id_of(content))
        state = self.state(row)
        if state != "here":
            where = GONE["missing here"] if row.lies is None else GONE[state].format(Path(row.lies).parent)
            raise NotFound(f"The file of “{row.name}” is {where}. The Footage room finds it again.")
        facts = Facts.model_validate(row.facts)
        return Opened(self.media_path(row), facts, Index.read(self.index_path(row.id)), self.lut_of(row, facts))

    def lut_of(self, row: store.FootageRow, facts: Facts) -> Lut | None:
        """What the signal of a piece of footage is read through; None for nothing."""
        applied = self.reading(row).applied(facts.signal)
        if not applied:
            return None
        if applied in MAPPED:
            return tone_mapping(applied)
        path = self.lut_path(applied)
        return None if path is None else load_lut(path)

    def lut_path(self, digest: str) -> Path | None:
        """Where a LUT lies that footage is read through; None where it is gone."""
        found = file_store.find_file(self.db, digest)
        path = None if found is None else self.folder / "files" / f"{found.digest}{found.suffix}"
        return path if path is not None and path.exists() else None

    def node(self, footage_id: str) -> Footage:
        """A piece of footage as a node. It is asked for with every picture: its name is worked out once."""
        if footage_id not in self._contents:
            self._contents[footage_id] = self.content(store.footage(self.db, footage_id))
        return footage_of(self._contents[footage_id], self._measured(footage_id))

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


def id_of(content: str) -> str:
    """The id of the footage whose frames are named."""
    return content.split(APART, 1)[0]


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
