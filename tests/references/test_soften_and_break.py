"""Softening and breaking against SciPy, scikit-image, OpenCV and NumPy."""

import cv2
import numpy as np
import pytest
from coloraide import Color
from scipy.ndimage import affine_transform, gaussian_filter, shift, uniform_filter1d
from scipy.stats import binomtest, kstest
from skimage.filters import unsharp_mask

from tests.references.treating import noise, pixels_of, smooth, treat
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.select.matte import Moment
from wenditas.core.tone.patterns import mixed, uniform

BLOCKS = {"density": 40, "across": 300, "width": 20, "height": 20}
STRAYS = {"share": 30, "distance": 200, "size": 5}
SCALE = 1080 / 216  # pixels of a 1080-line picture to one of 216 lines


def test_gaussian_blur_equals_scipy() -> None:
    picture = smooth(216, 300)
    for sigma in (1.5, 4, 12, 30):  # the wider ones are made on a smaller copy
        theirs = np.stack([gaussian_filter(p.astype(float), sigma, mode="nearest", truncate=4) for p in picture])
        assert treat("gaussian-blur", picture, radius=min(sigma * SCALE, 200)) == pytest.approx(theirs, abs=1e-4 if sigma < 5 else 2e-3)


def test_blur_in_linear_light_equals_scipy() -> None:
    picture = smooth(216, 300)
    light = np.stack([gaussian_filter(p, 4, mode="nearest", truncate=4) for p in srgb_decode(picture)])
    assert treat("gaussian-blur", picture, radius=4 * SCALE, light="in linear light") == pytest.approx(srgb_encode(light), abs=2e-4)


@pytest.mark.parametrize(("angle", "axis"), [(90, 2), (0, 1)])
def test_directional_blur_equals_a_box_along_the_axis(angle: float, axis: int) -> None:
    picture = smooth(216, 300)
    theirs = uniform_filter1d(picture.astype(float), 33, axis=axis, mode="nearest")
    ours = treat("directional-blur", picture, angle=angle, length=33 * SCALE)
    inside = (slice(None), slice(20, -20), slice(20, -20))  # beyond the frame ours carries on each half, SciPy the whole
    assert ours[inside] == pytest.approx(theirs[inside], abs=0.01)  # a box of 33 samples, ours continuous


def test_glow_equals_scipy_in_linear_light() -> None:
    picture = smooth(216, 300)
    light = srgb_decode(picture)
    y = np.tensordot([0.2126, 0.7152, 0.0722], light, axes=1)
    bright = light * np.maximum(y - srgb_decode(0.5), 0) / y
    theirs = srgb_encode(light + 0.6 * np.stack([gaussian_filter(p, 3, mode="nearest", truncate=4) for p in bright]))
    assert treat("glow", picture, threshold=50, radius=3 * SCALE, intensity=60) == pytest.approx(theirs, abs=3e-4)


def test_a_point_of_light_keeps_its_energy() -> None:
    picture = np.zeros((3, 216, 216), np.float32)
    picture[:, 108, 108] = 1
    added = srgb_decode(treat("glow", picture, threshold=0, radius=4 * SCALE, intensity=100)) - srgb_decode(picture)
    assert added[0].sum() == pytest.approx(1, rel=0.02)
    red = srgb_decode(treat("glow", picture, threshold=0, radius=4 * SCALE, tint="#ff0000")) - srgb_decode(picture)
    assert red[0].sum() > 0.7 and red[1:].sum() < 1e-3


def test_haze_equals_scipy_and_maximum() -> None:
    picture = smooth(216, 300)
    soft = np.stack([gaussian_filter(p.astype(float), 4, mode="nearest", truncate=4) for p in picture])
    wanted = np.maximum(soft, picture) * 0.8 + np.array(Color("#808890").coords())[:, None, None] * 0.2
    assert treat("haze", picture, radius=4 * SCALE, veil=20, colour="#808890") == pytest.approx(wanted, abs=1e-4)


def test_sharpen_equals_scikit_image() -> None:
    picture = smooth(216, 300)
    theirs = unsharp_mask(picture.astype(float), radius=2, amount=1.5, channel_axis=0, preserve_range=True)
    ours = treat("sharpen", picture, sharpness=150, radius=2 * SCALE)
    assert ours[:, 12:-12, 12:-12] == pytest.approx(theirs[:, 12:-12, 12:-12], abs=1e-4)  # theirs mirrors at the edge
    quiet = picture + np.random.default_rng(1).normal(0, 0.5 / 255, picture.shape).astype(np.float32)
    left = treat("sharpen", quiet, sharpness=400, radius=SCALE, threshold=8)
    assert np.abs(left - quiet).mean() < 1e-3  # noise below the threshold is not raised


def test_the_hash_is_even() -> None:
    values = uniform(np.arange(300)[None, :], np.arange(300)[:, None], 77)
    assert kstest(values.ravel(), "uniform").pvalue > 0.001  # SciPy, Kolmogorov-Smirnov
    power = np.abs(np.fft.fft2(values - values.mean())) ** 2
    assert power[1:8, 1:8].mean() == pytest.approx(power[100:150, 100:150].mean(), rel=0.5)  # white
    assert len(np.unique(mixed(np.arange(-50, 50), np.zeros(100), 5))) == 100


def test_grain_is_fair_and_knows_its_tones() -> None:
    flat = np.full((3, 540, 960), 0.5, np.float32)
    noisy = treat("grain", flat, strength=50, size=4, response=0) - 0.5
    assert abs(noisy.mean()) < 0.003 and np.ptp(noisy, axis=0).max() == 0  # no shift of tone; grey grain
    assert np.abs(treat("grain", np.zeros_like(flat), strength=50, response=100)).max() < 1e-6
    coloured = treat("grain", flat, strength=50, colour=100) - 0.5
    assert abs(np.corrcoef(coloured[0].ravel(), coloured[1].ravel())[0, 1]) < 0.02

    def at(frame: int, **params: object) -> np.ndarray:
        return treat("grain", flat, Moment(frame), **params)

    assert not np.array_equal(at(1), at(2)) and np.array_equal(at(1, moving=False), at(2, moving=False))
    assert not np.array_equal(at(1), at(1, seed=2))


def test_grain_has_its_size() -> None:
    flat = np.full((3, 1080, 400), 0.5, np.float32)
    for size in (4, 12):
        row = treat("grain", flat, size=size, strength=50)[0] - 0.5
        width = next(n for n in range(1, 60) if np.mean(row[:, n:] * row[:, :-n]) < 0.5 * row.var())
        assert 0.3 * size < width < size  # half the correlation is lost within a grain


def test_vignette_leaves_the_middle_and_darkens_corners_evenly() -> None:
    white = np.ones((3, 108, 192), np.float32)
    out = treat("vignette", white, strength=80, radius=0, softness=100)
    assert out[0, 54, 96] > 0.99 and out[0, 0, 0] == pytest.approx(0.2, abs=0.01)
    assert out == pytest.approx(out[:, ::-1, ::-1], abs=1e-6)
    circle = treat("vignette", white, strength=80, radius=20, softness=40, roundness=100)
    assert circle[0, 54 - 40, 96] == pytest.approx(circle[0, 54, 96 - 40], abs=0.01)
    assert treat("vignette", white * 0.5, strength=-100, radius=0, softness=1)[0, 0, 0] == pytest.approx(1)


def test_trails_equal_coloraide_and_the_mean() -> None:
    frames = {n: np.full((3, 1, 1), v, np.float32) for n, v in ((6, 0.9), (8, 0.2), (10, 0.5))}

    def trailed(combine: str) -> float:
        moment = Moment(10, lambda n: frames[n])
        return pixels_of(treat("trails", frames[10], moment, copies=2, spacing=2, fading=50, combine=combine))[0].coords()[0]

    def layered(mode: str) -> float:
        out = Color("srgb", [0.5] * 3)
        for weight, value in ((0.5, 0.2), (0.25, 0.9)):
            out = Color.layer([Color("srgb", [weight * value] * 3), out], blend=mode, space="srgb")
        return out.coords()[0]

    assert trailed("lighten") == pytest.approx(layered("lighten"), abs=1e-6)
    assert trailed("screen") == pytest.approx(layered("screen"), abs=1e-6)
    assert trailed("add") == pytest.approx(0.5 + 0.1 + 0.225, abs=1e-6)
    assert trailed("average") == pytest.approx(np.average([0.5, 0.2, 0.9], weights=[1, 0.5, 0.25]), abs=1e-6)


def test_trails_follow_the_passes_before_them() -> None:
    first = {"id": "a", "name": "a", "treatment": "curves", "params": {"master": [[0, 100], [100, 0]]}}
    second = {"id": "b", "name": "b", "treatment": "trails", "params": {"copies": 1, "spacing": 1, "fading": 0, "combine": "average"}}
    source = {4: np.full((3, 2, 2), 0.2, np.float32), 5: np.full((3, 2, 2), 0.4, np.float32)}
    moment = Moment(5, lambda n: source[n])
    running = apply_look(parse_look({"passes": [first, second]}), source[5], moment)
    assert running == pytest.approx((0.6 + 0.8) / 2, abs=1e-5)
    reading = apply_look(parse_look({"passes": [first, {**second, "reads": "source"}]}), source[5], moment)
    assert reading == pytest.approx(0.3, abs=1e-5)


def test_channel_offset_equals_scipy_shift() -> None:
    picture = noise(108, 90)
    ours = treat("channel-offset", picture, red_x=35, red_y=-12, green_x=0, blue_x=-50)
    theirs = [shift(p.astype(float), move, order=1, mode="nearest") for p, move in zip(picture, ((-1.2, 3.5), (0, 0), (0, -5)), strict=True)]
    assert ours == pytest.approx(np.stack(theirs), abs=1e-5)


def test_fringing_equals_scipy_affine() -> None:
    picture = smooth(108, 160)
    zoom = 1 / 1.05
    centre = np.array([53.5, 79.5])
    theirs = affine_transform(picture[0].astype(float), np.diag([zoom, zoom]), centre - zoom * centre, order=1, mode="nearest")
    ours = treat("radial-fringing", picture, strength=5)
    assert ours[0] == pytest.approx(theirs, abs=1e-5) and ours[1] == pytest.approx(picture[1], abs=1e-6)


def test_lens_distortion_equals_opencv() -> None:
    picture = smooth(108, 160)
    unit, k = 80.0, 0.4
    camera = np.array([[unit, 0, 79.5], [0, unit, 53.5], [0, 0, 1]])
    across, down = cv2.initUndistortRectifyMap(camera, np.array([k, 0, 0, 0]), None, camera, (160, 108), cv2.CV_32FC1)
    theirs = [cv2.remap(p, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE) for p in picture]
    assert treat("lens-distortion", picture, bulge=40, edge="stretch") == pytest.approx(np.stack(theirs), abs=5e-3)  # OpenCV places to 1/32 pixel
    black = treat("lens-distortion", picture, bulge=100, edge="black")
    assert black[:, 0, 0].max() == 0 and black[:, 54, 80].min() > 0


def test_blocks_end_at_multiples_of_their_size() -> None:
    # NumPy: what moves together begins and ends where a block does, counted from the corner, in pixels of 1080 lines.
    ramp = np.broadcast_to(np.arange(400, dtype=np.float32), (3, 1080, 400)).copy()
    moved = treat("block-displacement", ramp, width=40, height=90, density=100, across=30, down=0)[0] - ramp[0]
    inner = moved[:, 40:360]  # within 30 pixels of the rim there is nothing to be taken from
    assert set(np.flatnonzero(np.any(np.diff(inner, axis=1) != 0, axis=0)) + 41) <= set(range(80, 360, 40))
    assert set(np.flatnonzero(np.any(np.diff(inner, axis=0) != 0, axis=1)) + 1) <= set(range(90, 1080, 90))
    assert len(np.unique(inner)) > 20


@pytest.mark.parametrize(("id", "share", "params"), [("block-displacement", 0.4, BLOCKS), ("pixel-scatter", 0.3, STRAYS)])
def test_displaced_pixels_are_pixels_of_the_picture(id: str, share: float, params: dict) -> None:
    height, width = 216, 300
    picture = np.arange(height * width, dtype=np.float32).reshape(1, height, width).repeat(3, axis=0) / (height * width)
    out = treat(id, picture, **params)
    assert np.isin(np.round(out[0] * height * width).astype(int), np.arange(height * width)).all()
    cell = round((params.get("width") or params["size"]) / SCALE) or 1
    moved = (np.abs(out - picture)[0, ::cell, ::cell] > 1e-9).ravel()
    n = moved.size
    assert binomtest(int(moved.sum()), n, share).proportion_ci(0.9999).low < share + 0.05 and moved.mean() > share * 0.75  # some move by less than a pixel


def test_pixel_sort_equals_numpy_and_keeps_every_pixel() -> None:
    grey = noise(20, 40)[:1].repeat(3, axis=0)
    out = treat("pixel-sort", grey, low=0, high=100)
    assert np.array_equal(out[0], np.sort(grey[0], axis=1))
    down = treat("pixel-sort", grey, low=0, high=100, direction="up")
    assert np.array_equal(down[0], np.sort(grey[0], axis=0)[::-1])
    picture = noise(20, 40)
    some = treat("pixel-sort", picture, low=50)
    assert np.array_equal(np.sort(some.reshape(3, -1), axis=1), np.sort(picture.reshape(3, -1), axis=1))


def test_mirror_equals_flip() -> None:
    picture = noise(20, 40)
    out = treat("mirror", picture)
    assert np.array_equal(out[:, :, :20], picture[:, :, :20]) and out[:, :, 20:] == pytest.approx(np.flip(picture[:, :, :20], 2), abs=1e-6)
    out = treat("mirror", picture, side="bottom onto top")
    assert out[:, :10] == pytest.approx(np.flip(picture[:, 10:], 1), abs=1e-6)
