"""AV1, 10 bits 4:2:0, in MP4: the smallest files, and an open format. Source: AV1 Bitstream and Decoding Process, Main profile."""

from collections.abc import Mapping

from wenditas.media.writing.record import Canvas, Quality
from wenditas.media.writing.video import Coding, video_format

QUALITIES: dict[Quality, tuple[str, str]] = {"fine": ("18", "8"), "good": ("26", "9"), "small": ("38", "9")}  # rate factor, preset


def options(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder: a key frame a second, and a fixed level of parallel work."""
    crf, preset = QUALITIES[quality]
    return {"crf": crf, "preset": preset, "g": str(round(canvas.rate)), "svtav1-params": "lp=2"}


CODING = Coding("libsvtav1", "mp4", "yuv420p10le", options, reorders=True)
FORMAT = video_format(
    "av1", "AV1", "10 bit, in MP4: the smallest files; plays in browsers.", ".mp4", CODING, "aac",
    "Packets one after another; each segment begins with a key frame and a closed group.", choose=True,
)  # fmt: skip
