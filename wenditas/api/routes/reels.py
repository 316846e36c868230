"""The reel of a project: document, edits, undo, pictures, sound."""

from fractions import Fraction
from typing import Annotated, Literal

from fastapi import APIRouter, Path, Query
from fastapi.responses import Response

from wenditas.api.answers import IfNoneMatch, attachment, by_content
from wenditas.api.models.asked import EditRequest, GoRequest, HeadRequest, TakeRequest
from wenditas.api.models.reels import CutRequest, CutTaken, ReelEdited, ReelView
from wenditas.api.shared import Shared
from wenditas.api.sounds import Range, wav
from wenditas.api.views import reel_view
from wenditas.app.jobs import mix_of
from wenditas.app.services import Services
from wenditas.app.subjects import request_of
from wenditas.core.errors import NotFound, Overtaken
from wenditas.formats.cut import Cut
from wenditas.formats.edl import read_edl, write_edl
from wenditas.formats.otio import read_otio, write_otio
from wenditas.media.mix import mixed
from wenditas.media.sound import PLAY_RATE
from wenditas.media.stills import encode_png
from wenditas.project.cutting import cut_of, taken
from wenditas.project.documents import Edit
from wenditas.project.reels import Without
from wenditas.render.request import FULL
from wenditas.store import history, projects, reels
from wenditas.store import takes as take_store
from wenditas.store.database import new_id
from wenditas.store.history import EditRow
from wenditas.store.takes import TakeRow

router = APIRouter(tags=["reels"])
MEDIA_TYPES = {"png": "image/png", "jpg": "image/jpeg"}


def _moved(services: Services, reel_id: str) -> ReelView:
    view = reel_view(services, reel_id)
    services.hub.publish(kind="reel", id=reel_id, revision=view.revision)
    return view


@router.get("/api/projects/{project_id}/reel")
def of_project(services: Shared, project_id: str) -> ReelView:
    """The reel of a project; an empty one where it has not begun."""
    return reel_view(services, services.projects.documents.reel_of(project_id).id)


@router.get("/api/reels/{reel_id}")
def one_reel(services: Shared, reel_id: str) -> ReelView:
    """A reel at its newest state."""
    return reel_view(services, reel_id)


@router.post("/api/reels/{reel_id}/edits")
def edit(services: Shared, reel_id: str, request: EditRequest) -> ReelEdited:
    """Carry out an edit. 409 with the newest state where what it changes is gone, or was changed since its base."""
    services.projects.documents.load_reel(reel_id)
    try:
        made = services.projects.documents.edit(reel_id, Edit(request.base, request.commands, request.words, request.id, request.author))
    except Overtaken as error:
        error.newest = reel_view(services, reel_id)
        raise
    return ReelEdited(**dict(_moved(services, reel_id)), made=made)


@router.post("/api/reels/{reel_id}/undo")
def undo(services: Shared, reel_id: str, request: HeadRequest) -> ReelView:
    """Step back."""
    history.step(services.db, reel_id, request.base, forward=False)
    return _moved(services, reel_id)


@router.post("/api/reels/{reel_id}/redo")
def redo(services: Shared, reel_id: str, request: HeadRequest) -> ReelView:
    """Step forward again."""
    history.step(services.db, reel_id, request.base, forward=True)
    return _moved(services, reel_id)


@router.post("/api/reels/{reel_id}/head")
def go_to(services: Shared, reel_id: str, request: GoRequest) -> ReelView:
    """Return to any state of the reel; what came after it stays in the history."""
    history.go_to(services.db, reel_id, request.base, request.revision)
    return _moved(services, reel_id)


@router.get("/api/reels/{reel_id}/history")
def list_edits(services: Shared, reel_id: str) -> list[EditRow]:
    """Edits in words, newest first."""
    return history.edits_of(services.db, reel_id)


@router.get("/api/reels/{reel_id}/takes")
def takes(services: Shared, reel_id: str) -> list[TakeRow]:
    """Saved versions, newest first."""
    return take_store.takes(services.db, reel_id)


@router.post("/api/reels/{reel_id}/takes")
def save(services: Shared, reel_id: str, request: TakeRequest) -> TakeRow:
    """Save a state of the reel under a name."""
    row = take_store.add_take(services.db, reel_id, request.revision, request.name)
    services.hub.publish(kind="takes", id=reel_id)
    return row


@router.get("/api/reels/{reel_id}/pictures/{revision}/{frame}.{kind}", response_class=Response)
def picture(
    services: Shared,
    reel_id: str,
    revision: int,
    frame: Annotated[int, Path(ge=0)],
    kind: Literal["png", "jpg"],
    width: Annotated[int, Query(ge=16)] = FULL,
    without: Without | None = None,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """A frame of the reel at a revision."""
    made = services.projects.reels.made(reel_id, services.projects.documents.load_reel(reel_id, revision).document)
    request = request_of(made, frame, width, without)
    return by_content(services.screen.pictures.key(request), if_none_match, MEDIA_TYPES[kind], lambda: services.screen.pictures.encoded(request, kind))


@router.get("/api/reels/{reel_id}/frames/{revision}/{frame}.png", response_class=Response)
def frame_file(services: Shared, reel_id: str, revision: int, frame: Annotated[int, Path(ge=0)]) -> Response:
    """One frame of the finished reel at full size, as a PNG to keep."""
    document = services.projects.documents.load_reel(reel_id, revision).document
    made = services.projects.reels.made(reel_id, document)
    if frame >= made.length:
        raise NotFound(f"The reel ends at frame {made.length - 1}: there is no frame {frame}.")
    picture = services.screen.pictures.picture(request_of(made, frame, FULL, None))
    name = projects.project(services.db, reels.reel(services.db, reel_id).project_id).name
    return Response(encode_png(picture, level=6), media_type="image/png", headers=attachment(f"{name} {frame}.png"))


def _cut(services: Services, reel_id: str) -> Cut:
    made = services.projects.reels.made(reel_id, services.projects.documents.load_reel(reel_id).document)
    return cut_of(services.projects.library, made, projects.project(services.db, reels.reel(services.db, reel_id).project_id).name)


@router.get("/api/reels/{reel_id}/cut")
def told_of_cut(services: Shared, reel_id: str) -> list[str]:
    """What a cut list of the reel would leave out."""
    return list(_cut(services, reel_id).told)


@router.get("/api/reels/{reel_id}/cut.{kind}", response_class=Response)
def cut_file(services: Shared, reel_id: str, kind: Literal["otio", "edl"]) -> Response:
    """The reel as a cut list: OpenTimelineIO, or a CMX 3600 edit decision list."""
    cut = _cut(services, reel_id)
    text = write_otio(cut) if kind == "otio" else write_edl(cut)
    return Response(text, media_type="application/json" if kind == "otio" else "text/plain", headers=attachment(f"{cut.name}.{kind}"))


@router.post("/api/reels/{reel_id}/cut")
def take_cut(services: Shared, reel_id: str, request: CutRequest) -> CutTaken:
    """Put a cut list in place of the reel's items, transitions and spans: one step to undo."""
    loaded, row = services.projects.documents.load_reel(reel_id), reels.reel(services.db, reel_id)
    rate = services.projects.reels.made(reel_id, loaded.document).rate if request.rate is None else Fraction(request.rate)
    read = read_otio if request.text.lstrip().startswith("{") else read_edl
    found = taken(services.projects.library, row.project_id, read(request.text, rate, request.name), services.projects.documents.new_shot, new_id)
    services.projects.documents.edit(reel_id, Edit(loaded.revision, found.commands, f"Cut list {request.name}"[:200], new_id()))
    services.hub.publish(kind="project", id=row.project_id)
    return CutTaken(view=_moved(services, reel_id), count=found.count, told=list(found.told))


@router.get("/api/reels/{reel_id}/sound/{revision}.wav", response_class=Response)
def sound(services: Shared, reel_id: str, revision: int, asked: Range = None) -> Response:
    """The sound of the whole reel, in a form the browser plays: mixed as it is played."""
    made = services.projects.reels.made(reel_id, services.projects.documents.load_reel(reel_id, revision).document)
    pieces = () if made.node is None else mix_of(services.projects.reels, made.node, (0, made.node.length - 1))
    if not pieces or made.node is None:
        raise NotFound("Nothing is heard of this reel.")
    seconds = float(made.node.length / made.rate)
    return wav(asked, seconds, lambda first: mixed(pieces, seconds, PLAY_RATE, first), {"cache-control": "private, no-cache"})
