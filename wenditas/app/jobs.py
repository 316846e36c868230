"""Exports as jobs: where a project's documents and files meet the process that renders them."""

from pathlib import Path
from typing import Any

from wenditas.core.errors import BadRequest
from wenditas.core.film import Footage, Node, Shot, Span
from wenditas.media.facts import Facts
from wenditas.media.mix import Piece
from wenditas.media.reading import MAPPED
from wenditas.project.benched import APART, Bench, Benched
from wenditas.project.files import Files
from wenditas.project.library import id_of
from wenditas.project.nodes import Nodes, Stood
from wenditas.project.reels import Reels
from wenditas.render.job import Heard, Job, MediaFile, UsedFile, stamp_of
from wenditas.render.options import ExportOptions
from wenditas.store import files as file_store
from wenditas.store import footage
from wenditas.store.exports import ExportRow


def job_of(bench: Bench, row: ExportRow) -> Job:
    """An export as a job."""
    options = ExportOptions.model_validate(row.options)
    library = bench.reels.nodes.library
    id = APART.join((row.document_id, row.part)) if row.part else row.document_id
    made = job_for(bench, id, row.revision, options, row.shots)
    if row.pin and made.pin != row.pin:
        raise BadRequest("What it is made of is not what it was when you asked for it: footage was replaced, or is read otherwise. Ask for it anew.")
    target, segments = library.export_path(row.id, options.suffix).resolve(), library.cache_path(f"segments/{row.id}").resolve()
    return Job.model_validate({**dict(made), "target": target, "segments": segments, "things": library.cache_path("things").resolve()})


def job_for(bench: Bench, id: str, revision: int, options: ExportOptions, stood: Stood = None) -> Job:
    """Everything that an export of a shot, a reel, or a part of one that is on the Bench, at a revision depends on.

    Its target is a name by itself. stood: see `Reels.made`.
    """
    options.check()
    if options.stretch is not None and (APART in id or not bench.reels.nodes.documents.is_reel(id)):
        raise BadRequest("A stretch is chosen of a reel; a shot is exported from its in to its out.")
    if APART not in id and bench.reels.nodes.documents.is_reel(id):
        return _of_reel(bench.reels, id, revision, options, stood)
    benched = bench.open(id, revision, stood)
    if options.shows != "result":
        benched.look.selection(options.selection or "")
    node = benched.shown(benched.look) if options.shows == "result" else benched.worn(benched.look)
    return _of_part(bench.reels, benched, node, options) if benched.kind != "shot" else _of_shot(bench.reels.nodes, id, revision, options, stood)


def _of_part(reels: Reels, benched: Benched, node: Node, options: ExportOptions) -> Job:
    return _job(reels.nodes, node, benched.ends, options, mix_of(reels, node, benched.ends) if options.heard else ())


def _of_reel(reels: Reels, id: str, revision: int, options: ExportOptions, stood: Stood) -> Job:
    made = reels.made(id, reels.nodes.documents.load_reel(id, revision).document, stood)
    if made.node is None:
        raise BadRequest("The reel is empty: there is nothing to export yet.")
    matte = None if options.shows == "result" else made.matte(options.selection or "")
    if matte is not None and options.selection not in made.selections():
        raise BadRequest(f"No shot of the reel has a selection with the name {options.selection!r}.")
    stretch = options.stretch or (0, made.node.length - 1)
    if stretch[1] >= made.node.length:
        raise BadRequest(f"The reel ends at frame {made.node.length - 1}: there is no frame {stretch[1]} to export.")
    return _job(reels.nodes, made.node, stretch, options, mix_of(reels, made.node, stretch) if options.heard else (), matte)


def mix_of(reels: Reels, node: Node, stretch: tuple[int, int]) -> tuple[Piece, ...]:
    """What is heard of frames of a node, as stretches of files."""
    library, starts = reels.nodes.library, dict[str, float]()
    found = []
    for heard in node.sound(*stretch):
        if library.facts(heard.content).sound is None:
            continue
        if heard.content not in starts:
            starts[heard.content] = reels.nodes.sound_start(heard.content, 0)
        path = library.media_path(footage.footage(library.db, id_of(heard.content))).resolve()
        found.append(Piece(path=path, zero=starts[heard.content], heard=heard, track=library.facts(heard.content).sound_track))
    return tuple(found)


def _of_shot(nodes: Nodes, shot_id: str, revision: int, options: ExportOptions, stood: Stood) -> Job:
    node, (first, last), facts = nodes.exported(shot_id, revision, stood)
    library = nodes.library
    piece = footage.footage(library.db, id_of(node.of.content))  # type: ignore[union-attr]
    path = library.media_path(piece).resolve()
    heard = facts.sound is not None and options.heard
    sound = Heard(path=path, start=nodes.sound_start(piece.id, first), track=facts.sound_track) if heard else None
    return Job.model_validate({**dict(_job(nodes, node, (first, last), options)), "sound": sound})


def _job(nodes: Nodes, node: Node, stretch: tuple[int, int], options: ExportOptions, mix: tuple[Piece, ...] = (), matte: Node | None = None) -> Job:
    files, within = nodes.files, [*node.within(), *(() if matte is None else matte.within())]
    return Job(
        node=node,
        matte=matte,
        first=stretch[0],
        last=stretch[1],
        options=options,
        target=Path(f"export{options.suffix}"),
        segments=Path("segments"),
        media={f.content: _media(nodes, f.content) for f in within if isinstance(f, Footage)},
        files={digest: used_file(files, file_store.file(files.db, digest)) for n in within if isinstance(n, Shot | Span) for digest in n.files},
        mix=mix,
    )


def _media(nodes: Nodes, content: str) -> MediaFile:
    library, id = nodes.library, id_of(content)
    piece, facts = footage.footage(library.db, id), library.facts(id)
    applied = library.reading(piece).applied(facts.signal)
    lut = library.lut_path(applied) if applied and applied not in MAPPED else None
    library.check_here(piece)
    library.index(id)  # made anew where it is damaged, for those that only read it
    path = library.media_path(piece).resolve()
    about: dict[str, Any] = {"path": path, "index": library.index_path(id).resolve(), "digest": piece.digest, "stamp": stamp_of(path)}
    return MediaFile(**about, facts=facts, mapped=applied if applied in MAPPED else "", lut=None if lut is None else lut.resolve())


def used_file(files: Files, row: file_store.FileRow) -> UsedFile:
    """A LUT or picture of a data folder, for a job."""
    path = files.path(row).resolve()
    if row.kind == "lut":
        return UsedFile(path=path)
    return UsedFile(path=path, index=files.index_path(row.digest).resolve(), facts=Facts.model_validate(row.facts))
