"""Pictures and scopes that were shown, by their content keys: in memory, then in files, both bounded."""

import contextlib
import hashlib
import shutil
import threading
from collections import OrderedDict
from collections.abc import Hashable
from pathlib import Path

from wenditas.render.cache import ByteCache
from wenditas.store.database import new_id

MEMORY_BYTES, DISK_BYTES = 192 << 20, 2 << 30
SPARE_BYTES = 1 << 30  # left free on the disk


class FrameFiles:
    """A folder of files by key, the least recently used removed first. What cannot be written is not kept."""

    def __init__(self, folder: Path, limit: int = DISK_BYTES) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        for part in folder.glob("*.part"):
            part.unlink(missing_ok=True)
        found = sorted(folder.iterdir(), key=lambda path: path.stat().st_mtime)
        self._sizes = OrderedDict((path.name, path.stat().st_size) for path in found)
        self._held = sum(self._sizes.values())
        self.limit = min(limit, max(0, shutil.disk_usage(folder).free + self._held - SPARE_BYTES))
        self._lock = threading.Lock()
        self._trim()

    def __contains__(self, key: Hashable) -> bool:
        return _name(key) in self._sizes

    @property
    def held(self) -> int:
        """Bytes held now."""
        return self._held

    def get(self, key: Hashable) -> bytes | None:
        """The bytes, or None."""
        name = _name(key)
        with self._lock:
            if name not in self._sizes:
                return None
            self._sizes.move_to_end(name)
        try:
            return (self.folder / name).read_bytes()
        except OSError:
            self._forget(name)
            return None

    def put(self, key: Hashable, data: bytes) -> None:
        """Keep some bytes."""
        name = _name(key)
        part = self.folder / f"{new_id()}.part"
        try:
            part.write_bytes(data)
            part.replace(self.folder / name)
        except OSError:
            part.unlink(missing_ok=True)
            return
        with self._lock:
            self._held += len(data) - self._sizes.pop(name, 0)
            self._sizes[name] = len(data)
            self._trim()

    def _forget(self, name: str) -> None:
        with self._lock:
            self._held -= self._sizes.pop(name, 0)

    def _trim(self) -> None:
        while self._held > self.limit and self._sizes:
            name, size = self._sizes.popitem(last=False)
            self._held -= size
            with contextlib.suppress(OSError):
                (self.folder / name).unlink(missing_ok=True)


def _name(key: Hashable) -> str:
    return hashlib.sha256(repr(key).encode()).hexdigest()[:40]


class ShownFrames:
    """Encoded frames in memory; those that no longer fit move to files, and come back when they are asked for."""

    def __init__(self, folder: Path, memory: int = MEMORY_BYTES, disk: int = DISK_BYTES) -> None:
        self._files = FrameFiles(folder, disk)
        self._memory: ByteCache[bytes] = ByteCache(memory, len, self._spill)

    def _spill(self, key: Hashable, data: bytes) -> None:
        if key not in self._files:
            self._files.put(key, data)

    def __contains__(self, key: Hashable) -> bool:
        return key in self._memory or key in self._files

    def get(self, key: Hashable) -> bytes | None:
        """The bytes, or None."""
        found = self._memory.get(key)
        if found is None:
            found = self._files.get(key)
            if found is not None:
                self._memory.put(key, found)
        return found

    def put(self, key: Hashable, data: bytes) -> None:
        """Keep some bytes."""
        self._memory.put(key, data)

    @property
    def held(self) -> tuple[int, int]:
        """Bytes in memory and in files."""
        return self._memory.held, self._files.held
