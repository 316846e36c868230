"""Files that passes use: taken in, kept by digest, loaded for rendering."""

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator, Mapping
from functools import cache, cached_property
from pathlib import Path
from typing import Any

from wenditas.core import files as core
from wenditas.core.errors import BadFile, FootageRefused, NotFound, TooLarge
from wenditas.core.look.document import Look
from wenditas.core.params import describe
from wenditas.core.tone.lut import Lut
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.overlay_picture import Still
from wenditas.formats.cube import load_lut
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.memory import room
from wenditas.media.overlay import load_still
from wenditas.media.probe import probe, suffix_of
from wenditas.project.one import OneAtATime
from wenditas.store import files as store
from wenditas.store.database import Database

MOST_LUT, MOST_PICTURE = 64 << 20, 64 << 20
MOST_PIXELS = 40_000_000
LOADED_BYTES = 512 << 20  # of loaded files together
PICTURES = (".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp")


def _lut_facts(path: Path) -> dict[str, Any]:
    lut = load_lut(path)
    return {"title": lut.title, "size": lut.size, "cube": lut.cube}


class Files:
    """The files of one data folder."""

    def __init__(self, folder: Path, db: Database) -> None:
        self.folder, self.db = folder / "files", db
        self.folder.mkdir(parents=True, exist_ok=True)
        self._arrivals = OneAtATime()

    def path(self, row: store.FileRow) -> Path:
        """Where a file lies."""
        return self.folder / f"{row.digest}{row.suffix}"

    def take_in(self, data: bytes, name: str) -> store.FileRow:
        """Keep a .cube LUT or a picture. Raises `BadFile` or `TooLarge`; then nothing is kept."""
        suffix = Path(name).suffix.lower()
        if suffix != ".cube" and suffix not in PICTURES:
            raise BadFile(f"“{suffix or 'no ending'}” is neither a LUT (.cube) nor a picture ({', '.join(PICTURES)}).")
        if len(data) > (MOST_LUT if suffix == ".cube" else MOST_PICTURE):
            raise TooLarge(f"“{name}” is larger than {MOST_PICTURE >> 20} MiB, the most that a pass takes.")
        digest = hashlib.sha256(data).hexdigest()[:32]
        with self._arrivals.one(digest):
            found = store.find_file(self.db, digest)
            return found if found is not None and self.path(found).exists() else self._keep(data, name, digest, suffix)

    def _keep(self, data: bytes, name: str, digest: str, suffix: str) -> store.FileRow:
        part = self.folder / f"{digest}.part{suffix}"
        index = self.index_path(digest)
        try:
            part.write_bytes(data)
            kind: store.FileKind = "lut" if suffix == ".cube" else "picture"
            if kind == "lut":
                facts = _lut_facts(part)
            else:
                facts, suffix = self._picture_facts(part, index, suffix)
            row = store.FileRow(digest=digest, kind=kind, name=name, suffix=suffix, bytes=len(data), facts=facts)
            part.replace(self.path(row))
            store.add_file(self.db, row)
        except BaseException:
            index.unlink(missing_ok=True)
            raise
        finally:
            part.unlink(missing_ok=True)
        return store.file(self.db, digest)

    def _picture_facts(self, path: Path, index: Path, suffix: str) -> tuple[dict[str, Any], str]:
        try:
            facts = probe(path, index, take=True)
        except FootageRefused as error:
            raise BadFile(str(error)) from error
        if facts.kind != "still":
            raise BadFile("This is a video; a pass takes a picture. Bring it in as footage.")
        if facts.width * facts.height > MOST_PIXELS:
            raise BadFile(f"The picture has {facts.width} × {facts.height} pixels; at most {MOST_PIXELS // 1_000_000} million are taken.")
        return facts.model_dump(mode="json"), suffix_of(facts, suffix)

    def index_path(self, digest: str) -> Path:
        """Where the frame index of a picture lies."""
        return self.folder / f"{digest}.index.npz"

    def load(self, digest: str) -> Lut | Still:
        """A file ready for rendering. Raises `NotFound`."""
        return load_file(self.folder, store.file(self.db, digest))

    @cached_property
    def loaded(self) -> core.Files:
        """The files as rendering takes them, loaded when they are asked for."""
        return core.Files(Loaded(self.load))

    def used_by(self, look: Look) -> list[store.FileRow]:
        """The files that a look's passes name and that are here."""
        found = []
        for digest in files_of(look):
            try:
                found.append(store.file(self.db, digest))
            except NotFound:
                continue
        return found


class Loaded(Mapping[str, Any]):
    """Files by digest, loaded when they are asked for; kept up to a number of bytes, the newest whatever its size."""

    def __init__(self, load: Callable[[str], Any], limit: int | None = None) -> None:
        """limit: bytes; as much as files are given here by default."""
        self._load, self._limit = load, room(LOADED_BYTES) if limit is None else limit
        self._kept: OrderedDict[str, Any] = OrderedDict()
        self._lock = threading.Lock()

    def __getitem__(self, digest: str) -> Any:
        with self._lock:
            if digest in self._kept:
                self._kept.move_to_end(digest)
                return self._kept[digest]
        try:
            found = self._load(digest)
        except NotFound as error:
            raise KeyError(digest) from error
        with self._lock:
            self._kept[digest] = found
            while len(self._kept) > 1 and sum(v.nbytes for v in self._kept.values()) > self._limit:
                self._kept.popitem(last=False)
        return found

    def __iter__(self) -> Iterator[str]:
        return iter(self._kept)

    def __len__(self) -> int:
        return len(self._kept)


def load_file(folder: Path, row: store.FileRow) -> Lut | Still:
    """A file of a folder ready for rendering. Raises `NotFound` where it is missing."""
    path = folder / f"{row.digest}{row.suffix}"
    if not path.exists():
        raise NotFound(f"The file “{row.name}” is missing from the data folder.")
    if row.kind == "lut":
        return load_lut(path)
    return load_still(path, Facts.model_validate(row.facts), Index.read(folder / f"{row.digest}.index.npz"))


@cache
def _file_keys(treatment: str) -> tuple[str, ...]:
    """Which parameters of a treatment name files: asked with every picture while a control is dragged."""
    return tuple(info.key for info in describe(TREATMENTS[treatment].params) if info.kind == "file")


def files_of(look: Look) -> list[str]:
    """The digests that a look's passes name, each once."""
    named = (item.params.get(key) for item in look.passes if item.known for key in _file_keys(item.treatment))
    return list(dict.fromkeys(digest for digest in named if digest))
