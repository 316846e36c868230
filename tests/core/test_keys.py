"""Every key of the list: kernel equals reference, ranges, extremes; and what the key by hue promises."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wenditas.core.colour.oklab import rgb_from_oklab
from wenditas.core.params import describe
from wenditas.core.select.keys import KEYS, AlphaKey, ColourKey, HueKey, LightnessKey, RangesKey
from wenditas.core.select.matte import selection_matte, selection_matte_reference
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection

RED, ORANGE, DARK_RED = (0.8, 0.1, 0.08), (0.85, 0.45, 0.1), (0.25, 0.04, 0.03)


def pick(colour: tuple[float, float, float]) -> Pick:
    return Pick(colour=colour, x=0.5, y=0.5, frame=0)


def fast(key: HueKey, picture: np.ndarray) -> np.ndarray:
    matte = np.full(picture.shape[1:], np.nan, np.float32)
    KEYS[key.type].prepare(key)(np.ascontiguousarray(picture, np.float32), matte)
    return matte


def lch_picture(lightness: float, chroma: float, hues: np.ndarray) -> np.ndarray:
    radians = np.radians(hues)
    lab = np.stack([np.full_like(radians, lightness), chroma * np.cos(radians), chroma * np.sin(radians)])
    return rgb_from_oklab(lab)[:, None, :].astype(np.float32)


SAMPLES = [
    HueKey(picks=(pick(RED),)),
    HueKey(picks=(pick(RED), pick(DARK_RED), pick(ORANGE)), tolerance=20, softness=15),
    HueKey(picks=(pick(RED),), refused=(pick(ORANGE),), tolerance=30),
    HueKey(picks=(pick((0.1, 0.2, 0.9)),), hue_offset=140, softness=0, gate_softness=0, least_chroma=0),
    HueKey(),
    ColourKey(picks=(pick(RED), pick(ORANGE)), refused=(pick(DARK_RED),), tolerance=18, softness=20),
    ColourKey(picks=(pick(RED),), lightness_weight=0, tolerance=10, softness=10),
    ColourKey(),
    LightnessKey(),
    LightnessKey(low=30, high=50, soft_low=20, soft_high=25),
    LightnessKey(low=70, high=20),
    RangesKey(),
    RangesKey(hue=355, hue_reach=60, saturation_low=40, saturation_high=70, lightness_on=True, lightness_low=20, lightness_high=60),
    RangesKey(hue_on=False, saturation_on=False, lightness_on=False),
    AlphaKey(),
    AlphaKey(invert=True),
]


def hard(key) -> bool:
    return getattr(key, "softness", 1) == 0 or getattr(key, "soft_high", 1) == 0


@pytest.mark.parametrize("key", SAMPLES, ids=range(len(SAMPLES)))
def test_kernel_equals_reference(key: HueKey, random_picture: np.ndarray) -> None:
    difference = np.abs(fast(key, random_picture) - KEYS[key.type].reference(random_picture, key))
    # A hard edge turns a rounding error of the hue into a whole step for the odd pixel on it.
    assert (difference > 2e-4).mean() <= (0.002 if hard(key) else 0)


@pytest.mark.parametrize("key", SAMPLES, ids=range(len(SAMPLES)))
@pytest.mark.parametrize("shape", [(3, 1, 1), (3, 0, 5), (3, 2, 9)])
def test_any_input_gives_a_matte(key: HueKey, shape: tuple[int, int, int]) -> None:
    for value in (0.0, 1.0, -2.0, 5.0, 0.5):
        matte = fast(key, np.full(shape, value, np.float32))
        assert matte.shape == shape[1:]
        assert np.isfinite(matte).all() and (matte >= 0).all() and (matte <= 1 + 1e-6).all()


@pytest.mark.parametrize("record", KEYS.values(), ids=list(KEYS))
def test_declared_parameters(record) -> None:
    assert record.model().type == record.id and record.name and record.summary.endswith(".")
    assert any(isinstance(key, record.model) for key in SAMPLES)
    for info in describe(record.model):
        assert info.low <= info.default <= info.high and info.step > 0 and info.name and info.help


def test_edge_is_where_tolerance_and_softness_say() -> None:
    red_hue = 29.0
    hues = np.arange(red_hue - 30, red_hue + 31, 0.5)
    key = HueKey(picks=(pick(tuple(lch_picture(0.6, 0.15, np.array([red_hue]))[:, 0, 0])),), tolerance=10, softness=8, least_chroma=0.02)
    matte = fast(key, lch_picture(0.6, 0.15, hues))[0]
    d = np.abs(hues - red_hue)
    assert matte[d <= 9.9] == pytest.approx(1, abs=1e-4)
    assert matte[d >= 18.1] == pytest.approx(0, abs=1e-4)
    assert matte[d == 14] == pytest.approx(0.5, abs=2e-3)  # half way through a smoothstep


def test_by_hue_keeps_lit_and_shaded_together_and_greys_out() -> None:
    key = HueKey(picks=(pick(RED),), tolerance=9)
    lit, shaded, grey = (np.array(c, np.float32).reshape(3, 1, 1) for c in ((0.95, 0.35, 0.3), DARK_RED, (0.42, 0.4, 0.4)))
    assert fast(key, lit)[0, 0] > 0.95 and fast(key, shaded)[0, 0] > 0.95 and fast(key, grey)[0, 0] < 0.01


def test_hues_go_round() -> None:
    """A pick just above 0 degrees takes hues just below 360."""
    key = HueKey(picks=(pick(tuple(lch_picture(0.6, 0.15, np.array([2.0]))[:, 0, 0])),), tolerance=10)
    assert fast(key, lch_picture(0.6, 0.15, np.array([356.0])))[0, 0] == pytest.approx(1, abs=1e-4)


def test_a_not_this_pick_narrows_on_its_side_only() -> None:
    middle = tuple(lch_picture(0.6, 0.12, np.array([40.0]))[:, 0, 0])
    other = tuple(lch_picture(0.6, 0.12, np.array([60.0]))[:, 0, 0])
    picture = lch_picture(0.6, 0.12, np.array([25.0, 40.0, 55.0, 60.0]))
    wide = HueKey(picks=(pick(middle),), tolerance=25, softness=4)
    before, after = fast(wide, picture)[0], fast(wide.model_copy(update={"refused": (pick(other),)}), picture)[0]
    assert before.min() > 0.99
    assert after[0] > 0.99 and after[1] > 0.99 and after[2] < 0.01 and after[3] < 0.01


@settings(max_examples=40, deadline=None)
@given(st.floats(0, 45), st.floats(0, 40), st.floats(0.0, 0.2))
def test_wider_tolerance_never_selects_less(tolerance: float, more: float, least: float) -> None:
    picture = np.random.default_rng(1).random((3, 8, 40), np.float32)
    narrow = HueKey(picks=(pick(RED),), tolerance=tolerance, least_chroma=least)
    wide = narrow.model_copy(update={"tolerance": tolerance + more})
    assert (fast(wide, picture) - fast(narrow, picture)).min() > -1e-5


def test_keys_combine_in_order() -> None:
    red, orange = HueKey(picks=(pick(RED),), tolerance=12), HueKey(picks=(pick(ORANGE),), tolerance=12)
    picture = np.stack([np.array(c, np.float32) for c in (RED, ORANGE, (0.1, 0.2, 0.9))], axis=1)[:, None, :]

    def matte(*keys: HueKey) -> list[float]:
        selection = Selection(id="s", name="s", keys=keys)
        out = selection_matte(selection, picture)
        assert out == pytest.approx(selection_matte_reference(selection, picture), abs=1e-4)
        return out[0].round(2).tolist()

    assert matte(red, orange) == [1, 1, 0]
    assert matte(red, orange.model_copy(update={"combine": "intersect"})) == [0, 0, 0]
    assert matte(red, orange, red.model_copy(update={"combine": "subtract"})) == [0, 1, 0]
    assert matte(red, orange.model_copy(update={"on": False})) == [1, 0, 0]
    assert matte() == [0, 0, 0]


def test_sample_is_the_median_and_stays_in_the_frame() -> None:
    picture = np.full((3, 20, 20), 0.5, np.float32)
    picture[:, 10, 10] = 1.0  # one hot pixel
    assert sample(picture, 0.525, 0.525, 5) == (0.5, 0.5, 0.5)
    assert sample(picture, 0.0, 1.0, 101) == (0.5, 0.5, 0.5)
    assert sample(picture, 0.525, 0.525, 1) == (1.0, 1.0, 1.0)


def test_the_first_key_that_is_on_begins(random_picture: np.ndarray) -> None:
    """What was before it is everything where it intersects or subtracts, so that a key whose forerunner is gone still selects."""
    low, high = LightnessKey(low=0, high=40), LightnessKey(low=30, high=100)

    def matte(*keys: LightnessKey) -> np.ndarray:
        selection = Selection(id="s", name="S", keys=keys)
        made = selection_matte(selection, random_picture)
        assert np.abs(made - selection_matte_reference(selection, random_picture)).max() < 1e-3
        return made

    def told(key: LightnessKey, **more: object) -> LightnessKey:
        return key.model_copy(update=more)

    alone = matte(high)
    assert np.array_equal(matte(told(high, combine="intersect")), alone)
    assert np.array_equal(matte(told(low, on=False), told(high, combine="intersect")), alone)
    assert matte(told(high, combine="subtract")) == pytest.approx(1 - alone, abs=1e-6)
    assert matte(low, told(high, combine="intersect")).mean() < alone.mean()
    assert matte(told(low, on=False)).max() == 0
    assert np.array_equal(matte(AlphaKey(), told(high, combine="intersect")), alone)
