"""A look through a whole file, as far as time allows: what cannot be decoded is told before anything is made of it."""

import time
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np

from wenditas.media.decode import decoded, decoder_of, sound_stream
from wenditas.media.index import Index
from wenditas.media.opening import open_media

SECONDS = 5.0  # for the picture, and again for the sound; beyond that the end alone is looked at
MOST_NAMED = 4  # stretches of frames that a sentence names


@dataclass(frozen=True)
class Scan:
    """The first picture, None where there is none; a sentence for what cannot be decoded; whether most frames are interlaced."""

    first: av.VideoFrame | None
    damage: tuple[str, ...]
    interlaced: bool = False


class Failures:
    """Counts what could not be decoded."""

    def __init__(self) -> None:
        self.count = 0

    def __call__(self) -> None:
        self.count += 1


def scan_picture(path: Path, stream_index: int, index: Index) -> Scan:
    """Decode a video stream. Packets without a picture of their own are damage only where the decoder complained."""
    failures, began = Failures(), time.monotonic()
    given = np.zeros(len(index.times), bool)
    first, finished, woven, seen = None, True, 0, 0
    with open_media(path) as container:
        stream = container.streams.video[[s.index for s in container.streams.video].index(stream_index)]
        decoder = decoder_of(stream)
        decoder.thread_type = "AUTO"
        for frame in decoded(container, stream, failures, decoder):
            first = first or frame
            woven, seen = woven + bool(frame.interlaced_frame), seen + 1
            if frame.pts is not None:
                at = int(np.searchsorted(index.times, frame.pts, side="right")) - 1
                given[max(at, 0)] = not frame.is_corrupt
            if time.monotonic() - began > SECONDS:
                finished = False
                break
    if not finished:
        return Scan(first, _end_missing(path, stream_index, index), 2 * woven > seen)
    if not failures.count or first is None:
        return Scan(first, (), 2 * woven > seen)
    return Scan(first, _missing(np.flatnonzero(~given), index), 2 * woven > seen)


def _missing(source: np.ndarray, index: Index) -> tuple[str, ...]:
    frames = np.flatnonzero(np.isin(index.order, source))
    if not len(frames):
        return ()
    runs = np.split(frames, np.flatnonzero(np.diff(frames) > 1) + 1)
    names = [f"{r[0]}" if len(r) == 1 else f"{r[0]} to {r[-1]}" for r in runs[:MOST_NAMED]] + (["…"] if len(runs) > MOST_NAMED else [])
    what = f"frame {names[0]}" if len(frames) == 1 else f"frames {', '.join(names)}"
    held = "the picture before it is held" if len(frames) == 1 else "the pictures before them are held"
    return (f"{len(frames)} of {len(index.order)} pictures cannot be decoded ({what}): {held}.",)


def _end_missing(path: Path, stream_index: int, index: Index) -> tuple[str, ...]:
    """A file cut short in its last group of pictures shows there."""
    with open_media(path) as container:
        stream = container.streams.video[[s.index for s in container.streams.video].index(stream_index)]
        container.seek(int(index.times[-1]), stream=stream)
        if any(True for _ in decoded(container, stream, decoder=decoder_of(stream))):
            return ()
    return ("The end of the picture cannot be decoded: the last picture that can be is held.",)


def scan_sound(path: Path, track: int = 0) -> tuple[str, ...]:
    """Decode a sound stream; a sentence where a part of it cannot be."""
    failures, began = Failures(), time.monotonic()
    given = 0
    with open_media(path) as container:
        for frame in decoded(container, sound_stream(container, track), failures):
            given += frame.samples
            if time.monotonic() - began > SECONDS:
                break
    if not given and failures.count:
        return ("The sound cannot be decoded: the shot is silent.",)
    if not failures.count:
        return ()
    places = "in one place" if failures.count == 1 else f"in {failures.count} places"
    return (f"The sound is damaged {places}: it is silent there.",)
