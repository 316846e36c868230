"""Which presentation time belongs to which frame, from the packets alone, without decoding."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from zipfile import BadZipFile

import av
import numpy as np

from wenditas.core.bounds import MOST_FRAMES
from wenditas.core.errors import FootageRefused
from wenditas.media.npz import bounded_npz

STANDARD_RATES = [Fraction(n) for n in (12, 15, 24, 25, 30, 48, 50, 60, 100, 120)] + [Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120)]
RATE_LIMITS = (Fraction(1), Fraction(240))
NEAR_STANDARD = Fraction(1, 400)  # share by which a measured rate may miss a standard one and still be taken for it
MOST_SECONDS = 24 * 3600
MOST_BYTES = 512 << 20  # of an index, unpacked: a day at 240 frames a second


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
        """Read from an .npz file. Raises `FootageRefused` where it is none, or holds what no index can be."""
        try:
            with bounded_npz(path, MOST_BYTES) as data:
                base_n, base_d, rate_n, rate_d, variable = (int(v) for v in data["numbers"])
                found = cls(data["times"], data["keys"], Fraction(base_n, base_d), Fraction(rate_n, rate_d), bool(variable), data["order"])
        except FileNotFoundError as error:
            raise FootageRefused("The frame index of this footage is missing.") from error
        except (OSError, ValueError, KeyError, EOFError, ZeroDivisionError, BadZipFile) as error:
            raise FootageRefused("The frame index of this footage is damaged.") from error
        found.check()
        return found

    def check(self) -> None:
        """Raises `FootageRefused` where it is no index: frames that are not there, times that are none, rates out of range."""
        kinds = (self.times.dtype == np.int64, self.keys.dtype == bool, self.order.dtype == np.int32)
        sizes = 0 < len(self.times) == len(self.keys) and self.times.ndim == self.order.ndim == 1 and len(self.order) > 0
        if not (all(kinds) and sizes and self.time_base > 0 and RATE_LIMITS[0] <= self.rate <= 2 * RATE_LIMITS[1]):
            raise FootageRefused("The frame index of this footage is damaged.")
        if int(self.order.min()) < 0 or int(self.order.max()) >= len(self.times) or (np.diff(self.times) <= 0).any():
            raise FootageRefused("The frame index of this footage is damaged.")

    def conformed(self, rate: Fraction) -> "Index":
        """The same frames shown at another, even rate. Raises `FootageRefused` where it is out of range."""
        if not RATE_LIMITS[0] <= rate <= RATE_LIMITS[1]:
            raise FootageRefused(f"{float(rate):g} frames a second are not taken; choose from {RATE_LIMITS[0]} to {RATE_LIMITS[1]}.")
        gap = Fraction(int(np.median(np.diff(self.times)))) if len(self.times) > 1 else 1 / (rate * self.time_base)
        return Index(self.times, self.keys, self.time_base, rate, True, conform(self.times, self.time_base, rate, int(self.times[-1]) + gap))


@dataclass(frozen=True)
class Found:
    """An index, and how many frames the container promises, also for those that it holds back (0 where it does not say). notes: what is shown otherwise."""

    index: Index
    seen: int
    promised: int
    notes: tuple[str, ...] = ()

    @property
    def cut_short(self) -> bool:
        """Whether frames that the container promises are not in the file."""
        return self.seen < self.promised - 1


def snap(rate: Fraction) -> Fraction:
    """The nearest standard rate, or the nearest whole one, where it is almost that; else the rate itself, simplified.

    >>> snap(Fraction(23976, 1000))
    Fraction(24000, 1001)
    >>> snap(Fraction(18))
    Fraction(18, 1)
    """
    for near in (min(STANDARD_RATES, key=lambda r: abs(r - rate)), Fraction(round(rate))):
        if abs(near - rate) / rate < NEAR_STANDARD:
            return near
    return rate.limit_denominator(1001)


def conform(times: np.ndarray, time_base: Fraction, rate: Fraction, end: Fraction | None = None) -> np.ndarray:
    """For each frame at an even rate, the source frame on screen then: the latest not after its time.

    times: ascending presentation times; end: when the last one goes, a frame's time after it came by default. Half a frame's grace absorbs rounding of times.
    """
    start, step = int(times[0]), Fraction(1) / (rate * time_base)
    until = int(times[-1]) + step if end is None else end
    count = max(1, int((until - start) / step + Fraction(1, 2)))
    moments = start + np.arange(count) * float(step) + float(step) / 2
    return np.clip(np.searchsorted(times, moments, side="right") - 1, 0, len(times) - 1).astype(np.int32)


def _read_times(container: av.container.InputContainer, stream: av.video.stream.VideoStream) -> tuple[np.ndarray, np.ndarray, int]:
    """Times and key flags of the packets that are shown, ascending; and how many there are in all, also those that an edit list leaves out."""
    times, keys, seen = [], [], 0
    try:
        for packet in container.demux(stream):
            if packet.size == 0:
                continue
            seen += 1
            if packet.is_discard:
                continue
            time = packet.pts if packet.pts is not None else packet.dts
            if time is None:
                raise FootageRefused("This file gives no presentation times, so its frames cannot be told apart.")
            times.append(time)
            keys.append(packet.is_keyframe)
    except av.error.FFmpegError as error:  # what came before can be used
        if not times:
            raise FootageRefused("The file is damaged: none of its pictures can be reached.") from error
    if not times:
        raise FootageRefused("This file has a video stream with no frames in it.")
    at = np.array(times, np.int64)
    sort = np.argsort(at, kind="stable")
    at, key = at[sort], np.array(keys, bool)[sort]
    keep = np.concatenate([[True], np.diff(at) > 0])
    return at[keep], key[keep], seen


def build_index(container: av.container.InputContainer, stream: av.video.stream.VideoStream) -> Found:
    """Read all packets of a video stream. Raises `FootageRefused` where there are none, no times, or times beyond a day."""
    time_base = Fraction(stream.time_base)
    at, key, seen = _read_times(container, stream)
    seconds = float(int(at[-1] - at[0]) * time_base)
    if seconds > MOST_SECONDS:
        held = f"{seconds / 86400:.1f} days" if seconds > 2 * 86400 else f"{seconds / 3600:.1f} hours"
        raise FootageRefused(f"The times in this file span {held}, with {len(at)} frames in them; at most {MOST_SECONDS // 3600} hours are taken.")
    ticks = container.format.name == "avi"  # one tick of its clock is one frame, and frames may be skipped
    own, even = _rate(stream, at, time_base, ticks)
    rate = min(max(own, RATE_LIMITS[0]), RATE_LIMITS[1])
    even = even and rate == own
    end = Fraction(int(at[-1])) + 1 / (own * time_base)  # the last frame lasts as long as the others
    promised = int(stream.frames)
    if ticks and promised > seen and int(at[-1]) + 1 >= promised - 1:  # what is skipped is held, not missing
        seen = promised
        end = max(end, Fraction(int(at[0]) + promised))
    count = len(at) if even else float((end - int(at[0])) * time_base * rate)
    if count > MOST_FRAMES:
        raise FootageRefused(f"The file lasts {count:.0f} frames; at most {MOST_FRAMES:,} are taken.")
    order = np.arange(len(at), dtype=np.int32) if even else conform(at, time_base, rate, end)
    what = "some frames are left out" if own > rate else "frames are held"
    what = "some frames are left out" if own > rate else "frames are held"
    notes = () if rate == own else (f"It has {float(own):.6g} frames a second: it is shown at {rate}, {what}.",)
    return Found(Index(at, key, time_base, rate, not even, order), seen, promised, notes)


def _rate(stream: av.video.stream.VideoStream, at: np.ndarray, time_base: Fraction, ticks: bool) -> tuple[Fraction, bool]:
    """The rate that the frames have, and whether their times are even at that rate.

    Times are even where every gap is within one (fine) tick or 2 % of the mean gap: rates like
    23.976 in a millisecond time base alternate between two gaps. Where they are not, the gaps
    near the usual one tell the rate, and what is missing between them is held.
    """
    if len(at) == 1:
        return min(max(Fraction(stream.average_rate or 24), RATE_LIMITS[0]), RATE_LIMITS[1]), True
    gaps = np.diff(at)
    mean = Fraction(int(at[-1] - at[0]), len(at) - 1) * time_base
    even = bool(np.all(np.abs(gaps - gaps.mean()) <= max(min(1.0, 0.3 * gaps.mean()), 0.02 * gaps.mean())))
    declared = Fraction(stream.average_rate) if stream.average_rate else 1 / mean
    if even:
        rate = snap(declared if abs(declared * mean - 1) < Fraction(3, 1000) else 1 / mean)
    elif ticks:
        rate = snap(1 / time_base)
    else:
        median = float(np.median(gaps))
        usual = gaps[np.abs(gaps - median) <= max(1.01, 0.1 * median)]
        rate = snap(1 / (Fraction(int(usual.sum()), len(usual)) * time_base))
    return rate, even
