"""Shots of a project as nodes, and exports as jobs."""

from threading import Lock

from cachetools import LRUCache

from wenditas.core.film import Inlaid, Shot
from wenditas.core.look.document import Look, shots_laid
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.project.documents import REMEMBERED, Documents
from wenditas.project.files import Files
from wenditas.project.library import Library, id_of
from wenditas.store import footage, shots


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

    def shot(self, footage_id: str, look: Look) -> Shot:
        """All frames of a piece of footage under a look, with the files that it uses and that are here: what the Bench shows."""
        return self._made(footage_id, look, None, ())

    def _made(self, footage_id: str, look: Look, stretch: tuple[int, int] | None, above: tuple[str, ...]) -> Shot:
        """A shot with those that are laid in it. above: the ids of those that it is laid in itself, none of which it can have."""
        node = self.library.node(footage_id)
        first, last = stretch or (0, node.length - 1)
        return Shot(of=node, first=first, last=last, look=look, files=self.digests(look), laid=self.inlaid(look, above))

    def digests(self, look: Look) -> tuple[str, ...]:
        """The files that a look uses and that are here."""
        return tuple(f.digest for f in self.files.used_by(look))

    def inlaid(self, look: Look, above: tuple[str, ...] = ()) -> tuple[Inlaid, ...]:
        """The shots that a look lays in, as they are now."""
        return tuple(Inlaid(id=id, of=of) for id in shots_laid(look) if id not in above and (of := self._laid(id, above)) is not None)

    def _laid(self, id: str, above: tuple[str, ...]) -> Shot | None:
        """A shot as it is now; None where it is gone, or cannot be had."""
        if not shots.in_use(self.library.db, id):
            return None
        document = self.documents.load(id).document
        return self._made(shots.shot(self.library.db, id).footage_id, document.look, (document.first, document.last), (*above, id))

    def standing(self, footage_id: str, look: Look, row: tuple[str, int]) -> Shot:
        """A shot as it stands at a revision, as the same object while nothing about it changes. row: its id and the revision."""
        with self._lock:
            kept = self._standing.get(row)
        if kept is not None and not kept.laid:
            return kept
        made = self.shot(footage_id, look)
        with self._lock:
            self._standing[row] = made
        return made

    def exported(self, shot_id: str, revision: int) -> tuple[Shot, tuple[int, int], Facts]:
        """A shot at a revision, and the frames that an export of it holds."""
        db = self.library.db
        piece = footage.footage(db, shots.shot(db, shot_id).footage_id)
        facts = self.library.facts(piece.id)
        document = self.documents.load(shot_id, revision).document
        return self.shot(piece.id, document.look), (document.first, document.last), facts

    def sound_start(self, footage_id: str, first: int) -> float:
        """When, in seconds of the file, a frame of footage is shown."""
        index = Index.read(self.library.index_path(id_of(footage_id)))
        return float(int(index.times[0]) * index.time_base) + first / float(self.library.facts(footage_id).frame_rate)
