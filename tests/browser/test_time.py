"""Time through the interface: the zoomed ruler, playing and what is rendered, paths over time, copied pins, switches."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage
from tests.browser.test_keyframes import TRAM, frames_of, lane_menu, pin, undo
from tests.browser.test_where import lose_the_shade


def rendered(page: Page) -> list[tuple[int, int]]:
    """The stretches of frames that the ruler hatches."""
    said = page.get_by_title("Hatched: rendered, plays at once").get_attribute("aria-label") or ""
    return [(int(a), int(b or a)) for a, b in re.findall(r"(\d+)(?: to (\d+))?", said)]


OUT = 40  # the last frame that these tests render


def shortened(bench: BenchPage) -> None:
    """The shot ends early: there is less to render."""
    bench.go(OUT)
    bench.page.keyboard.press("o")
    bench.wait_for_picture()


def count(stretches: list[tuple[int, int]]) -> int:
    return sum(b - a + 1 for a, b in stretches)


@pytest.mark.long(found_by="tests/render/test_ahead.py; web/src/engine/stage/player.test.ts; test_play_loops_between_in_and_out")
@pytest.mark.idle
def test_playing_goes_on_and_leaves_rendered_frames_behind(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    frame = page.get_by_label("Frame", exact=True)
    shortened(bench)
    bench.set("Tolerance in °", 8)  # a look that nothing has rendered yet
    bench.go(0)
    page.keyboard.press("Space")
    seen = {int(frame.input_value())}
    wait_for(lambda: seen.add(int(frame.input_value())) or (len(seen) >= 8 and max(seen) > 12))  # type: ignore[func-returns-value]
    expect(page.get_by_label("Rate", exact=True)).to_contain_text(re.compile(r"\d+\.\d of 24 fps"))
    page.keyboard.press("k")
    wait_for(lambda: count(rendered(page)) >= 8)
    page.wait_for_function(f"() => document.querySelector('[aria-label=\"Rendered frames: 0 to {OUT}\"]')", timeout=60_000)  # idle time does the rest
    bench.set("Tolerance in °", 9)
    wait_for(lambda: count(rendered(page)) < OUT // 2)  # an edit takes back what it changes
    undo(bench)
    wait_for(lambda: rendered(page) == [(0, OUT)])  # what was rendered before is still there
    assert problems == []


@pytest.mark.idle
@pytest.mark.long(found_by="tests/core/test_digests.py: frames that are the same have one name")
def test_a_later_keyframe_leaves_earlier_frames_rendered(bench: BenchPage) -> None:
    page = bench.page
    shortened(bench)
    bench.go(0)
    pin(bench, "Amount")
    for frame in (20, 35):
        bench.go(frame)
        pin_here(bench, "Amount")
    page.wait_for_function(f"() => document.querySelector('[aria-label=\"Rendered frames: 0 to {OUT}\"]')", timeout=60_000)
    bench.go(35)
    bench.set("Amount in %", 20)

    def from_the_start() -> bool:
        return any(first == 0 and 20 <= last < 35 for first, last in rendered(page)[:1])

    wait_for(from_the_start)


def pin_here(bench: BenchPage, name: str) -> None:
    bench.page.get_by_role("button", name=f"{name} is animated: put a keyframe here").click()
    bench.wait_for_picture()


@pytest.mark.long(found_by="tests/render/test_animated.py; pins are set by hand in the tests beside")
def test_a_higher_tolerance_is_held_while_the_tram_is_in_shade(bench: BenchPage) -> None:
    page = bench.page
    curve, mark, frame = lose_the_shade(bench)

    def covered(at: int) -> str:
        bench.go(at)
        return page.get_by_label("Coverage").inner_text()

    before = [covered(n) for n in (0, 12, 24)]
    bench.go(0)
    pin(bench, "Tolerance")
    pin(bench, "Softness")
    for name in ("Tolerance", "Softness"):
        lane_menu(bench, name, "Hold (all)")
    bench.go(30)
    bench.set("Tolerance in °", 12)
    bench.set("Softness in °", 6)
    assert frames_of(bench, "tolerance") == [0, 30] and frame > 30
    expect(curve).to_have_attribute("data-fresh", "true", timeout=60_000)
    expect(mark).to_have_count(0)
    assert [covered(n) for n in (0, 12, 24)] == before


@pytest.mark.long(found_by="web/src/engine/timespan.test.ts; lanes are in step with the ruler, zoomed, in test_keyframes.py")
def test_time_is_zoomed_and_panned(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.go(60)
    first, last = (page.get_by_role("slider", name=f"{which} frame on the ruler") for which in ("First", "Last"))
    shown = lambda: (int(first.get_attribute("aria-valuenow")), int(last.get_attribute("aria-valuenow")))  # noqa: E731
    assert shown() == (0, 131)
    for _ in range(2):
        page.keyboard.press("+")
    low, high = shown()
    assert high - low == pytest.approx(131 / 4, abs=1) and low < 60 < high
    expect(page.locator("img[src*='/frames/']").first).to_be_visible()  # the frames themselves, no longer the strip
    ruler = page.get_by_role("slider", name="Playhead").locator("..").bounding_box()
    page.mouse.click(ruler["x"] + ruler["width"] * 0.75, ruler["y"] + 40)
    bench.wait_for_picture()
    assert int(page.get_by_label("Frame", exact=True).input_value()) == pytest.approx(low + 0.75 * (high - low), abs=1)
    page.mouse.move(ruler["x"] + ruler["width"] / 2, ruler["y"] + 40)
    page.mouse.wheel(0, 400)
    bench.wait_for_picture()
    assert shown()[0] > low and shown()[1] - shown()[0] == pytest.approx(high - low, abs=1)
    bench.go(5)  # the page turns to the playhead
    assert shown()[0] <= 5
    first.focus()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("0")
    bench.wait_for_picture()
    assert shown() == (0, 131)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -600)
    page.keyboard.up("Control")
    bench.wait_for_picture()
    assert shown() != (0, 131)
    page.keyboard.press("0")
    assert problems == []


def draw_path(bench: BenchPage, *points: tuple[float, float]) -> None:
    bench.page.get_by_role("button", name="Draw ▾").click()
    bench.page.get_by_role("menuitemradio", name="Path").click()
    for x, y in points:
        bench.page.mouse.click(*on_screen(bench, x, y))
    bench.page.keyboard.press("Enter")
    bench.wait_for_picture()


def on_screen(bench: BenchPage, x: float, y: float) -> tuple[float, float]:
    place = bench.page.evaluate("() => JSON.parse(document.querySelector('#picture canvas').dataset.place)")
    corner = bench.canvas.bounding_box()
    return corner["x"] + place["x"] + x * place["width"], corner["y"] + place["y"] + y * place["height"]


def drag(bench: BenchPage, start: tuple[float, float], end: tuple[float, float]) -> None:
    mouse = bench.page.mouse
    mouse.move(*start)
    mouse.down()
    for n in range(1, 6):
        mouse.move(start[0] + (end[0] - start[0]) * n / 5, start[1] + (end[1] - start[1]) * n / 5)
    mouse.up()
    bench.wait_for_picture()


@pytest.mark.long(found_by="web/src/engine/lanes.test.ts and shapes.test.ts; tests/core of lanes")
@pytest.mark.another_shot
def test_a_path_is_keyframed_by_hand(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.go(40)
    draw_path(bench, (0.3, 0.3), (0.5, 0.3), (0.5, 0.6), (0.3, 0.6))
    pin(bench, "Path")
    bench.go(80)
    drag(bench, on_screen(bench, 0.5, 0.3), on_screen(bench, 0.7, 0.2))
    assert frames_of(bench, "points") == [40, 80] and bench.view_of_shot["undo"].endswith("at frame 80")
    bench.go(60)
    expect(page.get_by_role("img", name="Path at frame 40")).to_be_attached()  # outlines of both neighbours
    expect(page.get_by_role("img", name="Path at frame 80")).to_be_attached()
    bench.view("Matte")
    inside = lambda x, y: bench.pixel(x, y)[0] > 128  # noqa: E731
    assert inside(0.4, 0.45) and inside(0.57, 0.3) and not inside(0.67, 0.23)
    bench.go(40)
    assert inside(0.4, 0.45) and not inside(0.57, 0.3)
    bench.go(80)
    assert inside(0.67, 0.23)
    # A point that is added goes into all keyframes and changes the form of none of the others.
    bench.go(60)
    before = page.evaluate("() => document.querySelector('[aria-label=\"Path at frame 40\"] path').getBBox().width")
    circle = page.locator("circle", has=page.locator("title", has_text="Drag to add a point")).nth(2).bounding_box()
    middle = (circle["x"] + circle["width"] / 2, circle["y"] + circle["height"] / 2)
    drag(bench, middle, (middle[0], middle[1] + 60))
    lane = next(lane for lane in bench.look().lanes if lane.target.endswith("points"))
    assert [(k.frame, len(k.value)) for k in lane.keyframes] == [(40, 5), (60, 5), (80, 5)]
    after = page.evaluate("() => document.querySelector('[aria-label=\"Path at frame 40\"] path').getBBox().width")
    assert after == pytest.approx(before, abs=0.5)
    bench.go(100)
    page.get_by_role("button", name="copy to this frame ▾").click()
    page.get_by_role("menuitem", name="From frame 80").click()
    bench.wait_for_picture()
    assert frames_of(bench, "points") == [40, 60, 80, 100]
    kept = {k.frame: k.value for k in bench.look().lanes[0].keyframes}
    assert kept[100] == kept[80] != kept[60]
    undo(bench)
    undo(bench)
    assert [(k.frame, len(k.value)) for k in bench.look().lanes[0].keyframes] == [(40, 4), (80, 4)]
    assert problems == []


@pytest.mark.long(found_by="web/src/engine/lanes.test.ts: copied, pasted, lifted; pins are moved in test_keyframes.py")
@pytest.mark.another_shot
def test_pins_are_copied_and_pasted_and_lifted_in_the_graph(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Exposure")
    bench.go(10)
    pin(bench, "Exposure")
    bench.go(20)
    bench.set("Exposure in EV", -2)
    track = page.get_by_role("group", name="Lane of Exposure")
    for n in (0, 1):
        track.get_by_role("button").nth(n).click(modifiers=["Shift"] if n else [])
    expect(track.get_by_role("button", pressed=True)).to_have_count(2)
    page.keyboard.press("Control+c")
    bench.go(50)
    page.keyboard.press("Control+v")
    bench.wait_for_picture()
    assert frames_of(bench, "stops") == [10, 20, 50, 60] and bench.view_of_shot["undo"] == "2 keyframes pasted at frame 50"
    lane_menu(bench, "Exposure", "Linear")
    page.get_by_role("button", name="Do something with the lane Exposure").click()
    page.get_by_role("menuitem", name="Ease (chosen)…").click()
    page.get_by_label("Name", exact=True).fill("40")
    page.get_by_role("button", name="Save", exact=True).click()
    bench.wait_for_picture()
    assert [(k.how, k.ease) for k in bench.look().lanes[0].keyframes][2:] == [("smooth", 40), ("smooth", 40)]
    lane_menu(bench, "Exposure", "Ease everything, in all lanes")
    assert {(k.how, k.ease) for k in bench.look().lanes[0].keyframes} == {("smooth", 100)}
    pin(bench, "Amount")
    page.get_by_role("button", name="Do something with the lane Amount").click()
    expect(page.get_by_role("menuitem", name="Paste into this lane")).to_be_disabled()  # an amount is never negative
    page.keyboard.press("Escape")
    page.get_by_role("group", name="Lanes").get_by_role("button", name=re.compile("Exposure Exposure")).click()
    at = track.get_by_role("button", name="Exposure: keyframe at frame 20").bounding_box()
    drag(bench, (at["x"] + 7, at["y"] + 9), (at["x"] + 7, at["y"] - 31))
    values = {k.frame: k.value for k in bench.look().lanes[0].keyframes}
    assert list(values) == [10, 20, 50, 60] and -1.9 < values[20] < -0.5 and values[60] == -2
    assert bench.view_of_shot["undo"].startswith("Exposure -2.0 → -") and bench.view_of_shot["undo"].endswith("EV at frame 20")


@pytest.mark.another_shot
def test_a_pass_is_switched_over_time(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Monochrome")
    bench.go(0)
    pin(bench, "On")
    bench.go(50)
    page.keyboard.press("x")
    bench.wait_for_picture()
    assert [(k.frame, k.value, k.how) for k in bench.look().lanes[0].keyframes] == [(0, True, "hold"), (50, False, "hold")]
    expect(page.get_by_text("Bypassed", exact=False).first).to_be_visible()
    coloured = bench.pixel(*TRAM)
    assert max(coloured) - min(coloured) > 40
    bench.go(49)
    grey = bench.pixel(*TRAM)
    assert max(grey) - min(grey) < 4


@pytest.mark.long(found_by="tests/api/test_takes.py: history in words and back to any edit; takes and history in test_keyframes.py")
@pytest.mark.another_shot
def test_history_says_from_where_a_value_came(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Exposure")
    bench.drag_slider("Exposure", 20)
    dragged = bench.look().passes[0].params["stops"]
    assert dragged > 0 and bench.view_of_shot["undo"] == f"Exposure: Exposure 0.0 → {dragged:.1f} EV"
    page.get_by_role("slider", name="Amount", exact=True).focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    bench.wait_for_picture()
    assert bench.view_of_shot["undo"] == "Exposure: Amount 100 → 97 %"
    page.get_by_role("slider", name="Amount", exact=True).focus()
    page.keyboard.press("Home")
    page.get_by_role("button", name="Source", exact=True).focus()
    bench.wait_for_picture()
    assert bench.view_of_shot["undo"] == "Exposure: Amount 97 → 0 %"
    bench.go(10)
    pin(bench, "Amount")
    bench.go(20)
    page.get_by_role("slider", name="Amount", exact=True).focus()
    for key in ("ArrowRight", "ArrowRight", ","):  # and on to the keyframe before, at once
        page.keyboard.press(key)
    bench.wait_for_picture()
    assert [(k.frame, k.value) for k in bench.look().lanes[0].keyframes] == [(10, 0), (20, 2)]  # stored where it was set
    assert bench.view_of_shot["undo"] == "Exposure: Amount 0 → 2 % at frame 20"
    areas = []
    for _ in range(6):
        page.keyboard.press("F6")
        areas.append(page.evaluate("() => document.activeElement.closest('section, header, [aria-label=Stages]').ariaLabel"))
    assert {"Where", "Picture", "What", "When", "Stages"} <= set(areas)
