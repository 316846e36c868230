"""Connections that say nothing, or stop on the way, on a real server."""

import json
import socket
import threading
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
import uvicorn
from websockets.sync.client import connect

from tests.command_line import COMMAND
from wenditas.api.app import create_app
from wenditas.api.patience import Patient


class Hasty(Patient):
    head_seconds, body_seconds = 0.3, 0.3


@pytest.fixture(scope="module")
def port(tmp_path_factory: pytest.TempPathFactory) -> Iterator[int]:
    listening = socket.socket()
    listening.bind(("127.0.0.1", 0))
    listening.listen(16)
    app = create_app(tmp_path_factory.mktemp("data") / "data", token="s3cret")
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", http=Hasty))
    thread = threading.Thread(target=server.run, args=([listening],))
    thread.start()
    yield listening.getsockname()[1]
    server.should_exit = True
    thread.join()


HEAD = b"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer s3cret\r\nContent-Type: application/json\r\n"


@pytest.mark.parametrize("said", [b"", b"GET / HT", HEAD, HEAD + b'Content-Length: 16\r\n\r\n{"name"', HEAD + b'Transfer-Encoding: chunked\r\n\r\n5\r\n{"nam'])
def test_what_does_not_come_is_not_waited_for(port: int, said: bytes) -> None:
    with socket.create_connection(("127.0.0.1", port), timeout=20) as connection:
        connection.sendall(said)
        assert connection.recv(4096) == b""


def test_requests_that_come_in_pieces_are_answered(port: int) -> None:
    body = b'{"name": "Film"}'
    with socket.create_connection(("127.0.0.1", port), timeout=20) as connection:
        for _ in range(2):  # one after another on one connection
            for piece in (HEAD[:30], HEAD[30:], f"Content-Length: {len(body)}\r\n\r\n".encode(), body[:5], body[5:]):
                connection.sendall(piece)
            answer = connection.recv(65536)
            while b"Film" not in answer:
                answer += connection.recv(65536)
            assert answer.startswith(b"HTTP/1.1 200")


def test_a_live_channel_stays_open(port: int, clip: Path) -> None:
    """Its request has come, however little is said on it: it is not cut when the time for that is over."""
    url, token = f"http://127.0.0.1:{port}", {"authorization": "Bearer s3cret"}
    with httpx.Client(base_url=url, headers=token, timeout=60) as http:
        project = http.post("/api/projects", json={"name": "Film"}).json()["id"]
        footage = http.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()["id"]
        shot = http.post(f"/api/footage/{footage}/shots").json()
    with connect(f"ws{url[4:]}/api/shots/{shot['id']}/live", additional_headers=token, origin=url, max_size=None) as live:
        with pytest.raises(TimeoutError):
            live.recv(timeout=4 * Hasty.head_seconds)
        live.send(json.dumps({"kind": "look", "id": 1, "revision": shot["head"], "frame": 0, "width": 64}))
        assert b'"id": 1' in live.recv(timeout=60)


def test_a_port_in_use_is_said_before_an_address_is(tmp_path: Path) -> None:
    import subprocess

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        done = subprocess.run(
            [*COMMAND, "serve", "--data", str(tmp_path / "d"), "--port", str(taken.getsockname()[1])], capture_output=True, text=True, timeout=120
        )
    assert done.returncode == 1 and "another program listens there" in " ".join(done.stderr.split())
    assert "Wenditas is at" not in done.stdout and "Traceback" not in done.stderr
