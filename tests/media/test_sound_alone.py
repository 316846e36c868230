"""Sound without pictures: what comes out holds the samples that went in (as PyAV reads them), beside its wave."""

from pathlib import Path

import av
import numpy as np
import pytest

from tests.media.clips import read_independently
from wenditas.core.errors import FootageDamaged, FootageRefused, OnlySound
from wenditas.media.probe import probe
from wenditas.media.sound_alone import drawn, extent, take_sound

RATE = 48000


def written(path: Path, codec: str, seconds: float = 2.0, layout: str = "stereo") -> Path:
    """A sound file: silent in its first half, a tone of half of full scale in the second."""
    count = round(RATE * seconds)
    tone = 0.5 * np.sin(2 * np.pi * 440 * np.arange(count) / RATE)
    tone[: count // 2] = 0
    with av.open(str(path), "w") as container:
        stream = container.add_stream(codec, rate=RATE, layout=layout)
        resampler = av.AudioResampler(format=stream.codec_context.format, layout=layout, rate=RATE, frame_size=stream.codec_context.frame_size or 1024)
        frame = av.AudioFrame.from_ndarray(np.stack([tone, tone]).astype(np.float32), format="fltp", layout="stereo")
        frame.sample_rate, frame.pts = RATE, 0
        for part in (*resampler.resample(frame), *resampler.resample(None)):
            container.mux(stream.encode(part))
        container.mux(stream.encode(None))
    return path


def samples_of(path: Path) -> np.ndarray:
    """All samples of a file, `(2, n)`, as PyAV reads them; 1 is full scale."""
    plain = av.AudioResampler(format="dblp", layout="stereo", rate=RATE)
    with av.open(str(path)) as container:
        frames = [part for frame in container.decode(container.streams.audio[0]) for part in plain.resample(frame)]
    return np.concatenate([frame.to_ndarray() for frame in frames], axis=1)


@pytest.mark.parametrize(
    ("name", "codec", "kind"),
    [
        ("a.wav", "pcm_s16le", "WAV"),
        ("b.wav", "adpcm_ms", "WAV"),
        ("a.flac", "flac", "FLAC"),
        ("a.mp3", "libmp3lame", "MP3"),
        ("a.m4a", "aac", "M4A"),
        ("a.ogg", "libopus", "OGG"),
        ("a.aiff", "pcm_s16be", "AIFF"),
    ],
)
def test_kinds(tmp_path: Path, name: str, codec: str, kind: str) -> None:
    source = written(tmp_path / name, codec)
    with pytest.raises(OnlySound):
        probe(source, tmp_path / "index")
    facts = take_sound(source, tmp_path / "out.mkv", tmp_path / "index")
    assert (facts.rate, facts.width, facts.height, facts.damage) == ("24", 960, 240, ()) and abs(facts.length - 48) <= 2
    assert facts.origin == f"{kind} stereo, 48 kHz" and facts.wave and facts.sound is not None
    before, after = samples_of(source), samples_of(tmp_path / "out.mkv")
    assert before.shape == after.shape and np.abs(before - after).max() <= 2**-23  # a step of 24 bits
    frames, _ = read_independently(tmp_path / "out.mkv")
    assert len(frames) == facts.length and (np.abs(frames[0].astype(int) - frames[-1]) <= 16).all()
    row = frames[0][120 - 40].mean(axis=-1)  # a third of the way up: only the tone reaches it
    assert row[:440].max() < 60 and row[520:940].min() > 150


def test_the_wave() -> None:
    picture = drawn(np.array([0.0, 0.0, 1.0, 0.5]))
    assert picture.shape == (240, 960, 3) and np.ptp(picture, axis=-1).max() == 0
    assert [int((picture[:, x, 0] > 100).sum()) for x in (100, 300, 600, 900)] == [2, 2, 224, 112]
    assert drawn(np.zeros(1)).any() and drawn(np.ones(100_000)).shape == (240, 960, 3)


def test_how_long_it_is(tmp_path: Path) -> None:
    assert extent(written(tmp_path / "a.wav", "pcm_s24le", 3.31)) == (0, pytest.approx(3.31, abs=1e-4))
    start, seconds = extent(written(tmp_path / "a.mp3", "libmp3lame", 3.31))
    assert start > 0 and seconds == pytest.approx(3.31, abs=0.03)  # what its encoder put before it is left out


def test_what_cannot_be_taken(tmp_path: Path) -> None:
    whole = written(tmp_path / "a.mp3", "libmp3lame", 4.0).read_bytes()
    scrambled = bytearray(whole)
    scrambled[len(whole) // 2 : len(whole) // 2 + 3000] = np.random.default_rng(1).integers(0, 255, 3000, np.uint8).tobytes()
    (tmp_path / "b.mp3").write_bytes(scrambled)
    with pytest.raises(FootageDamaged, match="sound is damaged"):
        take_sound(tmp_path / "b.mp3", tmp_path / "out.mkv", tmp_path / "index")
    assert not (tmp_path / "out.mkv").exists()
    assert "silent there" in take_sound(tmp_path / "b.mp3", tmp_path / "out.mkv", tmp_path / "index", take=True).damage[0]
    (tmp_path / "c.wav").write_bytes(written(tmp_path / "d.wav", "pcm_s16le").read_bytes()[:60])
    with pytest.raises(FootageRefused):
        take_sound(tmp_path / "c.wav", tmp_path / "none.mkv", tmp_path / "index")
    assert not (tmp_path / "none.mkv").exists()
