"""Carrying keys over, on drawn pictures whose mattes are known; and the frame that stands for a shot, by its definition."""

from itertools import count

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.examples import TIMES
from wenditas.core.colour.oklab import rgb_from_oklab
from wenditas.core.kernel import Matte, Picture
from wenditas.core.look.document import parse_look
from wenditas.core.measure.standing import colours_of, standing
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.keys import HueKey
from wenditas.core.select.keys.hue import hue_key
from wenditas.core.select.matte import keyed
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.core.shelf.carry import carried, without_shapes

BOX = np.zeros((120, 200), np.float32)
BOX[30:90, 60:140] = 1


def scene(hue: float, chroma: float = 0.09, lightness: float = 0.6, gain: float = 1.0) -> Picture:
    """A shaded box of one hue on textured grey, as much brighter or darker as `gain`."""
    rng = np.random.default_rng(3)
    shade = lightness * (0.75 + 0.35 * np.linspace(0, 1, 200))[None, :] * np.ones((120, 1))
    a, b = chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))
    box = np.asarray(rgb_from_oklab(np.stack([shade, np.full_like(shade, a), np.full_like(shade, b)])))
    grey = np.repeat(0.45 + 0.03 * rng.standard_normal((1, 120, 200)), 3, axis=0)
    return np.clip((grey * (1 - BOX) + box * BOX) * gain + 0.004 * rng.standard_normal((3, 120, 200)), 0, 1).astype(np.float32)


def fitted(picture: Picture) -> Selection:
    places = ((0.35, 0.5), (0.5, 0.5), (0.65, 0.5))
    picks = tuple(Pick(id=str(n), colour=sample(picture, x, y, 5), x=x, y=y, frame=0) for n, (x, y) in enumerate(places))
    return Selection(id="s", name="S", keys=(fit_to_picks(HueKey(picks=picks), lambda _: picture).key,))


def over(selection: Selection, picture: Picture, sure: bool = False):
    ids = count()
    return carried(selection, [(0, picture)], lambda: f"n{next(ids)}", sure)


def overlap(selection: Selection, picture: Picture) -> float:
    found: Matte = hue_key(picture, selection.keys[0]) > 0.5
    return float((found & (BOX > 0)).sum() / (found | (BOX > 0)).sum())


@pytest.mark.parametrize("turned", [-14, -6, 6, 14])
def test_a_hue_that_has_turned_is_found_and_fitted(turned: float) -> None:
    there = scene(30 + turned)
    made, told = over(fitted(scene(30)), there)
    assert overlap(made, there) > 0.9 and told.how in ("as it was", "fitted again")
    if abs(turned) > 10:
        assert told.how == "fitted again" and abs(int(told.words.split("→ ")[1].rstrip("°")) - 30 - turned) <= 1


@pytest.mark.parametrize("gain", [0.6, 0.8, 1.2])
def test_another_exposure(gain: float) -> None:
    there = scene(30, gain=gain)
    made, _ = over(fitted(scene(30)), there)
    assert overlap(made, there) > 0.9


def test_far_hues_are_asked_about_and_none_needs_a_pick() -> None:
    selection = fitted(scene(30))
    made, told = over(selection, scene(65))
    assert told.how == "asks" and abs(int(told.words.split(", ")[1].split("°")[0]) - 35) <= 2 and made.keys[0].picks == ()
    sure, told = over(selection, scene(65), sure=True)
    assert told.how == "fitted again" and overlap(sure, scene(65)) > 0.9
    for other in (scene(210), scene(30, chroma=0.005)):
        made, told = over(selection, other)
        assert told.how == "needs a pick" and made.keys[0].picks == () and hue_key(other, made.keys[0]).max() == 0


def test_what_has_no_picks_stays_and_shapes_are_left_out() -> None:
    plain = Selection.model_validate({"id": "s", "name": "S", "keys": [{"type": "lightness", "low": 0, "high": 40}]})
    assert over(plain, scene(30))[0] is plain
    shape = {"id": "b", "name": "B", "kind": "rectangle", "points": [{"x": 0, "y": 0}, {"x": 9, "y": 9}]}
    lane = {"target": "selections/s/shapes/b/points", "keyframes": [{"frame": 0, "value": shape["points"]}]}
    look = parse_look({"selections": [{"id": "s", "name": "S", "keys": [], "shapes": [shape]}], "lanes": [lane]})
    bare, had = without_shapes(look)
    assert had and bare.selections[0].shapes == () and bare.lanes == () and without_shapes(bare) == (bare, False)


def two(first: float, second: float) -> Picture:
    """Two boxes of different hues side by side on grey."""
    left, right = scene(first), scene(second)
    return np.concatenate([left[:, :, :100], right[:, :, 100:]], axis=2)


def picked(picture: Picture, x: float, **more: object) -> HueKey:
    pick = Pick(id=f"p{x}", colour=sample(picture, x, 0.5, 5), x=x, y=0.5, frame=0)
    return fit_to_picks(HueKey(picks=(pick,), **more), lambda _: picture).key


LEFT, RIGHT = BOX * (np.arange(200) < 100), BOX * (np.arange(200) >= 100)


def share(selection: Selection, picture: Picture, where: Matte) -> float:
    return float((keyed(selection, picture) > 0.5)[where > 0].mean())


@pytest.mark.parametrize("turned", [0, 10])
def test_each_key_is_carried_for_itself(turned: float) -> None:
    """Red and blue stay two keys; red without orange takes the orange away, and selects the red."""
    here, there = two(30, 250), two(30 + turned, 250 + turned)
    both = Selection(id="s", name="S", keys=(picked(here, 0.4, id="a"), picked(here, 0.6, id="b")))
    made, told = over(both, there)
    assert told.how in ("as it was", "fitted again") and share(made, there, LEFT) > 0.9 and share(made, there, RIGHT) > 0.9
    assert float((keyed(made, there) > 0.5)[BOX == 0].mean()) < 0.02

    here, there = two(25, 70), two(25 + turned, 70 + turned)
    without = Selection(id="s", name="S", keys=(picked(here, 0.4, id="a"), picked(here, 0.6, id="b", combine="subtract")))
    made, told = over(without, there)
    assert told.how in ("as it was", "fitted again") and share(made, there, LEFT) > 0.9 and share(made, there, RIGHT) < 0.1


def test_picks_of_two_colours_in_one_key_stay_two() -> None:
    here, there = two(30, 250), two(40, 262)
    picks = (*picked(here, 0.4).picks, *picked(here, 0.6).picks)
    made, told = over(Selection(id="s", name="S", keys=(fit_to_picks(HueKey(picks=picks), lambda _: here).key,)), there)
    assert told.how == "fitted again" and share(made, there, LEFT) > 0.9 and share(made, there, RIGHT) > 0.9


def test_what_is_gone_is_told_key_by_key() -> None:
    here, there = two(30, 250), two(30, 30)
    made, told = over(Selection(id="s", name="S", keys=(picked(here, 0.4, id="a"), picked(here, 0.6, id="b"))), there)
    assert told.how == "needs a pick" and made.keys[0].picks and not made.keys[1].picks  # the red one is kept
    made, told = over(Selection(id="s", name="S", keys=(picked(here, 0.4, id="a"), picked(here, 0.6, id="b", combine="subtract"))), there)
    assert told.how == "fitted again" and "to take away" in told.words and not made.keys[1].on and share(made, there, BOX) > 0.9


@settings(max_examples=20 * TIMES, deadline=None)
@given(st.lists(st.floats(0, 359), min_size=2, max_size=2), st.floats(-40, 40), st.sampled_from(["add", "subtract", "intersect"]))
def test_what_is_called_fitted_selects_something_and_not_the_frame(hue: list[float], turned: float, how: str) -> None:
    here, there = two(*hue), two(*(h + turned for h in hue))
    made, told = over(Selection(id="s", name="S", keys=(picked(here, 0.4, id="a"), picked(here, 0.6, id="b", combine=how))), there)
    if told.how == "fitted again":
        assert 0.0005 <= float((keyed(made, there) > 0.5).mean()) <= 3 * float(BOX.mean())


@settings(max_examples=20, deadline=None)
@given(st.lists(st.floats(0.05, 0.95), min_size=1, max_size=9))
def test_the_standing_frame_is_nearest_the_average(greys: list[float]) -> None:
    """By its definition, worked out in the plain way."""
    pictures = [np.full((3, 8, 8), g, np.float32) for g in greys]
    spreads = [colours_of(p) for p in pictures]
    mean = sum(spreads) / len(spreads)
    far = [float(np.abs(s - mean).sum()) for s in spreads]
    assert far[standing(pictures)] == pytest.approx(min(far)) and all(s.sum() == pytest.approx(1) for s in spreads)
