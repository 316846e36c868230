"""Tracking a shape through footage."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.select.shapes import Correction, Shape, correction_at, outline, track_at
from wenditas.core.select.similarity import Similarity
from wenditas.core.select.track import LOST, Grey, Tracker
from wenditas.core.select.tracks import Track, TrackFrame
from wenditas.media.reader import Reader

Greys = Callable[[int], Grey]  # the luma of a frame
Direction = Literal["forward", "backward", "both"]
MOST_LINES = 720


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


def _run(greys: Greys, shape: Shape, start: int, frames: range) -> Iterator[tuple[int, Similarity, float]]:
    """Follow the shape from `start` through `frames`; ends where it is lost (which is given, with its low confidence)."""
    first = greys(start)
    scale = first.shape[0] / 1080
    tracker = Tracker(first, outline(shape, start) * scale)
    for number in frames:
        step = tracker.step(greys(number))
        yield number, Similarity(step.move.m, step.move.t / scale), step.confidence
        if step.confidence < LOST:
            return


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
) -> Tracked | None:
    """Track a shape from where it lies at `start`, within `first`..`last`. None where cancelled.

    greys: the luma of each frame. shown: the shape as it is at `start`, where its path is animated.

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
    track[start] = TrackFrame(frame=start, values=here.values(), confidence=1)
    lost, done = [], 0
    for name in chosen:
        ahead = (lambda f: f > start) if name == "forward" else (lambda f: f < start)
        track = {f: t for f, t in track.items() if not ahead(f)}
        corrections = {f: c for f, c in corrections.items() if not ahead(f)}
        for number, move, confidence in _run(greys, shown or shape, start, runs[name]):
            if cancelled():
                return None
            done += 1
            progress(Progress(done, total, number, confidence))
            if confidence < LOST:
                lost.append(number)
                break
            values = (correction.inverse() @ move @ correction @ here).values()
            track[number] = TrackFrame(frame=number, values=tuple(round(v, 5) for v in values), confidence=round(confidence, 3))
    frames, held = tuple(track[f] for f in sorted(track)), tuple(corrections[f] for f in sorted(corrections))
    return Tracked(shape.model_copy(update={"track": Track(frames), "corrections": held}), tuple(lost))
