"""Requests count as work that rendering ahead gives way to."""

from starlette.types import ASGIApp, Receive, Scope, Send


class Bustling:
    """Tells the services' `bustle` of every request while it is answered, but for the stream of events, which never ends."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["path"] == "/api/events":
            await self.app(scope, receive, send)
            return
        with scope["app"].state.services.background.bustle.working():
            await self.app(scope, receive, send)
