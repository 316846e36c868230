"""What may be used again from one picture to the next. It may make a picture faster, never other."""

from collections import deque
from collections.abc import Iterable
from threading import Lock
from typing import Any

from cachetools import LRUCache

from wenditas.core.work.operation import Op

MEMO_BYTES = 256 << 20
MOST_PREPARED = 256  # operations whose tables are kept
BEFORE = 4  # graphs whose operations are remembered: a slider's picture, and what is rendered beside it


def _nbytes(value: Any) -> int:
    return int(value.nbytes)


class Memo:
    """Mattes and pictures by the digests of their operations, and what was prepared for them; bounded by bytes. Thread-safe.

    What is kept is not changed any more.
    """

    def __init__(self, limit: int = MEMO_BYTES) -> None:
        self.limit = limit
        self._known: LRUCache[str, Any] = LRUCache(limit, _nbytes)
        self._prepared: LRUCache[str, Any] = LRUCache(MOST_PREPARED)
        self._before: deque[frozenset[str]] = deque(maxlen=BEFORE)
        self._lock = Lock()

    def get(self, digest: str) -> Any:
        """What is kept under a digest, or None."""
        with self._lock:
            return self._known.get(digest)

    def put(self, digest: str, value: Any) -> None:
        """Keep something, if it is not larger than all that is kept."""
        with self._lock:
            if value.nbytes <= self.limit:
                self._known[digest] = value

    def prepared(self, op: Op) -> Any:
        """What performs an operation, made once for the same parameters."""
        make = op.kind.rows or op.kind.whole
        assert make is not None, op
        if not op.kind.prepares:
            return make(op.params)
        with self._lock:
            found = self._prepared.get(op.own)
        if found is None:
            found = make(op.params)
            with self._lock:
                self._prepared[op.own] = found
        return found

    def shared(self, digests: Iterable[str]) -> frozenset[str]:
        """Which operations of a graph were in one before it; this one is remembered for those that follow."""
        now = frozenset(digests)
        with self._lock:
            found = frozenset().union(*(before & now for before in self._before))
            if now not in self._before:
                self._before.append(now)
        return found
