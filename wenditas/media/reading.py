"""How the signal of footage is read: as it is, by a tone mapping, or by a LUT of one's own; chosen for a piece of footage."""

import hashlib
from functools import cache
from typing import Literal

from pydantic import Field

from wenditas.core.colour.deficiency import table as sight_table
from wenditas.core.colour.hdr import table
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Params
from wenditas.core.tiles import run_tiles
from wenditas.core.tone.lut import Lut, cube_tile, line_tile
from wenditas.media.facts import Signal

Way = Literal["by itself", "as it is", "hlg", "pq", "lut"]
MAPPED = ("hlg", "pq")


class Reading(Params):
    """way: "by itself" maps what is tagged HLG or PQ, and takes all else as it is. lut: the digest of the LUT, for that way."""

    way: Way = "by itself"
    lut: str | None = Field(None, max_length=64)

    def applied(self, signal: Signal) -> str:
        """What is applied to a signal: "", "hlg", "pq", or the digest of a LUT."""
        if self.way == "lut":
            return self.lut or ""
        if self.way == "by itself":
            return signal if signal in MAPPED else ""
        return self.way if self.way in MAPPED else ""

    def name(self, signal: Signal) -> str:
        """Names what is applied, for a content key; empty for nothing."""
        applied = self.applied(signal)
        return hashlib.sha256(f"{applied} 1".encode()).hexdigest()[:8] if applied else ""


@cache
def tone_mapping(kind: str) -> Lut:
    """HLG or PQ to BT.709, as a LUT; see `wenditas.core.colour.hdr`."""
    return Lut(kind.upper(), table(kind))


@cache
def sight(kind: str) -> Lut:
    """A kind of colour-vision deficiency, as a LUT; see `wenditas.core.colour.deficiency`."""
    return Lut(kind, sight_table(kind))


def through(lut: Lut, picture: Picture) -> Picture:
    """A whole picture through a LUT, on the thread pool."""
    flat, low, scale = lut.prepared
    out = as_picture(picture.copy())

    def work(first: int, end: int, scratch: object) -> None:
        tile = as_picture(picture[:, first:end])
        made = tile.copy()
        if lut.cube:
            cube_tile(tile, flat, lut.size, low, scale, made)
        else:
            line_tile(tile, flat, low, scale, made)
        out[:, first:end] = made

    run_tiles(picture.shape[1], picture.shape[2], work)
    return out
