"""The live channel of a shot: overrides up, pictures down; the newest wins, the stale are dropped.

Up (JSON):   {"kind": "look" | "before" | "pixel" | "play", "id", "revision", "patch", "frame", "width", "view", "selection",
              "upto", "alone", "x", "y", "scope", "of"}
             {"kind": "clear"}                          forget the queue of "play" requests
Down:        pictures as binary: four bytes of header length (big endian), a JSON header, a JPEG of "picture" bytes, and where
             a scope was asked for that scope as a PNG;
             {"kind": "pixel" | "error", "id", ...} as text.
"""

import asyncio
import json
import struct
from collections import deque
from typing import Any, Literal

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, Field, ValidationError

from wenditas.api.services import Services, Shared
from wenditas.core.errors import WenditasError
from wenditas.core.look.document import ShotDocument, alone
from wenditas.core.look.patch import apply_patch
from wenditas.core.look.plan import View
from wenditas.core.measure.scopes import Scope
from wenditas.media.facts import Facts
from wenditas.render import edits
from wenditas.render.pictures import FULL, Of, Request
from wenditas.store import shots

router = APIRouter()
MOST_QUEUED = 64
ORDER = ("look", "before", "pixel")  # which of the waiting single requests is answered first


class Ask(BaseModel):
    """One message from the page."""

    kind: Literal["look", "before", "pixel", "play", "clear"]
    id: int = 0
    revision: int = 0
    patch: list[dict[str, Any]] = []
    frame: int = Field(0, ge=0)
    width: int = Field(FULL, ge=16)
    view: View = "result"
    selection: str | None = None
    upto: int | None = None
    alone: str | None = None
    scope: Scope | None = None
    of: Of = "result"
    x: float = Field(0, ge=0, le=1)
    y: float = Field(0, ge=0, le=1)


class Channel:
    """One page's live channel: a single place for a look and a pixel request, a queue for playback."""

    def __init__(self, socket: WebSocket, services: Services, shot_id: str) -> None:
        self.socket, self.services, self.shot_id = socket, services, shot_id
        row = shots.shot(services.db, shot_id)
        self.footage_id, self.facts = row.footage_id, services.library.facts(row.footage_id)
        self._newest: dict[str, Ask] = {}
        self._queue: deque[Ask] = deque(maxlen=MOST_QUEUED)
        self._work = asyncio.Condition()
        self._documents: dict[int, ShotDocument] = {}
        self._sending = asyncio.Lock()

    async def listen(self) -> None:
        """Receive until the page goes away."""
        while True:
            text = await self.socket.receive_text()
            try:
                ask = Ask.model_validate_json(text)
            except ValidationError as error:
                await self.socket.send_text(json.dumps({"kind": "error", "id": 0, "message": f"Not understood: {error.errors()[0]['msg']}"}))
                continue
            async with self._work:
                if ask.kind == "play":
                    self._queue.append(ask)
                elif ask.kind == "clear":
                    self._queue.clear()
                else:
                    self._newest[ask.kind] = ask
                self._work.notify_all()

    async def serve_newest(self) -> None:
        """Answer look requests, then pixel requests, one at a time."""
        while True:
            async with self._work:
                await self._work.wait_for(lambda: bool(self._newest))
                ask = self._newest.pop(next(k for k in ORDER if k in self._newest))
            await self._answer(ask)

    async def serve_queue(self) -> None:
        """Answer playback requests in order."""
        while True:
            async with self._work:
                await self._work.wait_for(lambda: bool(self._queue))
                ask = self._queue.popleft()
            await self._answer(ask)

    async def _answer(self, ask: Ask) -> None:
        try:
            answer = await asyncio.to_thread(self._compute, ask)
        except WenditasError as error:
            answer = json.dumps({"kind": "error", "id": ask.id, "message": str(error)})
        async with self._sending:
            if isinstance(answer, bytes):
                await self.socket.send_bytes(answer)
            else:
                await self.socket.send_text(answer)

    def _document(self, ask: Ask, facts: Facts) -> ShotDocument:
        if ask.revision not in self._documents:
            self._documents = {ask.revision: edits.load(self.services.db, self.shot_id, facts, ask.revision)[1]}
        document = self._documents[ask.revision]
        return apply_patch(document, ask.patch, facts.length) if ask.patch else document

    def _compute(self, ask: Ask) -> bytes | str:
        document = self._document(ask, self.facts)
        frame = min(ask.frame, self.facts.length - 1)
        look = alone(document.look, ask.alone) if ask.alone else document.look
        request = Request(self.footage_id, look, frame, ask.width, ask.view, ask.selection, ask.upto)
        pictures = self.services.pictures
        if ask.kind == "pixel":
            return json.dumps({"kind": "pixel", "id": ask.id, **pictures.report(request, ask.x, ask.y)})
        picture, scope = pictures.shown(request, "play" if ask.kind == "play" else "live", ask.scope, ask.of)
        header = {"kind": ask.kind, "id": ask.id, "frame": ask.frame, "view": ask.view, "picture": len(picture), "scope": ask.scope}
        words = json.dumps(header).encode()
        return struct.pack(">I", len(words)) + words + picture + scope


@router.websocket("/api/shots/{shot_id}/live")
async def live(socket: WebSocket, services: Shared, shot_id: str) -> None:
    """Open the live channel of a shot."""
    await socket.accept()
    try:
        channel = Channel(socket, services, shot_id)
    except WenditasError as error:
        await socket.close(1008, str(error)[:120])
        return
    workers = [asyncio.create_task(w()) for w in (channel.serve_newest, channel.serve_queue, channel.serve_queue)]
    try:
        await channel.listen()
    except WebSocketDisconnect:
        pass
    finally:
        for worker in workers:
            worker.cancel()
        await asyncio.gather(*workers, return_exceptions=True)
