"""The sheet: looks carried over, compared, varied, by pointer and by keyboard."""

import json
import urllib.request
from pathlib import Path

import cv2
import pytest
from playwright.sync_api import Page, expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage, Server
from tests.browser.test_accessibility import faults
from wenditas.formats.cube import read_cube


class SheetPage:
    """The sheet as a person sees it."""

    def __init__(self, page: Page, server: Server) -> None:
        self.page, self.server = page, server
        self.project = page.url.split("/projects/")[1].split("/")[0]

    def cell(self, shot: str, column: str):
        return self.page.get_by_role("button", name=f"{shot}, {column}")

    def api(self, path: str) -> dict:
        return json.load(urllib.request.urlopen(f"{self.server.url}/api/{path}"))

    def shots(self) -> dict[str, dict]:
        """The shots of the project by name."""
        return {s["name"]: s for s in self.api(f"projects/{self.project}")["shots"]}

    def look(self, name: str) -> dict:
        return self.api(f"shots/{self.shots()[name]['id']}")["document"]["look"]

    def loaded(self) -> None:
        """Until all cells in view have their pictures."""
        all_there = (
            "() => { const cells = document.querySelectorAll('[data-cell]'); return cells.length > 0 && [...cells].every((c) => c.querySelector('img')); }"
        )
        self.page.wait_for_function(all_there, timeout=60_000)


@pytest.fixture
def sheet(page: Page, server: Server, problems: list[str]):
    page.goto(server.url)
    page.get_by_role("link", name="Sheet", exact=True).click()
    found = SheetPage(page, server)
    found.loaded()
    yield found
    assert problems == []


def test_a_look_is_put_on_three_shots_and_taken_back_on_all(sheet: SheetPage) -> None:
    page = sheet.page
    names = ("Tram up the hill", "Umbrella in the rain", "Six awnings")
    before = {name: sheet.look(name) for name in names}
    sheet.cell(names[0], "Two-ink print").click()
    sheet.cell(names[2], "Two-ink print").click(modifiers=["Shift"])
    expect(page.get_by_text("3 shots chosen · Two-ink print")).to_be_visible()
    page.get_by_role("button", name="Put on 3 shots").click()
    expect(page.locator("[data-notice]").get_by_text("“Two-ink print” is on 3 shots.")).to_be_visible()
    for name in names:
        assert [p["name"] for p in sheet.look(name)["passes"]] != [p["name"] for p in before[name]["passes"]]
        assert sheet.api(f"shots/{sheet.shots()[name]['id']}/takes")[0]["name"] == "Before Two-ink print"
    page.get_by_role("banner").get_by_role("button", name="Undo all").click()
    expect(page.locator("[data-notice]").get_by_text("“Two-ink print” taken back on 3 shots.")).to_be_visible()
    assert {name: sheet.look(name) for name in names} == before


def test_by_keyboard_alone_and_to_the_bench_and_back(sheet: SheetPage) -> None:
    page = sheet.page
    page.locator("body").press("ArrowRight")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Space")
    expect(sheet.cell("Umbrella in the rain", "Day for night")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Shift+ArrowDown")
    expect(page.get_by_text("2 shots chosen · Day for night")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_role("dialog", name="Two looks compared")).to_be_visible()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Escape")
    page.keyboard.press("Enter")
    page.wait_for_url("**/shots/**from=sheet**")
    page.get_by_role("link", name="back to the sheet").click()
    expect(page.get_by_text("2 shots chosen · Day for night")).to_be_visible()


@pytest.mark.long(found_by="tests/api/test_sheet.py: what is not there is said; test_twelve_looks.py: what is asked for is answered")
def test_what_needs_a_pick_is_picked_on_the_bench(sheet: SheetPage) -> None:
    """Red is nowhere in the kiln's look of one colour: one click goes to the Bench, which asks for it."""
    page = sheet.page
    page.get_by_role("button", name="+ the look of a shot").click()
    page.get_by_role("menuitemcheckbox", name="Six awnings").click()
    cell = sheet.cell("The kiln", "Look of Six awnings")
    cell.scroll_into_view_if_needed()
    inside = page.get_by_role("gridcell").filter(has=cell)
    needs = inside.get_by_role("button", name="pick").or_(inside.get_by_role("button", name="away"))
    expect(needs).to_be_visible(timeout=60_000)
    needs.click()
    page.wait_for_url("**/shots/**from=sheet**")
    expect(page.get_by_text("Pick what is to be selected here")).to_be_visible()
    page.get_by_role("link", name="back to the sheet").click()
    expect(page.get_by_role("button", name="Look of Six awnings ▾")).to_be_visible()


@pytest.mark.long(found_by="tests/api/test_sheet.py: variants are seen and kept beside")
def test_variants_of_two_inks(sheet: SheetPage) -> None:
    """Nine pairs of inks side by side: the best is the look, two more are kept as takes."""
    page = sheet.page
    sheet.cell("Tram up the hill", "Two-ink print").click()
    page.get_by_role("button", name="Put on 1 shot").click()
    expect(page.locator("[data-notice]").get_by_text("“Two-ink print” is on one shot.")).to_be_visible()
    page.get_by_role("radio", name="variants").click()
    page.get_by_label("Pass", exact=True).select_option(label="Two inks")
    page.get_by_label("What is varied").select_option("inks")
    variants = page.get_by_role("list", name="Variants").get_by_role("listitem")
    expect(variants).to_have_count(9)
    page.wait_for_function("() => document.querySelectorAll('[aria-label=Variants] img').length === 9", timeout=60_000)
    before = json.dumps(sheet.look("Tram up the hill"))
    for name in ("Pine and straw", "Plum and mint"):
        page.get_by_role("button", name=f"Keep as a take: {name}").click()
        expect(page.locator("[data-notice]").get_by_text(f"“{name}” is kept as a take")).to_be_visible()
    assert json.dumps(sheet.look("Tram up the hill")) == before
    page.get_by_role("button", name="Use it: Night and coral").click()
    wait_for(lambda: "#ff5a52" in json.dumps(sheet.look("Tram up the hill")))
    assert {t["name"] for t in sheet.api(f"shots/{sheet.shots()['Tram up the hill']['id']}/takes")} >= {"Pine and straw", "Plum and mint"}
    page.get_by_role("radio", name="takes").click()
    expect(sheet.cell("Tram up the hill", "Plum and mint")).to_be_visible()


@pytest.mark.long(found_by="tests/api/test_sheet.py: cells are exported under names of a pattern; web/src/engine/sheet/sheet.test.ts")
def test_saved_as_a_picture_and_exported_by_a_pattern(sheet: SheetPage, tmp_path: Path) -> None:
    page = sheet.page
    sheet.cell("The kiln", "Its own look").click()
    sheet.cell("The kiln", "Heat camera").click(modifiers=["ControlOrMeta"])
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the sheet as a picture").click()
    download.value.save_as(tmp_path / "sheet.png")
    picture = cv2.imread(str(tmp_path / "sheet.png"))
    assert picture.shape[1] == 200 + 2 * 332 + 12 and picture[:, 210:500].std() > 20
    page.get_by_role("button", name="Export all").click()
    page.get_by_label("Names").fill("{shot} {look}")
    page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
    expect(page.locator("[data-notice]").get_by_text("2 exports have begun.")).to_be_visible()
    names = {e["name"] for e in sheet.api(f"projects/{sheet.project}/exports")}
    assert names == {"The kiln own look", "The kiln Heat camera"}
    for e in sheet.api(f"projects/{sheet.project}/exports"):
        urllib.request.urlopen(urllib.request.Request(f"{sheet.server.url}/api/exports/{e['id']}/cancel", method="POST"))


@pytest.mark.long(found_by="test_accessibility.py, which goes through the sheet too")
def test_the_rules_of_axe(sheet: SheetPage) -> None:
    assert faults(sheet.page) == []
    sheet.page.get_by_role("radio", name="variants").click()
    expect(sheet.page.get_by_role("list", name="Variants")).to_be_visible()
    assert faults(sheet.page) == []


@pytest.mark.long(found_by="tests/core/test_as_lut.py; tests/api/test_sheet.py: a shelf is one file")
def test_a_look_is_saved_as_a_lut_and_the_shelf_as_a_file(bench: BenchPage, tmp_path: Path) -> None:
    """What is left out of the LUT is listed; a shelf that is brought in again holds only twins."""
    page = bench.page
    page.get_by_role("button", name="Look ▾").click()
    page.get_by_role("menuitem", name="Save as a LUT…").click()
    dialog = page.get_by_role("dialog", name="Save as a LUT")
    expect(dialog.get_by_text("CIEDE2000")).to_be_visible(timeout=60_000)
    expect(dialog.get_by_role("list", name="Left out").get_by_role("listitem").first).to_contain_text("selection")
    with page.expect_download() as download:
        dialog.get_by_role("link", name="Save .cube").click()
    download.value.save_as(tmp_path / "look.cube")
    assert read_cube((tmp_path / "look.cube").read_text()).size == 33
    page.get_by_role("button", name="Look ▾").click()
    page.get_by_role("menuitem", name="Save on the shelf…").click()
    page.get_by_role("dialog").get_by_role("textbox").fill("Autumn red")
    page.keyboard.press("Enter")
    expect(page.locator("[data-notice]").get_by_text("“Autumn red” is on the shelf.")).to_be_visible()
    page.keyboard.press("m")
    page.get_by_role("button", name="Do something with Autumn red").click()
    page.get_by_role("menuitem", name="Tags…").click()
    page.get_by_role("dialog").last.get_by_role("textbox").last.fill("tram, red")
    page.keyboard.press("Enter")
    page.get_by_label("Search the shelf").fill("tram")
    expect(page.get_by_text("#tram #red")).to_be_visible()
    page.get_by_role("button", name="File ▾").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Save the shelf to a file").click()
    download.value.save_as(tmp_path / "shelf.json")
    page.get_by_label("Shelf file").set_input_files(str(tmp_path / "shelf.json"))
    expect(page.locator("[data-notice]").get_by_text("0 items are new on the shelf; 1 was here already.")).to_be_visible()


def test_eight_columns_scroll_sideways_and_the_names_stay(sheet: SheetPage) -> None:
    page = sheet.page
    page.set_viewport_size({"width": 900, "height": 700})
    grid = page.locator("[data-cells]")
    name = page.get_by_role("rowheader").first
    before = name.bounding_box()["x"]
    if not grid.evaluate("e => e.scrollWidth > e.clientWidth + 40"):
        pytest.fail(f"it does not overflow: {grid.evaluate('e => [e.scrollWidth, e.clientWidth]')}")
    grid.evaluate("e => { e.scrollLeft = 9999; }")
    assert grid.evaluate("e => e.scrollLeft") > 40
    assert abs(name.bounding_box()["x"] - before) <= 1
