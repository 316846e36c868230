"""At start: what an earlier run left half made, or what nothing names any more, is removed."""

import contextlib
import shutil
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

from wenditas.store import exports, footage, tracks
from wenditas.store.database import Database

KEEP_REMOVED = timedelta(days=1)


def _remove(path: Path) -> None:
    with contextlib.suppress(OSError):  # what cannot be removed does no harm
        if path.is_dir() and not path.is_symlink():
            shutil.rmtree(path)
        else:
            path.unlink(missing_ok=True)


def _leftovers(folder: Path, db: Database) -> Iterator[Path]:
    """Half-arrived files, half-made copies, job files; indexes, media and exports that the database does not know."""
    yield from (folder / "incoming").iterdir()
    for name in ("cache", "exports", "files", "media"):
        yield from (folder / name).glob("*.part*")
    yield from (folder / "cache").glob("job-*.json")
    going_on = exports.unfinished_ids(db)
    for segments in (folder / "cache" / "segments").glob("*"):
        yield from segments.glob("*.part*") if segments.name in going_on else [segments]
    yield from (folder / "cache").glob("estimate-*")
    known = footage.all_ids(db)
    yield from (p for p in (folder / "media").iterdir() if p.name.split(".", 1)[0] not in known)
    finished = exports.all_ids(db)
    yield from (p for p in (folder / "exports").iterdir() if p.name.split(".", 1)[0] not in finished)


def _removed_long_ago(folder: Path, db: Database) -> Iterator[Path]:
    before = (datetime.now(UTC) - KEEP_REMOVED).isoformat(timespec="milliseconds")
    for row in footage.removed_before(db, before):
        yield from (folder / "media").glob(f"{row.id}.*")
        yield from (folder / "cache").glob(f"*-{row.id}[.~]*")  # poster, strip, sound, preview copy


def sweep(folder: Path, db: Database) -> None:
    """Clean a data folder that this process owns."""
    for path in [*_leftovers(folder, db), *_removed_long_ago(folder, db)]:
        _remove(path)
    tracks.sweep(db)
