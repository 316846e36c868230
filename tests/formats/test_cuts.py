"""Cut lists: OpenTimelineIO by the library of that name, edit decision lists by lists written out by hand; both there and back."""

from fractions import Fraction

import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wenditas.core.errors import BadFile
from wenditas.formats.cut import Clip, Cut
from wenditas.formats.edl import read_edl, write_edl
from wenditas.formats.otio import read_otio, write_otio

RATE = Fraction(24)
CUT = Cut("Autumn", RATE, (Clip("Tram", "tram.mp4", 12, 48), Clip("Day", "day.mov", 24, 60, 24, 12), Clip("Kiln", "kiln.mp4", 0, 30)))
# Written by hand after the format's public description: a cut, a dissolve of a second, a cut.
LIST = """TITLE: Autumn
FCM: NON-DROP FRAME

001  AX       V     C        00:00:00:12 00:00:02:00 01:00:00:00 01:00:01:12
* FROM CLIP NAME: tram.mp4
002  AX       V     C        00:00:02:00 00:00:02:00 01:00:01:12 01:00:01:12
002  AX       V     D    024 00:00:00:12 00:00:03:12 01:00:01:12 01:00:04:12
* FROM CLIP NAME: tram.mp4
* TO CLIP NAME: day.mov
003  AX       V     C        00:00:00:00 00:00:01:06 01:00:04:12 01:00:05:18
* FROM CLIP NAME: kiln.mp4
"""


def test_a_list_is_as_it_is_written_by_hand() -> None:
    assert write_edl(CUT) == LIST


def test_a_list_is_read() -> None:
    found = read_edl(LIST, RATE, "file")
    assert found.name == "Autumn" and found.told == ()
    assert [(c.media, c.first, c.frames, c.dissolve, c.early) for c in found.clips] == [
        ("tram.mp4", 12, 36, 0, 0),
        ("day.mov", 12, 72, 24, 0),  # the same frames: the dissolve begins where the list says
        ("kiln.mp4", 0, 30, 0, 0),
    ]


def test_a_timeline_holds_what_the_library_reads() -> None:
    timeline = otio.adapters.read_from_string(write_otio(CUT), "otio_json")
    (track,) = timeline.tracks
    assert [type(i).__name__ for i in track] == ["Clip", "Transition", "Clip", "Clip"] and track.duration().value == 138
    assert (track[1].in_offset.value, track[1].out_offset.value) == (12, 12)
    assert track[2].media_reference.target_url == "day.mov" and track[2].source_range.start_time.value == 24
    assert read_otio(write_otio(CUT), RATE, "file") == CUT


# No clip is too short for the two dissolves at its ends: a reel gives none that overlap (`Reel.overlaps`).
clips = st.lists(st.tuples(st.integers(30, 500), st.integers(36, 200), st.integers(0, 24), st.booleans()), min_size=1, max_size=8)


@settings(max_examples=60, deadline=None)
@given(clips, st.sampled_from([Fraction(24), Fraction(25), Fraction(24000, 1001), Fraction(30000, 1001)]))
def test_there_and_back(drawn: list[tuple[int, int, int, bool]], rate: Fraction) -> None:
    """Of every frame of the cut: the same media and frame of it, and the same way into a dissolve."""
    made = tuple(Clip(f"c{n}", f"c{n}.mov", f, k, d if n else 0, (d // 2 if half else 0) if n else 0) for n, (f, k, d, half) in enumerate(drawn))
    cut = Cut("C", rate, made)
    assert read_otio(write_otio(cut), rate, "C") == cut
    assert frames_of(read_edl(write_edl(cut), rate, "C")) == frames_of(cut)


def frames_of(cut: Cut) -> list[list[tuple[str, int, float]]]:
    """What is seen at each frame: media, frame of it, share of it."""
    length = sum(c.frames for c in cut.clips)
    found: list[list[tuple[str, int, float]]] = [[] for _ in range(length)]
    at = 0
    for n, clip in enumerate(cut.clips):
        coming = cut.clips[n + 1] if n + 1 < len(cut.clips) else None
        begin, end = at - clip.early, at + clip.frames + (coming.dissolve - coming.early if coming else 0)
        for frame in range(max(begin, 0), min(end, length)):
            share = min((frame - begin + 1) / (clip.dissolve + 1), 1.0) if clip.dissolve else 1.0
            found[frame].append((clip.media, clip.first + frame - at, round(share, 6)))
        at += clip.frames
    return found


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no events"),
        (LIST.replace("00:00:02:00", "00:00:02:30"), "no timecode"),
        (LIST.replace("00:00:02:00 01:00:00:00", "00:00:00:01 01:00:00:00"), "ends before it begins"),
    ],
)
def test_bad_lists_say_why(text: str, said: str) -> None:
    with pytest.raises(BadFile, match=said):
        read_edl(text, RATE, "x")


def test_what_cannot_be_carried_is_told() -> None:
    odd = LIST + "004  AX       A     C        00:00:00:00 00:00:01:00 01:00:05:18 01:00:06:18\nM2   AX             048.0\n"
    odd += "005  AX       V     W001 012 00:00:00:00 00:00:01:00 01:00:06:00 01:00:07:00\n"
    found = read_edl(odd, RATE, "x")
    told = found.told
    assert any("track A" in t for t in told) and any("M2" in t for t in told) and any("wipe" in t for t in told)
    assert found.clips[-2].is_gap and found.clips[-2].frames > 0
    drop = LIST.replace("NON-DROP FRAME", "DROP FRAME").replace("01:00:00:00 01:00:01:12", "01:00:00;00 01:00:01;12")
    assert read_edl(drop, Fraction(30000, 1001), "x").clips[0].frames == 42

    timeline = otio.adapters.read_from_string(write_otio(CUT), "otio_json")
    timeline.tracks[0].insert(0, otio.schema.Gap(source_range=otio.opentime.TimeRange(duration=otio.opentime.RationalTime(10, 24))))
    timeline.tracks.append(otio.schema.Track(kind="Audio"))
    timeline.tracks[0][1].effects.append(otio.schema.LinearTimeWarp(time_scalar=2))
    told = read_otio(timeline.to_json_string(), RATE, "x").told
    assert read_otio(timeline.to_json_string(), RATE, "x").clips[0] == Clip.gap(10)
    assert any("tracks of sound" in t for t in told) and any("effects" in t for t in told)


@pytest.mark.parametrize("text", ["{", "[]", '{"OTIO_SCHEMA": "Clip.1"}', '{"OTIO_SCHEMA": "Timeline.1"}', "{" * 5000])
def test_bad_timelines_say_why(text: str) -> None:
    with pytest.raises(BadFile):
        read_otio(text, RATE, "x")


FROM_BLACK = """TITLE: Autumn
001  BL       V     C        00:00:00:00 00:00:00:00 01:00:00:00 01:00:00:00
001  AX       V     D    024 00:00:00:12 00:00:03:12 01:00:00:00 01:00:03:00
* FROM CLIP NAME: BL
* TO CLIP NAME: tram.mp4
002  AX       V     C        00:00:03:12 00:00:03:12 01:00:03:00 01:00:03:00
002  BL       V     D    012 00:00:00:00 00:00:01:00 01:00:03:00 01:00:04:00
* FROM CLIP NAME: tram.mp4
* TO CLIP NAME: BL
"""


def test_black_is_no_clip() -> None:
    """A list that fades in from black and out to it (written by hand after the format's public description)."""
    found = read_edl(FROM_BLACK, RATE, "x")
    assert [(c.media, c.first, c.frames, c.dissolve) for c in found.clips] == [("tram.mp4", 12, 72, 0)]
    assert any("fades in from black" in t for t in found.told)


def test_gaps_go_there_and_back() -> None:
    """A gap has no media: OpenTimelineIO has an object of its own for it, in an EDL the next event's record in tells it (common practice)."""
    a, b = Clip("a", "a.mov", 5, 20), Clip("b", "b.mov", 0, 12)
    cut = Cut("C", RATE, (a, Clip.gap(7), b))
    assert read_otio(write_otio(cut), RATE, "C").clips == cut.clips
    assert read_edl(write_edl(cut), RATE, "C").clips[1] == Clip.gap(7)
    assert frames_of(read_edl(write_edl(cut), RATE, "C")) == frames_of(cut)


@pytest.mark.parametrize(("value", "rate"), [(48, 0), (48, float("nan")), (48, -24), (48, float("inf")), (float("nan"), 24), (1e300, 24), (float("inf"), 24)])
@pytest.mark.parametrize("where", ["source_range", "transition"])
def test_times_that_are_none_say_so(value: float, rate: float, where: str) -> None:
    text = write_otio(CUT)
    timeline = otio.adapters.read_from_string(text, "otio_json")
    if where == "transition":
        timeline.tracks[0][1].in_offset = otio.opentime.RationalTime(value, rate)
    else:
        timeline.tracks[0][0].source_range = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 24), otio.opentime.RationalTime(value, rate))
    with pytest.raises(BadFile, match="is no time"):
        read_otio(timeline.to_json_string(), RATE, "x")
