"""H.264, 8 bits 4:2:0, in MP4: what plays anywhere. Source: ITU-T H.264; qualities by rate factor (common practice)."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from llvmlite.binding import get_host_cpu_features

from wenditas.core.kernel import Picture
from wenditas.media.writing.record import Canvas, Quality, SoundOf
from wenditas.media.writing.video import Coding, VideoSegment, join_video, video_format

# The encoder's code for AVX-512 writes other bytes now and then on a loaded machine (seen: one file in fifty); that for AVX2 writes the same
# ones always, and the same as on machines without.
REPEATABLE = ":asm=avx2" if get_host_cpu_features().get("avx512f") else ""
QUALITIES: dict[Quality, tuple[str, str]] = {"fine": ("14", "fast"), "good": ("18", "veryfast"), "small": ("25", "fast")}  # rate factor, preset


def options(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder: a group a second, closed."""
    crf, preset = QUALITIES[quality]
    return {"crf": crf, "preset": preset, "aq-mode": "3", "g": str(round(canvas.rate)), "x264-params": f"open-gop=0{REPEATABLE}"}


CODING = Coding("libx264", "mp4", "yuv420p", options, reorders=True)
FORMAT = video_format(
    "h264", "H.264", "8 bit, in MP4: plays anywhere.", ".mp4", CODING, "aac",
    "Packets one after another; each segment begins with a closed group.", choose=True,
)  # fmt: skip


def write_clip(path: Path, pictures: Iterable[Picture], rate: Fraction, coding: tuple[str, str], sound: SoundOf | None = None, base: Coding = CODING) -> None:
    """Write pictures `(3, h, w)`, all of one size, as a clip of a rate factor and a preset of one's own. base: another encoder."""
    told = {"crf": coding[0], "preset": coding[1]}
    own = replace(base, options=lambda quality, canvas: {**base.options(quality, canvas), **told})
    writer, canvas, count, whole = None, None, 0, path.with_name(f"{path.name}.segment.mp4")
    try:
        for picture in pictures:
            if writer is None or canvas is None:
                canvas = Canvas(picture.shape[2], picture.shape[1], rate)
                writer = VideoSegment(whole, canvas, own)
            slot = writer.slot()
            slot.store(0, picture)
            writer.write(slot, count)
            count += 1
        if writer is not None and canvas is not None:
            writer.close()
            join_video([whole], path, canvas, count, sound, own, "aac")
    finally:
        whole.unlink(missing_ok=True)
