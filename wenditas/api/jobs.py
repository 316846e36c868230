"""Exports as jobs: where a project's documents and files meet the process that renders them."""

from collections.abc import Mapping
from pathlib import Path

from wenditas.core.errors import BadRequest
from wenditas.core.film import Footage, Node, all_within, sound
from wenditas.media.facts import Facts
from wenditas.media.mix import Piece
from wenditas.project.nodes import Nodes
from wenditas.project.reels import Reels
from wenditas.render.export import SUFFIXES, VideoOptions
from wenditas.render.worker import Heard, Job, MediaFile, UsedFile
from wenditas.store import files as file_store
from wenditas.store import footage
from wenditas.store.exports import ExportRow


def job_of(reels: Reels, row: ExportRow) -> Job:
    """An export as a job."""
    options = VideoOptions.model_validate(row.options)
    target = reels.nodes.library.export_path(row.id, SUFFIXES[options.kind]).resolve()
    return job_for(reels, row.document_id, row.revision, options, row.shots).model_copy(update={"target": target})


def job_for(reels: Reels, id: str, revision: int, options: VideoOptions, stood: Mapping[str, int] | None = None) -> Job:
    """Everything that an export of a shot or a reel at a revision depends on; its target is a name by itself. stood: see `Reels.made`."""
    return _of_reel(reels, id, revision, options, stood) if reels.nodes.documents.is_reel(id) else _of_shot(reels.nodes, id, revision, options)


def _of_reel(reels: Reels, id: str, revision: int, options: VideoOptions, stood: Mapping[str, int] | None) -> Job:
    if options.kind != "video":
        raise BadRequest("A reel is exported as video; a matte is exported of a shot.")
    node = reels.made(id, reels.nodes.documents.load_reel(id, revision).document, stood).node
    if node is None:
        raise BadRequest("The reel is empty: there is nothing to export yet.")
    return _job(reels.nodes, node, (0, node.length - 1), options, mix_of(reels, node) if options.sound else ())


def mix_of(reels: Reels, node: Node) -> tuple[Piece, ...]:
    """What is heard of a whole node, as stretches of files."""
    library, starts = reels.nodes.library, dict[str, float]()
    found = []
    for heard in sound(node, 0, node.length - 1):
        if library.facts(heard.content).sound is None:
            continue
        if heard.content not in starts:
            starts[heard.content] = reels.nodes.sound_start(heard.content, 0)
        path = library.media_path(footage.footage(library.db, heard.content)).resolve()
        found.append(Piece(path=path, zero=starts[heard.content], heard=heard))
    return tuple(found)


def _of_shot(nodes: Nodes, shot_id: str, revision: int, options: VideoOptions) -> Job:
    if options.kind != "video":
        nodes.documents.load(shot_id, revision).document.look.selection(options.selection or "")
    node, (first, last), facts = nodes.exported(shot_id, revision)
    library = nodes.library
    piece = footage.footage(library.db, node.of.content)  # type: ignore[union-attr]
    path = library.media_path(piece).resolve()
    heard = facts.sound is not None and options.sound and options.kind == "video"
    return _job(nodes, node, (first, last), options).model_copy(update={"sound": Heard(path=path, start=nodes.sound_start(piece.id, first)) if heard else None})


def _job(nodes: Nodes, node: Node, stretch: tuple[int, int], options: VideoOptions, mix: tuple[Piece, ...] = ()) -> Job:
    files = nodes.files
    return Job(
        node=node,
        first=stretch[0],
        last=stretch[1],
        options=options,
        target=Path(f"export{SUFFIXES[options.kind]}"),
        media={f.content: _media(nodes, f.content) for f in all_within(node) if isinstance(f, Footage)},
        files={digest: _used(nodes, file_store.file(files.db, digest)) for n in all_within(node) if not isinstance(n, Footage) for digest in n.files},
        mix=mix,
    )


def _media(nodes: Nodes, id: str) -> MediaFile:
    piece = footage.footage(nodes.library.db, id)
    return MediaFile(path=nodes.library.media_path(piece).resolve(), index=nodes.library.index_path(id).resolve(), facts=nodes.library.facts(id))


def _used(nodes: Nodes, row: file_store.FileRow) -> UsedFile:
    path = nodes.files.path(row).resolve()
    if row.kind == "lut":
        return UsedFile(path=path)
    return UsedFile(path=path, index=nodes.files.index_path(row.digest).resolve(), facts=Facts.model_validate(row.facts))
