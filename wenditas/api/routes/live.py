"""The live channel of a shot or a reel: overrides up, pictures down; the newest wins, the stale are dropped.

Up (JSON):   {"kind": "look" | "before" | "pixel" | "play", "id", "revision", "commands", "frame", "width", "view", "selection",
              "upto", "alone", "without", "x", "y", "scope", "of"}
             a "play" with "bare" is rendered and answered without its picture
             {"kind": "clear"}                          forget the queue of "play" requests
             {"kind": "ready", ..., "first", "last", "every"}  which frames of that view are rendered; the others are, when nothing else is to be done
Down:        pictures as binary: four bytes of header length (big endian), a JSON header, a JPEG of "picture" bytes, and for
             "play" the scope that was asked for as a PNG; the scope of a "look" follows its picture as a message of kind "scope";
             {"kind": "pixel" | "ready" | "error", "id", ...} as text.
"""

import asyncio
import contextlib
import json
import logging
import struct
import threading
from collections import deque
from collections.abc import Callable
from typing import Any, Literal, TypeVar

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, Field, ValidationError

from wenditas.api.shared import Shared
from wenditas.app.services import Services
from wenditas.app.subjects import ReelSubject, ShotSubject, Subject
from wenditas.core.errors import WenditasError
from wenditas.core.look.commands import Command
from wenditas.core.measure.scopes import Scope
from wenditas.project.reels import Without
from wenditas.render.ahead import Played
from wenditas.render.giving_up import until
from wenditas.render.request import FULL, Request, ScreenView
from wenditas.render.scopes import Of

R = TypeVar("R")
router = APIRouter()
log = logging.getLogger(__name__)
AHEAD = 1.5  # seconds before which decoders are in place
MOST_QUEUED, MOST_TEXT = 64, 4 << 20
MOST_NUMBER = 2**53  # that is exact in a page
QUIET, PAUSE = 0.8, 0.15  # seconds of quiet before anything is rendered ahead; between two looks whether it is quiet
ORDER = ("look", "before", "pixel", "ready")  # which of the waiting single requests is answered first


class Ask(BaseModel):
    """One message from the page."""

    kind: Literal["look", "before", "pixel", "play", "ready", "clear"]
    id: int = 0
    revision: int = Field(0, ge=0, le=MOST_NUMBER)
    commands: list[Command] = []
    frame: int = Field(0, ge=0, le=MOST_NUMBER)
    width: int = Field(FULL, ge=16, le=MOST_NUMBER)
    view: ScreenView = "result"
    selection: str | None = None
    upto: int | None = None
    alone: str | None = None
    scope: Scope | None = None
    of: Of = "result"
    x: float = Field(0, ge=0, le=1)
    y: float = Field(0, ge=0, le=1)
    every: int = Field(1, ge=1)
    first: int = Field(0, ge=0)
    last: int = Field(0, ge=0)
    bare: bool = False
    without: Without | None = None


class Channel:
    """One page's live channel: a place for each kind of single request, a queue for playback, and rendering ahead while idle."""

    def __init__(self, socket: WebSocket, services: Services, subject: Subject) -> None:
        self.socket, self.services, self.subject = socket, services, subject
        self._prepared: set[str] = set()
        self._prepare()
        self._newest: dict[str, Ask] = {}
        self._queue: deque[Ask] = deque(maxlen=MOST_QUEUED)
        self._decoded: asyncio.Queue[Ask] = asyncio.Queue(maxsize=1)
        self._work = asyncio.Condition()
        self._sending = asyncio.Lock()
        self._ahead: Ask | None = None  # the view to render ahead
        self._closed = threading.Event()
        self._preparing: asyncio.Future[None] | None = None

    def _prepare(self) -> None:
        """Have preview copies made of what is shown, where it is large."""
        for id in self.subject.footage():
            if id not in self._prepared:
                self._prepared.add(id)
                self.services.screen.proxies.want(id, self.services.projects.library.facts(id))

    def close(self) -> None:
        """The page has gone: what is being rendered for it is given up."""
        self._closed.set()

    async def _in_thread(self, work: Callable[[Ask], R], ask: Ask) -> R:
        """Do some of the channel's work on a thread for pictures, as long as its page is there."""

        def until_closed() -> R:
            with until(self._closed.is_set):
                return work(ask)

        return await asyncio.get_running_loop().run_in_executor(self.services.background.moving, until_closed)

    async def listen(self) -> None:
        """Receive until the page goes away."""
        while True:
            message = await self.socket.receive()
            if message["type"] == "websocket.disconnect":
                return
            text = message.get("text")
            if text is None:
                await self._refuse("Messages are text, not bytes.")
                continue
            if len(text) > MOST_TEXT:
                await self._refuse(f"A message has at most {MOST_TEXT >> 20} MiB.")
                continue
            try:
                ask = Ask.model_validate_json(text)
            except ValidationError as error:
                await self._refuse(f"Not understood: {error.errors()[0]['msg']}")
                continue
            async with self._work:
                if ask.kind == "play":
                    self._queue.append(ask)
                elif ask.kind == "clear":
                    self._queue.clear()
                else:
                    self._newest[ask.kind] = ask
                self._work.notify_all()

    async def _refuse(self, why: str) -> None:
        """Say that a message is none."""
        async with self._sending:
            await self.socket.send_text(json.dumps({"kind": "error", "id": 0, "message": why}))

    async def serve_newest(self) -> None:
        """Answer single requests, one at a time, the most urgent first."""
        while True:
            async with self._work:
                await self._work.wait_for(lambda: bool(self._newest))
                ask = self._newest.pop(next(k for k in ORDER if k in self._newest))
            await self._answer(ask)

    async def decode_queue(self) -> None:
        """Decode for playback, strictly in order: two renderers that decoded would send each other back to the last key frame."""
        while True:
            async with self._work:
                await self._work.wait_for(lambda: bool(self._queue))
                ask = self._queue.popleft()
            if self._preparing is None or self._preparing.done():
                self._preparing = asyncio.ensure_future(self._prepared_ahead(ask))
            with contextlib.suppress(Exception):  # said when it is rendered
                await self._in_thread(self._decode, ask)
            await self._decoded.put(ask)

    async def _prepared_ahead(self, ask: Ask) -> None:
        """Have the decoders in place for what comes in a while, beyond a cut perhaps."""
        with contextlib.suppress(Exception):
            later = ask.model_copy(update={"frame": min(ask.frame + round(AHEAD * float(self.subject.rate)), self.subject.length - 1)})
            await self._in_thread(lambda a: self.services.screen.pictures.prepare(self._quick(ask, "play"), self._quick(a, "play"), "play"), later)

    async def serve_queue(self) -> None:
        """Answer playback requests."""
        while True:
            await self._answer(await self._decoded.get())

    async def render_ahead(self) -> None:
        """While nothing else is to be done, render the frames that the page would play next."""
        while True:
            await asyncio.sleep(PAUSE)
            if self._ahead is None or self.services.background.bustle.quiet_for() < QUIET or any(map(self.services.screen.proxies.coming, self._prepared)):
                continue
            ask, self._ahead = self._ahead, None
            with contextlib.suppress(Exception):  # said when it is shown
                if await self.services.background.behind(self._render_some, ask):
                    self._ahead = self._ahead or ask

    async def _answer(self, ask: Ask) -> None:
        """Compute and send; for a look the picture first, then its scope, unless a newer look is waiting by then."""
        apart = ask.kind == "look" and ask.scope is not None
        await self._send(self._compute, ask.model_copy(update={"scope": None}) if apart else ask)
        if apart and "look" not in self._newest:
            await self._send(self._scope, ask)

    async def _send(self, compute: Callable[[Ask], bytes | str], ask: Ask) -> None:
        try:
            answer = await self._in_thread(compute, ask)
        except WenditasError as error:
            answer = json.dumps({"kind": "error", "id": ask.id, "message": str(error)})
        except Exception:  # whatever it is, the channel goes on
            log.exception("frame %d of %s", ask.frame, type(self.subject).__name__)
            answer = json.dumps({"kind": "error", "id": ask.id, "message": "This picture could not be rendered."})
        async with self._sending:
            if isinstance(answer, bytes):
                await self.socket.send_bytes(answer)
            else:
                await self.socket.send_text(answer)

    def _quick(self, ask: Ask, purpose: str) -> Request:
        return self.services.screen.pictures.quick(self.subject.request(ask), purpose)

    def _played(self, ask: Ask) -> Played:
        request = self._quick(ask, "play")
        return Played(lambda frame: request.but(frame=frame), ask.first, min(ask.last, self.subject.length - 1), ask.frame, ask.scope, ask.of, ask.every)

    def _decode(self, ask: Ask) -> None:
        with self.services.background.bustle.working(), self.services.background.live.working():
            self.services.screen.pictures.decode(self._quick(ask, "play"), "play")

    def _compute(self, ask: Ask) -> bytes | str:
        if ask.kind == "ready":
            self._ahead = ask
            played, scopes = self._played(ask), self.services.screen.scopes
            self._prepare()
            proxy = self._copies()
            more = next(played.missing(scopes, float(self.subject.rate)), None) is not None
            return json.dumps({"kind": "ready", "id": ask.id, "stretches": played.ready(scopes), "more": more, "proxy": proxy})
        with self.services.background.bustle.working(), self.services.background.live.working():
            return self._rendered(ask)

    def _copies(self) -> dict[str, Any]:
        """How far preview copies are: of the first piece of footage that still waits for its own."""
        states = [self.services.screen.proxies.state(id, self.services.projects.library.facts(id)).model_dump() for id in self._prepared]
        return next((s for s in states if s["state"] in ("waiting", "making")), states[0] if states else {"state": "none", "done": 0})

    def _rendered(self, ask: Ask) -> bytes | str:
        if ask.kind == "pixel":
            return json.dumps({"kind": "pixel", "id": ask.id, **self.services.screen.scopes.report(self.subject.request(ask), ask.x, ask.y)})
        purpose = "play" if ask.kind == "play" else "live"
        picture, scope = self.services.screen.scopes.shown(self._quick(ask, purpose), purpose, ask.scope, ask.of)
        return _framed(ask, ask.kind, b"" if ask.bare else picture, b"" if ask.bare else scope)

    def _scope(self, ask: Ask) -> bytes:
        assert ask.scope is not None
        with self.services.background.bustle.working(), self.services.background.live.working():
            return _framed(ask, "scope", b"", self.services.screen.scopes.scope(self._quick(ask, "live"), ask.scope, ask.of))

    def _render_some(self, ask: Ask) -> bool:
        """Render frames ahead until somebody wants something, or the page goes away. Whether there may be more to do."""
        played = self._played(ask)
        with until(self._closed.is_set):
            for frame in played.missing(self.services.screen.scopes, float(self.subject.rate)):
                if self.services.background.bustle.quiet_for() < QUIET or self._ahead is not None:
                    return True
                played.render(self.services.screen.scopes, frame)
        return False


def _framed(ask: Ask, kind: str, picture: bytes, scope: bytes) -> bytes:
    header = {"kind": kind, "id": ask.id, "frame": ask.frame, "view": ask.view, "picture": len(picture), "scope": ask.scope if scope else None}
    words = json.dumps(header).encode()
    return struct.pack(">I", len(words)) + words + picture + scope


@router.websocket("/api/shots/{shot_id}/live")
async def live(socket: WebSocket, services: Shared, shot_id: str) -> None:
    """Open the live channel of a shot."""
    await _serve(socket, services, lambda: ShotSubject(services, shot_id))


@router.websocket("/api/reels/{reel_id}/live")
async def live_reel(socket: WebSocket, services: Shared, reel_id: str) -> None:
    """Open the live channel of a reel."""
    await _serve(socket, services, lambda: ReelSubject(services, reel_id))


async def _serve(socket: WebSocket, services: Services, subject: Callable[[], Subject]) -> None:
    await socket.accept()
    try:
        channel = Channel(socket, services, subject())
    except WenditasError as error:
        await socket.close(1008, str(error)[:120])
        return
    workers = [asyncio.create_task(w()) for w in (channel.serve_newest, channel.decode_queue, channel.serve_queue, channel.serve_queue, channel.render_ahead)]
    try:
        await channel.listen()
    except WebSocketDisconnect:
        pass
    finally:
        channel.close()
        for worker in workers:
            worker.cancel()
        await asyncio.gather(*workers, return_exceptions=True)
