"""An object is stroked on the picture, carried through the shot, used by a pass, and taken back."""

from fractions import Fraction
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, expect

from tests.browser.conftest import BenchPage, Server
from tests.media.clips import RED
from wenditas.core.kernel import as_picture
from wenditas.media.writing.h264 import write_clip

WIDTH, HEIGHT, FRAMES = 320, 180, 24


def two_like_things(frame: int) -> np.ndarray:
    """Two red discs over a soft ground: one goes across, the other stands."""
    v, u = np.mgrid[0:HEIGHT, 0:WIDTH]
    out = np.stack([0.35 + 0.1 * np.sin(u / 23 + v / 17), 0.42 + 0.1 * np.sin(u / 31 - v / 13), 0.5 + 0.1 * np.cos(u / 19)])
    for x, y in ((60 + 5 * frame, 60), (250, 140)):
        cover = np.clip(24 - np.hypot(u - x, v - y) + 0.5, 0, 1)
        out = out * (1 - cover) + np.array(RED).reshape(3, 1, 1) / 255 * cover
    return out


def coloured(bench: BenchPage, x: float, y: float) -> bool:
    return bool(np.ptp(np.array(bench.pixel(x / WIDTH, y / HEIGHT), int)) > 60)


def test_one_of_two_like_things_keeps_its_colour(page: Page, server: Server, tmp_path: Path) -> None:
    clip = tmp_path / "two.mp4"
    write_clip(clip, [as_picture(two_like_things(n)) for n in range(FRAMES)], Fraction(24), ("20", "fast"))
    page.goto(server.url)
    page.get_by_label("Files to bring in").set_input_files(str(clip))
    card = page.get_by_role("listitem", name="two.mp4")
    expect(card).to_contain_text("24 frames", timeout=60_000)
    card.get_by_role("button", name="Open on the Bench", exact=True).click()
    bench = BenchPage(page, server)
    bench.wait_for_picture()
    bench.go(4)
    bench.click(80 / WIDTH, 60 / HEIGHT)  # a pick takes both
    page.get_by_role("button", name="Monochrome, outside").click()
    bench.wait_for_picture()
    assert coloured(bench, 80, 60) and coloured(bench, 250, 140) and not coloured(bench, 160, 90)
    page.get_by_role("button", name="Stroke one").click()
    bench.draw((70 / WIDTH, 60 / HEIGHT), (92 / WIDTH, 60 / HEIGHT))
    expect(page.locator("svg[aria-label='How sure the object is'][data-over=true]")).to_be_visible(timeout=60_000)
    expect(page.get_by_label("How far the object is carried")).to_contain_text("24 of 24 frames")
    bench.wait_for_picture()
    assert coloured(bench, 80, 60) and not coloured(bench, 250, 140)
    bench.go(20)
    assert coloured(bench, 160, 60) and not coloured(bench, 250, 140) and not coloured(bench, 80, 60)
    page.get_by_role("button", name="Do something with Object").click()
    page.get_by_role("menuitem", name="Make a shape of it here").click()
    expect(page.get_by_role("list", name="Shapes").get_by_role("listitem")).to_have_count(1)
    bench.wait_for_picture()
    assert coloured(bench, 160, 60) and not coloured(bench, 250, 140)
    page.get_by_role("list", name="Shapes").get_by_role("button", name="Do something with Object").click()
    page.get_by_role("menuitem", name="Make an object of it here").click()
    expect(page.get_by_role("list", name="Objects").get_by_role("listitem")).to_have_count(2)
    bench.wait_for_picture()
    assert coloured(bench, 160, 60) and not coloured(bench, 250, 140)
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
        bench.wait_for_picture()
    page.get_by_role("list", name="Objects").get_by_role("button", name="Object keep").click()
    page.get_by_role("radio", name="Leave out").click()
    bench.wait_for_picture()
    assert not coloured(bench, 160, 60) and coloured(bench, 250, 140)
    page.get_by_role("button", name="Undo").click()
    bench.wait_for_picture()
    page.get_by_role("button", name="Undo").click()  # the stroke, with its effect
    bench.wait_for_picture()
    assert coloured(bench, 160, 60) and coloured(bench, 250, 140)
    expect(page.get_by_text("Draw one or two lines on it.")).to_be_visible()
    page.get_by_role("button", name="Redo").click()
    bench.wait_for_picture()
    assert coloured(bench, 160, 60) and not coloured(bench, 250, 140)  # what was made is still at hand


def test_by_the_keyboard(page: Page, server: Server, bench: BenchPage) -> None:
    page.keyboard.press("Shift+KeyP")
    expect(page.get_by_role("radiogroup", name="What a line in the picture is").get_by_role("radio", name="This", exact=True)).to_be_checked()
    page.keyboard.press(">")
    expect(page.get_by_role("textbox", name="Brush in px")).to_have_value("20")
    page.keyboard.press("Shift+KeyN")
    expect(page.get_by_role("radio", name="Not this", exact=True).last).to_be_checked()
    page.keyboard.press("Escape")
    expect(page.get_by_role("textbox", name="Brush in px")).to_be_hidden()
