"""How much the caches of a process may hold: as much as they are made for, or their share of a total that was asked for."""

import contextlib
import ctypes
import os
import re

from wenditas.core.errors import BadRequest

ASKED = "WENDITAS_MEMORY"  # the total in bytes, for this process and those that it starts
LEAST = 768 << 20
BASE = 420 << 20  # of the server beside its caches: 220 MB when it starts (measured), the rest is allowed for footage that is open
IN_HAND = 0.25  # of the total: pictures that are being made, and a process that exports
CACHES = 2560 << 20  # that all caches together are made for, in the server
EXPORT, EXPORT_CACHES = 0.3, 1024 << 20  # share of the caches' room that an export has, and what its own are made for
UNITS = {"": 1, "k": 1 << 10, "m": 1 << 20, "g": 1 << 30}
M_ARENA_MAX = -8  # of glibc's mallopt


def bytes_of(text: str) -> int:
    """A number of bytes as people write it: `1G`, `1.5G`, `900M`. Raises `BadRequest`."""
    match = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*([kmg]?)i?b?\s*", text.lower())
    if match is None:
        raise BadRequest(f"{text!r} is no amount of memory: write it as 1G, 1.5G or 900M.")
    found = int(float(match[1]) * UNITS[match[2]])
    if found < LEAST:
        raise BadRequest(f"{text} is too little: Wenditas needs {LEAST >> 20}M at least.")
    return found


def ask(total: int) -> None:
    """Ask for a total, before anything is opened. The allocator keeps fewer arenas then: what is let go of goes back to the system."""
    os.environ[ASKED] = str(total)
    with contextlib.suppress(OSError, AttributeError):  # another C library: caches are bounded all the same
        ctypes.CDLL(None).mallopt(M_ARENA_MAX, 2)


def _room() -> int | None:
    total = os.environ.get(ASKED)
    return None if total is None else max(0, int(int(total) * (1 - IN_HAND)) - BASE)


def room(wanted: int) -> int:
    """What a cache of the server may hold, that is made for so many bytes."""
    available = _room()
    return wanted if available is None else min(wanted, int(wanted * (1 - EXPORT) * available / CACHES))


def room_of_export(wanted: int) -> int:
    """What a cache of an export may hold, that is made for so many bytes."""
    available = _room()
    return wanted if available is None else min(wanted, int(wanted * EXPORT * available / EXPORT_CACHES))
