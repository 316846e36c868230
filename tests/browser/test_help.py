"""Help in place: the page of each panel, without leaving the room or the machine."""

from playwright.sync_api import expect

from tests.browser.conftest import BenchPage


def test_a_panel_opens_its_page_with_pictures_and_links(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    page.get_by_role("button", name="Help: When").click()
    help = page.get_by_role("dialog", name="Help")
    heading = help.get_by_role("heading", name="When", exact=True)
    expect(heading).to_be_in_viewport()
    help.get_by_role("navigation", name="Pages of the help").get_by_role("button", name="How do I…").click()
    expect(help.get_by_role("heading", name="… keep one colour?")).to_be_visible()
    picture = help.get_by_role("img", name="One colour stays")
    expect(picture).to_be_visible()
    expect(picture).to_have_js_property("naturalWidth", 800)
    help.get_by_role("button", name="curves over colour").click()
    expect(help.get_by_role("heading", name="Treatments", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    expect(help).to_have_count(0)
    assert problems == []
