"""Exports as jobs: where a project's documents and files meet the process that renders them."""

from pathlib import Path

from wenditas.core.film import Footage, all_within
from wenditas.media.facts import Facts
from wenditas.project.nodes import Nodes
from wenditas.render.export import SUFFIXES, VideoOptions
from wenditas.render.worker import Heard, Job, MediaFile, UsedFile
from wenditas.store import files as file_store
from wenditas.store import footage
from wenditas.store.exports import ExportRow


def job_of(nodes: Nodes, row: ExportRow) -> Job:
    """An export as a job."""
    options = VideoOptions.model_validate(row.options)
    target = nodes.library.export_path(row.id, SUFFIXES[options.kind]).resolve()
    return job_for(nodes, row.shot_id, row.revision, options).model_copy(update={"target": target})


def job_for(nodes: Nodes, shot_id: str, revision: int, options: VideoOptions) -> Job:
    """Everything that an export of a shot at a revision depends on; its target is a name by itself."""
    if options.kind != "video":
        nodes.documents.load(shot_id, revision).document.look.selection(options.selection or "")
    node, (first, last), facts = nodes.exported(shot_id, revision)
    library, files = nodes.library, nodes.files
    piece = footage.footage(library.db, node.of.content)  # type: ignore[union-attr]
    path = library.media_path(piece).resolve()
    heard = facts.sound is not None and options.sound and options.kind == "video"
    return Job(
        node=node,
        first=first,
        last=last,
        options=options,
        target=Path(f"export{SUFFIXES[options.kind]}"),
        media={f.content: _media(nodes, f.content) for f in all_within(node) if isinstance(f, Footage)},
        files={digest: _used(nodes, file_store.file(files.db, digest)) for n in all_within(node) if not isinstance(n, Footage) for digest in n.files},
        sound=Heard(path=path, start=nodes.sound_start(piece.id, first)) if heard else None,
    )


def _media(nodes: Nodes, id: str) -> MediaFile:
    piece = footage.footage(nodes.library.db, id)
    return MediaFile(path=nodes.library.media_path(piece).resolve(), index=nodes.library.index_path(id).resolve(), facts=nodes.library.facts(id))


def _used(nodes: Nodes, row: file_store.FileRow) -> UsedFile:
    path = nodes.files.path(row).resolve()
    if row.kind == "lut":
        return UsedFile(path=path)
    return UsedFile(path=path, index=nodes.files.index_path(row.digest).resolve(), facts=Facts.model_validate(row.facts))
