"""A cache bounded by bytes, least recently used out first. Thread-safe."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

T = TypeVar("T")


class ByteCache(Generic[T]):
    """Values by key, until their sizes exceed `limit` bytes. `leave` is called with what has to go for want of room."""

    def __init__(self, limit: int, size: Callable[[T], int], leave: Callable[[Hashable, T], None] | None = None) -> None:
        self.limit, self._size, self._leave = limit, size, leave
        self._items: OrderedDict[Hashable, T] = OrderedDict()
        self._held = 0
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> T | None:
        """The value, or None."""
        with self._lock:
            if key not in self._items:
                return None
            self._items.move_to_end(key)
            return self._items[key]

    def put(self, key: Hashable, value: T) -> None:
        """Keep a value. One larger than the limit is not kept."""
        size = self._size(value)
        if size > self.limit:
            return
        gone: list[tuple[Hashable, T]] = []
        with self._lock:
            if key in self._items:
                self._held -= self._size(self._items.pop(key))
            self._items[key] = value
            self._held += size
            while self._held > self.limit:
                gone.append(self._items.popitem(last=False))
                self._held -= self._size(gone[-1][1])
        if self._leave is not None:
            for name, old in gone:
                self._leave(name, old)

    @property
    def held(self) -> int:
        """Bytes held now."""
        return self._held

    def __contains__(self, key: Hashable) -> bool:
        with self._lock:
            return key in self._items
