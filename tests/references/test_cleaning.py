"""Cleaning against SciPy and scikit-image."""

import numpy as np
import pytest
from scipy import ndimage
from skimage import measure, morphology

from wenditas.core.select.choking import choke, choke_reference, extent, restless
from wenditas.core.select.clean import Cleaning, clean, fill_holes, levels, remove_islands, soften
from wenditas.core.select.distance import BLOCK, signed_distance, signed_distance_reference


def blobs(seed: int = 3, share: float = 60) -> np.ndarray:
    noise = ndimage.gaussian_filter(np.random.default_rng(seed).standard_normal((120, 160)), 3)
    return (noise > np.percentile(noise, share)).astype(np.float32)


@pytest.mark.parametrize("area", [1, 20, 90, 400, 1e9])
def test_remove_islands_is_area_opening(area: float) -> None:
    """scikit-image, label and regionprops: pieces (8-neighbours) of fewer pixels than the area go."""
    matte = blobs(share=85)
    labels = measure.label(matte > 0, connectivity=2)
    kept = np.zeros_like(matte)
    for region in measure.regionprops(labels):
        if region.area >= area:
            kept[labels == region.label] = 1
    assert np.array_equal(remove_islands(matte, area), kept)
    assert np.array_equal(fill_holes(1 - matte, area), 1 - kept)


def test_area_opening_by_name() -> None:
    matte = blobs(share=85)
    opened = morphology.area_opening(matte.astype(np.uint8), 50, connectivity=2)
    assert np.array_equal(remove_islands(matte, 50), opened.astype(np.float32))


def test_signed_distance_against_scipy() -> None:
    matte = blobs()
    inside = matte > 0.5
    theirs = np.where(inside, ndimage.distance_transform_edt(inside) - 0.5, 0.5 - ndimage.distance_transform_edt(~inside))
    assert np.abs(signed_distance(matte) - theirs).max() < 1e-3


def soft_blobs(seed: int, share: float = 70) -> np.ndarray:
    """Blobs with soft edges somewhere in a larger, even frame."""
    frame = np.zeros((200, 260), np.float32)
    frame[40:160, 50:210] = ndimage.gaussian_filter(blobs(seed, share), seed % 3)
    return frame


@pytest.mark.parametrize("seed", range(4))
def test_distance_is_the_same_by_the_kernel_and_by_the_reference(seed: int) -> None:
    matte = soft_blobs(seed)
    assert np.abs(signed_distance(matte) - signed_distance_reference(matte)).max() < 2e-3
    assert np.abs(signed_distance(matte.T.copy()).T - signed_distance_reference(matte)).max() < 2e-3


@pytest.mark.parametrize("matte", [np.zeros((3, 700), np.float32), np.ones((5, 4), np.float32), np.full((1, 1), 0.5, np.float32)])
def test_distance_where_there_is_no_edge(matte: np.ndarray) -> None:
    assert np.array_equal(signed_distance(matte), signed_distance_reference(matte))


@pytest.mark.parametrize("pixels", [-20.0, -2.5, 1.5, 9.0])
def test_choke_is_the_same_by_the_kernel_and_by_the_reference(pixels: float) -> None:
    """OpenCV's remap knows 32 places between two pixels, the kernel all; along the middle of narrow parts, where the normal is undefined, they may differ."""
    for seed in range(4):
        matte = soft_blobs(seed)
        for one in (matte, 1 - matte, np.ascontiguousarray(matte[60:140, 80:180])):
            off = np.abs(choke(one, pixels) - choke_reference(one, pixels))
            assert np.quantile(off, 0.999) < 0.05 and off.mean() < 1e-3


def test_edges_that_run_along_rows_or_along_columns_alone_are_found() -> None:
    """Stripes right across the frame: nothing differs from what is beside it, only from what is below, and the other way round."""
    stripe = np.zeros((120, 90), np.float32)
    stripe[50:80] = 1
    for one in (stripe, np.ascontiguousarray(stripe.T)):
        assert restless(one, 3).any()
        assert np.abs(choke(one, 6) - choke_reference(one, 6)).max() < 0.05
        assert soften(one, 3) == pytest.approx(ndimage.gaussian_filter(one, 3, mode="nearest", truncate=4), abs=2e-3)  # SciPy


def test_what_is_even_is_left_alone() -> None:
    matte = np.ones((90, 120), np.float32)
    assert not restless(matte, 3).any() and extent(restless(matte, 3)) is None and soften(matte, 9) is matte
    matte[30, 40] = 0.5
    blocks = restless(matte, 2.5)
    assert blocks.shape == (12, 15) and np.argwhere(blocks).min(axis=0).tolist() == [2, 3] and np.argwhere(blocks).max(axis=0).tolist() == [4, 6]
    assert extent(blocks) == (slice(16, 40), slice(24, 56))
    assert np.abs(soften(matte, 1) - ndimage.gaussian_filter(matte, 1, mode="nearest", truncate=4)).max() < 1e-5


def test_distance_is_exact_where_it_is_asked_for() -> None:
    matte = soft_blobs(1)
    near = restless(matte, 6)
    asked = np.kron(near, np.ones((BLOCK, BLOCK)))[: matte.shape[0], : matte.shape[1]] > 0
    assert asked.mean() < 0.9
    assert np.abs(signed_distance(matte, near) - signed_distance_reference(matte))[asked].max() < 2e-3


@pytest.mark.parametrize("pixels", [-6.5, -3, -0.5, 0.5, 2, 4.25, 9])
def test_choke_moves_the_edge_by_that_much(pixels: float) -> None:
    """A disc drawn with a soft edge: its area after choking is that of a disc with a smaller (greater) radius."""
    y, x = np.mgrid[0:161, 0:161]
    radius = 40.0
    disc = np.clip(radius + 0.5 - np.hypot(x - 80, y - 80), 0, 1).astype(np.float32)
    result = choke(disc, pixels)
    expected = np.pi * (radius - pixels) ** 2
    assert result.sum() == pytest.approx(expected, rel=0.02)
    assert result.min() >= 0 and result.max() <= 1


@pytest.mark.parametrize("pixels", [-5, -2, 2, 5])
def test_choke_of_any_form_against_scipy(pixels: float) -> None:
    """Pixels further in than the choke by SciPy's Euclidean distance transform, within a pixel of the edge."""
    matte = blobs(8)
    inside = matte > 0.5
    signed = np.where(inside, ndimage.distance_transform_edt(inside) - 0.5, 0.5 - ndimage.distance_transform_edt(~inside))
    result = choke(matte, pixels) > 0.5
    sure = np.abs(signed - pixels) > 1.5
    assert (result == (signed > pixels))[sure].mean() > 0.995


def test_choke_keeps_a_soft_edge_soft() -> None:
    ramp = np.clip((np.arange(100, dtype=np.float32) - 40) / 20, 0, 1)[None].repeat(40, 0)
    moved = choke(ramp, 6)
    assert moved[20, 20:80] == pytest.approx(np.roll(ramp[20], 6)[20:80], abs=0.03)


@pytest.mark.parametrize("matte", [np.zeros((9, 9), np.float32), np.ones((9, 9), np.float32), np.ones((1, 1), np.float32)])
def test_choke_of_nothing_and_everything(matte: np.ndarray) -> None:
    for pixels in (-3, 3):
        assert np.array_equal(choke(matte, pixels), matte)


@pytest.mark.parametrize("sigma", [0.5, 2.0, 6.0])
def test_soften_is_scipys_gaussian(sigma: float) -> None:
    matte = blobs()
    assert soften(matte, sigma) == pytest.approx(ndimage.gaussian_filter(matte, sigma, mode="nearest", truncate=4), abs=4e-3)


@pytest.mark.parametrize("sigma", [2.0, 5.0])
def test_softened_inwards_it_ends_where_the_edge_was(sigma: float) -> None:
    """At an edge two standard deviations from its middle a Gaussian has 2.3 % left (table of the normal distribution); outwards it has half."""
    matte = np.zeros((80, 120), np.float32)
    matte[:, :60] = 1
    outwards, inwards = (clean(matte, Cleaning(soften=sigma, inwards=way), 1)[40] for way in (False, True))
    assert 0.4 < outwards[59:61].mean() < 0.6 and inwards[59:61].mean() < 0.05
    assert inwards[60 - round(2 * sigma)] == pytest.approx(0.5, abs=0.15) and inwards[60 - round(5 * sigma)] > 0.99
    grown = clean(matte, Cleaning(soften=sigma, inwards=True, choke=-2 * sigma), 1)[40]  # a choke of one's own comes on top
    assert grown == pytest.approx(outwards, abs=0.06)


def test_levels_and_invert() -> None:
    ramp = np.linspace(0, 1, 11, dtype=np.float32)[None]
    assert levels(ramp, 0.2, 0.7)[0] == pytest.approx(np.interp(ramp[0], [0.2, 0.7], [0, 1]), abs=1e-6)
    assert set(levels(ramp, 0.5, 0.5)[0].tolist()) <= {0.0, 1.0}
    assert clean(ramp, Cleaning(invert=True), 1) == pytest.approx(1 - ramp)
    assert clean(ramp, Cleaning(), 1) is ramp


def test_lengths_scale_with_the_picture() -> None:
    """The same cleaning at half size gives the same matte at half size."""
    big = np.kron(blobs(5), np.ones((4, 4), np.float32))
    small = np.ascontiguousarray(big.reshape(240, 2, 320, 2).mean(axis=(1, 3)))
    settings = Cleaning(despeckle=30, fill_holes=20, choke=4, soften=5)
    full = clean(big, settings, 480 / 1080).reshape(240, 2, 320, 2).mean(axis=(1, 3))
    assert np.abs(full - clean(small, settings, 240 / 1080)).mean() < 0.02
