"""The shelf: starter looks and saved ones, put on shots; thumbnails of looks and treatments on a shot's own frame."""

from itertools import count

from fastapi import APIRouter
from fastapi.responses import Response

from wenditas.api.answers import IfNoneMatch, by_content
from wenditas.api.models.shelf import DressAnswer, DressRequest, PasteRequest, ShelfChange, ShelfFileRequest, ShelfRequest, ShelfTaken
from wenditas.api.routes.shots import Upto, stored
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import NotFound
from wenditas.core.look.document import Look, Pass, parse_look, tracks_of
from wenditas.core.measure.checks.bright_sky import bright_sky
from wenditas.core.shelf import PICK, STARTERS, Where, dress
from wenditas.core.treat import TREATMENTS
from wenditas.formats.look_json import Carried
from wenditas.formats.shelf_json import Shelved, read_shelf, write_shelf
from wenditas.project import edits
from wenditas.project.benched import Benched
from wenditas.render.request import Request
from wenditas.store import shelf as store
from wenditas.store import tracks as track_store
from wenditas.store.database import new_id
from wenditas.store.shelf import ShelfRow

router = APIRouter(tags=["shelf"])
THUMBNAIL = 176
MOST_SKY = 0.06  # share of the frame from which a bright sky is warned of


@router.get("/api/shelf")
def shelf(services: Shared) -> list[ShelfRow]:
    """Saved looks and passes, newest first."""
    return store.items(services.db)


@router.post("/api/shelf")
def save(services: Shared, request: ShelfRequest) -> ShelfRow:
    """Save a shot's look, or one of its passes with the selection that it uses."""
    look = services.projects.bench.open(request.shot, request.revision).look
    if request.only is not None:
        look = edits.only_pass(look, request.only)
    row = store.add_item(services.db, "look" if request.only is None else "pass", request.name, request.words, look.model_dump(mode="json"))
    services.hub.publish(kind="shelf")
    return row


@router.patch("/api/shelf/{item}")
def change(services: Shared, item: str, request: ShelfChange) -> ShelfRow:
    """Give a saved item another name, other words or tags."""
    row = store.change_item(services.db, item, request.name, request.words, request.tags)
    services.hub.publish(kind="shelf")
    return row


def _shelved(services: Services, row: ShelfRow) -> Shelved:
    return Shelved(row.kind, row.name, row.words, tuple(row.tags), parse_look(row.look, services.projects.documents.tracks))


@router.get("/api/shelf.json", response_class=Response)
def as_file(services: Shared) -> Response:
    """All that is saved as one file, with the files that it uses."""
    items = [_shelved(services, row) for row in store.items(services.db)]
    files = {f.digest: Carried(f.name, services.projects.files.path(f).read_bytes()) for item in items for f in services.projects.files.used_by(item.look)}
    disposition = 'attachment; filename="Shelf.wenditas.json"'
    return Response(write_shelf(items, files), media_type="application/json", headers={"content-disposition": disposition})


@router.post("/api/shelf/import")
def from_file(services: Shared, request: ShelfFileRequest) -> ShelfTaken:
    """Bring a shelf in. What is here already, by what it does, is not taken twice."""
    items, files = read_shelf(request.text)
    for carried in files:
        services.projects.files.take_in(carried.data, carried.name)
    known = {_shelved(services, row).digest for row in store.items(services.db)}
    fresh = [item for n, item in enumerate(items) if item.digest not in known and item.digest not in {i.digest for i in items[:n]}]
    for item in reversed(fresh):  # the newest is listed first
        with services.db.atomic() as writer:
            track_store.keep(writer, tracks_of(item.look).values())
        store.add_item(services.db, item.kind, item.name, item.words, item.look.model_dump(mode="json"), item.tags)
    services.hub.publish(kind="shelf")
    return ShelfTaken(added=len(fresh), twins=len(items) - len(fresh))


@router.delete("/api/shelf/{item}", status_code=204)
def remove(services: Shared, item: str) -> None:
    """Take an item from the shelf; `restore` puts it back."""
    store.set_removed(services.db, item, True)
    services.hub.publish(kind="shelf")


@router.post("/api/shelf/{item}/restore", status_code=204)
def restore(services: Shared, item: str) -> None:
    """Put a removed item back."""
    store.set_removed(services.db, item, False)
    services.hub.publish(kind="shelf")


@router.post("/api/shots/{shot_id}/dress")
def put_on(services: Shared, shot_id: str, request: DressRequest) -> DressAnswer:
    """Put a look from the shelf in place of the shot's passes, after or before them; one step to undo."""
    current = services.projects.bench.open(shot_id, request.base).look
    column = services.projects.columns.from_shelf(request.item)
    name, look, asks = column.name, column.look, column.asks
    where = _where(services, request.item, request.where)
    changed, needs = dress(current, look, request.selection, new_id, where)
    changed = edits.follow_picks(changed)
    commands = edits.whole_look(changed) if where == "instead" else edits.more(current, changed)
    words = {"instead": f"{name} put on", "after": f"{name} added", "before": f"{name} put before what was there"}[where]
    done = stored(services, shot_id, request, commands, words, tuple(tracks_of(changed).values()))
    chosen = needs or (request.selection if any(s.id == PICK for s in look.selections) else None)
    warning = _warning(services, shot_id, request.item, request.frame)
    return DressAnswer(view=done, made=done.made, selection=chosen, asks=asks if needs else None, warning=warning)


def _where(services: Services, item: str, where: Where) -> Where:
    alone = item not in STARTERS and store.item(services.db, item).kind == "pass"
    return "after" if alone and where == "instead" else where


def _warning(services: Services, shot_id: str, item: str, frame: int) -> str | None:
    """What a check found on the frame that may spoil a starter look."""
    if item not in STARTERS or not STARTERS[item].wants_no_sky:
        return None
    under = services.projects.bench.open(shot_id).under
    share = bright_sky(services.screen.pictures.picture(Request(node=under, frame=frame, width=THUMBNAIL * 3)))
    if share < MOST_SKY:
        return None
    return f"A bright sky fills {share:.0%} of this frame; it will not pass for night. Select it and darken it, or choose a framing without it."


@router.post("/api/shots/{shot_id}/paste")
def paste(services: Shared, shot_id: str, request: PasteRequest) -> DressAnswer:
    """Add passes that were copied from another shot, with the selections they use."""
    current = services.projects.bench.open(shot_id, request.base).look
    changed, needs = dress(current, parse_look(request.look, services.projects.documents.tracks), None, new_id, "after")
    done = stored(services, shot_id, request, edits.more(current, changed), request.words, tuple(tracks_of(changed).values()))
    return DressAnswer(view=done, made=done.made, selection=needs, asks=None)


def _thumbnail(services: Services, benched: Benched, look: Look, frame: int, known: str | None) -> Response:
    request = Request(node=benched.worn(look), frame=frame, width=THUMBNAIL)
    return by_content(services.screen.pictures.key(request), known, "image/jpeg", lambda: services.screen.thumbnails.thumbnail(request))


@router.get("/api/shots/{shot_id}/shelf/{item}/{revision}/{frame}.jpg", response_class=Response)
def look_thumbnail(
    services: Shared,
    shot_id: str,
    item: str,
    revision: int,
    frame: int,
    selection: str | None = None,
    where: Where = "instead",
    if_none_match: IfNoneMatch = None,
) -> Response:
    """What a look from the shelf would make of a frame."""
    benched = services.projects.bench.open(shot_id, revision)
    current = benched.look
    look = services.projects.columns.from_shelf(item).look
    taken = {s.id for s in current.selections}
    ids = (f"shown {n}" for n in count())  # the same for the same look, so that its picture is found again
    changed, _ = dress(current, look, selection if selection in taken else None, lambda: next(ids), where)
    return _thumbnail(services, benched, edits.follow_picks(changed), frame, if_none_match)


@router.get("/api/shots/{shot_id}/treatments/{treatment}/{revision}/{frame}.jpg", response_class=Response)
def treatment_thumbnail(
    services: Shared,
    shot_id: str,
    treatment: str,
    revision: int,
    frame: int,
    upto: Upto = None,
    selection: str | None = None,
    if_none_match: IfNoneMatch = None,
) -> Response:
    """What a treatment does to a frame after the first `upto` passes, with parameters that show it; of a small selection, the part of it around that."""
    if treatment not in TREATMENTS:
        raise NotFound(f"There is no treatment {treatment!r}.")
    benched = services.projects.bench.open(shot_id, revision)
    current = benched.look
    shown = Pass(id="shown", name=treatment, treatment=treatment, params=dict(TREATMENTS[treatment].example))
    if TREATMENTS[treatment].reads_matte and current.selections:  # it shows nothing without one
        shown = shown.model_copy(update={"selection": current.selections[0].id, "side": "outside"})
    passes = current.passes[:upto]
    look = current.model_copy(update={"passes": (*passes, shown)})
    if all(s.id != selection for s in current.selections):
        return _thumbnail(services, benched, look, frame, if_none_match)
    request, thumbnails = Request(node=benched.worn(look), frame=frame, width=THUMBNAIL), services.screen.thumbnails
    part = thumbnails.part(Request(node=benched.worn(current), frame=frame, width=THUMBNAIL).but(selection=selection))
    if part is not None:
        request = request.but(width=round(THUMBNAIL / (part[2] - part[0])))
    return by_content(
        f"{services.screen.pictures.key(request)} {' '.join(map(str, part or ()))}", if_none_match, "image/jpeg", lambda: thumbnails.thumbnail(request, part)
    )
