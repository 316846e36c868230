"""Levels: colours that a picture holds exactly, again and again, as posterizing and plain fills make them. Dither would make several of each."""

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Picture, fill, inline, kernel

Mask = npt.NDArray[np.uint8]
NONE = np.zeros((0, 0), np.uint8)
REACH, ENOUGH = 2, 6  # pixels around; how many of a square must be alike: more than a line of it has, which ramps hold too
FINE = np.float32(1 << 20)  # steps from 0 to 1 that count as different: finer than any ramp, coarser than what mixing rounds
SELDOM = 64  # one pixel in so many is like its neighbour by chance


@inline
def _step(value):  # type: ignore[no-untyped-def]
    return np.uint32(np.int32(min(max(value, np.float32(0)), np.float32(1)) * FINE + np.float32(0.5)))


@kernel
def _named(tile, names):  # type: ignore[no-untyped-def]
    """A number for the colour of each pixel; how many pixels have that of their neighbour on the right."""
    alike = 0
    for y in range(tile.shape[1]):
        r, g, b, row = tile[0, y], tile[1, y], tile[2, y], names[y]
        for x in range(tile.shape[2]):
            row[x] = _step(r[x]) * np.uint32(0x9E3779B1) ^ _step(g[x]) * np.uint32(0x85EBCA77) ^ _step(b[x]) * np.uint32(0xC2B2AE3D)
        for x in range(tile.shape[2] - 1):
            alike += row[x] == row[x + 1]
    return alike


@kernel
def _add_alike(here, there, counts):  # type: ignore[no-untyped-def]
    for x in range(counts.size):
        counts[x] += np.int32(1) if here[x] == there[x] else np.int32(0)


@kernel
def _count(names, found):  # type: ignore[no-untyped-def]
    rows, width = names.shape
    counts = np.empty(width, np.int32)
    for y in range(rows):
        fill(counts, 0)
        for k in range(max(y - REACH, 0), min(y + REACH, rows - 1) + 1):
            for d in range(-REACH, REACH + 1):
                low, high = max(-d, 0), width - max(d, 0)
                _add_alike(names[y, low:high], names[k, low + d : high + d], counts[low:high])
        for x in range(width):
            found[y, x] = counts[x] >= ENOUGH


def levels_of(tile: Picture) -> Mask:
    """Where a tile `(3, rows, w)` holds levels, `(rows, w)`, 0 or 1; `NONE` where it holds hardly any.

    A pixel is of a level where more of the square around it have its colour than lie on a line: ramps of any direction have none.
    Source: our own.
    """
    names = np.empty(tile.shape[1:], np.uint32)
    if tile.shape[2] < 2 or _named(np.ascontiguousarray(tile), names) * SELDOM < names.size:
        return NONE
    found = np.empty(names.shape, np.uint8)
    _count(names, found)
    return found
