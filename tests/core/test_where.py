"""Islands, fit to picks, main colours, weak frames, selections that read a pass."""

from itertools import pairwise

import cv2
import numpy as np
import pytest

from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.errors import BadLook
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import Shown
from wenditas.core.measure.coverage import lasting_falls, weak_frames
from wenditas.core.measure.cuts import change, cuts, glimpse
from wenditas.core.select.fit import fit_to_picks, startles
from wenditas.core.select.islands import fence_around, islands
from wenditas.core.select.keys import HueKey
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape, shape_matte
from wenditas.core.select.suggest import main_colours


def disc(shape: tuple[int, int], x: float, y: float, r: float) -> np.ndarray:
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]]
    return np.hypot(columns - x, rows - y) < r


def shaded_scene(colours: dict, places: dict, noise: float = 0.012) -> tuple[np.ndarray, dict[str, np.ndarray]]:
    """Shaded balls on a grey ground, with film noise: the picture and the mask of each ball."""
    size = (270, 480)
    rng = np.random.default_rng(4)
    picture = np.full((3, *size), 0.5) * np.linspace(0.7, 1.1, size[1])
    masks = {}
    rows, columns = np.mgrid[0 : size[0], 0 : size[1]]
    for name, colour in colours.items():
        x, y = places[name]
        masks[name] = disc(size, x, y, 52)
        light = 0.75 + 0.4 * ((x - columns) + (y - rows)) / 104
        picture = np.where(masks[name], np.array(colour)[:, None, None] * light, picture)
    return (picture + noise * rng.standard_normal(picture.shape)).astype(np.float32), masks


PLACES = {"red": (120.0, 130.0), "orange": (250.0, 130.0), "blue": (390.0, 130.0)}
COLOURS = {"red": (0.75, 0.15, 0.12), "orange": (0.85, 0.5, 0.12), "blue": (0.15, 0.3, 0.75)}


def pick(picture: np.ndarray, x: float, y: float) -> Pick:
    u, v = x / picture.shape[2], y / picture.shape[1]
    return Pick(colour=sample(picture, u, v, 5), x=u, y=v, frame=0)


def overlap(matte: np.ndarray, mask: np.ndarray) -> float:
    """Intersection over union at 50 %."""
    cut = matte > 0.5
    return float((cut & mask).sum() / (cut | mask).sum())


@pytest.mark.parametrize("name", COLOURS)
def test_fit_to_picks_finds_the_object(name: str) -> None:
    picture, masks = shaded_scene(COLOURS, PLACES)
    x, y = PLACES[name]
    refused = tuple(pick(picture, *PLACES[other]) for other in COLOURS if other != name)
    fit = fit_to_picks(HueKey(picks=(pick(picture, x, y),), refused=refused), lambda frame: picture)
    assert fit.apart and min(fit.inside, fit.outside) > 0.9 and fit.key.softness == 6
    matte = selection_matte(Selection(id="s", name="S", keys=(fit.key,)), picture)
    assert overlap(matte, masks[name]) > 0.9


def test_fit_says_when_colours_cannot_be_told_apart() -> None:
    colours = {"red": COLOURS["red"], "orange": (0.72, 0.17, 0.13), "blue": COLOURS["blue"]}
    picture, _ = shaded_scene(colours, PLACES)
    key = HueKey(picks=(pick(picture, *PLACES["red"]),), refused=(pick(picture, *PLACES["orange"]),))
    fit = fit_to_picks(key, lambda frame: picture)
    assert not fit.apart and "only in part" in fit.words and "shape" in fit.words


def test_fit_says_how_much_is_told_apart() -> None:
    """Two things whose colours meet in part: most of both fall on their own side, and that is what is said."""
    picture, _ = shaded_scene({**COLOURS, "orange": (0.78, 0.3, 0.12)}, PLACES)
    key = HueKey(picks=(pick(picture, *PLACES["red"]),), refused=(pick(picture, *PLACES["orange"]),))
    fit = fit_to_picks(key, lambda frame: picture)
    assert fit.apart and "% of what was picked is in" in fit.words and "shape" not in fit.words


def test_a_fit_on_a_dark_garment_does_not_explode() -> None:
    """Three picks on a dark garment in a dark, noisy, encoded street: everything around is as near to it in colour as it is to itself."""
    rng = np.random.default_rng(6)
    rows, columns = np.mgrid[0:270, 0:480]
    light = 0.10 + 0.05 * np.sin(columns / 37) + 0.03 * np.cos(rows / 19)
    picture = np.stack([light * 1.02, light, light * 0.97])
    garment = (np.abs(columns - 240) < 40) & (np.abs(rows - 150) < 70)
    fold = 0.75 + 0.35 * np.sin(columns / 9)
    picture = np.where(garment, np.array([0.12, 0.045, 0.055])[:, None, None] * fold, picture) + 0.008 * rng.standard_normal((3, 270, 480))
    coded = cv2.imdecode(cv2.imencode(".jpg", (np.clip(picture, 0, 1) * 255).astype(np.uint8).transpose(1, 2, 0), [cv2.IMWRITE_JPEG_QUALITY, 60])[1], 1)
    picture = (coded.transpose(2, 0, 1) / 255).astype(np.float32)
    picks = tuple(pick(picture, x, y) for x, y in ((225, 120), (248, 150), (262, 190)))
    fit = fit_to_picks(HueKey(picks=picks, softness=4), lambda frame: picture)
    matte = selection_matte(Selection(id="s", name="S", keys=(fit.key,)), picture)
    assert fit.key.tolerance < 46 and fit.key.softness == 4
    assert 100 * matte.mean() < 25 and matte[garment].mean() > 2 * matte[~garment].mean()
    assert startles(3.8, 75.8) and not startles(3.8, 7.2) and not startles(40, 60)


def test_main_colours_are_the_balls() -> None:
    picture, masks = shaded_scene(COLOURS, PLACES)
    found = main_colours(picture)
    assert {c.name for c in found} == {"Red", "Orange", "Blue"}
    for colour in found:
        mask = masks[colour.name.lower()]
        assert mask[int(colour.y * 270), int(colour.x * 480)]
        assert colour.coverage == pytest.approx(100 * mask.mean(), rel=0.15)
        hue = oklch_from_rgb(COLOURS[colour.name.lower()])[2]
        assert abs((oklch_from_rgb(colour.colour)[2] - hue + 180) % 360 - 180) < 6
    assert main_colours(np.full((3, 40, 40), 0.4, np.float32)) == []


def test_islands_largest_first_and_fenced() -> None:
    matte = (disc((270, 480), 100, 100, 50) * 0.9 + disc((270, 480), 330, 150, 25)).astype(np.float32)
    matte[5, 5] = 1
    found = islands(matte)
    assert len(found) == 2  # the speck is left out
    assert found[0].share == pytest.approx(80, abs=1) and found[1].share == pytest.approx(20, abs=1)
    assert found[0].box == pytest.approx((4 * 51, 4 * 51, 4 * 150, 4 * 150), abs=8)
    around = fence_around(found[1].outline, 20)
    shape = Shape(id="s", name="S", kind="polygon", points=tuple(Point(x=float(x), y=float(y)) for x, y in around), feather_out=0)
    covered = shape_matte(shape, 0, 270, 480)
    assert covered[disc((270, 480), 330, 150, 25)].min() > 0.9 and covered[:, :250].max() == 0
    assert islands(np.zeros((9, 9), np.float32)) == []
    assert len(fence_around(np.zeros((1, 2)), 5)) == 4


def test_weak_frames() -> None:
    steady = np.full(120, 8.0)
    assert weak_frames(steady) == []
    assert weak_frames(np.linspace(0, 12, 120)) == []  # an object that comes in
    dip = steady.copy()
    dip[50:70] = 8 - 5 * np.sin(np.linspace(0, np.pi, 20))
    (found,) = weak_frames(dip)
    assert found.kind == "drop" and 55 <= found.frame <= 64 and found.value < 3.2 and found.usual == pytest.approx(8)
    flash = steady.copy()
    flash[80] = 30
    (found,) = weak_frames(flash)
    assert found.kind == "jump" and (found.first, found.frame, found.last) == (80, 80, 80)
    assert weak_frames(np.array([])) == [] and weak_frames(np.full(40, np.nan)) == [] and weak_frames(np.zeros(90)) == []


def test_what_falls_for_good() -> None:
    shaded = np.concatenate([np.full(40, 6.0), np.linspace(6, 0.2, 6), np.full(30, 0.2)])
    (fall,) = lasting_falls(shaded)
    assert (fall.first, fall.last, fall.usual, fall.kind) == (43, 75, 6.0, "drop") and fall.frame == 45 and fall.value == pytest.approx(0.2)
    assert lasting_falls(np.linspace(12, 0, 120)) == []  # an object that slowly leaves
    assert lasting_falls([8.0] * 30 + [1.0] * 6 + [8.0] * 30) == [] and lasting_falls([]) == [] and lasting_falls([0.0] * 40) == []
    assert lasting_falls([8.0] * 30 + [1.0] * 30, cuts=[30]) == []  # another scene
    (second,) = lasting_falls([1.0] * 20 + [8.0] * 20 + [1.0] * 20, cuts=[20])
    assert (second.first, second.last) == (40, 59)


def test_weak_frames_know_cuts_and_the_ends_in_use() -> None:
    two_scenes = np.concatenate([np.full(60, 8.0), np.full(20, 2.0), np.full(60, 9.0)])
    assert [w.kind for w in weak_frames(two_scenes)] == ["drop"]
    assert weak_frames(two_scenes, cuts=[60, 80]) == []
    flash = np.full(120, 8.0)
    flash[[10, 60]] = 30
    assert [w.frame for w in weak_frames(flash, 40, 110)] == [60] and [w.frame for w in weak_frames(flash)] == [10, 60]


def test_cuts_stand_out_and_flashes_and_motion_do_not() -> None:
    rng = np.random.default_rng(3)
    scenes = [np.repeat(np.repeat(rng.random((3, 9, 16)), 20, axis=1), 20, axis=2).astype(np.float32) for _ in range(3)]
    frames = [np.roll(scenes[n // 20], n, axis=2) for n in range(60)]
    frames[30] = np.ones_like(frames[0])  # a flash
    seen = [glimpse(f) for f in frames]
    assert cuts([0, *(change(a, b) for a, b in pairwise(seen))]) == [20, 40]
    assert cuts([]) == [] and cuts([0.0, float("nan"), 0.0]) == []


RED_KEY = {"type": "hue", "picks": [{"colour": COLOURS["red"], "x": 0.5, "y": 0.5, "frame": 0}]}


def passes(*items: dict) -> list[dict]:
    return [{"id": f"p{n}", "name": f"P{n}", **item} for n, item in enumerate(items)]


def test_a_selection_can_read_a_pass() -> None:
    picture, masks = shaded_scene(COLOURS, PLACES)
    grey_first = passes({"treatment": "monochrome"}, {"treatment": "saturation", "selection": "red", "side": "inside"})
    source = {"id": "red", "name": "Red", "keys": [RED_KEY]}
    after = {**source, "reads": "p0"}
    for selection, expected in ((source, True), (after, False)):
        look = parse_look({"selections": [selection], "passes": grey_first})
        matte = apply_look(look, picture, shown=Shown(view="matte", selection="red"))[0]
        assert bool(matte[masks["red"]].mean() > 0.5) is expected
    for bad in (passes({"treatment": "monochrome", "selection": "red", "side": "inside"}), passes({"treatment": "monochrome"})[:0]):
        with pytest.raises(BadLook, match="reads"):
            parse_look({"selections": [after], "passes": bad})


def test_steady_averages_over_frames() -> None:
    picture, _ = shaded_scene(COLOURS, PLACES)
    dark = np.zeros_like(picture)
    selection = Selection.model_validate({"id": "s", "name": "S", "keys": [RED_KEY], "cleaning": {"steady": 1}})
    alone = selection_matte(selection, picture)
    averaged = selection_matte(selection, picture, Moment(5, lambda number: picture if number == 4 else dark))
    assert averaged == pytest.approx(alone * 0.75, abs=1e-5)


def test_whole_frame_and_tiled_mattes_agree() -> None:
    picture, _ = shaded_scene(COLOURS, PLACES)
    grey = passes({"treatment": "monochrome", "selection": "red", "side": "outside"})
    look = {"selections": [{"id": "red", "name": "Red", "keys": [RED_KEY]}], "passes": grey}
    tiled = apply_look(parse_look(look), picture)
    look["selections"][0]["shapes"] = [{"id": "a", "name": "a", "kind": "rectangle", "points": [{"x": -9000, "y": -9000}, {"x": -8000, "y": -8000}]}]
    assert np.array_equal(apply_look(parse_look(look), picture), tiled)


def test_a_fence_keeps_an_intruder_out() -> None:
    picture, masks = shaded_scene({**COLOURS, "orange": COLOURS["red"]}, PLACES)
    fence = {"id": "a", "name": "a", "kind": "ellipse", "points": [{"x": 780, "y": 300}, {"x": 1220, "y": 740}]}
    selection = Selection.model_validate({"id": "s", "name": "S", "keys": [RED_KEY], "shapes": [fence]})
    matte = selection_matte(selection, picture)
    assert matte[masks["red"]].mean() > 0.85 and matte[masks["orange"]].max() < 0.01
    assert cv2.connectedComponents((matte > 0.5).astype(np.uint8))[0] >= 2
