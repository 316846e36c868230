"""A cache bounded by bytes, least recently used out first. Thread-safe."""

import threading
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar

from cachetools import LRUCache

T = TypeVar("T")
Leave = Callable[[Hashable, Any], None]


class _Leaving(LRUCache[Hashable, Any]):
    """Tells what has to go for want of room; what is replaced does not count."""

    def __init__(self, limit: int, size: Callable[[Any], int]) -> None:
        super().__init__(limit, size)
        self.gone: list[tuple[Hashable, Any]] = []

    def popitem(self) -> tuple[Hashable, Any]:
        found = super().popitem()
        self.gone.append(found)
        return found


class ByteCache(Generic[T]):
    """Values by key, until their sizes exceed `limit` bytes. `leave` is called with what has to go for want of room."""

    def __init__(self, limit: int, size: Callable[[T], int], leave: Leave | None = None) -> None:
        self.limit, self._size, self._leave = limit, size, leave
        self._items = _Leaving(limit, size)
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> T | None:
        """The value, or None."""
        with self._lock:
            found: T | None = self._items.get(key)
            return found

    def put(self, key: Hashable, value: T) -> None:
        """Keep a value. One larger than the limit is not kept."""
        if self._size(value) > self.limit:
            return
        with self._lock:
            self._items.pop(key, None)
            self._items[key] = value
            gone, self._items.gone = self._items.gone, []
        if self._leave is not None:
            for name, old in gone:
                self._leave(name, old)

    @property
    def held(self) -> int:
        """Bytes held now."""
        return int(self._items.currsize)

    def __contains__(self, key: Hashable) -> bool:
        with self._lock:
            return key in self._items
