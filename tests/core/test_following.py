"""Following edges: the kernel against its reference, what it mends, and what it leaves alone."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.following import BAND, disputed, followed, followed_reference

NOISE = Noise(0.01, 0)


def disc(height: int, width: int, radius: float) -> Matte:
    """A disc in the middle, antialiased."""
    y, x = np.mgrid[0:height, 0:width]
    return np.clip(radius - np.hypot(y - height / 2, x - width / 2) + 0.5, 0, 1).astype(np.float32)


def painted(cover: Matte, noise: float = 0.01) -> Picture:
    """A red disc on grey, with noise."""
    dice = np.random.default_rng(3)
    colours = np.array([[0.8, 0.2, 0.2], [0.5, 0.5, 0.5]])
    picture = cover * colours[0][:, None, None] + (1 - cover) * colours[1][:, None, None]
    return (picture + dice.normal(0, noise, picture.shape)).astype(np.float32)


def frayed(matte: Matte, seed: int = 5) -> Matte:
    """The matte with an edge that is off by a few pixels, here inwards, there outwards: as chroma in blocks gives it."""
    dice = np.random.default_rng(seed)
    rows, columns = (n // 8 + 1 for n in matte.shape)
    shift = cv2.resize(dice.uniform(-4, 4, (rows, columns, 2)).astype(np.float32), matte.shape[::-1], interpolation=cv2.INTER_NEAREST)
    y, x = np.mgrid[0 : matte.shape[0], 0 : matte.shape[1]].astype(np.float32)
    return np.asarray(cv2.remap(matte, x + shift[..., 0], y + shift[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))


@settings(max_examples=25, deadline=None)
@given(st.integers(3, 40), st.integers(3, 70), st.integers(0, 10_000), st.sampled_from([0, 20, 200]), st.sampled_from([1.0, 0.5]))
def test_the_kernel_equals_its_reference(height: int, width: int, seed: int, lines: int, share: float) -> None:
    dice = np.random.default_rng(seed)
    matte = cv2.GaussianBlur((dice.random((height, width)) > 0.5).astype(np.float32), (0, 0), 0.8)
    matte = np.clip((matte - 0.5) * 4 + 0.5, 0, 1).astype(np.float32)
    picture = dice.random((3, height, width)).astype(np.float32)
    noise = Noise(0.05, lines)
    assert followed(matte, picture, noise, share) == pytest.approx(followed_reference(matte, picture, noise, share), abs=2e-4)


def test_a_frayed_edge_comes_back_to_the_picture() -> None:
    """The error of an edge that was moved by up to four pixels falls to less than a half."""
    true = disc(120, 160, 40)
    picture, matte = painted(true), frayed(true)
    before, after = np.abs(matte - true).mean(), np.abs(followed(matte, picture, NOISE) - true).mean()
    assert after < 0.5 * before


def test_far_from_the_edge_nothing_changes() -> None:
    true = disc(120, 160, 40)
    matte = followed(true, painted(true), NOISE)
    far = ~disputed(true, BAND + 3)
    assert np.array_equal(matte[far], true[far])


def test_a_ramp_stays_a_ramp() -> None:
    """A matte that falls off over forty pixels is meant to: none of it is hardened."""
    ramp = np.tile(np.clip((np.arange(200) - 80) / 40, 0, 1).astype(np.float32), (60, 1))
    assert np.array_equal(followed(ramp, painted(ramp), NOISE), ramp)


def test_clean_footage_and_no_share_stay() -> None:
    true = disc(60, 80, 20)
    matte = frayed(true)
    assert followed(matte, painted(true), NO_NOISE) is matte and followed(matte, painted(true), NOISE, 0) is matte


def test_what_is_no_number_stays_inside_the_matte() -> None:
    true = disc(60, 80, 20)
    picture = painted(true)
    picture[:, 20:40, 20:40] = np.nan
    matte = followed(true, picture, NOISE)
    assert np.isfinite(matte).all() and matte.min() >= 0 and matte.max() <= 1
