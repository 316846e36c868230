"""Code values to pictures and back: kernels against the plain formulas of BT.709."""

import numpy as np
import pytest

from wenditas.core.colour.ycbcr import LUMA_601, LUMA_709, Signal, rgb_from_ycbcr, ycbcr_from_rgb
from wenditas.media.convert import DITHER, Out420, Planes, to_jpeg_planes, to_rgb8

SIGNALS = [Signal(), Signal(LUMA_601), Signal(LUMA_601, True), Signal(LUMA_709, False, 10)]


@pytest.mark.parametrize("signal", SIGNALS)
def test_load_444_is_the_formula(signal: Signal) -> None:
    rng = np.random.default_rng(1)
    dtype = np.uint8 if signal.bits == 8 else np.uint16
    codes = rng.integers(0, 2**signal.bits, (3, 11, 24), dtype=dtype)
    picture = Planes(tuple(np.ascontiguousarray(c) for c in codes), 19, 11, (False, False), signal).picture()
    assert picture.shape == (3, 11, 19)
    assert picture == pytest.approx(rgb_from_ycbcr(codes[:, :, :19], signal), abs=1e-5)


def test_load_420_places_chroma_left() -> None:
    """On even columns the chroma sample itself, between them the mean; vertically a quarter from the nearer line."""
    luma = np.full((8, 8), 126, np.uint8)
    cb = np.tile(np.array([100, 120, 140, 160], np.uint8), (4, 1))
    cr = np.tile(np.array([[100], [120], [140], [160]], np.uint8), (1, 4))
    picture = Planes((luma, cb, cr), 8, 8, (True, True), Signal()).picture()
    codes = ycbcr_from_rgb(picture, Signal())
    assert codes[1, 0] == pytest.approx([100, 110, 120, 130, 140, 150, 160, 160], abs=1e-3)
    assert codes[2, :, 0] == pytest.approx([100, 105, 115, 125, 135, 145, 155, 160], abs=1e-3)


def test_store_then_load_is_the_same_picture() -> None:
    y, x = np.mgrid[0:32, 0:48] / 48
    picture = np.stack([0.2 + 0.5 * x, 0.8 - 0.4 * y, 0.3 + 0.2 * x * y]).astype(np.float32)
    planes = tuple(np.zeros(s, np.uint8) for s in ((32, 48), (16, 24), (16, 24)))
    Out420(planes, Signal()).store(0, picture)
    back = Planes(planes, 48, 32, (True, True), Signal()).picture()
    assert np.abs(back - picture)[:, :, 1:-1].max() < 0.02
    assert np.abs((back - picture).mean()) < 1e-3  # dither keeps the mean


def test_greys_stay_grey_and_odd_sizes_are_completed() -> None:
    picture = np.random.default_rng(0).random((1, 5, 7)).repeat(3, 0).astype(np.float32)
    planes = tuple(np.zeros(s, np.uint8) for s in ((6, 8), (3, 4), (3, 4)))
    Out420(planes, Signal()).store(0, picture)
    assert (planes[1] == 128).all() and (planes[2] == 128).all()
    assert np.array_equal(planes[0][:, 7] // 4, planes[0][:, 6] // 4) or np.abs(planes[0][:5, 7].astype(int) - planes[0][:5, 6]).max() <= 1


def test_limits() -> None:
    for value, code in ((-5.0, 16), (0.0, 16), (1.0, 235), (9.0, 235)):
        planes = tuple(np.zeros(s, np.uint8) for s in ((2, 2), (1, 1), (1, 1)))
        Out420(planes, Signal()).store(0, np.full((3, 2, 2), value, np.float32))
        assert (planes[0] == code).all()
        assert (to_rgb8(np.full((3, 2, 2), value, np.float32)) == (0 if code == 16 else 255)).all()


def test_dither_keeps_the_mean_of_a_slow_ramp() -> None:
    """Ordered dither (Bayer 1973): over its 8 x 8 cell the mean of the code values is the value itself."""
    y, x = np.mgrid[0:8, 0:8]
    for level in (0.1002, 0.5, 0.7431):
        out = to_rgb8(np.stack([level + 1e-6 * (x + 8 * y - 31.5)] * 3).astype(np.float32))  # all of one value it would be a level, which stays exact
        assert out.mean() == pytest.approx(level * 255, abs=1 / 64)
    assert sorted(DITHER.ravel()) == pytest.approx((np.arange(64) + 0.5) / 64)


def test_jpeg_planes_are_jfif() -> None:
    """JFIF 1.02: Y = 0.299 R + 0.587 G + 0.114 B; Cb = -0.1687 R - 0.3313 G + 0.5 B + 128."""
    rgb = np.random.default_rng(3).random((3, 16, 16), np.float32)
    y, cb, cr = to_jpeg_planes(rgb)
    r, g, b = rgb * 255
    assert y == pytest.approx(0.299 * r + 0.587 * g + 0.114 * b, abs=1.01)
    assert cb == pytest.approx(-0.1687 * r - 0.3313 * g + 0.5 * b + 128, abs=1.05)
    assert cr == pytest.approx(0.5 * r - 0.4187 * g - 0.0813 * b + 128, abs=1.05)
