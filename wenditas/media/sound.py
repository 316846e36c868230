"""Sound: an exact stretch of it for exports, and a copy the browser can play."""

from collections.abc import Iterator
from pathlib import Path

import av
import numpy as np

PLAY_RATE = 48000


def sound_rate(path: Path) -> int | None:
    """Sample rate of the first sound stream, or None."""
    with av.open(str(path)) as container:
        return container.streams.audio[0].sample_rate if container.streams.audio else None


def stretch(path: Path, start: float, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
    """Stereo float frames for exactly `seconds` from `start` (in the file's own time) at `rate`.

    Where the file has no sound (before it begins, after it ends), silence; so picture and
    sound stay together whatever their offsets are.
    """
    total, given = round(seconds * rate), 0
    origin = round(start * rate)
    with av.open(str(path)) as container:
        stream = container.streams.audio[0]
        if start > 0:
            container.seek(int(max(0.0, start - 0.5) * av.time_base))
        resampler = av.AudioResampler(format="fltp", layout="stereo", rate=rate)
        at = None
        for frame in container.decode(stream):
            for part in resampler.resample(frame):
                if at is None:
                    at = round(float((frame.pts or 0) * frame.time_base) * rate) - origin
                samples = part.to_ndarray()
                if at > given:
                    gap = min(at, total) - given
                    yield _audio(np.zeros((2, gap), np.float32), given, rate)
                    given += gap
                usable = samples[:, max(0, given - at) : max(0, total - at)]
                at += samples.shape[1]
                if usable.shape[1]:
                    yield _audio(usable, given, rate)
                    given += usable.shape[1]
            if given >= total:
                return
    if given < total:
        yield _audio(np.zeros((2, total - given), np.float32), given, rate)


def _audio(samples: np.ndarray, at: int, rate: int) -> av.AudioFrame:
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples, np.float32), format="fltp", layout="stereo")
    frame.sample_rate, frame.pts = rate, at
    return frame


def playable_copy(path: Path, start: float, seconds: float, target: Path) -> None:
    """Write the sound as Opus in WebM, aligned with the first frame of the picture."""
    part = target.with_suffix(".part")
    with av.open(str(part), "w", format="webm") as out:
        stream = out.add_stream("libopus", rate=PLAY_RATE, layout="stereo")
        stream.codec_context.bit_rate = 160_000
        for frame in stretch(path, start, seconds, PLAY_RATE):
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    part.replace(target)
