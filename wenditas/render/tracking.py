"""Tracking a shape through footage."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.measure.cuts import change, glimpse
from wenditas.core.select.bending import Bender
from wenditas.core.select.edges import lies, snapped, spread
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.shapes import Correction, Shape, bent, correction_at, outline, track_at, transform_at
from wenditas.core.select.similarity import Similarity
from wenditas.core.select.track import DOUBT, LOST, Grey, Tracker
from wenditas.core.select.tracks import Track, TrackFrame
from wenditas.media.reader import Reader
from wenditas.render.things import SCENE

Greys = Callable[[int], Grey]  # the luma of a frame
Seeing = Callable[[int], Seen]  # a frame as objects are sought in it
Direction = Literal["forward", "backward", "both"]
MOST_LINES = 720
APART = 6.0  # pixels of 1080 lines between the places of an outline that are looked at
NEAR = 16.0  # pixels of 1080 lines within which an edge is looked for
ON_AN_EDGE = 0.5  # how well an outline lies from which on it was drawn along an edge


@dataclass(frozen=True)
class Progress:
    """One more frame: done of total, and how sure the track is there."""

    done: int
    total: int
    frame: int
    confidence: float


@dataclass(frozen=True)
class Tracked:
    """The shape with its new track, and the frames where it was lost (forward, backward), if it was."""

    shape: Shape
    lost: tuple[int, ...]


def grey_picture(reader: Reader, number: int) -> Grey:
    """The luma of a frame at 8 bits, upright, at most 720 lines."""
    facts = reader.facts
    lines = min(MOST_LINES, facts.height)
    planes = reader.planes(number)
    if planes is not None and planes.planes[0].dtype == np.uint8:
        grey = planes.planes[0][: planes.height, : planes.width]
    else:
        picture = reader.picture(number)
        grey = np.clip(picture[1] * 255, 0, 255).astype(np.uint8)
    if grey.shape[0] != lines:
        grey = cv2.resize(grey, (round(facts.width * lines / facts.height), lines), interpolation=cv2.INTER_AREA)
    return np.ascontiguousarray(grey)


def grey_of(picture: Picture) -> Grey:
    """The green of a picture as its luma at 8 bits, at most 720 lines."""
    grey = np.clip(picture[1] * 255, 0, 255).astype(np.uint8)
    height, width = grey.shape
    if height > MOST_LINES:
        grey = cv2.resize(grey, (round(width * MOST_LINES / height), MOST_LINES), interpolation=cv2.INTER_AREA)
    return np.ascontiguousarray(grey)


@dataclass(frozen=True)
class Followed:
    """A frame that a shape was followed to. move: of the whole since the start, in pixels of 1080 lines; points: its own ones as they lie, where it bends."""

    frame: int
    move: Similarity
    confidence: float
    lies: float | None
    points: Floats | None = None


def places_of(shape: Shape, frame: int) -> tuple[Floats, list[int]]:
    """Places along a shape's outline at a frame, some pixels of 1080 lines apart, `(n, 2)`, and which of them are its own points."""
    line = outline(shape, frame)
    own = list(range(0, len(line), len(line) // len(shape.points))) if bends(shape) else []
    places, at = list[Floats](), list[int]()
    for n, first in enumerate(own):
        part = np.concatenate([line, line[:1]])[first : own[n + 1] + 1 if n + 1 < len(own) else len(line) + 1]
        far = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(part, axis=0), axis=1))])
        steps = np.linspace(0, far[-1], max(1, round(far[-1] / APART)), endpoint=False)
        at.append(sum(map(len, places)))
        places.append(np.stack([np.interp(steps, far, part[:, k]) for k in (0, 1)], axis=1))
    return (np.concatenate(places), at) if places else (spread(line, APART), at)


def bends(shape: Shape) -> bool:
    """Whether it has points that can go each its own way."""
    return shape.kind in ("path", "polygon")


def _run(greys: Greys, shape: Shape, start: int, frames: range) -> Iterator[Followed]:
    """Follow the shape from `start` through `frames`; ends where it is lost (which is given, with its low confidence)."""
    first = greys(start)
    scale = first.shape[0] / 1080
    places, _ = places_of(shape, start)
    tracker, began = Tracker(first, outline(shape, start) * scale), lies(first, places * scale)
    for number in frames:
        grey = greys(number)
        step = tracker.step(grey)
        move = Similarity(step.move.m, step.move.t / scale)
        yield Followed(number, move, step.confidence, _how_it_lies(grey, move(places) * scale, began))
        if step.confidence < LOST:
            return


def _how_it_lies(grey: Grey, places: Floats, began: float) -> float | None:
    """How well an outline lies, of how well it did at the start; None where it did not lie on an edge there."""
    return None if began < ON_AN_EDGE else round(min(lies(grey, places) / began, 1.0), 3)


def _bending(greys: Greys, seen: Seeing, shape: Shape, start: int, frames: range) -> Iterator[Followed]:
    """The same with points that go each its own way. It is not lost but at a cut: where the thing is out of sight it waits, and is not sure."""
    first, here = greys(start), seen(start)
    scale, unit = first.shape[0] / 1080, here.size[0] / 1080
    places, own = places_of(shape, start)
    tracker, bender, began = Tracker(first, outline(shape, start) * scale), Bender(here, places * unit), lies(first, places * scale)
    before = Similarity()
    for number in frames:
        grey, there = greys(number), seen(number)
        if change(glimpse(here.picture), glimpse(there.picture)) > SCENE:
            yield Followed(number, before, 0, None)
            return
        step, here = tracker.step(grey), there
        move = Similarity(step.move.m, step.move.t / scale) if step.confidence >= LOST else before
        stiff, before = (move @ before.inverse())(bender.points / unit), move
        points = bender.step(there, stiff * unit, move(places) * unit if step.confidence > DOUBT else None) / unit
        yield Followed(number, move, max(bender.sure, LOST), _how_it_lies(grey, points * scale, began), points[own])


def _bend(own: Floats, there: Floats) -> tuple[tuple[float, float, float, float], ...]:
    return tuple((round(x, 2), round(y, 2), round(u - x, 2), round(v - y, 2)) for (x, y), (u, v) in zip(own.tolist(), there.tolist(), strict=True))


def on_edges(grey: Grey, shape: Shape, frame: int) -> list[tuple[float, float]]:
    """The points of a shape as they would lie on the strongest edge near by, in its own place: as far as one that was dragged there would be."""
    scale = grey.shape[0] / 1080
    places, own = places_of(shape, frame)
    there = snapped(grey, places * scale, max(1, round(NEAR * scale)))[own] / scale
    home = transform_at(shape, frame).inverse()
    shifts = home(there) - bent(shape, frame)
    return [(round(p.x + float(dx), 2), round(p.y + float(dy), 2)) for p, (dx, dy) in zip(shape.points, shifts, strict=True)]


def track_shape(
    greys: Greys,
    shape: Shape,
    start: int,
    direction: Direction,
    first: int,
    last: int,
    progress: Callable[[Progress], None],
    cancelled: Callable[[], bool],
    shown: Shape | None = None,
    seen: Seeing | None = None,
) -> Tracked | None:
    """Track a shape from where it lies at `start`, within `first`..`last`. None where cancelled.

    greys: the luma of each frame. shown: the shape as it is at `start`, where its path is animated. seen: each frame as objects are sought in it,
    where its points are to go each its own way.

    Earlier track and corrections stay on the other side of `start`; what was corrected at
    `start` is carried along.
    """
    runs = {"forward": range(start + 1, last + 1), "backward": range(start - 1, first - 1, -1)}
    chosen = [d for d in runs if direction in (d, "both")]
    total = sum(len(runs[d]) for d in chosen)
    track = {t.frame: t for t in shape.track}
    here, correction = track_at(shape, start), correction_at(shape, start)
    corrections = {c.frame: c for c in shape.corrections}
    if corrections:
        corrections[start] = Correction(frame=start, values=correction.values())
    drawn = shown or shape
    own, there = np.array([(p.x, p.y) for p in drawn.points]), bent(drawn, start)
    track[start] = TrackFrame(frame=start, values=here.values(), confidence=1, bend=_bend(own, there) if (own != there).any() else ())
    lost, done = [], 0
    for name in chosen:
        ahead = (lambda f: f > start) if name == "forward" else (lambda f: f < start)
        track = {f: t for f, t in track.items() if not ahead(f)}
        corrections = {f: c for f, c in corrections.items() if not ahead(f)}
        run = _run(greys, drawn, start, runs[name]) if seen is None or not bends(drawn) else _bending(greys, seen, drawn, start, runs[name])
        for at in run:
            if cancelled():
                return None
            done += 1
            progress(Progress(done, total, at.frame, at.confidence))
            if at.confidence < LOST:
                lost.append(at.frame)
                break
            whole = correction.inverse() @ at.move @ correction @ here
            bend = track[start].bend if at.points is None else _bend(own, (correction @ whole).inverse()(at.points))
            values = tuple(round(v, 5) for v in whole.values())
            track[at.frame] = TrackFrame(frame=at.frame, values=values, confidence=round(at.confidence, 3), bend=bend, lies=at.lies)
    frames, held = tuple(track[f] for f in sorted(track)), tuple(corrections[f] for f in sorted(corrections))
    return Tracked(shape.model_copy(update={"track": Track(frames), "corrections": held}), tuple(lost))
