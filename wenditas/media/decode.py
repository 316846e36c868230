"""Frames of a stream, as many as can be had: what is damaged does not take the rest with it."""

import contextlib
from collections.abc import Callable, Iterator
from typing import Any

import av


def picture_stream(container: av.container.InputContainer) -> av.video.stream.VideoStream:
    """The first video stream that is not a cover picture. Raises `StopIteration` where there is none."""
    return next(s for s in container.streams.video if not s.disposition & av.stream.Disposition.attached_pic)


def decoded(container: av.container.InputContainer, stream: av.stream.Stream, failed: Callable[[], None] = lambda: None) -> Iterator[Any]:
    """The frames of a stream, in order. `failed` is called for each packet that cannot be decoded, and where the file cannot be read on."""
    try:
        for packet in container.demux(stream):
            try:
                frames = packet.decode()
            except av.error.FFmpegError:
                failed()
                continue
            yield from frames
    except av.error.FFmpegError:
        failed()
        with contextlib.suppress(av.error.FFmpegError):
            yield from stream.codec_context.decode(None)  # what the decoder still holds
