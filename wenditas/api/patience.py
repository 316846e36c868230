"""Connections that say nothing are not waited for: without a limit each holds a place until the machine is restarted, also before any token is asked for."""

import asyncio
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_SECONDS, BODY_SECONDS = 15.0, 120.0  # for a request to say what it wants; between two pieces of what it sends


class Patient(HttpToolsProtocol):
    """HTTP as uvicorn speaks it, which ends connections whose request does not come, or stops on the way."""

    head_seconds, body_seconds = HEAD_SECONDS, BODY_SECONDS

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._ends: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """See `asyncio.Protocol`."""
        super().connection_made(transport)
        self._wait(self.head_seconds)

    def data_received(self, data: bytes) -> None:
        """See `asyncio.Protocol`."""
        if self._at_rest and self._ends is None:
            self._wait(self.head_seconds)  # another request begins
        super().data_received(data)
        if not self._at_rest:
            self._wait(self.body_seconds if self.cycle.more_body else None)

    def handle_websocket_upgrade(self) -> None:
        """See `HttpToolsProtocol`: the request has come, and what is said from now on is another protocol's."""
        self._wait(None)
        super().handle_websocket_upgrade()

    def connection_lost(self, exc: Exception | None) -> None:
        """See `asyncio.Protocol`."""
        self._wait(None)
        super().connection_lost(exc)

    @property
    def _at_rest(self) -> bool:
        """Whether no request is under way."""
        return self.cycle is None or self.cycle.response_complete

    def _wait(self, seconds: float | None) -> None:
        if self._ends is not None:
            self._ends.cancel()
        self._ends = None if seconds is None else self.loop.call_later(seconds, self.transport.close)
