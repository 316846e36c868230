"""Looks carried over to shots: their keys fitted to what is there, put on several at once, and taken back again."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import count
from threading import Lock
from typing import Any

from cachetools import LRUCache

from wenditas.core.errors import BadLook, WenditasError
from wenditas.core.film import Footage
from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look, tracks_of
from wenditas.core.measure.checks.bright_sky import bright_sky
from wenditas.core.measure.standing import standing
from wenditas.core.select.denoise import denoised
from wenditas.core.select.selection import Selection
from wenditas.core.shelf import PICK, dress
from wenditas.core.shelf.carry import HOWS, Carried, How, carried, picked_colours, without_shapes
from wenditas.project import edits
from wenditas.project.columns import Column, Columns
from wenditas.project.documents import Documents, Edit
from wenditas.project.library import Library
from wenditas.store import history, shots, takes
from wenditas.store.database import new_id

KEPT = 4096  # cells
LOOKED_AT = 9  # frames of a shot, of which one stands for it
MOST_SKY = 0.06  # share of the frame from which a bright sky is warned of
SMALL, KEYED = 96, 640  # widths at which frames are looked at, and keys fitted
PictureAt = Callable[[Footage, int, int], Picture]  # of footage, at a frame and a width


@dataclass(frozen=True)
class Frames:
    """Frames of a shot: the one that stands for it, and the first, the middle and the last of those in use."""

    stands: int
    first: int
    middle: int
    last: int


@dataclass(frozen=True)
class Cell:
    """A look on a shot. how, words: what was done to its keys; asking: the selection that needs a pick; warning: what may spoil it."""

    look: Look
    name: str
    how: How = "as it was"
    words: str = ""
    asking: str | None = None
    warning: str | None = None
    found: tuple[Carried, ...] = ()
    shapes_left_out: bool = False


@dataclass
class PutOn:
    """What became of putting a look on shots, by their ids: the revision that each has now, its selection that needs a pick, what was refused."""

    made: dict[str, int] = field(default_factory=dict)
    cells: dict[str, Cell] = field(default_factory=dict)
    asking: dict[str, str] = field(default_factory=dict)
    refused: dict[str, str] = field(default_factory=dict)


class Carrying:
    """Carries looks over. picture_at: pictures of footage, as they are decoded."""

    def __init__(self, library: Library, documents: Documents, columns: Columns, picture_at: PictureAt) -> None:
        self._library, self._documents, self._columns, self._picture_at = library, documents, columns, picture_at
        self._cells: LRUCache[Any, Cell] = LRUCache(KEPT)
        self._frames: LRUCache[Any, Frames] = LRUCache(KEPT)
        self._lock = Lock()

    def frames(self, shot_id: str) -> Frames:
        """The frames that a shot is seen at."""
        document = self._documents.load(shot_id).document
        footage = self._footage(shot_id)
        first, last = document.first, document.last
        key = (footage.content, first, last)
        with self._lock:
            kept = self._frames.get(key)
        if kept is None:
            numbers = sorted({first + round((n + 0.5) * (last - first) / LOOKED_AT) for n in range(LOOKED_AT)})
            shown = standing([self._picture_at(footage, n, SMALL) for n in numbers]) if len(numbers) > 1 else 0
            kept = Frames(numbers[shown], first, (first + last) // 2, last)
            with self._lock:
                self._frames[key] = kept
        return kept

    def _footage(self, shot_id: str) -> Footage:
        return self._library.node(shots.shot(self._documents.db, shot_id).footage_id)

    def cell(self, shot_id: str, column_id: str, shapes: bool = False, sure: bool = False) -> Cell:
        """The look of a column on a shot: as it is where it is the shot's own, else carried over.

        shapes: with its shapes; sure: also where a colour was found that would be asked about.
        """
        column = self._columns.column(column_id, shot_id)
        own = self._documents.load(shot_id)
        key = (shot_id, own.revision, column_id, column.revision, shapes, sure)
        with self._lock:
            kept = self._cells.get(key)
        if kept is None:
            kept = Cell(column.look, column.name) if column.shot == shot_id else self._carried(shot_id, column, own.document.look, shapes, sure)
            with self._lock:
                self._cells[key] = kept
        return kept

    def _carried(self, shot_id: str, column: Column, own: Look, shapes: bool, sure: bool) -> Cell:
        ids = (f"carried {n}" for n in count())  # the same for the same look, so that its picture is found again
        look, left_out = (column.look, False) if shapes else without_shapes(column.look)
        if column.asks and any(s.id == PICK for s in look.selections):
            return self._asking(shot_id, column, look, own, lambda: next(ids))
        footage = self._footage(shot_id)
        numbers = self.frames(shot_id) if any(picked_colours(s) for s in look.selections) else None
        seen = [] if numbers is None else sorted({numbers.stands, numbers.first, numbers.middle, numbers.last})
        pictures = [(n, self._picture_at(footage, n, KEYED)) for n in seen]
        selections: list[Selection] = []
        told: list[Carried] = []
        for selection in look.selections:
            noise = selection.noise(footage.footage_noise)
            there, found = carried(selection, [(n, denoised(p, noise)) for n, p in pictures], lambda: next(ids), sure)
            selections.append(there)
            told.append(found)
        fitted = edits.follow_picks(look.model_copy(update={"selections": tuple(selections)}))
        dressed, _ = dress(Look(), fitted, None, lambda: next(ids))
        asking = next((s.id for s, t in zip(dressed.selections, told, strict=True) if t.how in ("asks", "needs a pick")), None)
        worst = max(told, key=lambda t: HOWS.index(t.how), default=None)
        words = "" if worst is None else worst.words
        return Cell(dressed, column.name, worst.how if worst else "as it was", words, asking, self._warning(column, shot_id), tuple(told), left_out)

    def _asking(self, shot_id: str, column: Column, look: Look, own: Look, ids: Callable[[], str]) -> Cell:
        """A look that asks for a pick, on the shot's own selection where there is one."""
        taken = next((s for s in own.selections if s.keys or s.shapes or s.objects), None)
        if taken is None:
            dressed, asking = dress(Look(), look, None, ids)
            words = column.asks[:1].lower() + column.asks[1:] if column.asks else ""
            return Cell(dressed, column.name, "needs a pick", words, asking, self._warning(column, shot_id))
        dressed, _ = dress(Look(selections=(taken,)), look, taken.id, ids)
        return Cell(edits.follow_picks(dressed), column.name, "as it was", f"on its own “{taken.name}”", None, self._warning(column, shot_id))

    def _warning(self, column: Column, shot_id: str) -> str | None:
        """What a check finds on the frame that may spoil a look."""
        if not column.sky:
            return None
        share = bright_sky(self._picture_at(self._footage(shot_id), self.frames(shot_id).stands, KEYED))
        return None if share < MOST_SKY else f"bright sky, {100 * share:.0f} % of the frame"

    def put_on(self, ids: Sequence[str], column_id: str, shapes: bool = False, sure: bool = False) -> PutOn:
        """Put the look of a column on shots. What was there becomes a take of each; each is one edit, which is taken back alone or with all."""
        done = PutOn()
        for id in dict.fromkeys(ids):
            try:
                cell = self.cell(id, column_id, shapes, sure)
                look, asking = self._fresh(cell)
                done.made[id] = self._stored(id, cell, look)
                done.cells[id] = cell
                if asking is not None:
                    done.asking[id] = asking
            except WenditasError as error:
                done.refused[id] = str(error)
        return done

    def _fresh(self, cell: Cell) -> tuple[Look, str | None]:
        """The look of a cell with ids of its own, and that of the selection that needs a pick."""
        look, _ = dress(Look(), cell.look, None, new_id)
        return look, next((new.id for old, new in zip(cell.look.selections, look.selections, strict=True) if old.id == cell.asking), None)

    def _stored(self, shot_id: str, cell: Cell, look: Look) -> int:
        db = self._documents.db
        head = history.head_id(db, shot_id)
        words = f"{cell.name} carried over" + (f" ({cell.words})" if cell.words else "")
        made = self._documents.edit(shot_id, Edit(head, edits.whole_look(look), words[:200], new_id(), "", tuple(tracks_of(look).values())))
        if self._documents.look(shot_id, head) != Look() and not any(t.revision == head for t in takes.takes(db, shot_id)):
            takes.add_take(db, shot_id, head, f"Before {cell.name}"[:120])
        return made

    def take_back(self, made: dict[str, int]) -> PutOn:
        """Take a putting on back, of all shots that were not changed since."""
        done = PutOn()
        for id, revision in made.items():
            try:
                if history.head_id(self._documents.db, id) != revision:
                    raise BadLook("It was changed since, so this cannot be taken back by itself. Its History has the state before.")
                history.step(self._documents.db, id, revision, forward=False)
                done.made[id] = history.head_id(self._documents.db, id)
            except WenditasError as error:
                done.refused[id] = str(error)
        return done

    def kept_as_take(self, shot_id: str, look: Look, name: str) -> takes.TakeRow:
        """A look kept as a take of a shot, whose own stays in work."""
        return takes.add_take(self._documents.db, shot_id, self.aside(shot_id, look, name), name[:120])

    def aside(self, shot_id: str, look: Look, name: str) -> int:
        """A look as a revision of a shot, whose newest state stays what it was."""
        head, known = history.head_id(self._documents.db, shot_id), tuple(tracks_of(look).values())
        return self._documents.edit(shot_id, Edit(head, edits.whole_look(look), f"{name} kept beside"[:200], new_id(), "", known, aside=True))
