"""Sound of several files as one."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wenditas.core.film import Fade, Heard
from wenditas.media.mix import MIX_RATE, MOST, Limiter, Piece, mixed
from wenditas.media.sound import peaks

RATE = MIX_RATE


def tone(path: Path, hertz: float, level: float, seconds: float = 2.0) -> Path:
    """An uncompressed sine."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("pcm_s16le", rate=RATE, layout="stereo")
        wave = np.round(level * 32767 * np.sin(2 * np.pi * hertz * np.arange(round(RATE * seconds)) / RATE)).astype(np.int16)
        frame = av.AudioFrame.from_ndarray(np.repeat(wave, 2)[None], format="s16", layout="stereo")
        frame.sample_rate = RATE
        out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def piece(path: Path, at: str, start: str, seconds: str, **more: object) -> Piece:
    heard = Heard(content="a", at=Fraction(at), start=Fraction(start), seconds=Fraction(seconds), **more)  # type: ignore[arg-type]
    return Piece(path=path, zero=0, heard=heard)


def heard(pieces: list[Piece], seconds: float) -> np.ndarray:
    return np.concatenate([f.to_ndarray() for f in mixed(pieces, seconds)], axis=1)


def test_pieces_lie_where_they_belong_as_loud_as_they_are_to_be(tmp_path: Path) -> None:
    """Reference: the same sum by NumPy. -6.0206 dB are a half (definition of the decibel)."""
    a, b = tone(tmp_path / "a.wav", 440, 0.4), tone(tmp_path / "b.wav", 300, 0.3)
    found = heard([piece(a, "0.5", "0.25", "1", level=-6.0206), piece(b, "1", "0", "0.75")], 2)
    assert found.shape == (2, 2 * RATE)
    wave = lambda hertz, level: level * np.sin(2 * np.pi * hertz * np.arange(2 * RATE) / RATE)  # noqa: E731
    expected = np.zeros(2 * RATE)
    expected[RATE // 2 : RATE // 2 + RATE] += wave(440, 0.2)[RATE // 4 : RATE // 4 + RATE]
    expected[RATE : RATE + RATE * 3 // 4] += wave(300, 0.3)[: RATE * 3 // 4]
    assert np.abs(found - expected).max() < 2e-4


def test_a_crossing_keeps_its_power(tmp_path: Path) -> None:
    """Two unlike sounds that cross over with equal power: the power of the sum is that of either, at every place (definition)."""
    a, b = tone(tmp_path / "a.wav", 1000, 0.5), tone(tmp_path / "b.wav", 1370, 0.5)
    fade = {"begin": Fraction(0), "end": Fraction(2)}
    found = heard([piece(a, "0", "0", "2", fades=(Fade(**fade, out=True),)), piece(b, "0", "0", "2", fades=(Fade(**fade),))], 2)[0]
    power = (found.reshape(20, -1) ** 2).mean(axis=1)
    assert np.abs(power / 0.125 - 1).max() < 0.05


def test_what_would_clip_is_turned_down_and_the_rest_is_not(tmp_path: Path) -> None:
    a = tone(tmp_path / "a.wav", 440, 0.9)
    soft = heard([piece(a, "0", "0", "0.5")], 0.5)
    assert np.abs(soft).max() == pytest.approx(0.9, abs=1e-3)
    loud = heard([piece(a, "0", "0", "1"), piece(a, "0.5", "0.5", "0.5")], 2)
    assert np.abs(loud).max() <= MOST + 1e-6
    assert np.array_equal(loud[:, : RATE // 2], soft)  # before it is too loud nothing changes
    assert not loud[:, RATE:].any()


@given(st.lists(st.floats(-4, 4, width=32), min_size=1, max_size=300), st.integers(1, 50))
def test_a_limiter_never_lets_through_more(samples: list[float], size: int) -> None:
    limiter, x = Limiter(1000), np.array([samples, samples], np.float32)
    out = np.concatenate([limiter.limited(x[:, n : n + size]) for n in range(0, x.shape[1], size)], axis=1)
    assert (out.shape == x.shape and np.abs(out).max() <= MOST + 1e-5) or np.abs(x).max() <= MOST
    assert (np.abs(out) <= np.abs(x) + 1e-6).all() and (np.sign(out) * np.sign(x) >= 0).all()


def test_peaks_are_those_of_the_sound(tmp_path: Path) -> None:
    found = np.frombuffer(peaks(tone(tmp_path / "a.wav", 440, 0.5), 0.0, 3.0), np.uint8)
    assert len(found) == 150  # fifty a second
    assert np.abs(found[2:98] / 255 - 0.5).max() < 0.03 and not found[102:].any()
