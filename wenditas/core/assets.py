"""Files that passes use (LUTs, pictures), found by the digest of their bytes.

A digest names its content, so that a look stays a pure recipe. Where the bytes come from is
told once, from outside; what was made from them is kept.
"""

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Any

from wenditas.core.errors import NotFound

MOST_BYTES = 512 << 20  # of loaded files together; the newest is kept whatever its size
Load = Callable[[str], Any]


class Assets:
    """Loaded files (they tell their `nbytes`), the most recent ones kept."""

    def __init__(self) -> None:
        self._load: Load | None = None
        self._kept: OrderedDict[str, Any] = OrderedDict()
        self._lock = Lock()

    def load_with(self, load: Load) -> None:
        """Tell where files come from: digest to a `Lut` or an RGBA picture."""
        self._load = load

    def put(self, digest: str, value: Any) -> None:
        """Keep a loaded file."""
        with self._lock:
            self._kept[digest] = value
            self._kept.move_to_end(digest)
            while len(self._kept) > 1 and sum(v.nbytes for v in self._kept.values()) > MOST_BYTES:
                self._kept.popitem(last=False)

    def find(self, digest: str, kind: type) -> Any:
        """The file, loaded where it is not yet. None where it is missing or of another kind: the pass then leaves the picture as it is."""
        with self._lock:
            found = self._kept.get(digest)
        if found is None and self._load is not None and digest:
            try:
                found = self._load(digest)
            except NotFound:
                return None
            self.put(digest, found)
        return found if isinstance(found, kind) else None


ASSETS = Assets()
