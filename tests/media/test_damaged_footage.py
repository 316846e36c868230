"""Footage that is good, or mostly good, is used; what cannot be is said."""

import tracemalloc
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from tests.media.clips import frame_pixels, make_clip
from tests.media.damage import damage_packets, packets, skipping_avi, trimmed_without_encoding, when_loud, with_tone
from wenditas.core.errors import FootageDamaged, FootageRefused
from wenditas.media.convert import Planes
from wenditas.media.probe import inspect, probe
from wenditas.media.reader import Reader
from wenditas.media.sound import sound_rate, stretch


def opened(path: Path, take: bool = False) -> Reader:
    return Reader(path, *inspect(path, take))


def blue(reader: Reader, number: int) -> float:
    return float(reader.picture(number)[2, 3, 3])


def damage_of(path: Path) -> str:
    with pytest.raises(FootageDamaged) as caught:
        inspect(path)
    with pytest.raises(FootageDamaged, match=r"of|short|sound"):
        probe(path, path.with_suffix(".npz"))
    return str(caught.value)


def test_a_clip_trimmed_without_encoding_is_whole(tmp_path: Path) -> None:
    whole = make_clip(tmp_path / "a.mp4", count=200)
    reader = opened(trimmed_without_encoding(whole, tmp_path / "b.mp4", 34, Fraction(24)))
    assert reader.facts.length == 166 and reader.facts.damage == ()
    for number in (0, 100, 165, 3):
        assert blue(reader, number) == pytest.approx(frame_pixels(number + 34, 320, 240, 200)[3, 3, 2] / 255, abs=0.02)


def test_frames_that_a_container_skips_are_held(tmp_path: Path) -> None:
    shown = sorted({0, *np.random.default_rng(3).choice(np.arange(1, 443), 66, replace=False).tolist(), 443})
    reader = opened(skipping_avi(tmp_path / "a.avi", shown))
    assert (reader.facts.length, reader.facts.rate, reader.facts.damage) == (444, "25", ())
    for number in (0, 57, 200, 399, 443, 12):
        n = np.searchsorted(shown, number, side="right") - 1
        assert blue(reader, number) == pytest.approx(frame_pixels(int(n), 64, 48, len(shown))[3, 3, 2] / 255, abs=0.03), number


@pytest.mark.parametrize("threads", [1, pytest.param(0, marks=pytest.mark.long(found_by="the same with one thread"))])
def test_one_damaged_packet_costs_one_picture(tmp_path: Path, tram_clip: Path, threads: int) -> None:
    path = damage_packets(tram_clip, tmp_path / "a.mp4", [60])
    message = damage_of(path)
    assert message.startswith("1 of 132 pictures cannot be decoded (frame ") and "held" in message
    facts, index = inspect(path, take=True)
    assert facts.damage == (message,) and facts.length == 132
    lost = int(message.split("(frame ")[1].split(")")[0])
    whole, reader = opened(tram_clip), Reader(path, facts, index, threads)
    for number in (lost + 1, lost, lost - 1, 131, 0, lost, *range(lost - 3, lost + 3)):
        if number < lost - 1 or number > lost + 20 or number == lost - 1:
            assert np.array_equal(reader.picture(number), whole.picture(number)), number
    assert np.array_equal(reader.picture(lost), whole.picture(lost - 1))  # in order, and after a jump
    reader.frame(120)
    assert np.array_equal(Reader(path, facts, index, threads).picture(lost), whole.picture(lost - 1))


def test_a_damaged_key_frame_holds_what_came_before_it(tmp_path: Path) -> None:
    whole = make_clip(tmp_path / "a.mov", codec="mjpeg", pixel_format="yuvj422p", full_range=True, matrix=5, count=12)
    path = damage_packets(whole, tmp_path / "b.mov", [0, 6, 11])
    message = damage_of(path)
    assert "3 of 12" in message and "frames 0, 6, 11" in message
    reader, good = opened(path, take=True), opened(whole)
    for number, shown in ((6, 5), (11, 10), (0, 1), (6, 5), (7, 7), (11, 10)):
        assert np.array_equal(reader.picture(number), good.picture(shown)), number


@pytest.mark.parametrize("share", [pytest.param(0.33, marks=pytest.mark.long(found_by="the same of nine tenths")), 0.9])
def test_a_file_cut_short_is_used_as_far_as_it_goes(tmp_path: Path, tram_clip: Path, share: float) -> None:
    data = tram_clip.read_bytes()
    path = tmp_path / "a.mp4"
    path.write_bytes(data[: int(len(data) * share)])
    assert "cut short: it promises 132 pictures" in damage_of(path)
    reader, whole = opened(path, take=True), opened(tram_clip)
    assert 10 < reader.facts.length < 132
    assert np.array_equal(reader.picture(8), whole.picture(8))
    assert reader.picture(reader.facts.length - 1).shape == whole.picture(0).shape


def test_damaged_sound_is_silent_where_it_is_damaged(tmp_path: Path) -> None:
    whole = with_tone(tmp_path / "a.mp4", 4, codec="aac")
    count = len(packets(whole, "audio"))
    path = damage_packets(whole, tmp_path / "b.mp4", [count // 2], "audio")
    assert "sound is damaged" in damage_of(path)
    assert inspect(path, take=True)[0].sound is not None
    heard = np.concatenate([f.to_ndarray()[0] for f in stretch(path, 0, 4, 48000)])
    assert len(heard) == 4 * 48000 and when_loud(heard, 48000)[-1] == pytest.approx(3, abs=0.02)


def test_a_gap_in_the_times_of_the_sound_is_silence(tmp_path: Path) -> None:
    """Clicks at 0 and 1 s, then a gap of 2 s: those of 2 and 3 s are heard at 4 and 5."""
    path = with_tone(tmp_path / "a.mkv", 4, gap=(1.5, 2))
    heard = np.concatenate([f.to_ndarray()[0] for f in stretch(path, 0, 6, 48000)])
    assert when_loud(heard, 48000) == pytest.approx([0, 1, 4, 5], abs=0.01)
    assert not heard[round(2.2 * 48000) : round(3.4 * 48000)].any()
    later = np.concatenate([f.to_ndarray()[0] for f in stretch(path, 3, 2.5, 44100)])
    assert when_loud(later, 44100) == pytest.approx([1, 2], abs=0.01) and len(later) == round(2.5 * 44100)


def test_high_sample_rates_are_written_at_a_rate_that_plays(tmp_path: Path) -> None:
    path = with_tone(tmp_path / "a.mkv", 3, rate=192_000)
    assert sound_rate(path) == 48000
    assert when_loud(np.concatenate([f.to_ndarray()[0] for f in stretch(path, 0, 3, 48000)]), 48000) == pytest.approx([0, 1, 2], abs=0.01)


def test_long_silence_takes_no_memory(tmp_path: Path) -> None:
    path = with_tone(tmp_path / "a.mkv", 2, tone=1)
    tracemalloc.start()
    count = sum(frame.samples for frame in stretch(path, 0, 3600, 48000))
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert count == 3600 * 48000 and peak < 8 << 20


@pytest.mark.parametrize("rate", [8, 10, 18, 24, 30])
@pytest.mark.parametrize("dropped", [0, 1, 3])
def test_the_rate_is_the_one_that_the_frames_have(tmp_path: Path, rate: int, dropped: int) -> None:
    missing = set(range(11, 11 + 7 * dropped, 7))
    frames = [n for n in range(40) if n not in missing]
    path = make_clip(tmp_path / "a.mkv", count=len(frames), times=[round(n * 1000 / rate) for n in frames], width=64, height=48)
    reader = opened(path)
    assert (reader.facts.rate, reader.facts.length) == (str(rate), 40)
    shown = [frames.index(n) if n in frames else frames.index(n - 1) for n in range(40)]
    assert reader.index.order.tolist() == shown


def test_another_rate_only_where_it_is_asked_for(tmp_path: Path) -> None:
    path = make_clip(tmp_path / "a.mkv", count=18, rate=Fraction(18), width=64, height=48)
    _, index = inspect(path)
    conformed = index.conformed(Fraction(24))
    assert len(conformed.order) == 24 and conformed.order.tolist() == [min(int((n + 0.5) * 18 / 24), 17) for n in range(24)]
    with pytest.raises(FootageRefused, match="400"):
        index.conformed(Fraction(400))


def test_slow_frames_are_held_not_sped_up(tmp_path: Path) -> None:
    reader = opened(make_clip(tmp_path / "a.mkv", count=4, times=[0, 4000, 8000, 12000], width=64, height=48))
    assert reader.facts.rate == "1" and reader.index.order.tolist()[:9] == [0, 0, 0, 0, 1, 1, 1, 1, 2]


def test_times_that_span_weeks_are_refused(tmp_path: Path) -> None:
    path = make_clip(tmp_path / "a.mkv", count=3, times=[0, 40, 40 * 86_400_000], width=64, height=48)
    with pytest.raises(FootageRefused, match=r"span 40\.0 days"):
        inspect(path)


@pytest.mark.parametrize(
    ("size", "matrix"), [((1280, 536), "bt709"), ((1920, 800), "bt709"), ((854, 480), "bt601"), ((720, 576), "bt601"), ((960, 720), "bt709")]
)
def test_untagged_video_is_judged_by_width_and_height(tmp_path: Path, size: tuple[int, int], matrix: str) -> None:
    facts, _ = inspect(make_clip(tmp_path / "a.mp4", width=size[0], height=size[1], count=2, matrix=2))
    assert facts.matrix == matrix and not facts.tagged


def test_chroma_of_jpeg_lies_between_columns(tmp_path: Path) -> None:
    """JFIF 1.02, 9: a chroma sample lies in the centre of its block. A hue edge between two blocks stays where it is."""
    pixels = np.full((32, 64, 3), (60, 60, 200), np.uint8)
    pixels[:, 32:] = (200, 60, 60)
    cv2.imwrite(str(tmp_path / "a.jpg"), pixels, [cv2.IMWRITE_JPEG_QUALITY, 100, cv2.IMWRITE_JPEG_SAMPLING_FACTOR, cv2.IMWRITE_JPEG_SAMPLING_FACTOR_420])
    picture = opened(tmp_path / "a.jpg").picture(0)
    line = (picture[0] - picture[2])[16]
    assert np.abs(line + line[::-1]).max() < 0.03  # symmetrical about the edge; sited left it is off by half a column
    codes = np.tile(np.array([100, 140], np.uint8), (2, 1))
    wide = Planes((np.full((4, 4), 126, np.uint8), codes, codes), 4, 4, (True, True), _signal(), centred=True).picture()
    chroma = wide[2, 0] - wide[2, 0, 0]
    assert chroma / chroma[-1] == pytest.approx([0, 0.25, 0.75, 1], abs=1e-5)


def _signal():  # type: ignore[no-untyped-def]
    from wenditas.core.colour.ycbcr import Signal

    return Signal()


def test_a_picture_beyond_all_measure_is_called_by_its_size(tmp_path: Path) -> None:
    header = b"\x89PNG\r\n\x1a\n" + b"\0\0\0\rIHDR" + (60000).to_bytes(4, "big") * 2 + b"\x08\x02\0\0\0"
    (tmp_path / "a.png").write_bytes(header + b"\0\0\0\0" + b"\0\0\0\0IEND\xaeB`\x82")
    with pytest.raises(FootageRefused, match="60000 × 60000"):
        inspect(tmp_path / "a.png")


def test_readers_that_nobody_holds_are_closed(tmp_path: Path) -> None:
    import psutil

    path, me = make_clip(tmp_path / "a.mp4"), psutil.Process()
    facts, index = inspect(path)
    before = me.num_fds(), me.num_threads()
    for _ in range(20):
        Reader(path, facts, index).frame(3)
    assert me.num_fds() <= before[0] + 1 and me.num_threads() <= before[1] + 2
    reader = Reader(path, facts, index)
    reader.close()
    assert reader.picture(5).shape == (3, 240, 320)  # opened again by whoever still reads


def test_a_file_of_one_damaged_picture_is_refused(tmp_path: Path) -> None:
    path = damage_packets(make_clip(tmp_path / "a.mov", codec="mjpeg", pixel_format="yuvj422p", count=1), tmp_path / "b.mov", [0])
    with pytest.raises(FootageRefused, match="none of its pictures"):
        inspect(path, take=True)
    with av.open(str(path)) as container:
        assert container.streams.video[0].frames == 1
