"""Removing and shifting colours against coloraide, OpenColorIO and colour-science."""

import colour
import numpy as np
import PyOpenColorIO as ocio
import pytest
from coloraide import Color
from scipy.interpolate import PchipInterpolator

from tests.references.treating import by_ocio, noise, pixels_of, swatches, treat
from wenditas.core.treat.hue_bands import EIGHT
from wenditas.core.treat.white_balance import NEUTRAL, XYZ_FROM_RGB, WhiteBalance, adaptation, locus, white

MILD = ("#a05a50", "#8a7a4a", "#5a8a62", "#4f7390", "#7a5f8c", "#8c5f70")  # well inside sRGB, so that nothing needs to give way


@pytest.mark.parametrize("percent", [0, 35, 100, 160, 200])
def test_saturation_equals_asc_cdl(percent: float) -> None:
    # OpenColorIO, ASC CDL 1.2 without its limits to 0-1, as our pictures are not limited here.
    transform = ocio.CDLTransform(slope=[1, 1, 1], offset=[0, 0, 0], power=[1, 1, 1], sat=percent / 100)
    transform.setStyle(ocio.CDL_NO_CLAMP)
    assert treat("saturation", noise(), saturation=percent) == pytest.approx(by_ocio(transform, noise()), abs=1e-4)


def test_monochrome_is_luma() -> None:
    # BT.709-6, 3.2
    assert treat("monochrome", swatches("red", "lime", "blue"))[1, 0] == pytest.approx([0.2126, 0.7152, 0.0722], abs=1e-6)


@pytest.mark.parametrize("degrees", [-90, 40, 180])
def test_hue_shift_equals_coloraide(degrees: float) -> None:
    for ours, start in zip(pixels_of(treat("hue-shift", swatches(*MILD), shift=degrees)), MILD, strict=True):
        theirs = Color(start).convert("oklch").set("hue", lambda h: h + degrees).convert("srgb")
        assert ours.coords() == pytest.approx(theirs.coords(), abs=1e-4)


def test_hue_shift_keeps_lightness_even_where_chroma_gives_way() -> None:
    loud = ("red", "lime", "blue", "yellow", "magenta")
    for ours, start in zip(pixels_of(treat("hue-shift", swatches(*loud), shift=75)), loud, strict=True):
        assert ours.in_gamut(tolerance=1e-4)
        assert ours.convert("oklch")["lightness"] == pytest.approx(
            Color(start).convert("oklch")["lightness"], abs=0.06
        )  # along a straight line in linear light


def test_recolour_lands_on_the_target() -> None:
    # coloraide's OkLCh of both colours
    for chroma, lightness in ((100, 100), (100, 0), (0, 0)):
        (ours,) = pixels_of(treat("recolour", swatches("#a05a50"), original="#a05a50", target="#4f7390", chroma=chroma, lightness=lightness))
        got, old, new = ours.convert("oklch"), Color("#a05a50").convert("oklch"), Color("#4f7390").convert("oklch")
        assert got["hue"] == pytest.approx(new["hue"], abs=0.1)
        assert got["chroma"] == pytest.approx((new if chroma else old)["chroma"], abs=1e-3)
        assert got["lightness"] == pytest.approx((new if lightness else old)["lightness"], abs=1e-3)


def over_colour(changes: str, over: str, points: list[list[float]], *colours: str) -> list[Color]:
    """Colours under a curve over colour."""
    return pixels_of(treat("curves-over-colour", swatches(*colours), changes=changes, over=over, **{f"{changes}_over_{over}": points}))


def test_saturation_by_hue_scales_chroma_where_it_says() -> None:
    points = [[29, 0], [90, 100], [180, 100], [262, 50], [320, 100]]
    for ours, start in zip(over_colour("saturation", "hue", points, *MILD), MILD, strict=True):
        old, got = Color(start).convert("oklch"), ours.convert("oklch")
        x, y = np.array(points).T
        factor = PchipInterpolator(np.concatenate([x - 360, x, x + 360]), np.tile(y, 3))(old["hue"]) / 100
        assert got["chroma"] == pytest.approx(old["chroma"] * float(factor), abs=2e-4)
        assert got["lightness"] == pytest.approx(old["lightness"], abs=1e-4)


def eight(**red: float) -> list[dict]:
    return [{"id": name, "hue": hue, **(red if name == "red" else {})} for name, hue in EIGHT.items()]


def test_bands_at_ones_own_hues() -> None:
    """Three bands at typed hues: SciPy's cubic on the tripled domain between them, coloraide for what became of the colours."""
    bands = [{"hue": 40, "saturation": 40, "turn": 30}, {"hue": 130, "saturation": 100}, {"hue": 250, "saturation": 160, "lightness": 10}]
    x = np.array([b["hue"] for b in bands])
    for ours, start in zip(pixels_of(treat("hue-bands", swatches(*MILD), bands=bands)), MILD, strict=True):
        old, got = Color(start).convert("oklch"), ours.convert("oklch")
        for field, was, now, rest in (("saturation", 1, got["chroma"] / old["chroma"], 100), ("lightness", old["lightness"], got["lightness"], 0)):
            y = np.array([b.get(field, rest) for b in bands])
            value = float(PchipInterpolator(np.concatenate([x - 360, x, x + 360]), np.tile(y, 3))(old["hue"])) / 100
            assert now == pytest.approx(was * value if field == "saturation" else was + value, abs=3e-3)
    (all_grey,) = pixels_of(treat("hue-bands", swatches("oklch(60% 0.1 200)"), bands=[{"hue": 10, "saturation": 0}]))
    assert all_grey.convert("oklch")["chroma"] < 1e-3  # a single band counts for all hues


def test_bands_touch_their_own_hue_and_not_the_opposite() -> None:
    (red, teal) = pixels_of(treat("hue-bands", swatches("oklch(60% 0.1 29)", "oklch(60% 0.08 195)"), bands=eight(saturation=0)))
    assert red.convert("oklch")["chroma"] < 1e-3
    assert teal.convert("oklch")["chroma"] == pytest.approx(0.08, abs=1e-3)
    (red, teal) = pixels_of(treat("hue-bands", swatches("oklch(60% 0.08 29)", "oklch(60% 0.08 195)"), bands=eight(turn=60)))
    assert red.convert("oklch")["hue"] == pytest.approx(89, abs=0.3)
    assert teal.convert("oklch")["hue"] == pytest.approx(195, abs=0.3)
    (red, teal) = pixels_of(treat("hue-bands", swatches("oklch(60% 0.08 29)", "oklch(60% 0.08 195)"), bands=eight(lightness=-20)))
    assert red.convert("oklch")["lightness"] == pytest.approx(0.4, abs=1e-3)
    assert teal.convert("oklch")["lightness"] == pytest.approx(0.6, abs=1e-3)


def test_curves_over_hue_turn_and_lighten() -> None:
    (turned,) = over_colour("hue", "hue", [[100, 45], [280, 0]], "oklch(60% 0.08 100)")
    assert turned.convert("oklch")["hue"] == pytest.approx(145, abs=0.3)
    (lighter,) = over_colour("lightness", "hue", [[100, 15], [280, 0]], "oklch(60% 0.08 100)")
    assert lighter.convert("oklch")["lightness"] == pytest.approx(0.75, abs=1e-3)


def test_saturation_by_lightness_and_by_saturation() -> None:
    dark, light = "oklch(30% 0.05 50)", "oklch(80% 0.05 50)"
    got = over_colour("saturation", "lightness", [[0, 0], [30, 0], [80, 100], [100, 100]], dark, light)
    assert [c.convert("oklch")["chroma"] for c in got] == pytest.approx([0, 0.05], abs=1e-3)
    faint, loud = "oklch(60% 0.033 50)", "oklch(60% 0.099 50)"
    got = over_colour("saturation", "saturation", [[10, 50], [30, 100]], faint, loud)
    assert [c.convert("oklch")["chroma"] for c in got] == pytest.approx([0.0165, 0.099], abs=1e-3)


@pytest.mark.parametrize("over", ["lightness", "saturation"])
def test_hue_and_lightness_over_lightness_and_saturation(over: str) -> None:
    """coloraide's OkLCh before and after; SciPy's monotone cubic for the curve. Chroma over 0.33 is saturation, as the range of the curve says."""
    colours = ["oklch(40% 0.05 50)", "oklch(55% 0.066 140)", "oklch(70% 0.03 250)"]
    for changes, points, component in (("hue", [[0, 0], [50, 40], [100, -30]], "hue"), ("lightness", [[0, 0], [50, 12], [100, -10]], "lightness")):
        x, y = np.array(points, dtype=float).T
        for ours, start in zip(over_colour(changes, over, points, *colours), colours, strict=True):
            old, got = Color(start).convert("oklch"), ours.convert("oklch")
            at = old["lightness"] * 100 if over == "lightness" else old["chroma"] / 0.33 * 100
            by = float(PchipInterpolator(x, y)(at))
            assert got[component] == pytest.approx(old[component] + (by if changes == "hue" else by / 100), abs=0.4 if changes == "hue" else 2e-3)
            assert got["chroma"] == pytest.approx(old["chroma"], abs=1e-3)


@pytest.mark.parametrize("kelvin", [2500, 4000, 6500, 10000, 15000])
def test_locus_equals_colour_science(kelvin: float) -> None:
    assert locus(kelvin) == pytest.approx(colour.temperature.CCT_to_uv_Krystek1985(kelvin), abs=1e-6)


@pytest.mark.parametrize("params", [{}, {"temperature": 3200}, {"temperature": 9000, "tint": 40}])
def test_white_balance_equals_bradford_of_colour_science(params: dict) -> None:
    p = WhiteBalance(**params)
    xyz = colour.adaptation.matrix_chromatic_adaptation_VonKries(white(NEUTRAL, 0), white(p.temperature, p.tint), transform="Bradford")
    wanted = np.linalg.inv(XYZ_FROM_RGB) @ xyz @ XYZ_FROM_RGB
    assert adaptation(p) == pytest.approx(wanted, abs=1e-4)
    light = colour.models.eotf_sRGB(noise())
    theirs = colour.models.eotf_inverse_sRGB(np.maximum(np.tensordot(wanted, light, axes=1), 0))
    ours = treat("white-balance", noise(), **params)
    assert np.maximum(ours, 0) == pytest.approx(theirs, abs=3e-4)  # near black the curve is steep


def test_white_balance_goes_the_right_way() -> None:
    grey = np.full((3, 1, 1), 0.5, np.float32)
    warm, cool, magenta = (treat("white-balance", grey, **p).ravel() for p in ({"temperature": 3500}, {"temperature": 12000}, {"tint": 60}))
    assert warm[0] > warm[2] and cool[0] < cool[2] and magenta[1] < min(magenta[0], magenta[2])
    assert treat("white-balance", grey).ravel() == pytest.approx([0.5] * 3, abs=1e-5)


def test_channel_mixer_equals_a_matrix() -> None:
    transform = ocio.MatrixTransform(matrix=[0.5, 0.2, 0.3, 0, 0, 1, 0, 0, -0.4, 0, 1.2, 0, 0, 0, 0, 1])
    ours = treat("channel-mixer", noise(), red_red=50, red_green=20, red_blue=30, green_red=0, green_green=100, blue_red=-40, blue_green=0, blue_blue=120)
    assert ours == pytest.approx(by_ocio(transform, noise()), abs=1e-5)
