"""Which presentation time belongs to which frame, from the packets alone, without decoding."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from wenditas.core.errors import FootageRefused

STANDARD_RATES = [Fraction(n) for n in (12, 15, 24, 25, 30, 48, 50, 60, 100, 120)] + [Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120)]
RATE_LIMITS = (Fraction(1), Fraction(240))


@dataclass(frozen=True)
class Index:
    """Presentation times of all frames in stream time base, ascending, and which are keyframes.

    `order[n]` is the source frame shown at conformed frame n.
    """

    times: np.ndarray
    keys: np.ndarray
    time_base: Fraction
    rate: Fraction
    variable: bool
    order: np.ndarray

    def save(self, path: Path) -> None:
        """Write to an .npz file."""
        numbers = [self.time_base.numerator, self.time_base.denominator, self.rate.numerator, self.rate.denominator, int(self.variable)]
        with path.open("wb") as file:
            np.savez(file, times=self.times, keys=self.keys, order=self.order, numbers=np.array(numbers, np.int64))

    @classmethod
    def read(cls, path: Path) -> "Index":
        """Read from an .npz file."""
        with np.load(path) as data:
            base_n, base_d, rate_n, rate_d, variable = (int(v) for v in data["numbers"])
            return cls(data["times"], data["keys"], Fraction(base_n, base_d), Fraction(rate_n, rate_d), bool(variable), data["order"])


def _snap(rate: Fraction, most: Fraction = Fraction(1, 400)) -> Fraction:
    """The nearest standard rate where it is at most that far off (as a share); else the rate itself, simplified."""
    best = min(STANDARD_RATES, key=lambda r: abs(r - rate) / rate)
    return best if abs(best - rate) / rate < most else rate.limit_denominator(1001)


def conform(times: np.ndarray, time_base: Fraction, rate: Fraction) -> np.ndarray:
    """For each frame at an even rate, the source frame on screen then: the latest not after its time.

    times: ascending presentation times. Half a frame's grace absorbs rounding of times.
    """
    start, step = int(times[0]), Fraction(1) / (rate * time_base)
    span = Fraction(int(times[-1]) - start)
    count = int(span / step + Fraction(1, 2)) + 1
    moments = start + np.arange(count) * float(step) + float(step) / 2
    return np.clip(np.searchsorted(times, moments, side="right") - 1, 0, len(times) - 1).astype(np.int32)


def build_index(container: av.container.InputContainer, stream: av.video.stream.VideoStream) -> Index:
    """Read all packets of a video stream. Raises `FootageRefused` where there are none, or no times."""
    time_base = Fraction(stream.time_base)
    times, keys = [], []
    for packet in container.demux(stream):
        if packet.size == 0 or packet.is_discard:
            continue
        time = packet.pts if packet.pts is not None else packet.dts
        if time is None:
            raise FootageRefused("This file gives no presentation times, so its frames cannot be told apart.")
        times.append(time)
        keys.append(packet.is_keyframe)
    if not times:
        raise FootageRefused("This file has a video stream with no frames in it.")
    at = np.array(times, np.int64)
    sort = np.argsort(at, kind="stable")
    at, key = at[sort], np.array(keys, bool)[sort]
    gaps = np.diff(at)
    if np.any(gaps <= 0):
        keep = np.concatenate([[True], gaps > 0])
        at, key = at[keep], key[keep]
        gaps = np.diff(at)
    rate, variable = _rate(stream, at, gaps, time_base)
    order = conform(at, time_base, rate) if variable else np.arange(len(at), dtype=np.int32)
    return Index(at, key, time_base, rate, variable, order)


def _rate(stream: av.video.stream.VideoStream, at: np.ndarray, gaps: np.ndarray, time_base: Fraction) -> tuple[Fraction, bool]:
    """The rate to conform to, and whether the times were uneven.

    Times are even where every gap is within one (fine) tick or 2 % of the mean gap: rates like
    23.976 in a millisecond time base alternate between two gaps.
    """
    if len(at) == 1:
        return Fraction(stream.average_rate or 24), False
    mean = Fraction(int(at[-1] - at[0]), len(at) - 1) * time_base
    even = bool(np.all(np.abs(gaps - gaps.mean()) <= max(min(1.0, 0.3 * gaps.mean()), 0.02 * gaps.mean())))
    declared = Fraction(stream.average_rate) if stream.average_rate else 1 / mean
    if not even:
        rate = _snap(1 / (Fraction(float(np.median(gaps))) * time_base), Fraction(1))
    else:
        rate = _snap(declared if abs(declared * mean - 1) < Fraction(3, 1000) else 1 / mean)
    return min(max(rate, RATE_LIMITS[0]), RATE_LIMITS[1]), not even
