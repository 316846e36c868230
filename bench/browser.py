"""In the browser: start-up, first picture, live latency, playback."""

import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import CDPSession, Page, sync_playwright

from bench import playing
from bench.looks import six_passes
from bench.timing import at_most, percentile
from wenditas.formats.look_json import write_look
from wenditas.media.reader import Reader

ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]
# Times from a movement of the pointer to the frame on which the picture that follows from it is drawn.
LATENCY = """() => {
  window.times = [];
  let moved = null;
  addEventListener('pointermove', (event) => { moved = event.timeStamp; }, true);
  new PerformanceObserver((list) => {
    if (moved === null || !list.getEntriesByName('wenditas-shown').length) return;
    const from = moved;
    moved = null;
    requestAnimationFrame(() => window.times.push(performance.now() - from));
  }).observe({ type: 'mark' });
}"""
MOVES, FIRST = 80, 5  # of a drag; of which so many are not counted
ROUND = at_most(5600, 800)  # ms of the shot
SCOPES = "() => performance.getEntriesByName('wenditas-scope').length"


def _server(data: Path) -> tuple[subprocess.Popen[bytes], str, float]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    started = time.perf_counter()
    command = "from wenditas.cli import main; main()"
    process = subprocess.Popen([sys.executable, "-c", command, "serve", "--data", str(data), "--port", str(port)], stdout=subprocess.DEVNULL)
    url = f"http://127.0.0.1:{port}"
    while True:
        try:
            urllib.request.urlopen(f"{url}/api/projects", timeout=1).close()
            return process, url, time.perf_counter() - started
        except OSError:
            time.sleep(0.02)


def _settled(page: Page) -> None:
    page.wait_for_timeout(300)
    page.wait_for_selector("[data-settled=true]", timeout=30_000)


def _spent(session: CDPSession) -> float:
    """Milliseconds of a processor that scripts of the page's thread have taken since the session counts them: what renders beside it has the same two."""
    found = {m["name"]: m["value"] for m in session.send("Performance.getMetrics")["metrics"]}
    return 1000 * float(found["ScriptDuration"])


def _moved(page: Page) -> float:
    """Milliseconds of script that a movement takes while a slider is dragged, one after another as fast as a screen shows them."""
    slider = page.get_by_role("slider", name="Tolerance", exact=True)
    slider.scroll_into_view_if_needed()
    box = slider.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * 0.3, box["y"] + box["height"] / 2
    moves = at_most(MOVES, 4)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 4, y)
    session = page.context.new_cdp_session(page)  # one for both: what it counts begins with it
    session.send("Performance.enable", {"timeDomain": "threadTicks"})
    before = _spent(session)
    for n in range(moves):  # answered once the page has taken it, with its next frame; the browser's own way, since scripts of Playwright would count
        session.send("Input.dispatchMouseEvent", {"type": "mouseMoved", "x": x + 6 + n * 7 % 84, "y": y, "button": "left", "buttons": 1})
    spent = _spent(session) - before
    session.detach()
    page.keyboard.press("Escape")
    page.mouse.up()
    return spent / moves


def _dragged(page: Page) -> list[float]:
    """Milliseconds from each movement of a drag of a slider to its picture."""
    slider = page.get_by_role("slider", name="Tolerance", exact=True)
    slider.scroll_into_view_if_needed()
    box = slider.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * 0.3, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(LATENCY)
    for n in range(at_most(MOVES, FIRST + 2)):
        page.mouse.move(x + 6 + n * 7 % 84, y)  # far enough for another value each time
        page.wait_for_function("n => window.times.length > n", arg=n)
    page.mouse.up()
    found: list[float] = page.evaluate("() => window.times")
    return found[FIRST:]


def measure(reader: Reader, folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    data = folder / "data"
    subprocess.run([sys.executable, "-c", "from wenditas.cli import main; main()", "demo", "--data", str(data), "--prepare-only"], check=True)
    process, url, start_up = _server(data)
    rows = [("start of the application", f"{start_up:.1f} s (target ≤ 2 s)")]
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium-headless-shell"), args=ARGS)
            # Wide enough for the picture to be previewed at 960 × 540.
            page = browser.new_page(viewport={"width": 1544, "height": 920})
            page.goto(url)
            button = page.get_by_role("button", name="Open on the Bench", exact=True).first
            button.wait_for()
            started = time.perf_counter()
            button.click()
            page.wait_for_function("() => performance.getEntriesByName('wenditas-shown').length > 0")
            rows.append(("first picture after opening a shot", f"{time.perf_counter() - started:.2f} s (target ≤ 0.7 s)"))
            _settled(page)
            look = folder / "six.json"
            look.write_text(write_look(six_passes(), "six"))
            page.get_by_label("Look file").set_input_files(look)
            _settled(page)
            times = _dragged(page)
            rows.append(
                (
                    "slider to picture, 960 × 540, 6 passes",
                    f"p50 {percentile(times, 0.5):.0f} ms, p95 {percentile(times, 0.95):.0f} ms (target p50 ≤ 40, p95 ≤ 80 ms)",
                )
            )
            _settled(page)
            rows.append(("a slider that is dragged: script a movement", f"{_moved(page):.1f} ms (target ≤ 4)"))
            _settled(page)
            page.keyboard.press("Control+z")  # the look as it was, not with all that the drag has selected
            _settled(page)
            page.keyboard.press("Space")
            for when in ("first time round", "second time", "third time, rendered by then")[: at_most(3, 1)]:
                before = page.evaluate(SCOPES)
                page.wait_for_timeout(ROUND)
                scopes = 1000 * (page.evaluate(SCOPES) - before) / ROUND
                rate = page.get_by_label("Rate").inner_text()
                rows.append((f"playback, 960 × 540, 6 passes, {when}", f"{rate}; {scopes:.0f} scopes a second (target ≥ 12)"))
            page.close()
            page = browser.new_page(viewport={"width": 1544, "height": 920})
            rows += playing.rows(page, url, reader, folder, _settled)
            browser.close()
    finally:
        process.terminate()
        process.wait()
    return rows
