"""Tone treatments against OpenColorIO, SciPy, scikit-image, Pillow and worked values."""

import colour
import numpy as np
import PyOpenColorIO as ocio
import pytest
from PIL import Image, ImageOps
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter
from skimage.exposure import adjust_gamma, rescale_intensity

from tests.references.treating import by_ocio, noise, smooth, swatches, treat
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import as_picture
from wenditas.core.tone.curves import curve, ring
from wenditas.core.treat.rod_vision import MESOPIC_HIGH, MESOPIC_LOW, scotopic

POINTS = [(0, 0), (20, 35), (40, 38), (70, 90), (100, 80)]


def test_curve_equals_scipy_pchip() -> None:
    x, y = np.array(POINTS, float).T
    at = np.linspace(0, 100, 401)
    assert curve(POINTS, at) == pytest.approx(PchipInterpolator(x, y)(at), abs=1e-9)
    assert curve([(30, 5), (60, 9)], [0, 45, 100]).tolist() == [5, 7, 9]
    assert curve([(30, 5)], [0, 100]).tolist() == [5, 5]


def test_ring_equals_scipy_on_the_tripled_domain() -> None:
    points = [(10, 0), (100, 50), (200, -20), (300, 10)]
    x, y = np.array(points, float).T
    at = np.linspace(0, 360, 721)
    theirs = PchipInterpolator(np.concatenate([x - 360, x, x + 360]), np.tile(y, 3))(at % 360)
    assert ring(points, at) == pytest.approx(theirs, abs=1e-9)
    assert ring([(0, 5), (360, 7), (180, 1)], [0, 180]).tolist() == [7, 1]  # 0 and 360 are one place


def test_curves_equal_scipy_pchip() -> None:
    x, y = np.array(POINTS, float).T / 100
    once = PchipInterpolator(x, y)
    ours = treat("curves", noise(), master=POINTS, blue=[(0, 100), (100, 0)])
    wanted = once(noise().astype(float))
    assert ours[:2] == pytest.approx(wanted[:2], abs=1e-5)
    assert ours[2] == pytest.approx(1 - wanted[2], abs=1e-5)


def test_an_upright_curve_is_the_identity_and_goes_on_beyond_white() -> None:
    picture = np.array([-0.2, 0.0, 0.3, 1.0, 1.2], np.float32).reshape(1, 1, 5).repeat(3, axis=0)
    assert treat("curves", picture) == pytest.approx(picture, abs=1e-6)


@pytest.mark.parametrize("stops", [-2, 0, 1.5])
def test_exposure_equals_opencolorio(stops: float) -> None:
    group = ocio.GroupTransform()
    group.appendTransform(ocio.BuiltinTransform("DISPLAY - CIE-XYZ-D65_to_sRGB", ocio.TRANSFORM_DIR_INVERSE))
    group.appendTransform(ocio.ExposureContrastTransform(style=ocio.EXPOSURE_CONTRAST_LINEAR, exposure=stops, contrast=1.0, pivot=0.18))
    group.appendTransform(ocio.BuiltinTransform("DISPLAY - CIE-XYZ-D65_to_sRGB"))
    picture = noise() * 0.6  # stays below white, where that display transform limits
    assert treat("exposure", picture, stops=min(stops, 0.5)) == pytest.approx(
        colour.models.eotf_inverse_sRGB(colour.models.eotf_sRGB(picture) * 2 ** min(stops, 0.5)), abs=1e-4
    )
    if stops <= 0:
        assert treat("exposure", picture, stops=stops) == pytest.approx(by_ocio(group, picture), abs=2e-3)  # its curve is a table


def test_contrast_equals_a_matrix_with_offset() -> None:
    k, pivot = 1.6, 0.4
    m = [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0, 0, 0, 0, 1]
    transform = ocio.MatrixTransform(matrix=m, offset=[pivot * (1 - k)] * 3 + [0])
    assert treat("contrast", noise(), contrast=160, pivot=40) == pytest.approx(by_ocio(transform, noise()), abs=1e-5)


def test_levels_equal_scikit_image() -> None:
    stretched = rescale_intensity(noise().astype(float), in_range=(0.1, 0.8), out_range=(0, 1))
    wanted = adjust_gamma(np.clip(stretched, 0, 1), 1 / 1.8) * 0.7 + 0.2
    ours = treat("levels", np.minimum(noise(), 0.8), in_black=10, in_white=80, gamma=1.8, out_black=20, out_white=90)
    inside = noise() <= 0.8
    assert ours[inside] == pytest.approx(wanted[inside], abs=1e-4)


def test_cdl_equals_opencolorio() -> None:
    transform = ocio.CDLTransform(slope=[1.2, 0.9, 1.05], offset=[-0.04, 0.02, 0.1], power=[0.8, 1.3, 1.0], sat=1.4)
    transform.setStyle(ocio.CDL_ASC)
    numbers = {"slope_red": 1.2, "slope_green": 0.9, "slope_blue": 1.05, "offset_red": -0.04, "offset_green": 0.02, "offset_blue": 0.1}
    ours = treat("cdl", noise(), **numbers, power_red=0.8, power_green=1.3, saturation=1.4)
    assert ours == pytest.approx(by_ocio(transform, noise()), abs=1e-4)


def test_lift_gamma_gain_is_the_cdl_where_both_can_say_it() -> None:
    # lift l, gain g, gamma y: slope g (1 - l), offset g l, power 1 / y (algebra); OpenColorIO without limits above
    lift, gain, gamma = 0.1, 1.2, 1.5
    transform = ocio.CDLTransform(slope=[gain * (1 - lift)] * 3, offset=[gain * lift] * 3, power=[1 / gamma] * 3, sat=1)
    transform.setStyle(ocio.CDL_NO_CLAMP)
    assert treat("lift-gamma-gain", noise(), lift=lift, gain=gain, gamma=gamma) == pytest.approx(by_ocio(transform, noise()), abs=1e-4)
    assert treat("lift-gamma-gain", noise()) == pytest.approx(noise(), abs=1e-6)
    only_red = treat("lift-gamma-gain", noise(), gain_red=0.5, offset_blue=0.25)
    assert only_red == pytest.approx(noise() * np.array([0.5, 1, 1])[:, None, None] + np.array([0, 0, 0.25])[:, None, None], abs=1e-6)


def test_tone_zones_keep_luma_and_know_their_zone() -> None:
    ours = treat("tone-zones", noise(), shadows_tint=80, midtones_tint=40, highlights_tint=100)
    assert luma(ours) == pytest.approx(luma(noise()), abs=1e-5)  # tints have no luma of their own
    greys = swatches("rgb(5% 5% 5%)", "rgb(50% 50% 50%)", "rgb(96% 96% 96%)")
    tinted = treat("tone-zones", greys, shadows="#0000ff", shadows_tint=100)
    assert tinted[2, 0, 0] > 0.5 and tinted[:, 0, 1:] == pytest.approx(greys[:, 0, 1:], abs=1e-6)  # whites stay white
    one = treat("tone-zones", noise(), **{f"{z}_saturation": 40 for z in ("shadows", "midtones", "highlights")})
    assert one == pytest.approx(treat("saturation", noise(), saturation=40), abs=1e-5)


@pytest.mark.parametrize("highlights", [-100, 0, 100])
@pytest.mark.parametrize("shadows", [-100, 0, 100])
def test_highlights_and_shadows_never_turn_tones_round(highlights: float, shadows: float) -> None:
    ramp = np.linspace(0, 1, 201, dtype=np.float32).reshape(1, 1, -1).repeat(3, axis=0)
    out = treat("highlights-shadows", ramp, highlights=highlights, shadows=shadows)[0, 0]
    assert (np.diff(out) >= -1e-6).all() and out[0] == 0 and out[-1] == pytest.approx(1, abs=1e-6)
    assert out[1] / ramp[0, 0, 1] == pytest.approx(1 + shadows / 100, abs=0.02)


def test_scotopic_by_hand() -> None:
    # V = Y (1.33 (1 + (Y + Z) / X) - 1.68), worked by hand: Larson, Rushmeier & Piatko 1997
    assert scotopic(np.array([0.5, 0.4, 0.3])) == pytest.approx(0.4 * (1.33 * (1 + 0.7 / 0.5) - 1.68))  # 0.6048
    assert scotopic(np.array([0.9505, 1.0, 1.089])) == pytest.approx(2.573, abs=1e-3)
    assert scotopic(np.array([0.4, 0.2, 0.02])) == pytest.approx(0.2 * (1.33 * 1.55 - 1.68))  # 0.0763


def test_rods_see_colours_in_the_order_of_the_standard_observer() -> None:
    # CIE 1951 V' over V of colour-science falls from 500 nm (where rods see best) to 620 nm; shorter waves are beyond the estimate.
    v_dark = colour.SDS_LEFS["CIE 1951 Scotopic Standard Observer"]
    v_light = colour.SDS_LEFS["CIE 1924 Photopic Standard Observer"]
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    ratio = {}
    for nm in (500, 540, 580, 620):
        x, y, z = cmfs[nm]
        ratio[nm] = (float(scotopic(np.array([x, y, z]))) / y, v_dark[nm] / v_light[nm])
    ours, theirs = zip(*ratio.values(), strict=True)
    assert list(np.argsort(ours)) == list(np.argsort(theirs))


def test_rod_vision_goes_from_colour_to_blue_grey() -> None:
    red = swatches("#a04030")
    assert treat("rod-vision", red, white=200) == pytest.approx(red, abs=0.02)  # all above the mesopic range but for its ramp's end
    dark = treat("rod-vision", red, white=MESOPIC_LOW, blue=0).ravel()
    assert np.ptp(dark) < 1e-3  # no colour
    blue = treat("rod-vision", red, white=MESOPIC_LOW, blue=100).ravel()
    assert blue[2] > blue[0] and pytest.approx(1000) == MESOPIC_HIGH / MESOPIC_LOW


def test_deband_smooths_steps_and_keeps_edges_and_the_mean() -> None:
    ramp = np.floor(np.linspace(0.3, 0.4, 1920, dtype=np.float32) * 64) / 64
    picture = np.tile(ramp, (3, 1080, 1))
    picture[:, :, 1600:] += 0.4
    out = treat("deband", picture, radius=40, threshold=8, dither=0)
    steps = np.flatnonzero(np.diff(ramp[:1500]))
    assert steps.size and np.abs(np.diff(out[0, 540]))[steps].max() < 0.2 * np.diff(ramp[:1500]).max()
    assert out[0, 540, 1700] - out[0, 540, 1500] > 0.4
    wanted = gaussian_filter(picture[0, 540, :1400].astype(float), 20, mode="nearest")  # SciPy, where nothing is an edge
    assert out[0, 540, 100:1300] == pytest.approx(wanted[100:1300], abs=2e-3)
    dithered = treat("deband", picture, radius=0, dither=4)
    assert dithered.mean() == pytest.approx(picture.mean(), abs=1e-4) and np.std(dithered - picture) == pytest.approx(4 / 255 / 12**0.5, rel=0.05)


def test_smooth_pictures_are_what_they_say() -> None:
    assert 0.04 < smooth().min() < smooth().max() < 0.96


def test_solarize_equals_pillow_and_its_negative_too() -> None:
    # Pillow's ImageOps.solarize inverts values of 8 bits from a threshold on; ImageOps.invert all of them.
    codes = np.arange(256, dtype=np.uint8).reshape(1, -1).repeat(3, axis=0).reshape(3, 1, 256)
    image = Image.fromarray(np.ascontiguousarray(codes.transpose(1, 2, 0)))
    for threshold in (1, 64, 128, 200):
        wanted = np.asarray(ImageOps.solarize(image, threshold)).transpose(2, 0, 1)
        ours = treat("solarize", as_picture(codes / 255), level=100 * (threshold - 0.5) / 255, way="inverted")
        assert np.array_equal(np.round(ours * 255).astype(np.uint8), wanted), threshold
    negative = treat("solarize", as_picture(codes / 255), level=0, way="inverted")
    assert np.array_equal(np.round(negative * 255).astype(np.uint8), np.asarray(ImageOps.invert(image)).transpose(2, 0, 1))


def test_solarize_folds_at_its_level_and_comes_up_to_white() -> None:
    ramp = np.linspace(0, 1, 101, dtype=np.float32).reshape(1, 1, -1).repeat(3, axis=0)
    wanted = np.interp(np.linspace(0, 1, 101), [0, 0.6, 1], [0, 0.6, 0.2])  # NumPy
    assert treat("solarize", ramp, level=60)[0, 0] == pytest.approx(wanted, abs=1e-6)
    assert treat("solarize", ramp, level=60, white=True)[0, 0] == pytest.approx(wanted / 0.6, abs=1e-5)
