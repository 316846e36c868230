"""FFV1, 16-bit R'G'B', in Matroska: lossless, and an open format. Source: RFC 9043."""

from collections.abc import Mapping

from wenditas.media.writing.record import Canvas, Quality
from wenditas.media.writing.video import Coding, video_format


def options(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder: version 3 with a check sum for each of a fixed number of slices, every frame alone."""
    return {"level": "3", "slices": "4", "slicecrc": "1", "g": "1", "context": "0"}


FORMAT = video_format(
    "ffv1", "FFV1", "16-bit RGB without loss, in MKV; can carry alpha.", ".mkv",
    Coding("ffv1", "matroska", "gbrp16le", options, alpha_pixels="gbrap16le"), "flac",
    "Packets one after another; every frame stands alone.",
)  # fmt: skip
