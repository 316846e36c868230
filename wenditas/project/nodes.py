"""Shots of a project as nodes, and exports as jobs."""

from wenditas.core.film import Shot
from wenditas.core.look.document import Look
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.project.documents import Documents
from wenditas.project.files import Files
from wenditas.project.library import Library
from wenditas.store import exports, footage, shots


def shot_node(library: Library, files: Files, footage_id: str, look: Look) -> Shot:
    """All frames of a piece of footage under a look, with the files that it uses and that are here: what the Bench shows."""
    node = library.node(footage_id)
    return Shot(of=node, first=0, last=node.length - 1, look=look, files=tuple(f.digest for f in files.used_by(look)))


class Nodes:
    """What is needed to make nodes of shots and of exports."""

    def __init__(self, library: Library, files: Files, documents: Documents) -> None:
        self.library, self.files, self.documents = library, files, documents

    def shot(self, footage_id: str, look: Look) -> Shot:
        """See `shot_node`."""
        return shot_node(self.library, self.files, footage_id, look)

    def exported(self, row: exports.ExportRow) -> tuple[Shot, tuple[int, int], Facts]:
        """The shot of an export at its revision, and the frames that it is to hold."""
        db = self.library.db
        piece = footage.footage(db, shots.shot(db, row.shot_id).footage_id)
        facts = self.library.facts(piece.id)
        document = self.documents.load(row.shot_id, row.revision).document
        return self.shot(piece.id, document.look), (document.first, document.last), facts

    def sound_start(self, footage_id: str, first: int) -> float:
        """When, in seconds of the file, a frame of footage is shown."""
        index = Index.read(self.library.index_path(footage_id))
        return float(int(index.times[0]) * index.time_base) + first / float(self.library.facts(footage_id).frame_rate)
