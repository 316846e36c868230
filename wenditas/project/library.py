"""The data folder: where media files, indexes and exports lie, and open readers of footage."""

import os
from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Literal

import numpy as np

from wenditas.core.errors import BadRequest, FootageRefused, InUse, NotFound
from wenditas.core.film import Footage
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import load_lut
from wenditas.media.as_node import footage_of
from wenditas.media.facts import Facts, Fields
from wenditas.media.index import Index
from wenditas.media.noise import measured
from wenditas.media.opened import Opened
from wenditas.media.probe import probe
from wenditas.media.reading import MAPPED, Reading, tone_mapping
from wenditas.project.one import OneAtATime
from wenditas.store import files as file_store
from wenditas.store import footage as store
from wenditas.store import shots
from wenditas.store.database import Database, new_id

APART = "~"  # between the id of footage and how it is read, in the name of its frames
GONE = {"missing here": "missing from the data folder", "missing": "not in {} any more", "changed": "another than was taken in"}
State = Literal["here", "missing", "changed"]


class Library:
    """Files by id under one data folder; nothing outside it is touched. It is where rendering finds its media."""

    def __init__(self, folder: Path, db: Database) -> None:
        self.folder, self.db = folder, db
        for name in ("media", "incoming", "cache", "exports"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        for path in (folder / "cache").glob("sound-*.webm"):  # kept by earlier versions, which coded sound before it was played
            path.unlink(missing_ok=True)
        self._facts: dict[str, Facts] = {}  # of files, which never change
        self._contents: dict[str, str] = {}  # what names the frames of footage, as it is read now
        self._making = OneAtATime()

    def media_path(self, row: store.FootageRow) -> Path:
        """The file of a piece of footage."""
        return self.folder / "media" / f"{row.id}{row.suffix}" if row.lies is None else Path(row.lies)

    def state(self, row: store.FootageRow) -> State:
        """Whether the file of a piece of footage is there, and the one that was taken in."""
        try:
            stat = self.media_path(row).stat()
        except OSError:
            return "missing"
        return "changed" if stat.st_size != row.bytes or (row.lies is not None and stat.st_mtime_ns != row.changed) else "here"

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

    def read_as(self, footage_id: str, reading: Reading) -> store.FootageRow:
        """Choose how a piece of footage is read. Its frames have another name then, so that nothing shows what was."""
        if reading.way == "lut":
            lut = file_store.file(self.db, reading.lut or "")
            if lut.kind != "lut":
                raise BadRequest(f"“{lut.name}” is no LUT.")
        store.set_reading(self.db, footage_id, reading.model_dump())
        self._contents.pop(footage_id, None)
        return store.footage(self.db, footage_id)

    def replace_under(self, footage_id: str, other_id: str, used: Callable[[str], int], only: Sequence[str] | None = None) -> list[str]:
        """Let the shots of one piece of footage (or some of them) be shots of another. Returns their ids.

        used: how many frames of its footage a shot needs. Raises `InUse` where the other has fewer.
        """
        one, other = store.footage(self.db, footage_id), store.footage(self.db, other_id)
        if one.project_id != other.project_id:
            raise NotFound("That footage is of another project.")
        moved = [id for id in shots.made_of(self.db, footage_id) if only is None or id in only]
        wanted, there = max((used(id) for id in moved), default=0), self.facts(other_id).length
        if there < wanted:
            raise InUse(f"“{other.name}” has {there} frames, the shots of “{one.name}” use {wanted}: what is at frames that are not there would be lost.")
        shots.set_footage(self.db, moved, other_id)
        return moved

    def conform(self, footage_id: str, rate: Fraction) -> store.FootageRow:
        """Show footage at another, even rate: as footage of another id, since its frames are others.

        Raises `InUse` where a shot counts its frames already, `FootageRefused` where it has no rate or none like that.
        """
        row, facts = self._unused(footage_id, "A still has no frame rate of its own.")
        if facts.fields == "one a field":
            raise FootageRefused("Every field of it is a frame already. Make one frame a frame of it first; then it can have another rate.")
        index = self.index(footage_id).conformed(rate)
        return self._as_other(row, index, facts.model_copy(update={"rate": str(index.rate), "length": len(index.order), "variable_rate": True}))

    def weave(self, footage_id: str, fields: Fields) -> store.FootageRow:
        """What is made of the fields of interlaced footage: as footage of another id, since its frames are others. Raises as `conform`."""
        row, facts = self._unused(footage_id, "A still has no fields.")
        if not facts.interlaced:
            raise FootageRefused(f"“{row.name}” is not interlaced: its frames are whole.")
        index = self.index(footage_id)
        was, now = facts.fields == "one a field", fields == "one a field"
        order = np.repeat(index.order, 2) if now and not was else index.order[::2] if was and not now else index.order
        rate = index.rate * 2 if now and not was else index.rate / 2 if was and not now else index.rate
        changed = facts.model_copy(update={"rate": str(rate), "length": len(order), "fields": fields})
        return self._as_other(row, replace(index, order=order, rate=rate), changed)

    def use_tracks(self, footage_id: str, picture: int, sound: int) -> store.FootageRow:
        """Which tracks of a file of several are used: as footage of another id. Raises as `conform`."""
        row, facts = self._unused(footage_id, "A still has no tracks.")
        self.check_here(row)
        index = self.incoming()
        try:
            found = probe(self.media_path(row), index, take=True, picture=picture, sound=sound)
            return self._as_other(row, Index.read(index), found.model_copy(update={"noise": facts.noise if picture == facts.picture_track else None}))
        finally:
            index.unlink(missing_ok=True)

    def _unused(self, footage_id: str, of_stills: str) -> tuple[store.FootageRow, Facts]:
        """Footage whose frames may become others. Raises `InUse`, `FootageRefused`."""
        row = store.footage(self.db, footage_id)
        facts = Facts.model_validate(row.facts)
        if facts.kind == "still":
            raise FootageRefused(of_stills)
        if shots.use_footage(self.db, footage_id):
            raise InUse(f"“{row.name}” has shots already, whose frames and keyframes would move. Remove it, and bring it in again for another rate.")
        return row, facts

    def _as_other(self, row: store.FootageRow, index: Index, changed: Facts) -> store.FootageRow:
        """The same file as footage of another id, with another index."""
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
        with self._making.one(footage_id):
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
        self.check_here(row)
        facts = Facts.model_validate(row.facts)
        return Opened(self.media_path(row), facts, self.index(row.id), self.lut_of(row, facts))

    def index(self, footage_id: str) -> Index:
        """The frame index of a piece of footage, made anew where it is gone or damaged. Raises `FootageRefused`, `NotFound`."""
        path = self.index_path(footage_id)
        try:
            return Index.read(path)
        except FootageRefused:
            row = store.footage(self.db, footage_id)
            self.check_here(row)
            facts = Facts.model_validate(row.facts)
            with self._making.one(f"index {row.id}"):
                probe(self.media_path(row), path, take=True, picture=facts.picture_track, sound=facts.sound_track)
                found = Index.read(path)
                rate = facts.frame_rate / 2 if facts.fields == "one a field" else facts.frame_rate
                if found.rate != rate:
                    found = found.conformed(rate)
                if facts.fields == "one a field":
                    found = replace(found, order=np.repeat(found.order, 2), rate=facts.frame_rate)
                found.save(path)
                return found

    def check_here(self, row: store.FootageRow) -> None:
        """Raises `NotFound` where the file of a piece of footage is missing, or another by now."""
        state = self.state(row)
        if state != "here":
            key = "missing here" if row.lies is None and state == "missing" else state
            where = GONE[key].format(Path(row.lies).parent if row.lies else "the data folder")
            raise NotFound(f"The file of “{row.name}” is {where}. The Footage room finds it again.")

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
        with self._making.one(name):
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
