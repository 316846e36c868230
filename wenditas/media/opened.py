"""A media file that can be read."""

from dataclasses import dataclass
from pathlib import Path

from wenditas.media.facts import Facts
from wenditas.media.index import Index


@dataclass(frozen=True)
class Opened:
    """Where it lies, what is known of it, and when each of its frames is shown."""

    path: Path
    facts: Facts
    index: Index
