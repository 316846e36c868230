"""The columns of the sheet: looks by name, from the shelf, from other shots, from takes."""

from dataclasses import dataclass

from wenditas.core.errors import NotFound
from wenditas.core.look.document import Look, parse_look
from wenditas.core.shelf import STARTERS
from wenditas.project.documents import Documents
from wenditas.store import shelf, shots, takes

OWN = "own"


@dataclass(frozen=True)
class Column:
    """A look. asks: what is to be picked for it; sky: whether a bright sky spoils it.

    shot, revision: whose it is, and as it stood when, where it is a shot's own; what lies on the shelf never changes.
    """

    id: str
    name: str
    look: Look
    asks: str | None = None
    sky: bool = False
    shot: str | None = None
    revision: int | None = None


class Columns:
    """Finds looks by the names of columns: "own", "shelf:ID", "shot:ID", "take:ID"."""

    def __init__(self, documents: Documents) -> None:
        self._documents = documents

    def column(self, id: str, shot_id: str) -> Column:
        """The look of a column; "own" is that of the shot of the row. Raises `NotFound`."""
        kind, _, name = id.partition(":")
        if id == OWN:
            return self._of_shot(id, "Its own look", shot_id, None)
        if kind == "shelf":
            return self.from_shelf(name)
        if kind == "shot":
            return self._of_shot(id, shots.shot(self._documents.db, name).name, name, None)
        if kind == "take":
            row = takes.take(self._documents.db, name)
            return self._of_shot(id, row.name, row.document_id, row.revision)
        raise NotFound(f"There is no column {id!r}.")

    def _of_shot(self, id: str, name: str, shot_id: str, revision: int | None) -> Column:
        loaded = self._documents.load(shot_id, revision)
        return Column(id, name, loaded.document.look, shot=shot_id, revision=loaded.revision)

    def from_shelf(self, item: str) -> Column:
        """A starter, or what is saved on the shelf. Raises `NotFound`."""
        if item in STARTERS:
            found = STARTERS[item]
            return Column(f"shelf:{item}", found.name, found.look, found.asks, found.wants_no_sky)
        row = shelf.item(self._documents.db, item)
        return Column(f"shelf:{item}", row.name, parse_look(row.look, self._documents.tracks))
