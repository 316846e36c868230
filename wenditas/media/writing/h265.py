"""H.265, 10 bits 4:2:0, in MP4: smooth gradients in small files. Source: ITU-T H.265, Main 10."""

from collections.abc import Mapping

from wenditas.media.writing.record import Canvas, Quality
from wenditas.media.writing.video import Coding, video_format

QUALITIES: dict[Quality, tuple[str, str]] = {"fine": ("16", "fast"), "good": ("20", "fast"), "small": ("27", "medium")}  # rate factor, preset


def options(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder: closed groups, and threads by a fixed number, so that it writes the same everywhere."""
    crf, preset = QUALITIES[quality]
    group = round(canvas.rate)
    fixed = f"log-level=none:open-gop=0:keyint={group}:frame-threads=2:pools=2:no-info=1"
    return {"crf": crf, "preset": preset, "x265-params": fixed}


CODING = Coding("libx265", "mp4", "yuv420p10le", options, reorders=True, tag="hvc1")
FORMAT = video_format(
    "h265", "H.265", "10 bit, in MP4: smooth gradients, small files.", ".mp4", CODING, "aac",
    "Packets one after another; each segment begins with a closed group.", choose=True,
)  # fmt: skip
