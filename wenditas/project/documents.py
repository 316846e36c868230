"""Documents of shots and reels: read, edited by commands, stored with their history, in one transaction."""

import contextlib
import threading
from collections import ChainMap
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from cachetools import LRUCache

from wenditas.core.errors import BadLook, Conflict, NotFound, StaleRevision, WenditasError
from wenditas.core.film.document import ReelDocument, parse_reel
from wenditas.core.look.commands import Command, apply_commands, first_conflict, touched
from wenditas.core.look.document import Look, ShotDocument, all_tracks, parse_shot, shots_laid
from wenditas.core.look.patch import difference, patched
from wenditas.core.select.tracks import Track, Tracks
from wenditas.media.facts import Facts
from wenditas.store import history, reels, shots
from wenditas.store import tracks as track_store
from wenditas.store.database import Database
from wenditas.store.tracks import StoredTracks

REMEMBERED = 512  # documents: more than a reel has shots
WHOLE_EVERY = 32  # edits from one document that is kept whole to the next
AnyDocument = ShotDocument | ReelDocument
D = TypeVar("D", ShotDocument, ReelDocument, AnyDocument, covariant=True)


@dataclass(frozen=True)
class Loaded(Generic[D]):
    """A revision. stored: as it lies in the database; plain: complete and of the newest version, what commands act on."""

    revision: int
    stored: dict[str, Any]
    document: D
    plain: dict[str, Any]


@dataclass(frozen=True)
class Edit:
    """An edit on its way: its own id and the page it comes from, the revision it was made on, and what it does."""

    base: int
    commands: Sequence[Command]
    words: str
    id: str | None = None
    author: str = ""
    tracks: tuple[Track, ...] = field(default=(), compare=False)  # new ones that its commands name
    aside: bool = False  # whether the newest state stays what it was, with this beside it


class Documents:
    """The documents of one data folder. facts: those of a piece of footage."""

    def __init__(self, db: Database, facts: Callable[[str], Facts]) -> None:
        self.db, self._facts = db, facts
        self.tracks = StoredTracks(db)
        self._kept: LRUCache[int, Loaded[Any]] = LRUCache(REMEMBERED)
        self._kinds: dict[str, str] = {}  # which never change
        self._lock = threading.Lock()

    def length(self, shot_id: str) -> int:
        """The number of frames of a shot's footage."""
        return self._facts(shots.shot(self.db, shot_id).footage_id).length

    def is_reel(self, id: str) -> bool:
        """Whether a document is a reel. Raises `NotFound` where there is no such document."""
        if id not in self._kinds:
            self._kinds[id] = history.kind_of(self.db, id)
        return self._kinds[id] == "reel"

    def load(self, shot_id: str, revision: int | None = None) -> Loaded[ShotDocument]:
        """A revision of a shot, the newest by default. Raises `NotFound`."""
        found = self.loaded(shot_id, revision)
        if not isinstance(found.document, ShotDocument):
            raise NotFound(f"There is no shot {shot_id!r}.")
        return found

    def load_reel(self, reel_id: str, revision: int | None = None) -> Loaded[ReelDocument]:
        """A revision of a reel, the newest by default. Raises `NotFound`."""
        found = self.loaded(reel_id, revision)
        if not isinstance(found.document, ReelDocument):
            raise NotFound(f"There is no reel {reel_id!r}.")
        return found

    def loaded(self, shot_id: str, revision: int | None = None) -> Loaded[Any]:
        """A revision of a document, the newest by default. Raises `NotFound`."""
        id = history.head_id(self.db, shot_id) if revision is None else revision
        with self._lock:
            kept = self._kept.get(id)
        if kept is not None:
            history.revision(self.db, shot_id, id)  # it may be another shot's
            return kept
        whole, patches = history.kept(self.db, shot_id, id)
        stored = patched(whole, patches)
        document = self._parsed(shot_id, stored, self.tracks)
        return self._remember(Loaded(id, stored, document, document.model_dump(mode="json")))

    def _parsed(self, id: str, plain: Any, tracks: Tracks) -> AnyDocument:
        """A document of the kind that this one is. Raises `BadLook`."""
        return parse_reel(plain, tracks) if self.is_reel(id) else parse_shot(plain, self.length(id), tracks)

    def _remember(self, loaded: Loaded[Any]) -> Loaded[Any]:
        with self._lock:
            self._kept[loaded.revision] = loaded
        return loaded

    def look(self, shot_id: str, revision: int | None = None) -> Look:
        """The look of a revision of a shot."""
        return self.load(shot_id, revision).document.look

    def new_shot(self, footage_id: str, name: str, look: Look | None = None, ends: tuple[int, int] | None = None) -> shots.ShotRow:
        """A shot of all frames of a piece of footage, or of those between two ends."""
        first, last = ends or (0, self._facts(footage_id).length - 1)
        document = ShotDocument(first=first, last=last, look=look or Look())
        with self.db.atomic() as writer:
            track_store.keep(writer, all_tracks(document.looks).values())
        return shots.add_shot(self.db, footage_id, name, history.NewRevision(words="Shot made", document=document.model_dump(mode="json")))

    def reel_of(self, project_id: str) -> reels.ReelRow:
        """The reel of a project: an empty one where it has not begun. Raises `NotFound` where there is no such project."""
        return reels.reel_of(self.db, project_id) or self.begin_reel(project_id, {})

    def begin_reel(self, project_id: str, plain: Any) -> reels.ReelRow:
        """The reel of a project where there is none yet. Raises `BadLook`, `NotFound`."""
        document = parse_reel(plain, self.tracks)
        return reels.begin_reel(self.db, project_id, history.NewRevision(words="Reel begun", document=document.model_dump(mode="json")))

    def with_commands(self, id: str, loaded: Loaded[D], commands: Sequence[Command]) -> D:
        """A revision's document after commands that are not stored. Raises `TargetGone`, `BadEdit`, `BadLook`."""
        found: Any = self._parsed(id, apply_commands(loaded.plain, commands), self.tracks)
        return found  # type: ignore[no-any-return]

    def edit(self, shot_id: str, edit: Edit) -> int:
        """Carry an edit out on the newest state of a shot. Returns the revision that it made, or made when it came before.

        What changes nothing makes no revision. Raises `StaleRevision` where what it changes was changed
        since `base` by somebody else; `TargetGone`, `BadEdit`, `BadLook`. Then nothing is stored.
        """
        while True:
            if edit.id is not None and (made := history.made_by(self.db, shot_id, edit.id)) is not None:
                self._check_same(shot_id, edit, made)
                return made
            head = self.loaded(shot_id)
            self._check_targets(shot_id, edit, head.revision)
            try:
                return self._store(shot_id, edit, head)
            except StaleRevision:
                continue  # another edit came between: both may stand

    def _check_same(self, shot_id: str, edit: Edit, made: int) -> None:
        """Raise `Conflict` where an edit that came before, by its id, was another."""
        row, then = history.revision(self.db, shot_id, made), self.loaded(shot_id, made)
        try:
            known = {**all_tracks(then.document.looks), **{track.digest: track for track in edit.tracks}}
            again = self._parsed(shot_id, apply_commands(self.loaded(shot_id, row.parent).plain, edit.commands), ChainMap(known, self.tracks))  # type: ignore[arg-type]
            same = again.model_dump(mode="json") == then.plain
        except WenditasError:
            same = False
        if not same:
            raise Conflict("An edit with this id was stored already, and was another: this one was not. Send it under an id of its own.")

    def _check_targets(self, shot_id: str, edit: Edit, head: int) -> None:
        """Raise `StaleRevision` where something that the edit changes was changed since."""
        others = history.touched_between(self.db, shot_id, edit.base, head, edit.author)
        if first_conflict(touched(edit.commands), others) is not None:
            raise StaleRevision(edit.base, head)

    def _check_laid(self, shot_id: str, document: AnyDocument) -> None:
        """Raise `BadLook` where a shot would lay in itself, by whatever detour."""
        waiting, seen = [id for look in document.looks for id in shots_laid(look)], set[str]()
        while waiting:
            id = waiting.pop()
            if id == shot_id:
                name = shots.shot(self.db, shot_id).name
                raise BadLook(f"“{name}” cannot be laid into itself" + (": a shot that it lays in lays it in already." if seen else "."))
            if id not in seen:
                seen.add(id)
                with contextlib.suppress(NotFound):
                    waiting += shots_laid(self.look(id))

    def _store(self, shot_id: str, edit: Edit, head: Loaded[Any]) -> int:
        before, coming = all_tracks(head.document.looks), {track.digest: track for track in edit.tracks}
        document = self._parsed(shot_id, apply_commands(head.plain, edit.commands), ChainMap(coming, before, self.tracks))  # type: ignore[arg-type]
        self._check_laid(shot_id, document)
        after = document.model_dump(mode="json")
        if after == head.plain:
            return head.revision
        row = history.revision(self.db, shot_id, head.revision)
        whole = row.distance + 1 >= WHOLE_EVERY or (head.stored is not head.plain and head.stored != head.plain)
        new = history.NewRevision(
            words=edit.words,
            patch=difference(head.stored, after),
            touched=touched(edit.commands),
            document=after if whole else None,
            edit=edit.id,
            author=edit.author,
            aside=edit.aside,
        )
        known = set() if whole else set(before)
        with self.db.atomic() as writer:
            track_store.keep(writer, (track for digest, track in all_tracks(document.looks).items() if digest not in known))
            made = history.add(self.db, shot_id, head.revision, new)
        self._remember(Loaded(made, after, document, after))
        return made
