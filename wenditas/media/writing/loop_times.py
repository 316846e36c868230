"""How long the frames of a loop are shown, read from its blocks: nothing of it is decoded, for a loop of a minute would fill the memory.

Sources: GIF89a (CompuServe 1990), sections 18 to 27; RFC 9649, WebP container format, section 2.7.
"""

import mmap
from pathlib import Path

from wenditas.core.errors import ExportFailed

BROKEN = "The loop was read back, and its blocks do not follow one another. It was not kept."


def frame_times(path: Path) -> tuple[tuple[int, int], list[float]]:
    """Width and height, and the seconds that each frame is shown, of a GIF or an animated WebP. Raises `ExportFailed`."""
    with path.open("rb") as file, mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as data:
        try:
            return _gif(data) if data[:3] == b"GIF" else _webp(data)
        except (IndexError, ValueError) as error:
            raise ExportFailed(BROKEN) from error


def _past_blocks(data: mmap.mmap, at: int) -> int:
    while (size := data[at]) != 0:
        at += size + 1
    return at + 1


def _palette(packed: int) -> int:
    return 3 << ((packed & 7) + 1) if packed & 0x80 else 0


def _gif(data: mmap.mmap) -> tuple[tuple[int, int], list[float]]:
    width, height = int.from_bytes(data[6:8], "little"), int.from_bytes(data[8:10], "little")
    at, times, delay = 13 + _palette(data[10]), list[float](), 0.0
    while (kind := data[at]) != 0x3B:
        if kind == 0x21:
            if data[at + 1] == 0xF9:
                delay = int.from_bytes(data[at + 4 : at + 6], "little") / 100
            at = _past_blocks(data, at + 2)
        elif kind == 0x2C:
            times.append(delay)
            at = _past_blocks(data, at + 11 + _palette(data[at + 9]))
        else:
            raise ValueError(kind)
    return (width, height), times


def _webp(data: mmap.mmap) -> tuple[tuple[int, int], list[float]]:
    if data[:4] != b"RIFF" or data[8:12] != b"WEBP":
        raise ValueError("no WebP")
    at, size, times = 12, (0, 0), list[float]()
    while at + 8 <= len(data):
        kind, length = data[at : at + 4], int.from_bytes(data[at + 4 : at + 8], "little")
        body = at + 8
        if kind == b"VP8X":
            size = 1 + int.from_bytes(data[body + 4 : body + 7], "little"), 1 + int.from_bytes(data[body + 7 : body + 10], "little")
        elif kind == b"ANMF":
            times.append(int.from_bytes(data[body + 12 : body + 15], "little") / 1000)
        at = body + length + length % 2
    if at != len(data):
        raise ValueError("cut short")
    return size, times
