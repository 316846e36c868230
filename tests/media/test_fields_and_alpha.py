"""Interlaced footage, and alpha that WebM keeps beside the picture."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from wenditas.media.opening import open_media
from wenditas.media.probe import inspect
from wenditas.media.proxy import open_proxy, write_proxy
from wenditas.media.reader import Reader

WIDTH, HEIGHT, STEP, BAR = 320, 240, 6, 30
INTERLACED = 0x20000000 | 0x00040000  # FFmpeg's flags for motion estimation and coding of fields


def bar_at(half: int) -> int:
    """Where the bar begins, in pixels, at a field."""
    return 20 + STEP * half


def interlaced_clip(path: Path, count: int = 14) -> Path:
    """A bar that moves between fields, the lower field first (as libx264 marks pictures that say nothing)."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        stream.codec_context.options, stream.codec_context.flags = {"crf": "8"}, stream.codec_context.flags | INTERLACED
        for n in range(count):
            pixels = np.full((HEIGHT, WIDTH, 3), 60, np.uint8)
            for line, half in ((1, 2 * n), (0, 2 * n + 1)):
                pixels[line::2, bar_at(half) : bar_at(half) + BAR] = (220, 60, 40)
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24").reformat(format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, 25)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return path


def edges(picture: np.ndarray) -> list[int]:
    """Where the bar begins, on two lines of different fields."""
    return [int(np.flatnonzero(picture[0, y] > 0.55)[0]) for y in (HEIGHT // 2, HEIGHT // 2 + 1)]


def test_interlaced_footage_is_said_and_made_whole(tmp_path: Path) -> None:
    facts, index = inspect(interlaced_clip(tmp_path / "i.mp4"))
    assert facts.interlaced and facts.fields == "one a frame" and (facts.rate, facts.length) == ("25", 14)
    combed = edges(Reader(tmp_path / "i.mp4", facts.model_copy(update={"fields": ""}), index).picture(5))
    assert abs(combed[0] - combed[1]) >= STEP - 2  # a comb
    reader = Reader(tmp_path / "i.mp4", facts, index)
    for number in (5, 0, 13, 6, 7, 1, 12):  # any order, and at both ends
        found = edges(reader.picture(number))
        assert abs(found[0] - found[1]) <= 1 and abs(found[0] - bar_at(2 * number)) <= 2, number


def test_a_frame_of_each_field(tmp_path: Path) -> None:
    facts, index = inspect(interlaced_clip(tmp_path / "i.mp4"))
    doubled = index.__class__(index.times, index.keys, index.time_base, index.rate * 2, index.variable, np.repeat(index.order, 2))
    own = facts.model_copy(update={"fields": "one a field", "rate": "50", "length": 28})
    reader = Reader(tmp_path / "i.mp4", own, doubled)
    for number in (10, 11, 12, 3, 26, 27, 0, 1):
        found = edges(reader.picture(number))
        assert abs(found[0] - found[1]) <= 2 and abs(found[0] - bar_at(number)) <= 3, number
    write_proxy(reader, tmp_path / "proxy.mov")
    small = open_proxy(tmp_path / "proxy.mov", own)
    assert abs(small.picture(11) - reader.picture(11)).mean() < 0.01


def test_progressive_footage_has_no_fields(tmp_path: Path) -> None:
    from tests.media.clips import make_clip

    assert not inspect(make_clip(tmp_path / "p.mp4", count=4))[0].interlaced


@pytest.mark.parametrize("codec", ["libvpx-vp9", "libvpx"])
def test_webm_keeps_its_alpha_on_the_way_in(tmp_path: Path, codec: str) -> None:
    path = tmp_path / "a.webm"
    with av.open(str(path), "w") as container:
        stream = container.add_stream(codec, rate=24)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuva420p"
        stream.codec_context.options = {"auto-alt-ref": "0"}  # frames out of order, which alpha does not allow
        for n in range(8):
            pixels = np.zeros((48, 64, 4), np.uint8)
            pixels[..., 0], pixels[:, :32, 3], pixels[:, 32:, 3] = 200, 255, 30 * n
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba").reformat(format="yuva420p")
            frame.pts, frame.time_base = n, Fraction(1, 24)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    facts, index = inspect(path)
    assert facts.alpha
    reader = Reader(path, facts, index)
    for n in (5, 2, 7, 0):
        alpha = reader.alpha(n)
        assert alpha is not None and alpha[24, 10] == pytest.approx(1, abs=0.02) and alpha[24, 54] == pytest.approx(30 * n / 255, abs=0.03), n


def test_tags_that_are_no_utf8_are_read(tmp_path: Path) -> None:
    """Every way of opening reads it."""
    from tests.media.clips import make_clip, with_latin_title
    from wenditas.media.sound import peaks, sound_rate

    path = with_latin_title(make_clip(tmp_path / "t.mkv", codec="ffv1", pixel_format="yuv420p", count=6, sound="pcm_s16le"), tmp_path / "u.mkv")
    with pytest.raises(UnicodeDecodeError):
        av.open(str(path))
    facts, _ = inspect(path)
    assert facts.sound and sound_rate(path) == 48000 and len(peaks(path, 0, 0.2)) > 0
    open_media(path).close()


def test_media_files_are_opened_in_one_way() -> None:
    """Only what writes a file opens it by itself."""
    package = Path(__file__).parents[2] / "wenditas"
    opened = {(path.name, line.strip()) for path in package.rglob("*.py") for line in path.read_text().splitlines() if "av.open(" in line}
    assert all('"w"' in line or name == "opening.py" for name, line in opened), opened
