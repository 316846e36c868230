"""Who may talk to the server: Host and Origin checks, an access token off loopback, response headers."""

import hmac
import ipaddress
from urllib.parse import parse_qsl, quote, urlencode

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


def _cookie(scope: Scope) -> str:
    """The cookie of the server at this port: browsers keep cookies by name alone, and there may be several servers on one machine."""
    return f"{COOKIE}-{(scope.get('server') or ('', 0))[1]}"


def _address(text: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    """A numeric address, with or without brackets; None for any other text."""
    try:
        found = ipaddress.ip_address(text.removeprefix("[").removesuffix("]").split("%")[0])
    except ValueError:
        return None
    return getattr(found, "ipv4_mapped", None) or found


class Guard:
    """ASGI middleware around the whole application.

    hosts: accepted values of the Host header, without port; with a token also the address that the
    request has reached, whichever of the machine's it is. A page of another site, or a name rebound
    to this machine, has a Host or an Origin that is not among them.
    """

    def __init__(self, app: ASGIApp, hosts: tuple[str, ...] = LOOPBACK, token: str | None = None) -> None:
        self.app, self.hosts, self.token = app, hosts, token

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        dressed = self._with_headers(send)
        refusal = self._refusal(scope)
        if refusal:
            await self._refuse(scope, receive, dressed, refusal)
        elif self.token and scope["type"] == "http" and self._query_token(scope):
            await self._welcome(scope, receive, dressed)
        else:
            await self.app(scope, receive, dressed)

    async def _welcome(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Put the token into a cookie, and go to the same address without it: one of this server, whatever its path looks like."""
        path = "/" + quote(scope["path"].lstrip("/\\"), safe="/~")
        rest = urlencode([(k, v) for k, v in self._query(scope) if k != "token"])
        response = RedirectResponse(f"{path}?{rest}" if rest else path, status_code=303)
        response.set_cookie(_cookie(scope), self.token or "", httponly=True, samesite="strict")
        await response(scope, receive, send)

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        if not self._ours(host, scope):
            return f"The host {host[:80]!r} is not this server's name."
        origin = headers.get("origin")
        if origin is not None and origin.split("://", 1)[-1] != host:
            return f"Requests from the page {origin[:80]!r} are not accepted."
        if headers.get("sec-fetch-site") in ("cross-site", "same-site") and scope.get("method") != "GET":
            return "Requests from other sites are not accepted."
        if self.token and not self._token_ok(scope, headers):
            return "This server needs its access token; open the address that it printed at start."
        return None

    def _ours(self, host: str, scope: Scope) -> bool:
        name, port = (host, "") if host.endswith("]") or ":" not in host else host.rsplit(":", 1)
        if port and not (port.isascii() and port.isdigit() and len(port) <= 5):
            return False
        if name in self.hosts:
            return True
        return bool(self.token) and _address(name) is not None and _address(name) == _address((scope.get("server") or ("", 0))[0])

    def _query(self, scope: Scope) -> list[tuple[str, str]]:
        return parse_qsl(scope["query_string"].decode("latin-1"), keep_blank_values=True)

    def _query_token(self, scope: Scope) -> str:
        return next((v for k, v in self._query(scope) if k == "token"), "")

    def _token_ok(self, scope: Scope, headers: Headers) -> bool:
        cookies = [c.strip().partition("=") for line in headers.getlist("cookie") for c in line.split(";")]
        given = [
            self._query_token(scope),
            headers.get("authorization", "").removeprefix("Bearer "),
            *(value.strip('"') for name, _, value in cookies if name == _cookie(scope)),
        ]
        return any(hmac.compare_digest(g.encode(errors="replace"), (self.token or "").encode()) for g in given)

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
