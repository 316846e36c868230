"""Long work answered line by line: a thread does it and says how far it is; a page that goes away ends it."""

import asyncio
import contextlib
import json
import logging
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future
from typing import Any

from starlette.responses import Response
from starlette.types import Receive, Scope, Send

from wenditas.core.errors import Cancelled, WenditasError

log = logging.getLogger(__name__)
MOST_WAITING = 64  # messages on their way before the work waits

Say = Callable[[dict[str, Any]], None]
Gone = Callable[[], bool]
Work = Callable[[Say, Gone], None]


class Lines(Response):
    """Runs `work(say, gone)` on an executor and sends what it says as lines of JSON.

    The work is over before the answer is: when the page has gone, `gone()` is true and `say` raises `Cancelled`.
    """

    media_type = "application/x-ndjson"

    def __init__(self, executor: Executor, work: Work) -> None:
        super().__init__(headers={"cache-control": "no-store"})
        del self.headers["content-length"]
        self._executor, self._work = executor, work

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        loop, stop, room = asyncio.get_running_loop(), threading.Event(), threading.Semaphore(MOST_WAITING)
        messages: asyncio.Queue[dict[str, Any] | None] = asyncio.Queue()

        def say(message: dict[str, Any]) -> None:
            room.acquire()
            if stop.is_set():
                raise Cancelled("Nobody waits for this any more.")
            loop.call_soon_threadsafe(messages.put_nowait, message)

        def run() -> None:
            try:
                self._work(say, stop.is_set)
            except Cancelled:
                pass
            except WenditasError as error:
                with contextlib.suppress(Cancelled):
                    say({"kind": "failed", "message": str(error)})
            except Exception:
                log.exception("work that is told line by line")
                with contextlib.suppress(Cancelled):
                    say({"kind": "failed", "message": "This failed by a fault of Wenditas; its log says where."})
            finally:
                loop.call_soon_threadsafe(messages.put_nowait, None)

        async def deliver() -> None:
            await send({"type": "http.response.start", "status": 200, "headers": self.raw_headers})
            while (message := await messages.get()) is not None:
                room.release()
                await send({"type": "http.response.body", "body": json.dumps(message).encode() + b"\n", "more_body": True})
            await send({"type": "http.response.body", "body": b""})

        async def leave() -> None:
            while (await receive())["type"] != "http.disconnect":
                pass

        working: Future[None] = self._executor.submit(run)
        tasks = [asyncio.create_task(deliver()), asyncio.create_task(leave())]
        try:
            await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
        finally:
            stop.set()
            room.release()  # for a work that waits to say something
            working.cancel()
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)
            with contextlib.suppress(BaseException):
                await asyncio.shield(asyncio.wrap_future(working))
