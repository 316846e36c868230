"""The looks of the job, each made on the demo by the pointer alone and by the keyboard alone: how many presses that takes, and how long."""

import json
import os
import time
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import BenchPage

# The look as the shelf has it, a shot that suits it, and the main colour that it asks for (by how its button is called), with where that is in the picture.
LOOKS: dict[str, tuple[str, tuple[str, float, float] | None]] = {
    "One colour stays": ("Tram up the hill", ("red", 0.27, 0.795)),
    "Colour swap": ("Tram up the hill", ("red", 0.27, 0.795)),
    "Two-tone world": ("Umbrella in the rain", ("yellow", 0.7, 0.35)),
    "One ink": ("Orchard path", None),
    "Two-ink print": ("Six awnings", None),
    "Paper tint": ("Orchard path", None),
    "Heat camera": ("The kiln", None),
    "Poster bands": ("The marionette", None),
    "Day for night": ("Umbrella in the rain", None),
    "Blood-red sky": ("Hill at dusk", ("", 0.5, 0.12)),
    "Old broadcast": ("Six awnings", None),
    "Colours return": ("Six awnings", None),
    "Restless": ("The kiln", None),
}
SHORT = ("Two-ink print",)
MOST_CLICKS = 8  # where a look asks for a pick
LONG = pytest.mark.long(
    found_by="tests/core of the shelf, which put every starter on; the short one drives the same doors, and test_pick_treat_export makes one colour stay"
)


class Presses:
    """Counts what a hand does."""

    def __init__(self, bench: BenchPage) -> None:
        self.page, self.count, self.began = bench.page, 0, time.monotonic()

    def click(self, what) -> None:  # type: ignore[no-untyped-def]
        what.click()
        self.count += 1

    def key(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
            self.count += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.count += len(text)

    @property
    def seconds(self) -> float:
        return time.monotonic() - self.began


def by_pointer(bench: BenchPage, look: str, wanted: tuple[str, float, float] | None) -> Presses:
    hand = Presses(bench)
    hand.click(bench.page.get_by_role("button", name="Shelf", exact=True))
    hand.click(bench.page.get_by_role("dialog").get_by_role("button", name=f"{look} ").first)
    if wanted:
        expect(bench.page.get_by_role("dialog")).to_have_count(0)
        bench.wait_for_picture()
        bench.click(*wanted[1:])
        hand.count += 1
    return hand


def by_keyboard(bench: BenchPage, look: str, wanted: tuple[str, float, float] | None) -> Presses:
    hand = Presses(bench)
    hand.key("m")
    expect(bench.page.get_by_label("Search the shelf")).to_be_focused()
    hand.type(look.lower())
    hand.key("ArrowDown", "Enter")
    if wanted:
        expect(bench.page.get_by_role("dialog")).to_have_count(0)
        focused = bench.page.get_by_role("group", name="Main colours").locator("button:focus")
        expect(focused).to_have_count(1)  # what is asked for can be answered at once
        for _ in range(7):
            if wanted[0] in (focused.get_attribute("aria-label") or "").lower():
                break
            hand.key("Tab")
        hand.key("Enter")
    return hand


@pytest.mark.another_shot
def test_what_is_asked_for_is_answered_by_keys_when_colours_come_late(bench: BenchPage, problems: list[str]) -> None:
    """The colours of the frame before stand there until those of this one have come; the hand is on one that can be taken."""
    page, held = bench.page, []
    colours = page.get_by_role("group", name="Main colours").get_by_role("button")
    expect(colours.first).to_be_visible()
    before = colours.first.get_attribute("aria-label")
    page.route("**/colours/60", lambda route: held.append(route))
    bench.go(60)
    page.locator("body").click(position={"x": 640, "y": 20})
    hand = Presses(bench)
    hand.key("m")
    hand.type("one colour stays")
    hand.key("ArrowDown", "Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_text("Pick the colour that stays")).to_be_visible()
    assert colours.first.get_attribute("aria-label") == before
    for route in held:
        route.continue_()
    expect(page.get_by_role("group", name="Main colours").locator("button:focus")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(page.get_by_text("Pick the colour that stays")).to_have_count(0)
    bench.wait_for_picture()
    assert [len(selection.keys) for selection in bench.look().selections] == [1], "the selection that the look uses has it"
    assert problems == []


@pytest.mark.parametrize(
    "way", [pytest.param("pointer", marks=pytest.mark.long(found_by="the same by keyboard; the shelf is clicked in other files")), "keyboard"]
)
@pytest.mark.parametrize("look", [name if name in SHORT else pytest.param(name, marks=LONG) for name in LOOKS])
def test_a_look_is_made(bench: BenchPage, problems: list[str], look: str, way: str) -> None:
    shot, wanted = LOOKS[look]
    bench.start_over(shot)
    bench.go(60)
    bench.page.locator("body").click(position={"x": 640, "y": 20})
    hand = {"pointer": by_pointer, "keyboard": by_keyboard}[way](bench, look, wanted)
    expect(bench.page.get_by_role("list", name="Stages").get_by_role("listitem").nth(1)).to_be_visible()
    bench.wait_for_picture()
    seconds = hand.seconds
    made = bench.look()
    assert made.passes and (wanted is None or made.selections)
    if wanted:
        assert [bool(selection.keys) for selection in made.selections] == [True], "what was asked for is selected, and nothing beside it"
    assert way == "keyboard" or hand.count <= MOST_CLICKS
    bench.page.keyboard.press("Control+z")
    if told := os.environ.get("LOOKS_TOLD"):  # a file to which the figures go
        with Path(told).open("a") as file:
            file.write(json.dumps({"look": look, "way": way, "presses": hand.count, "seconds": round(seconds, 1)}) + "\n")
    assert problems == []
