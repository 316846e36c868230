"""Palettes: taken from pictures, kept, put into passes, and looked at in variants."""

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from wenditas.api.answers import IfNoneMatch, by_content
from wenditas.api.models.files import FromPictureRequest, PaletteRequest, PutPaletteRequest
from wenditas.api.models.shots import Edited
from wenditas.api.routes.shots import stored
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import BadLook, NotFound
from wenditas.core.film import Shown
from wenditas.core.kernel import Picture
from wenditas.core.look.commands import Set
from wenditas.core.look.document import Look, Pass
from wenditas.core.look.targets import join
from wenditas.core.select.palette import palette_of
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.overlay_picture import Still
from wenditas.render.request import Request
from wenditas.store import palettes as store
from wenditas.store.palettes import PaletteRow

router = APIRouter(tags=["palettes"])
WIDTH, THUMBNAIL = 320, 176
Hexes = Annotated[str, Query(pattern=r"^[0-9a-fA-F]{6}(-[0-9a-fA-F]{6}){0,11}$")]


def _picture(services: Services, request: FromPictureRequest) -> Picture:
    if request.file is not None:
        still = services.projects.files.load(request.file)
        if not isinstance(still, Still):
            raise NotFound("This file is no picture.")
        solid = still.planes[3] > 0.5
        step = max(1, still.planes.shape[2] // WIDTH)
        seen = still.planes[:3, ::step, ::step][:, solid[::step, ::step]]
        return seen[:, None] if seen.size else still.planes[:3]
    if request.shot is None:
        raise BadLook("A palette is taken from a shot or from a picture file.")
    benched = services.projects.bench.open(request.shot)
    frame = benched.ends[0] if request.frame is None else request.frame
    shown = Shown(view="source" if request.source else "result")
    return services.screen.pictures.picture(Request(node=benched.shown(benched.look), frame=frame, width=WIDTH, shown=shown))


@router.post("/api/palettes/from")
def from_picture(services: Shared, request: FromPictureRequest) -> list[str]:
    """The colours that stand for a frame of a shot, or for a picture file: dark to light."""
    return palette_of(_picture(services, request), request.count)


@router.get("/api/palettes")
def kept(services: Shared) -> list[PaletteRow]:
    """The palettes that are kept, newest first."""
    return store.palettes(services.db)


@router.post("/api/palettes")
def keep(services: Shared, request: PaletteRequest) -> PaletteRow:
    """Keep a palette."""
    row = store.add_palette(services.db, request.name, list(request.colours))
    services.hub.publish(kind="palettes")
    return row


@router.delete("/api/palettes/{palette}", status_code=204)
def remove(services: Shared, palette: str) -> None:
    """Take a palette away; `restore` brings it back."""
    store.set_removed(services.db, palette, True)
    services.hub.publish(kind="palettes")


@router.post("/api/palettes/{palette}/restore", status_code=204)
def restore(services: Shared, palette: str) -> None:
    """Bring a palette back."""
    store.set_removed(services.db, palette, False)
    services.hub.publish(kind="palettes")


def with_palette(look: Look, pass_id: str, colours: list[str]) -> tuple[Pass, dict[str, object]]:
    """A pass of a look, and the parameters that a palette changes in it. Raises `BadLook`."""
    found = next((p for p in look.passes if p.id == pass_id), None)
    takes = None if found is None or not found.known else TREATMENTS[found.treatment].takes_palette
    if found is None or takes is None:
        raise BadLook(f"The look has no pass {pass_id!r} that takes a palette.")
    return found, takes(TREATMENTS[found.treatment].params.model_validate(found.params), colours)


def recoloured(look: Look, of: str, colours: list[str]) -> Look:
    """A look with a palette in one of its passes. Raises `BadLook`."""
    item, changed = with_palette(look, of, colours)
    shown = Pass.model_validate({**item.model_dump(mode="json"), "params": {**item.params, **changed}})
    return look.model_copy(update={"passes": tuple(shown if p.id == of else p for p in look.passes)})


@router.post("/api/shots/{shot_id}/palette")
def put(services: Shared, shot_id: str, request: PutPaletteRequest) -> Edited:
    """Put a palette into a pass, where it is animated as a whole too."""
    item, changed = with_palette(services.projects.bench.open(shot_id, request.base).look, request.of, list(request.colours))
    commands = [Set(target=join(["look", "passes", item.id, "params", key]), value=value) for key, value in changed.items()]
    return stored(services, shot_id, request, commands, f"{item.name}: {request.name or f'{len(request.colours)} colours'}")


@router.get("/api/shots/{shot_id}/palettes/{revision}/{frame}.jpg", response_class=Response)
def variant(
    services: Shared, shot_id: str, revision: int, frame: int, of: Annotated[str, Query(max_length=40)], colours: Hexes, if_none_match: IfNoneMatch = None
) -> Response:
    """What a palette would make of a frame, in the pass `of`."""
    benched = services.projects.bench.open(shot_id, revision)
    request = Request(node=benched.worn(recoloured(benched.look, of, [f"#{c}" for c in colours.split("-")])), frame=frame, width=THUMBNAIL)
    return by_content(services.screen.pictures.key(request), if_none_match, "image/jpeg", lambda: services.screen.thumbnails.thumbnail(request))
