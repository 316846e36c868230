"""Documents of shots: read, edited by commands, stored with their history, in one transaction."""

import contextlib
import threading
from collections import ChainMap
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from cachetools import LRUCache

from wenditas.core.errors import BadLook, NotFound, StaleRevision
from wenditas.core.look.commands import Command, carried_out, meet, touched
from wenditas.core.look.document import Look, ShotDocument, parse_shot, shots_laid, tracks_of
from wenditas.core.look.patch import difference, patched
from wenditas.core.look.upgrade import SCHEMA
from wenditas.core.select.tracks import Track
from wenditas.media.facts import Facts
from wenditas.store import history, shots
from wenditas.store import tracks as track_store
from wenditas.store.database import Database
from wenditas.store.tracks import StoredTracks

REMEMBERED = 64  # documents
WHOLE_EVERY = 32  # edits from one document that is kept whole to the next


@dataclass(frozen=True)
class Loaded:
    """A revision. stored: as it lies in the database; plain: complete and of the newest version, what commands act on."""

    revision: int
    stored: dict[str, Any]
    document: ShotDocument
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


class Documents:
    """The documents of one data folder. facts: those of a piece of footage."""

    def __init__(self, db: Database, facts: Callable[[str], Facts]) -> None:
        self.db, self._facts = db, facts
        self.tracks = StoredTracks(db)
        self._kept: LRUCache[int, Loaded] = LRUCache(REMEMBERED)
        self._lock = threading.Lock()

    def length(self, shot_id: str) -> int:
        """The number of frames of a shot's footage."""
        return self._facts(shots.shot(self.db, shot_id).footage_id).length

    def load(self, shot_id: str, revision: int | None = None) -> Loaded:
        """A revision of a shot, the newest by default. Raises `NotFound`."""
        id = history.head_id(self.db, shot_id) if revision is None else revision
        with self._lock:
            kept = self._kept.get(id)
        if kept is not None:
            history.revision(self.db, shot_id, id)  # it may be another shot's
            return kept
        whole, patches = history.kept(self.db, shot_id, id)
        stored = patched(whole, patches)
        document = parse_shot(stored, self.length(shot_id), self.tracks)
        return self._remember(Loaded(id, stored, document, document.model_dump(mode="json")))

    def _remember(self, loaded: Loaded) -> Loaded:
        with self._lock:
            self._kept[loaded.revision] = loaded
        return loaded

    def look(self, shot_id: str, revision: int | None = None) -> Look:
        """The look of a revision of a shot."""
        return self.load(shot_id, revision).document.look

    def new_shot(self, footage_id: str, name: str, look: Look | None = None) -> shots.ShotRow:
        """A shot of all frames of a piece of footage."""
        document = ShotDocument(first=0, last=self._facts(footage_id).length - 1, look=look or Look())
        with self.db.atomic() as writer:
            track_store.keep(writer, tracks_of(document.look).values())
        return shots.add_shot(self.db, footage_id, name, history.NewRevision(words="Shot made", document=document.model_dump(mode="json")))

    def with_commands(self, shot_id: str, loaded: Loaded, commands: Sequence[Command]) -> ShotDocument:
        """A revision's document after commands that are not stored. Raises `TargetGone`, `BadEdit`, `BadLook`."""
        return parse_shot(carried_out(loaded.plain, commands), self.length(shot_id), self.tracks)

    def edit(self, shot_id: str, edit: Edit) -> int:
        """Carry an edit out on the newest state of a shot. Returns the revision that it made, or made when it came before.

        What changes nothing makes no revision. Raises `StaleRevision` where what it changes was changed
        since `base` by somebody else; `TargetGone`, `BadEdit`, `BadLook`. Then nothing is stored.
        """
        while True:
            if edit.id is not None and (made := history.made_by(self.db, shot_id, edit.id)) is not None:
                return made
            head = self.load(shot_id)
            self._check_targets(shot_id, edit, head.revision)
            try:
                return self._store(shot_id, edit, head)
            except StaleRevision:
                continue  # another edit came between: both may stand

    def _check_targets(self, shot_id: str, edit: Edit, head: int) -> None:
        """Raise `StaleRevision` where something that the edit changes was changed since."""
        others = history.touched_between(self.db, shot_id, edit.base, head, edit.author)
        if meet(touched(edit.commands), others) is not None:
            raise StaleRevision(edit.base, head)

    def _check_laid(self, shot_id: str, look: Look) -> None:
        """Raise `BadLook` where a shot would lay in itself, by whatever detour."""
        waiting, seen = shots_laid(look), set[str]()
        while waiting:
            id = waiting.pop()
            if id == shot_id:
                name = shots.shot(self.db, shot_id).name
                raise BadLook(f"“{name}” cannot be laid into itself" + (": a shot that it lays in lays it in already." if seen else "."))
            if id not in seen:
                seen.add(id)
                with contextlib.suppress(NotFound):
                    waiting += shots_laid(self.look(id))

    def _store(self, shot_id: str, edit: Edit, head: Loaded) -> int:
        before, coming = tracks_of(head.document.look), {track.digest: track for track in edit.tracks}
        document = parse_shot(carried_out(head.plain, edit.commands), self.length(shot_id), ChainMap(coming, before, self.tracks))  # type: ignore[arg-type]
        self._check_laid(shot_id, document.look)
        after = document.model_dump(mode="json")
        if after == head.plain:
            return head.revision
        row = history.revision(self.db, shot_id, head.revision)
        whole = row.distance + 1 >= WHOLE_EVERY or head.stored["look"].get("schema_version") != SCHEMA
        new = history.NewRevision(
            words=edit.words,
            patch=difference(head.stored, after),
            touched=touched(edit.commands),
            document=after if whole else None,
            edit=edit.id,
            author=edit.author,
        )
        known = set() if whole else set(before)
        with self.db.atomic() as writer:
            track_store.keep(writer, (track for digest, track in tracks_of(document.look).items() if digest not in known))
            made = history.add(self.db, shot_id, head.revision, new)
        self._remember(Loaded(made, after, document, after))
        return made
