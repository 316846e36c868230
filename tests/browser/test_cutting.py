"""Cutting the reel as editors do, by pointer and by keyboard, on the demo's film."""

import re

import pytest
from playwright.sync_api import expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage
from tests.browser.reel_page import ReelPage


def test_cut_in_half_make_night_and_dissolve_by_keyboard(reel: ReelPage) -> None:
    """One shot cut at a frame, its second half under a look of its own, day dissolving into it over 24 frames; all taken back, one by one."""
    page, before = reel.page, reel.state()
    page.keyboard.press("Home")
    for _ in range(5):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("s")
    reel.stored()
    expect(reel.chosen.get_by_label("First frame of the item")).to_have_value("50")
    expect(reel.chosen.get_by_label("Last frame of the item")).to_have_value("116")
    page.keyboard.press("u")
    reel.stored()
    expect(reel.chosen.get_by_role("heading", name="Over Tram up the hill")).to_be_visible()
    reel.chosen.get_by_role("button", name="+ Light ▾").or_(reel.chosen.get_by_role("button", name="+ Map ▾")).first.click()
    page.get_by_role("menuitem").first.click()
    reel.stored()
    page.keyboard.press("Escape")
    page.locator("body").click(position={"x": 640, "y": 20})
    page.keyboard.press("x")
    reel.stored()
    state = reel.state()
    first, second = state["document"]["items"][:2]
    assert (first["last"], second["first"], second["last"]) == (49, 50, 116)
    assert next(j for j in state["document"]["transitions"] if j["after"] == first["id"])["frames"] == 24
    assert state["spans"][state["document"]["spans"][-1]["id"]] == [50, 116] and len(state["document"]["spans"][-1]["look"]["passes"]) == 1
    assert state["overlaps"][0]["held_out"] == state["overlaps"][0]["held_in"] == 0  # a shot that is cut in half has frames on both sides
    for _ in range(4):
        page.keyboard.press("Control+z")
        reel.stored()
    wait_for(lambda: reel.state()["document"] == before["document"])


@pytest.mark.long(found_by="web/src/engine/reel/cutting.test.ts and snap.test.ts; cut by pointer and several dragged together in the tests beside")
def test_items_are_dragged_trimmed_and_taken_out_by_pointer(reel: ReelPage) -> None:
    page, before = reel.page, reel.state()
    first, third = reel.items.nth(0).bounding_box(), reel.items.filter(has_text="Six awnings").bounding_box()
    page.mouse.move(first["x"] + 60, first["y"] + 70)
    page.mouse.down()
    page.mouse.move(third["x"] + third["width"] * 0.3, third["y"] + 70, steps=6)
    page.mouse.up()
    reel.stored()
    order = [i["id"] for i in reel.state()["document"]["items"]]
    assert order.index("tram") == 2 and order.index("awnings") == 3
    kiln = reel.items.filter(has_text="The kiln")
    kiln.click(position={"x": 40, "y": 70})
    box = kiln.bounding_box()
    page.mouse.move(box["x"] + 3, box["y"] + 20)
    page.mouse.down()
    still = reel.items.nth(0).bounding_box()
    page.mouse.move(box["x"] + 43, box["y"] + 20, steps=4)
    expect(page.get_by_label("What is here")).to_contain_text("The kiln")  # the frame at the edge is shown
    trimmed = kiln.bounding_box()
    assert box["width"] - trimmed["width"] == pytest.approx(40, abs=6), "the edge keeps to the pointer"
    assert reel.items.nth(0).bounding_box() == still, "the ruler keeps still under the drag"
    page.mouse.up()
    wait_for(lambda: reel.items.nth(0).bounding_box()["width"] > still["width"])  # let go, it fits the reel again
    reel.stored()
    state = reel.state()
    item = next(i for i in state["document"]["items"] if i["id"] == "kiln")
    assert 15 <= item["first"] <= 35 and state["length"] == before["length"] - item["first"]
    reel.chosen.get_by_role("button", name="Take out").click()
    reel.stored()
    assert "kiln" not in [i["id"] for i in reel.state()["document"]["items"]]
    page.get_by_role("button", name="Undo", exact=True).click()
    reel.stored()
    wait_for(lambda: reel.state()["document"] == state["document"])


def test_several_chosen_items_are_dragged_together(reel: ReelPage) -> None:
    page, before = reel.page, [i["id"] for i in reel.state()["document"]["items"]]
    reel.items.nth(0).click(position={"x": 40, "y": 70})
    reel.items.nth(1).click(position={"x": 40, "y": 70}, modifiers=["Shift"])
    first, third = reel.items.nth(0).bounding_box(), reel.items.nth(2).bounding_box()
    page.mouse.move(first["x"] + 40, first["y"] + 70)
    page.mouse.down()
    page.mouse.move(third["x"] + third["width"] * 0.9, third["y"] + 70, steps=6)
    page.mouse.up()
    reel.stored()
    assert [i["id"] for i in reel.state()["document"]["items"]] == [before[2], *before[:2], *before[3:]]
    page.keyboard.press("Control+z")  # one step
    reel.stored()
    wait_for(lambda: [i["id"] for i in reel.state()["document"]["items"]] == before)


def test_cut_as_editors_cut_by_pointer(reel: ReelPage) -> None:
    """Put in at the playhead, roll, slip, in and out, a gap by the right button; one step back for each."""
    page, before = reel.page, reel.state()
    page.get_by_role("list", name="Shots").get_by_role("button", name="Six awnings 5.0 s").click()
    page.get_by_role("list", name="Shots").get_by_role("button", name="The kiln 4.0 s").click(modifiers=["Control"])
    code = page.get_by_label("Timecode")
    code.fill("1:12")
    code.press("Enter")
    assert reel.frame() == 36
    page.get_by_role("button", name="Put in here").click()
    wait_for(lambda: len(reel.state()["document"]["items"]) == len(before["document"]["items"]) + 3)
    reel.stored()
    items = reel.state()["document"]["items"]
    shot = {i["id"]: i["shot"] for i in before["document"]["items"]}
    assert [i["shot"] for i in items[:4]] == [shot[n] for n in ("tram", "awnings", "kiln", "tram")] and (items[0]["last"], items[3]["first"]) == (35, 36)
    page.keyboard.press("Control+z")
    reel.stored()
    wait_for(lambda: reel.state()["document"] == before["document"])

    items_at = [i["id"] for i in before["document"]["items"]].index("awnings")
    grip = page.get_by_role("slider", name="Cut before Six awnings").bounding_box()
    cuts = reel.state()["cuts"]
    wide = reel.items.filter(has_text="Six awnings").bounding_box()["width"] / (cuts[items_at + 1] - cuts[items_at])
    page.mouse.move(grip["x"] + 5, grip["y"] + 10)
    page.mouse.down()
    page.mouse.move(grip["x"] - 10, grip["y"] + 10, steps=4)
    expect(page.get_by_label("Both sides of the cut")).to_contain_text("nothing else")
    page.mouse.up()
    reel.stored()
    rolled = reel.state()["cuts"]
    moved = [a - b for a, b in zip(rolled, cuts, strict=True)]
    assert sum(m != 0 for m in moved) == 1 and min(moved) == pytest.approx(-15 / wide, abs=1)  # as far as the pointer
    page.keyboard.press("Control+z")
    reel.stored()

    awnings = reel.items.filter(has_text="Six awnings")
    box = awnings.bounding_box()
    page.keyboard.down("Alt")
    page.mouse.move(box["x"] + 60, box["y"] + 30)
    page.mouse.down()
    page.mouse.move(box["x"] + 40, box["y"] + 30, steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    reel.stored()
    slipped = next(i for i in reel.state()["document"]["items"] if i["id"] == "awnings")
    was = next(i for i in before["document"]["items"] if i["id"] == "awnings")
    assert slipped["first"] > was["first"] and slipped["last"] - slipped["first"] == was["last"] - was["first"] and reel.state()["cuts"] == cuts
    assert reel.state()["spans"] == before["spans"]  # what lies over it keeps its place
    page.keyboard.press("Control+z")
    reel.stored()

    awnings.click(button="right", position={"x": 40, "y": 30})
    page.get_by_role("menuitem", name="Take out and leave a gap").click()
    reel.stored()
    state = reel.state()
    assert state["cuts"] == cuts and next(i for i in state["document"]["items"] if i["id"] == "awnings")["shot"] == "gap"
    expect(reel.chosen.get_by_role("heading", name="Gap")).to_be_visible()
    page.keyboard.press("Control+z")
    reel.stored()
    wait_for(lambda: reel.state()["document"] == before["document"])


@pytest.mark.long(
    found_by="web/src/engine/stage/player.test.ts and transport.test.ts; tests/api/test_gaps_and_stretches.py: a stretch is exported with its sound"
)
def test_in_and_out_play_and_are_exported(reel: ReelPage) -> None:
    page, before = reel.page, reel.state()
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("i")
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("o")
    expect(page.get_by_role("slider", name="In of the reel")).to_have_attribute("aria-valuenow", "30")
    page.reload()
    reel.settled()
    expect(page.get_by_role("slider", name="Out of the reel")).to_have_attribute("aria-valuenow", "50")  # kept
    page.keyboard.press(" ")
    wait_for(lambda: 30 <= reel.frame() <= 45)  # it begins anew at the in
    page.keyboard.press(" ")
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.get_by_role("dialog")).to_contain_text("21 frames")
    expect(page.get_by_role("link", name="This frame as PNG")).to_have_attribute("href", re.compile(r"/frames/\d+/\d+\.png"))
    page.keyboard.press("Escape")
    page.keyboard.press("c")
    reel.stored()
    wait_for(lambda: reel.state()["length"] == before["length"] - 21)
    page.keyboard.press("Control+z")
    reel.stored()
    page.keyboard.press("i")
    page.keyboard.press("Shift+I")
    expect(page.get_by_role("slider", name="In of the reel")).to_have_count(0)


def test_a_cut_that_loses_its_dissolve_says_so_and_the_room_is_found_again(reel: ReelPage) -> None:
    page = reel.page
    for _ in range(2):
        page.keyboard.press("ArrowDown")
    frame = reel.frame()
    transitions = len(reel.state()["document"]["transitions"])
    page.keyboard.press("x")
    reel.stored()
    if len(reel.state()["document"]["transitions"]) > transitions:  # a plain cut was nearest
        page.keyboard.press("x")
        reel.stored()
    said = page.locator("[data-notice]").filter(has_text="is gone: a plain cut")
    expect(said).to_be_visible()
    said.get_by_role("button", name="Undo").click()
    reel.stored()
    page.reload()
    reel.settled()
    assert reel.frame() == frame
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keyboard")).to_be_visible()
    page.keyboard.press("Escape")
    before = page.evaluate("document.activeElement.outerHTML")
    page.keyboard.press("F6")
    assert page.evaluate("document.activeElement.outerHTML") != before


@pytest.mark.long(found_by="tests/core/test_reel_document.py: a split moves nothing; cut and dissolved by keyboard in the test above")
def test_another_look_from_here_on(bench: BenchPage, problems: list[str]) -> None:
    """Half a shot into night by one command: split where it stands in the reel, a shot of its own, a dissolve; and back."""
    page = bench.page
    page.get_by_role("link", name="Footage").click()
    page.get_by_role("button", name="Open Six awnings.mp4 on the Bench").click()
    bench.wait_for_picture()
    bench.go(60)
    project = page.url.split("/projects/")[1].split("/")[0]
    reel = lambda: page.request.get(f"{bench.server.url}/api/projects/{project}/reel").json()["document"]  # noqa: E731
    before = reel()
    page.get_by_role("button", name="Look ▾").click()
    page.get_by_role("menuitem", name="Another look from here on: split and dissolve").click()
    expect(page.get_by_role("button", name="Six awnings, later ▾")).to_be_visible(timeout=60_000)
    now = reel()
    assert len(now["items"]) == len(before["items"]) + 1 and len(now["transitions"]) == len(before["transitions"]) + 1
    assert page.get_by_label("Frame", exact=True).input_value() == "60"
    page.locator("[data-notice]").get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Six awnings ▾")).to_be_visible(timeout=60_000)
    assert reel() == before
    assert problems == []
