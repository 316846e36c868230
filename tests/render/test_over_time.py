"""Coverage over time, tracking through footage, the film strip, and small frames remembered."""

from functools import partial
from pathlib import Path

import cv2
import numpy as np
import pytest

from tests.media.clips import make_clip
from tests.rendering import rendered as render
from tests.rendering import shot_of
from wenditas.core.files import NO_FILES
from wenditas.core.film import Footage, Shot
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import Shown
from wenditas.core.select.shapes import Correction, Point, Shape, outline
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.project.arrivals import Arrivals
from wenditas.project.library import Library
from wenditas.project.sweep import sweep
from wenditas.render.frames import FrameFiles
from wenditas.render.over_time import BATCH, WIDTH, Coverage
from wenditas.render.pictures import Pictures
from wenditas.render.thumbnails import STRIP_COLUMNS, STRIP_HEIGHT, Thumbnails
from wenditas.render.tracking import grey_picture, track_shape
from wenditas.store import projects
from wenditas.store.database import Database

PICK = {"colour": [210 / 255, 40 / 255, 30 / 255], "x": 0.37, "y": 0.37, "frame": 0}
LOOK = parse_look({"selections": [{"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK], "least_chroma": 0.15}]}]})


@pytest.fixture
def reader(tmp_path: Path) -> Reader:
    path = make_clip(tmp_path / "in.mp4", count=20)
    return Reader(path, *inspect(path))


def test_every_frame_once_and_in_order(reader: Reader) -> None:
    node = shot_of(LOOK, reader)
    coverage = Coverage(lambda content, purpose, number: reader, NO_FILES)
    batches = list(coverage.over_time(node, "red", (0, node.length - 1), lambda: False))
    assert [first for first, _ in batches] == list(range(0, 20, BATCH))
    values = [v for _, batch in batches for v in batch]
    assert len(values) == 20
    for number in (0, 11, 19):
        matte = render(LOOK, number, reader, (240, WIDTH), shown=Shown(view="matte", selection="red"))[0]
        assert values[number] == pytest.approx(100 * matte.mean(), abs=1e-3)
        assert values[number] == Coverage(lambda content, purpose, number: reader, NO_FILES).at(node, number, "red")  # on screen as over time


def test_the_frames_in_use_come_first(reader: Reader) -> None:
    coverage = Coverage(lambda content, purpose, number: reader, NO_FILES)
    batches = list(coverage.over_time(shot_of(LOOK, reader), "red", (9, 14), lambda: False))
    assert [n for first, batch in batches for n in range(first, first + len(batch))] == [*range(9, 20), *range(9)]
    changes = coverage.changes(shot_of(LOOK, reader))
    assert len(changes) == 20 and np.isfinite(changes[10:15]).all() and np.nanmax(changes) < 0.06


def test_what_was_measured_is_found_again_after_a_restart(tmp_path: Path, reader: Reader) -> None:
    """Nothing is read for it then, but for what has changed; damaged files are measured anew."""
    read: list[int] = []

    class Counted(Reader):
        def picture(self, number: int, size: tuple[int, int] | None = None):  # type: ignore[no-untyped-def]
            read.append(number)
            return super().picture(number, size)

    counted = Counted(reader._path, reader.facts, reader.index)
    node = shot_of(LOOK, counted)

    def measured(of: Shot = node) -> tuple[list[float], np.ndarray]:
        read.clear()
        coverage = Coverage(lambda content, purpose, number: counted, NO_FILES, kept=FrameFiles(tmp_path / "kept"))
        values = [v for _, batch in coverage.over_time(of, "red", (0, node.length - 1), lambda: False) for v in batch]
        return values, coverage.changes(of)

    first, changes = measured()
    assert len(set(read)) == 20
    again, same = measured()
    assert again == first and read == [] and np.array_equal(same, changes, equal_nan=True)
    selection = LOOK.model_dump(mode="json")["selections"][0]
    selection["keys"][0]["tolerance"] = 40
    wider = node.model_copy(update={"look": parse_look({"selections": [selection]})})
    assert measured(wider)[0] != first and len(set(read)) == 20
    assert measured()[0] == first and read == []  # both are kept
    for path in (tmp_path / "kept").iterdir():
        path.write_bytes(b"{")
    assert measured()[0] == first and len(set(read)) == 20


def test_it_stops_when_nobody_listens(reader: Reader) -> None:
    seen: list[int] = []

    def stop() -> bool:
        seen.append(1)
        return len(seen) > 10

    coverage = Coverage(lambda content, purpose, number: reader, NO_FILES)
    assert sum(len(b) for _, b in coverage.over_time(shot_of(LOOK, reader), "red", (0, 19), stop)) < 20


def test_a_still_is_measured_once(reader: Reader) -> None:
    """Its frames are equal, and so are their mattes: as long as nothing of the selection moves."""
    loaded: list[int] = []

    class Counted(Reader):
        def picture(self, number: int, size: tuple[int, int] | None = None):  # type: ignore[no-untyped-def]
            loaded.append(number)
            return super().picture(number, size)

    counted = Counted(reader._path, reader.facts.model_copy(update={"kind": "still", "length": 120}), reader.index)
    node = shot_of(LOOK, counted)
    assert isinstance(node.of, Footage) and node.of.still
    coverage = Coverage(lambda content, purpose, number: counted, NO_FILES)
    values = [v for _, batch in coverage.over_time(node, "red", (0, node.length - 1), lambda: False) for v in batch]
    assert len(values) == 120 and len(set(values)) == 1 and loaded == [0] and len(coverage._values) == 1


def test_grey_pictures_are_luma_at_most_720_lines(tmp_path: Path, reader: Reader) -> None:
    grey = grey_picture(reader, 3)
    assert grey.shape == (240, 320) and grey.dtype == np.uint8
    large = make_clip(tmp_path / "large.mkv", width=1920, height=1080, count=2, codec="ffv1", pixel_format="bgr0")
    assert grey_picture(Reader(large, *inspect(large)), 1).shape == (720, 1280)


@pytest.fixture
def textured(tmp_path: Path) -> Reader:
    noise = cv2.GaussianBlur(np.random.default_rng(6).random((240, 320)).astype(np.float32), (0, 0), 2)
    path = tmp_path / "texture.png"
    cv2.imwrite(str(path), np.clip((noise - 0.5) * 900 + 128, 0, 255).astype(np.uint8))
    return Reader(path, *inspect(path))


def box(**more: object) -> Shape:
    return Shape(id="b", name="B", kind="rectangle", points=(Point(x=300, y=220), Point(x=760, y=580)), **more)


def test_a_still_thing_stays_where_it_is(textured: Reader) -> None:
    said: list[int] = []
    found = track_shape(partial(grey_picture, textured), box(), 10, "both", 0, 19, lambda p: said.append(p.frame), lambda: False)
    assert found is not None and found.lost == ()
    assert [t.frame for t in found.shape.track] == list(range(20)) and said == [*range(11, 20), *range(9, -1, -1)]
    for frame in (0, 19):
        assert np.abs(outline(found.shape, frame) - outline(box())).max() < 4  # pixels of a 1080-line picture
    again = track_shape(partial(grey_picture, textured), found.shape, 5, "forward", 0, 19, lambda p: None, lambda: False)
    assert again is not None and [t.frame for t in again.shape.track] == list(range(20))  # what lay before is kept


def test_corrections_are_carried_along(textured: Reader) -> None:
    found = track_shape(partial(grey_picture, textured), box(), 0, "forward", 0, 19, lambda p: None, lambda: False)
    assert found is not None
    corrected = found.shape.model_copy(update={"corrections": (Correction(frame=0, values=(1, 0, 0, 0)), Correction(frame=10, values=(1, 0, 0, -60)))})
    on = track_shape(partial(grey_picture, textured), corrected, 10, "forward", 0, 19, lambda p: None, lambda: False)
    assert on is not None
    assert [c.frame for c in on.shape.corrections] == [0, 10]
    assert np.abs(outline(on.shape, 19) - outline(on.shape, 10)).max() < 6
    assert outline(on.shape, 10)[0, 1] == pytest.approx(outline(box())[0, 1] - 60, abs=4)


def test_cancelling_gives_nothing(reader: Reader) -> None:
    assert track_shape(partial(grey_picture, reader), box(), 0, "forward", 0, 19, lambda p: None, lambda: True) is None


def test_flat_ground_is_lost_at_once(tmp_path: Path) -> None:
    path = tmp_path / "flat.png"
    cv2.imwrite(str(path), np.full((240, 320, 3), 90, np.uint8))
    flat = Reader(path, *inspect(path))
    found = track_shape(partial(grey_picture, flat), box(), 10, "both", 0, 20, lambda p: None, lambda: False)
    assert found is not None and found.lost == (11, 9) and [t.frame for t in found.shape.track] == [10]


def test_strip_and_poster_are_made_once(tmp_path: Path) -> None:
    db = Database(tmp_path / "w.db")
    library = Library(tmp_path / "data", db)
    project = projects.add_project(db, "Film")
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "a.mp4"), "a.mp4")
    thumbnails, footage = Thumbnails(Pictures(library)), library.node(row.id)
    thumbnails.make_ready(footage)
    strip = thumbnails.strip(footage)
    stamp = strip.stat().st_mtime_ns
    thumbnails.make_ready(footage)
    assert strip.stat().st_mtime_ns == stamp
    shown = Reader(strip, *inspect(strip)).picture(0)
    assert shown.shape[1:] == (STRIP_HEIGHT, STRIP_COLUMNS * round(STRIP_HEIGHT * 320 / 240))
    assert shown[2, 5, -20] > shown[2, 5, 20] + 0.4  # blue rises with the frame number
    db.close()


def test_sweep_forgets_half_arrived_files_and_old_removals(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from datetime import timedelta

    from wenditas.store import footage

    db = Database(tmp_path / "w.db")
    library = Library(tmp_path / "data", db)
    project = projects.add_project(db, "Film")
    row = Arrivals(library).copy_in(project.id, make_clip(tmp_path / "a.mp4", count=3), "a.mp4")
    (tmp_path / "data" / "incoming" / "half").write_bytes(b"x")
    (tmp_path / "data" / "exports" / "e.part.mp4").write_bytes(b"x")
    cached = [library.cached_file(name, lambda part: part.write_bytes(b"x")) for name in (f"poster-{row.id}.jpg", f"proxy-{row.id}.mov", "poster-other.jpg")]
    footage.set_removed(db, row.id, True)
    sweep(library.folder, db)
    assert not list((tmp_path / "data" / "incoming").iterdir()) and not list((tmp_path / "data" / "exports").iterdir())
    assert all(path.exists() for path in cached) and library.media_path(row).exists()  # removed less than a day ago: it can still come back
    monkeypatch.setattr("wenditas.project.sweep.KEEP_REMOVED", timedelta(seconds=-5))
    sweep(library.folder, db)
    assert not library.media_path(row).exists() and [path.exists() for path in cached] == [False, False, True]
    db.close()
