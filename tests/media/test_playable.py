"""Sound as a browser plays it: a file whose bytes are worked out from anywhere on."""

import io
import wave
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.media.test_mix import RATE, piece, tone
from wenditas.media.mix import Piece, mixed
from wenditas.media.playable import bytes_of, of_file, size_of

SECONDS = 1.5


@pytest.fixture(scope="module")
def loud(tmp_path_factory: pytest.TempPathFactory) -> list[Piece]:
    """Two pieces that are too loud together for a while, so that the mix is turned down."""
    folder = tmp_path_factory.mktemp("loud")
    return [piece(tone(folder / "a.wav", 440, 0.7), "0.25", "0.125", "1"), piece(tone(folder / "b.wav", 300, 0.6), "0.5", "0", "0.5")]


def whole(pieces: list[Piece]) -> bytes:
    return b"".join(bytes_of(lambda first: mixed(pieces, SECONDS, RATE, first), size_of(SECONDS), 0, size_of(SECONDS)))


def test_it_is_a_file_as_others_read_it(loud: list[Piece]) -> None:
    """Python's own `wave` reads what was mixed, to half a step of 16 bits."""
    with wave.open(io.BytesIO(whole(loud))) as read:
        assert (read.getnchannels(), read.getsampwidth(), read.getframerate(), read.getnframes()) == (2, 2, RATE, round(SECONDS * RATE))
        samples = np.frombuffer(read.readframes(read.getnframes()), "<i2").reshape(-1, 2).T
    expected = np.concatenate([f.to_ndarray() for f in mixed(loud, SECONDS)], axis=1)
    assert np.abs(samples / 32767 - expected).max() < 0.51 / 32767


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_any_stretch_is_that_of_the_whole(loud: list[Piece], data: st.DataObject) -> None:
    """From the middle of a header, of a sample, of what is turned down: one step of 16 bits apart at most, where it is rounded."""
    size = size_of(SECONDS)
    first = data.draw(st.integers(0, size - 1))
    end = data.draw(st.integers(first + 1, size))
    part = b"".join(bytes_of(lambda at: mixed(loud, SECONDS, RATE, at), size, first, end))
    assert len(part) == end - first
    begin, last = max(44, first + first % 2), end - end % 2
    if last > begin:
        found, wanted = (np.frombuffer(b, "<i2").astype(int) for b in (part[begin - first : last - first], whole(loud)[begin:last]))
        assert np.abs(found - wanted).max() <= 1


def test_a_file_is_heard_from_anywhere(tmp_path: Path) -> None:
    frames, size = of_file(tone(tmp_path / "a.wav", 440, 0.5), 0.25, SECONDS, 0), size_of(SECONDS)
    expected = 0.5 * np.sin(2 * np.pi * 440 * (np.arange(RATE, RATE + 1000) + RATE // 4) / RATE)
    part = b"".join(bytes_of(frames, size, 44 + RATE * 4, 44 + (RATE + 1000) * 4))
    assert np.abs(np.frombuffer(part, "<i2").reshape(-1, 2)[:, 0] / 32767 - expected).max() < 1e-4
