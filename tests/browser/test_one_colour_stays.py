"""The job from start to finish on the demo shot: pick, look, treat, compare, play, undo, export."""

import itertools
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage, Server
from tests.media.clips import read_independently, sound_of

FRAME = 60
TRAM, TRAM_SHADED, SKY, TREES, ROOF = (0.27, 0.795), (0.39, 0.79), (0.12, 0.18), (0.129, 0.625), (0.309, 0.52)


def greyness(colour) -> int:
    return int(np.ptp(np.asarray(colour, int)))


def is_red(colour) -> bool:
    r, g, b = (int(v) for v in colour)
    return r - max(g, b) > 60


def pick_the_tram(bench: BenchPage) -> None:
    bench.go(FRAME)
    expect(bench.page.get_by_text("Click the colour that stays.")).to_be_visible()
    bench.click(*TRAM)
    expect(bench.page.get_by_role("button", name="Red ▾")).to_be_visible()


@pytest.mark.another_shot
def test_pick_treat_export(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    page = bench.page
    pick_the_tram(bench)
    assert page.get_by_role("radio", name="Add pick").is_checked()  # the next click widens the selection
    bench.click(*TRAM_SHADED)
    expect(page.get_by_role("button", name="Pick from frame 60: remove")).to_have_count(2)

    bench.view("Matte")
    assert min(bench.pixel(*TRAM)) > 200 and max(bench.pixel(*SKY)) < 10 and max(bench.pixel(*TREES)) < 10
    bench.view("Selected colour only")
    assert is_red(bench.pixel(*TRAM)) and greyness(bench.pixel(*SKY)) <= 2
    bench.view("Result")
    assert greyness(bench.pixel(*SKY)) > 2  # nothing is treated yet

    page.get_by_role("button", name="Monochrome, outside").click()
    bench.wait_for_picture()
    assert bench.stages() == ["Source", "Monochrome"]
    assert is_red(bench.pixel(*TRAM)) and greyness(bench.pixel(*TREES)) <= 2 and greyness(bench.pixel(*SKY)) <= 2

    # A second pass, inside, found by searching.
    page.get_by_role("button", name="Add a pass").click()
    page.get_by_label("Search treatments").fill("satur")
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    bench.set("Saturation in %", 140)
    assert bench.stages() == ["Source", "Monochrome", "Saturation"]
    strong = bench.pixel(*TRAM)
    page.keyboard.press("x")  # bypass the chosen pass
    bench.wait_for_picture()
    weak = bench.pixel(*TRAM)
    assert strong[0] - strong[1] > weak[0] - weak[1] + 8
    page.keyboard.press("x")
    bench.wait_for_picture()

    # Export from in to out, download, and read the file with another reader.
    bench.export("Red tram", FRAME - 12, FRAME + 11, tmp_path / "got.mp4")
    frames, rate = read_independently(tmp_path / "got.mp4")
    assert len(frames) == 24 and rate == 24
    frame = frames[12]
    height, width = frame.shape[:2]

    def around(place: tuple[float, float]) -> np.ndarray:
        x, y = int(place[0] * width), int(place[1] * height)
        return frame[y - 6 : y + 7, x - 6 : x + 7].reshape(-1, 3)

    assert is_red(around(TRAM).mean(axis=0))
    for place in (SKY, TREES):
        assert np.ptp(around(place).astype(int), axis=1).max() <= 2, place  # R = G = B within 2 of 255 after H.264
    samples, sound_rate = sound_of(tmp_path / "got.mp4")
    assert abs(len(samples) / sound_rate - 1) < 0.05 and np.abs(samples).max() > 0.02
    assert problems == []


@pytest.mark.another_shot
def test_tolerance_drag_is_live_and_one_step(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.view("Matte")
    expect(page.get_by_label("Coverage")).to_be_visible()

    def coverage() -> float:
        return float(page.get_by_label("Coverage").inner_text().split()[0])

    narrow, begun = coverage(), bench.field("Tolerance in °").input_value()
    bench.drag_slider("Tolerance", 20)
    assert coverage() > narrow + 0.3
    wide = bench.field("Tolerance in °").input_value()
    page.keyboard.press("Control+z")
    bench.wait_for_picture()
    assert bench.field("Tolerance in °").input_value() == begun != wide
    assert abs(coverage() - narrow) < 0.2
    page.keyboard.press("Control+Shift+z")
    bench.wait_for_picture()
    assert bench.field("Tolerance in °").input_value() == wide
    # Typed values, arrow keys and double-click work too.
    bench.set("Tolerance in °", 12.5)
    page.get_by_role("slider", name="Tolerance", exact=True).press("Shift+ArrowRight")
    bench.wait_for_picture()
    assert bench.field("Tolerance in °").input_value() == "17.5"
    page.get_by_role("slider", name="Tolerance", exact=True).dblclick()
    bench.wait_for_picture()
    assert bench.field("Tolerance in °").input_value() == "9.0"


def test_what_is_measured_is_said_to_be_on_its_way(bench: BenchPage) -> None:
    page, held = bench.page, []
    page.route("**/census/**", lambda route: held.append(route))  # a server that takes its time
    page.reload()
    coming = page.get_by_role("region", name="Where").get_by_text("Measuring…")
    expect(coming).to_be_visible()
    wait_for(lambda: page.evaluate("1") and held)
    for route in held:
        route.continue_()
    page.unroute("**/census/**")
    expect(coming).to_have_count(0)


@pytest.mark.long(found_by="tests/api/test_where.py: the census is asked for again; tests/core/test_measure.py, test_keys.py")
def test_census_band_and_edges(bench: BenchPage) -> None:
    page = bench.page
    degrees = 360 / page.get_by_role("img", name="Census").bounding_box()["width"]  # for a pixel
    edge = page.get_by_role("slider", name="Tolerance, right edge")
    box = edge.bounding_box()
    page.mouse.move(box["x"] + 3, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + 13, box["y"] + 40, steps=6)
    page.mouse.up()
    wait_for(lambda: float(bench.field("Tolerance in °").input_value()) == pytest.approx(7 + 10 * degrees, abs=0.06))
    band = page.get_by_role("slider", name="Key on the hue circle").bounding_box()
    page.mouse.move(band["x"] + band["width"] / 2, band["y"] + 20)
    page.mouse.down()
    page.mouse.move(band["x"] + band["width"] / 2 + 20, band["y"] + 20, steps=6)
    page.mouse.up()
    page.get_by_role("button", name="More ▾").click()
    wait_for(lambda: float(bench.field("Hue offset in °").input_value()) == pytest.approx(20 * degrees, abs=0.06))


@pytest.mark.long(found_by="tests/api/test_where.py: picks and not-this picks; tests/core of fitting")
@pytest.mark.another_shot
def test_a_not_this_pick_narrows_and_picks_go_away(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.set("Tolerance in °", 20)
    bench.view("Matte")
    before = max(bench.pixel(*ROOF))
    page.keyboard.press("n")
    bench.click(*ROOF)
    expect(page.get_by_role("button", name="Not-this pick from frame 60: remove")).to_have_count(1)
    assert before > 120 > 40 > max(bench.pixel(*ROOF)) and min(bench.pixel(*TRAM)) > 150
    page.get_by_role("button", name="Not-this pick from frame 60: remove").click()
    bench.wait_for_picture()
    assert abs(max(bench.pixel(*ROOF)) - before) < 12


@pytest.mark.long(found_by="web/src/engine/passes.test.ts and edits.test.ts; passes are switched in test_room.py, removed in test_hands.py")
def test_passes_bypass_rename_duplicate_reorder_remove(bench: BenchPage) -> None:
    page = bench.page

    def act(stage: str, item: str) -> None:
        page.get_by_role("button", name=f"Do something with {stage}", exact=True).first.click()
        page.get_by_role("menuitem", name=item).click()
        bench.wait_for_picture()

    assert bench.stages() == ["Source", "Monochrome", "Saturation"]
    act("Saturation", "Rename…")
    page.get_by_role("textbox", name="Name").fill("Richer")
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    act("Richer", "Duplicate")
    assert bench.stages() == ["Source", "Monochrome", "Richer", "Richer"]
    act("Monochrome", "Later")
    assert bench.stages() == ["Source", "Richer", "Monochrome", "Richer"]
    second, first = (page.locator("li[data-sortable]").nth(n).bounding_box() for n in (1, 0))
    page.mouse.move(second["x"] + 40, second["y"] + 30)
    page.mouse.down()
    page.mouse.move(first["x"] + 20, first["y"] + 30, steps=8)
    page.mouse.up()
    bench.wait_for_picture()
    assert bench.stages() == ["Source", "Monochrome", "Richer", "Richer"]
    act("Richer", "Remove")
    assert bench.stages() == ["Source", "Monochrome", "Richer"]
    assert greyness(bench.pixel(*TREES)) <= 2
    act("Monochrome", "Bypass")
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) > 30
    for _ in range(6):
        page.keyboard.press("Control+z")
        bench.wait_for_picture()
    assert bench.stages() == ["Source", "Monochrome", "Saturation"]
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) <= 2


def test_history_survives_reload_and_restart(bench: BenchPage) -> None:
    page = bench.page
    bench.set("Amount in %", 55)
    page.reload()
    bench.wait_for_picture()
    assert bench.field("Amount in %").input_value() == "55"
    bench.server.stop()
    expect(page.get_by_text("The server does not answer.")).to_be_visible(timeout=60_000)
    bench.field("Amount in %").fill("35")  # made while the server is away
    bench.field("Amount in %").press("Enter")
    bench.server.start()
    expect(page.get_by_text("The server does not answer.")).to_be_hidden(timeout=60_000)
    expect(page.get_by_text("storing…")).to_be_hidden(timeout=60_000)
    page.reload()
    bench.wait_for_picture()
    assert bench.field("Amount in %").input_value() == "35"
    for value in ("55", "100"):
        page.get_by_role("button", name="Undo", exact=True).first.click()
        expect(bench.field("Amount in %")).to_have_value(value)
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(bench.field("Amount in %")).to_have_value("55")


@pytest.mark.long(found_by="test_two_windows.py; web/src/engine/document.test.ts")
def test_two_windows(bench: BenchPage, page: Page) -> None:
    other = page.context.new_page()
    other.goto(page.url)
    second = BenchPage(other, bench.server)
    second.wait_for_picture()
    bench.set("Amount in %", 70)
    expect(second.field("Amount in %")).to_have_value("70")  # an idle window follows
    # Now the second window edits on a state that the first has left meanwhile.
    other.route("**/api/shots/*", lambda route: route.continue_())
    other.evaluate("() => window.stop()")
    with other.expect_response("**/edits") as answered:
        other.route("**/edits", lambda route: (bench.set("Amount in %", 60), route.continue_())[1])
        second.field("Amount in %").fill("20")
        second.field("Amount in %").press("Enter")
    assert answered.value.status == 409
    expect(other.locator("[data-notice=bad]").get_by_text("changed in another window")).to_be_visible()
    expect(second.field("Amount in %")).to_have_value("60")
    other.unroute("**/edits")
    other.get_by_role("button", name="Apply mine again").click()
    expect(bench.field("Amount in %")).to_have_value("20")


def test_compare_and_zoom(bench: BenchPage) -> None:
    page = bench.page
    bench.go(FRAME)
    page.keyboard.press("w")
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) > 30 and greyness(bench.pixel(0.74, 0.6)) <= 3
    corner = bench.canvas.bounding_box()
    middle = corner["x"] + corner["width"] / 2
    page.mouse.move(middle, corner["y"] + 100)
    page.mouse.down()
    page.mouse.move(corner["x"] + corner["width"] * 0.1, corner["y"] + 100, steps=8)
    page.mouse.up()
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) <= 3 and greyness(bench.pixel(0.04, 0.6)) > 10
    page.keyboard.press("w")
    page.keyboard.down("b")
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) > 30
    page.keyboard.up("b")
    bench.wait_for_picture()
    assert greyness(bench.pixel(*TREES)) <= 3
    page.keyboard.press("d")
    bench.wait_for_picture()
    expect(page.get_by_text("before", exact=True)).to_be_visible()
    page.keyboard.press("d")
    page.keyboard.press("z")
    bench.wait_for_picture()
    expect(page.get_by_role("button", name="100 % ▾")).to_be_visible()
    page.mouse.move(middle, corner["y"] + 100)
    page.mouse.wheel(0, -400)
    bench.wait_for_picture()
    assert page.get_by_role("button", name="100 % ▾").count() == 0
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Fit ▾")).to_be_visible()
    page.keyboard.press("Shift+F")
    page.wait_for_function("() => document.fullscreenElement === document.documentElement")
    page.keyboard.press("f")
    page.wait_for_function("() => document.fullscreenElement === null")


@pytest.mark.long(found_by="web/src/engine/stage/player.test.ts; the reel plays from in to out in test_cutting.py, Firefox plays the same")
def test_play_loops_between_in_and_out(bench: BenchPage) -> None:
    page = bench.page
    bench.go(40)
    page.keyboard.press("i")
    bench.wait_for_picture()
    bench.go(55)
    page.keyboard.press("o")
    bench.wait_for_picture()
    expect(page.get_by_role("button", name="In 40")).to_be_visible()
    expect(page.get_by_role("button", name="Out 55")).to_be_visible()
    page.keyboard.press("Space")
    seen: list[int] = []
    while not any(b < a for a, b in itertools.pairwise(seen)) and len(seen) < 2000:  # until it has gone round
        seen.append(
            page.evaluate("() => new Promise((done) => requestAnimationFrame(() => done(Number(document.querySelector('input[aria-label=Frame]').value))))")
        )
    page.keyboard.press("k")
    assert min(seen) >= 40 and max(seen) <= 55
    assert any(b < a for a, b in itertools.pairwise(seen))  # it went round
    bench.wait_for_picture()
    page.keyboard.press("Home")
    expect(page.get_by_label("Frame", exact=True)).to_have_value("40")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label("Frame", exact=True)).to_have_value("41")
    page.keyboard.press("Shift+ArrowRight")
    expect(page.get_by_label("Frame", exact=True)).to_have_value("51")


@pytest.mark.long(found_by="web/src/engine/stage/player.test.ts: it is heard from where it plays, and kept in step")
def test_sound_plays_in_step(bench: BenchPage) -> None:
    page = bench.page
    page.evaluate("() => { const P = window.Audio; window.Audio = function (s) { return (window.heard = new P(s)); } }")
    bench.go(0)
    page.keyboard.press("Space")
    page.wait_for_function("() => window.heard && window.heard.currentTime > 0.8", timeout=60_000)
    in_step = "() => Math.abs(window.heard.currentTime - Number(document.querySelector('input[aria-label=Frame]').value) / 24) < 0.35"
    page.wait_for_function(in_step)
    page.wait_for_function("() => window.heard.currentTime > 4", timeout=60_000)
    page.wait_for_function("() => window.heard.currentTime < 2", timeout=60_000)  # the shot has come round once
    page.wait_for_function("() => window.heard.currentTime > 0.8 && !window.heard.paused && !window.heard.ended", timeout=60_000)
    page.wait_for_function(in_step)
    page.keyboard.press("k")
    assert page.evaluate("() => window.heard.paused")


@pytest.mark.long(found_by="tests/formats/test_look_json.py; tests/api/test_shelf_and_files.py")
def test_looks_are_downloaded_and_loaded(bench: BenchPage, tmp_path: Path) -> None:
    page = bench.page
    page.get_by_role("button", name="Look ▾").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Download this look").click()
    download.value.save_as(tmp_path / "look.json")
    bench.start_over()
    assert bench.stages() == ["Source"]
    page.get_by_label("Look file").set_input_files(tmp_path / "look.json")
    expect(bench.stage("Saturation")).to_be_visible()
    page.get_by_label("Look file").set_input_files({"name": "x.json", "mimeType": "application/json", "buffer": b"{}"})
    expect(page.locator("[data-notice=bad]").get_by_text("is not a look")).to_be_visible()


@pytest.mark.long(found_by="test_a_shot_opens_where_it_was_left in test_room.py; history survives a reload, beside")
def test_reloadable_addresses(page: Page, bench: BenchPage, server: Server) -> None:
    shot = page.url
    for room in ("Footage", "Exports"):
        page.get_by_role("link", name=room).click()
        expect(page.get_by_role("heading", name=room)).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name=room)).to_be_visible()
    page.get_by_role("link", name="Bench").click()
    expect(page).to_have_url(shot)
