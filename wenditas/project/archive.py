"""A project as one archive: documents, histories, takes, files and media in a ZIP file, and back again, identical.

    wenditas.json            {"format": "wenditas-archive", "version", "tables": {table: rows}, "members": {name: {bytes, sha256}}}
    media/ID.SUFFIX          footage, where it was asked for
    media/ID.index.npz       its frame index
    files/DIGEST.SUFFIX      LUTs and pictures that passes use

What arrives is read from the list of members alone: nothing else in the archive is touched, and every name is one of the
above, so that nothing can be written elsewhere. Everything is checked before the first row is stored.
"""

import hashlib
import json
import os
import re
import shutil
import sqlite3
import zipfile
import zlib
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel

from wenditas.core.errors import BadFile, DiskFull, FootageRefused
from wenditas.core.film.document import parse_reel
from wenditas.core.look.document import parse_shot
from wenditas.core.look.patch import patched
from wenditas.core.select.tracks import Track
from wenditas.formats.cube import load_lut
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.probe import probe
from wenditas.project.files import Files
from wenditas.project.library import Library
from wenditas.store import files as file_store
from wenditas.store import footage, projects
from wenditas.store.database import new_id
from wenditas.store.whole import COLUMNS, Row, ids_of, put, rows_of, taken_ids

FORMAT, VERSION = "wenditas-archive", 1
HEAD = "wenditas.json"
MOST_HEAD = 256 << 20  # bytes of all documents and histories
MOST_PARTS = 4_000_000  # values that these hold: each takes some sixty bytes of memory once it is read
CHUNK = 1 << 20
WRITTEN = (1980, 1, 1, 0, 0, 0)
DAMAGED = "Nothing was taken in."
SAME = ("kind", "codec", "pixel_format", "width", "height", "coded_width", "coded_height", "rotation")  # of a file, whatever it was chosen to be read as
SAFE = set("abcdefghijklmnopqrstuvwxyz0123456789.")


class Member(BaseModel):
    """A file within an archive."""

    bytes: int
    sha256: str


class Head(BaseModel):
    """What an archive tells of itself."""

    format: str
    version: int
    tables: dict[str, list[Row]]
    members: dict[str, Member]


class _Pieces:
    """Something that a ZIP file is written to, given on piece by piece."""

    def __init__(self) -> None:
        self._held: list[bytes] = []
        self._at = 0

    def write(self, data: bytes) -> int:
        self._held.append(bytes(data))
        self._at += len(data)
        return len(data)

    def tell(self) -> int:
        return self._at

    def flush(self) -> None:
        """Nothing waits."""

    def taken(self) -> bytes:
        """What was written since."""
        held, self._held = self._held, []
        return b"".join(held)


def written(library: Library, files: Files, project_id: str, media: bool = True) -> Iterator[bytes]:
    """The bytes of an archive of a project, piece by piece. media: footage too, not only what was made of it."""
    with library.db.snapshot():  # of one moment, whatever is edited while it is written
        projects.project(library.db, project_id)
        tables = rows_of(library.db, project_id)
        paths = _paths(library, files, tables, media)
    known = {f"media/{row['id']}{row['suffix']}": row["digest"] for row in tables["footage"]}  # of media that are as large as they were
    members = {name: Member(bytes=path.stat().st_size, sha256=known.get(name) or _sha256(path)) for name, path in paths.items()}
    for row in tables["footage"]:  # where it lay on this machine is nobody else's business
        row["lies"] = row["changed"] = None
    head = Head(format=FORMAT, version=VERSION, tables=tables, members=members)
    pieces = _Pieces()
    with zipfile.ZipFile(pieces, "w", zipfile.ZIP_STORED) as archive:  # type: ignore[call-overload]
        archive.writestr(zipfile.ZipInfo(HEAD, WRITTEN), head.model_dump_json(), zipfile.ZIP_DEFLATED)
        yield pieces.taken()
        for name, path in paths.items():
            digest = hashlib.sha256()
            with path.open("rb") as source, archive.open(zipfile.ZipInfo(name, WRITTEN), "w", force_zip64=True) as out:
                while chunk := source.read(CHUNK):
                    digest.update(chunk)
                    out.write(chunk)
                    yield pieces.taken()
            if digest.hexdigest() != members[name].sha256:
                raise BadFile(f"{path.name} is another file than was taken in: the archive was not finished. Bring that file in again.")
    yield pieces.taken()


def _paths(library: Library, files: Files, tables: Mapping[str, list[Row]], media: bool) -> dict[str, Path]:
    found = {}
    for plain in tables["footage"]:
        row = footage.footage(library.db, plain["id"])
        found[f"media/{row.id}.index.npz"] = library.index_path(row.id)
        if media and library.state(row) == "here":
            found[f"media/{row.id}{row.suffix}"] = library.media_path(row)
    for plain in tables["files"]:
        kept = file_store.file(files.db, plain["digest"])
        found[f"files/{kept.digest}{kept.suffix}"] = files.path(kept)
        if kept.kind == "picture":
            found[f"files/{kept.digest}.index.npz"] = files.index_path(kept.digest)
    return {name: path for name, path in found.items() if path.exists()}


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def read_in(library: Library, files: Files, path: Path, said: Callable[[int, int], None] = lambda done, total: None) -> projects.Project:
    """Make a project of an archive. Ids stay what they are, unless one is in use here; then all are new.

    Raises `BadFile` where the archive is damaged or no archive, `DiskFull` where there is no room for it; then nothing has changed.
    """
    placed: list[Path] = []
    try:
        with zipfile.ZipFile(path) as archive:
            head = _head(archive)
            _check_room(library, head)
            names = _renamed(library, head)
            head = Head(**{**head.model_dump(), "tables": with_ids(head.tables, names)})
            work = library.incoming()
            work.mkdir()
            placed.append(work)
            _unpack(archive, head, work, said)
        _check_rows(head, work, names)
        _check_media(head, work, names)
        _check_documents(head.tables)
        for name in head.members:
            target = _target(library, files, name, names)
            if not target.exists():
                placed.append(target)
                (work / name).replace(target)
        put(library.db, head.tables)
        placed = [work]
        project = projects.project(library.db, head.tables["projects"][0]["id"])
    except (zipfile.BadZipFile, zlib.error, ValueError, sqlite3.Error, LookupError, TypeError, EOFError, NotImplementedError, RuntimeError) as error:
        raise BadFile(f"The archive is damaged, or is none of Wenditas. {DAMAGED}") from error
    finally:
        for one in placed:
            if one.is_dir():
                shutil.rmtree(one, ignore_errors=True)
            else:
                one.unlink(missing_ok=True)
    return project


def _head(archive: zipfile.ZipFile) -> Head:
    try:
        info = archive.getinfo(HEAD)
    except KeyError as error:
        raise BadFile(f"This is no archive of Wenditas: there is no {HEAD} in it. {DAMAGED}") from error
    if info.file_size > MOST_HEAD:
        raise BadFile(f"The archive tells {info.file_size >> 20} MiB of itself; at most {MOST_HEAD >> 20} MiB are read. {DAMAGED}")
    with archive.open(info) as file:
        text = file.read(MOST_HEAD + 1)
    if len(text) != info.file_size:
        raise BadFile(f"The archive is damaged: what it tells of itself has another length than it says. {DAMAGED}")
    parts = sum(text.count(mark) for mark in (b",", b"[", b"{"))  # also of the documents that are told within texts
    if parts > MOST_PARTS:
        raise BadFile(f"The archive tells of {parts // 1_000_000} million things; at most {MOST_PARTS // 1_000_000} million are read. {DAMAGED}")
    plain = json.loads(text)
    if not isinstance(plain, dict) or plain.get("format") != FORMAT:
        raise BadFile(f"This is no archive of Wenditas. {DAMAGED}")
    if plain.get("version", 0) > VERSION:
        raise BadFile(f"The archive was written by a newer Wenditas (version {plain['version']}; this one knows {VERSION}). {DAMAGED}")
    head = Head.model_validate(plain)
    for name in head.members:
        folder, _, rest = name.partition("/")
        if folder not in ("media", "files") or not rest or not set(rest) <= SAFE or rest.startswith(".") or ".." in rest:
            raise BadFile(f"The archive holds a file with the name {name!r}, which is none that an archive has. {DAMAGED}")
        info = archive.getinfo(name)
        if info.file_size != head.members[name].bytes or (info.external_attr >> 28) == 0xA:  # a link
            raise BadFile(f"The archive is damaged: {name} is not the file that it says. {DAMAGED}")
    return head


def _check_room(library: Library, head: Head) -> None:
    wanted, free = sum(m.bytes for m in head.members.values()), library.free_bytes()
    if wanted > free:
        raise DiskFull(f"The archive needs {wanted >> 20} MiB; {free >> 20} MiB are free. {DAMAGED}")


def _renamed(library: Library, head: Head) -> dict[str, str]:
    """New ids for old ones; none where all are free."""
    ids = list(ids_of(head.tables))
    if not all(isinstance(id, str) and id and len(id) <= 40 and set(id) <= SAFE - {"."} for id in ids) or len(set(ids)) != len(ids):
        raise BadFile(f"The archive is damaged: it has ids that are none, or twice the same. {DAMAGED}")
    return {id: new_id() for id in ids} if taken_ids(library.db, ids) else {}


def with_ids(tables: dict[str, list[Row]], ids: dict[str, str]) -> dict[str, list[Row]]:
    """The rows with other ids, also within documents, edits and targets."""
    for table, rows in tables.items():
        unknown = {column for row in rows for column in row} - COLUMNS.get(table, set())
        if table not in COLUMNS or unknown:
            raise BadFile(f"The archive has something that this version does not know: {table} {', '.join(sorted(unknown))}. {DAMAGED}")
    if not ids:
        return tables
    return {table: [{k: _told_anew(k, v, ids) for k, v in row.items()} for row in rows] for table, rows in tables.items()}


def _told_anew(column: str, value: Any, ids: dict[str, str]) -> Any:
    """The value of a column with other ids; documents and edits are JSON."""
    return json.dumps(_swapped(json.loads(value), ids)) if column in ("patch", "touched", "document") else _swapped(value, ids)


def _swapped(value: Any, ids: dict[str, str]) -> Any:
    if isinstance(value, str):
        return "/".join(ids.get(part, part) for part in value.split("/")) if "/" in value else ids.get(value, value)
    if isinstance(value, list):
        return [_swapped(one, ids) for one in value]
    if isinstance(value, dict):
        return {ids.get(k, k): _swapped(v, ids) for k, v in value.items()}
    return value


def _unpack(archive: zipfile.ZipFile, head: Head, work: Path, said: Callable[[int, int], None]) -> None:
    """All members into a folder, each compared with its digest."""
    total, done = sum(m.bytes for m in head.members.values()), 0
    for folder in ("media", "files"):
        (work / folder).mkdir()
    for name, member in head.members.items():
        digest, left = hashlib.sha256(), member.bytes
        with archive.open(name) as source, (work / name).open("wb") as out:
            while chunk := source.read(min(CHUNK, left + 1)):
                left -= len(chunk)
                if left < 0:
                    break
                digest.update(chunk)
                out.write(chunk)
                done += len(chunk)
                said(done, total)
            out.flush()
            os.fsync(out.fileno())
        if left or digest.hexdigest() != member.sha256:
            raise BadFile(f"The archive is damaged: {name} in it is not what was put there. {DAMAGED}")


def _check_rows(head: Head, work: Path, ids: dict[str, str]) -> None:
    """One project; facts that can be read; media that are what their footage says, and belong to it."""
    tables = head.tables
    back = {new: old for old, new in ids.items()}
    if len(tables["projects"]) != 1 or any(row["project_id"] != tables["projects"][0]["id"] for table in ("footage", "reels") for row in tables[table]):
        raise BadFile(f"The archive is damaged: it is not of one project. {DAMAGED}")
    names = set()
    for row in (*tables["footage"], *tables.get("files", [])):
        if not re.fullmatch(r"\.[a-z0-9]{1,5}", row["suffix"]) or not re.fullmatch(r"[0-9a-f]{16,64}", row["digest"]):
            raise BadFile(f"The archive is damaged: {row['name']!r} has an ending or a digest that is none. {DAMAGED}")
    for row in tables["footage"]:
        Facts.model_validate(json.loads(row["facts"]))
        old = back.get(row["id"], row["id"])
        names |= {f"media/{old}.index.npz", f"media/{old}{row['suffix']}"}
        if (row.get("lies"), row.get("changed")) != (None, None):
            raise BadFile(f"The archive is damaged: it names a file outside itself. {DAMAGED}")
        member = head.members.get(f"media/{old}{row['suffix']}")
        if member is not None and member.sha256 != row["digest"]:
            raise BadFile(f"The archive is damaged: “{row['name']}” in it is another file. {DAMAGED}")
        if f"media/{old}.index.npz" not in head.members:
            raise BadFile(f"The archive is damaged: it does not say when the frames of “{row['name']}” are shown. {DAMAGED}")
    for row in tables.get("files", []):
        names |= {f"files/{row['digest']}{row['suffix']}", f"files/{row['digest']}.index.npz"}
        path = work / f"files/{row['digest']}{row['suffix']}"
        if not path.exists() or _sha256(path)[:32] != row["digest"]:
            raise BadFile(f"The archive is damaged: “{row['name']}” in it is another file. {DAMAGED}")
    if strange := set(head.members) - names:
        raise BadFile(f"The archive holds {sorted(strange)[0]!r}, which nothing in it uses. {DAMAGED}")


def _check_media(head: Head, work: Path, ids: dict[str, str]) -> None:
    """Indexes that are such; media and pictures that the probe of an upload takes, as their facts have it. Raises `BadFile`."""
    back = {new: old for old, new in ids.items()}
    for row in head.tables["footage"]:
        facts, old = Facts.model_validate_json(row["facts"]), back.get(row["id"], row["id"])
        kept = work / f"media/{old}.index.npz"
        _check_index(kept, facts, row["name"])
        _check_file(work / f"media/{old}{row['suffix']}", facts, Index.read(kept), row["name"])
    for row in head.tables.get("files", []):
        path = work / f"files/{row['digest']}{row['suffix']}"
        if row["kind"] == "lut":
            load_lut(path)
        else:
            kept, facts = work / f"files/{row['digest']}.index.npz", Facts.model_validate_json(row["facts"])
            _check_index(kept, facts, row["name"])
            _check_file(path, facts, Index.read(kept), row["name"])


def _check_index(path: Path, facts: Facts, name: str) -> None:
    try:
        index = Index.read(path)
    except FootageRefused as error:
        raise BadFile(f"The archive is damaged: “{name}”: {error} {DAMAGED}") from error
    if facts.kind != "still" and (len(index.order) != facts.length or index.rate != facts.frame_rate):
        raise BadFile(f"The archive is damaged: what it tells of “{name}” does not fit the frames that it lists. {DAMAGED}")


def _check_file(path: Path, facts: Facts, index: Index, name: str) -> None:
    """A file is probed apart, as an upload is, and is what is told of it. One that is not in the archive is trusted until it comes in."""
    if not path.exists():
        return
    probed = path.with_name(f"{path.name}.probed.npz")
    try:
        found, times = probe(path, probed, take=True, picture=facts.picture_track, sound=facts.sound_track), Index.read(probed).times
    except FootageRefused as error:
        raise BadFile(f"“{name}” in the archive cannot be used: {error} {DAMAGED}") from error
    finally:
        probed.unlink(missing_ok=True)
    same = all(getattr(found, key) == getattr(facts, key) for key in SAME)
    if not same or not np.array_equal(times, index.times):
        raise BadFile(f"The archive is damaged: “{name}” in it is not what it tells of it. {DAMAGED}")


def _target(library: Library, files: Files, name: str, ids: dict[str, str]) -> Path:
    folder, _, rest = name.partition("/")
    stem, dot, ending = rest.partition(".")
    return (library.folder / "media" if folder == "media" else files.folder) / f"{ids.get(stem, stem)}{dot}{ending}"


def _check_documents(tables: Mapping[str, list[Row]]) -> None:
    """Every document opens, as it stands. Raises `BadFile`."""
    revisions = {row["id"]: row for row in tables["revisions"]}
    whole = {row["revision"]: row["document"] for row in tables["snapshots"]}
    lengths = {row["id"]: Facts.model_validate_json(row["facts"]).length for row in tables["footage"]}
    footage_of = {row["id"]: row["footage_id"] for row in tables["shots"]}
    try:
        tracks = {row["digest"]: Track.unpacked(row["frames"]) for row in tables.get("tracks", [])}
        for row in tables["documents"]:
            line = [revisions[row["head"]]]
            while line[-1]["distance"] > 0 and len(line) <= len(revisions):
                line.append(revisions[line[-1]["parent"]])
            plain = patched(json.loads(whole[line.pop()["id"]]), [json.loads(r["patch"]) for r in reversed(line)])
            if row["kind"] == "reel":
                parse_reel(plain, tracks)
            else:
                parse_shot(plain, lengths[footage_of[row["id"]]], tracks)
    except Exception as error:  # whatever a hostile document breaks
        raise BadFile(f"The archive is damaged: a document in it cannot be read. {error} {DAMAGED}") from error
