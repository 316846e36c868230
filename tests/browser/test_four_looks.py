"""Four looks built from scratch through the interface, exported, and looked at in the file."""

from pathlib import Path

import numpy as np
import pytest
from coloraide import Color
from playwright.sync_api import expect

from tests.browser.conftest import BenchPage
from tests.rendering import rendered as render
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.ycbcr import luma

FIRST, LAST = 58, 63
TRAM, TRAM_SHADED, SKY = (0.27, 0.795), (0.39, 0.79), (0.12, 0.18)


def at(picture: np.ndarray, x: float, y: float) -> np.ndarray:
    """The mean colour (0-1) of a small square of a frame `(h, w, 3)` at x, y (0-1)."""
    row, column = int(y * picture.shape[0]), int(x * picture.shape[1])
    return picture[row - 3 : row + 4, column - 3 : column + 4].reshape(-1, 3).mean(axis=0) / 255


def equals_the_core(bench: BenchPage, frames: list[np.ndarray], first: int) -> None:
    """The file holds what the core renders by itself, within what encoding loses."""
    look, source = bench.look(), bench.source()
    for n in (0, len(frames) - 1):
        wanted = np.clip(render(look, first + n, source), 0, 1).transpose(1, 2, 0) * 255
        apart = np.abs(frames[n].astype(float) - wanted)
        assert apart.mean() < 3 and np.quantile(apart, 0.95) < 12, apart.mean()


def sources(bench: BenchPage, first: int, count: int) -> list[np.ndarray]:
    reader = bench.source()
    return [reader.picture(first + n).transpose(1, 2, 0) * 255 for n in range(count)]


@pytest.mark.long(found_by="tests/references, each treatment against its source; test_two_ink_print drives the same doors")
@pytest.mark.another_shot
def test_colour_swap_with_glow(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    bench.go(60)
    bench.click(*TRAM)
    bench.click(*TRAM_SHADED)
    bench.add("Recolour")
    expect(bench.page.get_by_role("radiogroup", name="Applies to").get_by_role("radio", name="Inside")).to_be_checked()
    start = bench.page.get_by_label("From", exact=True).input_value()
    assert Color(start).convert("oklch")["hue"] < 45  # the mean of the picks, a red
    bench.type_in("To", "#2f6fb5")
    bench.add("Glow")
    bench.side("Inside")
    bench.set("Threshold in %", 20)
    bench.set("Strength in %", 150)
    assert bench.stages() == ["Source", "Recolour", "Glow"]
    frames = bench.export("Blue tram", FIRST, LAST, tmp_path / "swap.mp4")
    assert len(frames) == LAST - FIRST + 1
    equals_the_core(bench, frames, FIRST)
    before = sources(bench, FIRST, len(frames))
    target = Color("#2f6fb5").convert("oklch")["hue"]
    hue = Color("srgb", list(at(frames[2], *TRAM))).convert("oklch")["hue"]
    assert abs((hue - target + 180) % 360 - 180) < 15, hue  # the tram is as blue as the target
    assert np.abs(at(frames[2], *SKY) - at(before[2], *SKY)).max() < 0.03  # the sky is as it was
    assert at(frames[2], *TRAM).mean() >= at(before[2], *TRAM).mean() - 0.03  # and nothing was darkened
    assert problems == []


HEAT = ((0, "#000010"), (20, "#40108c"), (45, "#c8285a"), (70, "#f98a1e"), (100, "#fff4c0"))


@pytest.mark.long(
    found_by="tests/references, the gradient map against its source; stops are typed in test_editors.py, and test_two_ink_print drives the same doors"
)
@pytest.mark.another_shot("The kiln")
def test_heat_camera_with_five_typed_stops_reversed(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    bench.add("Gradient map")
    bench.page.get_by_role("slider", name="Stop 6 of 6").focus()
    bench.page.keyboard.press("Delete")
    expect(bench.page.get_by_text("of 5")).to_be_visible()
    for n, (position, colour) in enumerate(HEAT):
        bench.page.get_by_role("slider", name=f"Stop {n + 1} of 5").focus()
        bench.type_in("Stop colour", colour)
        bench.page.get_by_role("slider", name=f"Stop {n + 1} of 5").focus()
        bench.type_in("Stop position", str(position))
    stops = [(s["position"], s["colour"]) for s in bench.look().passes[0].params["stops"]]
    assert stops == list(HEAT)
    bench.page.get_by_role("button", name="Reverse").click()
    bench.wait_for_picture()
    stops = [(s["position"], s["colour"]) for s in bench.look().passes[0].params["stops"]]
    assert stops == [(100 - p, c) for p, c in reversed(HEAT)]
    frames = bench.export("Heat", 30, 34, tmp_path / "heat.mp4")
    equals_the_core(bench, frames, 30)
    grey = luma((sources(bench, 30, 1)[0] / 255).transpose(2, 0, 1))
    places = [p / 100 for p, _ in stops]
    wanted = np.stack([np.interp(grey, places, [rgb_from_hex(c)[k] for _, c in stops]) for k in range(3)], axis=-1)
    got = frames[0] / 255
    for low, high in ((0.02, 0.1), (0.1, 0.2), (0.2, 0.35), (0.35, 0.6), (0.6, 0.8)):  # along luma, in the order of the map
        here = (grey > low) & (grey <= high)
        assert here.sum() > 500 and np.abs(got[here].mean(axis=0) - wanted[here].mean(axis=0)).max() < 0.03
    assert got[grey < 0.1].mean() > got[grey > 0.6].mean()  # reversed: what was dark is light
    assert problems == []


@pytest.mark.long(found_by="tests/references of duotones and screens; test_heat_camera_with_five_typed_stops_reversed drives the same editors")
@pytest.mark.another_shot("The marionette")
def test_two_ink_print(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    bench.add("Monochrome")
    bench.add("Curves")
    bench.preset("Strong S-curve")
    bench.add("Duotone")
    bench.choose("Printed", "ink by ink")
    bench.type_in("Dark ink", "#14285a")
    bench.type_in("Light ink", "rgb(242 182 50)")  # any CSS colour
    assert bench.look().passes[2].params["light"] == "#f2b632"
    assert bench.stages() == ["Source", "Monochrome", "Curves", "Duotone"]
    frames = bench.export("Print", 40, 43, tmp_path / "print.mp4")
    equals_the_core(bench, frames, 40)
    # Two inks only: every pixel is the light ink at some strength, or where that is darker the dark one.
    dark, light = rgb_from_hex("#14285a"), rgb_from_hex("#f2b632")
    printed = np.maximum(np.linspace(0, 1, 129)[:, None] * light, dark)
    pixels = frames[0][::8, ::8].reshape(-1, 3) / 255
    apart = np.abs(pixels[:, None] - printed[None]).max(axis=2).min(axis=1)
    assert np.quantile(apart, 0.97) < 0.06
    strength = np.abs(pixels[:, None] - printed[None]).max(axis=2).argmin(axis=1) / 128
    assert (np.abs(pixels - dark).max(axis=1) < 0.12).mean() > 0.15 and (strength > 0.7).mean() > 0.3
    assert problems == []


@pytest.mark.long(found_by="tests/references, each treatment against its source; tests/api/test_shelf_and_files.py puts this look on")
@pytest.mark.another_shot("Orchard path")
def test_day_for_night(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    bench.add("Exposure")
    bench.set("Exposure in EV", -1.4)
    bench.add("Highlights and shadows")
    bench.set("Highlights in %", -60)
    bench.add("Saturation")
    bench.set("Saturation in %", 40)
    bench.add("Tone zones")
    bench.preset("Blue night shadows")
    bench.add("Curves")
    bench.preset("S-curve")
    assert bench.stages()[1:] == ["Exposure", "Highlights and shadows", "Saturation", "Tone zones", "Curves"]
    frames = bench.export("Night", 50, 53, tmp_path / "night.mp4")
    equals_the_core(bench, frames, 50)
    day, night = (np.asarray(f).reshape(-1, 3) / 255 for f in (sources(bench, 50, 1)[0], frames[0]))
    assert luma(night.T).mean() < 0.65 * luma(day.T).mean()  # darker
    assert (night[:, 2] - night[:, 0]).mean() > 0.02 > (day[:, 2] - day[:, 0]).mean()  # and blue
    dark = luma(day.T) < np.quantile(luma(day.T), 0.2)
    light = luma(day.T) > np.quantile(luma(day.T), 0.95)
    lean = (night[:, 2] - night[:, 0]) / np.maximum(night.max(axis=1), 0.02)
    assert lean[dark].mean() > lean[light].mean()  # most in the shadows, least in the highlights
    assert problems == []
