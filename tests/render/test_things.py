"""Objects carried through real footage: what strokes select, what becomes of it, and what is kept."""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import pytest

from wenditas.core.film import Footage
from wenditas.core.kernel import Floats, Matte, Picture, as_picture
from wenditas.core.select.objects.marks import Stroke
from wenditas.core.select.objects.sure import CUT
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import write_clip
from wenditas.render.things import Things

WIDTH, HEIGHT, FRAMES = 320, 180, 20
SCALE = 1080 / HEIGHT
Drawn = Callable[[int], tuple[Picture, Matte]]


def ground(frame: int, seed: int = 3) -> Floats:
    rng = np.random.default_rng(seed)
    coarse = rng.uniform(0.3, 0.6, (3, 10, 17))
    return np.stack([np.kron(c, np.ones((18, 19)))[:HEIGHT, :WIDTH] for c in coarse])


def disc(x: float, y: float, radius: float) -> Floats:
    v, u = np.mgrid[0:HEIGHT, 0:WIDTH]
    return np.clip(radius - np.hypot(u - x, v - y) + 0.5, 0, 1)


def moving(frame: int) -> tuple[Picture, Matte]:
    cover = disc(80 + 6 * frame, 90 + 10 * np.sin(0.4 * frame), 26)
    colour = np.array([0.75, 0.5, 0.2]).reshape(3, 1, 1)
    return as_picture(ground(frame) * (1 - cover) + colour * cover), as_picture(cover)


def cut_at_ten(frame: int) -> tuple[Picture, Matte]:
    if frame < 10:
        return moving(frame)
    return as_picture(1 - 0.8 * ground(frame, 9)), np.zeros((HEIGHT, WIDTH), np.float32)


@pytest.fixture
def filmed(tmp_path: Path) -> Callable[..., tuple[Footage, Reader]]:
    def make(draw: Drawn, frames: int = FRAMES) -> tuple[Footage, Reader]:
        path = tmp_path / "clip.mp4"
        write_clip(path, [draw(n)[0] for n in range(frames)], Fraction(24), ("20", "fast"))
        reader = Reader(path, *inspect(path))
        return Footage(content="clip", width=WIDTH, height=HEIGHT, fps="24", frames=frames, noise=0.004), reader

    return make


def stroke(id: str, frame: int, points: list[tuple[float, float]], kind: str = "this", radius: float = 30) -> Stroke:
    return Stroke.model_validate({"id": id, "frame": frame, "kind": kind, "radius": radius, "points": [(x * SCALE, y * SCALE) for x, y in points]})


def overlap(one: Matte, other: Matte) -> float:
    a, b = one > 0.5, other > 0.5
    return float((a & b).sum() / max((a | b).sum(), 1))


FIRST = (stroke("a", 0, [(70, 90), (92, 92)]), stroke("b", 0, [(20, 30), (250, 30), (250, 160), (20, 160)], "not this"))
SIZE = (HEIGHT, WIDTH)


def test_two_strokes_select_a_thing_and_it_is_carried_both_ways(filmed: Callable[..., tuple[Footage, Reader]]) -> None:
    footage, reader = filmed(moving)
    things = Things(lambda *of: reader)
    middle = tuple(s.model_copy(update={"frame": 10, "points": tuple((x + 60 * SCALE, y + (10 * np.sin(4) * SCALE)) for x, y in s.points)}) for s in FIRST)
    for frame in (10, 19, 0):  # in between a block of the ground of its colour comes along, until it stays behind
        assert overlap(things.matte(footage, frame, middle, SIZE), moving(frame)[1]) > 0.85, frame
        assert things.carried(footage, middle, frame).sure > 0.6


def test_what_is_made_is_kept_and_gives_the_same_after_a_restart(filmed: Callable[..., tuple[Footage, Reader]], tmp_path: Path) -> None:
    footage, reader = filmed(moving)
    asked: list[int] = []

    def reader_of(content: str, purpose: str, number: int) -> Reader:
        asked.append(number)
        return reader

    once = [Things(reader_of, tmp_path / "a").carried(footage, FIRST, n).codes for n in (19, 4)]
    # Another process that was stopped half way, and one that goes on from what it left.
    Things(reader_of, tmp_path / "b").carried(footage, FIRST, 7)
    asked.clear()
    later = Things(reader_of, tmp_path / "b")
    assert not later.known_at(footage, FIRST, 8) and later.known_at(footage, FIRST, 7)
    again = [later.carried(footage, FIRST, n).codes for n in (19, 4)]
    assert all(np.array_equal(a, b) for a, b in zip(once, again, strict=True))
    assert asked and min(n for n in asked if n) >= 7
    # What lies damaged on the disk is made anew.
    for file in (tmp_path / "b").iterdir():
        file.write_bytes(b"\0" * 9)
    assert np.array_equal(Things(reader_of, tmp_path / "b").carried(footage, FIRST, 4).codes, again[1])


def test_it_is_averaged_where_it_is_made_smaller(filmed: Callable[..., tuple[Footage, Reader]]) -> None:
    """OpenCV's area for less, its cubic for more; one is told from the other by the height."""
    footage, reader = filmed(moving)
    things = Things(lambda *of: reader)
    whole = things.matte(footage, 0, FIRST, SIZE)
    for height, width, how in ((120, 213, cv2.INTER_AREA), (270, 480, cv2.INTER_CUBIC)):
        assert np.array_equal(things.matte(footage, 0, FIRST, (height, width)), cv2.resize(whole, (width, height), interpolation=how).clip(0, 1))


def test_a_stroke_changes_what_is_carried_from_its_frame_and_nothing_before_it(filmed: Callable[..., tuple[Footage, Reader]]) -> None:
    footage, reader = filmed(moving)
    things = Things(lambda *of: reader)
    before = {n: things.carried(footage, FIRST, n).codes for n in (0, 3, 19)}
    x, y = 80 + 6 * 12, 90 + 10 * np.sin(0.4 * 12)
    away = stroke("c", 12, [(x - 12, y - 20), (x - 12, y + 20)], "not this", 50)
    more = (*FIRST, away)
    assert things.known_at(footage, more, 0)
    assert np.array_equal(things.carried(footage, more, 0).codes, before[0])
    less = overlap(things.matte(footage, 12, more, SIZE), moving(12)[1])
    assert less < 0.8  # what was stroked away is away
    after = things.carried(footage, more, 19).codes
    assert (after > 127).sum() < 0.8 * (before[19] > 127).sum()
    back = stroke("d", 12, [(x - 12, y - 18), (x - 12, y + 18)], "this", 50)
    assert overlap(things.matte(footage, 12, (*more, back), SIZE), moving(12)[1]) > max(less + 0.05, 0.75)  # the later stroke counts


def test_it_stops_at_a_cut_and_says_so(filmed: Callable[..., tuple[Footage, Reader]]) -> None:
    footage, reader = filmed(cut_at_ten)
    things = Things(lambda *of: reader)
    told = dict(things.through(footage, FIRST, 0, (0, FRAMES - 1)))
    assert all(told[n] > 0.5 for n in range(10)) and all(told[n] == CUT for n in range(10, FRAMES))
    assert things.matte(footage, 12, FIRST, SIZE).max() == 0


@pytest.mark.parametrize(
    "strokes",
    [
        (),
        (stroke("a", 0, [(-500, -500)]),),
        (stroke("a", 0, [(80, 90)], radius=1),),
        (stroke("a", 0, [(80 + 0.01 * n, 90) for n in range(1000)]),),
        (stroke("a", 0, [(80, 90)]), stroke("b", 0, [(80, 90)], "not this")),
        (stroke("a", 0, [(80, 90)], "not this"),),
        (stroke("a", 5000, [(80, 90)]),),
        (stroke("a", 0, [(0, 0), (WIDTH, HEIGHT)], radius=400),),
    ],
)
def test_odd_strokes_give_a_matte_and_no_error(filmed: Callable[..., tuple[Footage, Reader]], strokes: tuple[Stroke, ...]) -> None:
    footage, reader = filmed(moving, 3)
    things = Things(lambda *of: reader)
    for frame in range(3):
        matte = things.matte(footage, frame, strokes, (90, 160))
        assert matte.shape == (90, 160) and np.isfinite(matte).all() and 0 <= matte.min() <= matte.max() <= 1


def test_a_frame_of_one_pixel_and_a_still() -> None:
    class One:
        def picture(self, frame: int, size: tuple[int, int] | None) -> Picture:
            return np.full((3, *(size or (1, 1))), 0.5, np.float32)

    footage = Footage(content="dot", width=1, height=1, fps="24", frames=9, still=True)
    things = Things(lambda *of: One())  # type: ignore[arg-type, return-value]
    assert things.matte(footage, 5, (stroke("a", 5, [(0, 0)]),), (1, 1)).shape == (1, 1)
