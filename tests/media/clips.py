"""Small clips made for tests, and an independent reader to check what was written."""

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np

RED = (210, 40, 30)


def frame_pixels(number: int, width: int, height: int, count: int) -> np.ndarray:
    """Ramps, a red square, and the frame number as the level of blue."""
    pixels = np.zeros((height, width, 3), np.uint8)
    pixels[..., 0] = np.linspace(20, 230, width)[None]
    pixels[..., 1] = np.linspace(230, 20, height)[:, None]
    pixels[..., 2] = round(30 + 200 * number / max(1, count - 1))
    pixels[height // 4 : height // 2, width // 4 : width // 2] = RED
    return pixels


def make_clip(
    path: Path,
    codec: str = "libx264",
    pixel_format: str = "yuv420p",
    width: int = 320,
    height: int = 240,
    rate: Fraction = Fraction(24),
    count: int = 24,
    sound: str | None = None,
    times: list[int] | None = None,
    transfer: int | None = None,
    aspect: Fraction | None = None,
    matrix: int = 1,
    full_range: bool = False,
) -> Path:
    """Write a clip. times: presentation times in milliseconds, for variable rate."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream(codec, rate=rate)
        stream.width, stream.height, stream.pix_fmt = width, height, pixel_format
        context = stream.codec_context
        if codec == "mpeg4":
            context.bit_rate = 12_000_000  # else unchanged blocks are skipped, and frames cannot be told apart
        if codec == "libx264":
            context.options = {"crf": "10"}  # finer than its default, which may leave a frame out that hardly differs
        context.time_base = Fraction(1, 1000) if times else 1 / rate
        context.colorspace, context.color_range = matrix, 2 if full_range else 1
        if transfer:
            context.color_trc = transfer
        if aspect:
            context.sample_aspect_ratio = aspect
        audio = container.add_stream(sound, rate=48000, layout="stereo") if sound else None
        for n in range(count):
            frame = av.VideoFrame.from_ndarray(frame_pixels(n, width, height, count), format="rgb24")
            frame = frame.reformat(format=pixel_format, dst_colorspace=matrix, dst_color_range=2 if full_range else 1)
            frame.pts, frame.time_base = (times[n], Fraction(1, 1000)) if times else (n, 1 / rate)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
        if audio:
            _add_tone(container, audio, float(count / rate))
    return path


def with_latin_title(path: Path, to: Path) -> Path:
    """The clip in a Matroska file whose title is Latin-1, as old cameras write it: no UTF-8."""
    with av.open(str(path)) as container, av.open(str(to), "w", format="matroska", options={"fflags": "+bitexact"}) as out:
        out.metadata["title"] = "CafX"
        streams = {s.index: out.add_stream_from_template(s) for s in container.streams}
        for packet in container.demux():
            if packet.dts is not None:
                packet.stream = streams[packet.stream.index]
                out.mux(packet)
    data = to.read_bytes()
    assert b"CafX" in data
    to.write_bytes(data.replace(b"CafX", b"Caf\xe9"))
    return to


def _add_tone(container: av.container.OutputContainer, audio: av.AudioStream, seconds: float) -> None:
    total = round(48000 * seconds)
    tone = 0.3 * np.sin(2 * np.pi * 440 * np.arange(total) / 48000)
    tone[: total // 2] = 0  # silent first half: where the sound begins shows whether it is in sync
    for at in range(0, total, 1024):
        part = np.stack([tone[at : at + 1024]] * 2).astype(np.float32)
        frame = av.AudioFrame.from_ndarray(part, format="fltp", layout="stereo")
        frame.sample_rate, frame.pts, frame.time_base = 48000, at, Fraction(1, 48000)
        container.mux(audio.encode(frame))
    container.mux(audio.encode(None))


def read_independently(path: Path) -> tuple[list[np.ndarray], float]:
    """All frames (R'G'B', 8 bit) and the rate, by OpenCV's own reader."""
    capture = cv2.VideoCapture(str(path))
    frames = []
    while True:
        ok, frame = capture.read()
        if not ok:
            break
        frames.append(frame[:, :, ::-1])
    rate = capture.get(cv2.CAP_PROP_FPS)
    capture.release()
    return frames, rate


def sound_of(path: Path) -> tuple[np.ndarray, int]:
    """The first sound stream as mono samples, with its rate."""
    with av.open(str(path)) as container:
        stream = container.streams.audio[0]
        parts = [f.to_ndarray().mean(axis=0) for f in container.decode(stream)]
        return np.concatenate(parts), stream.sample_rate
