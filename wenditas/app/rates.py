"""How fast exports go."""

import time

from cachetools import LRUCache

from wenditas.store.exports import ExportRow

REMEMBERED = 64


class Rates:
    """Since when exports are seen running, and from which frame on."""

    def __init__(self) -> None:
        self._started: LRUCache[str, tuple[float, int]] = LRUCache(REMEMBERED)

    def left(self, row: ExportRow) -> float | None:
        """Seconds that a running export needs at the rate it has had since it was first seen; None where that is not known yet."""
        if not row.done:
            self._started.pop(row.id, None)  # it begins anew
            return None
        at, done = self._started.setdefault(row.id, (time.monotonic(), row.done))
        if row.done <= done:
            return None
        return (time.monotonic() - at) / (row.done - done) * (row.total - row.done)
