"""ProRes, 10 bits, in MOV: 422 HQ to edit on with, 4444 with alpha. Source: SMPTE RDD 36."""

from collections.abc import Mapping

from wenditas.media.writing.record import Canvas, Quality
from wenditas.media.writing.video import Coding, video_format


def hq(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder, for 422 HQ."""
    return {"profile": "hq", "vendor": "apl0"}


def four(quality: Quality, canvas: Canvas) -> Mapping[str, str]:
    """Of the encoder, for 4444."""
    return {"profile": "4444", "vendor": "apl0"} | ({"alpha_bits": "16"} if canvas.alpha else {})


JOINED = "Packets one after another; every frame stands alone."
HQ = video_format(
    "prores-422-hq", "ProRes 422 HQ", "10 bit 4:2:2, in MOV: to edit on with.", ".mov",
    Coding("prores_ks", "mov", "yuv422p10le", hq, tag="apch"), "pcm_s24le", JOINED,
)  # fmt: skip
FOUR = video_format(
    "prores-4444", "ProRes 4444", "10 bit 4:4:4, in MOV; can carry alpha.", ".mov",
    Coding("prores_ks", "mov", "yuv444p10le", four, alpha_pixels="yuva444p10le", tag="ap4h"), "pcm_s24le", JOINED,
)  # fmt: skip
