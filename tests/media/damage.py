"""Clips with faults of the kinds that footage has, made from whole ones."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from tests.media.clips import frame_pixels


def packets(path: Path, kind: str = "video") -> list[av.Packet]:
    """The packets of the first stream of a kind."""
    with av.open(str(path)) as container:
        return [p for p in container.demux(container.streams.get({kind: 0})) if p.size]


def damage_packets(path: Path, target: Path, numbers: list[int], kind: str = "video") -> Path:
    """A copy in which the bytes of some packets are random."""
    data, found, rng = bytearray(path.read_bytes()), packets(path, kind), np.random.default_rng(1)
    for n in numbers:
        at, size = found[n].pos, found[n].size
        data[at : at + size] = rng.integers(0, 256, size, dtype=np.uint8).tobytes()
    target.write_bytes(data)
    return target


def trimmed_without_encoding(path: Path, target: Path, first: int, rate: Fraction) -> Path:
    """A copy that begins at a frame by an edit list: the frames from the key frame on are there, and are not to be shown."""
    with av.open(str(path)) as source, av.open(str(target), "w") as out:
        stream = source.streams.video[0]
        copy = out.add_stream_from_template(stream)
        begin = round(first / rate / stream.time_base)
        for packet in source.demux(stream):
            if packet.dts is not None:
                packet.pts, packet.dts, packet.stream = packet.pts - begin, packet.dts - begin, copy
                out.mux(packet)
    return target


def skipping_avi(path: Path, shown: list[int], rate: int = 25) -> Path:
    """An AVI that stores pictures for some of its frames only; picture n says its number in blue, of 68."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("mjpeg", rate=rate)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuvj420p"
        for n, at in enumerate(shown):
            frame = av.VideoFrame.from_ndarray(frame_pixels(n, 64, 48, len(shown)), format="rgb24").reformat(format="yuvj420p", dst_color_range=2)
            frame.pts, frame.time_base = at, Fraction(1, rate)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return path


def with_tone(path: Path, seconds: float, rate: int = 48000, codec: str = "pcm_s16le", gap: tuple[float, float] | None = None, tone: float = 1e9) -> Path:
    """A small black clip whose sound is a 440 Hz tone with a click at every whole second.

    gap: (when, how long): from then on all times of the sound are so much later. tone: the sound ends after so many seconds.
    """
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=10, options={"preset": "ultrafast", "crf": "40"})
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
        audio = container.add_stream(codec, rate=rate, layout="stereo")
        for n in range(round(seconds * 10)):
            frame = av.VideoFrame.from_ndarray(np.zeros((48, 64, 3), np.uint8), format="rgb24").reformat(format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, 10)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
        total = round(min(seconds, tone) * rate)
        wave = clicks(total, rate)
        for at in range(0, total, 1024):
            frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(wave[None, at : at + 1024].repeat(2, 0)), format="fltp", layout="stereo")
            frame.sample_rate, frame.time_base = rate, Fraction(1, rate)
            frame.pts = at + (round(gap[1] * rate) if gap and at >= gap[0] * rate else 0)
            container.mux(audio.encode(frame))
        container.mux(audio.encode(None))
    return path


def clicks(total: int, rate: int) -> np.ndarray:
    """A soft tone, with a loud burst of 10 ms at every whole second."""
    t = np.arange(total) / rate
    return (0.05 * np.sin(2 * np.pi * 440 * t) + 0.7 * (t % 1 < 0.01) * np.sin(2 * np.pi * 1000 * t)).astype(np.float32)


def when_loud(samples: np.ndarray, rate: int) -> list[float]:
    """The seconds at which bursts begin."""
    loud = np.flatnonzero(np.abs(samples) > 0.4)
    return [round(float(t), 2) for t in loud[np.diff(loud, prepend=-rate) > rate / 4] / rate]
