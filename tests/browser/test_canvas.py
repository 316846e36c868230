"""Blend modes and gradients against what the browser itself paints."""

import io
import json
from collections.abc import Iterator

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page

from tests.references.treating import treat
from wenditas.core.colour.blend import BLENDS, blend
from wenditas.core.params import Stop
from wenditas.core.tone.gradient import gradient
from wenditas.formats.gradients import NAMED


@pytest.fixture(scope="module")
def page(browser: Browser) -> Iterator[Page]:
    """One page for all that is painted."""
    found = browser.new_page()
    yield found
    found.close()


LEVELS = (0, 51, 102, 128, 204, 255)
ALPHAS = (0, 0.25, 0.6, 1)


def colours() -> list[tuple[int, int, int]]:
    rng = np.random.default_rng(9)
    corners = [(a, a, a) for a in LEVELS] + [(255, 0, 0), (0, 255, 0), (0, 0, 255), (255, 255, 0), (0, 255, 255), (255, 0, 255)]
    return corners + [tuple(int(v) for v in rng.choice(LEVELS, 3)) for _ in range(12)]


# What goes over goes as text: the library takes lists apart, number by number.
PAINT = """([mode, told]) => {
  const pairs = JSON.parse(told);
  const canvas = Object.assign(document.createElement('canvas'), { width: pairs.length, height: 1 });
  const c = canvas.getContext('2d', { willReadFrequently: true });
  pairs.forEach(([back, front, alpha], x) => {
    c.globalCompositeOperation = 'source-over';
    c.fillStyle = `rgb(${back})`;
    c.fillRect(x, 0, 1, 1);
    c.globalCompositeOperation = mode === 'normal' ? 'source-over' : mode;
    c.fillStyle = `rgba(${front}, ${alpha})`;
    c.fillRect(x, 0, 1, 1);
  });
  return c.getImageData(0, 0, pairs.length, 1).data.join(' ');
}"""


@pytest.mark.parametrize("mode", BLENDS)
def test_blend_modes_equal_the_canvas(page: Page, mode) -> None:
    # W3C Compositing and Blending Level 1 as the browser's canvas performs it (globalCompositeOperation).
    grid = [(b, f, a) for b in colours() for f in colours() for a in ALPHAS]
    told = page.evaluate(PAINT, [mode, json.dumps(grid)])
    theirs = np.array(told.split(), int).reshape(-1, 4)[:, :3]
    back, front = (np.array([g[n] for g in grid]).T / 255 for n in (0, 1))
    alpha = np.array([round(g[2] * 255) / 255 for g in grid])
    ours = (back + (blend(mode, back, front) - back) * alpha).T * 255
    # The canvas works on bytes, premultiplied by alpha: two steps of rounding; a nearly grey colour magnifies them in the last four.
    steep = mode in ("color-burn", "color-dodge", "hue", "saturation", "color", "luminosity")
    apart = np.abs(ours - theirs).max(axis=1)
    assert apart[alpha == 1].max() <= 2.01, grid[int(np.argmax(apart))]
    assert np.quantile(apart, 0.99) <= (5 if steep else 2.01)


STOPS = [Stop(position=p, colour=c) for p, c in ((8, "#102040"), (30, "#c03020"), (55, "#20c0a0"), (55, "#e0e020"), (92, "#fff0c0"))]
CSS = ", ".join(f"{s.colour} {s.position}%" for s in STOPS)


def painted(page: Page, css: str, width: int, height: int) -> np.ndarray:
    page.set_content(f"<body style='margin:0'><div id='g' style='width:{width}px;height:{height}px;background:{css}'></div></body>")
    shot = Image.open(io.BytesIO(page.locator("#g").screenshot())).convert("RGB")
    return np.asarray(shot).astype(float)


@pytest.mark.parametrize(("space", "words"), [("sRGB", ""), ("Oklab", " in oklab")])
def test_gradients_equal_css(page: Page, space, words: str) -> None:
    theirs = painted(page, f"linear-gradient(to right{words}, {CSS})", 800, 4)[2]
    ours = gradient(STOPS, (np.arange(800) + 0.5) / 800, "linear", space).T * 255
    away = np.abs((np.arange(800) + 0.5) / 800 - 0.55) > 0.003  # the hard edge
    assert np.abs(ours - theirs)[away].max() <= (1.6 if space == "sRGB" else 3)  # bytes; Chromium mixes Oklab through a table


def test_gradient_map_of_a_ramp_equals_css(page: Page) -> None:
    ramp = np.tile(((np.arange(640) + 0.5) / 640).astype(np.float32), (3, 1, 1))
    theirs = painted(page, f"linear-gradient(to right, {CSS})", 640, 4)[1]
    ours = treat("gradient-map", ramp, stops=[s.model_dump() for s in STOPS])[:, 0].T * 255
    away = np.abs(ramp[0, 0] - 0.55) > 0.004
    assert np.abs(ours - theirs)[away].max() <= 1.6


@pytest.mark.parametrize("angle", [0, 90, 135, 250])
def test_linear_gradient_fill_equals_css(page: Page, angle: int) -> None:
    stops = [{"position": 0, "colour": "#102040"}, {"position": 60, "colour": "#e0a020"}, {"position": 100, "colour": "#ffffff"}]
    theirs = painted(page, f"linear-gradient({angle}deg, #102040 0%, #e0a020 60%, #ffffff 100%)", 320, 180)
    ours = treat("linear-gradient", np.zeros((3, 180, 320), np.float32), stops=stops, angle=angle).transpose(1, 2, 0) * 255
    assert np.abs(ours - theirs).max() <= 2


def test_radial_gradient_fill_equals_css(page: Page) -> None:
    stops = [{"position": 0, "colour": "#f7d9a0"}, {"position": 100, "colour": "#1d1b26"}]
    theirs = painted(page, "radial-gradient(circle 90px at 30% 40%, #f7d9a0 0%, #1d1b26 100%)", 320, 180)
    ours = treat("radial-gradient", np.zeros((3, 180, 320), np.float32), stops=stops, radius=50, centre_x=30, centre_y=40).transpose(1, 2, 0) * 255
    assert np.abs(ours - theirs).max() <= 2


def test_named_colours_are_those_of_css(page: Page) -> None:
    script = """(names) => names.map((n) => {
      const d = document.body.appendChild(document.createElement('div'));
      d.style.color = n;
      return getComputedStyle(d).color;
    })"""
    for name, shown in zip(NAMED, page.evaluate(script, list(NAMED)), strict=True):
        assert json.loads("[" + shown.removeprefix("rgb(").removesuffix(")") + "]") == [int(NAMED[name][n : n + 2], 16) for n in (1, 3, 5)], name
