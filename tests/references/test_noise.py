"""Noise of footage, and the calming of chroma, against outside libraries and pictures whose noise is known."""

import io

import cv2
import numpy as np
import pytest
from PIL import Image
from skimage.restoration import estimate_sigma

from wenditas.core.film import Footage
from wenditas.core.measure.noise import block_steps, noise_of, robust_sigma, sigma_of
from wenditas.core.select.denoise import NEARNESS, Noise, denoised


def smooth_picture(size: tuple[int, int] = (256, 320)) -> np.ndarray:
    rows, columns = np.mgrid[0 : size[0], 0 : size[1]] / 256
    return np.stack([0.5 + 0.3 * np.sin(4 * columns), 0.4 + 0.2 * np.cos(3 * rows), 0.5 + 0.2 * np.sin(5 * rows * columns)]).astype(np.float32)


@pytest.mark.parametrize("sigma", [0.003, 0.01, 0.05])
def test_robust_sigma_is_the_noise_that_was_added(sigma: float) -> None:
    """Donoho and Johnstone 1994; scikit-image's `estimate_sigma` does the same with another wavelet."""
    noisy = smooth_picture()[0] + sigma * np.random.default_rng(5).standard_normal((256, 320))
    assert robust_sigma(noisy) == pytest.approx(sigma, rel=0.05)
    assert robust_sigma(noisy) == pytest.approx(float(estimate_sigma(noisy)), rel=0.05)


def test_noise_in_chroma_is_measured_as_it_is_at_half_size() -> None:
    rng = np.random.default_rng(5)
    cb, cr = 0.02 * rng.standard_normal((2, 256, 320))
    red, blue = 1.5748 * cr, 1.8556 * cb
    noisy = smooth_picture() + np.stack([red, -(0.2126 * red + 0.0722 * blue) / 0.7152, blue])
    assert sigma_of(noisy.astype(np.float32)) == pytest.approx(0.01, rel=0.15)  # the mean of four has half the noise


def test_blocks_are_told_and_rise_with_the_coding() -> None:
    """JPEG by Pillow (libjpeg), whose blocks of chroma are those of ITU-T T.81: coarser coding is told as more error."""
    picture = (smooth_picture() * 255).astype(np.uint8).transpose(1, 2, 0)
    picture = np.clip(picture + np.random.default_rng(1).normal(0, 4, picture.shape), 0, 255).astype(np.uint8)
    found = []
    for quality in (98, 70, 40, 15):
        data = io.BytesIO()
        Image.fromarray(picture).save(data, "JPEG", quality=quality, subsampling="4:2:0")
        found.append(sigma_of((np.asarray(Image.open(data)).transpose(2, 0, 1) / 255).astype(np.float32)))
    assert found[1] < found[2] < found[3] and found[3] > 2 * found[0]
    assert block_steps(smooth_picture()[0]) < 1e-3


def test_calming_flat_noise_is_a_weighted_mean() -> None:
    """Far below its reach the filter is the mean with the weights of nearness: SciPy's correlation with the same weights, and known edges stay."""
    from scipy.ndimage import correlate

    rng = np.random.default_rng(3)
    cb, cr = 0.001 * rng.standard_normal((2, 60, 80))
    red, blue = 1.5748 * cr, 1.8556 * cb
    picture = (0.5 + np.stack([red, -(0.2126 * red + 0.0722 * blue) / 0.7152, blue])).astype(np.float32)
    after = denoised(picture, Noise(0.2, 60))
    half = picture.reshape(3, 30, 2, 40, 2).mean(axis=(2, 4))
    luma = np.tensordot((0.2126, 0.7152, 0.0722), half, 1)
    expected = correlate((half[2] - luma) / 1.8556, np.outer(NEARNESS, NEARNESS) / NEARNESS.sum() ** 2, mode="nearest")
    full = np.tensordot((0.2126, 0.7152, 0.0722), after, 1)
    lifted = cv2.resize(expected, (80, 60), interpolation=cv2.INTER_LINEAR)  # bilinear, centres aligned: joint upsampling where luma is even
    assert ((after[2] - full) / 1.8556)[4:-4, 4:-4] == pytest.approx(lifted[4:-4, 4:-4], abs=1e-4)


def test_noise_of_noise_is_bounded_where_it_is_measured() -> None:
    """A picture of coloured noise, which the model of footage did not take: nothing of it could be opened any more."""
    picture = np.kron(np.random.default_rng(1).integers(0, 2, (3, 16, 24)), np.ones((8, 8))).astype(np.float32)
    assert sigma_of(picture) > 1
    found = noise_of([picture])
    assert found.sigma == 1
    assert Footage(content="a", width=192, height=128, fps="24", frames=1, noise=found.sigma).noise == 1
