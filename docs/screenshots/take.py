"""`make screenshots`: pictures of the main views, from the demo project, at 1280 × 800."""

import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

HERE = Path(__file__).parent
LOOKS = (("The kiln", "bench-keyframes", "RGB parade"),)
ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]


def settle(page: Page) -> None:
    """Wait for the final picture and all thumbnails."""
    page.wait_for_timeout(500)
    page.wait_for_selector("[data-settled=true]", timeout=30_000)
    page.wait_for_timeout(900)


def save(page: Page, name: str) -> None:
    """Write one picture."""
    page.screenshot(path=HERE / f"{name}.png")
    print(name)


def over_picture(page: Page, x: float, y: float) -> None:
    """Put the pointer at a place of the picture (0-1)."""
    box = page.get_by_role("img", name="The picture").bounding_box()
    assert box
    page.mouse.move(box["x"] + x * box["width"], box["y"] + y * box["height"])
    page.wait_for_timeout(500)


def type_number(page: Page, label: str, value: float) -> None:
    """Type into a number field."""
    field = page.get_by_label(label, exact=True).and_(page.locator("input"))
    field.fill(str(value))
    field.press("Enter")
    settle(page)


def add(page: Page, treatment: str) -> None:
    """Add a pass from the list behind +."""
    page.get_by_role("button", name="Add a pass").click()
    page.get_by_label("Search treatments").fill(treatment)
    page.keyboard.press("Enter")
    settle(page)


def animate(page: Page) -> None:
    """An amount that falls and rises, and stops that are pinned."""
    for frame, value in ((12, 100), (40, 10), (70, 100)):
        type_number(page, "Frame", frame)
        type_number(page, "Amount in %", value)
        if frame == 12:
            page.get_by_role("button", name="Amount stands still").click()
            settle(page)
    page.get_by_role("button", name="Stops stands still").click()
    settle(page)
    type_number(page, "Frame", 25)
    page.get_by_role("group", name="Lanes").get_by_role("button", name="Amount").first.click()
    page.wait_for_timeout(12_500)  # until the notice has gone


def path_by_hand(page: Page) -> None:
    """A path around the tram, at two frames, seen between them; time zoomed."""

    def at(x: float, y: float) -> tuple[float, float]:
        place = page.evaluate("() => JSON.parse(document.querySelector('#picture canvas').dataset.place)")
        box = page.get_by_role("img", name="The picture").bounding_box()
        assert box
        return box["x"] + place["x"] + x * place["width"], box["y"] + place["y"] + y * place["height"]

    type_number(page, "Frame", 40)
    page.get_by_role("button", name="Draw ▾").click()
    page.get_by_role("menuitemradio", name="Path").click()
    for x, y in ((0.12, 0.64), (0.26, 0.59), (0.45, 0.57), (0.48, 0.72), (0.44, 0.84), (0.14, 0.88)):
        page.mouse.click(*at(x, y))
    page.keyboard.press("Enter")
    settle(page)
    page.get_by_role("button", name="Keep", exact=True).or_(page.get_by_role("radio", name="Keep", exact=True)).click()
    settle(page)
    page.get_by_role("button", name="Path stands still").click()
    settle(page)
    type_number(page, "Frame", 76)
    for start, end in (((0.30, 0.7), (0.46, 0.66)), ((0.64, 0.68), (0.68, 0.62))):
        page.mouse.move(*at(*start))
        page.mouse.down()
        page.mouse.move(*at(*end), steps=6)
        page.mouse.up()
        settle(page)
    type_number(page, "Frame", 58)
    page.keyboard.press("+")
    page.wait_for_timeout(12_500)  # until the notice has gone


def bench_views(page: Page) -> None:
    """One shot's look: finished, its matte, a path by hand, adding a pass."""
    settle(page)
    page.keyboard.press("w")
    settle(page)
    over_picture(page, 0.3, 0.62)
    save(page, "bench")
    page.keyboard.press("w")
    page.keyboard.press("3")
    page.get_by_role("list", name="Shapes").get_by_role("button", name="Pillar box").first.click()
    settle(page)
    save(page, "bench-matte")
    page.keyboard.press("Escape")
    page.keyboard.press("1")
    path_by_hand(page)
    save(page, "bench-path")
    page.keyboard.press("Escape")
    page.keyboard.press("0")
    for _ in range(6):
        page.keyboard.press("Control+z")
        settle(page)
    page.get_by_role("button", name="Add a pass").click()
    page.wait_for_timeout(3000)
    save(page, "bench-add-a-pass")
    page.keyboard.press("Escape")


def dialogs_and_exports(page: Page) -> None:
    """Exporting, the exports, the keyboard sheet, the shelf."""
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_label("About").get_by_text("while nothing else").wait_for(timeout=30_000)
    page.get_by_label("Format").select_option("prores-422-hq")
    page.get_by_label("About").get_by_text("while nothing else").wait_for(timeout=30_000)
    save(page, "bench-export")
    page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
    page.wait_for_timeout(300)
    page.get_by_role("link", name="Exports").click()
    page.get_by_text("Ready").wait_for(timeout=120_000)
    page.wait_for_timeout(12_500)  # until the notice has gone
    save(page, "exports")
    page.get_by_role("link", name="Bench").click()
    settle(page)
    page.keyboard.press("?")
    page.wait_for_timeout(300)
    save(page, "keyboard")
    page.keyboard.press("Escape")
    page.keyboard.press("m")
    page.wait_for_timeout(3000)
    save(page, "bench-shelf")
    page.keyboard.press("Escape")


def checks(page: Page) -> None:
    """What checks have found, and where the first of it is."""
    page.get_by_role("button", name="Checks").click()
    page.get_by_text("frames looked at").wait_for(timeout=120_000)
    save(page, "bench-checks")
    page.keyboard.press("Escape")


def looks(page: Page) -> None:
    """Other shots with other looks and scopes; keyframes; the bright room."""
    for shot, name, kind in LOOKS:
        page.get_by_role("banner").get_by_role("button", name="▾").first.click()
        page.get_by_role("menuitemradio", name=shot).click()
        settle(page)
        page.get_by_role("region", name="Scope").get_by_role("button").first.click()
        page.get_by_role("menuitemradio", name=kind).click()
        settle(page)
        animate(page)
        save(page, name)
    page.evaluate("() => localStorage.setItem('wenditas-theme', 'bright')")
    page.reload()
    settle(page)
    save(page, "bench-bright-room")
    page.evaluate("() => localStorage.setItem('wenditas-theme', 'dim')")
    page.reload()
    settle(page)


def reel(page: Page) -> None:
    """The film: in the middle of a span, and of a reveal."""
    page.get_by_role("link", name="Reel", exact=True).click()
    page.wait_for_timeout(6000)  # until all small pictures have come
    page.get_by_role("button", name="Span Evening paper").click(position={"x": 60, "y": 14})
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    settle(page)
    save(page, "reel")
    page.get_by_role("button", name="reveal of").click()
    page.keyboard.press("ArrowLeft")
    settle(page)
    page.wait_for_timeout(3000)
    save(page, "reel-reveal")
    page.keyboard.press("e")
    settle(page)
    page.wait_for_timeout(4000)  # until the curve is there
    save(page, "bench-reveal")
    page.get_by_role("link", name="back to the reel").click()
    settle(page)
    page.get_by_role("button", name="Span Red flash").click(position={"x": 8, "y": 14})
    page.keyboard.press("e")
    settle(page)
    type_number(page, "Frame", 7)
    page.wait_for_timeout(3000)
    save(page, "bench-span")


def loaded(page: Page) -> None:
    """Wait until every cell has its picture, and what is told of them."""
    waiting = page.locator("[data-cells]").get_by_text("…", exact=True)
    page.locator("[data-cells] img").first.wait_for()
    for _ in range(600):
        if not waiting.count():
            break
        page.wait_for_timeout(200)
    page.wait_for_timeout(3000)


def sheet(page: Page) -> None:
    """Shots under looks, two of them chosen."""
    page.get_by_role("link", name="Sheet", exact=True).click()
    page.get_by_role("button", name="+ the look of a shot").click()
    page.get_by_role("menuitemcheckbox", name="Umbrella in the rain").click()
    loaded(page)
    for name in ("Tram up the hill", "Umbrella in the rain"):
        page.get_by_role("button", name=f"{name}, Two-ink print").click(modifiers=["ControlOrMeta"])
    page.wait_for_timeout(500)
    save(page, "sheet")


def composed(page: Page) -> None:
    """A bundle, a shot laid in with its handles; the demo's looks are as they were afterwards."""
    stages = page.get_by_role("list", name="Stages")
    stages.get_by_role("button", name="Do something with").nth(1).click()
    page.get_by_role("menuitem", name="Bundle with the one before").click()
    settle(page)
    type_number(page, "Amount in %", 80)
    page.get_by_role("button", name="Open Bundle", exact=True).click()
    page.wait_for_timeout(12_500)  # until the notices have gone
    save(page, "bench-bundle")
    add(page, "Shot laid in")
    page.get_by_label("Shot", exact=True).select_option(label="The kiln")
    settle(page)
    for label, value in (("Size in %", 42), ("Centre across in %", 74), ("Centre down in %", 28), ("Turn in °", -4)):
        type_number(page, label, value)
    save(page, "bench-laid-in")
    for _ in range(8):
        page.keyboard.press("Control+z")
        settle(page)


def take(page: Page, url: str) -> None:
    """Walk through the rooms."""
    page.goto(url)
    page.get_by_role("button", name="Open on the Bench", exact=True).first.wait_for()
    page.wait_for_timeout(2500)
    save(page, "footage")
    page.get_by_role("button", name="Open on the Bench", exact=True).first.click()
    bench_views(page)
    dialogs_and_exports(page)
    checks(page)
    composed(page)
    looks(page)
    reel(page)
    sheet(page)


def main() -> None:
    """Serve the demo from a fresh data folder and take all pictures."""
    with tempfile.TemporaryDirectory() as data, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        command = [sys.executable, "-c", "from wenditas.cli import main; main()", "demo", "--data", data, "--port", str(port)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            url = f"http://127.0.0.1:{port}"
            for _ in range(1800):
                try:
                    urllib.request.urlopen(f"{url}/api/projects", timeout=1).close()
                    break
                except OSError:
                    time.sleep(0.1)
            with sync_playwright() as playwright:
                chromium = shutil.which("chromium-headless-shell")
                browser = playwright.chromium.launch(executable_path=chromium, args=ARGS, ignore_default_args=["--hide-scrollbars"])
                take(browser.new_page(viewport={"width": 1280, "height": 800}), url)
                browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
