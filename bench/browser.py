"""In the browser: start-up, first picture, live latency, playback."""

import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench.looks import six_passes
from bench.timing import percentile
from wenditas.formats.look_json import write_look

ARGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run"]
LATENCY = """async () => {
  const slider = document.querySelector('[role=slider][aria-label=Tolerance]');
  const box = slider.getBoundingClientRect();
  const send = (type, x) => slider.dispatchEvent(new PointerEvent(type, { bubbles: true, clientX: x, clientY: box.top + 10, pointerId: 1, button: 0 }));
  slider.setPointerCapture = () => {};
  const shown = () => new Promise((done) => {
    const observer = new PerformanceObserver((list) => {
      if (!list.getEntriesByName('wenditas-shown').length) return;
      observer.disconnect();
      requestAnimationFrame(() => done(performance.now()));
    });
    observer.observe({ type: 'mark' });
  });
  const times = [];
  send('pointerdown', box.left + 10);
  for (let n = 0; n < 80; n++) {
    const next = shown();
    const started = performance.now();
    send('pointermove', box.left + 12 + (n % 40));
    times.push((await next) - started);
    await new Promise((r) => setTimeout(r, 12));
  }
  send('pointerup', box.left + 20);
  return times.slice(5);
}"""


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


def measure(folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    data = folder / "data"
    subprocess.run([sys.executable, "-c", "from wenditas.cli import main; main()", "demo", "--data", str(data), "--prepare-only"], check=True)
    process, url, start_up = _server(data)
    rows = [("start of the application", f"{start_up:.1f} s (target ≤ 2 s)")]
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGS)
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
            times = page.evaluate(LATENCY)
            rows.append(
                (
                    "slider to picture, 960 × 540, 6 passes",
                    f"p50 {percentile(times, 0.5):.0f} ms, p95 {percentile(times, 0.95):.0f} ms (target p50 ≤ 40, p95 ≤ 80 ms)",
                )
            )
            _settled(page)
            page.keyboard.press("Space")
            for when in ("first time round", "once rendered"):
                before = page.evaluate(SCOPES)
                page.wait_for_timeout(5600)
                scopes = (page.evaluate(SCOPES) - before) / 5.6
                rate = page.get_by_label("Rate").inner_text()
                rows.append((f"playback, 960 × 540, 6 passes, {when}", f"{rate}; {scopes:.0f} scopes a second (target ≥ 12)"))
            browser.close()
    finally:
        process.terminate()
        process.wait()
    return rows
