"""A file that was written is read back: its frames are counted, its length and its tags are looked at."""

import hashlib
import zipfile
from pathlib import Path

import cv2
import numpy as np
from pydantic import BaseModel

from wenditas.core.errors import ExportFailed
from wenditas.media.opening import open_media
from wenditas.media.writing.loop_times import frame_times
from wenditas.media.writing.record import Canvas
from wenditas.render.options import ExportOptions

BT709, RGB, LIMITED, FULL = 1, 0, 1, 2  # ITU-T H.273
NEAR = 0.05  # seconds by which the sound of a file may be longer or shorter than its picture: codecs fill their last block


class Made(BaseModel):
    """A file that was written and read back. digest: SHA-256. told: what was verified, in words."""

    bytes: int
    digest: str
    frames: int
    told: str


def verified(path: Path, options: ExportOptions, canvas: Canvas, frames: int, heard: bool) -> Made:
    """What a written file holds. Raises `ExportFailed` where that is not what was asked for."""
    if options.made.pictures:
        found, told = _pictures(path), ""
    elif options.made.loop:
        found, told = _loop(path, canvas)
    else:
        found, told = _video(path, canvas, heard)
    if found != frames:
        raise ExportFailed(f"The file was read back, and holds {found} frames, not {frames}. It was not kept.")
    paths = sorted(path.iterdir()) if path.is_dir() else [path]
    return Made(bytes=sum(p.stat().st_size for p in paths), digest=_digest(path), frames=found, told=", ".join(t for t in (f"{found} frames", told) if t))


def _digest(path: Path) -> str:
    if path.is_dir():
        return hashlib.sha256("".join(_digest(p) for p in sorted(path.iterdir())).encode()).hexdigest()
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _pictures(path: Path) -> int:
    if path.is_dir():
        return len(list(path.iterdir()))
    with zipfile.ZipFile(path) as archive:
        if (bad := archive.testzip()) is not None:
            raise ExportFailed(f"The file was read back, and {bad} in it is damaged. It was not kept.")
        return len(archive.namelist())


def _loop(path: Path, canvas: Canvas) -> tuple[int, str]:
    """Frames that a loop lasts: those that are as the ones before them may be one picture, shown for longer."""
    size, times = frame_times(path)
    ok, film = cv2.imdecodeanimation(np.fromfile(path, np.uint8), 0, 1)
    if not ok or not film.frames or film.frames[0].shape[:2] != (canvas.height, canvas.width) or size != (canvas.width, canvas.height):
        raise ExportFailed("The loop was read back, and holds no pictures of the size that was asked for. It was not kept.")
    seconds = sum(times)
    return round(seconds * float(canvas.rate)), f"{seconds:.2f} s"


def _video(path: Path, canvas: Canvas, heard: bool) -> tuple[int, str]:
    """Frames, and what was looked at; packets are counted, and the first frame decoded for its tags."""
    with open_media(path) as container:
        stream = container.streams.video[0]
        frame = next(container.decode(stream))
        tags = int(stream.codec_context.color_primaries), int(stream.codec_context.color_trc), int(frame.colorspace), int(frame.color_range)
        matrix, range_ = (RGB, FULL) if frame.format.name.startswith("gbr") else (BT709, LIMITED)
        if tags[2:] != (matrix, range_) or tags[:2] != (BT709, BT709):
            raise ExportFailed(f"The file was read back, and its colour tags are {tags}, not BT.709. It was not kept.")
        if heard != bool(container.streams.audio):
            raise ExportFailed("The file was read back, and its sound is missing. It was not kept.")
    count, ends = 0, {"video": 0.0, "audio": 0.0}
    with open_media(path) as container:
        for packet in container.demux([container.streams.video[0], *container.streams.audio[:1]]):
            if not packet.size:
                continue
            count += packet.stream.type == "video"
            end = float(((packet.pts or 0) + (packet.duration or 0)) * packet.time_base)
            ends[packet.stream.type] = max(ends[packet.stream.type], end)
    length = float(count / canvas.rate)
    if heard and abs(ends["audio"] - length) > NEAR + 1 / float(canvas.rate):
        raise ExportFailed(f"The file was read back, and its sound lasts {ends['audio']:.2f} s, its picture {length:.2f} s. It was not kept.")
    return count, f"{length:.2f} s, tagged BT.709" + (", with sound" if heard else "")
