"""Keyframes, drift, lanes, takes and history through the interface, and in exported pixels."""

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import BenchPage

TRAM, TRAM_SHADED, SKY = (0.27, 0.795), (0.39, 0.79), (0.12, 0.18)
AWNINGS = ((0.12, 0.42), (0.28, 0.43), (0.44, 0.42), (0.59, 0.43), (0.75, 0.42), (0.905, 0.43))


def spread(colour) -> float:
    return float(np.ptp(np.asarray(colour, float)))


def pin(bench: BenchPage, name: str) -> None:
    bench.page.get_by_role("button", name=f"{name} stands still").click()
    bench.wait_for_picture()


def frames_of(bench: BenchPage, target: str) -> list[int]:
    lane = next(lane for lane in bench.look().lanes if lane.target.endswith(target))
    return [k.frame for k in lane.keyframes]


def lane_menu(bench: BenchPage, lane: str, item: str) -> None:
    bench.page.get_by_role("button", name=f"Do something with the lane {lane}").click()
    bench.page.get_by_role("menuitem", name=item).click()
    bench.wait_for_picture()


def undo(bench: BenchPage) -> None:
    bench.page.get_by_role("button", name="Undo", exact=True).first.click()
    bench.wait_for_picture()


@pytest.mark.long(found_by="tests/render/test_animated.py and tests/render/test_segments.py")
@pytest.mark.another_shot
def test_an_amount_rises_and_falls_in_the_exported_file(bench: BenchPage, problems: list[str], tmp_path: Path) -> None:
    bench.add("Monochrome")
    bench.go(40)
    bench.set("Amount in %", 0)
    pin(bench, "Amount")
    for frame, value in ((46, 100), (52, 0)):
        bench.go(frame)
        bench.set("Amount in %", value)
    assert frames_of(bench, "amount") == [40, 46, 52]
    assert bench.view_of_shot["undo"].endswith("at frame 52")
    frames = bench.export("Flash", 38, 54, tmp_path / "flash.mp4")
    colour = [float(np.ptp(f.astype(int), axis=2).mean()) for f in frames]
    assert colour[8] < 4 < colour[4] < colour[0] and colour[8] < colour[12] < colour[16]  # grey at frame 46 only
    assert colour[0] == pytest.approx(colour[2], rel=0.05) and colour[-1] == pytest.approx(colour[-3], rel=0.05)
    assert problems == []


@pytest.mark.long(found_by="tests/render/test_animated.py; web/src/engine/lanes.test.ts")
@pytest.mark.another_shot
def test_a_held_tolerance_changes_nothing_before_it(bench: BenchPage) -> None:
    page = bench.page
    bench.go(60)
    bench.click(*TRAM)
    bench.set("Tolerance in °", 4)

    def coverage(frame: int) -> float:
        bench.go(frame)
        return float(page.get_by_label("Coverage", exact=True).inner_text().split()[0])

    early, late = coverage(20), coverage(75)
    bench.go(0)
    pin(bench, "Tolerance")
    lane_menu(bench, "Tolerance", "Hold (all)")
    bench.go(60)
    bench.set("Tolerance in °", 18)
    assert frames_of(bench, "tolerance") == [0, 60] and [k.how for k in bench.look().lanes[0].keyframes] == ["hold", "hold"]
    assert coverage(20) == early and coverage(59) <= coverage(60) and coverage(75) > late
    expect(page.get_by_label("Tolerance in °").and_(page.locator("input"))).to_have_value("18.0")
    bench.go(30)
    expect(page.get_by_label("Tolerance in °").and_(page.locator("input"))).to_have_value("4.0")
    page.keyboard.press(".")  # to the next keyframe
    expect(page.get_by_label("Frame", exact=True)).to_have_value("60")


@pytest.mark.long(found_by="tests/core of lanes and hue bands; the pins by test_pins_are_moved_together_and_undone")
@pytest.mark.another_shot("Six awnings")
def test_the_colours_of_the_awnings_return_one_after_another(bench: BenchPage, problems: list[str]) -> None:
    bench.go(10)
    bench.add("Hue bands")
    bench.page.get_by_role("button", name="return one by one").click()
    bench.wait_for_picture()
    lanes = bench.look().lanes
    assert 6 <= len(lanes) <= 8 and all(lane.target.endswith("/saturation") for lane in lanes)
    assert max(k.frame for lane in lanes for k in lane.keyframes) == 119  # the out frame: nothing lies beyond it
    order = []
    for frame in (10, 28, 46, 64, 82, 100, 119):
        bench.go(frame)
        order.append([spread(bench.pixel(*place)) for place in AWNINGS])
    seen = np.array(order)
    assert seen[0].max() < 14  # all grey
    back = [int(np.argmax(seen[:, n] > 0.6 * seen[-1, n])) for n in range(6)]
    assert back == sorted(back) and back[0] < back[2] < back[4] <= back[5], back  # red, orange, yellow, green, blue, violet
    assert seen[-1].min() > 40
    assert problems == []


@pytest.mark.long(found_by="tests/core of lanes; test_pins_are_moved_together_and_undone")
@pytest.mark.another_shot("The kiln")
def test_a_palette_cycles(bench: BenchPage) -> None:
    bench.go(0)
    bench.add("Gradient map")
    still = bench.pixel(0.5, 0.6)
    pin(bench, "Slide")
    bench.page.get_by_role("button", name="Do something with the lane Slide").click()
    bench.page.get_by_role("menuitem", name="Drift…").click()
    bench.page.get_by_label("Name", exact=True).fill("40")
    bench.page.get_by_role("button", name="Save", exact=True).click()
    bench.wait_for_picture()
    assert bench.look().lanes[0].drift == 40
    bench.go(30)  # half way round after a second and a quarter
    expect(bench.page.get_by_label("Slide in %").and_(bench.page.locator("input"))).to_have_value("50")
    bench.go(60)  # once round after two and a half
    turned = bench.pixel(0.5, 0.6)
    bench.go(0)
    assert bench.pixel(0.5, 0.6) == pytest.approx(still, abs=3)
    lane_menu(bench, "Slide", "Remove the animation, keep this value")
    bench.go(60)
    assert bench.pixel(0.5, 0.6) == pytest.approx(turned, abs=4)  # a whole turn is no turn
    assert bench.look().lanes == ()


@pytest.mark.long(found_by="engine/lanes.test.ts: keyframes move together; test_lanes_are_in_step")
@pytest.mark.another_shot
def test_pins_are_moved_together_and_undone(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Exposure")
    bench.go(20)
    pin(bench, "Exposure")
    for frame, value in ((60, -2), (100, 1)):
        bench.go(frame)
        bench.set("Exposure in EV", value)
    track = page.get_by_role("group", name="Lane of Exposure")
    box = track.bounding_box()
    x = lambda frame: box["x"] + frame / 131 * box["width"]  # noqa: E731
    y = box["y"] + box["height"] / 2
    page.mouse.move(x(12), y + 8)  # drag over all pins to choose them
    page.mouse.down()
    page.mouse.move(x(60), y + 8)
    page.mouse.move(x(112), y + 8)
    page.mouse.up()
    expect(track.get_by_role("button", pressed=True)).to_have_count(3)
    page.keyboard.down("Alt")  # closer together: the last pin pulled to the left
    page.mouse.move(x(100), y)
    page.mouse.down()
    for n in range(1, 11):
        page.mouse.move(x(100 - 4 * n), y)
    page.mouse.up()
    page.keyboard.up("Alt")
    bench.wait_for_picture()
    squeezed = frames_of(bench, "stops")
    assert squeezed[0] == 20 and squeezed[2] == pytest.approx(60, abs=2) and squeezed[1] == pytest.approx(40, abs=2)
    track.get_by_role("button").nth(1).focus()
    page.keyboard.press("ArrowRight")
    bench.wait_for_picture()
    assert frames_of(bench, "stops")[1] == squeezed[1] + 1 or frames_of(bench, "stops") == [f + 1 for f in squeezed]
    undo(bench)
    assert frames_of(bench, "stops") == squeezed
    undo(bench)
    assert frames_of(bench, "stops") == [20, 60, 100]
    undo(bench)
    undo(bench)
    assert frames_of(bench, "stops") == [20]
    undo(bench)
    assert bench.look().lanes == ()
    assert problems == []


@pytest.mark.another_shot
def test_takes_and_history(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Exposure")
    bench.set("Exposure in EV", -2)
    dark = bench.pixel(*SKY)
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="New take").click()
    page.get_by_role("button", name="Do something with Take 1").click()
    page.get_by_role("menuitem", name="Rename…").click()
    page.get_by_label("Name", exact=True).fill("Dark")
    page.get_by_role("button", name="Save", exact=True).click()
    bench.wait_for_picture()
    page.keyboard.press("Escape")
    bench.set("Exposure in EV", 1)
    light = bench.pixel(*SKY)
    page.get_by_role("button", name="History").click()
    edits = page.get_by_role("list", name="Edits")
    expect(edits.get_by_role("button", name="Exposure: Exposure 0.0 → 1.0 EV")).to_be_visible()
    page.get_by_role("group", name="Compare Dark").get_by_role("button", name="Left").click()
    page.keyboard.press("Escape")
    page.keyboard.press("w")
    bench.wait_for_picture()
    expect(page.get_by_text("Dark", exact=True)).to_be_visible()
    assert bench.pixel(*SKY) == pytest.approx(dark, abs=4)  # left of the wipe
    page.keyboard.press("w")
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx(light, abs=4)
    page.get_by_role("button", name="History").click()
    page.get_by_role("list", name="Takes").get_by_role("button", name="Dark", exact=True).click()
    bench.wait_for_picture()
    page.keyboard.press("Escape")
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx(dark, abs=4)
    bench.set("Exposure in EV", -1)  # a branch from the take
    page.get_by_role("button", name="History").click()
    page.get_by_role("list", name="Edits").get_by_role("button", name="Exposure: Exposure -2.0 → 1.0 EV").click()
    bench.wait_for_picture()
    page.keyboard.press("Escape")
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx(light, abs=4)  # nothing was overwritten
    assert problems == []


@pytest.mark.another_shot
def test_the_picture_stays_where_it_is_when_lanes_come(bench: BenchPage) -> None:
    """In the middle of a path's edit the first lane came, and moved the picture away from under the pointer."""
    bench.add("Saturation")
    expect(bench.page.get_by_text("Lanes stand here")).to_be_visible()
    before = bench.canvas.bounding_box()
    for name in ("Amount", "Saturation", "On"):
        pin(bench, name)
        assert bench.canvas.bounding_box() == before
    expect(bench.page.get_by_role("group", name="Lanes", exact=True)).to_be_visible()


@pytest.mark.another_shot
def test_lanes_are_in_step_with_the_ruler_however_many_there_are(bench: BenchPage) -> None:
    """A scroll bar beside the lanes took its width from the time: pins stood off, more to the right."""
    for _ in range(6):
        bench.add("Saturation")
        bench.go(120)
        pin(bench, "Amount")
    lanes = bench.page.get_by_role("group", name="Lanes", exact=True)
    assert lanes.evaluate("e => e.scrollHeight > e.clientHeight && e.offsetWidth > e.clientWidth"), "there is a scroll bar"
    off = bench.page.evaluate(
        """() => {
          const middle = (e) => { const b = e.getBoundingClientRect(); return b.left + b.width / 2; };
          const head = middle(document.querySelector('[aria-label=Playhead] > div'));
          return [...document.querySelectorAll('[data-lane] [data-frame="120"]')].map((pin) => middle(pin) - head);
        }"""
    )
    assert len(off) >= 6 and max(map(abs, off)) <= 1, off
