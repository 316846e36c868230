"""What changed, told to every open page over server-sent events."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

BEAT = 15  # seconds between signs of life


class Hub:
    """Publish from any thread; each listener has its own bounded queue."""

    def __init__(self) -> None:
        self._listeners: set[asyncio.Queue[dict[str, Any]]] = set()
        self._loop: asyncio.AbstractEventLoop | None = None

    def attach(self, loop: asyncio.AbstractEventLoop) -> None:
        """Use this event loop for delivery."""
        self._loop = loop

    def publish(self, **event: Any) -> None:
        """Tell all listeners."""
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._deliver, event)

    def _deliver(self, event: dict[str, Any]) -> None:
        for listener in self._listeners:
            if listener.full():
                listener.get_nowait()
            listener.put_nowait(event)

    async def listen(self) -> AsyncIterator[str]:
        """Events as text/event-stream, with a beat while nothing happens."""
        mine: asyncio.Queue[dict[str, Any]] = asyncio.Queue(maxsize=256)
        self._listeners.add(mine)
        try:
            yield ": hello\n\n"
            while True:
                try:
                    event = await asyncio.wait_for(mine.get(), BEAT)
                    yield f"data: {json.dumps(event)}\n\n"
                except TimeoutError:
                    yield ": beat\n\n"
        finally:
            self._listeners.discard(mine)
