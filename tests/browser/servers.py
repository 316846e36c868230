"""Servers for the browser tests, in a process of their own, and the browser that looks at them."""

import json
import shutil
import socket
import subprocess
import sys
import urllib.request
from pathlib import Path

from tests.api.conftest import wait_for

ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]


def chromium(*more: str) -> dict:
    """How Debian's Chromium is started by Playwright, with more words for it."""
    found = shutil.which("chromium-headless-shell")
    assert found, "Debian's chromium-headless-shell is needed: `make test` installs it"
    return {"executable_path": found, "args": [*ARGS, *more]}


class Host:
    """The process that all servers of a session run in, one after another (see `host.py`)."""

    def __init__(self) -> None:
        self._process = subprocess.Popen([sys.executable, "-m", "tests.browser.host"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)

    def tell(self, **order: object) -> None:
        """Give an order, and wait until it is carried out."""
        print(json.dumps(order), file=self._process.stdin, flush=True)
        assert self._process.stdout.readline() == "done\n", "the process of the servers has ended"

    def close(self) -> None:
        self._process.stdin.close()
        self._process.wait(timeout=30)


class Server:
    """`wenditas` on a data folder; it can be stopped and started again on the same data."""

    def __init__(self, host: Host, data: Path, idle: bool = False) -> None:
        self._host, self.data, self._idle = host, data, idle
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.media: list[str] = []
        self.start()

    def start(self) -> None:
        self._host.tell(data=str(self.data), port=self.port, media=self.media, idle=self._idle)
        wait_for(self._answers)

    def _answers(self) -> bool:
        try:
            urllib.request.urlopen(f"{self.url}/api/projects", timeout=1).close()
            return True
        except OSError:
            return False

    def stop(self) -> None:
        self._host.tell(port=self.port)
