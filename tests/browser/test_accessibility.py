"""Every room passes the rules of axe-core: names, roles, focus, contrast of at least 4.5 to 1 (WCAG 2.1 AA)."""

from collections.abc import Sequence
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import BenchPage

AXE = (Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]


def faults(page: Page, within: str | None = None, rules: Sequence[str] = RULES) -> list[str]:
    """What axe finds in the page, or in a part of it."""
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE)
    found = page.evaluate("([within, rules]) => axe.run(within ?? document, { runOnly: rules, resultTypes: ['violations'] })", [within, rules])
    return [f"{v['id']}: {n['html'][:160]} | {n.get('failureSummary', '')[:160]}" for v in found["violations"] for n in v["nodes"]]


def in_both_themes(page: Page, what: str) -> None:
    """No faults; and none of contrast, which is all that changes, in the other theme."""
    assert faults(page) == [], what
    page.evaluate("() => (document.documentElement.dataset.theme = 'bright')")
    assert faults(page, rules=["color-contrast"]) == [], what
    page.evaluate("() => (document.documentElement.dataset.theme = 'dim')")


def test_rooms(bench: BenchPage) -> None:
    page = bench.page
    bench.wait_for_pictures()
    in_both_themes(page, "Bench")
    for room in ("Footage", "Exports", "Sheet", "Reel"):
        page.get_by_role("link", name=room, exact=True).click()
        expect(page.get_by_role("heading", name=room, exact=True)).to_be_visible()
        bench.wait_for_pictures()
        in_both_themes(page, room)


def test_small_windows_and_large_magnification(bench: BenchPage) -> None:
    """At 200 % a window of 1920 x 1080 has 960 x 540 pixels: each room fits. In a smaller one, rooms are scrolled and all is reached (WCAG 1.4.4)."""
    page = bench.page
    for room, shown in (("Bench", "Export"), ("Reel", "Export"), ("Sheet", "Put on"), ("Footage", "Bring in files")):
        page.set_viewport_size({"width": 960, "height": 540})
        page.get_by_role("link", name=room, exact=True).click()
        button = page.get_by_role("button", name=shown, exact=True)
        expect(button).to_be_in_viewport(ratio=1)
        page.wait_for_function("() => document.documentElement.scrollWidth === 960 && document.documentElement.scrollHeight === 540")  # once panes have moved
        page.set_viewport_size({"width": 640, "height": 400})
        button.scroll_into_view_if_needed()
        expect(button).to_be_in_viewport(ratio=1)


def test_editors(bench: BenchPage) -> None:
    for treatment in ("Curves", "Gradient map", "Hue bands", "Tone zones", "LUT"):  # those whose editors are not made of fields alone
        bench.add(treatment)
        assert faults(bench.page, "[aria-label=What]") == [], treatment  # all around it is looked at in `test_rooms`


def test_lanes_lists_and_dialogs(bench: BenchPage) -> None:
    page = bench.page
    page.get_by_role("button", name="Amount stands still").click()
    bench.wait_for_picture()
    assert faults(page, "[aria-label=When]") == []
    for open_it in ("Add a pass", "Shelf", "History", "Export"):
        page.get_by_role("button", name=open_it, exact=True).click()
        expect(page.get_by_role("dialog")).to_be_visible()
        bench.wait_for_pictures()
        assert faults(page, "[role=dialog]") == [], open_it  # what lies behind it is hidden
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page, "[role=dialog]") == []
