"""Sound as an answer: any stretch of its bytes, worked out as it is sent."""

import re
import time
from asyncio import sleep
from collections.abc import AsyncIterator, Iterator, Mapping
from typing import Annotated

from fastapi import Header
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response, StreamingResponse

from wenditas.media.playable import SAMPLE, Frames, bytes_of, size_of
from wenditas.media.sound import PLAY_RATE

ONE_RANGE = re.compile(r"bytes=(\d{0,18})-(\d{0,18})")
LEAD, PACE = 3.0, 2.0  # seconds that are sent at once; how many seconds in one, after them: what is seen meanwhile is to have the processor
RATE = PLAY_RATE * SAMPLE  # bytes a second
Range = Annotated[str | None, Header(alias="range")]


def bytes_in(header: str | None, size: int) -> tuple[int, int] | None:
    """The bytes (first, before which) that a range header asks for; None where it asks for none, or for what need not be heeded: units of another kind,
    several ranges. Where nothing of it is there, first is `size` or more. Source: RFC 9110, 14.

    >>> [bytes_in(f"bytes={of}", 1000) for of in ("100-", "-100", "0-99", "5-1")]
    [(100, 1000), (900, 1000), (0, 100), None]
    """
    found = ONE_RANGE.fullmatch(header.strip()) if header else None
    if found is None or found.groups() == ("", ""):
        return None
    first, last = found.groups()
    if not first:
        return (max(0, size - int(last)), size) if int(last) else (size, size)
    end = min(int(last) + 1, size) if last else size
    return None if last and int(last) < int(first) else (int(first), end)


def wav(asked: str | None, seconds: float, frames: Frames, headers: Mapping[str, str]) -> Response:
    """Sound as a file, or the stretch of it that is asked for. What is raised before any of it is there is raised here."""
    size = size_of(seconds)
    found, told = bytes_in(asked, size), {**headers, "accept-ranges": "bytes"}
    if found is not None and found[0] >= size:
        return Response(status_code=416, headers={**told, "content-range": f"bytes */{size}"})
    first, end = found or (0, size)
    pieces = bytes_of(frames, size, first, end)
    begun = next(pieces, b"") + next(pieces, b"")  # the first may be the header of the file, which tells nothing of whether the rest can be read
    told["content-length"] = str(end - first)
    if found is not None:
        told["content-range"] = f"bytes {first}-{end - 1}/{size}"
    return StreamingResponse(_paced(begun, pieces), 206 if found else 200, told, "audio/wav")


async def _paced(begun: bytes, pieces: Iterator[bytes]) -> AsyncIterator[bytes]:
    """Pieces as they are worked out, not much faster than they are played."""
    start, sent = time.monotonic(), len(begun)
    yield begun
    while piece := await run_in_threadpool(next, pieces, b""):
        await sleep(max(0.0, (sent / RATE - LEAD) / PACE - (time.monotonic() - start)))
        sent += len(piece)
        yield piece
