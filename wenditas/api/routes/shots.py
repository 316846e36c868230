"""Shots: documents, edits, undo, picks, pictures."""

from collections.abc import Sequence
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from fastapi.responses import Response

from wenditas.api.answers import IfNoneMatch, attachment, by_content
from wenditas.api.models.asked import Based, EditRequest, HeadRequest, NameRequest
from wenditas.api.models.shots import Edited, HistogramView, LookRequest, ShotView
from wenditas.api.shared import Shared
from wenditas.api.views import shot_view
from wenditas.app.services import Services
from wenditas.core.errors import Overtaken
from wenditas.core.look.commands import Command
from wenditas.core.look.document import alone, tracks_of
from wenditas.core.measure.census import Up
from wenditas.core.select.tracks import Track
from wenditas.formats.look_json import Carried, read_files, read_look, write_look
from wenditas.project import edits
from wenditas.project.documents import Edit
from wenditas.render.giving_up import checking
from wenditas.render.request import FULL, Request, ScreenView, seen_as
from wenditas.render.scopes import CENSUS_WIDTH
from wenditas.store import footage, history, shots
from wenditas.store.shots import ShotRow

router = APIRouter(tags=["shots"])

Upto = Annotated[int | None, Query(ge=0)]  # so many passes, from the first on
MEDIA_TYPES = {"png": "image/png", "jpg": "image/jpeg"}


def moved(services: Services, shot_id: str) -> ShotView:
    """The shot as it stands now; all open pages are told."""
    view = shot_view(services, shot_id)
    kind, id = ("shot", shot_id) if view.part is None else ("reel", view.part.reel_id)
    services.hub.publish(kind=kind, id=id, revision=view.revision)
    return view


def stored(services: Services, shot_id: str, request: Based, commands: Sequence[Command], words: str, tracks: tuple[Track, ...] = ()) -> Edited:
    """Carry an edit out and tell all pages. Where it cannot be, the newest state goes along with the error."""
    benched = services.projects.bench.open(shot_id)
    words = words if benched.kind == "shot" else f"{benched.name}: {words}"[:200]
    edit = Edit(request.base, benched.commands(commands), words, request.id, request.author, tracks)
    try:
        made = services.projects.documents.edit(benched.document_id, edit)
    except Overtaken as error:
        error.newest = shot_view(services, shot_id)
        raise
    view = moved(services, shot_id)
    return Edited(**dict(view), made=made)


@router.get("/api/shots/{shot_id}")
def one_shot(services: Shared, shot_id: str) -> ShotView:
    """A shot at its newest state."""
    return shot_view(services, shot_id)


@router.post("/api/shots/{shot_id}/edits")
def edit(services: Shared, shot_id: str, request: EditRequest) -> Edited:
    """Carry out an edit. 409 with the newest state where what it changes is gone, or was changed since its base."""
    return stored(services, shot_id, request, request.commands, request.words)


@router.post("/api/shots/{shot_id}/undo")
def undo(services: Shared, shot_id: str, request: HeadRequest) -> ShotView:
    """Step back."""
    history.step(services.db, services.projects.bench.document_of(shot_id), request.base, forward=False)
    return moved(services, shot_id)


@router.post("/api/shots/{shot_id}/redo")
def redo(services: Shared, shot_id: str, request: HeadRequest) -> ShotView:
    """Step forward again."""
    history.step(services.db, services.projects.bench.document_of(shot_id), request.base, forward=True)
    return moved(services, shot_id)


@router.put("/api/shots/{shot_id}/look")
def load_look(services: Shared, shot_id: str, request: LookRequest) -> Edited:
    """Put the look of a file in place of the shot's own (one step to undo)."""
    name, look = read_look(request.text)
    for carried in read_files(request.text):
        services.projects.files.take_in(carried.data, carried.name)
    return stored(services, shot_id, request, edits.whole_look(look), f"Look loaded: {name}", tuple(tracks_of(look).values()))


@router.get("/api/shots/{shot_id}/look.json", response_class=Response)
def save_look(services: Shared, shot_id: str) -> Response:
    """The look as a file."""
    view = shot_view(services, shot_id)
    look = view.document.look
    files = {f.digest: Carried(f.name, services.projects.files.path(f).read_bytes()) for f in services.projects.files.used_by(look)}
    return Response(write_look(look, view.shot.name, files), media_type="application/json", headers=attachment(f"{view.shot.name}.look.json"))


@router.patch("/api/shots/{shot_id}")
def rename(services: Shared, shot_id: str, request: NameRequest) -> ShotView:
    """Give the shot another name."""
    shots.rename_shot(services.db, shot_id, request.name)
    _project_changed(services, shot_id)
    return moved(services, shot_id)


def _project_changed(services: Services, shot_id: str) -> None:
    row = footage.footage(services.db, shots.shot(services.db, shot_id).footage_id)
    services.hub.publish(kind="project", id=row.project_id)


@router.post("/api/shots/{shot_id}/copy")
def copy(services: Shared, shot_id: str, request: NameRequest) -> ShotRow:
    """Another shot of the same footage, which begins with the look, in and out of this one."""
    row = shots.shot(services.db, shot_id)
    document = services.projects.documents.load(shot_id).document
    made = services.projects.documents.new_shot(row.footage_id, request.name, document.look, (document.first, document.last))
    _project_changed(services, shot_id)
    return made


@router.delete("/api/shots/{shot_id}", status_code=204)
def remove(services: Shared, shot_id: str) -> None:
    """Remove a shot; `restore` brings it back."""
    shots.set_removed(services.db, shot_id, True)
    _project_changed(services, shot_id)


@router.post("/api/shots/{shot_id}/restore", status_code=204)
def restore(services: Shared, shot_id: str) -> None:
    """Bring back a removed shot."""
    shots.set_removed(services.db, shot_id, False)
    _project_changed(services, shot_id)


def _request(
    services: Services, shot_id: str, revision: int, frame: int, width: int, view: ScreenView, selection: str | None, upto: int | None, only: str | None = None
) -> Request:
    benched = services.projects.bench.open(shot_id, revision)
    look = alone(benched.look, only) if only else benched.look
    return Request(node=benched.shown(look), frame=frame, width=width, shown=seen_as(view, selection, upto))


@router.get("/api/shots/{shot_id}/pictures/{revision}/{frame}.{kind}", response_class=Response)
def picture(
    services: Shared,
    shot_id: str,
    revision: int,
    frame: int,
    kind: Literal["png", "jpg"],
    width: Annotated[int, Query(ge=16)] = FULL,
    view: ScreenView = "result",
    selection: str | None = None,
    upto: Upto = None,
    only: Annotated[str | None, Query(alias="alone")] = None,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """A view of a frame at a revision, or of one pass alone."""
    request = _request(services, shot_id, revision, frame, width, view, selection, upto, only)
    return by_content(services.screen.pictures.key(request), if_none_match, MEDIA_TYPES[kind], lambda: services.screen.pictures.encoded(request, kind))


@router.get("/api/shots/{shot_id}/stages/{revision}/{frame}.jpg", response_class=Response)
def stage(
    services: Shared,
    shot_id: str,
    revision: int,
    frame: int,
    width: Annotated[int, Query(ge=16, le=512)] = 276,
    upto: Upto = None,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """A thumbnail of the picture after the first `upto` passes."""
    request = _request(services, shot_id, revision, frame, width, "result", None, upto)
    return by_content(services.screen.pictures.key(request), if_none_match, "image/jpeg", lambda: services.screen.thumbnails.thumbnail(request))


@router.get("/api/shots/{shot_id}/histogram/{revision}/{frame}")
def histogram(services: Shared, shot_id: str, revision: int, frame: int, upto: Upto = None) -> HistogramView:
    """How tones are spread after the first `upto` passes, for the editors that draw on it."""
    return HistogramView.model_validate(services.screen.scopes.histogram(_request(services, shot_id, revision, frame, 480, "result", None, upto)))


@router.get("/api/shots/{shot_id}/coverage/{revision}/{frame}")
def coverage(services: Shared, shot_id: str, revision: int, frame: int, selection: str) -> float:
    """Share of the frame that a selection covers, in percent."""
    benched = services.projects.bench.open(shot_id, revision)
    return services.screen.coverage.at(benched.worn(benched.look), frame, selection, checking())


@router.get("/api/shots/{shot_id}/census/{frame}.png", response_class=Response)
def census(services: Shared, shot_id: str, frame: int, up: Up = "lightness", if_none_match: IfNoneMatch = None) -> Response:
    """The own colours of a frame of what lies under the look, hue across, lightness or chroma up."""
    request = Request(node=services.projects.bench.open(shot_id).under, frame=frame, width=CENSUS_WIDTH)
    return by_content(f"{services.screen.pictures.key(request)} {up}", if_none_match, "image/png", lambda: services.screen.scopes.census(request, up))
