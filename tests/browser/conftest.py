"""A real server on the demo project, and a real browser on it."""

import json
import re
import shutil
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.browser import seen
from tests.browser.reel_page import ReelPage
from tests.browser.servers import Host, Server, chromium
from tests.media.clips import read_independently
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.tracks import Track, TrackFrame
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader

LONG = 30  # seconds that a thing on the page may take: machines that run tests are busy
FIRST = "Tram up the hill"
expect.set_options(timeout=LONG * 1000)
# Watched within the page: asking from outside, again and again, keeps four processes busy.
AT_REST = """(most) => new Promise((done) => {
  const atRest = () => document.querySelector('[data-settled=true]') !== null;
  const drawn = () => requestAnimationFrame(() => requestAnimationFrame(() => (atRest() ? end(true) : watch())));
  const watcher = new MutationObserver(() => atRest() && (watcher.disconnect(), drawn()));
  const watch = () => watcher.observe(document, { subtree: true, childList: true, attributeFilter: ['data-settled'] });
  const late = setTimeout(() => end(false), most);
  const end = (found) => (clearTimeout(late), watcher.disconnect(), done(found));
  drawn();
})"""


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict:
    return {**chromium("--autoplay-policy=no-user-gesture-required"), "ignore_default_args": ["--hide-scrollbars"]}


@pytest.fixture(scope="session")
def browser_context_args() -> dict:
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture(scope="session")
def host() -> Iterator[Host]:
    found = Host()
    yield found
    found.close()


@pytest.fixture(scope="session")
def seen_data() -> Path:
    """The demo once it was looked at."""
    return seen.demo()


@pytest.fixture
def server(host: Host, tmp_path: Path, seen_data: Path, request: pytest.FixtureRequest) -> Iterator[Server]:
    shutil.copytree(seen_data, tmp_path / "data")
    running = Server(host, tmp_path / "data", idle=request.node.get_closest_marker("idle") is not None)
    yield running
    running.stop()
    shutil.rmtree(tmp_path / "data", ignore_errors=True)


@pytest.fixture(scope="module")
def one_server(host: Host, tmp_path_factory: pytest.TempPathFactory, seen_data: Path) -> Iterator[Server]:
    """One server for a file whose tests do not stand in each other's way."""
    data = tmp_path_factory.mktemp("shared") / "data"
    shutil.copytree(seen_data, data)
    running = Server(host, data)
    yield running
    running.stop()


@pytest.fixture
def problems(page: Page) -> Iterator[list[str]]:
    """What the page complained about; a test that expects nothing asserts it is empty."""
    found: list[str] = []
    page.on("pageerror", lambda error: found.append(str(error)))
    page.on("console", lambda message: found.append(message.text) if message.type == "error" else None)
    yield found


@pytest.fixture
def bench(page: Page, server: Server, problems: list[str], request: pytest.FixtureRequest) -> "BenchPage":
    """The first shot of the demo; for a test marked `another_shot`, one more of that footage, whose look is empty."""
    project = page.request.get(f"{server.url}/api/projects").json()[0]["id"]
    view = page.request.get(f"{server.url}/api/projects/{project}").json()
    if marker := request.node.get_closest_marker("another_shot"):
        name = f"{(*marker.args, FIRST)[0]}.mp4"
        footage = next(f["id"] for f in view["footage"] if f["name"] == name)
        shot = page.request.post(f"{server.url}/api/footage/{footage}/shots", headers={"origin": server.url}).json()
    else:
        shot = next(s for s in view["shots"] if s["footage_id"] == view["footage"][0]["id"])
    page.goto(f"{server.url}/projects/{project}/shots/{shot['id']}")
    found = BenchPage(page, server)
    found.wait_for_picture()
    return found


class BenchPage:
    """The Bench as a person sees it."""

    def __init__(self, page: Page, server: Server) -> None:
        self.page, self.server = page, server

    @property
    def canvas(self):
        return self.page.get_by_role("img", name="The picture", exact=True)

    def wait_for_picture(self) -> None:
        """Until the page has drawn what was done, the picture on screen is the final, lossless one, and nothing waits to be stored."""
        assert self.page.evaluate(AT_REST, 3000 * LONG), "the picture did not come to rest"

    def wait_for_pictures(self) -> None:
        """Until the small pictures on the page have come."""
        self.page.wait_for_function("() => [...document.images].every((i) => i.complete)", timeout=30_000)

    def pixel(self, x: float, y: float) -> list[int]:
        """The colour on screen at x, y of the picture (0-1), mean of a small square."""
        script = """([x, y]) => {
          const canvas = document.querySelector('#picture canvas');
          const box = JSON.parse(canvas.dataset.place);
          const px = Math.round(box.x + x * box.width), py = Math.round(box.y + y * box.height);
          const data = canvas.getContext('2d').getImageData(px - 2, py - 2, 5, 5).data;
          const sum = [0, 0, 0];
          for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c] += data[i + c];
          return sum.map((s) => Math.round(s / 25));
        }"""
        return self.page.evaluate(script, [x, y])

    def click(self, x: float, y: float) -> None:
        """Click in the picture at x, y (0-1) and wait for what it does: a new pick, where only the hand is out."""
        if self.page.get_by_role("radio", name="Hand", exact=True).is_checked() and not self.page.locator("[data-asks]").count():
            self.page.get_by_role("radio", name="New pick", exact=True).click()
        place = self.page.evaluate("() => { const c = document.querySelector('#picture canvas'); const b = JSON.parse(c.dataset.place); return b }")
        corner = self.canvas.bounding_box()
        self.page.mouse.click(corner["x"] + place["x"] + x * place["width"], corner["y"] + place["y"] + y * place["height"])
        self.wait_for_picture()

    def draw(self, *points: tuple[float, float]) -> None:
        """Press, move through points of the picture (0-1), let go."""
        place = self.page.evaluate("() => JSON.parse(document.querySelector('#picture canvas').dataset.place)")
        corner = self.canvas.bounding_box()
        at = [(corner["x"] + place["x"] + x * place["width"], corner["y"] + place["y"] + y * place["height"]) for x, y in points]
        self.page.mouse.move(*at[0])
        self.page.mouse.down()
        for x, y in at[1:]:
            self.page.mouse.move(x, y, steps=5)
        self.page.mouse.up()

    def view(self, name: str) -> None:
        self.page.get_by_role("radio", name=name, exact=True).click()
        self.wait_for_picture()

    def go(self, frame: int) -> None:
        field = self.page.get_by_label("Frame", exact=True)
        field.fill(str(frame))
        field.press("Enter")
        self.wait_for_picture()

    def field(self, name: str):
        return self.page.get_by_label(re.compile(rf"(^|: ){re.escape(name)}( in .+)?$")).and_(self.page.locator("input"))

    def set(self, name: str, value: float) -> None:
        self.field(name).fill(str(value))
        self.field(name).press("Enter")
        self.wait_for_picture()

    def drag_slider(self, name: str, pixels: int) -> None:
        """Drag a slider's handle by some pixels, in many small steps."""
        slider = self.page.get_by_role("slider", name=name, exact=True)
        slider.scroll_into_view_if_needed()
        box = slider.bounding_box()
        x, y = box["x"] + float(slider.get_attribute("data-place")) * box["width"], box["y"] + box["height"] - 5
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for n in range(1, abs(pixels) + 1):
            self.page.mouse.move(x + n * (1 if pixels > 0 else -1), y)
        self.page.mouse.up()
        self.wait_for_picture()

    def stages(self) -> list[str]:
        return [t.strip() for t in self.page.get_by_role("list", name="Stages").locator("span.font-semibold").all_inner_texts()]

    def stage(self, name: str):
        return self.page.get_by_role("list", name="Stages").get_by_role("button", name=name, exact=True).first

    def start_over(self, name: str = FIRST) -> None:
        """Another shot of a piece of the demo's footage, with an empty look."""
        self.page.get_by_role("link", name="Footage").click()
        self.page.get_by_role("button", name=f"More for {name}").click()
        self.page.get_by_role("menuitem", name="Another shot of this").click()
        self.page.wait_for_url("**/shots/*")
        self.wait_for_picture()

    def add(self, treatment: str) -> None:
        """Add a pass from the list behind +, found by its name."""
        stages = self.page.get_by_role("list", name="Stages").get_by_role("listitem")
        count = stages.count()
        self.page.get_by_role("button", name="Add a pass").click()
        self.page.get_by_label("Search treatments").fill(treatment)
        self.page.keyboard.press("Enter")
        expect(stages).to_have_count(count + 1)
        self.wait_for_picture()

    def choose(self, label: str, value: str) -> None:
        """Choose a word from a list."""
        self.page.get_by_label(label, exact=True).select_option(value)
        self.wait_for_picture()

    def side(self, name: str) -> None:
        self.page.get_by_role("radiogroup", name="Applies to").get_by_role("radio", name=name, exact=True).click()
        self.wait_for_picture()

    def type_in(self, label: str, text: str) -> None:
        """Type into a field of any kind and press Enter."""
        field = self.page.get_by_label(label, exact=True).and_(self.page.locator("input"))
        field.fill(text)
        field.press("Enter")
        self.wait_for_picture()

    def preset(self, name: str) -> None:
        """Take a preset of the chosen pass."""
        self.page.get_by_role("button", name="Presets ▾").click()
        self.page.get_by_role("menuitemradio", name=name, exact=True).click()
        self.wait_for_picture()

    @property
    def view_of_shot(self) -> dict:
        """The shot on the Bench as the server has it."""
        shot = self.page.url.rsplit("/", 1)[-1]
        return self.page.request.get(f"{self.server.url}/api/shots/{shot}").json()

    def look(self) -> Look:
        """The look on the Bench as the server has it."""
        look = self.view_of_shot["document"]["look"]
        digests = {shape["track"] for selection in look["selections"] for shape in selection["shapes"]} - {""}
        frames = {digest: self.page.request.get(f"{self.server.url}/api/tracks/{digest}").json() for digest in digests}
        return parse_look(look, {digest: Track(tuple(TrackFrame(**f) for f in found)) for digest, found in frames.items()})

    def source(self) -> Reader:
        """The footage of the shot on the Bench, opened by the core itself."""
        view = self.view_of_shot
        path = self.server.data / "media" / f"{view['shot']['footage_id']}.mp4"
        facts, index = inspect(path)
        return Reader(path, facts.model_copy(update={"noise": view["footage"]["facts"]["noise"]}), index)

    def export(self, name: str, first: int, last: int, target: Path) -> list[np.ndarray]:
        """Export some frames through the interface, download the file, and read it with another reader."""
        for frame, key in ((first, "i"), (last, "o")):
            self.go(frame)
            self.page.keyboard.press(key)
        self.wait_for_picture()
        self.page.get_by_role("button", name="Export", exact=True).click()
        self.page.get_by_label("Name").fill(name)
        self.page.get_by_role("radio", name="Fine").click()
        self.page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
        bench = self.page.url
        self.page.get_by_role("link", name="Exports").click()
        row = self.page.get_by_role("listitem", name=name)
        expect(row.get_by_text("Ready")).to_be_visible(timeout=120_000)
        with self.page.expect_download() as download:
            row.get_by_role("link", name="Download").click()
        download.value.save_as(target)
        self.page.goto(bench)
        self.wait_for_picture()
        return read_independently(target)[0]


@pytest.fixture
def reel(page: Page, one_server: Server, problems: list[str]) -> Iterator[ReelPage]:
    page.goto(one_server.url)
    page.get_by_role("link", name="Reel", exact=True).click()
    found = ReelPage(page, one_server.url)
    found.settled()
    before = found.state()
    yield found
    assert problems == []
    now = found.state()
    body = json.dumps({"base": now["revision"], "revision": before["revision"]}).encode()
    urllib.request.urlopen(urllib.request.Request(f"{one_server.url}/api/reels/{now['reel_id']}/head", body, {"content-type": "application/json"}))
