"""What selects: fit to picks, main colours, islands, fences, tracking, objects, coverage over time."""

from collections.abc import Iterator
from contextlib import closing, contextmanager, nullcontext
from dataclasses import asdict
from functools import partial

import numpy as np
from fastapi import APIRouter, Response
from fastapi.responses import StreamingResponse

from wenditas.api.lines import Gone, Lines, Say
from wenditas.api.models.shots import Edited, PickAnswer, PickRequest
from wenditas.api.models.where import (
    FenceAnswer,
    FenceRequest,
    FitAnswer,
    FitRequest,
    IslandView,
    MainColourView,
    ObjectAnswer,
    OutlineRequest,
    RenewRequest,
    ShapeStrokesRequest,
    TrackRequest,
)  # fmt: skip
from wenditas.api.routes.shots import stored
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import BadLook, NotFound
from wenditas.core.film import Footage, Shown
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.commands import Set
from wenditas.core.measure.coverage import weak_frames
from wenditas.core.measure.cuts import cuts
from wenditas.core.select.denoise import NO_NOISE, Noise, denoised
from wenditas.core.select.fit import Fit, fit_to_picks, startles
from wenditas.core.select.islands import Island, islands
from wenditas.core.select.keys import HueKey
from wenditas.core.select.objects.seen import Seen, working_size
from wenditas.core.select.picks import Pick
from wenditas.core.select.suggest import main_colours
from wenditas.core.select.tracks import TrackFrame, doubtful
from wenditas.core.tiles import single_threaded
from wenditas.media.reader import Reader
from wenditas.project import edits
from wenditas.project.benched import Benched
from wenditas.project.picking import Around, light_of, of_what_was_picked, picked
from wenditas.render.giving_up import until
from wenditas.render.request import Request
from wenditas.render.tracking import Greys, Progress, Seeing, bends, grey_of, grey_picture, on_edges, track_shape
from wenditas.store.database import new_id

router = APIRouter(tags=["where"])
FIT_WIDTH, COLOURS_WIDTH, ISLANDS_WIDTH, TRACK_WIDTH = 1280, 320, 640, 1280


def _source(services: Services, benched: Benched, frame: int, width: int) -> Picture:
    return services.screen.pictures.picture(Request(node=benched.under, frame=frame, width=width))


@router.post("/api/shots/{shot_id}/picks")
def pick(services: Shared, shot_id: str, request: PickRequest) -> PickAnswer:
    """Sample the source around a place: a new selection, or a pick or not-this pick of one. It says so where not what was picked is selected."""
    benched = services.projects.bench.open(shot_id, request.base)
    look = benched.look
    box = (request.width, request.height) if request.width and request.height else None
    colour = services.screen.scopes.sample(Request(node=benched.under, frame=request.frame), request.x, request.y, request.patch, box)
    made = Pick(id=new_id(), colour=colour, x=request.x, y=request.y, frame=request.frame, patch=request.patch)
    found = picked(look, made, request.selection, request.refuse, request.key, request.name, _around(services, benched, request.frame))
    after = services.projects.bench.changed(benched, found.commands).look
    done = stored(services, shot_id, request, [*found.commands, *edits.following(look, after)], found.words)
    told = "" if request.refuse else _of_what_was_picked(services, services.projects.bench.open(shot_id, done.made), request, found.selection)
    return PickAnswer(view=done, made=done.made, selection=found.selection, note=f"{found.note} {told}".strip())


def _around(services: Services, benched: Benched, frame: int) -> Around:
    """What is known of a frame that is picked from."""
    noise = benched.under.footage_noise
    light = light_of(_source(services, benched, frame, COLOURS_WIDTH))
    return Around(light, noise, lambda key: _fit(services, benched, key, noise).key)


def _of_what_was_picked(services: Services, benched: Benched, request: PickRequest, selection: str) -> str:
    """What is to be said where little of what was picked is selected, or much of the frame."""
    matte = _matte(services, benched, request.frame, selection)
    rows, columns = matte.shape
    reach = max(1, round(request.patch / 2 * columns / benched.under.size[0]))
    row, column = min(int(request.y * rows), rows - 1), min(int(request.x * columns), columns - 1)
    part = matte[max(row - reach, 0) : row + reach + 1, max(column - reach, 0) : column + reach + 1]
    return of_what_was_picked(float(part.mean()), 100 * float(matte.mean()))


@router.post("/api/shots/{shot_id}/fit")
def fit(services: Shared, shot_id: str, request: FitRequest) -> FitAnswer:
    """Fit a key by hue to its picks, from measurements of the frames they were taken on. It asks first where it would select much more than before."""
    benched = services.projects.bench.open(shot_id, request.base)
    selection = benched.look.selection(request.selection)
    key = next((key for key in selection.keys if key.id == request.key), None)
    if not isinstance(key, HueKey) or not key.picks:
        raise BadLook("Fit to picks needs a key by hue with at least one pick.")
    noise = benched.under.footage_noise if selection.reads is None else NO_NOISE
    found = _fit(services, benched, key, noise)
    commands = edits.fitted(selection.id, found.key)
    fitted = services.projects.bench.changed(benched, commands).look
    nodes = (benched.worn(look) for look in (benched.look, fitted))
    before, after = (services.screen.coverage.at(node, request.frame, selection.id) for node in nodes)
    asks = startles(before, after) and not request.sure
    done = stored(services, shot_id, request, [] if asks else commands, f"{selection.name} fitted to its picks")
    words = f"{found.words} It covers {after:.1f} % of the frame, {before:.1f} % before."
    told = {"words": words, "apart": found.apart, "asks": asks, "inside": found.inside, "outside": found.outside, "before": before, "after": after}
    return FitAnswer(view=done, made=done.made, commands=commands, **told)


@router.post("/api/shots/{shot_id}/renewed")
def renew(services: Shared, shot_id: str, request: RenewRequest) -> Edited:
    """Key an older selection as new ones are: its keys by hue fitted anew, its edge following the picture's. One step to undo."""
    benched = services.projects.bench.open(shot_id, request.base)
    selection = benched.look.selection(request.selection)
    noise = benched.under.footage_noise if selection.reads is None else NO_NOISE
    fits = {k.id: _fit(services, benched, k, noise).key for k in selection.keys if isinstance(k, HueKey) and k.picks}
    return stored(services, shot_id, request, edits.renewed(selection, fits), f"{selection.name} keyed the newer way")


def _fit(services: Services, benched: Benched, key: HueKey, noise: Noise) -> Fit:
    return fit_to_picks(key, lambda frame: denoised(_source(services, benched, frame, FIT_WIDTH), noise), noise)


@router.get("/api/shots/{shot_id}/colours/{frame}")
def colours(services: Shared, shot_id: str, frame: int) -> list[MainColourView]:
    """The frame's main colours, most of the frame first."""
    return [MainColourView(**asdict(c)) for c in main_colours(_source(services, services.projects.bench.open(shot_id), frame, COLOURS_WIDTH))]


def _islands(services: Services, shot_id: str, revision: int, frame: int, selection: str) -> list[Island]:
    return islands(_matte(services, services.projects.bench.open(shot_id, revision), frame, selection))


def _matte(services: Services, benched: Benched, frame: int, selection: str) -> Matte:
    request = Request(node=benched.worn(benched.look), frame=frame, width=ISLANDS_WIDTH, shown=Shown(view="matte", selection=selection))
    return np.asarray(services.screen.scopes.matte(request)[0])


@router.get("/api/shots/{shot_id}/islands/{revision}/{frame}")
def list_islands(services: Shared, shot_id: str, revision: int, frame: int, selection: str) -> list[IslandView]:
    """The islands of a selection's matte, largest first."""
    found = _islands(services, shot_id, revision, frame, selection)
    return [IslandView(share=i.share, coverage=i.coverage, box=i.box, outline=[(float(x), float(y)) for x, y in i.outline]) for i in found]


@router.post("/api/shots/{shot_id}/fences")
def fence(services: Shared, shot_id: str, request: FenceRequest) -> FenceAnswer:
    """Fence an island off, or keep only it: a shape around it."""
    look = services.projects.bench.open(shot_id, request.base).look
    found = _islands(services, shot_id, request.base, request.frame, request.selection)
    if request.island >= len(found):
        raise BadLook(f"There is no island {request.island + 1} at frame {request.frame}.")
    commands, words, shape_id = edits.fence(look, request.selection, request.frame, found[request.island], request.keep)
    done = stored(services, shot_id, request, commands, words)
    return FenceAnswer(view=done, made=done.made, shape=shape_id)


@router.get("/api/tracks/{digest}")
def one_track(services: Shared, digest: str, response: Response) -> list[TrackFrame]:
    """The frames of a track. They never change."""
    try:
        found = services.projects.documents.tracks[digest]
    except KeyError:
        raise NotFound(f"There is no track {digest!r}.") from None
    response.headers["cache-control"] = "private, max-age=31536000, immutable"
    return list(found.frames)


@contextmanager
def _greys(services: Services, benched: Benched) -> Iterator[Greys]:
    """What a track follows: frames of footage as they are decoded, or pictures of what lies under a look."""
    if benched.footage is None:
        yield lambda frame: grey_of(_source(services, benched, frame, TRACK_WIDTH))
        return
    opened = services.projects.library.open(benched.footage)
    with closing(Reader(opened.path, opened.facts, opened.index, lut=opened.lut)) as reader:
        yield partial(grey_picture, reader)


@contextmanager
def _seeing(services: Services, benched: Benched) -> Iterator[Seeing]:
    """Frames as objects are sought in them."""
    height, width = working_size(benched.under.size[1], benched.under.size[0])
    noise = benched.under.footage_noise
    if benched.footage is None:
        yield lambda frame: Seen.of(_source(services, benched, frame, width), noise)
        return
    opened = services.projects.library.open(benched.footage)
    with closing(Reader(opened.path, opened.facts, opened.index, lut=opened.lut)) as reader:
        yield lambda frame: Seen.of(reader.picture(frame, (height, width)), noise)


@router.get("/api/shots/{shot_id}/snaps/{revision}/{frame}")
def snap(services: Shared, shot_id: str, revision: int, frame: int, selection: str, shape: str) -> list[tuple[float, float]]:
    """Where the points of a path or polygon would lie on the nearest strong edge of a frame, in the shape's own place. Nothing is changed."""
    benched = services.projects.bench.open(shot_id, revision)
    drawn = edits.shape_of(look_at(benched.look, frame, float(benched.under.rate)), selection, shape)
    if not bends(drawn):
        raise BadLook(f"{drawn.name} has no points that could go to an edge; a path or a polygon has.")
    return on_edges(grey_of(_source(services, benched, frame, TRACK_WIDTH)), drawn, frame)


def _progress(say: Say, progress: Progress) -> None:
    say({"kind": "progress", **asdict(progress)})


@router.post("/api/shots/{shot_id}/tracks", response_class=StreamingResponse)
def track(services: Shared, shot_id: str, request: TrackRequest) -> Lines:
    """Track a shape. Lines of JSON: progress while it goes on, then the shot's new state; closing the connection cancels."""
    benched = services.projects.bench.open(shot_id, request.base)
    look, (first, last) = benched.look, benched.ends
    ends = min(first, request.frame), max(last, request.frame)  # a shot's own frames, and the one that it is told at
    shape = edits.shape_of(look, request.selection, request.shape)
    shown = edits.shape_of(look_at(look, request.frame, float(benched.under.rate)), request.selection, request.shape)

    def work(say: Say, gone: Gone) -> None:
        with _greys(services, benched) as greys, _seeing(services, benched) if request.bends else nullcontext() as seen:
            progress = partial(_progress, say)
            found = track_shape(greys, shape, request.frame, request.direction, *ends, progress, gone, shown, seen)
        if found is None:
            return
        value = found.shape.model_dump(mode="json")
        commands = [Set(target=edits.selection_target(request.selection, "shapes", shape.id, field), value=value[field]) for field in ("track", "corrections")]
        words = f"{shape.name} tracked {request.direction}{', bending,' if request.bends else ''} from frame {request.frame}"
        done = stored(services, shot_id, request, commands, words, (found.shape.track,))
        say({"kind": "done", "lost": found.lost, "doubtful": doubtful(found.shape.track), "view": done.model_dump(mode="json"), "made": done.made})

    return Lines(services.background.long, work)


def _footage_under(benched: Benched) -> Footage:
    if not isinstance(benched.under, Footage):
        raise BadLook("An object is carried through a shot's own footage. Stroke it on the shot.")
    return benched.under


@router.post("/api/shots/{shot_id}/outlines")
def outline_object(services: Shared, shot_id: str, request: OutlineRequest) -> FenceAnswer:
    """Make a shape of an object as it lies at a frame. The object is switched off; its strokes stay."""
    benched = services.projects.bench.open(shot_id, request.base)
    part = edits.object_of(benched.look, request.selection, request.object)
    matte = services.screen.pictures.things.carried(_footage_under(benched), part.strokes, request.frame).matte
    commands, words, shape = edits.shape_from(benched.look, request.selection, part, matte, request.frame)
    done = stored(services, shot_id, request, commands, words)
    return FenceAnswer(view=done, made=done.made, shape=shape)


@router.post("/api/shots/{shot_id}/objects")
def stroke_shape(services: Shared, shot_id: str, request: ShapeStrokesRequest) -> ObjectAnswer:
    """Make an object of a shape as it lies at a frame: strokes within it and around it. The shape is switched off."""
    benched = services.projects.bench.open(shot_id, request.base)
    _footage_under(benched)
    shape = edits.shape_of(look_at(benched.look, request.frame, float(benched.under.rate)), request.selection, request.shape)
    commands, words, made = edits.object_from(benched.look, request.selection, shape, request.frame)
    done = stored(services, shot_id, request, commands, words)
    return ObjectAnswer(view=done, made=done.made, object=made)


@router.get("/api/shots/{shot_id}/objects/{revision}", response_class=StreamingResponse)
def carry_object(services: Shared, shot_id: str, revision: int, selection: str, object: str, frame: int) -> Lines:
    """Carry an object through a shot, outward from a frame: lines of JSON, how sure each frame is. Closing the connection stops it; what is made stays.

    Raises `BadLook` for what is not there, and where it is not footage that lies under the look.
    """
    benched = services.projects.bench.open(shot_id, revision)
    footage, strokes = _footage_under(benched), edits.object_of(benched.look, selection, object).strokes

    def work(say: Say, gone: Gone) -> None:
        with until(gone), single_threaded():
            for number, sure in services.screen.pictures.things.through(footage, strokes, frame, benched.ends):
                say({"kind": "sure", "frame": number, "sure": round(sure, 3)})
                services.background.live.give_way()
        say({"kind": "done"})

    return Lines(services.background.long, work)


@router.get("/api/shots/{shot_id}/over-time/{revision}", response_class=StreamingResponse)
def over_time(services: Shared, shot_id: str, revision: int, selection: str) -> Lines:
    """Coverage of every frame in percent, those in use first, as it becomes known (lines of JSON), and at the end the weak frames among these."""
    benched = services.projects.bench.open(shot_id, revision)
    benched.look.selection(selection)
    node, (first, last) = benched.worn(benched.look), benched.ends

    def work(say: Say, gone: Gone) -> None:
        values = np.full(node.length, np.nan)
        for begin, batch in services.screen.coverage.over_time(node, selection, (first, last), gone, services.background.live.give_way):
            values[begin : begin + len(batch)] = batch
            say({"kind": "values", "first": begin, "values": batch})
        if not gone():
            found = weak_frames(values, first, last, cuts(services.screen.coverage.changes(node)))
            say({"kind": "done", "weak": [asdict(w) for w in found]})

    return Lines(services.background.long, work)
