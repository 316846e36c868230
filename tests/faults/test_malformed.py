"""Malformed files made by seed, for every format that is read: a sentence, no crash, no hang, nothing left.

`WENDITAS_MALFORMED=500` makes as many as the proof asks for; the suite makes some of each.
"""

import io
import os
import random
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import cv2
import httpx
import numpy as np
import OpenImageIO as oiio
import pytest

from tests.faults.conftest import Outside, outside
from tests.media.clips import make_clip

COUNT = int(os.environ.get("WENDITAS_MALFORMED", "18"))
MOST_SECONDS = 30.0
SHELF = '{"format": "wenditas-shelf", "items": [{"kind": "look", "name": "L", "look": {"passes": [{"id": "m", "name": "M", "treatment": "monochrome"}]}}]}'
EDL = "TITLE: T\n001  A V C 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n* FROM CLIP NAME: a.mp4\n"
OTIO = '{"OTIO_SCHEMA": "Timeline.1", "name": "T", "tracks": {"OTIO_SCHEMA": "Stack.1", "children": []}}'
CDL = '<?xml version="1.0"?><ColorCorrection id="a"><SOPNode><Slope>1 1 1</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection>'
SVG = '<svg xmlns="http://www.w3.org/2000/svg"><linearGradient id="g"><stop offset="0"/><stop offset="1" stop-color="#fff"/></linearGradient></svg>'
CUBE = "LUT_3D_SIZE 2\n" + "\n".join(f"{r} {g} {b}" for b in (0, 1) for g in (0, 1) for r in (0, 1))
ENTITIES = "".join(f'<!ENTITY {b} "{f"&{a};" * 10}">' for a, b in zip("abcdefgh", "bcdefghi", strict=True))
BOMB = f'<!DOCTYPE l [<!ENTITY a "aaaaaaaaaa">{ENTITIES}]><l>&i;</l>'


@pytest.fixture(scope="module")
def sound_files(tmp_path_factory: pytest.TempPathFactory) -> dict[str, bytes]:
    """A sound file of each format, by its ending."""
    folder = tmp_path_factory.mktemp("sound")
    kinds = {"mp4": "libx264", "mov": "libx264", "mkv": "ffv1", "webm": "libvpx-vp9", "avi": "mpeg4"}
    found = {end: make_clip(folder / f"a.{end}", codec=codec, count=6, width=96, height=64).read_bytes() for end, codec in kinds.items()}
    picture = np.random.default_rng(1).integers(0, 255, (48, 64, 3), np.uint8)
    for end in ("png", "jpg", "tif", "webp"):
        found[end] = cv2.imencode(f".{end}", picture)[1].tobytes()
    for end, format in (("exr", "half"), ("dpx", "uint16")):
        out = oiio.ImageOutput.create(str(folder / f"a.{end}"))
        out.open(str(folder / f"a.{end}"), oiio.ImageSpec(64, 48, 3, format))
        out.write_image((picture / 255).astype(np.float32))
        out.close()
        found[end] = (folder / f"a.{end}").read_bytes()
    texts = {"shelf.json": SHELF, "edl": EDL, "otio": OTIO, "cdl": CDL, "svg": SVG, "cube": CUBE}
    return found | {end: text.encode() for end, text in texts.items()}


def _truncated(data: bytes, chance: random.Random) -> bytes:
    return data[: len(data) * chance.randint(0, 99) // 100]


def _flipped(data: bytes, chance: random.Random) -> bytes:
    out = bytearray(data)
    for _ in range(chance.choice((1, 8, 64, 512))):
        out[chance.randrange(len(out))] ^= 1 << chance.randrange(8)
    return bytes(out)


def _swapped(data: bytes, chance: random.Random) -> bytes:
    a, b = sorted((chance.randrange(len(data)), chance.randrange(len(data))))
    size = chance.randint(1, max(1, min(b - a, 4000) or 1))
    return data[:a] + data[b : b + size] + data[a + size : b] + data[a : a + size] + data[b + size :]


def _lying(data: bytes, chance: random.Random) -> bytes:
    at = chance.randrange(max(1, min(len(data), 400)))
    return data[:at] + chance.choice((b"\xff\xff\xff\xff", b"\x7f\xff\xff\xff", b"\0\0\0\0", b"\x80\0\0\0")) + data[at + 4 :]


WAYS: tuple[Callable[[bytes, random.Random], bytes], ...] = (_truncated, _flipped, _swapped, _lying)


def _send(server: Outside, project: str, end: str, data: bytes) -> httpx.Response:
    client = server.client
    if end == "cube":
        return client.post("/api/files", params={"name": f"a.{end}"}, content=data)
    if end in ("exr", "dpx"):
        return _sequence(server, project, end, data)
    text = data.decode("utf-8", "replace")
    if end == "shelf.json":
        return client.post("/api/shelf/import", json={"text": text})
    if end in ("edl", "otio"):
        return client.post(f"/api/reels/{client.get(f'/api/projects/{project}/reel').json()['reel_id']}/cut", json={"text": text})
    if end == "cdl":
        return client.post("/api/decision-lists/read", json={"text": text})
    if end == "svg":
        return client.post("/api/gradients/read", json={"text": text})
    if end == "zip":
        return client.post("/api/projects/archive", content=data)
    return client.post(f"/api/projects/{project}/footage", params={"name": f"a.{end}"}, content=data)


def _sequence(server: Outside, project: str, end: str, data: bytes) -> httpx.Response:
    id = server.client.post(f"/api/projects/{project}/sequences").json()["id"]
    for n in range(3):
        server.client.put(f"/api/sequences/{id}/pictures", params={"name": f"a{n}.{end}"}, content=data)
    answer = server.client.post(f"/api/projects/{project}/sequences/{id}", json={"rate": "24", "take": True})
    server.client.delete(f"/api/projects/{project}/sequences/{id}")
    return answer


def _told(answer: httpx.Response) -> None:
    """An answer that is fine, or a sentence."""
    assert answer.status_code < 500 or answer.status_code == 507, answer.text
    if answer.headers["content-type"].startswith("application/x-ndjson"):
        assert '"done"' in answer.text or '"failed"' in answer.text or '"damaged"' in answer.text, answer.text
    elif answer.status_code >= 400:
        assert answer.json()["message"].rstrip().endswith((".", "?", "…", "”", ")")), answer.text


def test_by_seed(sound_files: dict[str, bytes], tmp_path: Path) -> None:
    slowest = (0.0, "")
    with outside(tmp_path / "data") as server:
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        server.client.post(f"/api/projects/{project}/footage", params={"name": "a.png"}, content=sound_files["png"])
        files = {**sound_files, "zip": server.client.get(f"/api/projects/{project}/archive.zip").content}
        ends = sorted(files)
        for seed in range(COUNT):
            chance = random.Random(seed)
            end = ends[seed % len(ends)]
            data = chance.choice(WAYS)(files[end], chance)
            if seed % 12 == 11:  # what its name does not say
                end = chance.choice(ends)
            began = time.perf_counter()
            _told(_send(server, project, end, data))
            took = time.perf_counter() - began
            slowest = max(slowest, (took, f"{end}, seed {seed}"))
            assert took < MOST_SECONDS, (seed, end)
            assert not server.ended()
        assert not [p for p in (tmp_path / "data" / "incoming").iterdir() if not p.name.startswith("held-")]
        all_projects = [p["id"] for p in server.client.get("/api/projects").json()]  # some of what is flipped in an archive does no harm
        known = {p["id"] for id in all_projects for p in server.client.get(f"/api/projects/{id}").json()["footage"]}
        assert {p.name.split(".")[0] for p in (tmp_path / "data" / "media").iterdir()} == known
    print(f"{COUNT} malformed files; the slowest answer took {slowest[0]:.1f} s ({slowest[1]})")


def test_bombs(sound_files: dict[str, bytes], tmp_path: Path) -> None:
    """Entities in entities, nested lists, a ZIP of a hundred to one, a picture that claims 60,000 pixels a side, a LUT of a thousand a side."""
    deep = '{"format": "wenditas-shelf", "items": ' + "[" * 50_000 + "]" * 50_000 + "}"
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("wenditas.json", b"0" * (60 << 20))
    huge = b"\x89PNG\r\n\x1a\n" + b"\0\0\0\rIHDR" + (60_000).to_bytes(4, "big") * 2 + b"\x08\x02\0\0\0" + b"\0" * 8
    texts = [(end, BOMB.encode()) for end in ("cdl", "svg")] + [(end, deep.encode()) for end in ("shelf.json", "otio")]
    bombs = [*texts, ("zip", packed.getvalue()), ("png", huge), ("cube", b"LUT_3D_SIZE 1000\n0 0 0\n")]
    with outside(tmp_path / "data") as server:
        project = server.client.post("/api/projects", json={"name": "Film"}).json()["id"]
        for end, data in bombs:
            began = time.perf_counter()
            answer = _send(server, project, end, data)
            assert 400 <= answer.status_code < 500, (end, answer.text[:200])
            _told(answer)
            assert time.perf_counter() - began < MOST_SECONDS and not server.ended(), end
