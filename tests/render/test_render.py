"""Exports, caches, the library, the worker, warm-up."""

import io
import json
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from tests.media.clips import make_clip, read_independently, sound_of
from wenditas.core.errors import Cancelled, FootageRefused
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.render import render
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.cache import ByteCache
from wenditas.render.export import VideoOptions, export_still, export_video
from wenditas.render.library import Library
from wenditas.render.pictures import Pictures, Request
from wenditas.store import footage, projects
from wenditas.store.database import Database

PICK = {"colour": [210 / 255, 40 / 255, 30 / 255], "x": 0.37, "y": 0.37, "frame": 0}
LOOK = parse_look(
    {
        "selections": [{"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK], "tolerance": 6, "softness": 4, "least_chroma": 0.16}]}],
        "passes": [{"id": "grey", "name": "Grey", "treatment": "monochrome", "selection": "red", "side": "outside"}],
    }
)


def exported(source: Path, target: Path, look: Look = LOOK, first: int = 0, last: int | None = None) -> Reader:
    facts, index = inspect(source)
    reader = Reader(source, facts, index)
    export_video(reader, source, look, first, facts.length - 1 if last is None else last, target, VideoOptions())
    return reader


@pytest.mark.parametrize(
    ("settings", "count"),
    [
        (dict(rate=Fraction(24), sound="aac"), 24),
        (dict(rate=Fraction(30000, 1001), pixel_format="yuv420p10le", sound="libopus"), 24),
        (dict(rate=Fraction(50), width=333, height=241, codec="ffv1", pixel_format="bgr0"), 24),
    ],
)
def test_export_read_back_by_another_reader(tmp_path: Path, settings: dict, count: int) -> None:
    source = make_clip(tmp_path / "in.mkv", **settings)
    target = tmp_path / "out.mp4"
    reader = exported(source, target)
    frames, rate = read_independently(target)
    assert len(frames) == count and rate == pytest.approx(float(settings["rate"]), rel=1e-6)
    height, width = reader.facts.height, reader.facts.width
    assert frames[0].shape == (height + height % 2, width + width % 2, 3)
    for number in (0, 11, 23):
        frame = frames[number].astype(int)
        corner = frame[5:40, 5:40].reshape(-1, 3)
        assert np.ptp(corner, axis=1).max() <= 2  # grey outside: R = G = B within 2
        red = frame[int(height * 0.375), int(width * 0.375)]
        assert red[0] - red[1:].max() > 120


def test_export_is_tagged_and_as_long_as_its_frames(tmp_path: Path) -> None:
    source = make_clip(tmp_path / "in.mp4", sound="aac", count=48)
    exported(source, tmp_path / "out.mp4", first=12, last=35)
    with av.open(str(tmp_path / "out.mp4")) as container:
        video, audio = container.streams.video[0], container.streams.audio[0]
        context = video.codec_context
        assert (int(context.color_primaries), int(context.color_trc), int(context.colorspace), int(context.color_range)) == (1, 1, 1, 1)
        assert video.frames == 24 and float(video.duration * video.time_base) == pytest.approx(1.0, abs=1e-3)
        assert float(audio.duration * audio.time_base) == pytest.approx(1.0, abs=0.03)


def test_sound_stays_in_sync_after_a_cut(tmp_path: Path) -> None:
    """The source is silent for its first second; cut in at half a second, the tone begins half a second in."""
    source = make_clip(tmp_path / "in.mov", codec="mpeg4", sound="pcm_s16le", count=48)
    exported(source, tmp_path / "out.mp4", first=12, last=47)
    samples, rate = sound_of(tmp_path / "out.mp4")
    with av.open(str(tmp_path / "out.mp4")) as container:
        start = float((container.streams.audio[0].start_time or 0) * container.streams.audio[0].time_base)
    begins = np.flatnonzero(np.abs(samples) > 0.05)[0] / rate + start
    assert begins == pytest.approx(0.5, abs=0.03)


def test_export_equals_render_before_encoding(tmp_path: Path) -> None:
    """What reaches the encoder is what `render` gives, through planes and tiles or through whole pictures."""
    source = make_clip(tmp_path / "in.mp4", pixel_format="yuv444p")
    facts, index = inspect(source)
    reader = Reader(source, facts, index)
    plan_picture = render(LOOK, 7, reader)
    target = np.empty_like(plan_picture)
    from wenditas.core.look.plan import compile_look

    def store(first: int, tile: np.ndarray) -> None:
        target[:, first : first + tile.shape[1]] = tile

    compile_look(LOOK).run(facts.height, facts.width, reader.planes(7).load, store)
    assert target.tobytes() == plan_picture.tobytes()


def test_cancel_leaves_nothing(tmp_path: Path) -> None:
    source = make_clip(tmp_path / "in.mp4")
    facts, index = inspect(source)
    seen: list[int] = []
    with pytest.raises(Cancelled):
        export_video(
            Reader(source, facts, index), source, LOOK, 0, 23, tmp_path / "out.mp4", VideoOptions(),
            progress=lambda done, total: seen.append(done), cancelled=lambda: len(seen) >= 5,
        )  # fmt: skip
    assert seen == [1, 2, 3, 4, 5]
    assert sorted(p.name for p in tmp_path.iterdir()) == ["in.mp4"]


def test_still_export(tmp_path: Path) -> None:
    source = make_clip(tmp_path / "in.mp4")
    facts, index = inspect(source)
    export_still(Reader(source, facts, index), LOOK, 3, tmp_path / "out.png")
    picture = Reader(tmp_path / "out.png", *inspect(tmp_path / "out.png")).picture(0)
    assert picture.shape == (3, 240, 320) and np.ptp(picture[:, 10, 10]) < 0.004


def test_command_line(tmp_path: Path) -> None:
    from wenditas.formats.look_json import write_look

    make_clip(tmp_path / "in.mp4", sound="aac")
    (tmp_path / "look.json").write_text(write_look(LOOK, "Red stays"))

    def run(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run([sys.executable, "-c", "from wenditas.cli import main; main()", *words], capture_output=True, text=True, cwd=tmp_path)

    done = run("apply", "look.json", "in.mp4", "out.mp4", "--in", "2", "--out", "9")
    assert done.returncode == 0, done.stderr
    assert len(read_independently(tmp_path / "out.mp4")[0]) == 8
    for words, says in (
        (("apply", "look.json", "in.mp4", "out.mp4"), "exists already"),
        (("apply", "in.mp4", "in.mp4", "new.mp4"), "not JSON"),
        (("apply", "look.json", "look.json", "new.mp4"), "cannot be read"),
        (("apply", "look.json", "in.mp4", "new.gif"), ".mp4 or a .png"),
        (("apply", "look.json", "in.mp4", "new.mp4", "--in", "30"), "frames 0 to 23"),
    ):
        refused = run(*words)
        assert refused.returncode == 1 and says in " ".join(refused.stderr.split()), words
    assert not (tmp_path / "new.mp4").exists()
    for command in ("serve", "demo", "apply", "warm"):
        assert "Usage" in run(command, "--help").stdout


def test_cache_is_bounded_and_drops_the_oldest() -> None:
    cache: ByteCache[bytes] = ByteCache(10, len)
    for n in range(4):
        cache.put(n, b"abc")
    assert 0 not in cache and cache.get(1) == b"abc" and cache.held == 9
    cache.put(5, b"abc")
    assert 2 not in cache and 1 in cache  # 1 was used last
    cache.put(6, b"x" * 11)
    assert 6 not in cache and cache.held <= 10
    cache.put(1, b"a")
    assert cache.held == 7


@pytest.fixture
def library(tmp_path: Path) -> Library:
    db = Database(tmp_path / "w.db")
    yield Library(tmp_path / "data", db)
    db.close()


def test_library_takes_in_and_refuses(tmp_path: Path, library: Library) -> None:
    project = projects.add_project(library.db, "Film")
    row = library.copy_in(project.id, make_clip(tmp_path / "a.mp4"), "../../Ünï/code .mp4")
    assert library.media_path(row).parent == library.folder / "media" and row.name == "../../Ünï/code .mp4"
    before = sorted((library.folder / "media").iterdir())
    (tmp_path / "bad.mp4").write_text("nothing")
    for name in ("bad.mp4", "bad.exe", "bad"):
        with pytest.raises(FootageRefused):
            library.copy_in(project.id, tmp_path / "bad.mp4", name)
    assert sorted((library.folder / "media").iterdir()) == before and not list((library.folder / "incoming").iterdir())
    assert [f.id for f in footage.footage_of(library.db, project.id)] == [row.id]


def test_pictures_are_remembered_by_what_they_show(tmp_path: Path, library: Library) -> None:
    project = projects.add_project(library.db, "Film")
    row = library.copy_in(project.id, make_clip(tmp_path / "a.mp4"), "a.mp4")
    pictures = Pictures(library)
    request = Request(row.id, LOOK, 3, 160)
    first = pictures.picture(request)
    renamed = LOOK.model_copy(update={"passes": (LOOK.passes[0].model_copy(update={"name": "Other"}),)})
    assert pictures.picture(Request(row.id, renamed, 3, 160)) is first
    weaker = LOOK.model_copy(update={"passes": (LOOK.passes[0].model_copy(update={"amount": 50.0}),)})
    assert pictures.picture(Request(row.id, weaker, 3, 160)) is not first
    assert first.shape == (3, 120, 160)
    report = pictures.report(Request(row.id, LOOK, 3, 160, "result", "red"), 0.375, 0.375)
    assert report["matte"] > 95 and report["hex"].startswith("#")
    coverage = pictures.coverage(Request(row.id, LOOK, 3, 160, "matte", "red"))
    assert 4 < coverage < 15  # the square is a sixteenth of the frame; ramps of the same hue add a little
    assert av.open(io.BytesIO(pictures.encoded(request, "png"))).streams.video[0].width == 160


def test_nothing_is_compiled_after_the_warm_up(tmp_path: Path) -> None:
    """The first picture must not wait for the compiler: in a fresh process every kernel comes from the disk cache."""
    script = """
import json, sys
from pathlib import Path
from numba.core.dispatcher import Dispatcher
import gc
from wenditas.render.warm import warm_up
warm_up()
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.stills import encode_jpeg, encode_png
from wenditas.core.measure.census import census
from wenditas.formats.look_json import read_look
from wenditas.core.look.render import render
from wenditas.render.export import VideoOptions, export_video
source, look, target = map(Path, sys.argv[1:])
facts, index = inspect(source)
reader = Reader(source, facts, index)
_, look = read_look(look.read_bytes())
for size in (None, (90, 160)):
    for view in ("result", "matte", "selected", "source", "edge", "hatched"):
        picture = render(look, 3, reader, size, view=view, selection=look.selections[0].id)
encode_jpeg(picture), encode_png(picture), census(picture)
export_video(reader, source, look, 0, 3, target, VideoOptions())
misses = {d.py_func.__name__: sum(d.stats.cache_misses.values()) for d in gc.get_objects() if isinstance(d, Dispatcher) and d.stats.cache_misses}
print(json.dumps(misses))
"""
    from importlib import resources

    demo = resources.files("wenditas.demo")
    words = [str(demo / "footage" / "tram-up-the-hill.mp4"), str(demo / "looks" / "tram-up-the-hill.json"), str(tmp_path / "o.mp4")]
    subprocess.run([sys.executable, "-m", "wenditas.render.warm"], check=True)
    done = subprocess.run([sys.executable, "-c", script, *words], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout.splitlines()[-1]) == {}
