"""Selecting, through the real interface: census, fit, shapes, tracking, islands, coverage over time."""

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import BenchPage

BOX, TRAM, ROOF = (0.885, 0.8), (0.27, 0.795), (0.309, 0.52)


def pick_the_tram(bench: BenchPage) -> None:
    bench.go(60)
    bench.click(*TRAM)


def place(bench: BenchPage, x: float, y: float) -> tuple[float, float]:
    """Screen coordinates of a place of the picture (0-1)."""
    inside = bench.page.evaluate("() => JSON.parse(document.querySelector('#picture canvas').dataset.place)")
    corner = bench.canvas.bounding_box()
    return corner["x"] + inside["x"] + x * inside["width"], corner["y"] + inside["y"] + y * inside["height"]


def drag(bench: BenchPage, start: tuple[float, float], end: tuple[float, float]) -> None:
    bench.page.mouse.move(*start)
    bench.page.mouse.down()
    bench.page.mouse.move(*end, steps=8)
    bench.page.mouse.up()
    bench.wait_for_picture()


def draw(bench: BenchPage, kind: str) -> None:
    bench.page.get_by_role("button", name="Draw ▾").click()
    bench.page.get_by_role("menuitemradio", name=kind).click()


def matte(bench: BenchPage, where: tuple[float, float]) -> int:
    return max(bench.pixel(*where))


def shapes(page: Page) -> list[str]:
    return page.get_by_role("list", name="Shapes").get_by_role("listitem").all_inner_texts()


@pytest.mark.long(found_by="tests/api/test_where.py: fit to picks, main colours")
@pytest.mark.another_shot
def test_fit_to_picks_and_main_colours(bench: BenchPage) -> None:
    page = bench.page
    bench.go(60)
    page.get_by_role("button", name="Select Red").first.click()
    bench.wait_for_picture()
    expect(page.get_by_role("button", name=re.compile("^Red.* ▾"))).to_be_visible()
    bench.set("Tolerance in °", 30)
    before = bench.field("Tolerance in °").input_value()
    page.get_by_role("button", name="Fit to picks").click()
    expect(page.locator("[data-notice]").get_by_text(re.compile("^Fitted: tolerance"))).to_be_visible()
    bench.wait_for_picture()
    assert bench.field("Tolerance in °").input_value() != before
    bench.view("Matte")
    assert matte(bench, (0.06, 0.1)) < 60 and matte(bench, BOX) > 200


SAME = pytest.mark.long(found_by="the path, which is drawn and changed the same way; web/src/engine/geometry.test.ts and shapes.test.ts")


@pytest.mark.another_shot
@pytest.mark.parametrize("kind", [pytest.param("Ellipse", marks=SAME), pytest.param("Rectangle", marks=SAME)])
def test_a_box_shape_is_drawn_and_changed(bench: BenchPage, kind: str) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.view("Matte")
    assert matte(bench, BOX) > 200
    draw(bench, kind)
    drag(bench, place(bench, 0.8, 0.36), place(bench, 0.97, 0.97))
    assert len(shapes(page)) == 1 and "keep" in shapes(page)[0]
    assert matte(bench, TRAM) < 10
    page.get_by_role("button", name="Leave it out instead").click()  # which is offered at once
    bench.wait_for_picture()
    assert "leave out" in shapes(page)[0]
    assert matte(bench, BOX) < 10 and matte(bench, TRAM) > 200
    # Moved away, the pillar box is selected again; moved back by undo, it is not.
    drag(bench, place(bench, 0.885, 0.66), place(bench, 0.68, 0.3))
    assert matte(bench, BOX) > 200
    page.keyboard.press("Control+z")
    bench.wait_for_picture()
    assert matte(bench, BOX) < 10
    page.get_by_role("radio", name="Keep", exact=True).click()
    bench.wait_for_picture()
    assert matte(bench, BOX) > 200 and matte(bench, TRAM) < 10


@pytest.mark.another_shot
@pytest.mark.parametrize("kind", ["Path", pytest.param("Polygon", marks=SAME)])
def test_a_polygon_is_drawn_and_its_points_moved(bench: BenchPage, kind: str) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.view("Matte")
    draw(bench, kind)
    for x, y in ((0.8, 0.34), (0.98, 0.34), (0.98, 0.98), (0.8, 0.98)):
        page.mouse.click(*place(bench, x, y))
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Leave it out instead").click()
    bench.wait_for_picture()
    assert len(shapes(page)) == 1 and matte(bench, BOX) < 10
    # Drag the right-hand points far to the left: the pillar box comes out.
    for x, y in ((0.98, 0.34), (0.98, 0.98)):
        drag(bench, place(bench, x, y), place(bench, 0.82, y))
    assert matte(bench, (0.89, 0.8)) > 200
    page.keyboard.press("Escape")
    expect(page.get_by_role("radiogroup", name="What the shape does")).to_have_count(0)


@pytest.mark.another_shot
def test_a_drag_beside_a_point_adds_none_where_points_stand_close(bench: BenchPage) -> None:
    """A handle between two points lay over them: a path of 31 became one of 33."""
    page = bench.page
    draw(bench, "Polygon")
    corners = [(0.3 + 0.02 * n, 0.3) for n in range(8)] + [(0.44 - 0.02 * n, 0.6) for n in range(8)]
    for x, y in corners:
        page.mouse.click(*place(bench, x, y))
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    drag(bench, place(bench, 0.351, 0.3), place(bench, 0.37, 0.4))
    (shape,) = bench.look().selections[0].shapes
    assert len(shape.points) == len(corners)
    a, b = shape.points[7:9]  # far apart: the handle between them is there
    drag(bench, place(bench, (a.x + b.x) / 2 / 1920, (a.y + b.y) / 2 / 1080), place(bench, 0.7, 0.5))
    assert len(bench.look().selections[0].shapes[0].points) == len(corners) + 1


@pytest.mark.another_shot
@pytest.mark.long(found_by="tests/core/test_track.py; tests/api/test_where.py")
def test_the_pillar_box_is_tracked(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    draw(bench, "Rectangle")
    drag(bench, place(bench, 0.81, 0.4), place(bench, 0.95, 0.92))
    page.get_by_role("button", name="both", exact=True).click()
    expect(page.get_by_role("progressbar", name="Tracking")).to_be_visible()
    expect(page.locator("[data-notice]").get_by_text("Rectangle tracked.")).to_be_visible(timeout=60_000)
    assert "tracked" in shapes(page)[0]
    bench.view("Matte")
    # Sixty frames later and earlier the foreground has moved by some 50 pixels, and the fence with it.
    for frame, shift in ((120, -57 / 1280), (2, 45 / 1280)):
        bench.go(frame)
        for x in (0.86, 0.885, 0.91):
            assert matte(bench, (x + shift, 0.8)) < 60, (frame, x)


@pytest.mark.another_shot
def test_tracking_can_be_cancelled(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    draw(bench, "Ellipse")
    drag(bench, place(bench, 0.8, 0.36), place(bench, 0.97, 0.97))
    page.get_by_role("button", name="both", exact=True).click()
    page.get_by_role("status").get_by_role("button", name="Cancel").click()
    expect(page.locator("[data-notice]").get_by_text("Tracking cancelled")).to_be_visible()
    assert "tracked" not in shapes(page)[0]


@pytest.mark.long(found_by="tests/api/test_where.py: islands and a tracked fence; engine/shapes.test.ts")
def test_an_island_is_fenced_off_in_one_step(bench: BenchPage) -> None:
    page = bench.page
    rows = page.get_by_role("list", name="Islands").get_by_role("listitem")
    demo_fence = shapes(page)
    assert demo_fence  # the demo's own look has its fence already: the tram without the pillar box
    bench.view("Matte")
    assert matte(bench, BOX) < 10
    bench.start_over()
    pick_the_tram(bench)
    page.keyboard.press("n")
    bench.click(*ROOF)  # not the roofs
    bench.view("Matte")
    largest = rows.first
    expect(largest).to_be_visible()
    largest.hover()
    before = float(page.get_by_label("Coverage").inner_text().split()[0])
    largest.get_by_role("button", name="Fence off").click()
    expect(page.locator("[data-notice]").get_by_text("Fence tracked.")).to_be_visible(timeout=60_000)
    bench.wait_for_picture()
    assert float(page.get_by_label("Coverage").inner_text().split()[0]) < before * 0.8
    assert "Fence" in shapes(page)[0] and "tracked" in shapes(page)[0]


def lose_the_shade(bench: BenchPage) -> tuple[Locator, Locator, int]:
    """A selection that loses the tram in the shade: the curve over time, its mark, and the frame that is marked."""
    page = bench.page
    curve = page.get_by_role("img", name="Selected area over time")
    page.get_by_role("button", name="Pick from frame 75: remove").nth(2).click()  # the shaded pick: without it the shade falls out
    bench.set("Tolerance in °", 2)
    bench.set("Softness in °", 2)
    expect(curve).to_have_attribute("data-fresh", "true", timeout=60_000)
    mark = page.get_by_role("button", name=re.compile("drops to .* at frame"))
    expect(mark).to_be_visible()
    return curve, mark, int(mark.inner_text().rsplit(" ", 1)[1])


@pytest.mark.long(found_by="tests/api/test_where.py: coverage over time; engine/coverage.test.ts")
def test_the_curve_marks_the_shade_until_the_tolerance_is_raised(bench: BenchPage) -> None:
    page = bench.page
    curve, mark, frame = lose_the_shade(bench)
    assert 30 <= frame <= 110  # where the building's shade lies on the tram
    page.keyboard.press("g")
    assert int(page.get_by_label("Frame", exact=True).input_value()) == frame
    bench.set("Tolerance in °", 12)
    bench.set("Softness in °", 6)
    expect(curve).to_have_attribute("data-fresh", "true", timeout=60_000)
    expect(mark).to_have_count(0)


@pytest.mark.another_shot
def test_keys_combine_and_cleaning_is_live(bench: BenchPage) -> None:
    page = bench.page
    pick_the_tram(bench)
    bench.view("Matte")
    page.get_by_role("button", name="Add a key ▾").click()
    page.get_by_role("menuitem", name="By lightness").click()
    bench.wait_for_picture()
    keys = page.get_by_role("list", name="Keys").get_by_role("listitem")
    expect(keys).to_have_count(2)
    assert "intersect" in keys.nth(1).inner_text()
    bench.set("From in %", 90)  # nothing of the tram is that light
    assert matte(bench, TRAM) < 10
    page.get_by_role("radio", name="Subtract").click()
    bench.wait_for_picture()
    assert matte(bench, TRAM) > 200
    page.get_by_role("button", name="Cleaning ▾").click()
    page.get_by_role("checkbox", name="Invert").check()
    bench.wait_for_picture()
    assert matte(bench, TRAM) < 10 and matte(bench, (0.1, 0.15)) > 200
    bench.drag_slider("Choke", 10)
    assert float(bench.field("Choke in px").input_value()) > 0


@pytest.mark.long(found_by="tests/core/test_look.py: edge and hatching are drawn over the picture; web/src/engine/stage/want.test.ts")
def test_edge_and_hatched_views(bench: BenchPage) -> None:
    bench.view("Hatched")
    tram = np.array([bench.pixel(0.27 + n * 0.004, 0.795) for n in range(6)])
    assert tram[:, 1].max() > 60  # stripes over the red
    bench.view("Edge")
    assert bench.pixel(0.1, 0.15)[2] > 60


@pytest.mark.long(found_by="tests/api/test_exports.py: mattes; test_pick_treat_export drives the dialog")
def test_export_of_a_matte(bench: BenchPage) -> None:
    page = bench.page
    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="Matte").click()
    dialog.get_by_label("Format").select_option("png-8")
    dialog.get_by_role("button", name="Export", exact=True).click()
    page.get_by_role("link", name="Exports").click()
    row = page.get_by_role("listitem", name="Tram up the hill")
    expect(row.get_by_text("Ready")).to_be_visible(timeout=120_000)
    with page.expect_download() as download:
        row.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename.endswith(".zip")
