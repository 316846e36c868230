"""Edit decision lists, CMX 3600: cuts and dissolves of one video track, in text.

Source: common practice of the format as it is described publicly: an event tells reel, track, transition, source in and out and record in
and out; a dissolve is told by two lines of one number, the first of which has no length; names of clips follow in comments.
"""

import re
from fractions import Fraction

from opentimelineio.opentime import RationalTime, from_timecode

from wenditas.core.errors import BadFile
from wenditas.formats.cut import Clip, Cut

MOST_BYTES, MOST_EVENTS = 8 << 20, 9999
BLACK = ("BL", "BLACK", "BLK")  # reels that name no film (common practice)
RECORD_START = 3600  # seconds: lists begin at an hour (common practice)
CODE = r"\d{2}[:;]\d{2}[:;]\d{2}[:;]\d{2}"
EVENT = re.compile(rf"^(\d+)\s+(\S+)\s+(\S+)\s+(C|D|W\d+|K\w*)\s*(\d+)?\s+({CODE})\s+({CODE})\s+({CODE})\s+({CODE})\s*$")
NAME = re.compile(r"^\*\s*(FROM|TO) CLIP NAME:\s*(.+?)\s*$", re.IGNORECASE)


def write_edl(cut: Cut) -> str:
    """The text of a list. Rates such as 24000/1001 count 24 frames to a second, without dropping any."""
    base = round(cut.rate)
    at = RECORD_START * base
    lines = [f"TITLE: {cut.name[:70]}", "FCM: NON-DROP FRAME", ""]
    for n, clip in enumerate(cut.clips):
        coming = cut.clips[n + 1] if n + 1 < len(cut.clips) else None
        first, frames = clip.first - clip.early, clip.frames + clip.early - (coming.early if coming else 0)
        number = f"{n + 1:03d}"
        if clip.is_gap:  # the next event's record in tells it
            at += frames
            continue
        if clip.dissolve and n:
            before = cut.clips[n - 1]
            left = before.first + before.frames - clip.early
            lines.append(f"{number}  AX       V     C        {_code(left, base)} {_code(left, base)} {_code(at, base)} {_code(at, base)}")
            lines.append(f"{number}  AX       V     D    {clip.dissolve:03d} {_codes(first, frames, at, base)}")
            lines.append(f"* FROM CLIP NAME: {before.media}")
            lines.append(f"* TO CLIP NAME: {clip.media}")
        else:
            lines.append(f"{number}  AX       V     C        {_codes(first, frames, at, base)}")
            lines.append(f"* FROM CLIP NAME: {clip.media}")
        at += frames
    return "\n".join(lines) + "\n"


def _code(frame: int, base: int) -> str:
    frame = max(frame, 0)
    seconds, frames = divmod(frame, base)
    return f"{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}:{frames:02d}"


def _codes(first: int, frames: int, at: int, base: int) -> str:
    return f"{_code(first, base)} {_code(first + frames, base)} {_code(at, base)} {_code(at + frames, base)}"


def read_edl(text: str, rate: Fraction, name: str) -> Cut:
    """The cut of a list at a rate. What it holds besides cuts and dissolves of video is told, not guessed. Raises `BadFile`."""
    if len(text) > MOST_BYTES:
        raise BadFile(f"An edit decision list is at most {MOST_BYTES >> 20} MiB.")
    told: list[str] = []
    clips: list[Clip] = []
    record = 0
    from_black = False
    pending: dict[str, int | str] | None = None  # of the clip that was read last: its names come after it
    for number, raw in enumerate(text.splitlines(), 1):
        line = raw.strip()
        if line.upper().startswith("TITLE:"):
            name = line[6:].strip()[:80] or name
        elif match := EVENT.match(line):
            event, reel, track, kind, length, *codes = match.groups()
            if not track.upper().startswith(("V", "B")):
                told.append(f"Line {number}: track {track} is no video and is left out.")
                pending = None
                continue
            source_in, source_out, record_in, record_out = (_frame(code, rate, number) for code in codes)
            black = reel.upper() in BLACK
            if source_out == source_in and record_out == record_in:
                from_black = black
                continue  # the outgoing half of a dissolve
            if black:
                pending, from_black = None, True
                continue
            if len(clips) >= MOST_EVENTS:
                raise BadFile(f"An edit decision list has {MOST_EVENTS} events at most.")
            frames = record_out - record_in
            if frames < 1 or source_out <= source_in:
                raise BadFile(f"Line {number} of the list: event {event} ends before it begins.")
            if source_out - source_in != frames:
                told.append(f"Event {event} runs at another speed, which is not carried: it lasts {frames} frames.")
            if clips and record_in > record:
                clips.append(Clip.gap(record_in - record))
            dissolve = int(length or 0) if kind == "D" and clips and not from_black and not clips[-1].is_gap else 0
            if kind == "D" and from_black:
                told.append(f"Event {event} fades in from black, which becomes a plain cut.")
            from_black = False
            if kind[0] in "WK":
                told.append(f"Event {event} is a {'wipe' if kind[0] == 'W' else 'key'}, which becomes a plain cut.")
            clips.append(Clip(reel, reel, source_in, frames, min(dissolve, frames)))
            record, pending = record_out, {"kind": kind}
        elif (match := NAME.match(line)) and clips and pending is not None:
            wanted = "TO" if pending["kind"] == "D" else "FROM"
            if match[1].upper() == wanted:
                last = clips[-1]
                clips[-1] = Clip(match[2][:200], match[2][:200], last.first, last.frames, last.dissolve)
        elif line.upper().startswith(("M2", "EFFECTS NAME", "* EFFECT NAME")):
            told.append(f"Line {number}: {line[:60]} is not carried.")
    if all(clip.is_gap for clip in clips):
        raise BadFile("This list has no events of video that are understood.")
    return Cut(name, rate, tuple(clips), tuple(dict.fromkeys(told)))


def _frame(code: str, rate: Fraction, line: int) -> int:
    try:
        if ";" in code:
            return int(from_timecode(code[:8].replace(";", ":") + ";" + code[9:], float(rate)).value)
        parts = [int(p) for p in code.split(":")]
        base = round(rate)
        if parts[3] >= base or parts[2] > 59 or parts[1] > 59:
            raise ValueError(code)
        return int(RationalTime(((parts[0] * 60 + parts[1]) * 60 + parts[2]) * base + parts[3], base).value)
    except ValueError as error:
        raise BadFile(f"Line {line} of the list: {code} is no timecode at {float(rate):g} frames a second.") from error
