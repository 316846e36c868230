"""`make soak`: what docs/promises.md tells, tried again at length. Half an hour or more; each part prints its figures.

Kills, full disks and malformed files are those of `tests/faults`, more often; routes are fuzzed; the rest is load that no test needs every time.
"""

import asyncio
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, nullcontext
from pathlib import Path

import httpx
import psutil
import websockets

from bench import fuzz, large
from bench.timing import at_most, once
from tests.api.conftest import wait_for
from tests.faults.conftest import Outside, outside
from tests.media.clips import make_clip

CLIENTS, SECONDS = at_most(8, 2), at_most(int(os.environ.get("WENDITAS_SOAK_SECONDS", "600")), 1)
SOCKETS, MESSAGES, FLOODS = at_most(50, 2), at_most(10_000, 20), at_most(3, 1)
MIB = 1 << 20


def _faults(kills: int, malformed: int) -> None:
    """The tests of kills and of malformed files, as often as the proof asks for."""
    env = {**os.environ, "WENDITAS_KILLS": str(kills), "WENDITAS_MALFORMED": str(malformed)}
    for part in ("test_kill.py", "test_kill_what_is_made.py", "test_malformed.py"):
        began = time.perf_counter()
        done = subprocess.run([sys.executable, "-m", "pytest", "-s", f"tests/faults/{part}"], env=env, capture_output=True, text=True)
        told = [line.lstrip(".") for line in done.stdout.splitlines() if "kills," in line or "malformed" in line or "passed" in line or "failed" in line]
        print(f"{part}: {'; '.join(told)} in {time.perf_counter() - began:.0f} s", flush=True)


def _memory(server: Outside) -> float:
    """Resident memory of the server, in MiB."""
    return float(psutil.Process(server.process.pid).memory_info().rss / MIB)


def _shots(server: Outside, folder: Path, count: int) -> list[dict]:  # type: ignore[type-arg]
    clip = make_clip(folder / "a.mp4", width=640, height=360, count=96)
    project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
    footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()
    return [server.client.post(f"/api/footage/{footage['id']}/shots").json() for _ in range(count)]


def _id_of(message: bytes) -> int:
    """Which request a message of the live channel answers: its header is JSON, with its length before it."""
    size = int.from_bytes(message[:4], "big")
    return int(json.loads(message[4 : 4 + size])["id"])


async def _client(url: str, shot: dict, until: float, waits: list[float]) -> int:  # type: ignore[type-arg]
    """One editor: an edit, then pictures while a slider moves, over and over."""
    done, base = 0, shot["head"]
    async with (
        httpx.AsyncClient(base_url=url, timeout=60) as client,
        websockets.connect(f"ws{url[4:]}/api/shots/{shot['id']}/live", max_size=None, origin=url) as live,
    ):
        while time.monotonic() < until:
            value = [{"id": f"p{done % 7}", "name": str(done), "treatment": "monochrome"}]
            edit = {"base": base, "commands": [{"do": "set", "target": "look/passes", "value": value}], "words": str(done)}
            base = (await client.post(f"/api/shots/{shot['id']}/edits", json=edit)).json()["revision"]
            for step in range(10):
                began = time.perf_counter()
                ask = {"kind": "look", "id": done * 10 + step, "revision": base, "frame": step, "width": 640}
                await live.send(json.dumps({**ask, "commands": [{"do": "set", "target": f"look/passes/p{done % 7}/amount", "value": step * 10}]}))
                while True:
                    message = await asyncio.wait_for(live.recv(), 30)
                    if isinstance(message, bytes) and _id_of(message) == ask["id"]:
                        break
                waits.append(time.perf_counter() - began)
            done += 1
    return done


def _editors(folder: Path, serve: large.Serve) -> None:
    """Eight clients on different shots; memory at the beginning and at the end."""
    with serve("editors") as server:
        shots, waits = _shots(server, folder, CLIENTS), list[float]()

        async def all_of_them() -> list[int]:
            until = time.monotonic() + SECONDS
            return list(await asyncio.gather(*(_client(server.url, shot, until, waits) for shot in shots)))

        before = _memory(server)
        done = asyncio.run(all_of_them())
        waits.sort()
        p50, p95 = waits[len(waits) // 2] * 1000, waits[int(len(waits) * 0.95)] * 1000
        pictures = f"{len(waits)} pictures, p50 {p50:.0f} ms, p95 {p95:.0f} ms"
        print(f"{CLIENTS} clients, {SECONDS} s: {sum(done)} edits, {pictures}; {before:.0f} -> {_memory(server):.0f} MiB", flush=True)


async def _flood(url: str, shot: dict) -> float:  # type: ignore[type-arg]
    """Fifty sockets of one client, over which ten thousand messages go as fast as they can; and how long another one waits for a picture meanwhile."""
    sockets = [await websockets.connect(f"ws{url[4:]}/api/shots/{shot['id']}/live", max_size=None, origin=url) for _ in range(SOCKETS)]
    ask = {"kind": "look", "revision": shot["head"], "width": 640, "commands": []}

    async def drain(socket) -> None:  # type: ignore[no-untyped-def]
        try:
            async for _ in socket:
                pass
        except websockets.ConnectionClosed:
            pass

    draining = [asyncio.create_task(drain(s)) for s in sockets]
    began = time.perf_counter()
    for n in range(MESSAGES):
        await sockets[n % SOCKETS].send(json.dumps({**ask, "id": n, "frame": n % 96}))
    sent = time.perf_counter() - began
    async with httpx.AsyncClient(base_url=url, timeout=60) as client:
        began = time.perf_counter()
        answer = await client.get(f"/api/shots/{shot['id']}/pictures/{shot['head']}/5.png", params={"width": 320})
        waited = time.perf_counter() - began
    assert answer.status_code == 200
    for socket in sockets:
        await socket.close()
    await asyncio.gather(*draining)
    print(f"{SOCKETS} sockets, {MESSAGES} messages in {sent:.1f} s ({MESSAGES / sent:.0f} a second); another picture waits {waited:.2f} s", flush=True)
    return waited


def _sockets(folder: Path, serve: large.Serve) -> None:
    with serve("sockets") as server:
        shot, before = _shots(server, folder, 1)[0], 0.0
        for _ in range(FLOODS):
            asyncio.run(_flood(server.url, shot))
            before = before or _memory(server)
        wait_for(lambda: server.client.get("/api/projects").status_code == 200)
        print(f"after {FLOODS} floods: {before:.0f} -> {_memory(server):.0f} MiB", flush=True)


def _long() -> None:
    """The tests that `make test` leaves out, and those of properties ten times as often, on other examples."""
    properties = ["tests/core/test_reel_document.py", "tests/core/test_digests.py", "tests/core/test_not_finite.py", "tests/formats/test_cuts.py"]
    for what, words in (("long tests", ["-m", "long", "tests"]), ("properties, tenfold", properties)):
        began = time.perf_counter()
        done = subprocess.run([sys.executable, "-m", "pytest", *words], env={**os.environ, "WENDITAS_EXAMPLES": "10"}, capture_output=True, text=True)
        print(f"{what}: {done.stdout.strip().splitlines()[-1]} in {time.perf_counter() - began:.0f} s", flush=True)


@contextmanager
def _servers(folder: Path) -> Iterator[large.Serve]:
    """A server for each part, whose memory is its own; one for all where they are only to run."""
    if not once():
        yield lambda name: outside(folder / name)
        return
    with outside(folder / "all") as server:
        yield lambda name: nullcontext(server)


def main() -> None:
    """All of it."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with _servers(folder) as serve:
            large.measure(folder, serve)
            _sockets(folder, serve)
            _editors(folder, serve)
    if not once():  # `make test` runs them itself
        fuzz.main()
        _long()
        _faults(int(os.environ.get("WENDITAS_SOAK_KILLS", "50")), int(os.environ.get("WENDITAS_SOAK_MALFORMED", "500")))


if __name__ == "__main__":
    main()
