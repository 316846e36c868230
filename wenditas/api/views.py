"""Stored rows as the models that go over the wire."""

from collections import Counter
from collections.abc import Mapping
from pathlib import Path

from wenditas.api.models.exports import ExportView
from wenditas.api.models.footage import CopyView, Footage
from wenditas.api.models.reels import OverlapView, ReelView, StandingShot
from wenditas.api.models.shots import PartView, ProjectView, ShotView
from wenditas.app.services import Services
from wenditas.core.errors import NotFound
from wenditas.media.facts import Facts
from wenditas.project.benched import APART, Benched
from wenditas.render.options import ExportOptions
from wenditas.store import exports, footage, history, projects, reels, shots
from wenditas.store import files as file_store


def footage_view(services: Services, row: footage.FootageRow, in_reel: int = 0) -> Footage:
    """A piece of footage."""
    facts, library = Facts.model_validate(row.facts), services.projects.library
    reading, content = library.reading(row), library.content(row)
    lut = file_store.find_file(services.db, reading.lut) if reading.way == "lut" and reading.lut else None
    made = services.screen.proxies.state(content, facts)
    return Footage(
        id=row.id,
        name=row.name,
        bytes=row.bytes,
        facts=facts,
        seconds=facts.seconds,
        content=content,
        reading=reading,
        lut_name=lut.name if lut else None,
        state=library.state(row),
        lies=row.lies,
        in_reel=in_reel,
        preview=CopyView(state=made.state, done=made.done),
    )


def project_view(services: Services, id: str) -> ProjectView:
    """A project with all it holds."""
    project = projects.project(services.db, id)
    rows = footage.footage_of(services.db, id)
    made = shots.shots_of(services.db, id)
    used = _in_reel(services, id, {s.id: s.footage_id for s in made})
    return ProjectView(project=project, footage=[footage_view(services, r, used[r.id]) for r in rows], shots=made)


def _in_reel(services: Services, project_id: str, footage_of: Mapping[str, str]) -> Counter[str]:
    """How many items of the reel are made of each piece of footage; one more for that whose sound is its track."""
    row = reels.reel_of(services.db, project_id)
    if row is None:
        return Counter()
    reel = services.projects.documents.load_reel(row.id).document
    track = [reel.track.footage] if reel.track else []
    return Counter([*(footage_of[item.shot] for item in reel.items if item.shot in footage_of), *track])


def shot_view(services: Services, id: str) -> ShotView:
    """What is on the Bench under an id, at its head."""
    benched = services.projects.bench.open(id)
    head = history.revision(services.db, benched.document_id, benched.loaded.revision)
    redo = history.redo_target(services.db, benched.document_id)
    return ShotView(
        shot=shots.ShotRow(id=id, footage_id=benched.footage or "", name=benched.name, head=head.id),
        part=None if benched.kind == "shot" else PartView(kind=benched.kind, reel_id=benched.document_id, id=benched.within[1], begins=benched.begins),
        project_id=benched.project_id,
        footage=_under(services, benched),
        revision=head.id,
        document=benched.document,
        undo=head.words if head.parent is not None else None,
        redo=redo.words if redo else None,
    )


def _under(services: Services, benched: Benched) -> Footage:
    if benched.footage is not None:
        return footage_view(services, footage.footage(services.db, benched.footage))
    facts = services.projects.bench.facts(benched)
    return Footage(id="", name=benched.name, bytes=0, facts=facts, seconds=facts.seconds)


def reel_view(services: Services, id: str) -> ReelView:
    """A reel at its head."""
    row = reels.reel(services.db, id)
    head = history.revision(services.db, id, row.head)
    document = services.projects.documents.load_reel(id, head.id).document
    made, redo = services.projects.reels.made(id, document), history.redo_target(services.db, id)
    transitions = {transition.after: transition for transition in document.transitions}
    return ReelView(
        reel_id=id,
        project_id=row.project_id,
        revision=head.id,
        document=document,
        width=made.width,
        height=made.height,
        fps=made.fps,
        length=made.length,
        cuts=made.reel.cuts() if made.reel else [0],
        overlaps=[
            OverlapView(
                id=transitions[o.after].id, asked=transitions[o.after].frames, **{k: getattr(o, k) for k in ("before", "behind", "held_out", "held_in")}
            )
            for o in (made.reel.overlaps() if made.reel else [])
        ],
        spans={key: (ends.first, ends.last) for key, ends in made.spans.items()},
        shots={key: _standing(services, shot) for key, shot in reels.standing(services.db, row.project_id).items()},
        undo=head.words if head.parent is not None else None,
        redo=redo.words if redo else None,
    )


def _standing(services: Services, row: reels.StandingRow) -> StandingShot:
    facts = services.projects.library.facts(row.footage_id)
    still = facts.kind == "still"
    more = {"fps": facts.rate, "length": facts.length, "width": facts.width, "height": facts.height}
    return StandingShot(name=row.name, footage_id=row.footage_id, revision=row.head, gone=row.gone, still=still, sound=facts.sound is not None, **more)


def export_path(services: Services, row: exports.ExportRow) -> Path:
    """Where the file (or folder) of an export is."""
    return services.projects.library.export_path(row.id, ExportOptions.model_validate(row.options).suffix)


def export_view(services: Services, row: exports.ExportRow) -> ExportView:
    """An export, with the time left estimated from the rate since it was first seen running."""
    options = ExportOptions.model_validate(row.options)
    left = services.background.rates.left(row) if row.state == "running" else None
    made = {"format_name": options.made.name, "shows": options.shows, "path": str(export_path(services, row).resolve()) if row.state == "done" else None}
    return ExportView(**row.model_dump(), shot_name=_shown(services, row), seconds_left=left, suffix=options.suffix, folder=options.folder, **made)


def _shown(services: Services, row: exports.ExportRow) -> str:
    if not services.projects.documents.is_reel(row.document_id):
        return shots.shot(services.db, row.document_id).name
    if not row.part:
        return "Reel"
    try:
        return services.projects.bench.open(APART.join((row.document_id, row.part)), row.revision).name
    except NotFound:
        return "Part of the reel"
