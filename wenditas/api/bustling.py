"""Requests count as work that rendering ahead and checks of whole shots give way to."""

import re

from starlette.types import ASGIApp, Receive, Scope, Send

# The stream of events, which never ends, and checks of whole shots, which nobody waits for.
UNCOUNTED = re.compile(r"/api/(events|shots/[^/]+/checks/[^/]+)")


class Bustling:
    """Tells the services' `bustle` of every request while it is answered, but for those that are `UNCOUNTED`."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or UNCOUNTED.fullmatch(scope["path"]):
            await self.app(scope, receive, send)
            return
        with scope["app"].state.services.background.bustle.working():
            await self.app(scope, receive, send)
