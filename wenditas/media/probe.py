"""Probing: what is in a file, or why it cannot be used. It is done apart: `python -m wenditas.media.probe`."""

import sys
from pathlib import Path
from typing import Any

import av

from wenditas.core.errors import FootageDamaged, FootageRefused, OnlySound
from wenditas.media.apart import answer, asked
from wenditas.media.decode import picture_streams, sound_stream
from wenditas.media.facts import STILL_RATE, STILL_SECONDS, Facts, Signal
from wenditas.media.index import Found, Index, build_index
from wenditas.media.opening import open_media
from wenditas.media.scan import scan_picture, scan_sound

SECONDS = 120  # that a file may take
LEAST_SIDE, MOST_SIDE, MOST_PIXELS = 16, 8192, 8192 * 4608
SD = (1024, 576)  # up to this size untagged video is taken for BT.601, above for BT.709 (common practice)
STILL_FORMATS = ("image2", "png_pipe", "jpeg_pipe", "tiff_pipe", "webp_pipe", "mpo")
STILL_CODECS = ("png", "mjpeg", "tiff", "webp")
CONTAINERS = ("mov,mp4", "matroska,webm", "avi")
MATRICES = {1: "bt709", 5: "bt601", 6: "bt601", 9: "bt2020", 0: "rgb"}  # ITU-T H.273, table 4
SIGNALS: dict[int, Signal] = {16: "pq", 18: "hlg", 9: "log", 10: "log", 8: "linear"}  # H.273, table 3; all others are for display
ACCEPTED = "MP4, MOV, MKV, WebM or AVI video, or a PNG, JPEG, TIFF or WebP picture"


SUFFIXES = {  # of containers and of codecs of stills, the usual one first
    "QuickTime / MOV": (".mp4", ".m4v", ".mov"),
    "Matroska / WebM": (".mkv", ".webm"),
    "AVI (Audio Video Interleaved)": (".avi",),
    "png": (".png",),
    "mjpeg": (".jpg", ".jpeg"),
    "tiff": (".tif", ".tiff"),
    "webp": (".webp",),
}


def suffix_of(facts: Facts, given: str) -> str:
    """The ending that a file with these facts has: the one given where it fits, since readers go by it too.

    >>> suffix_of(Facts.model_construct(kind="still", codec="mjpeg"), ".png")
    '.jpg'
    """
    fitting = SUFFIXES[facts.codec if facts.kind == "still" else facts.container]
    return given if given in fitting else fitting[0]


def _sounds(container: av.container.InputContainer) -> list[str]:
    return [_sound(stream) for stream in container.streams.audio]


def _sound(stream: av.audio.stream.AudioStream) -> str:
    layout = {1: "mono", 2: "stereo"}.get(stream.channels, f"{stream.channels} channels")
    return f"{stream.codec_context.name.upper()} {layout}, {stream.sample_rate / 1000:g} kHz"


def check_size(width: int, height: int) -> None:
    """Raises `FootageRefused` for pictures that are too small or too large."""
    if not width or not height:
        raise FootageRefused(f"The size of the picture cannot be read: it is damaged, or larger than the {MOST_SIDE} × 4608 that this version takes.")
    if min(width, height) < LEAST_SIDE:
        raise FootageRefused(f"The picture is {width} × {height}; at least {LEAST_SIDE} × {LEAST_SIDE} is needed.")
    if max(width, height) > MOST_SIDE or width * height > MOST_PIXELS:
        raise FootageRefused(f"The picture is {width} × {height}; this version takes up to {MOST_SIDE} × 4608.")


def _open(path: Path) -> av.container.InputContainer:
    if path.stat().st_size == 0:
        raise FootageRefused("The file is empty (zero bytes).")
    try:
        return open_media(path)
    except av.error.FFmpegError as error:
        reason = "It may be cut short, or not be what its name says" if "Invalid data" in str(error) else f"The reader says: {error.strerror}"
        raise FootageRefused(f"The file cannot be read. {reason}. Wenditas takes {ACCEPTED}.") from error


def _png_size(path: Path) -> tuple[int, int] | None:
    """The size that a PNG file claims: its reader gives none where it is beyond all measure."""
    with path.open("rb") as file:
        head = file.read(24)
    return (int.from_bytes(head[16:20], "big"), int.from_bytes(head[20:24], "big")) if head[:8] == b"\x89PNG\r\n\x1a\n" and len(head) == 24 else None


def _unreadable(path: Path) -> str:
    """Why the reader gives no size for a picture that is whole; empty where that is not known."""
    with path.open("rb") as file:
        head = file.read(64)
    if head[:4] == b"RIFF" and head[8:16] == b"WEBPVP8X" and head[20] & 2:  # RFC 9649, 2.7: the flag of animations
        return "This is an animated WebP, which is not read. Bring it in as a video, or as one of its pictures."
    if head[:4] in (b"II*\0", b"MM\0*"):
        return "This TIFF is coded in a way that its reader does not take (as floating-point values of a rare kind, say). Save it with 8 or 16 bits."
    return ""


def inspect(path: Path, take: bool = False, picture: int = 0, sound: int = 0) -> tuple[Facts, Index]:
    """Facts and frame index of a file; of which of its tracks of picture and sound, where it has several.

    Raises `FootageRefused` with a sentence that says why not, `OnlySound` where there is no picture, `FootageDamaged` where a part of it
    can be used; with `take` that part is used, and the facts tell what is wrong.
    """
    with _open(path) as container:
        if not container.streams.video:
            if container.streams.audio:
                raise OnlySound("The file holds only sound; this needs a picture.")
            raise FootageRefused("The file holds no picture; Wenditas needs one.")
        tracks = picture_streams(container)
        if not tracks:
            raise OnlySound("The file holds only sound with a cover picture; this needs a moving picture or a still.")
        if picture >= len(tracks) or (sound and sound >= len(container.streams.audio)):
            raise FootageRefused(f"The file has {len(tracks)} tracks of picture and {len(container.streams.audio)} of sound.")
        stream = tracks[picture]
        format_name = container.format.name
        still = any(name in format_name for name in STILL_FORMATS) or format_name.endswith("_pipe")
        if still and stream.codec_context.name not in STILL_CODECS:
            raise FootageRefused(f"The file is a {stream.codec_context.name} picture. Wenditas takes {ACCEPTED}.")
        if not still and not format_name.startswith(CONTAINERS):
            raise FootageRefused(f"The file is of the kind “{container.format.long_name}”. Wenditas takes {ACCEPTED}.")
        size = stream.codec_context.width, stream.codec_context.height
        if not all(size) and (why := _unreadable(path)):
            raise FootageRefused(why)
        check_size(*((_png_size(path) or size) if not all(size) else size))
        found = build_index(container, stream)
        seen = scan_picture(path, stream.index, found.index)
        if seen.first is None:
            raise FootageRefused("The file opens, but none of its pictures can be decoded. It may be damaged or encrypted.")
        check_size(seen.first.width, seen.first.height)
        damage = [*_cut_short(found, still), *seen.damage, *([] if still or not container.streams.audio else scan_sound(path, sound))]
        if damage and not take:
            raise FootageDamaged(damage)
        facts = _facts(container, stream, sound, seen.first, int(seen.first.rotation) % 360, found.index, still)
        woven: dict[str, Any] = {"interlaced": True, "fields": "one a frame"} if seen.interlaced and not still else {}
        if not still:
            told = (*found.notes, *_not_used(len(tracks), "picture", picture), *_not_used(len(container.streams.audio), "sound", sound))
            named = {"pictures": tuple(_picture(t) for t in tracks), "sounds": tuple(_sounds(container))}
            several: dict[str, Any] = {key: names for key, names in named.items() if len(names) > 1}
            woven.update(several, notes=told, picture_track=picture, sound_track=sound)
        return facts.model_copy(update={"damage": tuple(damage), **woven}), found.index


def _not_used(count: int, what: str, used: int) -> list[str]:
    """A sentence where there are tracks that are not used."""
    return [f"The file has {count} tracks of {what}: number {used + 1} is used."] if count > 1 else []


def _picture(stream: av.video.stream.VideoStream) -> str:
    return f"{stream.codec_context.name.upper()}, {stream.codec_context.width} × {stream.codec_context.height}"


def _cut_short(found: Found, still: bool) -> list[str]:
    if still or not found.cut_short:
        return []
    return [f"The file is cut short: it promises {found.promised} pictures, but only {found.seen} are there."]


def _facts(container, stream, sound: int, frame, rotation: int, index: Index, still: bool) -> Facts:  # type: ignore[no-untyped-def]
    format = frame.format
    rgb = format.is_rgb or format.has_palette or format.name.startswith("gray")
    tag = int(stream.codec_context.colorspace)
    matrix = "rgb" if rgb else MATRICES.get(tag) or ("bt601" if still or (frame.width <= SD[0] and frame.height <= SD[1]) else "bt709")
    full = rgb or int(frame.color_range) == 2 or format.name.startswith("yuvj")
    aspect = stream.sample_aspect_ratio or 1
    width, height = max(1, round(frame.width * aspect)), frame.height
    if rotation in (90, 270):
        width, height = height, width
    check_size(width, height)
    length = STILL_SECONDS * int(STILL_RATE) if still else len(index.order)
    return Facts(
        kind="still" if still else "video",
        container=container.format.long_name if not still else "picture",
        codec=stream.codec_context.name,
        pixel_format=format.name,
        bits=max(c.bits for c in format.components),
        width=width,
        height=height,
        coded_width=frame.width,
        coded_height=frame.height,
        rotation=rotation,
        rate=str(STILL_RATE if still else index.rate),
        length=length,
        variable_rate=index.variable and not still,
        sound=None if still or not container.streams.audio else _sound(sound_stream(container, sound)),
        matrix=matrix,
        full_range=full,
        tagged=tag in MATRICES,
        alpha=any(c.is_alpha for c in format.components) and stream.codec_context.name != "mjpeg",  # of JPEG the fourth channel is black ink
        signal=SIGNALS.get(int(stream.codec_context.color_trc), "display"),
    )


def probe(path: Path, index_path: Path, take: bool = False, picture: int = 0, sound: int = 0) -> Facts:
    """Facts of a file, read in a child process; its frame index is written to `index_path`. See `inspect` for the tracks.

    Raises `FootageRefused` where the file cannot be used, takes too long or too much memory; `OnlySound` where there is no picture;
    `FootageDamaged` where a part of it can be used and `take` does not say so.
    """
    return Facts.model_validate(asked("wenditas.media.probe", path, index_path, str(picture), str(sound), *(["take"] if take else []), seconds=SECONDS))


def _found(path: Path, index_path: Path, picture: int, sound: int, take: bool) -> dict[str, Any]:
    facts, index = inspect(path, take, picture, sound)
    index.save(index_path)
    return facts.model_dump(mode="json")


if __name__ == "__main__":
    answer(lambda: _found(Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3]), int(sys.argv[4]), "take" in sys.argv[5:]), SECONDS)
