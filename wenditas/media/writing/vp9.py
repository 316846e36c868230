"""VP9, 8 bits 4:2:0, in WebM: for the web, with alpha. Source: VP9 Bitstream and Decoding Process; WebM container guidelines."""

from collections.abc import Mapping

from wenditas.media.writing.record import Canvas, Quality
from wenditas.media.writing.video import Coding, video_format

QUALITIES: dict[Quality, tuple[str, str]] = {"fine": ("18", "3"), "good": ("28", "4"), "small": ("38", "4")}  # rate factor, effort left out


def options(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder. Hidden reference frames are left out: with alpha they cannot be kept apart."""
    crf, speed = QUALITIES[quality]
    return {"crf": crf, "b": "0", "cpu-used": speed, "deadline": "good", "auto-alt-ref": "0", "row-mt": "1", "g": str(round(canvas.rate))}


FORMAT = video_format(
    "vp9", "VP9", "8 bit, in WebM: for the web; can carry alpha.", ".webm",
    Coding("libvpx-vp9", "webm", "yuv420p", options, alpha_pixels="yuva420p"), "libopus",
    "Packets one after another; each segment begins with a key frame.", choose=True,
)  # fmt: skip
