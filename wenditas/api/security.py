"""Who may talk to the server: Host and Origin checks, an access token off loopback, response headers."""

import hmac
from http.cookies import SimpleCookie
from urllib.parse import parse_qs

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse, RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
COOKIE = "wenditas-token"
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; font-src 'self'; "
    "media-src 'self' blob:; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-resource-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
}


class Guard:
    """ASGI middleware around the whole application.

    hosts: accepted values of the Host header, without port. A page of another site, or a
    name rebound to this machine, has a Host or an Origin that is not among them.
    """

    def __init__(self, app: ASGIApp, hosts: tuple[str, ...] = LOOPBACK, token: str | None = None) -> None:
        self.app, self.hosts, self.token = app, hosts, token

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        refusal = self._refusal(scope)
        if refusal:
            await self._refuse(scope, receive, send, refusal)
        elif self.token and scope["type"] == "http" and self._query_token(scope):
            response = RedirectResponse(scope["path"], status_code=303)
            response.set_cookie(COOKIE, self.token, httponly=True, samesite="strict")
            await response(scope, receive, send)
        else:
            await self.app(scope, receive, self._with_headers(send))

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        if host.rsplit(":", 1)[0] not in self.hosts and host not in self.hosts:
            return f"The host {host!r} is not this server's name."
        origin = headers.get("origin")
        if origin is not None and origin.split("://", 1)[-1] != host:
            return f"Requests from the page {origin!r} are not accepted."
        if headers.get("sec-fetch-site") in ("cross-site", "same-site") and scope.get("method") != "GET":
            return "Requests from other sites are not accepted."
        if self.token and not self._token_ok(scope, headers):
            return "This server needs its access token; open the address that it printed at start."
        return None

    def _query_token(self, scope: Scope) -> str:
        return parse_qs(scope["query_string"].decode("latin-1")).get("token", [""])[0]

    def _token_ok(self, scope: Scope, headers: Headers) -> bool:
        cookie = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
        given = [self._query_token(scope), cookie.value if cookie else "", headers.get("authorization", "").removeprefix("Bearer ")]
        return any(hmac.compare_digest(g.encode(), (self.token or "").encode()) for g in given)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send, why: str) -> None:
        if scope["type"] == "websocket":
            await receive()
            await send({"type": "websocket.close", "code": 1008, "reason": why[:120]})
        else:
            await PlainTextResponse(why, status_code=403)(scope, receive, send)

    def _with_headers(self, send: Send) -> Send:
        async def wrapped(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
            await send(message)

        return wrapped
