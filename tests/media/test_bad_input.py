"""Files that cannot be used are refused with a sentence that says why."""

from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from tests.media.clips import make_clip
from wenditas.core.errors import FootageRefused
from wenditas.media.probe import inspect, probe


def refusal(path: Path) -> str:
    with pytest.raises(FootageRefused) as caught:
        inspect(path)
    with pytest.raises(FootageRefused):
        probe(path, path.with_suffix(".npz"))
    assert not path.with_suffix(".npz").exists()
    return str(caught.value)


def test_empty(tmp_path: Path) -> None:
    (tmp_path / "a.mp4").touch()
    assert "empty" in refusal(tmp_path / "a.mp4")


def test_text_with_a_film_name(tmp_path: Path) -> None:
    (tmp_path / "a.mp4").write_text("this is not a film\n" * 100)
    assert "cannot be read" in refusal(tmp_path / "a.mp4")


@pytest.mark.parametrize("share", [0.1, 0.33, 0.9])
def test_cut_short(tmp_path: Path, tram_clip: Path, share: float) -> None:
    data = tram_clip.read_bytes()
    (tmp_path / "a.mp4").write_bytes(data[: int(len(data) * share)])
    assert "cut short" in refusal(tmp_path / "a.mp4")


def test_damaged(tmp_path: Path, tram_clip: Path) -> None:
    data = bytearray(tram_clip.read_bytes())
    data[40 : len(data) // 2] = bytes(len(data) // 2 - 40)
    (tmp_path / "a.mp4").write_bytes(data)
    assert refusal(tmp_path / "a.mp4")


def test_sound_only(tmp_path: Path) -> None:
    path = tmp_path / "a.mp4"
    with av.open(str(path), "w") as container:
        stream = container.add_stream("aac", rate=48000, layout="stereo")
        frame = av.AudioFrame.from_ndarray(np.zeros((2, 4096), np.float32), format="fltp", layout="stereo")
        frame.sample_rate, frame.pts = 48000, 0
        container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    assert "only sound" in refusal(path)


def test_one_pixel(tmp_path: Path) -> None:
    cv2.imwrite(str(tmp_path / "a.png"), np.zeros((1, 1, 3), np.uint8))
    assert "1 × 1" in refusal(tmp_path / "a.png")


def test_a_picture_that_unpacks_to_gigabytes(tmp_path: Path) -> None:
    header = b"\x89PNG\r\n\x1a\n" + b"\0\0\0\rIHDR" + (60000).to_bytes(4, "big") * 2 + b"\x08\x02\0\0\0"
    (tmp_path / "a.png").write_bytes(header + b"\0\0\0\0" + b"\0\0\0\0IEND\xaeB`\x82")
    assert refusal(tmp_path / "a.png")


def test_signals_that_are_not_for_display_are_known(tmp_path: Path) -> None:
    """By their tags (ITU-T H.273, table 3); what is done about them is chosen with the footage."""
    for transfer, signal in ((16, "pq"), (18, "hlg"), (9, "log"), (8, "linear"), (1, "display"), (13, "display")):
        path = make_clip(tmp_path / "a.mp4", codec="libx265", pixel_format="yuv420p10le", transfer=transfer, count=3)
        assert inspect(path)[0].signal == signal


def test_other_kinds_of_container(tmp_path: Path) -> None:
    path = tmp_path / "a.mp4"
    make_clip(tmp_path / "a.flv", codec="flv", count=3).rename(path)
    assert "MP4, MOV, MKV, WebM or AVI" in refusal(path)
