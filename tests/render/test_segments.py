"""Exports in segments: whatever the number of processes and however often one is stopped, the file is the same, byte for byte."""

import os
import signal
import subprocess
import sys
import zipfile
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import OpenImageIO as oiio
import pytest

from tests.media.clips import make_clip, read_independently
from tests.rendering import export, rendered
from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.errors import Cancelled, ExportFailed
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import Shown
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing import FORMATS
from wenditas.media.writing.loop_times import frame_times
from wenditas.media.writing.record import Canvas
from wenditas.render.from_file import job_from_file
from wenditas.render.job import Job
from wenditas.render.options import ExportOptions
from wenditas.render.perform import Here, Processes, perform
from wenditas.render.verify import verified

BOX = {"id": "b", "name": "Box", "kind": "rectangle", "points": [{"x": 300, "y": 200}, {"x": 900, "y": 800}]}
LOOK = parse_look(
    {
        "selections": [{"id": "s", "name": "S", "shapes": [BOX]}],
        "passes": [
            {"id": "e", "name": "e", "treatment": "gaussian-blur", "params": {"radius": 3}},
            {"id": "m", "name": "m", "treatment": "monochrome", "selection": "s", "side": "outside"},
        ],
    }
)
SECOND = 12  # frames


@pytest.fixture(scope="module")
def clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Two segments and a bit, of odd size, with sound."""
    return make_clip(
        tmp_path_factory.mktemp("clip") / "in.mkv", codec="ffv1", pixel_format="yuv444p", width=97, height=65, rate=Fraction(SECOND), count=100, sound="aac"
    )


def job_of(clip: Path, folder: Path, options: ExportOptions, last: int = 99) -> Job:
    facts, index = inspect(clip)
    return job_from_file(clip, facts, index, LOOK, (0, last), folder / f"out{options.suffix}", options, folder / "work")


@pytest.mark.parametrize("alpha", [False, True])
@pytest.mark.parametrize("id", FORMATS)
def test_a_joined_file_holds_what_its_segments_hold(tmp_path: Path, clip: Path, id: str, alpha: bool) -> None:
    """Every frame of the joined file is decoded, and so is every frame of each segment by itself: they are the same, to the bit."""
    made = FORMATS[id]
    if alpha and not made.alpha:
        with pytest.raises(ValueError, match="cannot carry alpha"):
            ExportOptions(format=id, shows="alpha", selection="s")
        return
    options = ExportOptions(format=id, shows="alpha" if alpha else "result", selection="s" if alpha else None)
    job = job_of(clip, tmp_path, options)
    stretches = job.stretches()
    assert [len(s.frames) for s in stretches] == [48, 48, 4] and len({s.name for s in stretches}) == 3
    kept: list[Path] = []

    class Kept(Here):
        def run(self, job, stretches, done, on_the_way, cancelled):  # type: ignore[no-untyped-def]
            super().run(job, stretches, done, on_the_way, cancelled)
            for n, one in enumerate(stretches):
                kept.append(tmp_path / f"{n}{job.segment(one).suffix}")
                kept[-1].write_bytes(job.segment(one).read_bytes())

    result = perform(job, executor=Kept())
    assert result.frames == 100 and not job.segments.exists() and "100 frames" in result.told
    if made.loop:
        return
    if made.pictures:
        apart = [(name, z.read(name)) for z in map(zipfile.ZipFile, kept) for name in z.namelist()]
        with zipfile.ZipFile(job.target) as joined:
            assert [(name, joined.read(name)) for name in joined.namelist()] == apart
        return
    apart = [frame for path in kept for frame in pixels(path, alpha)]
    joined = pixels(job.target, alpha)
    assert len(joined) == len(apart) == 100
    assert all(np.array_equal(a, b) for a, b in zip(joined, apart, strict=True))
    facts = inspect(job.target)[0]
    assert (facts.length, facts.frame_rate) == (100, SECOND) and bool(facts.sound) == (not alpha) and facts.tagged


def pixels(path: Path, alpha: bool) -> list[np.ndarray]:
    """Planes of all frames; those of VP9 with its alpha, which only its own decoder gives."""
    found = []
    with av.open(str(path)) as container:
        own = av.CodecContext.create("libvpx-vp9", "r") if alpha and path.suffix == ".webm" else None
        for packet in container.demux(video=0):
            for frame in own.decode(packet if packet.size else None) if own else packet.decode():
                found.append(np.concatenate([np.frombuffer(p, np.uint8).reshape(-1, p.line_size)[:, : p.width] for p in frame.planes], axis=None))
    return found


LONG = [
    pytest.param(id, marks=pytest.mark.long(found_by="test_a_joined_file_holds_what_its_segments_hold"))
    for id in ("h265", "av1", "ffv1", "vp9", "prores-4444", "exr-half", "gif")
]


@pytest.mark.parametrize("id", ["h264", *LONG])
def test_the_file_is_the_same_whatever_makes_it(tmp_path: Path, clip: Path, id: str) -> None:
    """One process, three processes, and one that is stopped twice on the way: the same bytes."""
    options = ExportOptions(format=id)
    digests = []
    for name, executor in (("one", Here()), ("three", Processes(3))):
        (tmp_path / name).mkdir()
        digests.append(perform(job_of(clip, tmp_path / name, options), executor=executor).digest)
    (tmp_path / "stopped").mkdir()
    job = job_of(clip, tmp_path / "stopped", options)
    for most in (50, 97):
        seen: list[int] = []
        with pytest.raises(Cancelled):
            perform(job, lambda done, total, seen=seen: seen.append(done), lambda seen=seen, most=most: bool(seen) and seen[-1] >= most, Here())  # type: ignore[misc]
        assert len(list(job.segments.iterdir())) == most // 48 and not job.target.exists()
    seen = []
    digests.append(perform(job, lambda done, total: seen.append(done), executor=Here()).digest)
    assert seen[0] == 96 and len(set(digests)) == 1


def test_h264_is_written_by_code_that_repeats_itself(tmp_path: Path, clip: Path) -> None:
    """The encoder tells which of the processor's abilities it uses; AVX-512, with which it does not write the same bytes every time, is none of them."""
    before = av.logging.get_level()
    av.logging.set_level(av.logging.INFO)
    try:
        with av.logging.Capture(local=False) as told:
            perform(job_of(clip, tmp_path, ExportOptions()), executor=Here())
    finally:
        av.logging.set_level(before)
    used = [message for _, name, message in told if name == "libx264" and "cpu capabilities" in message]
    assert len(used) == 3 and not any("AVX512" in message for message in used)


@pytest.mark.long(found_by="tests/faults/test_exports_go_on.py: a worker killed from outside goes on by itself")
def test_a_process_killed_on_the_way_is_replaced(tmp_path: Path, clip: Path) -> None:
    (tmp_path / "whole").mkdir()
    whole = perform(job_of(clip, tmp_path / "whole", ExportOptions()), executor=Here()).digest
    killed: list[int] = []

    class Killing(Processes):
        def run(self, job, stretches, done, on_the_way, cancelled):  # type: ignore[no-untyped-def]
            def kill_one(stretch, count) -> None:  # type: ignore[no-untyped-def]
                on_the_way(stretch, count)
                for entry in Path("/proc").iterdir():
                    if not killed and entry.name.isdigit() and _parent(entry) == os.getpid() and b"spawn_main" in (entry / "cmdline").read_bytes():
                        killed.append(int(entry.name))
                        os.kill(killed[0], signal.SIGKILL)

            super().run(job, stretches, done, kill_one, cancelled)

    made = perform(job_of(clip, tmp_path, ExportOptions()), executor=Killing(2))
    assert killed and made.digest == whole


def _parent(entry: Path) -> int:
    try:
        return int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
    except OSError:
        return 0


def test_segments_are_named_by_all_they_depend_on(tmp_path: Path, clip: Path) -> None:
    base = job_of(clip, tmp_path, ExportOptions())
    names = [s.name for s in base.stretches()]
    assert [s.name for s in job_of(clip, tmp_path, ExportOptions(sound=False)).stretches()] == names  # sound is encoded at the join
    others = [ExportOptions(quality="fine"), ExportOptions(width=64), ExportOptions(format="h265")]
    assert all(not set(names) & {s.name for s in job_of(clip, tmp_path, o).stretches()} for o in others)
    changed = Job.model_validate({**dict(base), "node": base.node.model_copy(update={"look": parse_look({})})})  # type: ignore[union-attr]
    assert not set(names) & {s.name for s in changed.stretches()}
    later = job_of(clip, tmp_path, ExportOptions(), last=98).stretches()
    assert [s.name for s in later][:2] == names[:2] and later[2].name != names[2]


def _reader(clip: Path) -> Reader:
    return Reader(clip, *inspect(clip))


READ: dict[str, Callable[[bytes, Path], np.ndarray]] = {
    "png-8": lambda data, path: cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)[:, :, [2, 1, 0, 3]] / 255,
    "png-16": lambda data, path: cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)[:, :, [2, 1, 0, 3]] / 65535,
    "tiff-16": lambda data, path: _by_oiio(data, path.with_suffix(".tif")),
    "exr-half": lambda data, path: _by_oiio(data, path.with_suffix(".exr")),
}


def _by_oiio(data: bytes, path: Path) -> np.ndarray:
    path.write_bytes(data)
    config = oiio.ImageSpec()
    config.attribute("oiio:UnassociatedAlpha", 1)
    found = oiio.ImageInput.open(str(path), config)
    return np.asarray(found.read_image("float"))


@pytest.mark.parametrize("id", READ)
def test_pictures_hold_the_rendered_values(tmp_path: Path, clip: Path, id: str) -> None:
    """Read by OpenCV and OpenImageIO. EXR holds linear light (IEC 61966-2-1) with alpha multiplied in, as OpenEXR has it; the others straight alpha."""
    reader = _reader(clip)
    export(reader, clip, LOOK, 5, 7, tmp_path / "out.zip", ExportOptions(format=id, shows="alpha", selection="s"))
    with zipfile.ZipFile(tmp_path / "out.zip") as archive:
        names = archive.namelist()
        image = READ[id](archive.read(names[1]), tmp_path / "one")
    assert [n.split(".")[0] for n in names] == ["000005", "000006", "000007"]
    picture, matte = np.clip(rendered(LOOK, 6, reader), 0, 1), rendered(LOOK, 6, reader, shown=Shown(view="matte", selection="s"))[0]
    expected = srgb_decode(picture) * matte if id == "exr-half" else picture
    near = {"png-8": 1.01 / 255, "png-16": 0.51 / 65535, "tiff-16": 0.51 / 65535, "exr-half": 0.0006}[id]
    assert np.abs(image[:, :, :3].transpose(2, 0, 1) - expected).max() <= near
    assert np.abs(image[:, :, 3] - matte).max() <= near


@pytest.mark.parametrize(("id", "near"), [("h265", 3), ("av1", 3), ("prores-422-hq", 1.5), ("prores-4444", 0.6), ("ffv1", 0.02), ("vp9", 4)])
def test_video_shows_what_was_rendered(tmp_path: Path, clip: Path, id: str, near: float) -> None:
    """Mean error in code values of 8 bits, read by another decoder's conversion to R'G'B'."""
    reader = _reader(clip)
    target = tmp_path / f"out{FORMATS[id].suffix}"
    export(reader, clip, LOOK, 0, 11, target, ExportOptions(format=id, quality="fine"))
    with av.open(str(target)) as container:
        frames = [f.to_ndarray(format="rgb48le") for f in container.decode(video=0)]
    assert len(frames) == 12
    errors = [np.abs(frames[n][:65, :97] / 257 - np.clip(rendered(LOOK, n, reader), 0, 1).transpose(1, 2, 0) * 255).mean() for n in (0, 6, 11)]
    assert max(errors) < near


def test_a_loop_has_its_own_size_and_rate(tmp_path: Path, clip: Path) -> None:
    reader = _reader(clip)
    export(reader, clip, LOOK, 0, 47, tmp_path / "out.gif", ExportOptions(format="gif", width=48, fps=6))
    with av.open(str(tmp_path / "out.gif")) as container:
        frames = [f.to_ndarray(format="rgb24") for f in container.decode(video=0)]
    assert len(frames) == 24 and frames[0].shape == (32, 48, 3)
    wanted = np.clip(rendered(LOOK, 20, reader, (32, 48)), 0, 1).transpose(1, 2, 0) * 255
    assert np.abs(frames[10].astype(float) - wanted).mean() < 8  # 255 colours, dithered
    assert np.abs(cv2.blur(frames[10].astype(np.float32), (5, 5)) - cv2.blur(wanted.astype(np.float32), (5, 5))).mean() < 4  # whose mean is right
    export(reader, clip, LOOK, 0, 47, tmp_path / "out.webp", ExportOptions(format="webp", width=48, fps=6, shows="alpha", selection="s"))
    ok, film = cv2.imdecodeanimation(np.frombuffer((tmp_path / "out.webp").read_bytes(), np.uint8))
    ends = np.cumsum(film.durations)  # milliseconds; the encoder shows one picture for two that hardly differ
    assert ok and abs(int(ends[-1]) - 4000) <= 1 and film.frames[0].shape == (32, 48, 4)
    shown = film.frames[int(np.searchsorted(ends, 10 / 6 * 1000, side="right"))]
    matte = rendered(LOOK, 20, reader, (32, 48), shown=Shown(view="matte", selection="s"))[0]
    assert np.abs(shown[:, :, 3] / 255 - matte).mean() < 0.02


def test_what_is_not_what_was_asked_for_is_not_kept(tmp_path: Path, clip: Path) -> None:
    """A file with too few frames, one without its sound, and one with other tags are found out when they are read back."""
    reader = _reader(clip)
    export(reader, clip, LOOK, 0, 23, tmp_path / "a.mp4", ExportOptions())
    export(reader, clip, LOOK, 0, 23, tmp_path / "mute.mp4", ExportOptions(sound=False))
    canvas = Canvas(97, 65, Fraction(SECOND))
    assert verified(tmp_path / "a.mp4", ExportOptions(), canvas, 24, True).frames == 24
    with pytest.raises(ExportFailed, match="24 frames, not 25"):
        verified(tmp_path / "a.mp4", ExportOptions(), canvas, 25, True)
    with pytest.raises(ExportFailed, match="sound is missing"):
        verified(tmp_path / "mute.mp4", ExportOptions(), canvas, 24, True)
    make_clip(tmp_path / "other.mp4", matrix=5, count=24, rate=Fraction(SECOND))
    with pytest.raises(ExportFailed, match="colour tags"):
        verified(tmp_path / "other.mp4", ExportOptions(), canvas, 24, False)
    assert len(read_independently(tmp_path / "a.mp4")[0]) == 24


def test_options_that_were_stored_before_there_were_formats_are_read() -> None:
    old = [ExportOptions.model_validate({"kind": k, "selection": "s", "quality": "fine", "sound": True}) for k in ("video", "matte", "alpha", "alpha pictures")]
    assert [(o.shows, o.format) for o in old] == [("result", "h264"), ("matte", "h264"), ("alpha", "prores-4444"), ("alpha", "png-8")]
    with pytest.raises(ValueError, match="no format"):
        ExportOptions.model_validate({"kind": "film"})


PRINTED = """
import hashlib, numpy as np
from wenditas.compiled import made_by
from wenditas.core.look.document import parse_look
from wenditas.core.look.apply import apply_look
kinds = ["exposure", "curves", "gaussian-blur", "hue-shift", "tone-zones"]
look = parse_look({"passes": [{"id": k, "name": k, "treatment": k, "params": {"stops": 0.7} if k == "exposure" else {}} for k in kinds]})
picture = np.random.default_rng(1).random((3, 90, 160), np.float32)
print(made_by()["processor"], hashlib.sha256(apply_look(look, picture).tobytes()).hexdigest())
"""


def test_generic_does_with_what_every_processor_can() -> None:
    """The same bytes where the libraries are told of other processors; and segments of unlike ones never meet."""

    def made(**more: str) -> list[str]:
        done = subprocess.run([sys.executable, "-c", PRINTED], env={**os.environ, **more}, capture_output=True, text=True, timeout=300)
        assert done.returncode == 0, done.stderr
        return done.stdout.split()

    generic = made(WENDITAS_CPU="generic")
    lesser = {"NUMBA_CPU_NAME": "nehalem", "NUMBA_CPU_FEATURES": "+sse4.2", "OPENCV_CPU_DISABLE": "AVX2,AVX512-SKX"}
    assert made(WENDITAS_CPU="generic", **lesser) == generic
    assert generic[0] == "generic" and made()[0] not in ("generic", made(**lesser)[0])


@pytest.mark.parametrize(("rate", "kept", "options"), [(60, 30, {}), (50, 50, {}), (24, 24, {}), (60, 15, {"fps": 15}), (120, 40, {})])
def test_a_gif_holds_fifty_frames_a_second_and_says_what_it_leaves_out(tmp_path: Path, rate: int, kept: int, options: dict[str, int]) -> None:
    """Its clock counts hundredths (GIF89a, 23), and what shows a frame for one alone shows it for ten (common practice)."""
    clip = make_clip(tmp_path / "in.mp4", width=64, height=48, rate=Fraction(rate), count=rate)
    made = perform(job_of(clip, tmp_path, ExportOptions(format="gif", **options), last=rate - 1), executor=Here())
    size, times = frame_times(tmp_path / "out.gif")
    assert size == (64, 48) and len(times) == kept and sum(times) == pytest.approx(1, abs=0.02)
    assert ("holds at most 50" in made.told) == (kept < options.get("fps", rate))


@pytest.mark.parametrize("id", ["gif", "webp"])
def test_a_loop_that_is_cut_short_is_not_kept(tmp_path: Path, id: str) -> None:
    clip = make_clip(tmp_path / "in.mp4", width=64, height=48, count=5)
    perform(job_of(clip, tmp_path, ExportOptions(format=id), last=4), executor=Here())
    made = next(tmp_path.glob(f"out.{id}"))
    assert len(frame_times(made)[1]) == 5
    made.write_bytes(made.read_bytes()[:-40])
    with pytest.raises(ExportFailed, match="read back"):
        frame_times(made)
