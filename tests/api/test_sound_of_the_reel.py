"""What is heard of a reel while it plays: mixed from wherever it is asked for."""

import io
import wave
from pathlib import Path

import numpy as np
from fastapi.testclient import TestClient

from tests.api.conftest import BASE
from tests.api.test_reel import add, edited, reel_of, shot_of
from wenditas.api.app import create_app

RATE = 48000


def samples(data: bytes) -> np.ndarray:
    return np.frombuffer(data[len(data) % 4 :], "<i2").reshape(-1, 2)[:, 0] / 32767


def test_it_is_mixed_from_anywhere_on(client: TestClient, project: str, clip: Path) -> None:
    """Python's own `wave` reads the whole; a stretch is what is there; a gain of -6.02 dB is a half (definition of the decibel)."""
    shot = shot_of(client, project, clip)
    view = edited(client, reel_of(client, project), add("i", shot, 0, 23), add("j", shot, 0, 23, gain=-6.0206))
    door = f"/api/reels/{view['reel_id']}/sound/{view['revision']}.wav"
    whole = client.get(door)
    assert whole.status_code == 200 and whole.headers["content-type"] == "audio/wav"
    with wave.open(io.BytesIO(whole.content)) as read:
        assert (read.getnchannels(), read.getframerate(), read.getnframes()) == (2, RATE, 2 * RATE)
    heard = samples(whole.content[44:])
    loud = [np.sqrt((heard[RATE * n + RATE // 4 : RATE * n + RATE * 3 // 4] ** 2).mean()) for n in (0, 1)]
    assert loud[0] > 0.05 and abs(loud[1] / loud[0] - 0.5) < 0.02
    first = 44 + RATE * 3 // 2 * 4
    part = client.get(door, headers={"range": f"bytes={first}-{first + 39999}"})
    assert part.status_code == 206 and part.headers["content-range"] == f"bytes {first}-{first + 39999}/{44 + 2 * RATE * 4}"
    assert (
        np.abs(samples(part.content) - heard[RATE * 3 // 2 :][:10000]).max() < 0.02
    )  # a coded sound that is begun elsewhere is put together a little otherwise


def test_a_reel_that_is_silent_has_none(client: TestClient, project: str, clip: Path) -> None:
    view = edited(client, reel_of(client, project), add("i", shot_of(client, project, clip), 0, 23, heard=False))
    answer = client.get(f"/api/reels/{view['reel_id']}/sound/{view['revision']}.wav")
    assert answer.status_code == 404 and "Nothing is heard" in answer.json()["message"]


def test_what_earlier_versions_kept_of_sound_goes(tmp_path: Path) -> None:
    kept = tmp_path / "cache" / "sound-0123.webm"
    kept.parent.mkdir()
    kept.write_bytes(b"x")
    with TestClient(create_app(tmp_path), base_url=BASE):
        assert not kept.exists()
