"""What is said of files is true, and nothing that matters goes unsaid."""

import io
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.conftest import BASE, send, wait_for
from tests.media.clips import make_clip, sound_of
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


def two_of_each(path: Path) -> Path:
    """Two tracks of picture (320 × 240, dark; 160 × 120, light) and two of sound (silent mono; a stereo tone)."""
    with av.open(str(path), "w", format="matroska") as out:
        pictures = [out.add_stream("libx264", rate=24) for _ in range(2)]
        for stream, (width, height) in zip(pictures, ((320, 240), (160, 120)), strict=True):
            stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        sounds = [out.add_stream("pcm_s16le", rate=48000, layout=layout) for layout in ("mono", "stereo")]
        for n in range(24):
            for stream, grey in zip(pictures, (40, 200), strict=True):
                frame = av.VideoFrame.from_ndarray(np.full((stream.height, stream.width, 3), grey, np.uint8), format="rgb24").reformat(format="yuv420p")
                frame.pts, frame.time_base = n, Fraction(1, 24)
                out.mux(stream.encode(frame))
            for stream, loud in zip(sounds, (0, 12000), strict=True):
                channels = 1 if loud == 0 else 2
                frame = av.AudioFrame.from_ndarray(np.full((1, 2000 * channels), loud, np.int16), format="s16", layout=stream.layout.name)
                frame.sample_rate, frame.pts, frame.time_base = 48000, 2000 * n, Fraction(1, 48000)
                out.mux(stream.encode(frame))
        for stream in (*pictures, *sounds):
            out.mux(stream.encode(None))
    return path


def test_further_tracks_are_said_and_one_is_chosen(tmp_path: Path) -> None:
    path = two_of_each(tmp_path / "two.mkv")
    facts, _ = inspect(path)
    assert [n for n in facts.notes if "2 tracks" in n] == list(facts.notes) and len(facts.notes) == 2
    assert facts.sounds == ("PCM_S16LE mono, 48 kHz", "PCM_S16LE stereo, 48 kHz") and (facts.width, facts.sound) == (320, facts.sounds[0])
    assert inspect(make_clip(tmp_path / "one.mp4", width=64, height=48, count=6, sound="aac"))[0].notes == ()
    with TestClient(create_app(tmp_path / "data"), base_url=BASE) as client:
        project = client.post("/api/projects", json={"name": "Film"}).json()["id"]
        piece = send(client, project, path).json()
        url = f"/api/footage/{piece['id']}"
        assert max(client.get(f"{url}/peaks").content) == 0
        assert client.post(f"{url}/tracks", json={"picture": 2, "sound": 0}).status_code == 422
        other = client.post(f"{url}/tracks", json={"picture": 1, "sound": 1}).json()
        assert (other["facts"]["width"], other["facts"]["sound"]) == (160, "PCM_S16LE stereo, 48 kHz")
        assert max(client.get(f"/api/footage/{other['id']}/peaks").content) > 80
        shot = client.post(f"/api/footage/{other['id']}/shots").json()
        picture = client.get(f"/api/shots/{shot['id']}/pictures/{shot['head']}/5.png")
        assert np.asarray(Image.open(io.BytesIO(picture.content))).mean() == pytest.approx(200, abs=3)
        made = client.post(f"/api/shots/{shot['id']}/exports", json={"revision": shot["head"]}).json()
        wait_for(lambda: client.get(f"/api/projects/{project}/exports").json()[0]["state"] in ("done", "failed"))
        (tmp_path / "got.mp4").write_bytes(client.get(f"/api/exports/{made['id']}/file").content)
        assert np.abs(sound_of(tmp_path / "got.mp4")[0]).max() > 0.2
        assert client.post(f"/api/footage/{other['id']}/tracks", json={"picture": 0, "sound": 0}).status_code == 409  # it has a shot


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
