"""Frames of a stream, as many as can be had: what is damaged does not take the rest with it."""

import contextlib
from collections.abc import Callable, Generator
from typing import Any

import av

from wenditas.core.errors import FootageRefused


def picture_streams(container: av.container.InputContainer) -> list[av.video.stream.VideoStream]:
    """The video streams that are no cover pictures."""
    return [s for s in container.streams.video if not s.disposition & av.stream.Disposition.attached_pic]


NO_SOUND = "No sound can be read in this file: it is damaged, or another than was taken in."


def sound_stream(container: av.container.InputContainer, track: int = 0) -> av.audio.stream.AudioStream:
    """One of the sound streams; the first where there are not so many. Raises `FootageRefused` where there is none."""
    if not container.streams.audio:
        raise FootageRefused(NO_SOUND)
    return container.streams.audio[track if track < len(container.streams.audio) else 0]


WITH_ALPHA = {"vp8": "libvpx", "vp9": "libvpx-vp9"}  # decoders that bring the alpha channel along that WebM keeps beside the picture


def decoder_of(stream: av.video.stream.VideoStream) -> Any:
    """What decodes a stream of pictures: its own decoder, or one that brings its alpha channel along."""
    named = WITH_ALPHA.get(stream.codec_context.name) if stream.metadata.get("alpha_mode") == "1" else None
    return stream.codec_context if named is None else av.CodecContext.create(named, "r")


def decoded(
    container: av.container.InputContainer, stream: av.stream.Stream, failed: Callable[[], None] = lambda: None, decoder: Any = None
) -> Generator[Any, None, None]:
    """The frames of a stream, in order.

    failed: called for each packet that cannot be decoded, and where the file cannot be read on. decoder: the stream's own by default.
    """
    decoder = stream.codec_context if decoder is None else decoder
    try:
        for packet in container.demux(stream):
            try:
                frames = decoder.decode(packet)
            except av.error.FFmpegError:
                failed()
                continue
            yield from frames
    except av.error.FFmpegError:
        failed()
        with contextlib.suppress(av.error.FFmpegError):
            yield from decoder.decode(None)  # what the decoder still holds
