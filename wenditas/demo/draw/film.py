"""From drawn frames to a clip: film noise, soundtrack, encoding."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Protocol

import av
import cv2
import numpy as np
import skia

from wenditas.core.kernel import as_picture
from wenditas.media.sound import audio_frame
from wenditas.media.writing.h264 import write_clip

RATE, SOUND_RATE = Fraction(24), 48000
NOISE = 0.013  # strength of the film noise, unless a scene has its own
CODING = ("21", "slow")  # CRF, preset: under 3 MB a clip


class Shot(Protocol):
    """Something that draws frames."""

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        ...


def noise(picture: np.ndarray, frame: int, strength: float) -> np.ndarray:
    """Film noise: soft-edged, strongest in the mid-tones, a little of it coloured."""
    rng = np.random.default_rng(1000 + frame)
    height, width = picture.shape[1:]
    grey = cv2.GaussianBlur(rng.standard_normal((height, width), np.float32), (0, 0), 0.8) * 1.9
    colour = cv2.GaussianBlur(rng.standard_normal((height, width, 3), np.float32), (0, 0), 1.1).transpose(2, 0, 1)
    tone = picture.mean(axis=0)
    noisy: np.ndarray = picture + strength * (grey + 0.6 * colour) * (0.45 + 2.2 * tone * (1 - tone))
    return noisy


def soundtrack(seconds: float, seed: int, chords: Sequence[tuple[float, ...]], rumble: float) -> np.ndarray:
    """A soft soundtrack `(2, samples)`: slow chords, a low rumble, a distant bell."""
    rng = np.random.default_rng(seed)
    count = round(seconds * SOUND_RATE)
    t = np.arange(count) / SOUND_RATE
    out = np.zeros((2, count))
    each = seconds / len(chords)
    for n, chord in enumerate(chords):
        swell = np.clip(np.minimum((t - n * each + 0.6) / 1.2, ((n + 1) * each + 0.6 - t) / 1.2), 0, 1)
        for k, pitch in enumerate(chord):
            for side in (0, 1):
                detune = 1 + 0.0015 * (side - 0.5) * (k + 1)
                out[side] += 0.05 * swell * (np.sin(2 * np.pi * pitch * detune * t) + 0.3 * np.sin(4 * np.pi * pitch * t + k))
    low = np.convolve(rng.standard_normal(count), np.hanning(700) / 350, mode="same")
    out += rumble * low * (0.7 + 0.3 * np.sin(2 * np.pi * 2.1 * t))
    for at in (0.7, 1.05):
        late = np.maximum(t - at, 0)
        out += np.where(t > at, 0.06 * np.exp(-3.5 * late) * (np.sin(2 * np.pi * 1318 * late) + 0.5 * np.sin(2 * np.pi * 2637 * late)), 0)
    fade = np.clip(np.minimum(t / 0.25, (seconds - t) / 0.4), 0, 1)
    faded: np.ndarray = (out * fade).astype(np.float32)
    return faded


@dataclass(frozen=True)
class _Samples:
    """Sound that is there as samples `(2, n)`."""

    samples: np.ndarray
    rate: int = SOUND_RATE

    def frames(self, seconds: float, rate: int) -> Iterator[av.AudioFrame]:
        """All of it."""
        for at in range(0, self.samples.shape[1], 4096):
            yield audio_frame(self.samples[:, at : at + 4096], at, rate)


def picture_of(shot: Shot, frame: int, width: int, height: int) -> np.ndarray:
    """One drawn frame as float R'G'B' `(3, h, w)`, without noise."""
    surface = skia.Surface(width, height)
    with surface as canvas:
        shot.draw(canvas, frame)
    pixels = surface.makeImageSnapshot().toarray(colorType=skia.kRGBA_8888_ColorType)
    return as_picture(pixels[:, :, :3].transpose(2, 0, 1) / np.float32(255))


def shoot(shot: Shot, frames: int, width: int, height: int, sound: np.ndarray, target: Path, grain: float = NOISE) -> None:
    """Draw all frames and write the clip."""
    part = target.with_suffix(".part.mp4")
    pictures = (as_picture(noise(picture_of(shot, number, width, height), number, grain)) for number in range(frames))
    write_clip(part, pictures, RATE, CODING, _Samples(sound))
    part.replace(target)
