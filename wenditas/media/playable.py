"""Sound as a browser plays it: a WAV file that nobody wrote. Any stretch of its bytes is worked out when it is asked for."""

import struct
from collections.abc import Callable, Iterator
from pathlib import Path

import av
import numpy as np

from wenditas.media.sound import PLAY_RATE, stretch

HEADER, SAMPLE = 44, 4  # bytes; of a sample of both channels
MOST = 2**32 - 1  # that a size in the header can tell: six hours
FULL = 32767
PIECE = PLAY_RATE // 4  # samples that are given at once

Frames = Callable[[int], Iterator[av.AudioFrame]]  # stereo float frames from a sample on


def of_file(path: Path, start: float, seconds: float, track: int) -> Frames:
    """So many seconds of the sound of a file, from `start` on."""
    return lambda first: stretch(path, start + first / PLAY_RATE, seconds - first / PLAY_RATE, PLAY_RATE, track)


def size_of(seconds: float) -> int:
    """Bytes of the file."""
    return HEADER + round(seconds * PLAY_RATE) * SAMPLE


def header(size: int) -> bytes:
    """The beginning of a file of so many bytes: 16-bit stereo at `PLAY_RATE`. Source: Multimedia Programming Interface and Data Specifications 1.0, 1991."""
    riff = struct.pack("<4sI4s", b"RIFF", min(size - 8, MOST), b"WAVE")
    form = struct.pack("<4sIHHIIHH", b"fmt ", 16, 1, 2, PLAY_RATE, PLAY_RATE * SAMPLE, SAMPLE, 16)
    return riff + form + struct.pack("<4sI", b"data", min(size - HEADER, MOST))


def bytes_of(frames: Frames, size: int, first: int, end: int) -> Iterator[bytes]:
    """The bytes from `first` to before `end` of a file of `size` bytes. frames: sound for all of it."""
    if first < HEADER:
        yield header(size)[first:end]
    sample, left = max(0, first - HEADER) // SAMPLE, end - max(first, HEADER)
    skipped = max(0, first - HEADER) % SAMPLE
    if left <= 0:
        return
    for frame in frames(sample):
        coded = np.clip(np.rint(frame.to_ndarray().T * FULL), -FULL - 1, FULL).astype("<i2").tobytes()
        for at in range(0, len(coded), PIECE * SAMPLE):
            piece = coded[at : at + PIECE * SAMPLE][skipped:][:left]
            skipped, left = 0, left - len(piece)
            yield piece
            if left <= 0:
                return
