"""One at a time: whoever comes with the same key waits for the first."""

import threading
from collections import Counter
from collections.abc import Hashable, Iterator
from contextlib import contextmanager


class OneAtATime:
    """Locks by key, which exist as long as somebody uses them."""

    def __init__(self) -> None:
        self._locks: dict[Hashable, threading.Lock] = {}
        self._users: Counter[Hashable] = Counter()
        self._lock = threading.Lock()

    @contextmanager
    def one(self, key: Hashable) -> Iterator[None]:
        """Hold the key within this block."""
        with self._lock:
            lock = self._locks.setdefault(key, threading.Lock())
            self._users[key] += 1
        try:
            with lock:
                yield
        finally:
            with self._lock:
                self._users[key] -= 1
                if not self._users[key]:
                    del self._users[key], self._locks[key]
