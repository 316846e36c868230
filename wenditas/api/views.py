"""Stored rows as the models that go over the wire."""

from wenditas.api.models import ExportView, Footage, OverlapView, PartView, ProjectView, ReelView, ShotView, StandingShot
from wenditas.api.services import Services
from wenditas.media.facts import Facts
from wenditas.project.benched import Benched
from wenditas.render.export import SUFFIXES, VideoOptions
from wenditas.store import exports, footage, history, projects, reels, shots


def footage_view(row: footage.FootageRow) -> Footage:
    """A piece of footage."""
    facts = Facts.model_validate(row.facts)
    return Footage(id=row.id, name=row.name, bytes=row.bytes, facts=facts, seconds=facts.seconds)


def project_view(services: Services, id: str) -> ProjectView:
    """A project with all it holds."""
    project = projects.project(services.db, id)
    rows = footage.footage_of(services.db, id)
    return ProjectView(project=project, footage=[footage_view(r) for r in rows], shots=shots.shots_of(services.db, id))


def shot_view(services: Services, id: str) -> ShotView:
    """What is on the Bench under an id, at its head."""
    benched = services.bench.open(id)
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
        return footage_view(footage.footage(services.db, benched.footage))
    facts = services.bench.facts(benched)
    return Footage(id="", name=benched.name, bytes=0, facts=facts, seconds=facts.seconds)


def reel_view(services: Services, id: str) -> ReelView:
    """A reel at its head."""
    row = reels.reel(services.db, id)
    head = history.revision(services.db, id, row.head)
    document = services.documents.load_reel(id, head.id).document
    made, redo = services.reels.made(id, document), history.redo_target(services.db, id)
    joins = {join.after: join for join in document.joins}
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
            OverlapView(id=joins[o.after].id, asked=joins[o.after].frames, **{k: getattr(o, k) for k in ("before", "behind", "held_out", "held_in")})
            for o in (made.reel.overlaps() if made.reel else [])
        ],
        spans={key: (ends.first, ends.last) for key, ends in made.spans.items()},
        shots={key: _standing(services, shot) for key, shot in reels.standing(services.db, row.project_id).items()},
        undo=head.words if head.parent is not None else None,
        redo=redo.words if redo else None,
    )


def _standing(services: Services, row: reels.StandingRow) -> StandingShot:
    facts = services.library.facts(row.footage_id)
    still = facts.kind == "still"
    more = {"fps": facts.rate, "length": facts.length, "width": facts.width, "height": facts.height}
    return StandingShot(name=row.name, footage_id=row.footage_id, revision=row.head, gone=row.gone, still=still, sound=facts.sound is not None, **more)


def suffix_of(row: exports.ExportRow) -> str:
    """The ending of an export's file."""
    return SUFFIXES[VideoOptions.model_validate(row.options).kind]


def export_view(services: Services, row: exports.ExportRow) -> ExportView:
    """An export, with the time left estimated from the rate since it was first seen running."""
    shot_name = "Reel" if services.documents.is_reel(row.document_id) else shots.shot(services.db, row.document_id).name
    left = services.rates.left(row) if row.state == "running" else None
    return ExportView(**row.model_dump(), shot_name=shot_name, seconds_left=left, suffix=suffix_of(row))
