"""Two windows on one shot: both stand where they change different things, and both end equal."""

import os
import random

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import BenchPage, Server

EDITS = int(os.environ.get("WENDITAS_EDITS", "40"))  # 200 by hand: a person makes about one a second
BLENDS = ("normal", "multiply", "screen", "overlay", "darken", "lighten")


@pytest.fixture
def server(one_server: Server) -> Server:
    """One for all tests of this file: each makes a shot of its own, or looks at one of the demo's."""
    return one_server


def second(bench: BenchPage) -> BenchPage:
    other = bench.page.context.new_page()
    other.goto(bench.page.url)
    found = BenchPage(other, bench.server)
    found.wait_for_picture()
    return found


def told(window: BenchPage) -> list:
    """What a window shows of every pass: its place, name and switch, and when it is chosen its amount and blend mode."""
    found = []
    for stage in window.page.get_by_role("list", name="Stages").get_by_role("listitem").all()[1:-1]:
        card = stage.get_by_role("button").first
        card.click()
        expect(card).to_have_attribute("aria-pressed", "true")
        found.append((card.get_attribute("aria-label"), window.field("Amount in %").input_value(), window.page.get_by_label("Blend mode").input_value()))
    return found


def some_edit(chance: random.Random, window: BenchPage) -> None:
    """One edit as a person makes it, not waiting for anything."""
    page = window.page
    cards = page.get_by_role("list", name="Stages").get_by_role("listitem").all()[1:-1]
    card = cards[chance.randrange(len(cards))].get_by_role("button").first
    if card.get_attribute("aria-pressed") != "true":
        card.click()
    what = chance.choice(["amount", "amount", "blend", "switch", "move", "undo"])
    if what == "amount":
        window.field("Amount in %").fill(str(chance.randrange(101)))
        window.field("Amount in %").press("Enter")
    elif what == "blend":
        page.get_by_label("Blend mode").select_option(chance.choice(BLENDS))
    elif what == "switch":
        page.keyboard.press("x")
    elif what == "undo":
        page.keyboard.press("Control+z")
    else:
        card.hover()
        page.get_by_role("button", name=f"Do something with {card.get_attribute('aria-label').split(' ', 1)[1]}", exact=True).click()
        page.get_by_role("menuitem", name=chance.choice(["Earlier", "Later"])).click(force=True)
        page.keyboard.press("Escape")


@pytest.mark.long(found_by="the interleavings of web/src/engine/document.test.ts and editors.test.ts")
@pytest.mark.another_shot
def test_many_edits_in_two_windows_end_equal(bench: BenchPage) -> None:
    for treatment in ("Saturation", "Exposure", "Tint", "Contrast"):
        bench.add(treatment)
    windows, chance = (bench, second(bench)), random.Random(12)
    for _ in range(EDITS):
        some_edit(chance, chance.choice(windows))
    for window in windows:
        expect(window.page.get_by_text("storing…")).to_be_hidden()
    revision = bench.view_of_shot["revision"]
    one, two = (told(window) for window in windows)
    assert one == two
    look = bench.look()
    assert [(f"{p.amount:g}", p.blend) for p in look.passes] == [(amount, blend) for _, amount, blend in one]
    assert [p.name for p in look.passes] == [name.split(" ", 1)[1] for name, _, _ in one]
    assert bench.view_of_shot["revision"] == revision  # looking stored nothing
    shot = bench.page.url.rsplit("/", 1)[-1]
    history = bench.page.request.get(f"{bench.server.url}/api/shots/{shot}/history").json()
    assert len(history) > EDITS / 3  # undo and refusals make no edits of their own


@pytest.mark.another_shot
def test_different_things_changed_at_once_both_stand(bench: BenchPage, problems: list[str]) -> None:
    bench.add("Saturation")
    other = second(bench)
    with other.page.expect_response("**/edits") as answered:
        other.page.route("**/edits", lambda route: (bench.set("Amount in %", 60), route.continue_())[1])
        other.choose("Blend mode", "screen")
    assert answered.value.status == 200
    for window in (bench, other):
        expect(window.field("Amount in %")).to_have_value("60")
        expect(window.page.get_by_label("Blend mode")).to_have_value("screen")
    assert problems == []


def test_an_edit_under_way_stays_with_its_shot(bench: BenchPage) -> None:
    """Answered only after another shot was opened: it goes to the shot it was made on, and the other is not held up."""
    page: Page = bench.page
    first, held = page.url, []
    page.route("**/edits", lambda route: held.append(route))
    bench.field("Amount in %").fill("31")
    bench.field("Amount in %").press("Enter")
    expect(page.get_by_text("storing…")).to_be_visible()
    page.get_by_role("link", name="Footage").click()
    page.get_by_role("button", name="Open on the Bench", exact=True).nth(2).click()
    page.wait_for_url(lambda url: "/shots/" in url and url != first)
    bench.wait_for_picture()
    before = bench.view_of_shot
    for route in held:
        route.continue_()
    page.get_by_role("link", name="Footage").click()
    page.get_by_role("button", name="Open on the Bench", exact=True).first.click()
    page.wait_for_url(first)
    expect(bench.field("Amount in %")).to_have_value("31")
    bench.wait_for_picture()
    assert bench.look().passes[-1].amount == 31
    other = page.request.get(f"{bench.server.url}/api/shots/{before['shot']['id']}").json()
    assert other["revision"] == before["revision"]
