"""Every error the application raises on purpose, as one tree.

Each message is a sentence for the person at the screen: what happened, quoting
the value, and what can be chosen instead. The API turns them into HTTP in one
place (`wenditas/api/errors.py`).

    WenditasError
    ├── BadRequest
    │   ├── BadLook              the document is not valid
    │   ├── BadEdit              an edit that makes no sense
    │   └── BadFile              a LUT, gradient, decision list or picture that cannot be read
    ├── NotFound
    ├── Conflict
    │   ├── Overtaken            an edit that does not fit any more
    │   │   ├── StaleRevision    what it changes was changed meanwhile
    │   │   └── TargetGone       what it names is not there
    │   └── InUse                something else depends on it
    ├── FootageRefused           a file that cannot be used, and why
    │   ├── FootageDamaged       one of which a part can be used
    │   └── OnlySound            one without pictures
    ├── CannotStore              a disk or a database that does not do what it is asked for
    ├── DataFolderError          a data folder that cannot be opened
    ├── DiskFull
    ├── TooLarge
    └── ExportFailed
        └── Cancelled
"""

from collections.abc import Iterable, Sequence
from typing import Any


class WenditasError(Exception):
    """Base of all errors raised on purpose."""


class BadRequest(WenditasError):
    """The request itself is wrong."""


class BadLook(BadRequest):
    """A look or shot document that does not validate."""


class BadEdit(BadRequest):
    """An edit that makes no sense, whatever the document."""


class BadFile(BadRequest):
    """A LUT, gradient, colour decision list or picture that cannot be read; the message says where and why."""


class NotFound(WenditasError):
    """An id that names nothing."""


class Conflict(WenditasError):
    """The state does not allow the request now."""


class Overtaken(Conflict):
    """An edit that does not fit what a document is by now. newest: the document's newest state, where it goes along."""

    newest: Any = None


class StaleRevision(Overtaken):
    """An edit was based on `base`, but the document stands at `current`, and what the edit changes was changed in between."""

    def __init__(self, base: int, current: int) -> None:
        super().__init__(f"This shot was changed elsewhere: the edit is based on revision {base}, the newest is {current}.")
        self.base = base
        self.current = current


class TargetGone(Overtaken):
    """What an edit names is not in the document, or not any more."""

    def __init__(self, target: str) -> None:
        super().__init__(f"What this edit changes is not there: {target[:120]!r}.")
        self.target = target


class InUse(Conflict):
    """Something else depends on what was to be removed."""


class FootageRefused(WenditasError):
    """A file that cannot be used as footage; the message says why."""


class FootageDamaged(FootageRefused):
    """A file of which a part can be used, where that was not asked for.

    damage: a sentence for each thing that is wrong; held: by what id the file can be taken all the same, where it is kept.
    """

    def __init__(self, damage: Sequence[str], held: str | None = None) -> None:
        super().__init__(" ".join(damage))
        self.damage, self.held = tuple(damage), held


class OnlySound(FootageRefused):
    """A file with sound and no pictures, where pictures are needed."""


class CannotStore(WenditasError):
    """The disk or the database does not do what it is asked for; the message says what the system says of it. Nothing was changed."""


class DataFolderError(WenditasError):
    """A data folder that cannot be opened: in use, written by a newer version, or damaged."""


class DiskFull(WenditasError):
    """There is no room for what was to be written."""


class TooLarge(WenditasError):
    """An upload over the size limit."""


class ExportFailed(WenditasError):
    """Rendering to a file did not finish."""


class Cancelled(ExportFailed):
    """The user stopped the work."""


def choices(names: Iterable[str]) -> str:
    """The names as a readable list, for error messages."""
    return ", ".join(sorted(names))
