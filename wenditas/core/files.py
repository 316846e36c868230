"""Files that passes use (LUTs, pictures), found by the digest of their bytes: an argument of rendering, like its sources."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Files:
    """Loaded files by digest: `Lut`s and `Still`s. The mapping may load them when they are asked for. only: those that may be used; None: all."""

    known: Mapping[str, Any] = field(default_factory=dict)
    only: frozenset[str] | None = None

    def find(self, digest: str, kind: type) -> Any:
        """The file. None where it is missing or of another kind: the pass then leaves the picture as it is."""
        found = self.known.get(digest) if digest and (self.only is None or digest in self.only) else None
        return found if isinstance(found, kind) else None


NO_FILES = Files()
