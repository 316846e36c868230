"""Exports, caches, the library, the worker, warm-up."""

import io
import json
import subprocess
import sys
import zipfile
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from tests.media.clips import make_clip, read_independently, sound_of
from tests.rendering import export, request, shot_of, sources_of
from tests.rendering import rendered as render
from wenditas.core.errors import BadRequest, Cancelled, FootageRefused
from wenditas.core.files import NO_FILES
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.shown import Shown
from wenditas.media.convert import to_rgb8
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import QUALITIES, write_clip
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.render.cache import ByteCache
from wenditas.render.export import export_still
from wenditas.render.options import ExportOptions
from wenditas.render.over_time import Coverage
from wenditas.render.pictures import Pictures
from wenditas.render.scopes import Scopes
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
    export(reader, source, look, first, facts.length - 1 if last is None else last, target, ExportOptions())
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


@pytest.mark.parametrize("pixel_format", ["yuv420p", "yuv444p", "yuv422p10le"])
def test_exports_equal_render(tmp_path: Path, pixel_format: str) -> None:
    """As pictures to the bit; as video as near as two encodings of the same frames (x264 does not promise the same bits for other memory)."""
    source = make_clip(tmp_path / "in.mkv", codec="ffv1", pixel_format=pixel_format, count=10)
    reader = exported(source, tmp_path / "out.mp4", first=2, last=8)
    write_clip(tmp_path / "by-hand.mp4", (render(LOOK, n, reader) for n in range(2, 9)), Fraction(24), QUALITIES["good"])
    ours, by_hand = (read_independently(tmp_path / name)[0] for name in ("out.mp4", "by-hand.mp4"))
    assert len(ours) == len(by_hand) == 7
    for one, other in zip(ours, by_hand, strict=True):
        assert np.abs(one.astype(int) - other).mean() < 1
    export(reader, source, LOOK, 2, 8, tmp_path / "out.zip", ExportOptions(shows="alpha", format="png-8", selection="red"))
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        for n in range(2, 9):
            image = cv2.imdecode(np.frombuffer(archive.read(f"{n:06d}.png"), np.uint8), cv2.IMREAD_UNCHANGED)
            assert np.array_equal(image[:, :, 2::-1], to_rgb8(render(LOOK, n, reader)))


def test_cancel_leaves_nothing(tmp_path: Path) -> None:
    source = make_clip(tmp_path / "in.mp4")
    facts, index = inspect(source)
    seen: list[int] = []
    with pytest.raises(Cancelled):
        export(
            Reader(source, facts, index), source, LOOK, 0, 23, tmp_path / "out.mp4", ExportOptions(),
            progress=lambda done, total: seen.append(done), cancelled=lambda: len(seen) >= 5,
        )  # fmt: skip
    assert seen == [1, 2, 3, 4, 5]
    assert sorted(p.name for p in tmp_path.iterdir()) == ["in.mp4"]


def test_still_export(tmp_path: Path) -> None:
    source = make_clip(tmp_path / "in.mp4")
    facts, index = inspect(source)
    reader = Reader(source, facts, index)
    export_still(shot_of(LOOK, reader), 3, tmp_path / "out.png", sources_of(reader))
    picture = Reader(tmp_path / "out.png", *inspect(tmp_path / "out.png")).picture(0)
    assert picture.shape == (3, 240, 320) and np.ptp(picture[:, 10, 10]) < 0.004


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
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "a.mp4"), "../../Ünï/code .mp4")
    assert library.media_path(row).parent == library.folder / "media" and row.name == "../../Ünï/code .mp4"
    before = sorted((library.folder / "media").iterdir())
    (tmp_path / "bad.mp4").write_text("nothing")
    for name in ("bad.mp4", "bad.exe", "bad"):
        with pytest.raises(FootageRefused):
            Arrivals(library).copy_in(project.id, tmp_path / "bad.mp4", name)
    assert sorted((library.folder / "media").iterdir()) == before and not list((library.folder / "incoming").iterdir())
    assert [f.id for f in footage.footage_of(library.db, project.id)] == [row.id]


def test_pictures_are_remembered_by_what_they_show(tmp_path: Path, library: Library) -> None:
    project = projects.add_project(library.db, "Film")
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "a.mp4"), "a.mp4")
    pictures = Pictures(library)
    asked = request(library, row.id, LOOK, 3, 160)
    first = pictures.picture(asked)
    renamed = LOOK.model_copy(update={"passes": (LOOK.passes[0].model_copy(update={"name": "Other"}),)})
    assert pictures.picture(request(library, row.id, renamed, 3, 160)) is first
    weaker = LOOK.model_copy(update={"passes": (LOOK.passes[0].model_copy(update={"amount": 50.0}),)})
    assert pictures.picture(request(library, row.id, weaker, 3, 160)) is not first
    assert first.shape == (3, 120, 160)
    report = Scopes(pictures).report(request(library, row.id, LOOK, 3, 160, selection="red"), 0.375, 0.375)
    assert report["matte"] > 95 and report["hex"].startswith("#")
    coverage = Coverage(pictures.readers.reader, NO_FILES).at(asked.node, 3, "red")
    assert 4 < coverage < 15  # the square is a sixteenth of the frame; ramps of the same hue add a little
    assert av.open(io.BytesIO(pictures.encoded(asked, "png"))).streams.video[0].width == 160


def test_decoders_are_placed_ahead_of_a_jump_and_not_where_a_shot_goes_on(tmp_path: Path, library: Library) -> None:
    """Two places of one file in turn, as in a dissolve of a shot into itself, have a decoder each; one that simply goes on has one."""
    project = projects.add_project(library.db, "Film")
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "a.mp4", count=200), "a.mp4")
    pictures = Pictures(library)
    at = lambda frame: request(library, row.id, LOOK, frame, 160)  # noqa: E731
    first = pictures.readers.reader(row.id, "play", 0)
    pictures.decode(at(0), "play")
    pictures.prepare(at(0), at(36), "play")
    assert pictures.readers.reader(row.id, "play", 1) is first
    assert len(pictures.readers._open) == 1
    pictures.decode(at(120), "play")
    for places in ((20, 150), (60, 82)):
        used = []
        for n in range(6):
            for place in places:
                pictures.decode(at(place + n), "play")
                used.append(pictures.readers.reader(row.id, "play", place + n))
        assert len(pictures.readers._open) == 2
        assert len(set(map(id, used[4::2]))) == len(set(map(id, used[5::2]))) == 1 and used[4] is not used[5]


def test_nothing_is_compiled_after_the_warm_up(tmp_path: Path) -> None:
    """The first picture must not wait for the compiler: no kernel is called with types that the warm-up has not called it with."""
    script = """
import json, sys
from pathlib import Path
from numba.core.dispatcher import Dispatcher
import gc
from wenditas.render.warm import warm_up
warm_up()
def kinds():
    ours = (d for d in gc.get_objects() if isinstance(d, Dispatcher) and d.py_func.__module__.startswith("wenditas."))
    return {f"{d.py_func.__module__}.{d.py_func.__name__}": set(d.signatures) for d in ours}
warmed = kinds()
assert len(warmed) > 40
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.stills import encode_jpeg, encode_png
from wenditas.core.measure.census import census
from wenditas.formats.look_json import read_look
from tests.rendering import export, rendered as render
from wenditas.core.look.shown import Shown
from wenditas.render.options import ExportOptions
source, look, target = map(Path, sys.argv[1:])
facts, index = inspect(source)
reader = Reader(source, facts, index)
_, look = read_look(look.read_bytes())
for size in (None, (90, 160)):
    for view in ("result", "matte", "selected", "source", "edge", "hatched"):
        picture = render(look, 3, reader, size, Shown(view=view, selection=look.selections[0].id))
encode_jpeg(picture), encode_png(picture), census(picture)
from wenditas.core.measure.scopes import SCOPES, scope_picture
[scope_picture(scope, picture) for scope in SCOPES]
from wenditas.core.shelf import STARTERS
[render(starter.look, 3, reader, (90, 160)) for starter in STARTERS.values()]
export(reader, source, look, 0, 3, target, ExportOptions())
print(json.dumps({name: len(found - warmed.get(name, set())) for name, found in kinds().items() if found - warmed.get(name, set())}))
"""
    from importlib import resources

    demo = resources.files("wenditas.demo")
    words = [str(demo / "footage" / "tram-up-the-hill.mp4"), str(demo / "looks" / "tram-up-the-hill.json"), str(tmp_path / "o.mp4")]
    done = subprocess.run([sys.executable, "-c", script, *words], capture_output=True, text=True, cwd=Path(__file__).parents[2])
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout.splitlines()[-1]) == {}


@pytest.fixture
def opened(tmp_path: Path) -> tuple[Path, Reader]:
    source = make_clip(tmp_path / "in.mp4", count=6)
    return source, Reader(source, *inspect(source))


@pytest.mark.parametrize("kind", ["matte pictures", "alpha pictures"])
def test_pictures_with_the_matte(tmp_path: Path, opened: tuple[Path, Reader], kind: str) -> None:
    source, reader = opened
    target = tmp_path / "out.zip"
    export(reader, source, LOOK, 1, 4, target, ExportOptions.model_validate({"kind": kind, "selection": "red"}))
    matte = render(LOOK, 2, reader, shown=Shown(view="matte", selection="red"))[0]
    with zipfile.ZipFile(target) as archive:
        assert archive.namelist() == [f"{n:06d}.png" for n in (1, 2, 3, 4)]
        image = cv2.imdecode(np.frombuffer(archive.read("000002.png"), np.uint8), cv2.IMREAD_UNCHANGED)
    coverage = image if kind == "matte pictures" else image[:, :, 3]
    assert np.abs(coverage / 255 - matte).max() <= 0.5 / 255 + 1e-6
    if kind == "alpha pictures":
        assert np.abs(image[:, :, 2::-1].transpose(2, 0, 1) / 255 - np.clip(render(LOOK, 2, reader), 0, 1)).max() <= 1 / 255 + 1e-6


def test_alpha_video_read_back(tmp_path: Path, opened: tuple[Path, Reader]) -> None:
    source, reader = opened
    export(reader, source, LOOK, 0, 5, tmp_path / "out.mov", ExportOptions(shows="alpha", format="prores-4444", selection="red"))
    with av.open(str(tmp_path / "out.mov")) as container:
        frames = list(container.decode(video=0))
        assert len(frames) == 6 and frames[0].format.name.startswith("yuva444p")
        planes = frames[3].planes
        bits = frames[3].format.components[3].bits
        alpha = np.frombuffer(planes[3], np.uint16).reshape(-1, planes[3].line_size // 2)[:240, :320] / (2**bits - 1)
    assert np.abs(alpha - render(LOOK, 3, reader, shown=Shown(view="matte", selection="red"))[0]).max() < 0.01
    facts, _ = inspect(tmp_path / "out.mov")
    assert facts.alpha and facts.codec == "prores" and facts.matrix == "bt709"


def test_matte_video(tmp_path: Path, opened: tuple[Path, Reader]) -> None:
    source, reader = opened
    export(reader, source, LOOK, 0, 5, tmp_path / "out.mp4", ExportOptions(shows="matte", format="h264", selection="red"))
    frames, _ = read_independently(tmp_path / "out.mp4")
    assert len(frames) == 6 and frames[2][90, 120].min() > 245 and frames[2][10, 10].max() < 10


def test_matte_exports_need_a_selection(tmp_path: Path, opened: tuple[Path, Reader]) -> None:
    source, reader = opened
    with pytest.raises(BadRequest, match="needs a selection"):
        export(reader, source, LOOK, 0, 5, tmp_path / "out.zip", ExportOptions(shows="alpha", format="png-8"))
    assert sorted(p.name for p in tmp_path.iterdir()) == ["in.mp4"]


def test_steady_selections_export_like_they_render(tmp_path: Path, opened: tuple[Path, Reader]) -> None:
    source, reader = opened
    selection = LOOK.selections[0].model_copy(update={"cleaning": LOOK.selections[0].cleaning.model_copy(update={"steady": 1.0})})
    look = LOOK.model_copy(update={"selections": (selection,)})
    export(reader, source, look, 0, 5, tmp_path / "out.zip", ExportOptions(shows="matte", format="png-8", selection="red"))
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        image = cv2.imdecode(np.frombuffer(archive.read("000003.png"), np.uint8), cv2.IMREAD_UNCHANGED)
    assert np.abs(image / 255 - render(look, 3, reader, shown=Shown(view="matte", selection="red"))[0]).max() < 0.003


@pytest.mark.parametrize("suffix", ["png", "mov", "mkv"])
def test_alpha_as_a_key(tmp_path: Path, suffix: str) -> None:
    """A disc of alpha in a PNG, in ProRes 4444 and in FFV1 becomes the matte, in previews and exports."""
    y, x = np.mgrid[0:96, 0:160]
    alpha = np.clip(30.5 - np.hypot(x - 80, y - 48), 0, 1).astype(np.float32)
    path = tmp_path / f"in.{suffix}"
    pixels = np.dstack([np.full((96, 160, 3), 120, np.uint8), np.rint(alpha * 255).astype(np.uint8)])
    if suffix == "png":
        cv2.imwrite(str(path), pixels)
    else:
        codec, pixel_format = ("prores_ks", "yuva444p10le") if suffix == "mov" else ("ffv1", "bgra")
        with av.open(str(path), "w") as container:
            stream = container.add_stream(codec, rate=24, options={"profile": "4444"} if suffix == "mov" else {})
            stream.width, stream.height, stream.pix_fmt = 160, 96, pixel_format
            for n in range(3):
                frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="bgra").reformat(format=pixel_format)
                frame.pts = n
                container.mux(stream.encode(frame))
            container.mux(stream.encode(None))
    reader = Reader(path, *inspect(path))
    assert reader.facts.alpha
    look = parse_look({"selections": [{"id": "a", "name": "A", "keys": [{"type": "alpha"}]}]})
    assert np.abs(render(look, 1, reader, shown=Shown(view="matte", selection="a"))[0] - alpha).max() < 0.01
    small = render(look, 1, reader, (48, 80), shown=Shown(view="matte", selection="a"))[0]
    assert np.abs(small - alpha.reshape(48, 2, 80, 2).mean(axis=(1, 3))).max() < 0.02
    inverted = parse_look({"selections": [{"id": "a", "name": "A", "keys": [{"type": "alpha", "invert": True}]}]})
    assert np.abs(render(inverted, 1, reader, shown=Shown(view="matte", selection="a"))[0] - (1 - alpha)).max() < 0.01
