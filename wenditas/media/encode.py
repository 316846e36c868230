"""Writing video: H.264 in MP4 that plays anywhere, tagged BT.709, with its sound."""

import contextlib
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Literal

import av
import numpy as np

from wenditas.core.colour.ycbcr import Signal
from wenditas.media.convert import Out420

BT709 = 1  # ITU-T H.273: the code point for BT.709 primaries, transfer and matrix
Quality = Literal["fine", "good", "small"]
QUALITIES: dict[Quality, tuple[str, str]] = {"fine": ("14", "fast"), "good": ("18", "veryfast"), "small": ("25", "fast")}  # CRF, preset
DEPTH = 6  # frames in flight between renderer and encoder


class VideoWriter:
    """One MP4 being written. Take a frame with `blank`, fill it, hand it back to `write`, in order."""

    def __init__(
        self, path: Path, width: int, height: int, rate: Fraction, coding: tuple[str, str], sound: Iterator[av.AudioFrame] | None, sound_rate: int | None
    ) -> None:
        self.width, self.height = width + width % 2, height + height % 2
        self._rate, self._count = rate, 0
        self._container = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"})
        crf, preset = coding
        video = self._container.add_stream("libx264", rate=rate, options={"crf": crf, "preset": preset, "aq-mode": "3", "g": str(round(rate))})
        video.width, video.height, video.pix_fmt = self.width, self.height, "yuv420p"
        context = video.codec_context
        context.color_primaries = context.color_trc = context.colorspace = BT709
        context.color_range = 1  # limited
        context.time_base = 1 / rate
        context.thread_count = 0
        self._video = video
        self._sound, self._sound_rate, self._audio, self._ahead = sound, sound_rate, None, None
        if sound is not None and sound_rate:
            self._audio = self._container.add_stream("aac", rate=sound_rate, layout="stereo")
            self._audio.codec_context.bit_rate = 256_000
            self._ahead = next(sound, None)

    def blank(self) -> tuple[av.VideoFrame, Out420]:
        """A new frame and the planes to fill."""
        frame = av.VideoFrame(self.width, self.height, "yuv420p")
        arrays = [np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size) for plane in frame.planes]
        return frame, Out420((arrays[0], arrays[1], arrays[2]), Signal())

    def write(self, frame: av.VideoFrame) -> None:
        """Encode the next frame, and the sound that goes with it."""
        frame.pts, frame.time_base = self._count, 1 / self._rate
        frame.colorspace, frame.color_range = BT709, 1
        self._container.mux(self._video.encode(frame))
        self._count += 1
        self._write_sound(float(self._count / self._rate))

    def _write_sound(self, until: float) -> None:
        while self._audio is not None and self._ahead is not None and self._ahead.pts / self._sound_rate < until:
            self._container.mux(self._audio.encode(self._ahead))
            self._ahead = next(self._sound, None)

    def close(self) -> None:
        """Flush encoders and finish the file."""
        self._container.mux(self._video.encode(None))
        self._write_sound(float("inf"))
        if self._audio is not None:
            self._container.mux(self._audio.encode(None))
        self._container.close()

    def abandon(self) -> None:
        """Close without finishing; the file is not usable."""
        with contextlib.suppress(av.error.FFmpegError):  # the disk may be full
            self._container.close()
