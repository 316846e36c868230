"""How much may be sent: bodies that are read as a whole are small, and refused as soon as they are not."""

from starlette.requests import ClientDisconnect, HTTPConnection
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wenditas.api.errors import answer
from wenditas.core.errors import TooLarge
from wenditas.formats.look_json import MOST_BYTES as MOST_LOOK

MOST_BODY = 8 << 20
# Endings of addresses whose bodies are read piece by piece, with limits of their own.
STREAMED = {"POST": ("/footage", "/api/files", "/api/projects/archive"), "PUT": ("/pictures",)}
MOST_LOOK_BODY = MOST_LOOK + (MOST_LOOK >> 2)  # its text, escaped


def _most(scope: Scope) -> int | None:
    if scope["path"].endswith(STREAMED.get(scope["method"], ())):
        return None
    carries = (scope["method"] == "PUT" and scope["path"].endswith("/look")) or scope["path"] == "/api/shelf/import"
    return MOST_LOOK_BODY if carries else MOST_BODY


class Limits:
    """Answers 413 where a body is too large, before it is read."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        most = _most(scope) if scope["type"] == "http" else None
        if most is None:
            await self.app(scope, receive, send)
            return
        refusal = TooLarge(f"This is larger than {most >> 20} MiB, the most that is taken here.")
        told = HTTPConnection(scope).headers.get("content-length", "0")
        if not told.isdecimal() or len(told) > 18 or int(told) > most:
            await answer(refusal)(scope, receive, send)
            return
        got, begun = 0, False

        async def counted() -> Message:
            nonlocal got
            message = await receive()
            got += len(message.get("body", b""))
            return message if got <= most else {"type": "http.disconnect"}

        async def unless_refused(message: Message) -> None:
            nonlocal begun
            begun = begun or got <= most
            if begun:
                await send(message)

        try:
            await self.app(scope, counted, unless_refused)
        except ClientDisconnect:
            if got <= most:
                raise
        if not begun:
            await answer(refusal)(scope, receive, send)
