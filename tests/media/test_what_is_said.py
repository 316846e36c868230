"""What is said of files is true, and nothing that matters goes unsaid."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import BASE
from tests.media.clips import make_clip
from wenditas.api.app import create_app
from wenditas.core.errors import FootageRefused
from wenditas.media.probe import inspect
from wenditas.media.sequence import SequenceJob, take
from wenditas.media.sound_alone import convert

PICTURE = Image.fromarray(np.random.default_rng(0).integers(0, 255, (64, 80, 3)).astype(np.uint8))


def test_an_animated_webp_is_called_so(tmp_path: Path) -> None:
    PICTURE.save(tmp_path / "a.webp", save_all=True, append_images=[PICTURE.rotate(90)], duration=100)
    with pytest.raises(FootageRefused, match="an animated WebP"):
        inspect(tmp_path / "a.webp")
    PICTURE.save(tmp_path / "b.webp")
    assert inspect(tmp_path / "b.webp")[0].kind == "still"


def test_a_float_tiff_is_read_or_called_so(tmp_path: Path) -> None:
    Image.fromarray(np.random.default_rng(0).random((64, 80)).astype(np.float32)).save(tmp_path / "f.tif")
    try:
        assert inspect(tmp_path / "f.tif")[0].width == 80
    except FootageRefused as error:
        assert "floating-point" in str(error)


def test_cmyk_has_no_alpha(tmp_path: Path) -> None:
    PICTURE.convert("CMYK").save(tmp_path / "c.jpg")
    assert not inspect(tmp_path / "c.jpg")[0].alpha


@pytest.mark.parametrize(("rate", "shown", "length", "said"), [
    (Fraction(480), "240", 30, "480 frames a second"), (Fraction(1, 2), "1", 12, "0.5 frames a second"), (Fraction(24), "24", None, ""),
])  # fmt: skip
def test_rates_out_of_range_are_conformed_and_said(tmp_path: Path, rate: Fraction, shown: str, length: int | None, said: str) -> None:
    """All of its time: 60 frames at 480, 6 at 0.5."""
    count = {480: 60, 24: 24}.get(int(rate), 6)
    facts, index = inspect(make_clip(tmp_path / "r.mp4", width=64, height=48, rate=rate, count=count))
    assert (facts.rate, facts.length) == (shown, length or count)
    assert len(index.order) == facts.length and int(index.order[-1]) == len(index.times) - 1
    assert (facts.notes == ()) if not said else said in facts.notes[0]


def test_further_tracks_are_said(tmp_path: Path) -> None:
    make_clip(tmp_path / "a.mp4", width=64, height=48, count=6, sound="aac")
    with av.open(str(tmp_path / "a.mp4")) as source, av.open(str(tmp_path / "b.mkv"), "w", format="matroska") as out:
        streams = [(s, out.add_stream_from_template(s)) for s in (*source.streams.video, *source.streams.audio, *source.streams.audio, *source.streams.video)]
        for packet in source.demux():
            if packet.dts is None:
                continue
            for template, stream in streams:
                if template.index == packet.stream.index:
                    copy = av.Packet(bytes(packet))
                    copy.pts, copy.dts, copy.time_base, copy.is_keyframe, copy.stream = packet.pts, packet.dts, packet.time_base, packet.is_keyframe, stream
                    out.mux(copy)
    notes = inspect(tmp_path / "b.mkv")[0].notes
    assert any("2 tracks of sound" in n for n in notes) and any("2 tracks of picture" in n for n in notes)
    assert inspect(tmp_path / "a.mp4")[0].notes == ()


def test_mono_is_called_mono(tmp_path: Path) -> None:
    with av.open(str(tmp_path / "m.flac"), "w") as out:
        stream = out.add_stream("flac", rate=44100, layout="mono")
        frame = av.AudioFrame.from_ndarray(np.zeros((1, 4096), np.int16), format="s16", layout="mono")
        frame.sample_rate, frame.pts = 44100, 0
        out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    facts, _ = convert(tmp_path / "m.flac", tmp_path / "out.mkv")
    assert facts.sound == "FLAC mono, 44.1 kHz"


def test_a_sequence_at_no_rate_says_so(tmp_path: Path) -> None:
    for n in range(3):
        PICTURE.save(tmp_path / f"p{n}.png")
    job = SequenceJob(folder=tmp_path, names=[f"p{n}.png" for n in range(3)], rate="0", alpha="guess", target=tmp_path / "o.mkv", index=tmp_path / "i.npz")
    with pytest.raises(FootageRefused, match="0 frames a second are not taken"):
        take(job, lambda done, total: None, lambda: False)


def test_long_names_and_files_that_are_gone_are_no_full_disk(tmp_path: Path) -> None:
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as client:
        for path in (f"/api/shots/{'x' * 400}", f"/api/footage/{'x' * 400}/poster.jpg", f"/api/exports/{'x' * 400}/file", f"/api/tracks/{'x' * 400}"):
            answer = client.get(path)
            assert answer.status_code == 404 and "disk" not in answer.text, path
