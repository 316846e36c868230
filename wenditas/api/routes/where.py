"""What selects: fit to picks, main colours, islands, fences, tracking, coverage over time."""

from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import asdict
from functools import partial

import numpy as np
from fastapi import APIRouter, Response
from fastapi.responses import StreamingResponse

from wenditas.api.lines import Gone, Lines, Say
from wenditas.api.models.where import FenceAnswer, FenceRequest, FitAnswer, FitRequest, IslandView, MainColourView, TrackRequest
from wenditas.api.routes.shots import stored
from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.core.errors import BadLook, NotFound
from wenditas.core.film import Shown
from wenditas.core.kernel import Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.commands import Command, Set
from wenditas.core.measure.coverage import weak_frames
from wenditas.core.measure.cuts import cuts
from wenditas.core.select.denoise import denoised
from wenditas.core.select.fit import fit_to_picks, startles
from wenditas.core.select.islands import Island, islands
from wenditas.core.select.keys import HueKey
from wenditas.core.select.suggest import main_colours
from wenditas.core.select.tracks import TrackFrame, doubtful
from wenditas.media.reader import Reader
from wenditas.project import edits
from wenditas.project.benched import Benched
from wenditas.render.request import Request
from wenditas.render.tracking import Greys, Progress, grey_of, grey_picture, track_shape

router = APIRouter(tags=["where"])
FIT_WIDTH, COLOURS_WIDTH, ISLANDS_WIDTH, TRACK_WIDTH = 1280, 320, 640, 1280
FITTED = ("tolerance", "least_chroma", "gate_softness", "hue_offset")


def _source(services: Services, benched: Benched, frame: int, width: int) -> Picture:
    return services.screen.pictures.picture(Request(node=benched.under, frame=frame, width=width))


@router.post("/api/shots/{shot_id}/fit")
def fit(services: Shared, shot_id: str, request: FitRequest) -> FitAnswer:
    """Fit a key by hue to its picks, from measurements of the frames they were taken on. It asks first where it would select much more than before."""
    benched = services.projects.bench.open(shot_id, request.base)
    selection = benched.look.selection(request.selection)
    key = next((key for key in selection.keys if key.id == request.key), None)
    if not isinstance(key, HueKey) or not key.picks:
        raise BadLook("Fit to picks needs a key by hue with at least one pick.")
    noise = selection.noise(benched.under.footage_noise)
    found = fit_to_picks(key, lambda frame: denoised(_source(services, benched, frame, FIT_WIDTH), noise))
    value = found.key.model_dump(mode="json")
    of_key = edits.selection_target(selection.id, "keys", key.id)
    commands: list[Command] = [Set(target=f"{of_key}/{field}", value=value[field]) for field in FITTED]
    fitted = services.projects.bench.changed(benched, commands).look
    nodes = (benched.worn(look) for look in (benched.look, fitted))
    before, after = (services.screen.coverage.at(node, request.frame, selection.id) for node in nodes)
    asks = startles(before, after) and not request.sure
    done = stored(services, shot_id, request, [] if asks else commands, f"{selection.name} fitted to its picks")
    words = f"{found.words} It covers {after:.1f} % of the frame, {before:.1f} % before."
    told = {"words": words, "apart": found.apart, "asks": asks, "inside": found.inside, "outside": found.outside, "before": before, "after": after}
    return FitAnswer(view=done, made=done.made, commands=commands, **told)


@router.get("/api/shots/{shot_id}/colours/{frame}")
def colours(services: Shared, shot_id: str, frame: int) -> list[MainColourView]:
    """The frame's main colours, most of the frame first."""
    return [MainColourView(**asdict(c)) for c in main_colours(_source(services, services.projects.bench.open(shot_id), frame, COLOURS_WIDTH))]


def _islands(services: Services, shot_id: str, revision: int, frame: int, selection: str) -> list[Island]:
    benched = services.projects.bench.open(shot_id, revision)
    matte = services.screen.scopes.matte(
        Request(node=benched.worn(benched.look), frame=frame, width=ISLANDS_WIDTH, shown=Shown(view="matte", selection=selection))
    )
    return islands(matte[0])


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
        with _greys(services, benched) as greys:
            progress = partial(_progress, say)
            found = track_shape(greys, shape, request.frame, request.direction, *ends, progress, gone, shown)
        if found is None:
            return
        value = found.shape.model_dump(mode="json")
        commands = [Set(target=edits.selection_target(request.selection, "shapes", shape.id, field), value=value[field]) for field in ("track", "corrections")]
        words = f"{shape.name} tracked {request.direction} from frame {request.frame}"
        done = stored(services, shot_id, request, commands, words, (found.shape.track,))
        say({"kind": "done", "lost": found.lost, "doubtful": doubtful(found.shape.track), "view": done.model_dump(mode="json"), "made": done.made})

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
