"""Where compiled kernels are cached: a folder named after all sources they are made from.

Numba looks only at the file of a kernel itself, not at the helpers that are folded into
it; with one folder per state of the sources, a changed helper is never run from an old cache.
"""

import hashlib
import os
from functools import cache
from pathlib import Path

from platformdirs import user_cache_path

ROOT = Path(__file__).parent


@cache
def engine() -> str:
    """A name for the state of the code that makes pictures: part of every content key."""
    found = hashlib.sha256()
    for path in sorted([*(ROOT / "core").rglob("*.py"), *(ROOT / "media").rglob("*.py")]):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


def use_own_cache() -> None:
    """Point Numba at the folder for these sources, unless the user has chosen another."""
    beside = ROOT / "__pycache__"
    base = beside if os.access(ROOT, os.W_OK) else user_cache_path("wenditas")
    os.environ.setdefault("NUMBA_CACHE_DIR", str(base / f"kernels-{engine()}"))
