"""What is large, for `make soak`: ten minutes of 4K at 10 bit, a reel of an hour, twenty thousand keyframes.

Memory is what the server's process holds, and a worker of its.
"""

import json
import random
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import psutil

from bench.timing import at_most, percentile
from tests.api.conftest import wait_for
from tests.faults.conftest import Outside
from tests.media.clips import make_clip

MIB = 1 << 20
Serve = Callable[[str], AbstractContextManager[Outside]]  # a server for a part, by its name
WIDTH, HEIGHT = at_most(3840, 640), at_most(2160, 360)
RATE, SECONDS, TIMES = 24, at_most(10, 1), at_most(60, 2)  # of the 4K clip: ten seconds are drawn and encoded, and said sixty times over
ITEMS, LONG = at_most(200, 2), at_most(18, 1)  # of the reel: so many items of so many seconds
KEYFRAMES = at_most(20_000, 200)
LOOKS = at_most(40, 2)  # pictures asked for anywhere
PART = at_most(5, 1)  # seconds at the end of the 4K clip that are exported


def four_k(path: Path) -> None:
    """Ten minutes of 3840 x 2160, H.265 at 10 bit: a textured scene that moves, with noise; the same ten seconds again and again, packet by packet."""
    rng = np.random.default_rng(7)
    texture = np.kron(rng.integers(200, 800, (60, 100)), np.ones((40, 44))).astype(np.uint16)
    part = path.with_suffix(".part.mkv")
    with av.open(str(part), "w") as container:
        stream = container.add_stream("libx265", rate=RATE, options={"preset": "ultrafast", "crf": "28", "x265-params": "log-level=none:keyint=48:bframes=0"})
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p10le"
        for n in range(RATE * SECONDS):
            frame = av.VideoFrame(WIDTH, HEIGHT, "yuv420p10le")
            for plane, step in zip(frame.planes, (1, 2, 2), strict=True):
                values = np.roll(texture, 4 * n, axis=1)[:HEIGHT:step, :WIDTH:step] + rng.integers(0, 8, (HEIGHT // step, WIDTH // step), dtype=np.uint16)
                np.frombuffer(plane, np.uint16).reshape(-1, plane.line_size // 2)[:, : plane.width] = values
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    with av.open(str(path), "w") as out:
        stream, at = None, 0
        for _ in range(TIMES):
            with av.open(str(part)) as source:
                video = source.streams.video[0]
                stream = stream or out.add_stream_from_template(video, opaque=True)
                length = round(SECONDS / video.time_base)
                for packet in source.demux(video):
                    if packet.size:
                        packet.stream, packet.pts = stream, packet.pts + at
                        packet.dts = packet.pts  # without frames that wait for later ones, both are the same
                        out.mux(packet)
                at += length
    part.unlink()


class _Peak:
    """The most that a server and its workers hold, each: looked at between steps and while waiting."""

    def __init__(self, server: Outside) -> None:
        self._server, self.own, self.workers = server, 0.0, 0.0

    def look(self) -> None:
        """Look now."""
        self.own = max(self.own, psutil.Process(self._server.process.pid).memory_info().rss / MIB)
        for pid in self._server.workers():
            try:
                self.workers = max(self.workers, psutil.Process(pid).memory_info().rss / MIB)
            except psutil.NoSuchProcess:
                continue

    def __str__(self) -> str:
        return f"server {self.own:.0f} MiB, worker {self.workers:.0f} MiB at most"


def _timed(call: Callable[[], object]) -> float:
    began = time.perf_counter()
    call()
    return time.perf_counter() - began


def _exported(server: Outside, project: str, door: str, body: dict, peak: _Peak) -> float:  # type: ignore[type-arg]
    """Seconds that an export takes."""
    began = time.perf_counter()
    made = server.client.post(door, json=body)
    assert made.status_code == 200, made.text

    def done() -> bool:
        peak.look()
        row = next(e for e in server.client.get(f"/api/projects/{project}/exports").json() if e["id"] == made.json()["id"])
        assert row["state"] not in ("failed", "cancelled"), row["message"]
        return bool(row["state"] == "done")

    wait_for(done, 7200)
    return time.perf_counter() - began


def ten_minutes_of_4k(folder: Path, serve: Serve) -> None:
    """Taken in, looked at here and there, and exported in part at the end of it."""
    clip = folder / "long.mkv"
    four_k(clip)
    with serve("four-k") as server:
        peak = _Peak(server)
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        server.client.timeout = 600
        began = time.perf_counter()
        with clip.open("rb") as file:
            footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "long.mkv"}, content=file).json()
        taken = time.perf_counter() - began
        shot = server.client.post(f"/api/footage/{footage['id']}/shots").json()
        passes = [{"id": "m", "name": "M", "treatment": "duotone"}]
        edit = {"base": shot["head"], "commands": [{"do": "set", "target": "look/passes", "value": passes}], "words": "Duotone"}
        revision = server.client.post(f"/api/shots/{shot['id']}/edits", json=edit).json()["revision"]
        chance, waits = random.Random(1), []
        last = footage["facts"]["length"] - 1
        for _ in range(LOOKS):
            url = f"/api/shots/{shot['id']}/pictures/{revision}/{chance.randrange(last)}.jpg"
            waits.append(_timed(lambda url=url: server.client.get(url, params={"width": 960})))  # type: ignore[misc]
            peak.look()
        ends = [{"do": "set", "target": "first", "value": last - PART * RATE + 1}]
        revision = server.client.post(f"/api/shots/{shot['id']}/edits", json={"base": revision, "commands": ends, "words": "Ends"}).json()["revision"]
        took = _exported(server, project, f"/api/shots/{shot['id']}/exports", {"revision": revision}, peak)
        size = f"{clip.stat().st_size / MIB:.0f} MiB, {last + 1} frames"
        seen = f"a picture anywhere p50 {percentile(waits, 0.5) * 1000:.0f} ms, p95 {percentile(waits, 0.95) * 1000:.0f} ms"
        print(f"ten minutes of 4K, 10 bit ({size}): taken in in {taken:.0f} s; {seen}; {PART} s exported in {took:.0f} s; {peak}", flush=True)
    clip.unlink()


def an_hour(folder: Path, serve: Serve) -> None:
    """A reel of two hundred items and an hour, with transitions: opened, seen here and there, exported whole in a small size."""
    with serve("hour") as server:
        peak = _Peak(server)
        server.client.timeout = 600
        clip = make_clip(folder / "hour.mp4", width=320, height=180, rate=Fraction(RATE), count=RATE * (LONG + 4), sound="aac")
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()
        shots = [server.client.post(f"/api/footage/{footage['id']}/shots").json() for _ in range(8)]
        reel = server.client.get(f"/api/projects/{project}/reel").json()
        items = [{"id": f"i{n}", "shot": shots[n % 8]["id"], "first": 30, "last": 30 + RATE * LONG} for n in range(ITEMS)]
        transitions = [{"id": f"j{n}", "after": f"i{n}", "frames": 12} for n in range(0, ITEMS - 1, 2)]
        commands = [{"do": "set", "target": "items", "value": items}, {"do": "set", "target": "transitions", "value": transitions}]
        door = f"/api/reels/{reel['reel_id']}"
        view = server.client.post(f"{door}/edits", json={"base": reel["revision"], "commands": commands, "words": "Hour"}).json()
        opened = _timed(lambda: server.client.get(door))
        chance = random.Random(2)
        waits = [
            _timed(lambda: server.client.get(f"{door}/pictures/{view['revision']}/{chance.randrange(view['length'])}.jpg", params={"width": 320}))
            for _ in range(LOOKS)
        ]
        peak.look()
        took = _exported(server, project, f"{door}/exports", {"revision": view["revision"]}, peak)
        minutes = view["length"] / RATE / 60
        seen = f"told in {opened * 1000:.0f} ms; a picture anywhere p50 {percentile(waits, 0.5) * 1000:.0f} ms, p95 {percentile(waits, 0.95) * 1000:.0f} ms"
        print(f"a reel of {ITEMS} items and {minutes:.0f} min: {seen}; exported whole in {took:.0f} s; {peak}", flush=True)


def many_keyframes(folder: Path, serve: Serve) -> None:
    """Twenty thousand keyframes in one lane, by the doors that the page uses."""
    with serve("keyframes") as server:
        server.client.timeout = 120
        clip = make_clip(folder / "keys.mp4", width=64, height=36, count=96)
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        footage = server.client.post(f"/api/projects/{project}/footage", params={"name": "a.mp4"}, content=clip.read_bytes()).json()
        shot = server.client.post(f"/api/footage/{footage['id']}/shots").json()
        door = f"/api/shots/{shot['id']}"
        lane = {"target": "passes/p/amount", "keyframes": [{"frame": n, "value": n % 101} for n in range(KEYFRAMES)]}
        commands = [
            {"do": "add", "target": "look/passes", "value": {"id": "p", "name": "P", "treatment": "tint"}},
            {"do": "set", "target": "look/lanes/passes~1p~1amount", "value": lane},
        ]
        base = shot["head"]
        base = server.client.post(f"{door}/edits", json={"base": base, "commands": commands, "words": "Many"}).json()["revision"]
        waits = []
        for n in range(20):
            one = [
                {
                    "do": "set",
                    "target": f"look/lanes/passes~1p~1amount/keyframes/{n * (KEYFRAMES // 22)}",
                    "value": {"frame": n * (KEYFRAMES // 22), "value": 7},
                }
            ]
            began = time.perf_counter()
            base = server.client.post(f"{door}/edits", json={"base": base, "commands": one, "words": "One"}).json()["revision"]
            waits.append(time.perf_counter() - began)
        view = server.client.get(door)
        opened = _timed(lambda: server.client.get(door))
        seen = _timed(lambda: server.client.get(f"{door}/pictures/{base}/5.png", params={"width": 64}))
        size = len(json.dumps(view.json())) / 1e6
        edited = sorted(waits)[len(waits) // 2] * 1000
        told = f"an edit {edited:.0f} ms, opened {opened * 1000:.0f} ms, a picture {seen * 1000:.0f} ms"
        print(f"{KEYFRAMES:,} keyframes ({size:.1f} MB as sent): {told}", flush=True)


def measure(folder: Path, serve: Serve) -> None:
    """All of it, each as one line."""
    many_keyframes(folder, serve)
    an_hour(folder, serve)
    ten_minutes_of_4k(folder, serve)
