"""Shots of a project as nodes, and exports as jobs."""

from collections.abc import Mapping
from threading import Lock

from cachetools import LRUCache

from wenditas.core.film import Inlaid, Shot
from wenditas.core.look.document import Look, shots_laid
from wenditas.media.facts import Facts
from wenditas.project.documents import REMEMBERED, Documents
from wenditas.project.files import Files
from wenditas.project.library import Library, id_of
from wenditas.store import footage, shots

Stood = Mapping[str, int] | None  # revisions of shots, by their ids


class Nodes:
    """What is needed to make nodes of shots and of exports."""

    def __init__(self, library: Library, files: Files, documents: Documents) -> None:
        self.library, self.files, self.documents = library, files, documents
        self._standing: LRUCache[tuple[str, int], Shot] = LRUCache(REMEMBERED)
        self._lock = Lock()
        self.state = 0  # counts how often footage came to be read otherwise, or other footage took its place

    def forget(self) -> None:
        """What shots are made of has changed: nodes of before are not given again."""
        with self._lock:
            self._standing.clear()
            self.state += 1

    def shot(self, footage_id: str, look: Look, stood: Stood = None) -> Shot:
        """All frames of a piece of footage under a look, with the files that it uses and that are here: what the Bench shows.

        stood: at which revisions the shots stand that are laid in, by id; the newest of those that are not named.
        """
        return self._made(footage_id, look, None, (), stood)

    def _made(self, footage_id: str, look: Look, stretch: tuple[int, int] | None, above: tuple[str, ...], stood: Stood) -> Shot:
        """A shot with those that are laid in it. above: the ids of those that it is laid in itself, none of which it can have."""
        node = self.library.node(footage_id)
        first, last = stretch or (0, node.length - 1)
        return Shot(of=node, first=first, last=last, look=look, files=self.digests(look), laid=self.inlaid(look, above, stood))

    def digests(self, look: Look) -> tuple[str, ...]:
        """The files that a look uses and that are here."""
        return tuple(f.digest for f in self.files.used_by(look))

    def inlaid(self, look: Look, above: tuple[str, ...] = (), stood: Stood = None) -> tuple[Inlaid, ...]:
        """The shots that a look lays in, as they are now, or as they stood."""
        return tuple(Inlaid(id=id, of=of) for id in shots_laid(look) if id not in above and (of := self._laid(id, above, stood)) is not None)

    def stood(self, look: Look) -> dict[str, int]:
        """At which revisions the shots stand that a look lays in, by whatever detour."""
        found: dict[str, int] = {}
        waiting = list(shots_laid(look))
        while waiting:
            id = waiting.pop()
            if id not in found and shots.in_use(self.library.db, id):
                loaded = self.documents.load(id)
                found[id] = loaded.revision
                waiting += shots_laid(loaded.document.look)
        return found

    def _laid(self, id: str, above: tuple[str, ...], stood: Stood) -> Shot | None:
        """A shot as it is now, or as it stood; None where it is gone, or cannot be had."""
        revision = (stood or {}).get(id)
        if revision is None and not shots.in_use(self.library.db, id):
            return None
        document = self.documents.load(id, revision).document
        return self._made(shots.shot(self.library.db, id).footage_id, document.look, (document.first, document.last), (*above, id), stood)

    def standing(self, footage_id: str, look: Look, row: tuple[str, int], stood: Stood = None) -> Shot:
        """A shot as it stands at a revision, as the same object while nothing about it changes. row: its id and the revision."""
        with self._lock:
            kept = self._standing.get(row)
        if kept is not None and not kept.laid:
            return kept
        made = self.shot(footage_id, look, stood)
        with self._lock:
            self._standing[row] = made
        return made

    def exported(self, shot_id: str, revision: int, stood: Stood = None) -> tuple[Shot, tuple[int, int], Facts]:
        """A shot at a revision, and the frames that an export of it holds."""
        db = self.library.db
        piece = footage.footage(db, shots.shot(db, shot_id).footage_id)
        facts = self.library.facts(piece.id)
        document = self.documents.load(shot_id, revision).document
        return self.shot(piece.id, document.look, stood), (document.first, document.last), facts

    def sound_start(self, footage_id: str, first: int) -> float:
        """When, in seconds of the file, a frame of footage is shown."""
        index = self.library.index(id_of(footage_id))
        return float(int(index.times[0]) * index.time_base) + first / float(self.library.facts(footage_id).frame_rate)
