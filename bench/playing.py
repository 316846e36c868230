"""Playing in the browser, second by second: the demo's reel from start to end, footage as cameras hand it over, and while a slider is dragged."""

import time
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import cv2
import httpx
import numpy as np
from playwright.sync_api import Page

from bench.looks import six_passes
from bench.timing import at_most
from wenditas.core.kernel import as_picture
from wenditas.formats.look_json import write_look
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import write_clip

WIDTH, HEIGHT, CRF, GRAIN = at_most(1920, 480), at_most(1080, 270), "30", 0.02  # of the footage as cameras hand it over
FRAMES = at_most(96, 12)
DRAGGED = 6  # seconds that a slider is dragged while it plays
# When the playhead stood on another frame than before, in ms.
WATCH = """() => {
  if (window.seenAt) return void (window.seenAt.length = 0);
  window.seenAt = [];
  let last = null;
  const look = () => {
    const now = document.querySelector('[role=slider][aria-label=Playhead]')?.getAttribute('aria-valuenow');
    if (now !== last && last !== null) window.seenAt.push(performance.now());
    last = now;
    requestAnimationFrame(look);
  };
  look();
}"""


def grainy(reader: Reader, path: Path) -> None:
    """The reader's clip at 1920 × 1080, with the grain of a sensor, in 8 bits, 4:2:0, at a high rate factor."""
    dice = np.random.default_rng(3)

    def frames():  # type: ignore[no-untyped-def]
        for n in range(FRAMES):
            large = [cv2.resize(plane, (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC) for plane in reader.picture(n)]
            yield as_picture(np.clip(np.stack(large) + dice.normal(0, GRAIN, (3, HEIGHT, WIDTH)), 0, 1))

    write_clip(path, frames(), Fraction(24), (CRF, "medium"))


def seconds_of(page: Page, most: float, meanwhile: Callable[[], object] = lambda: None) -> str:
    """How many frames are seen in each second from the start on, until it stops playing or so many seconds are over."""
    page.keyboard.press("Home")
    page.evaluate(WATCH)
    page.keyboard.press("Space")
    deadline = time.perf_counter() + most
    page.wait_for_function("() => window.seenAt.length > 0")
    while time.perf_counter() < deadline and page.get_by_label("Pause (Space)").count():
        meanwhile()
        page.wait_for_timeout(100)
    at = np.array(page.evaluate("() => window.seenAt"))
    if page.get_by_label("Pause (Space)").count():
        page.keyboard.press("Space")
    counted = np.bincount(((at - at[0]) // 1000).astype(int))
    whole = counted[: max(1, len(counted) - 1)]  # the last second is not over
    return f"{' '.join(str(n) for n in whole)} of 24, mean {whole.mean():.1f}"


def _dragged(page: Page) -> Callable[[], None]:
    """One more movement of the slider, each time."""
    box = page.get_by_role("slider", name="Tolerance", exact=True).bounding_box()
    assert box is not None
    x, y, moves = box["x"] + box["width"] * 0.3, box["y"] + box["height"] / 2, iter(range(10_000))

    def move() -> None:
        n = next(moves)
        page.mouse.move(x + 6 + n * 7 % 84, y)
        if not n:
            page.mouse.down()

    return move


def rows(page: Page, url: str, reader: Reader, folder: Path, settled: Callable[[Page], None]) -> list[tuple[str, str]]:
    """Rows of (what, frames seen each second). page: on a project with the demo's reel, at a server that has not played it."""
    page.goto(url)
    page.get_by_role("link", name="Reel", exact=True).click()
    settled(page)
    found = [("the demo's reel, first time round, second by second", seconds_of(page, at_most(60, 1)))]
    clip, look = folder / "grainy.mp4", folder / "grainy.json"
    grainy(reader, clip)
    look.write_text(write_look(six_passes(), "six"))
    with httpx.Client(base_url=url, headers={"origin": url}, timeout=120) as client:
        project = client.get("/api/projects").json()[0]["id"]
        footage = client.post(f"/api/projects/{project}/footage", params={"name": "grainy.mp4"}, content=clip.read_bytes()).json()
        shot = client.post(f"/api/footage/{footage['id']}/shots").json()
    page.goto(f"{url}/projects/{project}/shots/{shot['id']}")
    settled(page)
    page.get_by_label("Look file").set_input_files(look)
    settled(page)
    found.append((f"{WIDTH} × {HEIGHT} at rate factor {CRF} with grain, 6 passes, first time round", seconds_of(page, at_most(FRAMES // 24 + 1, 1))))
    found.append(("… once more", seconds_of(page, at_most(FRAMES // 24 + 1, 1))))
    settled(page)
    page.get_by_role("slider", name="Tolerance", exact=True).scroll_into_view_if_needed()
    found.append(("… while a slider is dragged", seconds_of(page, at_most(DRAGGED, 1), _dragged(page))))
    page.keyboard.press("Escape")
    page.mouse.up()
    return found
