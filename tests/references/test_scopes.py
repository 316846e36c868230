"""Scopes on synthetic bars and ramps (BT.709-6; SMPTE RP 219 bars for the vectorscope's places)."""

import numpy as np
import pytest
from scipy.stats import binned_statistic_2d

from tests.references.treating import noise
from wenditas.core.colour.ycbcr import Signal, luma, ycbcr_from_rgb
from wenditas.core.measure.scopes import CHROMA, HEIGHT, HIGH, LOW, SCOPES, SIDE, WIDTH, chroma_of, columns_of, histogram_of, scope_picture

BARS = ((0.75, 0.75, 0.75), (0.75, 0.75, 0), (0, 0.75, 0.75), (0, 0.75, 0), (0.75, 0, 0.75), (0.75, 0, 0), (0, 0, 0.75))


def ones(picture: np.ndarray) -> np.ndarray:
    return np.ones(picture.shape[1:], np.float32)


def test_a_ramp_is_a_diagonal_in_the_waveform() -> None:
    ramp = np.tile(np.linspace(0, 1, 512, dtype=np.float32), (3, 20, 1))
    counts = columns_of(ramp[0], ones(ramp))
    assert counts.shape == (HEIGHT, WIDTH) and counts.sum() == ramp[0].size
    levels = HIGH - counts.argmax(axis=0) / (HEIGHT - 1) * (HIGH - LOW)
    assert levels == pytest.approx(np.linspace(0, 1, WIDTH), abs=1.5 / HEIGHT)


def test_columns_equal_scipy_binning() -> None:
    plane = noise(30, 256)[0]
    counts = columns_of(plane, ones(noise(30, 256)))
    x = np.tile(np.arange(256), (30, 1))
    edges = LOW + (np.arange(HEIGHT + 1) - 0.5) / (HEIGHT - 1) * (HIGH - LOW)
    theirs = binned_statistic_2d(plane.ravel(), x.ravel(), None, "count", bins=[edges, np.arange(257) - 0.5]).statistic[::-1]
    assert np.abs(counts - theirs).sum() < 10  # a pixel on an edge falls on either side


def test_bars_lie_in_the_vectorscope_where_bt_709_puts_them() -> None:
    for bar in BARS:
        picture = np.array(bar, np.float32).reshape(3, 1, 1)
        counts = chroma_of(picture, ones(picture))
        row, column = (int(v) for v in np.argwhere(counts)[0])
        _, cb, cr = ycbcr_from_rgb(bar, Signal())
        assert (column + 0.5 - SIDE / 2) / (SIDE / 2) * CHROMA == pytest.approx((cb - 128) / 224, abs=CHROMA / SIDE * 2)
        assert -(row + 0.5 - SIDE / 2) / (SIDE / 2) * CHROMA == pytest.approx((cr - 128) / 224, abs=CHROMA / SIDE * 2)


def test_histogram_equals_numpy_and_knows_the_matte() -> None:
    picture = noise(40, 50)
    shares = histogram_of(picture[1], ones(picture))
    theirs, _ = np.histogram(picture[1], 256, (0, 1))
    assert shares == pytest.approx(theirs / picture[1].size, abs=1e-6) and shares.sum() == pytest.approx(1)
    half = np.zeros(picture.shape[1:], np.float32)
    half[:, :25] = 1
    assert histogram_of(picture[1], half) == pytest.approx(np.histogram(picture[1][:, :25], 256, (0, 1))[0] / 1000, abs=1e-6)


@pytest.mark.parametrize("scope", SCOPES)
def test_scopes_draw_something_of_any_picture(scope) -> None:
    for picture in (noise(), noise(1, 1), np.full((3, 4, 4), 7, np.float32), np.full((3, 4, 4), -3, np.float32)):
        drawn = scope_picture(scope, picture)
        assert drawn.dtype == np.uint8 and drawn.shape[2] == 3 and drawn.max() > 60
    assert scope_picture(scope, noise(), np.zeros((24, 31), np.float32)).max() < 100  # nothing is covered


def test_parade_has_red_left_and_blue_right() -> None:
    drawn = scope_picture("parade", np.full((3, 9, 9), 0.5, np.float32)).astype(int)
    left, right = drawn[:, : WIDTH // 3].sum(axis=(0, 1)), drawn[:, -WIDTH // 3 :].sum(axis=(0, 1))
    assert left.argmax() == 0 and right.argmax() == 2
    assert luma([0.5, 0.5, 0.5]) == pytest.approx(0.5)
