"""Sound of other layouts comes down to stereo by ITU-R BS.775: the middle and the surrounds at 0.7071, the low effects left out."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from wenditas.media.sound import stretch

RATE = 48_000
ORDER = {"5.1": ("FL", "FR", "FC", "LFE", "BL", "BR"), "quad": ("FL", "FR", "BL", "BR"), "3.0": ("FL", "FR", "FC")}


def written(path: Path, layout: str, sounding: str, rate: int = RATE) -> Path:
    """Half a second of a tone in one channel alone."""
    channels = ORDER[layout]
    samples = np.zeros((len(channels), rate // 2), np.float32)
    samples[channels.index(sounding)] = 0.4 * np.sin(2 * np.pi * 440 * np.arange(rate // 2) / rate)
    with av.open(str(path), "w") as out:
        picture = out.add_stream("libx264", rate=Fraction(24))
        picture.width, picture.height, picture.pix_fmt = 32, 32, "yuv420p"
        sound = out.add_stream("pcm_s16le", rate=rate, layout=layout)
        for n in range(12):
            frame = av.VideoFrame(32, 32, "yuv420p")
            frame.pts = n
            out.mux(picture.encode(frame))
        out.mux(picture.encode(None))
        frame = av.AudioFrame.from_ndarray(np.rint(samples.T * 32767).astype(np.int16).reshape(1, -1), format="s16", layout=layout)
        frame.sample_rate, frame.pts = rate, 0
        out.mux(sound.encode(frame))
        out.mux(sound.encode(None))
    return path


def levels(path: Path) -> tuple[float, float]:
    """How loud left and right are, as a share of the tone."""
    left, right = np.concatenate([f.to_ndarray() for f in stretch(path, 0, 0.5, RATE)], axis=1)
    tone = 0.4 / np.sqrt(2)
    return float(np.sqrt((left**2).mean()) / tone), float(np.sqrt((right**2).mean()) / tone)


@pytest.mark.parametrize(
    ("layout", "sounding", "left", "right"),
    [
        ("5.1", "FL", 1, 0), ("5.1", "FR", 0, 1), ("5.1", "FC", 0.7071, 0.7071), ("5.1", "LFE", 0, 0), ("5.1", "BL", 0.7071, 0), ("5.1", "BR", 0, 0.7071),
        ("quad", "BL", 0.7071, 0), ("3.0", "FC", 0.7071, 0.7071),
    ],
)  # fmt: skip
def test_each_channel_comes_down_by_the_matrix(tmp_path: Path, layout: str, sounding: str, left: float, right: float) -> None:
    assert levels(written(tmp_path / "a.mov", layout, sounding)) == pytest.approx((left, right), abs=0.01)


def test_another_rate_keeps_its_pitch(tmp_path: Path) -> None:
    left, _ = np.concatenate([f.to_ndarray() for f in stretch(written(tmp_path / "a.mov", "5.1", "FL", 96_000), 0, 0.5, RATE)], axis=1)
    spectrum = np.abs(np.fft.rfft(left[2000:-2000] * np.hanning(len(left) - 4000)))
    assert np.argmax(spectrum) * RATE / (len(left) - 4000) == pytest.approx(440, abs=4)
