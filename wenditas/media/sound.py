"""Sound: an exact stretch of it."""

from collections.abc import Iterable, Iterator
from pathlib import Path

import av
import numpy as np

from wenditas.core.errors import FootageRefused
from wenditas.media.decode import NO_SOUND, decoded, sound_stream
from wenditas.media.opening import open_media

PLAY_RATE = 48000
ENCODED_RATES = (48000, 44100, 32000)  # of AAC-LC (ISO 14496-3) those that plays everywhere (common practice); others become the first
PEAKS, PEAK_RATE = 50, 8000  # peaks a second, and the rate that they are taken from
APART = 0.008  # seconds by which a frame's time may miss where the sound has got to: coarse clocks; a lost packet is longer
SILENCE = 1 << 16  # samples of silence given at once


def sound_rate(path: Path, track: int = 0) -> int | None:
    """The sample rate that a sound stream is written at, or None."""
    with open_media(path) as container:
        if not container.streams.audio:
            return None
        own = sound_stream(container, track).sample_rate
        return own if own in ENCODED_RATES else ENCODED_RATES[0]


def stretch(path: Path, start: float, seconds: float, rate: int, track: int = 0) -> Iterator[av.AudioFrame]:
    """Stereo float frames for exactly `seconds` from `start` (in the file's own time) at `rate`.

    Where the file has no sound (before it begins, in gaps, where it is damaged, after it ends),
    silence; so picture and sound stay together whatever their times are. Other layouts come down to
    stereo as in ITU-R BS.775: the middle and the surrounds at 0.7071, the low effects left out.
    """
    total, given = round(seconds * rate), 0
    for at, samples in _placed(path, start, rate, track):
        yield from _silence(given, min(at, total), rate)
        given = max(given, min(at, total))
        usable = samples[:, max(0, given - at) : max(0, total - at)]
        if usable.shape[1]:
            yield audio_frame(usable, given, rate)
            given += usable.shape[1]
        if given >= total:
            return
    yield from _silence(given, total, rate)


def _opened(path: Path) -> av.container.InputContainer:
    """A file to be heard. Raises `FootageRefused` where it cannot be read any more."""
    try:
        return open_media(path)
    except av.error.InvalidDataError as error:
        raise FootageRefused(NO_SOUND) from error


def _placed(path: Path, start: float, rate: int, track: int) -> Iterator[tuple[int, np.ndarray]]:
    """Samples `(2, n)` of a sound stream, and where they belong: samples after `start`.

    Each run of frames that follow one another is resampled as one; where the times jump, a new one begins.
    """
    with _opened(path) as container:
        stream = sound_stream(container, track)
        if start > 0:
            container.seek(int(max(0.0, start - 0.5) * av.time_base))
        resampler, at, ahead = None, 0, 0.0
        kind: tuple[object, ...] = ()
        for frame in decoded(container, stream):
            time = ahead if frame.pts is None else float(frame.pts * frame.time_base)
            now = frame.format.name, frame.layout.name, frame.sample_rate
            if resampler is None or abs(time - ahead) > APART or now != kind:
                rest: Iterable[av.AudioFrame] = resampler.resample(None) if resampler is not None else ()
                for part in rest:
                    yield at, part.to_ndarray()
                resampler, at, ahead, kind = av.AudioResampler(format="fltp", layout="stereo", rate=rate), round((time - start) * rate), time, now
            ahead += frame.samples / frame.sample_rate
            frame.pts = None  # the resampler counts on its own
            for part in resampler.resample(frame):
                samples = part.to_ndarray()
                yield at, samples
                at += samples.shape[1]
        for part in resampler.resample(None) if resampler is not None else ():
            yield at, part.to_ndarray()


def _silence(first: int, end: int, rate: int) -> Iterator[av.AudioFrame]:
    for at in range(first, end, SILENCE):
        yield audio_frame(np.zeros((2, min(SILENCE, end - at)), np.float32), at, rate)


def audio_frame(samples: np.ndarray, at: int, rate: int) -> av.AudioFrame:
    """A stereo float frame of samples `(2, n)`, the first of them `at` samples from the start."""
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples, np.float32), format="fltp", layout="stereo")
    frame.sample_rate, frame.pts = rate, at
    return frame


def peaks(path: Path, start: float, seconds: float, track: int = 0) -> bytes:
    """The loudest sample of each fiftieth of a second, as bytes: 255 is full scale. A wave is drawn from it."""
    found, left = bytearray(), np.zeros(0, np.float32)
    step = PEAK_RATE // PEAKS
    for frame in stretch(path, start, seconds, PEAK_RATE, track):
        left = np.concatenate((left, np.abs(frame.to_ndarray()).max(axis=0)))
        whole = len(left) // step * step
        found += np.clip(left[:whole].reshape(-1, step).max(axis=1) * 255, 0, 255).astype(np.uint8).tobytes()
        left = left[whole:]
    return bytes(found)
