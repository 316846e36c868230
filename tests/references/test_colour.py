"""Colour calculations against sources outside this project, each named."""

import colorsys

import numpy as np
import pytest
from coloraide import Color

from wenditas.core.colour.hsl import hsl_from_rgb, rgb_from_hsl
from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb, oklch_from_rgb, rgb_from_oklab
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.colour.ycbcr import LUMA_601, LUMA_709, Signal, luma, rgb_from_ycbcr, ycbcr_from_rgb

COLOURS = np.random.default_rng(21).random((3, 200))
EXTREME = np.array([[-2.0, -0.5, 0.0, 1.0, 3.0]] * 3)


def coloraide(space: str) -> np.ndarray:
    return np.array([Color("srgb", list(c)).convert(space)[:3] for c in COLOURS.T]).T


# sRGB transfer: IEC 61966-2-1, by coloraide (general-purpose library), and the standard's own corner points.


def test_srgb_transfer_against_coloraide() -> None:
    assert srgb_decode(COLOURS) == pytest.approx(coloraide("srgb-linear"), abs=1e-9)


def test_srgb_transfer_known_values_and_inverse() -> None:
    # The two branches meet at 0.04045 / 0.0031308 (IEC 61966-2-1, 5.2) to the precision of these constants.
    assert float(srgb_decode(0.04045)) == pytest.approx(0.0031308, abs=1e-6)
    assert float(srgb_decode(1.0)) == pytest.approx(1.0)
    assert srgb_encode(srgb_decode(EXTREME)) == pytest.approx(EXTREME, abs=1e-6)
    assert np.isnan(srgb_decode(np.nan))
    assert srgb_decode(np.zeros((3, 0, 2))).shape == (3, 0, 2)


# Oklab: the table published with the space (Ottosson 2020, "Table of example XYZ and Oklab pairs"), from memory.

XYZ_TO_OKLAB = [
    ((0.950, 1.000, 1.089), (1.000, 0.000, 0.000)),
    ((1.000, 0.000, 0.000), (0.450, 1.236, -0.019)),
    ((0.000, 1.000, 0.000), (0.922, -0.671, 0.263)),
    ((0.000, 0.000, 1.000), (0.153, -1.415, -0.449)),
]
RGB_FROM_XYZ = np.array(  # IEC 61966-2-1, 5.2, inverse of the RGB to XYZ matrix
    [[3.2404542, -1.5371385, -0.4985314], [-0.9692660, 1.8760108, 0.0415560], [0.0556434, -0.2040259, 1.0572252]]
)


@pytest.mark.parametrize(("xyz", "lab"), XYZ_TO_OKLAB)
def test_oklab_published_samples(xyz: tuple[float, ...], lab: tuple[float, ...]) -> None:
    rgb = srgb_encode(RGB_FROM_XYZ @ np.array(xyz))
    assert oklab_from_rgb(rgb) == pytest.approx(np.array(lab), abs=2e-3)  # the table has three decimals


def test_oklab_against_coloraide() -> None:
    assert oklab_from_rgb(COLOURS) == pytest.approx(coloraide("oklab"), abs=1e-4)


def test_oklch_against_coloraide() -> None:
    theirs = coloraide("oklch")
    ours = oklch_from_rgb(COLOURS)
    assert ours[:2] == pytest.approx(theirs[:2], abs=1e-4)
    assert hue_distance(ours[2], theirs[2]).max() < 0.05  # degrees; the hue of the greyest sample is the worst


def test_oklab_against_colour_science() -> None:
    colour = pytest.importorskip("colour")
    theirs = colour.XYZ_to_Oklab(colour.sRGB_to_XYZ(COLOURS.T)).T
    # It goes through XYZ with the matrices of 2020 rounded to four decimals, hence 2e-4.
    assert oklab_from_rgb(COLOURS) == pytest.approx(theirs, abs=2e-4)


def test_oklab_inverse_shapes_and_nan() -> None:
    assert rgb_from_oklab(oklab_from_rgb(COLOURS)) == pytest.approx(COLOURS, abs=1e-6)
    assert rgb_from_oklab(oklab_from_rgb(EXTREME)) == pytest.approx(EXTREME, abs=1e-5)
    assert oklch_from_rgb(np.zeros((3, 2, 5))).shape == (3, 2, 5)
    assert np.isnan(oklab_from_rgb([np.nan, 0, 0])).any()
    assert lch_from_lab([0.5, -0.1, 0.0])[2] == pytest.approx(180)


def test_hue_distance_goes_the_short_way_round() -> None:
    assert hue_distance([350, 10, 180, 0], [10, 350, 0, 360]) == pytest.approx([20, 20, 180, 0])


# Luma and Y'CbCr: ITU-R BT.709; code values of 100 % colour bars, 8 bit (SMPTE RP 219 / EBU, common practice; from memory).

BARS_709 = {
    (1, 1, 1): (235, 128, 128),
    (1, 1, 0): (219, 16, 138),
    (0, 1, 1): (188, 154, 16),
    (0, 1, 0): (173, 42, 26),
    (1, 0, 1): (78, 214, 230),
    (1, 0, 0): (63, 102, 240),
    (0, 0, 1): (32, 240, 118),
    (0, 0, 0): (16, 128, 128),
}


@pytest.mark.parametrize(("rgb", "codes"), BARS_709.items())
def test_colour_bars(rgb: tuple[float, ...], codes: tuple[int, ...]) -> None:
    assert np.rint(ycbcr_from_rgb(rgb, Signal())).astype(int).tolist() == list(codes)
    ten_bit = ycbcr_from_rgb(rgb, Signal(bits=10))
    assert ten_bit == pytest.approx(4 * ycbcr_from_rgb(rgb, Signal()))


@pytest.mark.parametrize("signal", [Signal(), Signal(LUMA_601), Signal(LUMA_601, True), Signal(LUMA_709, True, 10)])
def test_ycbcr_round_trip(signal: Signal) -> None:
    for values in (COLOURS, EXTREME):
        assert rgb_from_ycbcr(ycbcr_from_rgb(values, signal), signal) == pytest.approx(values, abs=1e-9)


def test_ycbcr_against_colour_science() -> None:
    colour = pytest.importorskip("colour")
    weights = colour.WEIGHTS_YCBCR["ITU-R BT.709"]
    theirs = colour.RGB_to_YCbCr(COLOURS.T, K=weights, in_legal=False, in_int=False, out_bits=8, out_legal=True, out_int=True)
    assert pytest.approx(theirs, abs=1) == np.rint(ycbcr_from_rgb(COLOURS, Signal())).T


def test_luma_weights_sum_to_one() -> None:
    assert luma(np.ones(3)) == pytest.approx(1) and luma(np.ones(3), LUMA_601) == pytest.approx(1)


# HSL: Python's own colorsys, and coloraide.


def test_hsl_against_colorsys() -> None:
    theirs = np.array([colorsys.rgb_to_hls(*c) for c in COLOURS.T]).T
    hue, saturation, lightness = hsl_from_rgb(COLOURS)
    assert hue / 360 == pytest.approx(theirs[0], abs=1e-9)
    assert lightness == pytest.approx(theirs[1], abs=1e-9) and saturation == pytest.approx(theirs[2], abs=1e-9)


def test_hsl_against_coloraide_and_inverse() -> None:
    assert hsl_from_rgb(COLOURS) == pytest.approx(coloraide("hsl"), abs=1e-6)
    assert rgb_from_hsl(hsl_from_rgb(COLOURS)) == pytest.approx(COLOURS, abs=1e-9)
    assert hsl_from_rgb([0.4, 0.4, 0.4]).tolist() == [0, 0, 0.4]
