"""What selects: fit to picks, main colours, islands, fences, tracking, coverage over time."""

from contextlib import closing
from dataclasses import asdict
from functools import partial

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from wenditas.api.lines import Gone, Lines, Say
from wenditas.api.models import FenceAnswer, FenceRequest, FitAnswer, FitRequest, IslandView, MainColourView, TrackRequest
from wenditas.api.routes.shots import moved
from wenditas.api.services import Services, Shared
from wenditas.core.errors import BadLook
from wenditas.core.kernel import Picture
from wenditas.core.look.animate import look_at
from wenditas.core.measure.coverage import weak_frames
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.islands import Island, islands
from wenditas.core.select.keys import HueKey
from wenditas.core.select.suggest import main_colours
from wenditas.media.reader import Reader
from wenditas.project import edits
from wenditas.render.request import Request
from wenditas.render.tracking import Progress, track_shape
from wenditas.store import shots

router = APIRouter(tags=["where"])
FIT_WIDTH, COLOURS_WIDTH, ISLANDS_WIDTH = 1280, 320, 640


def _document(services: Services, shot_id: str, revision: int | None = None):  # type: ignore[no-untyped-def]
    row = shots.shot(services.db, shot_id)
    facts = services.library.facts(row.footage_id)
    head, document = edits.load(services.db, shot_id, facts, revision)
    return row, facts, head, document


def _source(services: Services, footage_id: str, frame: int, width: int) -> Picture:
    return services.pictures.picture(Request(node=services.library.node(footage_id), frame=frame, width=width))


@router.post("/api/shots/{shot_id}/fit")
def fit(services: Shared, shot_id: str, request: FitRequest) -> FitAnswer:
    """Fit a key by hue to its picks, from measurements of the frames they were taken on."""
    row, facts, _, document = _document(services, shot_id, request.base)
    selection = document.look.selection(request.selection)
    key = selection.keys[request.key] if request.key < len(selection.keys) else None
    if not isinstance(key, HueKey) or not key.picks:
        raise BadLook("Fit to picks needs a key by hue with at least one pick.")
    found = fit_to_picks(key, lambda frame: _source(services, row.footage_id, frame, FIT_WIDTH))
    patch = [{"op": "replace", "path": f"{edits.selection_path(document, selection.id)}/keys/{request.key}", "value": found.key.model_dump(mode="json")}]
    edits.edit(services.db, shot_id, facts, request.base, patch, f"{selection.name} fitted to its picks")
    return FitAnswer(view=moved(services, shot_id), words=found.words, apart=found.apart, overlap=found.overlap)


@router.get("/api/footage/{footage_id}/colours/{frame}")
def colours(services: Shared, footage_id: str, frame: int) -> list[MainColourView]:
    """The frame's main colours, most of the frame first."""
    return [MainColourView(**asdict(c)) for c in main_colours(_source(services, footage_id, frame, COLOURS_WIDTH))]


def _islands(services: Services, shot_id: str, revision: int, frame: int, selection: str) -> list[Island]:
    row, _, _, document = _document(services, shot_id, revision)
    node = services.nodes.shot(row.footage_id, document.look)
    matte = services.scopes.matte(Request(node=node, frame=frame, width=ISLANDS_WIDTH, view="matte", selection=selection))
    return islands(matte[0])


@router.get("/api/shots/{shot_id}/islands/{revision}/{frame}")
def list_islands(services: Shared, shot_id: str, revision: int, frame: int, selection: str) -> list[IslandView]:
    """The islands of a selection's matte, largest first."""
    found = _islands(services, shot_id, revision, frame, selection)
    return [IslandView(share=i.share, coverage=i.coverage, box=i.box, outline=[(float(x), float(y)) for x, y in i.outline]) for i in found]


@router.post("/api/shots/{shot_id}/fences")
def fence(services: Shared, shot_id: str, request: FenceRequest) -> FenceAnswer:
    """Fence an island off, or keep only it: a shape around it."""
    _, facts, _, document = _document(services, shot_id, request.base)
    found = _islands(services, shot_id, request.base, request.frame, request.selection)
    if request.island >= len(found):
        raise BadLook(f"There is no island {request.island + 1} at frame {request.frame}.")
    patch, words, shape_id = edits.fence_patch(document, request.selection, request.frame, found[request.island], request.keep)
    edits.edit(services.db, shot_id, facts, request.base, patch, words)
    return FenceAnswer(view=moved(services, shot_id), shape=shape_id)


def _progress(say: Say, progress: Progress) -> None:
    say({"kind": "progress", **asdict(progress)})


@router.post("/api/shots/{shot_id}/tracks", response_class=StreamingResponse)
def track(services: Shared, shot_id: str, request: TrackRequest) -> Lines:
    """Track a shape. Lines of JSON: progress while it goes on, then the shot's new state; closing the connection cancels."""
    row, facts, _, document = _document(services, shot_id)
    path = edits.shape_path(document, request.selection, request.shape)
    number = int(path.rsplit("/", 1)[1])
    shape = document.look.selection(request.selection).shapes[number]
    shown = look_at(document.look, request.frame, float(facts.frame_rate)).selection(request.selection).shapes[number]

    def work(say: Say, gone: Gone) -> None:
        opened = services.library.open(row.footage_id)
        with closing(Reader(opened.path, opened.facts, opened.index)) as reader:
            progress = partial(_progress, say)
            found = track_shape(reader, shape, request.frame, request.direction, 0, facts.length - 1, progress, gone, shown)
        if found is None:
            return
        _, _, head, newest = _document(services, shot_id)
        place = edits.shape_path(newest, request.selection, request.shape)
        value = found.shape.model_dump(mode="json")
        patch = [{"op": "replace", "path": f"{place}/{field}", "value": value[field]} for field in ("track", "corrections")]
        edits.edit(services.db, shot_id, facts, head, patch, f"{shape.name} tracked {request.direction} from frame {request.frame}")
        say({"kind": "done", "lost": found.lost, "view": moved(services, shot_id).model_dump(mode="json")})

    return Lines(services.long, work)


@router.get("/api/shots/{shot_id}/over-time/{revision}", response_class=StreamingResponse)
def over_time(services: Shared, shot_id: str, revision: int, selection: str) -> Lines:
    """Coverage of every frame in percent, as it becomes known (lines of JSON), and at the end the weak frames."""
    row, _, _, document = _document(services, shot_id, revision)
    document.look.selection(selection)
    node = services.nodes.shot(row.footage_id, document.look)

    def work(say: Say, gone: Gone) -> None:
        values: list[float] = []
        for first, batch in services.coverage.over_time(node, selection, gone, services.live.give_way):
            values += batch
            say({"kind": "values", "first": first, "values": batch})
        if not gone():
            say({"kind": "done", "weak": [asdict(w) for w in weak_frames(values)]})

    return Lines(services.long, work)
