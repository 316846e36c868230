"""Stored rows as the models that go over the wire."""

from wenditas.api.models import ExportView, Footage, ProjectView, ShotView
from wenditas.api.services import Services
from wenditas.media.facts import Facts
from wenditas.render.export import SUFFIXES, VideoOptions
from wenditas.store import exports, footage, history, projects, shots


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
    """A shot at its head."""
    row = shots.shot(services.db, id)
    stored = footage.footage(services.db, row.footage_id)
    head = history.revision(services.db, id, row.head)
    document = services.documents.load(id, head.id).document
    redo = history.redo_target(services.db, id)
    undo = head.words if head.parent is not None else None
    return ShotView(
        shot=row, project_id=stored.project_id, footage=footage_view(stored), revision=head.id, document=document, undo=undo, redo=redo.words if redo else None
    )


def suffix_of(row: exports.ExportRow) -> str:
    """The ending of an export's file."""
    return SUFFIXES[VideoOptions.model_validate(row.options).kind]


def export_view(services: Services, row: exports.ExportRow) -> ExportView:
    """An export, with the time left estimated from the rate since it was first seen running."""
    left = services.rates.left(row) if row.state == "running" else None
    return ExportView(**row.model_dump(), shot_name=shots.shot(services.db, row.shot_id).name, seconds_left=left, suffix=suffix_of(row))
