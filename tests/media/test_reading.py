"""Footage of many kinds: facts, exact frames, colour."""

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from PIL import Image

from tests.media.clips import frame_pixels, make_clip
from wenditas.media.facts import Facts
from wenditas.media.index import Index, conform
from wenditas.media.noise import measured
from wenditas.media.probe import inspect, probe
from wenditas.media.reader import Reader, fit

CLIPS = {
    "h264-10bit.mkv": dict(pixel_format="yuv420p10le", rate=Fraction(30000, 1001), sound="libopus"),
    "vp9.webm": dict(codec="libvpx-vp9", rate=Fraction(25), sound="libopus"),
    "mpeg4.avi": dict(codec="mpeg4", rate=Fraction(25), sound="libmp3lame", matrix=6),
    "prores.mov": dict(codec="prores_ks", pixel_format="yuv422p10le", rate=Fraction(24000, 1001), sound="pcm_s16le"),
    "h264-444.mp4": dict(pixel_format="yuv444p", rate=Fraction(60), width=322, height=242),
    "ffv1-rgb.mkv": dict(codec="ffv1", pixel_format="bgr0", width=101, height=75),
    "full-range.mp4": dict(full_range=True),
    "bt601.mp4": dict(matrix=6),
}


def opened(path: Path) -> Reader:
    facts, index = inspect(path)
    return Reader(path, facts, index)


@pytest.mark.parametrize("name", CLIPS)
def test_facts_and_every_frame_in_any_order(tmp_path: Path, name: str) -> None:
    settings = CLIPS[name]
    path = make_clip(tmp_path / name, **settings)
    reader = opened(path)
    facts = reader.facts
    assert (facts.width, facts.height) == (settings.get("width", 320), settings.get("height", 240))
    assert facts.frame_rate == settings.get("rate", 24) and (facts.sound is None) == ("sound" not in settings)
    extra = facts.length - 24
    assert extra == (1 if name.endswith(".avi") else 0)  # AVI stores no times: its writer leaves the second frame out
    for number in (0, 23, 5, 6, 7, 1, 22, 12, 11):
        expected = frame_pixels(number, facts.width, facts.height, 24) / 255
        picture = reader.picture(number + extra)
        assert picture[2, 5, 5] == pytest.approx(expected[5, 5, 2], abs=0.02), number
        square = picture[:, int(facts.height * 0.375), int(facts.width * 0.375)]
        assert square == pytest.approx(np.array((210, 40, 30)) / 255, abs=0.03)


def test_ten_bit_keeps_its_precision(tmp_path: Path) -> None:
    path = tmp_path / "ramp.mkv"
    codes = np.tile(np.arange(64, 64 + 640, dtype=np.uint16), (64, 1))
    with av.open(str(path), "w") as container:
        stream = container.add_stream("ffv1", rate=24)
        stream.width, stream.height, stream.pix_fmt = 640, 64, "yuv444p10le"
        frame = av.VideoFrame(640, 64, "yuv444p10le")
        for plane, values in zip(frame.planes, (codes, np.full_like(codes, 512), np.full_like(codes, 512)), strict=True):
            plane.update(values.tobytes())
        frame.pts = 0
        container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    grey = opened(path).picture(0)
    assert grey[1, 0] == pytest.approx((codes[0] - 64) / 876, abs=1e-6)  # BT.709-6, 4.6: 876 steps from black to white


@pytest.mark.parametrize("size", [None, (120, 160)])
@pytest.mark.parametrize("name", ["full-range.mp4", "bt601.mp4", "h264-10bit.mkv"])
def test_preview_has_the_colours_of_the_full_picture(tmp_path: Path, name: str, size: tuple[int, int] | None) -> None:
    picture = opened(make_clip(tmp_path / name, **CLIPS[name])).picture(3, size)
    height, width = picture.shape[1:]
    assert picture[:, int(height * 0.375), int(width * 0.375)] == pytest.approx(np.array((210, 40, 30)) / 255, abs=0.02)


def test_variable_rate_is_conformed(tmp_path: Path) -> None:
    times = [0, 40, 80, 120, 160, 320, 360, 400, 440, 480, 520, 560]
    reader = opened(make_clip(tmp_path / "v.mp4", count=12, times=times))
    assert reader.facts.variable_rate and reader.facts.frame_rate == 25 and reader.facts.length == 15
    # Frames 4 to 7 show the picture that stays on screen from 160 to 320 ms.
    blues = [reader.picture(n)[2, 5, 5] for n in range(15)]
    assert np.ptp(blues[4:8]) < 0.01 and blues[8] - blues[7] > 0.05


def test_conform_on_even_times_is_the_identity() -> None:
    times = np.arange(50) * 1001
    assert conform(times, Fraction(1, 24000), Fraction(24000, 1001)).tolist() == list(range(50))


def test_rotation_is_honoured(tmp_path: Path) -> None:
    path = tmp_path / "turned.jpg"
    pixels = np.zeros((48, 96, 3), np.uint8)
    pixels[:, :48] = (30, 40, 210)  # red on the left (B, G, R)
    cv2.imwrite(str(path), pixels)
    # EXIF orientation 6: turn by 90 degrees clockwise to see it upright (Exif 2.3, tag 274).
    exif = b"Exif\0\0II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x06\0\0\0\0\0\0\0"
    data = path.read_bytes()
    path.write_bytes(data[:2] + b"\xff\xe1" + (len(exif) + 2).to_bytes(2, "big") + exif + data[2:])
    reader = opened(path)
    assert (reader.facts.width, reader.facts.height) == (48, 96)
    picture = reader.picture(0)
    assert picture[0, 10].mean() > 0.6 and picture[0, 85].mean() < 0.1  # left has become top


def test_square_pixels(tmp_path: Path) -> None:
    reader = opened(make_clip(tmp_path / "a.mp4", width=720, height=576, count=2, aspect=Fraction(16, 15)))
    assert (reader.facts.width, reader.facts.height) == (768, 576)
    assert reader.picture(0).shape == (3, 576, 768) and reader.planes(0) is None


@pytest.mark.parametrize("suffix", ["png", "jpg", "tiff", "webp"])
def test_stills(tmp_path: Path, suffix: str) -> None:
    path = tmp_path / f"still.{suffix}"
    cv2.imwrite(str(path), frame_pixels(0, 160, 120, 1)[:, :, ::-1])
    reader = opened(path)
    assert reader.facts.kind == "still" and reader.facts.length == 120
    assert np.array_equal(reader.picture(0), reader.picture(119))
    assert reader.picture(50)[:, 40, 60] == pytest.approx(np.array((210, 40, 30)) / 255, abs=0.03)


def test_sixteen_bit_stills_keep_their_precision(tmp_path: Path) -> None:
    path = tmp_path / "deep.png"
    levels = np.arange(0, 65536, 256, dtype=np.uint16)[None, :, None].repeat(16, 0).repeat(3, 2) + 77
    cv2.imwrite(str(path), levels)
    assert opened(path).picture(0)[0, 0] == pytest.approx(levels[0, :, 0] / 65535, abs=1e-6)


def test_probe_in_a_child_gives_the_same(tmp_path: Path, tram_clip: Path) -> None:
    facts = probe(tram_clip, tmp_path / "i.npz")
    direct, index = inspect(tram_clip)
    assert facts == direct and np.array_equal(Index.read(tmp_path / "i.npz").times, index.times)
    assert (facts.width, facts.height, facts.length, facts.rate, facts.tagged) == (1280, 720, 132, "24", True)


def test_the_noise_of_a_file_is_measured_from_its_own_frames(tmp_path: Path, tram_clip: Path) -> None:
    assert 0.001 < measured(tram_clip, *inspect(tram_clip)) < 0.01
    flat = tmp_path / "flat.png"
    Image.fromarray(np.full((64, 96, 3), 120, np.uint8)).save(flat)
    assert measured(flat, *inspect(flat)) == 0


def test_fit() -> None:
    facts = some_facts()
    assert fit(facts, 960) == (540, 960) and fit(facts, 1280) is None and fit(facts, 5000) is None


def some_facts() -> Facts:
    return Facts(
        kind="video", container="", codec="", pixel_format="", bits=8, width=1280, height=720, coded_width=1280, coded_height=720,
        rotation=0, rate="24", length=1, variable_rate=False, sound=None, matrix="bt709", full_range=False, tagged=True, alpha=False,
    )  # fmt: skip
