"""OpenTimelineIO: a cut as a timeline of one video track, by the library of that name."""

import json
from fractions import Fraction
from math import isfinite
from pathlib import PurePath
from typing import Any
from urllib.parse import unquote, urlsplit

import opentimelineio as otio
from opentimelineio.opentime import RationalTime, TimeRange

from wenditas.core.errors import BadFile
from wenditas.formats.cut import Clip, Cut

MOST_BYTES = 32 << 20
MOST_FRAMES, MOST_RATE = 1e9, 1e6


def write_otio(cut: Cut) -> str:
    """The timeline as JSON: clips refer to media by name, dissolves are transitions with their two offsets."""
    rate = float(cut.rate)
    timeline = otio.schema.Timeline(name=cut.name)
    track = otio.schema.Track(name="Reel", kind=otio.schema.TrackKind.Video)
    for clip in cut.clips:
        if clip.is_gap:
            track.append(otio.schema.Gap(source_range=TimeRange(RationalTime(0, rate), RationalTime(clip.frames, rate))))
            continue
        if clip.dissolve and len(track):
            offsets = {"in_offset": RationalTime(clip.early, rate), "out_offset": RationalTime(clip.dissolve - clip.early, rate)}
            track.append(otio.schema.Transition(transition_type=otio.schema.TransitionTypes.SMPTE_Dissolve, **offsets))
        reference = otio.schema.ExternalReference(target_url=clip.media)
        used = TimeRange(RationalTime(clip.first, rate), RationalTime(clip.frames, rate))
        track.append(otio.schema.Clip(name=clip.name, media_reference=reference, source_range=used))
    timeline.tracks.append(track)
    return str(otio.adapters.write_to_string(timeline, "otio_json"))


def read_otio(text: str, rate: Fraction, name: str) -> Cut:
    """The cut of a timeline's first video track, at a rate. What else there is is told. Raises `BadFile`."""
    if len(text) > MOST_BYTES:
        raise BadFile(f"A timeline is at most {MOST_BYTES >> 20} MiB.")
    try:
        json.loads(text)
        timeline = otio.adapters.read_from_string(text, "otio_json")
    except RecursionError as error:
        raise BadFile("This is no timeline that is understood: it is nested too deep.") from error
    except Exception as error:  # the library raises many kinds
        why = str(error).splitlines()[0][:120].rstrip(".") if str(error) else type(error).__name__
        raise BadFile(f"This is no timeline that is understood: {why}.") from error
    if not isinstance(timeline, otio.schema.Timeline):
        raise BadFile("This file holds no timeline.")
    told: list[str] = []
    tracks = [t for t in timeline.tracks if isinstance(t, otio.schema.Track)]
    video = [t for t in tracks if t.kind == otio.schema.TrackKind.Video]
    if not video:
        raise BadFile("This timeline has no track of video.")
    if len(video) > 1:
        told.append(f"{len(video) - 1} more tracks of video are left out.")
    if len(tracks) > len(video):
        told.append(f"{len(tracks) - len(video)} tracks of sound are left out: each clip plays its own.")
    clips: list[Clip] = []
    transition: Any = None
    for item in video[0]:
        if isinstance(item, otio.schema.Transition):
            transition = item if clips and not clips[-1].is_gap else None
            if item.transition_type != otio.schema.TransitionTypes.SMPTE_Dissolve:
                told.append(f"A transition “{item.transition_type}” becomes a dissolve.")
        elif isinstance(item, otio.schema.Clip):
            clips.append(_clip(item, rate, transition, told))
            transition = None
        elif isinstance(item, otio.schema.Gap):
            clips.extend([Clip.gap(frames)] if (frames := _frames(item.duration(), rate)) > 0 else [])
            transition = None
        else:
            told.append(f"A nested {type(item).__name__.lower()} of {_frames(item.duration(), rate)} frames is left out.")
            transition = None
    if all(clip.is_gap for clip in clips):
        raise BadFile("This timeline has no clips.")
    return Cut(timeline.name or name, rate, tuple(clips), tuple(dict.fromkeys(told)))


def _clip(item: Any, rate: Fraction, transition: Any, told: list[str]) -> Clip:
    reference = item.media_reference
    media = unquote(PurePath(urlsplit(reference.target_url).path).name) if isinstance(reference, otio.schema.ExternalReference) else ""
    if item.effects:
        told.append(f"{len(item.effects)} effects on “{item.name}” are left out.")
    used = item.trimmed_range()
    start = used.start_time
    if reference is not None and reference.available_range is not None:
        start = start - reference.available_range.start_time  # frames are counted from the start of the media
    early, late = (_frames(transition.in_offset, rate), _frames(transition.out_offset, rate)) if transition is not None else (0, 0)
    return Clip(
        item.name or media or "Clip", media or item.name or "Clip", max(_frames(start, rate), 0), max(_frames(used.duration, rate), 1), early + late, early
    )


def _frames(time: Any, rate: Fraction) -> int:
    """A time in frames at a rate. Raises `BadFile`."""
    if not (isfinite(time.value) and abs(time.value) < MOST_FRAMES and 0 < time.rate < MOST_RATE):
        raise BadFile(f"This timeline counts {time.value:g} frames at {time.rate:g} a second, which is no time.")
    return round(Fraction(time.value).limit_denominator(1000) * rate / Fraction(time.rate).limit_denominator(1001))
