"""Work that gives way: threads that run behind all others, and whether anything else is going on."""

import contextlib
import os
import threading
import time
from collections.abc import Iterator

NICE = 15


def behind_all_else() -> None:
    """Let this thread, and those it starts, have the processor only when no other wants it (where the system allows it)."""
    with contextlib.suppress(OSError, AttributeError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), NICE)


class Bustle:
    """Counts what is being worked on for somebody who waits."""

    def __init__(self) -> None:
        self._count, self._last = 0, 0.0
        self._lock = threading.Lock()

    @contextlib.contextmanager
    def working(self) -> Iterator[None]:
        """Something is being worked on within this block."""
        with self._lock:
            self._count += 1
        try:
            yield
        finally:
            with self._lock:
                self._count -= 1
                self._last = time.monotonic()

    def quiet_for(self) -> float:
        """Seconds since anything was going on; 0 while it is."""
        with self._lock:
            return 0.0 if self._count else time.monotonic() - self._last

    def give_way(self, most: float = 0.25) -> None:
        """Wait until nothing is being worked on, but no longer than some seconds."""
        end = time.monotonic() + most
        while self.quiet_for() == 0 and time.monotonic() < end:
            time.sleep(0.004)
