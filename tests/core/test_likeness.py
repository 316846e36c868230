"""Looks from pictures: what is recognised, what is proposed, and what is said where nothing can be."""

from itertools import count

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sklearn.datasets import load_sample_image

from wenditas.core.colour.difference import ciede2000, lab_from_rgb
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.errors import BadLook
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.likeness.kinds import recognised
from wenditas.core.likeness.measured import measured, tells_nothing, without_bars
from wenditas.core.likeness.proposals import Answer, propose
from wenditas.core.likeness.tones import LEAST_SLOPE, MOST_SLOPE, tone_curve
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look


def photo(name: str) -> Picture:
    """One of scikit-learn's two sample photographs, a third of its size."""
    return as_picture(np.moveaxis(load_sample_image(f"{name}.jpg")[::3, ::3], 2, 0) / 255)


CHINA, FLOWER = photo("china"), photo("flower")


def under(picture: Picture, *passes: tuple[str, dict]) -> Picture:
    look = parse_look({"selections": [], "passes": [{"id": f"p{n}", "name": t, "treatment": t, "params": p} for n, (t, p) in enumerate(passes)]})
    return as_picture(np.clip(apply_look(look, picture), 0, 1))


def ids():
    numbers = count()
    return lambda: f"n{next(numbers)}"


def proposed(shot: Picture, reference: Picture, **more) -> Answer:
    return propose([(0, shot)], [reference], ids(), **more)


def apart(one: Picture, other: Picture) -> float:
    """Mean CIEDE2000."""
    return float(ciede2000(*(lab_from_rgb(np.clip(p, 0, 1)) for p in (one, other))).mean())


def on(look: Look, picture: Picture) -> Picture:
    return as_picture(np.clip(apply_look(look, picture), 0, 1))


def test_a_two_ink_poster_gives_its_inks() -> None:
    inks = ("#1d2b4f", "#f2e3c6")
    answer = proposed(FLOWER, under(CHINA, ("curves", {"master": [[0, 0], [20, 0], [80, 100], [100, 100]]}), ("duotone", {"dark": inks[0], "light": inks[1]})))
    assert [p.kind for p in answer.proposals[:2]] == ["two inks", "by lightness"]
    params = answer.proposals[0].look.passes[-1].params
    for found, ink in zip((params["dark"], params["light"]), inks, strict=True):
        assert float(ciede2000(lab_from_rgb(rgb_from_hex(found)), lab_from_rgb(rgb_from_hex(ink)))) < 2


HEAT = [{"position": 25 * n, "colour": c} for n, c in enumerate(("#000010", "#5a0a6a", "#c02040", "#f08030", "#fff090"))]
NIGHT = {"shadows": "#1a3a7a", "shadows_tint": 50, "midtones": "#1a3a7a", "midtones_tint": 40}


@pytest.mark.parametrize(
    ("passes", "kind", "treatments"),
    [
        ([("gradient-map", {"stops": HEAT})], "by lightness", {"gradient-map"}),
        ([("tint", {"darks": "#20140e", "lights": "#f3e6c8"})], "two inks", {"duotone"}),
        ([("exposure", {"stops": -1.2}), ("saturation", {"saturation": 50}), ("tone-zones", NIGHT)], "night", {"tone-zones"}),
        ([("tone-zones", {"shadows": "#106070", "shadows_tint": 40, "highlights": "#f0a050", "highlights_tint": 40})], "graded", {"tone-zones"}),
        ([("monochrome", {})], "grey", {"monochrome"}),
    ],
    ids=["heat", "sepia", "night", "teal and orange", "grey"],
)
def test_each_kind_of_picture_is_known_and_comes_near(passes: list, kind: str, treatments: set[str]) -> None:
    reference, true = under(FLOWER, *passes), under(CHINA, *passes)
    first = proposed(CHINA, reference).proposals[0]
    assert first.kind == kind and treatments <= {p.treatment for p in first.look.passes}
    assert apart(on(first.look, CHINA), true) < 0.9 * apart(CHINA, true)
    assert {t.id for t in first.told} == {p.id for p in first.look.passes} and all(t.words for t in first.told)
    assert len(first.look.passes) <= 5


def coat(picture: Picture, colour: tuple[float, float, float]) -> Picture:
    """A picture in grey with a shaded disc of one colour."""
    grey = np.repeat(picture.mean(axis=0, keepdims=True), 3, axis=0)
    y, x = np.mgrid[: picture.shape[1], : picture.shape[2]]
    inside = np.hypot(y - 70, x - 90) < 26
    shade = 0.7 + 0.3 * (x - 64) / 52
    return as_picture(np.where(inside, np.array(colour)[:, None, None] * shade, grey))


def test_the_one_colour_that_is_left_is_sought_in_the_shot() -> None:
    shot = CHINA.copy()
    shot[:, 40:80, 120:180] = np.array([0.7, 0.12, 0.1])[:, None, None]
    answer = proposed(shot, coat(FLOWER, (0.8, 0.1, 0.12)))
    first = answer.proposals[0]
    assert first.kind == "one colour" and "one colour is left" in answer.words
    made = on(first.look, shot)
    assert np.ptp(made[:, 5, 5]) < 0.01  # the sky is grey
    assert made[0, 60, 150] - made[1, 60, 150] > 0.3  # and the red is not


def test_a_colour_that_the_shot_has_not_is_said_and_the_rest_proposed() -> None:
    answer = proposed(as_picture(np.repeat(CHINA[2:], 3, axis=0)), coat(FLOWER, (0.8, 0.1, 0.12)))
    assert "no such colour" in answer.words and answer.proposals[0].kind == "grey"


def test_how_far_is_one_amount() -> None:
    reference = under(FLOWER, ("gradient-map", {"stops": HEAT}))
    whole, half = (proposed(CHINA, reference, far=far).proposals[0].look for far in (100, 50))
    assert [b.amount for b in half.bundles] == [50] and {p.bundle for p in half.passes} == {half.bundles[0].id}
    between = (on(whole, CHINA) + CHINA) / 2
    assert np.abs(on(half, CHINA) - between).max() < 0.01


def test_two_shots_of_one_scene_are_matched() -> None:
    """One is a stop darker and 1500 K warmer."""
    other = under(CHINA, ("exposure", {"stops": -1}), ("white-balance", {"temperature": 5000}))
    first = proposed(other, CHINA, same_scene=True).proposals[0]
    assert apart(on(first.look, other), CHINA) < 0.3 * apart(other, CHINA)


@pytest.mark.parametrize(
    ("picture", "words"),
    [
        (np.zeros((3, 40, 60)), "all black"),
        (np.ones((3, 40, 60)), "all white"),
        (np.full((3, 40, 60), 0.4), "all of one colour"),
        (np.full((3, 1, 1), 0.4), "1 × 1 pixels"),
        (np.random.default_rng(1).random((3, 120, 160)), "mere noise"),
    ],
    ids=["black", "white", "one colour", "one pixel", "noise"],
)
def test_a_picture_that_tells_nothing_is_said_to(picture: np.ndarray, words: str) -> None:
    assert words in tells_nothing(as_picture(picture))
    with pytest.raises(BadLook, match=words):
        proposed(CHINA, as_picture(picture))
    with pytest.raises(BadLook, match="nothing to go by"):
        proposed(as_picture(picture), CHINA)


def test_a_photograph_tells_something() -> None:
    assert tells_nothing(CHINA) == tells_nothing(FLOWER) == ""


def test_bars_are_left_out() -> None:
    barred = np.zeros((3, CHINA.shape[1] + 60, CHINA.shape[2] + 20), np.float32)
    barred[:, 30:-30, 10:-10] = CHINA
    assert without_bars(barred).shape == CHINA.shape
    assert np.abs(measured([barred]).luma.mean() - measured([CHINA]).luma.mean()) < 0.01
    assert without_bars(as_picture(np.zeros((3, 20, 20)))).shape == (3, 20, 20)


@given(st.floats(0.2, 3), st.floats(-0.3, 0.3), st.sampled_from([0.3, 1.0]))
@settings(max_examples=25, deadline=None)
def test_tone_curves_rise_within_bounds(gain: float, offset: float, trust: float) -> None:
    points = tone_curve(measured([CHINA], 2000), measured([as_picture(np.clip(FLOWER * gain + offset, 0, 1))], 2000), trust)
    xs, ys = np.array(points).T
    slopes = np.diff(ys) / np.diff(xs)
    assert ys.min() >= 0 and ys.max() <= 100 and slopes.min() >= -1e-9 and slopes.max() <= MOST_SLOPE + 0.1
    inner = (ys[:-1] > ys.min()) & (ys[1:] < ys.max())  # at its ends it is held to those of the reference
    assert (slopes[inner] >= LEAST_SLOPE - 0.1).all()


def test_quantiles_are_those_of_numpy_where_all_weigh_the_same() -> None:
    seen = measured([FLOWER])
    even = type(seen)(seen.rgb, seen.lab, np.full(seen.weight.shape, 1 / len(seen.weight)))
    shares = np.array([0.1, 0.5, 0.9])
    assert np.allclose(even.quantiles(even.luma, shares), np.quantile(even.luma, shares), atol=1e-3)


def test_a_plain_photograph_is_of_no_special_kind() -> None:
    assert recognised(measured([CHINA])).kind == recognised(measured([FLOWER])).kind == "graded"
