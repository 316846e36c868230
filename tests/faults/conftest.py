"""Servers to be troubled for real: one in a thread of this process, to look inside; others in processes of their own, to be killed."""

import os
import socket
import subprocess
import threading
import urllib.request
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path

import av
import httpx
import numpy as np
import psutil
import pytest
import uvicorn

from tests.api.conftest import wait_for
from tests.command_line import COMMAND
from wenditas.api.app import create_app
from wenditas.app.services import Services
from wenditas.stem import Child, stem_of


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Inside:
    """A server in a thread: `services` are its own."""

    def __init__(self, folder: Path) -> None:
        self.services = Services.open(folder)
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        app = create_app(folder, opened=self.services)
        self._server = uvicorn.Server(uvicorn.Config(app, port=self.port, log_level="warning", timeout_graceful_shutdown=2))
        self._thread = threading.Thread(target=self._server.run)
        self._thread.start()
        wait_for(lambda: self._server.started)
        self.client = httpx.Client(base_url=self.url, timeout=60)

    def shot(self, path: Path) -> dict:
        """A shot of a clip in a new project."""
        project = self.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        footage = self.client.post(f"/api/projects/{project}/footage", params={"name": path.name}, content=path.read_bytes()).json()
        made = self.client.post(f"/api/footage/{footage['id']}/shots").json()
        return self.client.get(f"/api/shots/{made['id']}").json()

    def edited(self, view: dict, patch: list) -> dict:
        answer = self.client.post(f"/api/shots/{view['shot']['id']}/edits", json={"base": view["revision"], "commands": patch, "words": "Edit"})
        assert answer.status_code == 200, answer.text
        return answer.json()

    def stop(self) -> None:
        self.client.close()
        self._server.should_exit = True
        self._thread.join(timeout=30)


@pytest.fixture
def inside(tmp_path: Path) -> Iterator[Inside]:
    server = Inside(tmp_path / "data")
    yield server
    server.stop()


class Outside:
    """A server in a process of its own, in a group of its own, so that its children can be counted.

    under: a program that runs it, with its words; env: variables for it. Without either it is split off from a process that has loaded all.
    """

    def __init__(self, folder: Path, under: Sequence[str] = (), env: Mapping[str, str] | None = None) -> None:
        self.folder, self.port = folder, free_port()
        self.under, self.env = under, env
        self.url = f"http://127.0.0.1:{self.port}"
        self._workers: set[int] = set()
        self.start()

    def start(self) -> None:
        words = ["serve", "--data", str(self.folder), "--port", str(self.port)]
        with open(os.devnull, "wb") as nowhere:
            if self.under or self.env:
                env = {**os.environ, **(self.env or {})}
                self.process: Child | subprocess.Popen[bytes] = subprocess.Popen(
                    [*self.under, *COMMAND, *words], stdout=nowhere, start_new_session=True, env=env
                )
            else:
                self.process = stem_of("tests.faults.serving").start(words, nowhere.fileno(), 2)
        wait_for(self._answers)
        self.client = httpx.Client(base_url=self.url, timeout=60)

    def _answers(self) -> bool:
        assert not self.ended(), "the server ended"
        try:
            urllib.request.urlopen(f"{self.url}/api/projects", timeout=2).close()  # a client of its own for each try would take longer than the start
            return True
        except OSError:
            return False

    def ended(self, seconds: float = 0) -> bool:
        """Whether its process has ended, or does within so many seconds."""
        if isinstance(self.process, Child):
            return self.process.ended(seconds)
        try:
            self.process.wait(seconds)
        except subprocess.TimeoutExpired:
            return False
        return True

    def kill(self) -> None:
        """As a power cut would: at once, the server alone (and not only the program that it runs under)."""
        for inner in psutil.Process(self.process.pid).children() if self.under else ():
            inner.kill()
        self.process.kill()
        assert self.ended(20)
        self.client.close()

    def workers(self) -> list[int]:
        """Processes of exports that were there when they were last asked for, and still are: those that one with the module's name has split off."""
        with suppress(psutil.NoSuchProcess):
            stems = [p for p in psutil.Process(self.process.pid).children(recursive=True) if "wenditas.render.worker" in p.cmdline()]
            self._workers |= {child.pid for stem in stems for child in stem.children() if "wenditas.render.worker" in child.cmdline()}
        return [pid for pid in self._workers if psutil.pid_exists(pid)]


@contextmanager
def outside(folder: Path, under: Sequence[str] = (), env: Mapping[str, str] | None = None) -> Iterator[Outside]:
    server = Outside(folder, under, env)
    try:
        yield server
    finally:
        server.kill()


@pytest.fixture(scope="session")
def long_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Ten seconds of a texture that moves to the right, so that it can be tracked for as long as that."""
    path = tmp_path_factory.mktemp("clips") / "long.mp4"
    texture = np.random.default_rng(5).integers(60, 200, (68, 120, 3), dtype=np.uint8).repeat(8, 0).repeat(8, 1)[:540]
    texture[200:300, 300:400] = (200, 40, 30)
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=24, options={"preset": "ultrafast", "crf": "20"})
        stream.width, stream.height, stream.pix_fmt = 960, 540, "yuv420p"
        for n in range(240):
            container.mux(stream.encode(av.VideoFrame.from_ndarray(np.ascontiguousarray(np.roll(texture, n, axis=1)), format="rgb24")))
        container.mux(stream.encode(None))
    return path
