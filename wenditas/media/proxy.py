"""Preview copies: footage that is too large to decode in real time, made smaller and with every frame whole.

A proxy is Motion JPEG without chroma subsampling in a QuickTime file; frame n of it is frame n of the footage.
"""

import time
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from wenditas.core.errors import Cancelled
from wenditas.media.facts import Facts
from wenditas.media.index import Index
from wenditas.media.opening import open_media
from wenditas.media.reader import Reader, fit
from wenditas.media.stills import encode_jpeg

WIDTH = 1280  # no larger than previews on a screen of the usual size
QUALITY = 94
TRIED, TIME = 24, 2.0  # frames decoded to learn how fast decoding is, and seconds after which that is clear enough
HEADROOM = 2.0  # decoding may take half of a frame's time, the rest is for the look


def needed(facts: Facts, decoded: float) -> bool:
    """Whether footage whose frames were decoded at so many a second wants a preview copy. Small footage never does."""
    return facts.kind == "video" and facts.width > WIDTH and decoded < HEADROOM * float(facts.frame_rate)


def decoding_rate(reader: Reader) -> float:
    """Frames a second that this machine decodes of a file, from its first frames."""
    reader.frame(0)
    began = time.perf_counter()
    for n in range(1, min(TRIED, reader.facts.length)):
        reader.frame(n)
        if time.perf_counter() - began > TIME:
            break
    else:
        n = min(TRIED, reader.facts.length) - 1
    return n / max(time.perf_counter() - began, 1e-6) if n else float("inf")


def write_proxy(
    reader: Reader, path: Path, progress: Callable[[int, int], None] = lambda done, total: None, cancelled: Callable[[], bool] = lambda: False
) -> None:
    """Write the preview copy of a file. Raises `Cancelled`, `FootageRefused`; the caller removes what is unfinished."""
    facts = reader.facts
    size = fit(facts, WIDTH)
    height, width = size or (facts.height, facts.width)
    rate = Fraction(facts.rate)
    with av.open(str(path), "w", format="mov") as container:
        stream = container.add_stream("mjpeg", rate=rate)
        stream.width, stream.height, stream.pix_fmt, stream.time_base = width, height, "yuvj444p", 1 / rate
        for n in range(facts.length):
            if cancelled():
                raise Cancelled("The preview copy was cancelled.")
            packet = av.Packet(encode_jpeg(reader.picture(n, size), QUALITY))
            packet.stream, packet.time_base = stream, 1 / rate
            packet.pts = packet.dts = n
            packet.duration, packet.is_keyframe = 1, True
            container.mux(packet)
            progress(n + 1, facts.length)


def open_proxy(path: Path, facts: Facts) -> Reader:
    """A reader of the preview copy of footage with these facts. JPEG files hold BT.601 Y'CbCr of full range (JFIF)."""
    height, width = fit(facts, WIDTH) or (facts.height, facts.width)
    own = facts.model_copy(
        update={
            "codec": "mjpeg",
            "pixel_format": "yuvj444p",
            "bits": 8,
            "width": width,
            "height": height,
            "coded_width": width,
            "coded_height": height,
            "rotation": 0,
            "variable_rate": False,
            "matrix": "bt601",
            "full_range": True,
            "alpha": False,
            "headroom": 1.0,
            "fields": "",
        }
    )
    with open_media(path) as container:  # its frames are evenly spaced and all are key frames: there is no need to look for them
        base = Fraction(container.streams.video[0].time_base)
    rate, order = Fraction(facts.rate), np.arange(facts.length, dtype=np.int32)
    times = np.rint(order * float(1 / (rate * base))).astype(np.int64)
    return Reader(path, own, Index(times, np.ones(facts.length, bool), base, rate, False, order))
