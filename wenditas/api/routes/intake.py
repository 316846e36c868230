"""Other ways in: from media folders without copying, numbered pictures as one piece of footage; and how footage is read, found again and replaced."""

import shutil
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi import Request as Http
from fastapi.responses import StreamingResponse

from wenditas.api.lines import Gone, Lines, Say
from wenditas.api.models.footage import (
    BegunView,
    EntryView,
    Footage,
    FromPlaceRequest,
    ListedView,
    MovedView,
    PlacedSequenceRequest,
    PlaceView,
    ReadingsRequest,
    ReplaceRequest,
    SequenceRequest,
    TakenView,
)
from wenditas.api.routes.footage import changed, plain_name, receive, room, taken_view
from wenditas.api.shared import Shared
from wenditas.api.views import footage_view
from wenditas.app.services import Services
from wenditas.core.errors import BadRequest, FootageDamaged, NotFound
from wenditas.media.sequence import NUMBER, SequenceJob, numbered
from wenditas.store import footage, projects

router = APIRouter(tags=["footage"])
MOST_PICTURES = 100_000


@router.get("/api/places")
def places(services: Shared) -> list[PlaceView]:
    """The media folders that were named at the start."""
    return [PlaceView(id=p.id, name=p.name) for p in services.projects.places.all.values()]


@router.get("/api/places/{place}")
def listed(services: Shared, place: str, path: Annotated[str, Query(max_length=4000)] = "") -> ListedView:
    """What is in a media folder, or in a folder within."""
    entries, total = services.projects.places.listed(place, path)
    return ListedView(entries=[EntryView(**vars(e)) for e in entries], total=total)


@router.post("/api/projects/{project_id}/footage/from-place")
def take_from_place(services: Shared, project_id: str, request: FromPlaceRequest) -> TakenView:
    """Use a file of a media folder as footage, where it lies."""
    projects.project(services.db, project_id)
    path = services.projects.places.inside(request.place, request.path)
    return taken_view(services, services.projects.arrivals.take_where_it_lies(project_id, path, request.take))


def _sent(services: Services, sequence: str) -> Path:
    """Where the pictures of a sequence arrive. Raises `NotFound`."""
    path = services.projects.library.folder / "incoming" / f"sequence-{sequence}"
    if not sequence.isalnum() or not path.is_dir():
        raise NotFound("These pictures are no longer here; send them again.")
    return path


@router.post("/api/projects/{project_id}/sequences")
def begin_sequence(services: Shared, project_id: str) -> BegunView:
    """Begin to send the pictures of a sequence."""
    projects.project(services.db, project_id)
    id = services.projects.library.incoming().name
    (services.projects.library.folder / "incoming" / f"sequence-{id}").mkdir()
    return BegunView(id=id)


@router.put("/api/sequences/{sequence}/pictures", status_code=204)
async def send_picture(services: Shared, request: Http, sequence: str, name: Annotated[str, Query(min_length=1, max_length=255)]) -> None:
    """Send one picture of a sequence as the request's body."""
    folder, plain = _sent(services, sequence), plain_name(name)
    if plain != name or plain in (".", "..") or not numbered([plain, plain, plain]):
        raise BadRequest(f"“{name}” is no picture of a sequence: that is a PNG, TIFF, EXR or DPX file with a number.")
    part = folder / f".{plain}.part"
    try:
        await receive(request.stream(), part, room(services))
        part.replace(folder / plain)
    finally:
        part.unlink(missing_ok=True)


@router.delete("/api/projects/{project_id}/sequences/{sequence}", status_code=204)
def leave_sequence(services: Shared, project_id: str, sequence: str) -> None:
    """Forget pictures that were sent."""
    shutil.rmtree(_sent(services, sequence), ignore_errors=True)


@router.post("/api/projects/{project_id}/sequences/from-place", response_class=StreamingResponse)
def take_placed(services: Shared, project_id: str, request: PlacedSequenceRequest) -> Lines:
    """Make footage of numbered pictures in a media folder, of which the path is the first; progress as lines."""
    projects.project(services.db, project_id)
    first = services.projects.places.inside(request.place, request.path)
    run = next((run for run in numbered([p.name for p in first.parent.iterdir() if not p.is_symlink()]) if first.name in run), None)
    if run is None:
        raise BadRequest(f"“{first.name}” is no picture of a sequence: at least three with names that differ by a number are.")
    return _lines(services, project_id, first.parent, run, request, None)


@router.post("/api/projects/{project_id}/sequences/{sequence}", response_class=StreamingResponse)
def take_sent(services: Shared, project_id: str, sequence: str, request: SequenceRequest) -> Lines:
    """Make footage of the pictures that were sent; progress as lines. Where they are damaged they stay, until it is said what to do."""
    projects.project(services.db, project_id)
    folder = _sent(services, sequence)
    runs = numbered([p.name for p in folder.iterdir()])
    if len(runs) != 1:
        raise BadRequest("These pictures are not one sequence: their names differ by more than a number, or there are fewer than three.")
    return _lines(services, project_id, folder, runs[0], request, folder)


def _lines(services: Services, project_id: str, folder: Path, names: list[str], request: SequenceRequest, sent: Path | None) -> Lines:
    nowhere = Path("unused")
    job = SequenceJob(folder=folder, names=tuple(names), rate=request.rate, alpha=request.alpha, take=request.take, target=nowhere, index=nowhere)
    last = NUMBER.match(names[-1])
    name = f"{Path(names[0]).stem}–{last[2]}" if last else names[0]

    def work(say: Say, gone: Gone) -> None:
        try:
            taken = services.projects.arrivals.take_sequence(
                project_id, job, name, lambda done, total: say({"kind": "progress", "done": done, "total": total}), gone
            )
        except FootageDamaged as damaged:
            say({"kind": "damaged", "damage": list(damaged.damage)})
            return
        if sent is not None:
            shutil.rmtree(sent, ignore_errors=True)
        taken_view(services, taken)
        say({"kind": "done", "name": taken.row.name, "already": taken.already, "id": taken.row.id})

    return Lines(services.background.long, work)


@router.put("/api/projects/{project_id}/readings")
def read_as(services: Shared, project_id: str, request: ReadingsRequest) -> list[Footage]:
    """Choose how footage is read: its signal as it is, tone-mapped from HLG or PQ, or through a LUT."""
    rows = [footage.footage(services.db, id) for id in request.readings]
    if any(row.project_id != project_id for row in rows):
        raise NotFound("Some of this footage is of another project.")
    made = [services.projects.library.read_as(row.id, request.readings[row.id]) for row in rows]
    services.projects.nodes.forget()
    services.hub.publish(kind="project", id=project_id)
    return [footage_view(services, row) for row in made]


@router.post("/api/footage/{footage_id}/find")
def find(services: Shared, footage_id: str) -> Footage:
    """Find the file of footage that has moved, or was touched, by its content."""
    row = services.projects.arrivals.find_again(footage_id, services.projects.places.all_files())
    changed(services, row.id)
    return footage_view(services, row)


@router.post("/api/footage/{footage_id}/replace")
def replace(services: Shared, footage_id: str, request: ReplaceRequest) -> MovedView:
    """Put other footage in the place of this, under all its shots or some of them."""

    def used(shot_id: str) -> int:
        return services.projects.documents.load(shot_id).document.last + 1

    moved = services.projects.library.replace_under(footage_id, request.by, used, request.shots)
    services.projects.nodes.forget()
    changed(services, footage_id)
    return MovedView(shots=moved)
