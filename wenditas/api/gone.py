"""Whether the page that asked is still there: a picture that nobody waits for is not rendered to its end."""

import asyncio
import threading

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wenditas.render.giving_up import until


class Watch:
    """Listens, while a GET request is answered, for the page going away, and has the work given up then."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] != "GET":
            await self.app(scope, receive, send)
            return
        gone, messages = threading.Event(), asyncio.Queue[Message]()

        async def listen() -> None:
            while not gone.is_set():
                message = await receive()
                if message["type"] == "http.disconnect":
                    gone.set()
                await messages.put(message)

        listening = asyncio.create_task(listen())
        try:
            with until(gone.is_set):
                await self.app(scope, messages.get, send)
        finally:
            listening.cancel()
