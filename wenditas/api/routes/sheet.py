"""The sheet: shots under looks, takes and variants, as pictures; looks carried over to several shots."""

from itertools import groupby
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import TypeAdapter, ValidationError

from wenditas.api.answers import IfNoneMatch, by_content
from wenditas.api.models.checks import MarkView
from wenditas.api.models.exports import ExportView
from wenditas.api.models.reels import ReelView
from wenditas.api.models.sheet import (
    CarriedView,
    CarryAnswer,
    CarryRequest,
    CellsRequest,
    CellView,
    FramesView,
    KeepRequest,
    LaySpanRequest,
    TakeBackRequest,
)
from wenditas.api.routes.checks import view_of
from wenditas.api.routes.palettes import Hexes, recoloured
from wenditas.api.routes.shots import moved
from wenditas.api.shared import Shared
from wenditas.api.views import export_view, reel_view
from wenditas.app.services import Services
from wenditas.core.errors import BadEdit, BadRequest, NotFound
from wenditas.core.film.document import Place, ReelSpan
from wenditas.core.look.commands import Add, Set
from wenditas.core.look.document import Look
from wenditas.core.tiles import single_threaded
from wenditas.project.carrying import Cell, PutOn
from wenditas.project.columns import OWN
from wenditas.project.documents import Edit
from wenditas.project.names import name_by
from wenditas.render.request import Request
from wenditas.store import exports, projects, shots
from wenditas.store.database import new_id
from wenditas.store.takes import TakeRow

router = APIRouter(tags=["sheet"])
Which = Literal["stands", "first", "middle", "last"]
Width = Annotated[int, Query(ge=16, le=1920)]
SETS: TypeAdapter[list[tuple[str, Any]]] = TypeAdapter(list[tuple[str, Any]])
Sets = Annotated[str, Query(max_length=20_000)]
Of = Annotated[str | None, Query(max_length=40)]


@router.get("/api/shots/{shot_id}/cells/{column}")
def cell(services: Shared, shot_id: str, column: str, shapes: bool = False, sure: bool = False) -> CellView:
    """What becomes of a column's look on a shot: what was done to its keys, and what is to be said of it."""
    found = services.projects.carrying.cell(shot_id, column, shapes, sure)
    node, frame = services.projects.nodes.shot(shots.shot(services.db, shot_id).footage_id, found.look), services.projects.carrying.frames(shot_id).stands
    fitted = [(s, f) for s, f in zip(found.look.selections, found.found, strict=False) if f.how == "fitted again"]
    covers = services.screen.coverage.at(node, frame, fitted[0][0].id) if fitted else None
    words = found.words + (f", covers {covers:.0f} %" if covers is not None else "")
    return CellView(
        name=found.name,
        how=found.how,
        words=words,
        warning=found.warning,
        asks=found.asking is not None,
        shapes_left_out=found.shapes_left_out,
        found=[CarriedView(how=f.how, words=f.words) for f in found.found],
    )


@router.get("/api/shots/{shot_id}/cells/{column}/marks")
def cell_marks(services: Shared, shot_id: str, column: str, shapes: bool = False, sure: bool = False) -> list[MarkView]:
    """What checks find on the frame that a cell shows, but for those that its look silences."""
    found = services.projects.carrying.cell(shot_id, column, shapes, sure)
    node, loaded = services.projects.nodes.shot(shots.shot(services.db, shot_id).footage_id, found.look), services.projects.documents.load(shot_id)
    with single_threaded():
        marks = services.screen.checking.at(node, services.projects.carrying.frames(shot_id).stands, (loaded.document.first, loaded.document.last))
    return view_of([mark for mark in marks if mark.check not in found.look.silenced])


@router.get("/api/shots/{shot_id}/frames")
def frames(services: Shared, shot_id: str) -> FramesView:
    """The frames that a shot is seen at on the sheet."""
    found = services.projects.carrying.frames(shot_id)
    return FramesView(stands=found.stands, first=found.first, middle=found.middle, last=found.last)


def _picture(services: Services, shot_id: str, look: Look, which: Which, width: int, known: str | None) -> Response:
    node = services.projects.nodes.shot(shots.shot(services.db, shot_id).footage_id, look)
    request = Request(node=node, frame=getattr(services.projects.carrying.frames(shot_id), which), width=width)
    return by_content(services.screen.pictures.key(request), known, "image/jpeg", lambda: services.screen.pictures.encoded(request, "jpg", "sheet"))


@router.get("/api/shots/{shot_id}/cells/{column}/{which}.jpg", response_class=Response)
def cell_picture(
    services: Shared,
    shot_id: str,
    column: str,
    which: Which,
    width: Width = 240,
    shapes: bool = False,
    sure: bool = False,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """A shot under the look of a column, small."""
    return _picture(services, shot_id, services.projects.carrying.cell(shot_id, column, shapes, sure).look, which, width, if_none_match)


def _varied(services: Services, shot_id: str, sets: list[tuple[str, Any]], of: str | None, colours: list[str]) -> Look:
    """A shot's look with some targets set to other values, and a palette in one of its passes."""
    commands = [Set(target=target, value=value) for target, value in sets]
    look = services.projects.bench.changed(services.projects.bench.open(shot_id), commands).look
    return recoloured(look, of, colours) if of and colours else look


@router.get("/api/shots/{shot_id}/variants/{which}.jpg", response_class=Response)
def variant_picture(
    services: Shared,
    shot_id: str,
    which: Which,
    sets: Sets = "[]",
    of: Of = None,
    colours: Hexes | None = None,
    width: Width = 240,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """A shot under its own look with some values changed, as JSON: [[target, value], ...], or a palette in a pass, small."""
    try:
        values = SETS.validate_json(sets)
    except ValidationError as error:
        raise BadEdit("A variant is a list of targets and values.") from error
    look = _varied(services, shot_id, values, of, [f"#{c}" for c in colours.split("-")] if colours else [])
    return _picture(services, shot_id, look, which, width, if_none_match)


@router.post("/api/shots/{shot_id}/keep")
def keep(services: Shared, shot_id: str, request: KeepRequest) -> TakeRow:
    """Keep a variant of a shot, or the look of a column on it, as a take; the look in work stays."""
    look = (
        services.projects.carrying.cell(shot_id, request.column).look
        if request.column
        else _varied(services, shot_id, request.sets, request.of, list(request.colours))
    )
    row = services.projects.carrying.kept_as_take(shot_id, look, request.name)
    services.hub.publish(kind="takes", id=shot_id)
    return row


def _told(services: Services, done: PutOn) -> CarryAnswer:
    for id in done.made:
        moved(services, id)
    for id in done.cells:
        services.hub.publish(kind="takes", id=id)
    return CarryAnswer(made=done.made, refused=done.refused, words={id: c.words for id, c in done.cells.items()}, asks=done.asking)


@router.post("/api/projects/{project_id}/carry")
def carry(services: Shared, project_id: str, request: CarryRequest) -> CarryAnswer:
    """Put the look of a column on shots, its keys fitted again. What was there becomes a take of each shot."""
    return _told(services, services.projects.carrying.put_on(within(services, project_id, request.shots), request.column, request.shapes, request.sure))


@router.post("/api/projects/{project_id}/carry/back")
def take_back(services: Shared, project_id: str, request: TakeBackRequest) -> CarryAnswer:
    """Take a putting on back on all shots that were not changed since."""
    within(services, project_id, list(request.made))
    return _told(services, services.projects.carrying.take_back(request.made))


def within(services: Services, project_id: str, ids: list[str]) -> list[str]:
    """Shots of a project. Raises `NotFound` where one is of another, or none."""
    known = {s.id for s in shots.shots_of(services.db, project_id)}
    strange = next((id for id in ids if id not in known), None)
    if strange is not None:
        raise NotFound(f"The project has no shot {strange!r}.")
    return ids


@router.post("/api/projects/{project_id}/exports")
def export_cells(services: Shared, project_id: str, request: CellsRequest) -> list[ExportView]:
    """Export cells of the sheet: shots under the looks of columns, named by a pattern. The shots' own looks stay what they are."""
    project = projects.project(services.db, project_id)
    ids = [cell.shot for cell in request.cells]
    if not ids:
        raise BadRequest("Nothing is chosen to be exported.")
    name_by(request.pattern, {})
    within(services, project_id, ids)
    made = []
    taken = {row.name for row in exports.exports_of(services.db, project_id)}
    for one in request.cells:
        found = services.projects.carrying.cell(one.shot, one.column)
        own, document = one.column == OWN, services.projects.documents.load(one.shot).document
        revision = services.projects.documents.load(one.shot).revision if own else services.projects.carrying.aside(one.shot, found.look, found.name)
        facts = services.projects.library.facts(shots.shot(services.db, one.shot).footage_id)
        values = {
            "project": project.name,
            "shot": shots.shot(services.db, one.shot).name,
            "look": "own look" if own else found.name,
            "size": f"{facts.width}x{facts.height}",
        }
        name = _free(name_by(request.pattern, values), taken)
        taken.add(name)
        row = exports.add_export(services.db, one.shot, revision, name, request.options.model_dump(), document.last - document.first + 1)
        services.background.exports.submit(row.id)
        made.append(export_view(services, row))
    return made


def _free(name: str, taken: set[str]) -> str:
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 10_000))) if n not in taken)


@router.post("/api/projects/{project_id}/spans")
def lay_spans(services: Shared, project_id: str, request: LaySpanRequest) -> ReelView:
    """Lay a span with the look of a column over the items of shots in the reel: one for each run of them."""
    reel = services.projects.documents.reel_of(project_id)
    loaded = services.projects.documents.load_reel(reel.id)
    chosen = set(request.shots)
    runs = [list(items) for inside, items in groupby(loaded.document.items, lambda item: item.shot in chosen) if inside]
    if not runs:
        raise BadRequest("None of these shots is in the reel: put them there first.")
    found: Cell = services.projects.carrying.cell(runs[0][0].shot, request.column)
    spans = [
        ReelSpan(
            id=new_id(),
            name=found.name[:80],
            start=Place(item=run[0].id, frame=run[0].first),
            end=Place(item=run[-1].id, frame=run[-1].last),
            look=found.look,
        )
        for run in runs
    ]
    commands = [Add(target="spans", value=span.model_dump(mode="json")) for span in spans]
    services.projects.documents.edit(
        reel.id, Edit(loaded.revision, commands, f"{found.name} laid over {len(spans)} stretches" if len(spans) > 1 else f"{found.name} laid over")
    )
    view = reel_view(services, reel.id)
    services.hub.publish(kind="reel", id=reel.id, revision=view.revision)
    return view
