"""Footage: upload, facts, pictures, sound."""

from collections.abc import AsyncIterator
from fractions import Fraction
from pathlib import Path
from typing import Annotated

import anyio
from fastapi import APIRouter, Query
from fastapi import Request as Http
from fastapi.responses import FileResponse, Response

from wenditas.api.answers import IfNoneMatch, by_content
from wenditas.api.models.footage import ConformRequest, FieldsRequest, Footage, TakenView, TracksRequest
from wenditas.api.shared import Shared
from wenditas.api.sounds import Range, wav
from wenditas.api.views import footage_view
from wenditas.app.services import Services
from wenditas.core.errors import DiskFull, NotFound, TooLarge
from wenditas.media.playable import of_file
from wenditas.media.sound import peaks
from wenditas.project.arrivals import Taken
from wenditas.project.library import id_of
from wenditas.render.request import Request
from wenditas.store import footage, projects, shots
from wenditas.store.shots import ShotRow

router = APIRouter(tags=["footage"])

MOST_BYTES = 16 << 30
SPARE_BYTES = 256 << 20
SMALL_WIDTH = 240
FOREVER = {"cache-control": "private, max-age=31536000, immutable"}


def room(services: Services) -> int:
    """How many bytes may arrive. Raises `DiskFull` where there is room for none."""
    free = services.projects.library.free_bytes()
    if free <= SPARE_BYTES:
        raise DiskFull(f"There is no room: {free >> 20} MiB are free, and {SPARE_BYTES >> 20} MiB are kept for edits. Make room and send the file again.")
    return min(MOST_BYTES, free - SPARE_BYTES)


async def receive(stream: AsyncIterator[bytes], path: Path, most: int) -> None:
    """Write what arrives to a file. Raises `TooLarge`."""
    got = 0
    async with await anyio.open_file(path, "wb") as file:
        async for chunk in stream:
            got += len(chunk)
            if got > most:
                raise TooLarge(f"The file is larger than {most / (1 << 30):.2g} GiB, the most that fits here.")
            await file.write(chunk)


@router.post("/api/projects/{project_id}/footage")
async def upload(services: Shared, request: Http, project_id: str, name: Annotated[str, Query(min_length=1, max_length=255)]) -> TakenView:
    """Take in a file sent as the request's body. It becomes footage only when complete and usable.

    Of a damaged file that can be used in part the answer is a refusal which says what is wrong, and by what id (`held`) it can be taken all the same.
    """
    projects.project(services.db, project_id)
    path = services.projects.library.incoming()
    try:
        await receive(request.stream(), path, room(services))
        taken = await anyio.to_thread.run_sync(services.projects.arrivals.take_in, project_id, path, plain_name(name))
    finally:
        path.unlink(missing_ok=True)
    return taken_view(services, taken)


@router.post("/api/projects/{project_id}/held/{held}")
def take_what_is_there(services: Shared, project_id: str, held: str) -> TakenView:
    """Take what can be used of a damaged file that was sent."""
    return taken_view(services, services.projects.arrivals.take_held(project_id, held))


@router.delete("/api/projects/{project_id}/held/{held}", status_code=204)
def leave_it(services: Shared, project_id: str, held: str) -> None:
    """Forget a damaged file that was sent."""
    services.projects.arrivals.drop_held(project_id, held)


def taken_view(services: Services, taken: Taken) -> TakenView:
    """What came in; its small pictures are made soon."""
    if not taken.already:
        services.hub.publish(kind="project", id=taken.row.project_id)
        services.background.later(services.make_ready, taken.row.id)
    return TakenView(**footage_view(services, taken.row).model_dump(), already=taken.already)


@router.post("/api/footage/{footage_id}/fields")
def fields(services: Shared, footage_id: str, request: FieldsRequest) -> Footage:
    """What is made of the fields of interlaced footage that has no shots yet. It has another id then."""
    row = services.projects.library.weave(footage_id, request.fields)
    return replaced(services, footage_id, row.id)


@router.post("/api/footage/{footage_id}/tracks")
def tracks(services: Shared, footage_id: str, request: TracksRequest) -> Footage:
    """Which tracks of a file of several are used, of footage that has no shots yet. It has another id then."""
    row = services.projects.library.use_tracks(footage_id, request.picture, request.sound)
    return replaced(services, footage_id, row.id)


@router.post("/api/footage/{footage_id}/conform")
def conform(services: Shared, footage_id: str, request: ConformRequest) -> Footage:
    """Show footage that has no shots yet at another rate: frames are held or left out, never sped up. It has another id then."""
    row = services.projects.library.conform(footage_id, Fraction(request.rate))
    return replaced(services, footage_id, row.id)


def plain_name(name: str) -> str:
    """A file name as a label: no folders, no control characters. It is never used as a path."""
    return "".join(c for c in name.replace("\\", "/").rsplit("/", 1)[-1] if c.isprintable()).strip() or "footage"


def replaced(services: Services, old: str, new: str) -> Footage:
    """Footage that has another id now, since its frames are others: its small pictures are made soon, and the old file is let go."""
    services.screen.pictures.readers.let_go(lambda content: id_of(content) == old)
    changed(services, new)
    services.background.later(services.make_ready, new)
    return footage_view(services, footage.footage(services.db, new))


def changed(services: Services, footage_id: str) -> None:
    """Tell all windows that footage of a project has changed."""
    services.hub.publish(kind="project", id=footage.footage(services.db, footage_id).project_id)


@router.delete("/api/footage/{footage_id}", status_code=204)
def remove(services: Shared, footage_id: str) -> None:
    """Remove footage with its shots; `restore` brings both back for a day."""
    footage.set_removed(services.db, footage_id, True)
    services.screen.pictures.readers.let_go(lambda content: id_of(content) == footage_id)
    changed(services, footage_id)


@router.post("/api/footage/{footage_id}/restore", status_code=204)
def restore(services: Shared, footage_id: str) -> None:
    """Bring back removed footage."""
    row, library = footage.footage(services.db, footage_id), services.projects.library
    if not (library.media_path(row).exists() and library.index_path(row.id).exists()):
        raise NotFound("This footage was removed more than a day ago, and what was kept of it is gone. Bring it in again.")
    footage.set_removed(services.db, footage_id, False)
    changed(services, footage_id)


@router.post("/api/footage/{footage_id}/shots")
def add_shot(services: Shared, footage_id: str) -> ShotRow:
    """A new shot of all frames, with an empty look."""
    row = footage.footage(services.db, footage_id)
    taken = {s.name for s in shots.shots_of(services.db, row.project_id)}
    stem = Path(row.name).stem or row.name
    name = next(n for n in (stem, *(f"{stem} {k}" for k in range(2, 10_000))) if n not in taken)
    made = services.projects.documents.new_shot(footage_id, name)
    changed(services, footage_id)
    return made


@router.get("/api/footage/{footage_id}/poster.jpg", response_class=FileResponse)
def poster(services: Shared, footage_id: str) -> FileResponse:
    """A picture from a third of the way in."""
    return FileResponse(services.screen.thumbnails.poster(services.projects.library.node(footage_id)), media_type="image/jpeg", headers=FOREVER)


@router.get("/api/footage/{footage_id}/strip.jpg", response_class=FileResponse)
def strip(services: Shared, footage_id: str) -> FileResponse:
    """Frames spread evenly over the footage, side by side."""
    return FileResponse(services.screen.thumbnails.strip(services.projects.library.node(footage_id)), media_type="image/jpeg", headers=FOREVER)


@router.get("/api/footage/{footage_id}/frames/{frame}.jpg", response_class=Response)
def small_frame(services: Shared, footage_id: str, frame: int, if_none_match: IfNoneMatch = None) -> Response:
    """A small picture of a frame, for the film strip where time is zoomed."""
    request = Request(node=services.projects.library.node(footage_id), frame=frame, width=SMALL_WIDTH)
    return by_content(services.screen.pictures.key(request), if_none_match, "image/jpeg", lambda: services.screen.pictures.encoded(request, "jpg", "strip"))


def _sounding(services: Services, footage_id: str) -> tuple[Path, float, float, int]:
    """The file of footage that has sound, when in it the first frame is shown, for how many seconds, and which of its tracks is heard. Raises `NotFound`."""
    row, facts = footage.footage(services.db, footage_id), services.projects.library.facts(footage_id)
    if facts.sound is None:
        raise NotFound("This footage has no sound.")
    return services.projects.library.media_path(row), services.projects.nodes.sound_start(footage_id, 0), facts.seconds, facts.sound_track


@router.get("/api/footage/{footage_id}/sound.wav", response_class=Response)
def sound(services: Shared, footage_id: str, asked: Range = None) -> Response:
    """The sound, aligned with the first frame, in a form the browser plays: worked out as it is played."""
    source, start, seconds, track = _sounding(services, footage_id)
    return wav(asked, seconds, of_file(source, start, seconds, track), FOREVER)


@router.get("/api/footage/{footage_id}/peaks", response_class=FileResponse)
def wave(services: Shared, footage_id: str) -> FileResponse:
    """How loud the sound is, aligned with the first frame: a byte for each fiftieth of a second."""
    source, start, seconds, track = _sounding(services, footage_id)

    def make(part: Path) -> None:
        part.write_bytes(peaks(source, start, seconds, track))

    path = services.projects.library.cached_file(f"peaks-{footage_id}.bin", make)
    return FileResponse(path, media_type="application/octet-stream", headers=FOREVER)
