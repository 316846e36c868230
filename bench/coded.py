"""Frames as people have them: with the noise of a sensor, and of compression."""

from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np

from wenditas.core.kernel import Picture, as_picture
from wenditas.core.measure.noise import noise_of
from wenditas.core.select.denoise import Noise
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import CODING, write_clip
from wenditas.media.writing.video import Coding

CRF, GRAIN, FRAMES = "28", 0.02, 5  # as a phone or a small camera hands over: 8 bits, 4:2:0


def sized(picture: Picture, height: int, width: int) -> Picture:
    """A picture at another size."""
    return np.stack([cv2.resize(plane, (width, height), interpolation=cv2.INTER_AREA) for plane in picture])


HEVC = Coding("libx265", "mp4", "yuv420p", lambda quality, canvas: {"g": str(round(canvas.rate)), "x265-params": "log-level=none"}, reorders=True)
TEN_BIT = replace(CODING, pixels="yuv422p10le")  # H.264, 4:2:2


def encoded(frames: list[Picture], folder: Path, crf: str, base: Coding = CODING) -> tuple[list[Picture], Noise]:
    """Frames after H.264 of 8 bits and 4:2:0, or another encoder, as the application reads them, and the noise that it measures."""
    path = folder / "clip.mp4"
    write_clip(path, frames, Fraction(24), (crf, "medium"), base=base)
    reader = Reader(path, *inspect(path))
    read = [reader.picture(n) for n in range(len(frames))]
    reader.close()
    return read, noise_of(read[::2])


def noisy(picture: Picture, folder: Path) -> tuple[Picture, Noise]:
    """A picture as it comes out of the middle of a clip in which nothing moves but the noise, and that noise."""
    dice = np.random.default_rng(5)
    frames = [as_picture(np.clip(picture + dice.normal(0, GRAIN, picture.shape), 0, 1)) for _ in range(FRAMES)]
    read, noise = encoded(frames, folder, CRF)
    return read[FRAMES // 2], noise
