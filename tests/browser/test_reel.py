"""The room of the reel, by pointer and by keyboard, on the demo's film."""

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.api.conftest import wait_for
from tests.browser.reel_page import ReelPage
from tests.browser.test_accessibility import in_both_themes
from tests.media.clips import read_independently


@pytest.mark.long(found_by="test_it_plays_across_a_cut, on the same film; tests/faults/test_wheel.py makes the demo")
def test_the_demo_is_a_film(reel: ReelPage) -> None:
    state = reel.state()
    assert len(state["document"]["items"]) >= 8 and 25 <= state["length"] / 24 <= 35
    kinds = [j["kind"] for j in state["document"]["transitions"]]
    assert "dissolve" in kinds and "reveal" in kinds and len(state["document"]["spans"]) >= 2 and state["document"]["track"]
    expect(reel.items).to_have_count(len(state["document"]["items"]) * 1)
    here = reel.page.get_by_label("What is here")
    expect(here).to_contain_text("Tram up the hill, frame 0")
    reel.page.get_by_role("button", name="reveal of").click()
    expect(here).to_contain_text("The marionette giving way to Orchard path")
    expect(here).to_contain_text("under the span Evening paper")
    expect(reel.chosen).to_contain_text("Opens where")


@pytest.mark.long(found_by="web/src/engine/reel/placing.test.ts and snap.test.ts; tests/api/test_reel.py")
def test_a_shot_dropped_in_mirrored_and_its_span_moved(reel: ReelPage) -> None:
    page, before = reel.page, reel.state()
    page.get_by_role("button", name="Put Six awnings at the end of the reel").click()
    expect(reel.chosen.get_by_role("heading", name="Six awnings")).to_be_visible()
    expect(reel.chosen).to_contain_text("Used twice in the reel")
    reel.settled()
    reel.chosen.get_by_label("Mirror across").check()
    reel.stored()
    assert reel.state()["document"]["items"][-1]["mirror_across"] is True
    span = page.get_by_role("button", name="Span Red flash")
    box = span.bounding_box()
    page.mouse.move(box["x"] + 14, box["y"] + 22)
    page.mouse.down()
    page.mouse.move(box["x"] + 114, box["y"] + 22, steps=5)
    page.mouse.up()
    reel.stored()
    old, new = before["spans"]["flash"], reel.state()["spans"]["flash"]
    assert new[0] > old[0] + 30 and new[1] - new[0] == old[1] - old[0]


@pytest.mark.long(found_by="test_two_windows.py; tests/api/test_bench_of_the_reel.py")
def test_two_windows_one_on_the_reel_one_on_a_shot(reel: ReelPage, page: Page) -> None:
    """What is changed of a shot on the Bench is seen in the reel, in another window, without a reload."""
    name = reel.state()["document"]["items"][0]["shot"]
    other = page.context.new_page()
    other.goto(page.url.replace("/reel", f"/shots/{name}"))
    other.wait_for_selector("[data-settled=true]", timeout=60_000)
    revision = reel.state()["shots"][name]["revision"]
    picture = page.locator(f"img[src*='/shots/{name}/pictures/{revision}/']")
    expect(picture.first).to_be_attached()
    other.get_by_role("group", name="Transport").get_by_role("button", name="One frame on").click()
    other.keyboard.press("x")  # a pass is switched off
    other.wait_for_selector("[data-settled=true]", timeout=60_000)
    wait_for(lambda: reel.state()["shots"][name]["revision"] != revision)
    expect(picture).to_have_count(0)
    other.keyboard.press("Control+z")
    wait_for(lambda: reel.state()["shots"][name]["revision"] == revision)
    other.close()


def test_it_plays_across_a_cut(reel: ReelPage) -> None:
    page = reel.page
    page.keyboard.press("Home")
    page.keyboard.press("ArrowDown")
    cut = reel.frame()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press(" ")
    wait_for(lambda: reel.frame() > cut + 3)
    page.keyboard.press(" ")


@pytest.mark.long(found_by="tests/api/test_exports_of_the_reel.py; the dialog by test_pick_treat_export, the reel's by test_in_and_out_play_and_are_exported")
def test_it_is_exported(reel: ReelPage, tmp_path: Path) -> None:
    page = reel.page
    state = reel.state()
    kept = {"puppet", "orchard"}
    assert kept <= {i["id"] for i in state["document"]["items"]}
    commands = [{"do": "remove", "target": f"items/{i['id']}"} for i in state["document"]["items"] if i["id"] not in kept]
    reel.edit(state, [*commands, {"do": "set", "target": "width", "value": 640}, {"do": "set", "target": "height", "value": 360}])
    expect(reel.items).to_have_count(2)
    page.get_by_role("button", name="Export", exact=True).click()
    expect(page.get_by_label("About")).to_contain_text("About", timeout=60_000)
    page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
    page.get_by_role("button", name="See exports").click()
    link = page.get_by_role("link", name="Download").first
    expect(link).to_be_visible(timeout=180_000)
    with page.expect_download() as download:
        link.click()
    path = tmp_path / "reel.mp4"
    download.value.save_as(path)
    frames, rate = read_independently(path)
    page.go_back()
    reel.settled()
    state = reel.state()
    assert rate == 24 and len(frames) == state["length"]
    reveal = next(o for o in state["overlaps"] if o["id"] == "through")
    cut = state["cuts"][1]
    assert np.abs(frames[cut - reveal["before"] - 1].astype(float) - frames[cut + reveal["behind"]]).mean() > 20  # it has become another picture


def test_the_room_can_be_used_without_eyes_or_pointer(reel: ReelPage) -> None:
    """The rules of axe-core, with an item, a transition, a span and the reel itself chosen."""
    page = reel.page
    in_both_themes(page, "the reel")
    for name in ("Tram up the hill 0–116", "reveal of", "Span Evening paper"):
        page.get_by_role("button", name=name).focus()
        page.keyboard.press("Enter")
        reel.settled()
        in_both_themes(page, name)


def test_a_span_and_a_reveal_open_on_the_bench(reel: ReelPage) -> None:
    """By E from the reel's room, and back: what is done there is one step of the reel, and undone on the Bench."""
    page, before = reel.page, reel.state()
    page.get_by_role("button", name="Span Evening paper").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("e")
    expect(page.get_by_role("button", name="Evening paper ▾")).to_be_visible()
    reel.settled()
    expect(page.get_by_text("from 263 of the reel")).to_be_visible()
    page.get_by_label("What", exact=True).get_by_label("Blend mode").select_option("screen")
    wait_for(lambda: (reel.state()["undo"] or "").startswith("Evening paper: "))
    assert next(s for s in reel.state()["document"]["spans"] if s["id"] == "paper")["look"]["passes"][0]["blend"] == "screen"
    page.get_by_role("button", name="Undo", exact=True).click()
    wait_for(lambda: reel.state()["document"] == before["document"])
    page.get_by_role("link", name="back to the reel").click()
    reel.settled()
    page.get_by_role("button", name="reveal of").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("e")
    expect(page.get_by_role("button", name="Reveal of Orchard path ▾")).to_be_visible()
    reel.settled()
    page.get_by_role("slider", name="To", exact=True).focus()
    page.keyboard.press("ArrowRight")
    wait_for(lambda: (reel.state()["undo"] or "").startswith("Reveal of Orchard path: "))
    page.get_by_role("link", name="at the cut in the reel").click()
    reel.settled()
    expect(reel.chosen.get_by_role("heading", name="Transition")).to_be_visible()


@pytest.mark.long(
    found_by="web/src/engine/lanes.test.ts; pins are set and nudged on the Bench in test_keyframes.py and test_hands.py; tests/core/test_reel_document.py"
)
def test_pins_of_a_reveal_and_of_a_span(reel: ReelPage) -> None:
    page = reel.page
    page.get_by_role("button", name="reveal of").focus()
    page.keyboard.press("Enter")
    fitted = next(o for o in reel.state()["overlaps"] if o["id"] == "through")
    last = fitted["before"] + fitted["behind"] - 1
    pin = reel.chosen.get_by_role("button", name="The hole opens: 100 % at frame")
    pin.focus()
    page.keyboard.press("Shift+ArrowLeft")
    reel.stored()
    opens = next(j for j in reel.state()["document"]["transitions"] if j["id"] == "through")["opens"]
    assert opens[0]["frame"] == 0 and round(opens[1]["frame"] * last / 1000) == round(450 * last / 1000) - 10  # a step is a frame
    typed = reel.chosen.get_by_label("The hole opens: frame of the pin")
    begins = int(typed.input_value()) - round(opens[1]["frame"] * last / 1000)
    typed.fill(str(begins + 20))  # any frame can be had
    typed.press("Enter")
    reel.stored()
    percent = reel.chosen.get_by_label("The hole opens: percent of the pin")
    percent.fill("85")
    percent.press("Enter")
    reel.stored()
    opens = next(j for j in reel.state()["document"]["transitions"] if j["id"] == "through")["opens"]
    assert (round(opens[1]["frame"] * last / 1000), opens[1]["value"]) == (20, 85)
    group = reel.chosen.get_by_role("group", name="The hole opens: pins")
    at = reel.chosen.get_by_role("button", name="The hole opens: 85 %").bounding_box()
    page.mouse.dblclick(at["x"] + 12, at["y"] + 30)  # just beside it: no twin
    reel.stored()
    expect(group.get_by_role("button")).to_have_count(2)
    pin = reel.chosen.get_by_role("button", name="It takes all: 100 % at frame")
    pin.scroll_into_view_if_needed()
    box = pin.bounding_box()
    page.keyboard.down("Alt")
    page.mouse.move(box["x"] + 8, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] - 32, box["y"] + 12, steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    reel.stored()
    takes = next(j for j in reel.state()["document"]["transitions"] if j["id"] == "through")["takes"]
    assert takes[0]["frame"] == 700 and 800 < takes[1]["frame"] < 900
    page.get_by_role("button", name="Span Evening paper").focus()
    page.keyboard.press("Enter")
    reel.chosen.get_by_role("button", name="Animate the amount").click()
    reel.stored()
    reel.chosen.get_by_role("group", name="Amount: pins").dblclick(position={"x": 120, "y": 40})
    reel.stored()
    amounts = next(s for s in reel.state()["document"]["spans"] if s["id"] == "paper")["amounts"]
    assert len(amounts) == 3 and 20 < amounts[1]["value"] < 40


def test_an_item_is_placed_by_its_handles_and_a_trim_shows_both_sides(reel: ReelPage) -> None:
    page = reel.page
    page.get_by_role("button", name="Tram up the hill 0–116").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Home")
    place = page.get_by_role("group", name="Place of Tram up the hill")
    place.focus()
    page.keyboard.press("Control+Shift+ArrowDown")
    reel.stored()
    page.keyboard.press("Shift+ArrowLeft")
    reel.stored()
    item = reel.state()["document"]["items"][0]
    assert item["scale"] == 90 and item["across"] < 50
    corner = page.get_by_label("Corner 3").bounding_box()
    page.mouse.move(corner["x"] + 5, corner["y"] + 5)
    page.mouse.down()
    page.mouse.move(corner["x"] - 75, corner["y"] - 40, steps=5)
    page.mouse.up()
    reel.stored()
    assert reel.state()["document"]["items"][0]["scale"] < 85
    edge = page.get_by_role("slider", name="Six awnings begins").bounding_box()
    page.mouse.move(edge["x"] + 4, edge["y"] + 20)
    page.mouse.down()
    page.mouse.move(edge["x"] + 40, edge["y"] + 20, steps=4)
    both = page.get_by_label("Both sides of the cut")
    expect(both).to_contain_text("ends: Umbrella in the rain, frame 108")
    expect(both).to_contain_text("begins: Six awnings, frame")
    page.keyboard.press("Escape")
    page.mouse.up()
    expect(both).to_have_count(0)


@pytest.mark.long(found_by="tests/api/test_takes.py and tests/api/test_reel.py; the panel is that of test_takes_and_history")
def test_takes_of_the_reel(reel: ReelPage) -> None:
    page, before = reel.page, reel.state()
    page.keyboard.press("t")
    expect(page.locator("[data-notice]").get_by_text("“Take 1” is saved.")).to_be_visible()
    page.get_by_role("button", name="Tram up the hill 0–116").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Delete")
    reel.stored()
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="Take 1", exact=True).click()
    wait_for(lambda: reel.state()["document"] == before["document"])


def test_after_a_click_the_arrows_are_the_rooms(reel: ReelPage) -> None:
    """What was clicked does not keep the keys: arrow up went to a dissolve, then to a cut, from a reveal. Reached by Tab it does."""
    page = reel.page
    page.get_by_role("button", name="reveal of").click()
    kind = reel.chosen.get_by_role("radiogroup").filter(has=page.get_by_role("radio", name="Reveal", exact=True)).first
    at = reel.frame()
    kind.get_by_role("radio", name="Reveal", exact=True).click()
    page.keyboard.press("ArrowUp")
    wait_for(lambda: reel.frame() < at)
    expect(kind.get_by_role("radio", name="Reveal", exact=True)).to_be_checked()
    assert reel.state()["undo"] is None or "cut" not in reel.state()["undo"].lower()
    kind.get_by_role("radio", name="Reveal", exact=True).focus()
    page.keyboard.press("ArrowLeft")
    expect(kind.get_by_role("radio", name="Dissolve", exact=True)).to_be_checked()
    reel.stored()
    page.keyboard.press("Control+z")
    expect(kind.get_by_role("radio", name="Reveal", exact=True)).to_be_checked()
    page.keyboard.press("Control+y")
    expect(kind.get_by_role("radio", name="Dissolve", exact=True)).to_be_checked()
    reel.stored()


def test_one_lost_answer_is_not_the_end(reel: ReelPage, problems: list[str]) -> None:
    """A request fails while the events go on: the page says that it is offline, asks again, and sends what it kept."""
    page = reel.page
    failed: list[str] = []

    def fail_once(route) -> None:  # type: ignore[no-untyped-def]
        if failed:
            route.continue_()
        else:
            failed.append(route.request.url)
            route.abort("connectionfailed")

    page.route("**/api/reels/*/edits", fail_once)
    page.locator("body").click(position={"x": 640, "y": 20})
    before = len(reel.state()["document"]["items"])
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("s")
    lost = page.get_by_text("The server does not answer")
    expect(lost).to_be_visible()
    expect(lost).to_have_count(0, timeout=60_000)
    reel.stored()
    assert failed and len(reel.state()["document"]["items"]) == before + 1
    page.unroute_all()
    assert all("ERR_CONNECTION_FAILED" in problem for problem in problems)  # which was asked for
    problems.clear()
