"""Video: segments encoded by encoders of their own, and joined packet by packet, with sound encoded once at the join.

Encoders have a fixed number of threads, so that what they write does not depend on the machine's cores, and each segment
begins with a closed group; so joined files are the same whatever the number of processes and however often one was stopped.
"""

import contextlib
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np

from wenditas.core.colour.ycbcr import Signal
from wenditas.core.errors import ExportFailed
from wenditas.core.kernel import Matte
from wenditas.media.convert import Out420, OutRgb16, OutWide
from wenditas.media.opening import open_media
from wenditas.media.writing.record import Canvas, Format, Quality, Slot, SoundOf

BT709, RGB = 1, 0  # ITU-T H.273: the code points for BT.709 primaries, transfer and matrix; and for a matrix of none
LIMITED, FULL = 1, 2
THREADS = 3  # of an encoder: fixed, since several write other files with other numbers of threads
SOUND_BITS = {"aac": 256_000, "libopus": 192_000}
SOUND_RATES = {"libopus": 48_000}


@dataclass(frozen=True)
class Coding:
    """How frames are coded. pixels, alpha_pixels: FFmpeg's pixel formats, without and with alpha. options: of the encoder, by quality.

    reorders: packets may come in another order than they are shown. tag: the code of the codec in its container.
    """

    codec: str
    container: str
    pixels: str
    options: Callable[[Quality, Canvas], Mapping[str, str]]
    alpha_pixels: str = ""
    reorders: bool = False
    tag: str = ""


class _Slot:
    """A frame whose planes are filled."""

    def __init__(self, width: int, height: int, pixels: str) -> None:
        self.frame = av.VideoFrame(width, height, pixels)
        bits = self.frame.format.components[0].bits
        dtype = np.uint8 if bits == 8 else np.uint16
        planes = [np.frombuffer(p, np.uint8).view(dtype).reshape(-1, p.line_size // dtype().itemsize) for p in self.frame.planes]
        self._alpha = planes[3] if len(planes) == 4 else None
        self._top, self._size = 2**bits - 1, (height, width)
        out: Out420 | OutRgb16 | OutWide
        if pixels.startswith("gbr"):
            out = OutRgb16((planes[2], planes[0], planes[1]))
        elif "420" in pixels:
            out = Out420((planes[0], planes[1], planes[2]), Signal(bits=bits))
        else:
            out = OutWide((planes[0], planes[1], planes[2]), Signal(bits=bits), "422" in pixels)
        self.store = out.store

    def put_alpha(self, alpha: Matte) -> None:
        """Straight coverage as full-range code values."""
        if self._alpha is None:
            return
        height, width = self._size
        padded = np.pad(alpha, ((0, height - alpha.shape[0]), (0, width - alpha.shape[1])), mode="edge")
        self._alpha[:height, :width] = np.rint(np.clip(padded, 0, 1) * self._top)


class VideoSegment:
    """A segment being encoded. Take a slot, fill it, hand it back to `write`, in order."""

    def __init__(self, path: Path, canvas: Canvas, coding: Coding) -> None:
        self._pixels = coding.alpha_pixels if canvas.alpha else coding.pixels
        even = "420" in self._pixels, "420" in self._pixels or "422" in self._pixels
        self._height = canvas.height + (canvas.height % 2 if even[0] else 0)
        self._width = canvas.width + (canvas.width % 2 if even[1] else 0)
        self._rate, self._count = canvas.rate, 0
        self._container = av.open(str(path), "w", format=coding.container, options={"fflags": "+bitexact"})
        video = self._container.add_stream(coding.codec, rate=canvas.rate, options=dict(coding.options(canvas.quality, canvas)))
        video.width, video.height, video.pix_fmt = self._width, self._height, self._pixels
        context = video.codec_context
        self._rgb = self._pixels.startswith("gbr")
        context.color_primaries = context.color_trc = BT709
        context.colorspace, context.color_range = (RGB, FULL) if self._rgb else (BT709, LIMITED)
        context.time_base = 1 / canvas.rate
        context.thread_count = THREADS
        if coding.tag:
            context.codec_tag = coding.tag
        self._video = video

    def slot(self) -> _Slot:
        """A new frame to fill."""
        return _Slot(self._width, self._height, self._pixels)

    def write(self, slot: Slot, number: int) -> None:
        """Encode the next frame."""
        assert isinstance(slot, _Slot)
        self.encode(slot.frame)

    def encode(self, frame: av.VideoFrame) -> None:
        """Encode a frame that is there already, as the next."""
        frame.pts, frame.time_base = self._count, 1 / self._rate
        frame.colorspace, frame.color_range = (RGB, FULL) if self._rgb else (BT709, LIMITED)
        frame.color_primaries = frame.color_trc = BT709
        self._container.mux(self._video.encode(frame))
        self._count += 1

    def close(self) -> None:
        """Flush the encoder and finish the file."""
        self._container.mux(self._video.encode(None))
        self._container.close()

    def abandon(self) -> None:
        """Close without finishing."""
        with contextlib.suppress(av.error.FFmpegError):  # the disk may be full
            self._container.close()


class _SoundTrack:
    """Sound that is encoded along with the packets of the picture."""

    def __init__(self, container: av.container.OutputContainer, codec: str, sound: SoundOf | None, seconds: float) -> None:
        own = sound.rate if sound is not None else None
        self._stream: av.AudioStream | None = None
        self._frames: Iterator[av.AudioFrame] = iter(())
        self._ahead: av.AudioFrame | None = None
        self._container = container
        if sound is None or not own:
            return
        self._rate = SOUND_RATES.get(codec, own)
        self._stream = container.add_stream(codec, rate=self._rate, layout="stereo")
        if codec in SOUND_BITS:
            self._stream.codec_context.bit_rate = SOUND_BITS[codec]
        self._frames = sound.frames(seconds, self._rate)
        self._ahead = next(self._frames, None)

    def up_to(self, until: float) -> None:
        """Write what is heard before a time, in seconds."""
        while self._stream is not None and self._ahead is not None and self._ahead.pts / self._rate < until:
            self._container.mux(self._stream.encode(self._ahead))
            self._ahead = next(self._frames, None)

    def end(self) -> None:
        """Write the rest."""
        self.up_to(float("inf"))
        if self._stream is not None:
            self._container.mux(self._stream.encode(None))


def join_video(parts: Sequence[Path], target: Path, canvas: Canvas, frames: int, sound: SoundOf | None, coding: Coding, sound_codec: str | None) -> None:
    """Put the packets of segments one after another into a file, with the sound. The packets are not touched."""
    options = {"fflags": "+bitexact"} | ({"movflags": "+faststart"} if coding.container in ("mp4", "mov") else {})
    rate, at = canvas.rate, 0
    with open_media(parts[0]) as first:
        template = first.streams.video[0]
        extradata = template.codec_context.extradata
        out = av.open(str(target), "w", format=coding.container, options=options)
        try:
            video = out.add_stream_from_template(template, opaque=True)
            video.time_base = 1 / rate
            if coding.tag:
                video.codec_context.codec_tag = coding.tag
            track = _SoundTrack(out, sound_codec or "aac", sound if sound_codec else None, float(frames / rate))
            for path in parts:
                at += _append(out, video, path, at, canvas, coding, extradata, track)
            track.end()
            out.close()
        except BaseException:
            with contextlib.suppress(av.error.FFmpegError):
                out.close()
            raise


def _append(out, video, path: Path, at: int, canvas: Canvas, coding: Coding, extradata: bytes | None, track: _SoundTrack) -> int:  # type: ignore[no-untyped-def]
    """Append the packets of one segment, whose first frame is number `at`. How many frames they are."""
    rate, count = canvas.rate, 0
    with open_media(path) as container:
        stream = container.streams.video[0]
        if stream.codec_context.extradata != extradata:
            raise ExportFailed("A segment was written by another encoder than the ones before it. Start the export again.")
        for packet in container.demux(stream):
            if not packet.size:
                continue
            if coding.reorders:
                pts, dts = round(packet.pts * packet.time_base * rate), round(packet.dts * packet.time_base * rate)
            else:
                pts = dts = count
            packet.stream, packet.time_base = video, 1 / rate
            packet.pts, packet.dts, packet.duration = at + pts, at + dts, 1
            out.mux(packet)
            count += 1
            track.up_to(float((at + count) / rate))
    return count


def video_format(id: str, name: str, tells: str, suffix: str, coding: Coding, sound: str | None, joined: str, choose: bool = False) -> Format:
    """A video format from how its frames are coded."""

    def begin(path: Path, canvas: Canvas) -> VideoSegment:
        try:
            return VideoSegment(path, canvas, coding)
        except av.error.FFmpegError as error:
            raise ExportFailed(f"The encoder cannot write {canvas.width} × {canvas.height} at {canvas.rate} frames a second: {error.strerror}.") from error

    def join(parts: Sequence[Path], target: Path, canvas: Canvas, frames: int, heard: SoundOf | None) -> None:
        join_video(parts, target, canvas, frames, heard, coding, sound)

    return Format(id, name, tells, suffix, joined, begin, join, sound=sound, alpha=bool(coding.alpha_pixels), choose=choose)
