"""Sound of several files as one: each from its place, as loud as it is to be, added up and kept from clipping."""

from collections.abc import Iterator, Sequence
from pathlib import Path

import av
import numpy as np
from pydantic import BaseModel

from wenditas.core.film import Heard
from wenditas.media.sound import audio_frame, stretch

MIX_RATE = 48_000
BLOCK = 4800  # samples that are mixed at once
MOST = 0.98  # of full scale, that a mix reaches at most
RELEASE = 0.25  # seconds in which the limiter lets go


class Piece(BaseModel):
    """What is heard of a track of a file. zero: when, in seconds of the file, the first frame of its footage is shown."""

    path: Path
    zero: float
    heard: Heard
    track: int = 0


def mixed(pieces: Sequence[Piece], seconds: float, rate: int = MIX_RATE, first: int = 0) -> Iterator[av.AudioFrame]:
    """Stereo float frames for exactly `seconds`, from sample `first` on: the sum of the pieces, limited to `MOST` of full scale."""
    at, limiter = max(0, first - round(RELEASE * rate)), Limiter(rate)  # what was loud before that is forgotten by then
    for block in _sums(pieces, round(seconds * rate), rate, at):
        limited = limiter.limited(block)[:, max(0, first - at) :]
        if limited.shape[1]:
            yield audio_frame(limited, max(at, first), rate)
        at += block.shape[1]


class Limiter:
    """Turns a mix down where it would clip, at once, and up again slowly. Source: peak limiter with instant attack (common practice)."""

    def __init__(self, rate: int) -> None:
        self._gain, self._step = 1.0, 1 / (RELEASE * rate)

    def limited(self, block: np.ndarray) -> np.ndarray:
        """A block `(2, n)` whose samples lie within `MOST`. Where nothing is turned down it is the one that was given."""
        peak = np.abs(block).max(axis=0, initial=0)
        wanted = np.minimum(1, MOST / np.maximum(peak, 1e-9))
        if self._gain == 1 and wanted.min(initial=1) == 1:
            return block
        # The least of what each sample asks for, and of what the ones before it, letting go evenly, still allow.
        rise = self._step * np.arange(1, len(wanted) + 1)
        gains = np.minimum(np.minimum.accumulate(np.concatenate(([self._gain], wanted - rise)))[1:] + rise, 1)
        self._gain = float(gains[-1])
        return np.asarray(block * gains, np.float32)


def _sums(pieces: Sequence[Piece], total: int, rate: int, first: int) -> Iterator[np.ndarray]:
    """Blocks of the sum, from sample `first` on; a file is open only while it is heard."""
    waiting = sorted(pieces, key=lambda p: p.heard.at)
    sounding: list[_Sounding] = []
    for at in range(first, total, BLOCK):
        block = np.zeros((2, min(BLOCK, total - at)), np.float32)
        while waiting and round(float(waiting[0].heard.at) * rate) < at + block.shape[1]:
            sounding.append(_Sounding(waiting.pop(0), rate, first))
        for one in sounding:
            one.add_to(block, at)
        sounding = [one for one in sounding if one.end > at + block.shape[1]]
        yield block


class _Sounding:
    """A piece that is heard now. begin, end: samples of the mix; first: the one from which on it is mixed."""

    def __init__(self, piece: Piece, rate: int, first: int) -> None:
        heard = piece.heard
        self._heard, self._rate = heard, rate
        self.begin = round(float(heard.at) * rate)
        self.end = self.begin + round(float(heard.seconds) * rate)
        past = max(0, first - self.begin)
        self._frames = stretch(piece.path, piece.zero + float(heard.start) + past / rate, max(0, self.end - self.begin - past) / rate, rate, piece.track)
        self._left = np.zeros((2, 0), np.float32)

    def add_to(self, block: np.ndarray, at: int) -> None:
        """Add what is heard of it to the block at `at`."""
        first, last = max(self.begin, at), min(self.end, at + block.shape[1])
        if last <= first:
            return
        count = last - first
        while self._left.shape[1] < count and (frame := next(self._frames, None)) is not None:
            self._left = np.concatenate((self._left, frame.to_ndarray()), axis=1)
        samples, self._left = self._left[:, :count], self._left[:, count:]
        times = (first - self.begin + np.arange(samples.shape[1])) / self._rate
        block[:, first - at : first - at + samples.shape[1]] += samples * self._heard.gains(times)
