"""Every treatment of the list, by its declaration."""

import inspect
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from pydantic import ValidationError

import wenditas
from tests.core.treatments import FILES, one_pass, settings_of
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.look.reference import render_reference
from wenditas.core.params import describe
from wenditas.core.select.matte import Moment
from wenditas.core.tiles import single_threaded
from wenditas.core.treat import GROUPS, TREATMENTS
from wenditas.core.treat.record import At, beginning

EACH = pytest.mark.parametrize("treatment", TREATMENTS.values(), ids=list(TREATMENTS))
FRAME = 9
# Steps (levels, hard edges, hashed cells, sorted runs) may fall on either side where float32 and float64 differ in the last digit.
STEPPED = {"posterize", "gradient-map", "pixel-sort", "pixel-scatter", "block-displacement", "mirror"}
# Not within 1e-4: a wide blur is made on a smaller copy; OpenCV places samples to 1/32 of a pixel; steep powers and inverses raise float32's own error.
COARSE = {
    "glow": 4e-3,
    "gaussian-blur": 4e-3,
    "haze": 4e-3,
    "sharpen": 8e-3,
    "deband": 4e-3,
    "gradient-map": 8e-3,
    "overlay-picture": 0.04,
    "hue-bands": 1e-3,
    "place": 0.04,
    "lift-gamma-gain": 1e-3,
}


def earlier(number: int) -> np.ndarray:
    return np.random.default_rng(100 + number).random((3, 37, 53), np.float32)


def of_two_kinds(fast: np.ndarray, plain: np.ndarray, allowed: float, stepped: bool) -> bool:
    apart = np.abs(fast - plain) / np.maximum(1, np.abs(plain))
    return bool((apart > allowed).mean() < (0.002 if stepped else 1e-9))


@EACH
def test_kernel_equals_reference(treatment, random_picture: np.ndarray) -> None:
    moment = Moment(FRAME, earlier, files=FILES)
    for params in settings_of(treatment):
        look, parsed = one_pass(treatment, params), treatment.params.model_validate(params)
        others = tuple(earlier(max(FRAME + back, 0)) for back in treatment.looks(parsed))
        at = At(37, 53, phase=treatment.phase(parsed, FRAME), others=others, files=FILES)
        fast = apply_look(look, random_picture, moment)
        plain = render_reference(look, random_picture, at=at)
        assert np.isfinite(fast).all() and np.isfinite(plain).all(), params
        assert of_two_kinds(fast, plain, COARSE.get(treatment.id, 1e-4), treatment.id in STEPPED), (params, np.abs(fast - plain).max())


@EACH
def test_amount_nought_changes_nothing(treatment, random_picture: np.ndarray) -> None:
    for params in settings_of(treatment)[:6]:
        assert np.array_equal(apply_look(one_pass(treatment, params, amount=0), random_picture), random_picture)


@EACH
def test_neutral_values_give_back_the_input(treatment, random_picture: np.ndarray) -> None:
    """Bit for bit, and out of range too, whatever the other parameters are."""
    picture = random_picture * 3 - 1
    moment, plain = Moment(FRAME, earlier, files=FILES), describe(treatment.params)
    for neutral in treatment.neutral:
        values = {key: next(i for i in plain if i.key == key).default if callable(wanted) else wanted for key, wanted in neutral.items()}
        for params in settings_of(treatment):
            look = one_pass(treatment, {**params, **values})
            assert np.array_equal(apply_look(look, picture, moment), picture), params


BEYOND = {"glow", "trails"}  # the one may be set to take light from what lies above 100 % alone, the other takes means of frames that are limited first


@EACH
def test_what_changes_no_ordinary_picture_changes_no_extraordinary_one(treatment, random_picture: np.ndarray) -> None:
    """Values above 100 % and below 0 % are kept where everything else is: by what a treatment does, or as its neutral values."""
    beyond = random_picture * 3 - 1
    for params in settings_of(treatment):
        look = one_pass(treatment, params)
        if treatment.id in BEYOND:
            continue
        if np.abs(apply_look(look, random_picture, Moment(FRAME, lambda n: random_picture, files=FILES)) - random_picture).max() < 1e-4:
            assert np.abs(apply_look(look, beyond, Moment(FRAME, lambda n: beyond, files=FILES)) - beyond).max() < 1e-4, params


@EACH
@pytest.mark.parametrize("shape", [(3, 1, 1), (3, 0, 4), (3, 5, 2)])
def test_extreme_and_empty_input(treatment, shape: tuple[int, int, int]) -> None:
    for value in (0.0, 1.0, -4.0, 16.0):
        picture = np.full(shape, value, np.float32)
        for params in ({}, dict(treatment.example)):
            out = apply_look(one_pass(treatment, params), picture, Moment(FRAME, lambda n, picture=picture: picture, files=FILES))
            assert out.shape == shape and out.dtype == np.float32 and np.isfinite(out).all()


@EACH
def test_input_is_left_alone(treatment, random_picture: np.ndarray) -> None:
    before = random_picture.copy()
    apply_look(one_pass(treatment, dict(treatment.example)), random_picture)
    assert np.array_equal(before, random_picture)


@EACH
def test_same_bytes_whatever_the_workers(treatment, random_picture: np.ndarray) -> None:
    tall = np.tile(random_picture, (1, 24, 12))
    look = one_pass(treatment, dict(treatment.example))
    shared = apply_look(look, tall, Moment(FRAME))
    with single_threaded():
        assert apply_look(look, tall, Moment(FRAME)).tobytes() == shared.tobytes()


@EACH
def test_half_size_preview_matches_the_full_one_scaled_down(treatment) -> None:
    y, x = np.mgrid[0:216, 0:384] / 216
    smooth = np.stack([0.5 + 0.4 * np.sin(3 * x + 2 * y), 0.5 + 0.4 * np.cos(4 * y - x), 0.3 + 0.3 * np.sin(5 * x * y)]).astype(np.float32)
    half = np.ascontiguousarray(smooth.reshape(3, 108, 2, 192, 2).mean(axis=(2, 4)))
    look = one_pass(treatment, dict(treatment.example))
    full, small = apply_look(look, smooth), apply_look(look, half)
    apart = np.abs(full.reshape(3, 108, 2, 192, 2).mean(axis=(2, 4)) - small)
    if treatment.grainy:  # the pattern belongs to output pixels; tones must agree, not pixels
        assert abs(float(full.mean() - small.mean())) < 0.02
    elif treatment.id == "grain":  # cells of 0.4 and 0.8 pixels here: one averages grains, the other samples them
        assert abs(float(full.mean() - small.mean())) < 0.01
    else:
        assert np.quantile(apart, 0.99) < 0.02, apart.max()


@EACH
def test_example_shows_something(treatment, random_picture: np.ndarray) -> None:
    picture = np.tile(random_picture, (1, 8, 5))
    params = {**treatment.example, **({"lut": "cube"} if treatment.id == "lut" else {}), **({"picture": "still"} if treatment.id == "overlay-picture" else {})}
    look = one_pass(treatment, params)
    if treatment.id == "shot-laid-in":  # there is no other shot here: tests/references/test_placing.py lays one in
        return
    if treatment.reads_matte:
        box = {"id": "b", "name": "b", "kind": "rectangle", "points": [{"x": 200, "y": 200}, {"x": 600, "y": 800}]}
        look = parse_look(
            {"selections": [{"id": "s", "name": "s", "shapes": [box]}], "passes": [{**look.passes[0].model_dump(), "selection": "s", "side": "outside"}]}
        )
    out = apply_look(look, picture, Moment(FRAME, lambda n: np.tile(earlier(n), (1, 8, 5)), files=FILES))
    assert np.abs(out - picture).mean() > 0.001


@EACH
def test_what_moves_by_itself_says_so(treatment) -> None:
    """The same picture at many frames: something else comes out of it if and only if the treatment declares that it moves."""
    picture = np.random.default_rng(5).random((3, 48, 64), np.float32)
    for params in settings_of(treatment):
        look, parsed = one_pass(treatment, params), treatment.params.model_validate(params)
        shown = {n: apply_look(look, picture, Moment(n, lambda _: picture, files=FILES)).tobytes() for n in (0, 1, 7, 500)}
        for a, b in combinations(shown, 2):
            assert shown[a] == shown[b] or treatment.phase(parsed, a) != treatment.phase(parsed, b), params
    asked: list[int] = []
    params = treatment.params.model_validate(dict(treatment.example))
    apply_look(one_pass(treatment, dict(treatment.example)), picture, Moment(300, lambda n: (asked.append(n - 300), picture)[1], files=FILES))
    assert set(asked) == set(treatment.looks(params))


@EACH
def test_declaration_is_complete(treatment) -> None:
    assert treatment.name and treatment.summary.endswith(".") and treatment.source and treatment.check and treatment.group in GROUPS
    doc = inspect.getdoc(treatment.reference)
    assert doc and "Source:" in doc and "picture:" in doc and "Returns" in doc
    infos = describe(treatment.params)
    assert [i.key for i in infos] == list(treatment.params.model_fields)
    for info in infos:
        assert info.name and info.help.endswith(".") and info.step > 0
        if info.kind == "number":
            assert info.low <= info.default <= info.high
        if info.kind == "choice":
            assert len(info.choices) > 1 and info.default in info.choices
    for values in [*treatment.presets.values(), treatment.example]:
        treatment.params.model_validate(values)
    assert treatment.follows_picks is None or next(i.kind for i in infos if i.key == treatment.follows_picks) == "colour"
    assert beginning(treatment) != "from inside" or treatment.spreads


@EACH
def test_json_round_trip_and_limits(treatment) -> None:
    for params in settings_of(treatment):
        look = one_pass(treatment, params)
        assert parse_look(look.model_dump(mode="json")) == look
    for info in describe(treatment.params):
        bad: list[object] = [float("nan"), {}, None]
        bad += [info.low - 1, info.high + 1, float("inf"), "many"] if info.kind == "number" else []
        bad += ["sideways"] if info.kind == "choice" else []
        bad += ["red", "#12345", "#12345g"] if info.kind == "colour" else []
        bad += [[], [[5, 5], [5, 6]], [[50, 1], [10, 1]], [[1, float("nan")]], [[1]]] if info.kind == "curve" else []
        bad += [[], [{"position": 101, "colour": "#000000"}], [{"position": 1}]] if info.kind == "gradient" else []
        bad += [[], [{"hue": 400}], [{"id": "a"}, {"id": "a"}], [{}] * 13, [{"colour": "#000000"}]] if info.kind == "bands" else []
        for value in bad:
            with pytest.raises(ValidationError):
                treatment.params.model_validate({info.key: value})
    with pytest.raises(ValidationError):
        treatment.params.model_validate({"no-such-parameter": 1})


@EACH
def test_is_documented(treatment) -> None:
    text = (Path(wenditas.__file__).parent.parent / "docs" / "treatments.md").read_text("utf-8")
    assert f"### {treatment.name}\n" in text and treatment.source in text and treatment.check in text
    for info in describe(treatment.params):
        assert info.help in text


def test_every_group_has_treatments_in_order() -> None:
    groups = [t.group for t in TREATMENTS.values()]
    assert list(dict.fromkeys(groups)) == list(GROUPS) and groups == sorted(groups, key=GROUPS.index)
