"""Maps and fills against NumPy, coloraide, matplotlib's published tables, Pillow and OpenColorIO (CSS: tests/browser/test_canvas.py)."""

import numpy as np
import PyOpenColorIO as ocio
import pytest
from coloraide import Color
from PIL import Image

from tests.references.treating import by_ocio, noise, pixels_of, smooth, swatches, treat
from wenditas.core.colour.hexes import hex_from_rgb, rgb_from_hex
from wenditas.core.colour.ycbcr import luma
from wenditas.core.files import Files
from wenditas.core.params import Stop
from wenditas.core.select.matte import Moment
from wenditas.core.tone.gradient import gradient
from wenditas.core.tone.lut import Lut, apply_lut
from wenditas.core.tone.palettes import PALETTES
from wenditas.core.tone.patterns import bayer, blue_noise
from wenditas.core.treat.overlay_picture import Still

STOPS = [
    {"position": 0, "colour": "#102040"},
    {"position": 35, "colour": "#c03020"},
    {"position": 35, "colour": "#20c0a0"},
    {"position": 100, "colour": "#fff0c0"},
]
RAMP = np.linspace(0, 1, 257, dtype=np.float32).reshape(1, 1, -1).repeat(3, axis=0)


def test_gradient_map_equals_numpy_interp() -> None:
    x = [s["position"] / 100 for s in STOPS]
    wanted = [np.interp(RAMP[0, 0], x, [int(s["colour"][n : n + 2], 16) / 255 for s in STOPS]) for n in (1, 3, 5)]
    ours = treat("gradient-map", RAMP, stops=STOPS)[:, 0]
    away = np.abs(RAMP[0, 0] - 0.35) > 0.001  # the hard edge falls between two samples
    assert ours[:, away] == pytest.approx(np.array(wanted)[:, away], abs=2e-4)


def test_mixing_in_oklab_equals_coloraide() -> None:
    stops = [Stop(position=0, colour="#2040c0"), Stop(position=100, colour="#e0c020")]
    ours = gradient(stops, [0.25, 0.5, 0.75], space="Oklab")
    theirs = [Color("#2040c0").mix("#e0c020", t, space="oklab").convert("srgb").coords() for t in (0.25, 0.5, 0.75)]
    assert pytest.approx(np.array(theirs), abs=1e-4) == ours.T


def test_a_slide_once_round_is_the_identity() -> None:
    for slide in (100, 200, -100):
        assert treat("gradient-map", RAMP, stops=STOPS, slide=slide) == pytest.approx(treat("gradient-map", RAMP, stops=STOPS), abs=1e-6)
    moved = treat("gradient-map", RAMP, stops=STOPS, slide=25)[:, 0]
    still = treat("gradient-map", RAMP, stops=STOPS)[:, 0]
    assert moved[:, 64 + 20] == pytest.approx(still[:, 20], abs=2e-3)  # a quarter of the palette along


def test_spacing_squeezes_transitions_into_hard_edges() -> None:
    hard = treat("gradient-map", RAMP, stops=[STOPS[0], STOPS[3]], spacing=100)[:, 0]
    assert len({tuple(np.round(c, 3)) for c in hard.T}) <= 3
    half = treat("gradient-map", RAMP, stops=[STOPS[0], STOPS[3]], spacing=50)[:, 0]
    assert half[:, 60] == pytest.approx(rgb_from_hex("#102040"), abs=1e-4) and half[:, 200] == pytest.approx(rgb_from_hex("#fff0c0"), abs=1e-4)


def test_stepped_holds_each_colour_until_the_next() -> None:
    stops = [Stop(**s) for s in STOPS]
    assert (
        pytest.approx(np.stack([rgb_from_hex(c) for c in ("#102040", "#102040", "#20c0a0", "#20c0a0")]))
        == gradient(stops, [0.2, 0.349, 0.35, 0.99], "stepped").T
    )


def test_inputs_of_the_map_equal_coloraide() -> None:
    grey = [{"position": 0, "colour": "#000000"}, {"position": 100, "colour": "#ffffff"}]
    colours = ("#a05a50", "#4f7390", "#8a7a4a")
    oklch = [Color(c).convert("oklch") for c in colours]
    wanted = {"lightness": [c["lightness"] for c in oklch], "hue": [c["hue"] / 360 for c in oklch], "saturation": [c["chroma"] / 0.33 for c in oklch]}
    wanted |= {"red": [Color(c).coords()[0] for c in colours], "blue": [Color(c).coords()[2] for c in colours]}
    for what, values in wanted.items():
        assert treat("gradient-map", swatches(*colours), stops=grey, input=what)[0, 0] == pytest.approx(values, abs=3e-4), what


def test_scientific_palettes_equal_the_published_tables() -> None:
    # matplotlib's tables (CC0), first, middle and last entries and the spacing of the rest, from memory of the published list.
    published = {
        "Viridis": ("#440154", "#fde725"),
        "Magma": ("#000004", "#fcfdbf"),
        "Inferno": ("#000004", "#fcffa4"),
        "Plasma": ("#0d0887", "#f0f921"),
        "Cividis": ("#00224e", "#fee838"),
    }
    for name, ends in published.items():
        palette = PALETTES[name]
        assert (palette[0][1], palette[-1][1]) == ends
        lightness = [Color(c).convert("oklab")["lightness"] for _, c in palette]
        steps = np.diff(lightness)
        assert (steps > 0).all() and steps.max() < 2.2 * steps.mean(), name  # perceptually even: lightness rises steadily


def test_every_palette_is_well_formed() -> None:
    for name, palette in PALETTES.items():
        places = [p for p, _ in palette]
        assert places == sorted(places) and places[0] == 0 and places[-1] == 100, name
        assert all(hex_from_rgb(rgb_from_hex(c)) == c for _, c in palette)


def test_duotone_equals_two_blend_modes() -> None:
    greys = [Color("srgb", [v] * 3) for v in np.linspace(0, 1, 9)]
    picture = np.linspace(0, 1, 9, dtype=np.float32).reshape(1, 1, -1).repeat(3, axis=0)
    ours = treat("duotone", picture, method="ink by ink", dark="#1d2b4f", light="#f2e3c6")
    for got, grey in zip(pixels_of(ours), greys, strict=True):
        light = Color.layer([Color("#f2e3c6"), grey], blend="multiply", space="srgb")
        both = Color.layer([Color("#1d2b4f"), light], blend="lighten", space="srgb")
        assert got.coords() == pytest.approx(both.coords(), abs=3e-4)


def test_duotone_ramp_and_tint_equal_a_straight_mixture() -> None:
    for id, names in (("duotone", ("dark", "light")), ("tint", ("darks", "lights"))):
        ours = treat(id, noise(), **dict(zip(names, ("#203050", "#f0e0c0"), strict=True)))
        grey = luma(noise())
        a, b = rgb_from_hex("#203050"), rgb_from_hex("#f0e0c0")
        wanted = np.stack([np.interp(grey, [0, 1], [a[c], b[c]]) for c in range(3)])
        assert ours == pytest.approx(wanted, abs=1e-5), id


def test_tritone_meets_its_middle_ink() -> None:
    for method in ("ramp", "ink by ink"):
        picture = np.full((3, 1, 1), 0.3, np.float32)
        ours = treat("duotone", picture, inks="three", method=method, dark="#000000", middle="#b3392b", light="#ffffff", place=30)
        assert ours.ravel() == pytest.approx(rgb_from_hex("#b3392b"), abs=2e-3)


def test_five_levels_at_nought_25_50_75_100() -> None:
    # Common practice: N levels at k * 100 / (N - 1) %, true black and white at the ends.
    assert sorted(set(np.round(treat("posterize", RAMP, levels=5)[0, 0], 4))) == [0, 0.25, 0.5, 0.75, 1]
    for levels in (2, 3, 8, 16):
        wanted = np.round(noise().astype(float) * (levels - 1)) / (levels - 1)
        assert (np.abs(treat("posterize", noise(), levels=levels, per="channel") - wanted) > 1e-5).mean() < 0.002  # NumPy, ties apart


def test_levels_take_their_colours() -> None:
    ours = treat("posterize", RAMP, levels=3, per="luma, a colour each", colours=["#102030", "#c04020", "#f0e0d0"])
    assert {hex_from_rgb(c) for c in ours[:, 0].T} == {"#102030", "#c04020", "#f0e0d0"}
    kept = treat("posterize", noise(), levels=4, per="luma, colour kept")
    assert luma(kept) == pytest.approx(np.round(luma(noise()) * 3) / 3, abs=1e-4)


@pytest.mark.parametrize("border", ["ordered", "blue noise", "random"])
def test_grains_keep_the_mean(border: str) -> None:
    # Dither at full strength: the mean of many pixels is the tone itself (Ulichney 1993).
    for tone in (0.1, 0.37, 0.8):
        flat = np.full((3, 256, 256), tone, np.float32)
        assert treat("posterize", flat, levels=3, border=border, strength=100, grain=1)[0].mean() == pytest.approx(tone, abs=0.01)


def test_bayer_is_the_published_matrix() -> None:
    assert (bayer(1) * 4 - 0.5).tolist() == [[0, 2], [3, 1]]  # Bayer 1973, order 2
    assert sorted((bayer(3) * 64 - 0.5).ravel().tolist()) == list(range(64))


def test_blue_noise_has_no_low_frequencies() -> None:
    pattern = blue_noise()
    assert sorted(np.round(pattern.ravel() * 4096 - 0.5).astype(int)) == list(range(4096))
    power = np.abs(np.fft.fftshift(np.fft.fft2(pattern - pattern.mean()))) ** 2
    y, x = np.mgrid[-32:32, -32:32]
    r = np.hypot(y, x)
    assert power[(r > 0) & (r < 8)].mean() < 0.05 * power[r > 20].mean()


def lut_of(size: int, seed: int = 8) -> Lut:
    rng = np.random.default_rng(seed)
    return Lut("t", rng.random((size, size, size, 3), np.float32))


@pytest.mark.parametrize("size", [2, 17, 33])
def test_lut_equals_opencolorio_tetrahedral(size: int) -> None:
    lut = lut_of(size)
    transform = ocio.Lut3DTransform(gridSize=size)
    transform.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    transform.setData(np.ascontiguousarray(lut.table.transpose(2, 1, 0, 3)).ravel())  # theirs: blue fastest
    moment = Moment(files=Files({"outside": lut}))
    picture = noise() * 1.4 - 0.2  # also outside the range
    assert treat("lut", picture, moment, lut="outside") == pytest.approx(by_ocio(transform, picture), abs=1e-4)
    assert apply_lut(picture, lut) == pytest.approx(by_ocio(transform, picture), abs=1e-4)


def test_line_lut_equals_opencolorio() -> None:
    table = np.random.default_rng(3).random((64, 3), np.float32)
    transform = ocio.Lut1DTransform(length=64, inputHalfDomain=False)
    transform.setInterpolation(ocio.INTERP_LINEAR)
    transform.setData(table.ravel())
    moment = Moment(files=Files({"outside-line": Lut("t", table)}))
    assert treat("lut", noise(), moment, lut="outside-line") == pytest.approx(by_ocio(transform, noise()), abs=1e-4)


def test_lut_with_a_range_of_its_own() -> None:
    table = np.array([[0, 0, 0], [1, 1, 1]], np.float32)
    moment = Moment(files=Files({"wide": Lut("t", table, (-1, 0, 0), (1, 2, 1))}))
    assert treat("lut", np.full((3, 1, 1), 0.5, np.float32), moment, lut="wide").ravel() == pytest.approx([0.75, 0.25, 0.5])


def test_solid_is_its_colour() -> None:
    assert treat("solid", smooth(), colour="#12c4a0")[:, 3, 4] == pytest.approx(Color("#12c4a0").coords(), abs=1e-6)


def test_gradients_lie_where_css_says() -> None:
    # CSS Images 3, 3.4.1: at 180 degrees the line runs from the middle of the top edge to that of the bottom.
    stops = [{"position": 0, "colour": "#000000"}, {"position": 100, "colour": "#ffffff"}]
    down = treat("linear-gradient", np.zeros((3, 50, 80), np.float32), stops=stops, angle=180)
    assert down[0, :, 7] == pytest.approx((np.arange(50) + 0.5) / 50, abs=1e-4)
    right = treat("linear-gradient", np.zeros((3, 50, 80), np.float32), stops=stops, angle=90)
    assert right[0, 9] == pytest.approx((np.arange(80) + 0.5) / 80, abs=1e-4)
    ring = treat("radial-gradient", np.zeros((3, 51, 81), np.float32), stops=stops, radius=50)
    assert ring[0, 25, 40] < 0.01 and ring[0, 0, 40] == pytest.approx(50 / 51, abs=1e-3) and ring[0, 0, 0] == 1


def test_overlay_equals_pillow() -> None:
    back = (noise(30, 40) * 255).round().astype(np.uint8)
    rgba = np.random.default_rng(6).integers(0, 256, (30, 40, 4), np.uint8)
    floats = rgba.astype(np.float32).transpose(2, 0, 1) / 255
    moment = Moment(files=Files({"rgba": Still(np.concatenate([floats[:3] * floats[3], floats[3:]]))}))
    theirs = Image.alpha_composite(Image.fromarray(back.transpose(1, 2, 0)).convert("RGBA"), Image.fromarray(rgba))
    ours = treat("overlay-picture", (back / np.float32(255)).astype(np.float32), moment, picture="rgba")
    assert ours * 255 == pytest.approx(np.asarray(theirs)[..., :3].transpose(2, 0, 1).astype(float), abs=1.01)  # Pillow rounds to bytes
    small = treat("overlay-picture", np.zeros((3, 60, 80), np.float32), moment, picture="rgba", size=50, centre_x=25, centre_y=75)
    assert small[:, :25].max() == 0 and small[:, :, 50:].max() == 0 and small[:, 45, 20].max() > 0
