"""Jobs with colours on the Bench: greys, fits that are asked about, bundles, shots laid in, palettes, outlines."""

import re

import pytest
from playwright.sync_api import expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage, Server
from tests.browser.test_where import BOX, TRAM, drag, draw, pick_the_tram, place


@pytest.fixture
def server(one_server: Server) -> Server:
    """One for all tests of this file: each makes a shot of its own."""
    return one_server


@pytest.fixture
def bench(bench: BenchPage) -> BenchPage:
    bench.page.set_default_timeout(60_000)
    return bench


@pytest.mark.long(found_by="tests/project/test_edits.py: a grey is keyed by what it has")
@pytest.mark.another_shot("The marionette")
def test_a_grey_is_keyed_by_lightness_and_says_so(bench: BenchPage, problems: list[str]) -> None:
    bench.go(40)
    dark = next((x, y) for y in (0.45, 0.5, 0.55, 0.6) for x in (0.46, 0.48, 0.5, 0.52, 0.54) if max(bench.pixel(x, y)) < 40)
    bench.click(*dark)
    expect(bench.page.locator("[data-notice]").get_by_text(re.compile("keyed by (lightness|colour) instead"))).to_be_visible()
    (key,) = bench.look().selections[0].keys
    assert key.type in ("lightness", "colour") and bench.look().selections[0].name in ("Black", "Grey")
    bench.view("Matte")
    assert max(bench.pixel(*dark)) > 200 and max(bench.pixel(0.08, 0.1)) < 40
    assert problems == []


@pytest.mark.long(found_by="tests/api/test_where.py and tests/core of fitting: a fit that reaches too far is said")
@pytest.mark.another_shot
def test_a_fit_that_explodes_is_shown_and_asked_about(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.set("Least saturation in %", 60)
    narrow = bench.look()
    page.get_by_role("button", name="Fit to picks").click()
    asks = page.get_by_role("alertdialog", name="Fit to picks")
    expect(asks.get_by_text("of the frame")).to_be_visible()
    page.get_by_role("radio", name="Matte", exact=True).click()
    wait_for(lambda: max(bench.pixel(*BOX)) > 150)
    assert bench.look() == narrow  # shown, not stored
    asks.get_by_role("button", name="Leave as it was").click()
    bench.wait_for_picture()
    assert max(bench.pixel(*BOX)) < 100 and bench.look() == narrow
    page.get_by_role("button", name="Fit to picks").click()
    asks.get_by_role("button", name="Fit anyway").click()
    expect(page.locator("[data-notice]").get_by_text(re.compile("^Fitted: tolerance.*% before"))).to_be_visible()
    assert bench.look() != narrow and bench.look().selections[0].keys[0].softness == narrow.selections[0].keys[0].softness


@pytest.mark.long(found_by="engine/bundles.test.ts; tests/core/test_bundles.py")
@pytest.mark.another_shot
def test_passes_are_bundled_and_laid_over_as_one(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.go(60)
    for name in ("Exposure", "Monochrome", "Solid"):
        bench.add(name)
    stages = page.get_by_role("list", name="Stages")
    bench.stage("Monochrome").click()
    bench.stage("Solid").click(modifiers=["Shift"])
    stages.get_by_role("button", name="Do something with Solid").click()
    page.get_by_role("menuitem", name="Bundle these 2 passes").click()
    bench.wait_for_picture()
    full = bench.pixel(*TRAM)
    bench.set("Amount in %", 25)
    quarter = bench.pixel(*TRAM)
    look = bench.look()
    assert [p.bundle for p in look.passes] == [None, look.bundles[0].id, look.bundles[0].id] and look.bundles[0].amount == 25
    under = [round((q - 0.25 * f) / 0.75) for q, f in zip(quarter, full, strict=True)]
    page.get_by_role("checkbox", name="On").uncheck()
    bench.wait_for_picture()
    assert bench.pixel(*TRAM) == pytest.approx(under, abs=4) and not bench.look().bundles[0].on
    page.get_by_role("button", name="Switch on").click()
    stages.get_by_role("button", name="Open Bundle", exact=True).click()
    expect(bench.stage("Solid")).to_be_visible()
    page.get_by_role("button", name="Take apart").click()
    wait_for(lambda: bench.look().bundles == ())
    assert len(bench.look().passes) == 3 and problems == []


@pytest.mark.long(found_by="tests/references/test_placing.py: a shot that is laid in; an item of the reel is placed by its handles in test_reel.py")
@pytest.mark.another_shot
def test_a_shot_is_laid_in_and_placed_by_its_handles(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.go(60)
    bench.add("Shot laid in")
    bench.choose("Shot", page.get_by_label("Shot", exact=True).get_by_role("option", name="The kiln").get_attribute("value") or "")
    bench.set("Size in %", 40)
    before = bench.pixel(0.5, 0.5)
    corner = bench.pixel(0.15, 0.15)
    drag(bench, place(bench, 0.5, 0.5), place(bench, 0.2, 0.2))  # by the handle in its middle
    item = bench.look().passes[0]
    assert item.params["centre_x"] == pytest.approx(20, abs=1) and item.params["centre_y"] == pytest.approx(20, abs=1)
    assert bench.pixel(0.5, 0.5) != before and bench.pixel(0.15, 0.15) != corner
    page.get_by_role("group", name=re.compile("^Place of Shot laid in")).focus()
    page.keyboard.press("Alt+ArrowRight")
    bench.wait_for_picture()
    wait_for(lambda: bench.look().passes[0].params["turn"] == 1)
    page.keyboard.press("v")
    expect(page.get_by_role("group", name=re.compile("^Place of"))).to_have_count(0)
    page.keyboard.press("v")
    expect(page.get_by_role("group", name=re.compile("^Place of"))).to_be_visible()
    assert problems == []


def test_a_shot_cannot_be_laid_into_itself(bench: BenchPage) -> None:
    page = bench.page
    own = page.url.rsplit("/", 1)[-1]
    view = page.request.get(f"{bench.server.url}/api/shots/{own}").json()
    value = {"id": "laid", "name": "Laid", "treatment": "shot-laid-in", "params": {"shot": own}}
    body = {"base": view["revision"], "commands": [{"do": "add", "target": "look/passes", "value": value}], "words": "Laid"}
    answer = page.request.post(f"{bench.server.url}/api/shots/{own}/edits", data=body)
    assert answer.status == 422 and "into itself" in answer.json()["message"]


@pytest.mark.long(found_by="tests/api/test_palettes.py, which takes, puts in and keeps them")
@pytest.mark.another_shot("The kiln")
def test_palettes_come_from_other_shots_and_are_kept(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Gradient map")
    page.get_by_role("button", name="Colours from").click()
    page.get_by_role("radio", name="A shot").click()
    page.get_by_label("Shot", exact=True).select_option(label="Six awnings")
    found = page.get_by_role("region", name="From Six awnings")
    found.get_by_title(re.compile("^Put 5 of Six awnings")).click()
    expect(page.locator("[data-notice]").get_by_text("5 of Six awnings is in Gradient map.")).to_be_visible()
    assert len(bench.look().passes[0].params["stops"]) == 5
    found.get_by_role("button", name="Keep").first.click()
    page.get_by_role("textbox").last.fill("Market")
    page.keyboard.press("Enter")
    expect(page.locator("[data-notice]").get_by_text("“Market” is on the shelf.")).to_be_visible()
    page.keyboard.press("Escape")
    bench.add("Exposure")  # which takes no palette: the shelf makes a gradient map of it
    page.get_by_role("button", name="Shelf").click()
    page.get_by_role("region", name="Palettes").get_by_role("button", name="Market").click()
    expect(page.locator("[data-notice]").get_by_text("Market is in Gradient map.")).to_be_visible()
    assert [p.treatment for p in bench.look().passes] == ["gradient-map", "exposure", "gradient-map"] and len(bench.look().passes[2].params["stops"]) == 3
    assert problems == []


@pytest.mark.another_shot
def test_a_click_in_a_chosen_shape_picks_and_a_drag_moves_it(bench: BenchPage) -> None:
    pick_the_tram(bench)
    draw(bench, "Rectangle")
    drag(bench, place(bench, 0.8, 0.36), place(bench, 0.97, 0.97))
    (shape,) = bench.look().selections[0].shapes
    bench.page.get_by_role("radio", name="Add pick", exact=True).click()
    bench.click(*BOX)
    wait_for(lambda: len(bench.look().selections[0].keys[0].picks) == 2)
    assert bench.look().selections[0].shapes == (shape,)
    drag(bench, place(bench, 0.9, 0.6), place(bench, 0.7, 0.6))
    assert bench.look().selections[0].shapes[0].points[0].x < shape.points[0].x - 100


@pytest.mark.long(found_by="tests/api/test_shelf_and_files.py: a look goes before or after; web/src/engine/pocket.test.ts")
@pytest.mark.another_shot
def test_a_look_goes_before_or_after_what_is_there(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Exposure")
    for where in ("After", "Before"):
        page.get_by_role("button", name="Shelf").click()
        page.get_by_role("radiogroup", name="Where the look goes").get_by_role("radio", name=where).click()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Poster bands|^Two-ink print|^One-ink")).first.click()
        bench.wait_for_picture()
    names = [p.treatment for p in bench.look().passes]
    at = names.index("exposure")
    assert 0 < at < len(names) - 1 and names[:at] == names[at + 1 :]
