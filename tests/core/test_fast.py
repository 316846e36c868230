"""The helpers that kernels are built from, held to their plain references."""

import numpy as np
import pytest

from wenditas.core.colour import fast
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.kernel import kernel
from wenditas.core.measure.chroma import light_and_chroma, light_and_chroma_reference


@kernel
def _over(x, which, out):
    for i in range(x.size):
        out[i] = fast.decode(x[i]) if which == 0 else fast.cube_root(x[i])


@kernel
def _angles(x, y, out):
    for i in range(x.size):
        out[i] = fast.angle(x[i], y[i])


@kernel
def _labs(rgb, out):
    for i in range(rgb.shape[1]):
        out[0, i], out[1, i], out[2, i] = fast.oklab(rgb[0, i], rgb[1, i], rgb[2, i])


def test_decode() -> None:
    x = np.linspace(0, 1.25, 20001, dtype=np.float32)
    decoded = _decoded(x)
    assert np.abs(decoded - srgb_decode(x)).max() < 4e-6
    assert np.abs(np.cbrt(decoded.astype(np.float64)) - np.cbrt(srgb_decode(x))).max() < 2e-6


def _decoded(x: np.ndarray) -> np.ndarray:
    out = np.empty_like(x)
    _over(x, 0, out)
    return out


def test_decode_limits_its_input() -> None:
    x = np.array([-3, -0.1, 1.25, 9], np.float32)
    top = float(srgb_decode(1.25))
    assert _decoded(x) == pytest.approx([0, 0, top, top], abs=5e-6)


def test_cube_root() -> None:
    x = np.concatenate([np.zeros(1), np.geomspace(1e-12, 8, 40000)]).astype(np.float32)
    out = np.empty_like(x)
    _over(x, 1, out)
    assert out[0] < 5e-7
    assert np.abs(out[1:] / np.cbrt(x[1:].astype(np.float64)) - 1).max() < 2e-7


def test_angle_over_the_half_circle() -> None:
    degrees = np.linspace(0, 180, 3601)
    x = (0.2 * np.cos(np.radians(degrees))).astype(np.float32)
    y = np.abs(0.2 * np.sin(np.radians(degrees))).astype(np.float32)
    out = np.empty_like(x)
    _angles(x, y, out)
    assert np.abs(out - degrees).max() < 2e-4


def test_angle_of_nothing_is_finite() -> None:
    out = np.empty(1, np.float32)
    _angles(np.zeros(1, np.float32), np.zeros(1, np.float32), out)
    assert np.isfinite(out).all()


def test_oklab_of_random_colours() -> None:
    rgb = np.random.default_rng(3).random((3, 20000), np.float32)
    out = np.empty_like(rgb)
    _labs(rgb, out)
    assert np.abs(out - oklab_from_rgb(rgb)).max() < 5e-6


def test_lightness_and_chroma() -> None:
    """Against the plain way, beyond 0-1 too, and at the steep beginning of the curve."""
    picture = np.random.default_rng(3).uniform(-0.2, 1.4, (3, 61, 83)).astype(np.float32)
    picture[:, :8] *= 0.01
    assert np.abs(light_and_chroma(picture) - light_and_chroma_reference(picture)).max() < 2e-5
