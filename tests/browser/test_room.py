"""Room on the Bench: panes, sliders, scopes, zoom, takes, shots, what is said, windows of other sizes."""

import re
from collections.abc import Iterator

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import BenchPage, Server

TRAM = (0.264, 0.79)  # its red side


@pytest.fixture
def bench(page: Page, one_server: Server, problems: list[str]) -> Iterator[BenchPage]:
    """The first shot on the Bench, of a server that is shared; afterwards the shot is as it was."""
    page.goto(one_server.url)
    page.get_by_role("button", name="Open on the Bench", exact=True).first.click()
    found = BenchPage(page, one_server)
    found.wait_for_picture()
    shot, revision = page.url.rsplit("/", 1)[-1], found.view_of_shot["revision"]
    yield found
    url = f"{one_server.url}/api/shots/{shot}"
    back = page.request.post(f"{url}/head", data={"base": page.request.get(url).json()["revision"], "revision": revision})
    assert back.ok, back.text()


def width(page: Page, area: str) -> float:
    box = page.get_by_role("region", name=area, exact=True).bounding_box()
    assert box
    return box["width"]


IS_WIDE = """([area, least, most]) => {
  const { width } = document.querySelector(`section[aria-label='${area}']`).getBoundingClientRect();
  return width >= least && width <= most;
}"""


def wait_for_width(page: Page, area: str, least: float, most: float) -> float:
    page.wait_for_function(IS_WIDE, arg=[area, least, most])
    return width(page, area)


def drag_edge(page: Page, area: str, by: float) -> None:
    box = page.get_by_role("separator", name=f"Edge of {area}").bounding_box()
    assert box
    page.mouse.move(box["x"], box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + by, box["y"] + 60, steps=5)
    page.mouse.up()


def test_panes_are_dragged_folded_and_remembered(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    before, picture = width(page, "Where"), width(page, "Picture")
    drag_edge(page, "Where", 80)
    wait_for_width(page, "Where", before + 80, before + 80)
    assert width(page, "Picture") == picture - 80
    page.get_by_role("separator", name="Edge of Where").focus()
    page.keyboard.press("ArrowLeft")  # a twentieth of the room
    stepped = wait_for_width(page, "Where", before + 12, before + 20)
    page.keyboard.press("e")
    expect(page.get_by_role("button", name="Unfold What")).to_be_visible()
    page.keyboard.press("r")
    expect(page.get_by_role("group", name="Transport")).to_be_visible()  # time in one line
    page.reload()
    bench.wait_for_picture()
    assert width(page, "Where") == pytest.approx(stepped, abs=1) and width(page, "What") < 30
    page.get_by_role("button", name="Unfold What").click()
    page.keyboard.press("r")
    page.get_by_role("separator", name="Edge of Where").dblclick()
    wait_for_width(page, "Where", before, before)
    bench.wait_for_picture()
    assert problems == []


def test_a_pane_folds_where_it_is_dragged_small_and_comes_back_as_wide_as_it_is_dragged(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    drag_edge(page, "Where", -220)
    expect(page.get_by_role("button", name="Unfold Where")).to_be_visible()
    page.keyboard.press("f")  # without it
    expect(page.get_by_role("region", name="Where", exact=True)).to_have_count(0)
    page.keyboard.press("f")
    wait_for_width(page, "Where", 22, 22)
    drag_edge(page, "Where", 280)
    wait_for_width(page, "Where", 300, 304)
    edge = page.get_by_role("separator", name="Edge of Where")
    edge.focus()
    page.keyboard.press("F6")  # to the next area, not to the next edge
    assert page.evaluate("document.activeElement.getAttribute('role')") != "separator"
    page.reload()
    bench.wait_for_picture()
    wait_for_width(page, "Where", 300, 304)
    assert problems == []


def test_the_picture_takes_the_window_and_keeps_transport_and_pass(bench: BenchPage) -> None:
    page = bench.page
    area = bench.canvas.bounding_box()
    page.keyboard.press("f")
    bench.wait_for_picture()
    larger = bench.canvas.bounding_box()
    assert larger["width"] * larger["height"] > 1.8 * area["width"] * area["height"]
    assert page.evaluate("document.fullscreenElement") is None
    bench.set("Saturation in %", 40)  # the chosen pass is at hand
    page.get_by_role("button", name="Play (Space)").click()
    expect(page.get_by_role("button", name="Pause (Space)")).to_be_visible()
    page.keyboard.press("Space")
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="Stages")).to_be_visible()


@pytest.mark.long(found_by="web/src/engine/params.test.ts and ui/scale.test.ts; sliders are dragged in test_one_colour_stays.py")
def test_a_slider_is_as_long_as_its_panel_and_finer_with_alt(bench: BenchPage) -> None:
    page = bench.page
    bench.start_over()
    bench.add("Gaussian blur")
    slider = page.get_by_role("slider", name="Radius", exact=True)
    box = slider.bounding_box()
    assert box["width"] > 240
    bench.set("Radius in px", 8)
    place = float(slider.get_attribute("data-place"))
    assert place == pytest.approx(0.245, abs=0.01)  # 8 of the 133 px that 200 of 1080 lines are here: the square root of that share
    x, y = box["x"] + place * box["width"], box["y"] + box["height"] - 5
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 10, y, steps=4)
    page.mouse.up()
    bench.wait_for_picture()
    coarse = float(slider.get_attribute("aria-valuenow")) - 8
    bench.set("Radius in px", 8)
    page.keyboard.down("Alt")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 10, y, steps=4)
    page.mouse.up()
    page.keyboard.up("Alt")
    bench.wait_for_picture()
    fine = float(slider.get_attribute("aria-valuenow")) - 8
    assert 0 < fine < coarse / 4
    number = bench.field("Radius in px").bounding_box()
    page.mouse.move(number["x"] + 20, number["y"] + 8)
    page.mouse.down()
    page.mouse.move(number["x"] + 60, number["y"] + 8, steps=8)
    page.mouse.up()
    bench.wait_for_picture()
    assert float(slider.get_attribute("aria-valuenow")) == pytest.approx(8 + fine + 20, abs=1.01)  # half a pixel for each pixel
    assert len(bench.look().passes) == 1


def test_scopes_float_grow_and_tell_values(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    small = page.get_by_role("img", name="Waveform").bounding_box()
    page.get_by_role("button", name="Let the scope float, larger").click()
    large = page.get_by_role("img", name="Waveform").bounding_box()
    assert large["width"] > 1.5 * small["width"] and large["height"] > 2 * small["height"]
    page.mouse.move(large["x"] + large["width"] / 2, large["y"] + large["height"] / 2)
    expect(page.get_by_label("Value in the scope")).to_have_text(re.compile(r"^(49|50|51)\.\d % at"))
    bar = page.get_by_label("The floating scope").bounding_box()
    page.mouse.move(bar["x"] + bar["width"] / 2, bar["y"] + 12)
    page.mouse.down()
    page.mouse.move(bar["x"] + bar["width"] / 2 - 100, bar["y"] + 52, steps=4)
    page.mouse.up()
    moved = page.get_by_role("img", name="Waveform").bounding_box()
    assert (moved["x"], moved["y"]) == (large["x"] - 100, large["y"] + 40)
    page.keyboard.press("c")
    expect(page.get_by_role("img", name="Waveform")).to_have_count(0)
    page.keyboard.press("c")
    page.get_by_role("button", name="Put the scope back in the panel").click()
    expect(page.get_by_role("region", name="What", exact=True).get_by_role("img", name="Waveform")).to_be_visible()
    assert problems == []


@pytest.mark.long(found_by="tests/core/test_measure.py")
def test_the_pixel_report_tells_levels_and_luma(bench: BenchPage) -> None:
    page = bench.page
    box, corner = page.evaluate("() => JSON.parse(document.querySelector('#picture canvas').dataset.place)"), bench.canvas.bounding_box()
    page.mouse.move(corner["x"] + box["x"] + 0.35 * box["width"], corner["y"] + box["y"] + 0.72 * box["height"])
    report = page.get_by_label("Pixel report")
    expect(report).to_contain_text("luma")
    red, green, blue, luma = (float(v) for v in re.search(r"R ([\d.]+) G ([\d.]+) B ([\d.]+) %luma ([\d.]+)", report.inner_text().replace("\n", "")).groups())
    assert luma == pytest.approx(0.2126 * red + 0.7152 * green + 0.0722 * blue, abs=0.15)  # ITU-R BT.709-6, 3.2


@pytest.mark.parametrize("density", [1.0, pytest.param(1.5, marks=pytest.mark.long(found_by="the other density; web/src/engine/stage/viewport.test.ts"))])
def test_one_hundred_percent_is_pixel_for_pixel(browser, one_server: Server, density: float) -> None:  # type: ignore[no-untyped-def]
    """Grain keeps its contrast: what is on the canvas is what the server made, to the code value."""
    context = browser.new_context(viewport={"width": 1279, "height": 801}, device_scale_factor=density)
    page = context.new_page()
    page.goto(one_server.url)
    page.get_by_role("button", name="Open on the Bench", exact=True).first.click()
    bench = BenchPage(page, one_server)
    bench.wait_for_picture()
    bench.add("Grain")
    page.keyboard.press("z")
    bench.wait_for_picture()
    got = page.evaluate(
        """async () => {
          const canvas = document.querySelector('#picture canvas'), place = JSON.parse(canvas.dataset.place);
          const shot = location.pathname.split('/').at(-1);
          const view = await (await fetch(`/api/shots/${shot}`)).json();
          const frame = document.querySelector('input[aria-label=Frame]').value;
          const url = `/api/shots/${shot}/pictures/${view.revision}/${frame}.png?width=100000&view=result`;
          const image = await createImageBitmap(await (await fetch(url)).blob());
          const other = new OffscreenCanvas(image.width, image.height).getContext('2d');
          other.drawImage(image, 0, 0);
          const scale = Math.round(place.width / image.width * 1000) / 1000;
          const [x, y] = [place.x, place.y].map((p) => Math.ceil(Math.max(0, -p / scale)) + 20);
          const ours = canvas.getContext('2d').getImageData(Math.round(place.x + x * scale), Math.round(place.y + y * scale), 64, 64).data;
          return { scale, ours: [...ours], theirs: [...other.getImageData(x, y, 64, 64).data] };
        }"""
    )
    assert got["scale"] == 1
    assert got["ours"] == got["theirs"]
    page.keyboard.press("Control+z")
    bench.wait_for_picture()
    context.close()


def test_the_hand_is_out_when_a_shot_opens_and_the_tool_is_told_at_the_pointer(bench: BenchPage) -> None:
    page = bench.page
    bench.start_over()
    tool = page.get_by_role("radiogroup", name="What a click in the picture does")
    expect(tool.get_by_role("radio", name="Hand")).to_be_checked()
    corner = bench.canvas.bounding_box()
    page.mouse.click(corner["x"] + corner["width"] / 2, corner["y"] + corner["height"] / 2)
    bench.wait_for_picture()
    assert bench.look().selections == ()  # a click of the hand selects nothing
    page.get_by_role("button", name="Pick a colour").click()
    page.mouse.move(corner["x"] + corner["width"] / 2, corner["y"] + corner["height"] / 2)
    expect(page.locator("[data-tool]")).to_have_attribute("data-tool", "new pick")
    bench.click(*TRAM)
    expect(tool.get_by_role("radio", name="Add pick")).to_be_checked()
    expect(page.locator("[data-tool]")).to_have_attribute("data-tool", re.compile(r"^\+ "))


def test_a_second_click_on_a_stage_changes_nothing_and_up_to_here_is_a_switch(bench: BenchPage) -> None:
    page = bench.page
    first = bench.stage("Monochrome")
    first.click()
    bench.wait_for_picture()
    both = bench.pixel(*TRAM)
    first.click()
    bench.wait_for_picture()
    assert bench.pixel(*TRAM) == both
    page.get_by_role("button", name="up to here").click()
    expect(page.get_by_role("button", name="up to here")).to_have_attribute("aria-pressed", "true")
    bench.wait_for_picture()
    assert bench.pixel(*TRAM) != both


def test_space_plays_and_presses_what_was_reached_by_tab(bench: BenchPage) -> None:
    page = bench.page
    playing, resting = page.get_by_role("button", name="Pause (Space)"), page.get_by_role("button", name="Play (Space)")
    page.get_by_role("checkbox", name="On").click()
    page.get_by_role("checkbox", name="On").click()
    bench.wait_for_picture()
    for key in ("Space", "k"):  # clicked, it has the focus, but Space is the room's
        page.keyboard.press(key)
        expect(playing if key == "Space" else resting).to_be_visible()
    expect(page.get_by_role("checkbox", name="On")).to_be_checked()
    page.keyboard.press("Tab")
    page.keyboard.press("Shift+Tab")
    expect(page.get_by_role("checkbox", name="On")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.get_by_role("checkbox", name="On")).not_to_be_checked()
    page.keyboard.press("Enter")
    expect(page.get_by_role("checkbox", name="On")).to_be_checked()
    expect(resting).to_be_visible()
    bench.wait_for_picture()
    page.get_by_label("Frame", exact=True).focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Play (Space)")).to_be_visible()  # text keeps its spaces


def test_help_of_the_focused_control_is_on_the_screen(bench: BenchPage) -> None:
    page = bench.page
    page.get_by_role("slider", name="Amount", exact=True).focus()
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Tab")
    expect(page.locator("[data-helpline]")).to_contain_text("treated picture")
    page.get_by_role("button", name="Shelf").focus()
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Tab")
    expect(page.locator("[data-helpline]")).to_contain_text("saved ones")


def test_what_is_said_stays_off_the_ruler_and_goes_with_its_shot(bench: BenchPage) -> None:
    page = bench.page
    for _ in range(3):
        page.keyboard.press("x")
        bench.wait_for_picture()
        page.keyboard.press("Control+z")
        bench.wait_for_picture()
        page.keyboard.press("t")
        expect(page.locator("[data-notice]")).to_contain_text("“Take 1”")  # no longer that of the undone step
    ruler = page.get_by_role("region", name="When").bounding_box()
    notice = page.locator("[data-notice]").bounding_box()
    assert notice["y"] + notice["height"] <= ruler["y"]
    page.keyboard.press("Shift+PageDown")
    bench.wait_for_picture()
    expect(page.locator("[data-notice]")).to_have_count(0)


@pytest.mark.long(found_by="tests/api/test_takes.py; web/src/engine/takes.test.ts; takes are made and put back in test_keyframes.py")
def test_takes_in_one_press_stepped_through_and_side_by_side(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.start_over()
    bench.add("Exposure")
    levels = {}
    for name, stops in (("Take 1", -2), ("Take 2", 1)):
        bench.set("Exposure in EV", stops)
        levels[name] = bench.pixel(*TRAM)
        page.keyboard.press("t")
        expect(page.locator("[data-notice]").get_by_text(f"“{name}” is saved.")).to_be_visible()
    page.keyboard.press("Shift+BracketLeft")
    expect(page.locator("[data-notice]").get_by_text("“Take 1” is in work.")).to_be_visible()
    bench.wait_for_picture()
    assert bench.pixel(*TRAM) == pytest.approx(levels["Take 1"], abs=3)
    page.keyboard.press("Shift+BracketRight")
    expect(page.locator("[data-notice]").get_by_text("“Take 2” is in work.")).to_be_visible()
    bench.wait_for_picture()
    page.get_by_role("button", name="History").click()
    bench.wait_for_pictures()
    page.get_by_role("group", name="Compare Take 2").get_by_role("button", name="Left").click()
    page.get_by_role("group", name="Compare Take 1").get_by_role("button", name="Right").click()
    page.keyboard.press("Escape")
    bench.wait_for_picture()
    place, middle = page.evaluate("() => { const c = document.querySelector('#picture canvas'); return [JSON.parse(c.dataset.place), c.width] }")
    x, y = place["x"] + TRAM[0] * place["width"], place["y"] + TRAM[1] * place["height"]
    half = middle - (middle - 4) // 2
    left, right = (
        page.evaluate("([x, y]) => [...document.querySelector('#picture canvas').getContext('2d').getImageData(x, y, 1, 1).data].slice(0, 3)", [x + dx, y])
        for dx in (0, half)
    )
    assert np.mean(left) > np.mean(right) + 20  # the lighter take on the left
    expect(page.get_by_text("Take 1", exact=True)).to_be_visible()
    bench.set("Exposure in EV", 0)  # what is changed is what is seen
    expect(page.get_by_text("now", exact=True)).to_be_visible()
    assert problems == []


def test_a_shot_opens_where_it_was_left(bench: BenchPage) -> None:
    page = bench.page
    bench.stage("Monochrome").click()
    bench.go(31)
    page.keyboard.press("z")
    bench.wait_for_picture()
    first = page.url
    page.keyboard.press("Shift+PageDown")
    page.wait_for_url(lambda url: url != first)
    bench.wait_for_picture()
    expect(page.get_by_role("button", name="Fit ▾")).to_be_visible()
    page.keyboard.press("Shift+PageUp")
    page.wait_for_url(first)
    bench.wait_for_picture()
    for _ in range(2):
        expect(page.get_by_label("Frame", exact=True)).to_have_value("31")
        expect(page.get_by_role("button", name="100 % ▾")).to_be_visible()
        expect(bench.stage("Monochrome")).to_have_attribute("aria-pressed", "true")
        page.reload()
        bench.wait_for_picture()


@pytest.mark.long(found_by="tests/api/test_exports.py: estimates; engine/background.test.ts")
def test_exports_are_told_ahead_and_seen_from_every_room(bench: BenchPage) -> None:
    page = bench.page
    for frame, key in ((0, "i"), (47, "o")):
        bench.go(frame)
        page.keyboard.press(key)
    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("48 frames, 2.0 s, 1280 × 720 at 24 fps")
    expect(dialog.get_by_label("About")).to_contain_text(re.compile(r"About [\d.]+ MB, in about [\d.]+ (s|min)"), timeout=60_000)
    dialog.get_by_role("radio", name="Small").click()
    expect(dialog).to_contain_text("To look at and send")
    page.get_by_label("Name").fill("Seen from afar")
    dialog.get_by_role("button", name="Export", exact=True).click()
    expect(page.get_by_role("progressbar", name="Exports under way")).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="Footage").click()
    expect(page.get_by_role("progressbar", name="Exports under way")).to_have_count(0, timeout=60_000)


def test_twelve_passes_fit_and_nothing_is_scrolled_sideways(bench: BenchPage) -> None:
    page = bench.page
    names = ("Contrast", "Exposure", "Glow", "Vignette", "Grain", "Tint", "Levels", "Sharpen", "Haze", "Posterize")
    passes = [{"id": f"extra{n}", "name": name, "treatment": name.lower()} for n, name in enumerate(names)]
    view = bench.view_of_shot
    edit = {"base": view["revision"], "words": "Ten more", "commands": [{"do": "add", "target": "look/passes", "value": p} for p in passes]}
    answer = page.request.post(f"{bench.server.url}/api/shots/{view['shot']['id']}/edits", data=edit)
    assert answer.ok, answer.text()
    for wide, high in ((1024, 700), (1280, 800), (2560, 1440)):
        page.set_viewport_size({"width": wide, "height": high})
        page.reload()
        bench.wait_for_picture()
        strip = page.get_by_role("list", name="Stages")
        plus = page.get_by_role("button", name="Add a pass").bounding_box()
        assert plus["x"] + plus["width"] <= wide
        if wide >= 1280:
            assert strip.evaluate("(e) => e.scrollWidth <= e.clientWidth + 1")
        panes = "() => [...document.querySelectorAll('.pane')].map((e) => [e.scrollWidth - e.clientWidth, getComputedStyle(e).overflowX])"
        assert all(over <= 1 and how == "hidden" for over, how in page.evaluate(panes)), page.evaluate(panes)
        cut = """() => [...document.querySelectorAll('header button, header a, main > section h2, #picture button')].filter((e) => {
          const box = e.getBoundingClientRect(), room = e.closest('section, header').getBoundingClientRect();
          return box.right > room.right + 1 || box.bottom > innerHeight + 1;
        }).map((e) => e.textContent)"""
        assert page.evaluate(cut) == []
