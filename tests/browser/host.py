"""Servers for the browser tests, one after another in one process, so that Python and the kernels are loaded once.

Orders come as lines of JSON: {"data", "port", "media", "idle"} starts a server on a data folder, with media folders; {"port"} alone stops the one at
that port. Each is answered by a line. A server that is not to be idle takes itself to be wanted all the time, and neither renders ahead nor
hurries with checks: tests that do not look at that are spared the work.
"""

import json
import sys
import threading
from contextlib import nullcontext
from pathlib import Path

import uvicorn

from wenditas.api.app import create_app
from wenditas.api.server import configured
from wenditas.app.services import Services


class Running:
    """A server in a thread."""

    def __init__(self, data: Path, port: int, media: list[Path], idle: bool) -> None:
        services = Services.open(data, media)
        self._wanted = services.background.bustle.working() if not idle else nullcontext()
        self._wanted.__enter__()
        self._server = uvicorn.Server(configured(create_app(data, opened=services), port, grace=0))
        self._thread = threading.Thread(target=self._server.run)
        self._thread.start()

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join()


def main() -> None:
    servers: dict[int, Running] = {}
    for line in sys.stdin:
        order = json.loads(line)
        if "data" in order:
            servers[order["port"]] = Running(Path(order["data"]), order["port"], [Path(m) for m in order.get("media", [])], order.get("idle", False))
        else:
            servers.pop(order["port"]).stop()
        print("done", flush=True)
    for server in servers.values():
        server.stop()


if __name__ == "__main__":
    main()
