"""A media file that can be read."""

from dataclasses import dataclass
from pathlib import Path

from wenditas.core.tone.lut import Lut
from wenditas.media.facts import Facts
from wenditas.media.index import Index


@dataclass(frozen=True)
class Opened:
    """Where it lies, what is known of it, when each of its frames is shown, and the LUT that its signal is read through, if any."""

    path: Path
    facts: Facts
    index: Index
    lut: Lut | None = None
