"""Every treatment of the list, by its declaration."""

import inspect

import numpy as np
import pytest
from pydantic import ValidationError

from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.look.render import render_reference
from wenditas.core.params import describe
from wenditas.core.treat import TREATMENTS

EACH = pytest.mark.parametrize("treatment", TREATMENTS.values(), ids=list(TREATMENTS))


def settings_of(treatment) -> list[dict[str, float]]:
    """Defaults, every parameter low and high, random mixtures, presets."""
    infos = describe(treatment.params)
    rng = np.random.default_rng(11)
    found: list[dict[str, float]] = [{}]
    for info in infos:
        found += [{info.key: info.low}, {info.key: info.high}]
    found += [{i.key: float(rng.uniform(i.low, i.high)) for i in infos} for _ in range(3)]
    return found + [dict(p) for p in treatment.presets.values()]


def one_pass(treatment, params: dict[str, float], **more: object) -> Look:
    return parse_look({"passes": [{"id": "p", "name": "p", "treatment": treatment.id, "params": params, **more}]})


@EACH
def test_kernel_equals_reference(treatment, random_picture: np.ndarray) -> None:
    for params in settings_of(treatment):
        look = one_pass(treatment, params)
        fast = run_on_picture(compile_look(look), random_picture)
        assert np.abs(fast - render_reference(look, random_picture)).max() < 1e-5, params


@EACH
def test_amount_nought_changes_nothing(treatment, random_picture: np.ndarray) -> None:
    for params in settings_of(treatment):
        assert np.array_equal(run_on_picture(compile_look(one_pass(treatment, params, amount=0)), random_picture), random_picture)


@EACH
@pytest.mark.parametrize("shape", [(3, 1, 1), (3, 0, 4), (3, 5, 2)])
def test_extreme_and_empty_input(treatment, shape: tuple[int, int, int]) -> None:
    for value in (0.0, 1.0, -4.0, 16.0):
        out = run_on_picture(compile_look(one_pass(treatment, {})), np.full(shape, value, np.float32))
        assert out.shape == shape and out.dtype == np.float32 and np.isfinite(out).all()


@EACH
def test_input_is_left_alone(treatment, random_picture: np.ndarray) -> None:
    before = random_picture.copy()
    run_on_picture(compile_look(one_pass(treatment, settings_of(treatment)[1])), random_picture)
    assert np.array_equal(before, random_picture)


@EACH
def test_half_size_preview_matches_the_full_one_scaled_down(treatment) -> None:
    rng = np.random.default_rng(2)
    smooth = np.repeat(np.repeat(rng.random((3, 8, 8), np.float32), 16, axis=1), 16, axis=2)
    plan = compile_look(one_pass(treatment, settings_of(treatment)[-1]))
    full, half = run_on_picture(plan, smooth), run_on_picture(plan, np.ascontiguousarray(smooth[:, ::2, ::2]))
    assert np.abs(full.reshape(3, 64, 2, 64, 2).mean(axis=(2, 4)) - half).max() < 1e-5


@EACH
def test_declaration_is_complete(treatment) -> None:
    assert treatment.name and treatment.summary.endswith(".") and treatment.source
    assert inspect.getdoc(treatment.reference) and "Source:" in inspect.getdoc(treatment.reference)
    infos = describe(treatment.params)
    assert [i.key for i in infos] == list(treatment.params.model_fields)
    for info in infos:
        assert info.name and info.help.endswith(".") and info.low <= info.default <= info.high and info.step > 0
    for values in treatment.presets.values():
        treatment.params.model_validate(values)


@EACH
def test_json_round_trip_and_limits(treatment) -> None:
    look = one_pass(treatment, settings_of(treatment)[1])
    assert parse_look(look.model_dump(mode="json")) == look
    for info in describe(treatment.params):
        for bad in (info.low - 1, info.high + 1, float("nan"), float("inf"), "many"):
            with pytest.raises(ValidationError):
                treatment.params.model_validate({info.key: bad})
    with pytest.raises(ValidationError):
        treatment.params.model_validate({"no-such-parameter": 1})


def test_monochrome_known_values() -> None:
    picture = np.eye(3, dtype=np.float32)[:, None, :]  # red, green, blue
    grey = run_on_picture(compile_look(one_pass(TREATMENTS["monochrome"], {})), picture)
    assert grey[:, 0] == pytest.approx(np.tile([0.2126, 0.7152, 0.0722], (3, 1)), abs=1e-6)  # BT.709-6, 3.2
    red_only = run_on_picture(compile_look(one_pass(TREATMENTS["monochrome"], {"red": 100, "green": 0, "blue": 0})), picture)
    assert red_only[:, 0] == pytest.approx(np.tile([1.0, 0.0, 0.0], (3, 1)))


def test_saturation_known_values() -> None:
    picture = np.array([0.8, 0.2, 0.4], np.float32).reshape(3, 1, 1)
    assert run_on_picture(compile_look(one_pass(TREATMENTS["saturation"], {"saturation": 100})), picture) == pytest.approx(picture, abs=1e-6)
    grey = run_on_picture(compile_look(one_pass(TREATMENTS["saturation"], {"saturation": 0})), picture)
    assert grey.ravel() == pytest.approx([0.8 * 0.2126 + 0.2 * 0.7152 + 0.4 * 0.0722] * 3, abs=1e-6)
