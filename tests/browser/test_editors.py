"""Editors, shelf, scopes and copied passes, by pointer and by keyboard."""

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage, Server
from wenditas.core.tone.lut import Lut
from wenditas.formats.cube import write_cube

TRAM, SKY = (0.27, 0.795), (0.12, 0.18)


@pytest.fixture
def server(one_server: Server) -> Server:
    """One for all tests of this file: each makes a shot of its own."""
    return one_server


def params(bench: BenchPage, n: int = -1) -> dict:
    return bench.look().passes[n].params


def drag(bench: BenchPage, box: dict, start: tuple[float, float], end: tuple[float, float]) -> None:
    """Drag within (or out of) a box, from and to shares of its size, in small steps."""
    mouse = bench.page.mouse
    places = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in (start, end)]
    mouse.move(*places[0])
    mouse.down()
    for n in range(1, 13):
        mouse.move(*(a + (b - a) * n / 12 for a, b in zip(*places, strict=True)))
    mouse.up()
    bench.wait_for_picture()


def undo(bench: BenchPage) -> None:
    bench.page.get_by_role("button", name="Undo", exact=True).first.click()
    bench.wait_for_picture()


@pytest.mark.another_shot
def test_curves_by_pointer_keyboard_and_typing(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Curves")
    before = bench.pixel(*SKY)
    plot = page.get_by_role("group", name="Master")
    box = plot.bounding_box()
    drag(bench, box, (0.5, 0.5), (0.5, 0.75))  # a press on the empty plot makes a point; one drag is one step
    points = params(bench)["master"]
    assert len(points) == 3 and points[1][0] == pytest.approx(50, abs=1.5) and points[1][1] == pytest.approx(25, abs=2)
    assert sum(bench.pixel(*SKY)) < sum(before) - 60
    page.get_by_role("slider", name="Master, point 2 of 3").focus()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("Shift+ArrowRight")
    bench.wait_for_picture()
    moved = params(bench)["master"][1]
    assert moved[0] == pytest.approx(points[1][0] + 10, abs=0.2) and moved[1] == pytest.approx(points[1][1] + 3, abs=0.2)
    bench.type_in("Master: point up", "60")
    assert params(bench)["master"][1][1] == 60
    box = plot.bounding_box()
    drag(bench, box, (moved[0] / 100, 0.4), (moved[0] / 100, 1.6))  # dragged off the plot: gone
    assert len(params(bench)["master"]) == 2
    undo(bench)
    assert params(bench)["master"][1][1] == 60
    # An S-curve in three clicks: channel, two presses.
    page.get_by_role("radio", name="Blue", exact=True).click()
    box = page.get_by_role("group", name="Blue").bounding_box()
    for place in ((0.25, 0.85), (0.75, 0.15)):
        page.mouse.click(box["x"] + place[0] * box["width"], box["y"] + place[1] * box["height"])
        bench.wait_for_picture()
    assert len(params(bench)["blue"]) == 4 and params(bench)["red"] == [[0, 0], [100, 100]]
    page.get_by_role("button", name="reset", exact=True).click()
    bench.wait_for_picture()
    assert params(bench)["blue"] == [[0, 0], [100, 100]]
    assert problems == []


@pytest.mark.another_shot
def test_without_shows_the_picture_without_it_while_held(bench: BenchPage) -> None:
    page = bench.page
    untouched = bench.pixel(*SKY)
    bench.add("Exposure")
    bench.set("Exposure in EV", -3)
    dark = bench.pixel(*SKY)
    page.get_by_role("button", name="hold to see without").first.focus()
    page.keyboard.down("Enter")
    wait_for(lambda: np.abs(np.subtract(bench.pixel(*SKY), untouched)).max() < 12)
    assert sum(dark) < sum(untouched) - 100
    page.keyboard.up("Enter")
    bench.wait_for_picture()
    assert np.abs(np.subtract(bench.pixel(*SKY), dark)).max() < 6


@pytest.mark.another_shot
def test_stops_that_are_typed_quickly_one_after_another_all_stay(bench: BenchPage, problems: list[str]) -> None:
    """From the last to the first, colour and place each, without waiting: the field is left by pressing the next stop."""
    page = bench.page
    bench.add("Gradient map")
    page.get_by_role("button", name="Even").click()
    count = len(params(bench)["stops"])
    wanted = []
    for n in reversed(range(count)):
        page.get_by_role("slider", name=f"Stop {n + 1} of {count}").click()
        page.get_by_label("Stop position").fill(str(5 + 18 * n))
        page.get_by_label("Stop colour").fill(f"#0{n}0{n}0{n}")
        wanted.insert(0, (5 + 18 * n, f"#0{n}0{n}0{n}"))
    page.get_by_label("Stop position").focus()  # leaves the last field
    bench.wait_for_picture()
    assert [(s["position"], s["colour"]) for s in params(bench)["stops"]] == wanted
    page.keyboard.press("Escape")
    page.get_by_role("slider", name="Stop 2 of").focus()
    page.keyboard.press("ArrowRight")  # waits to be stored
    page.get_by_role("slider", name=f"Stop {count} of").click()
    page.get_by_label("Stop position").fill("99")
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    assert [s["position"] for s in params(bench)["stops"]] == [5, 24, *(p for p, _ in wanted[2:-1]), 99]
    assert problems == []


@pytest.mark.long(found_by="test_curves_by_pointer_keyboard_and_typing; web/src/engine/editors.test.ts")
@pytest.mark.another_shot
def test_a_point_of_a_curve_is_stepped_across_in_its_field(bench: BenchPage) -> None:
    """Shown live, it stood elsewhere than what it was named by, and the next step took the first point."""
    page = bench.page
    bench.add("Curves")
    plot = page.get_by_role("group", name="Master").bounding_box()
    page.mouse.click(plot["x"] + 0.5 * plot["width"], plot["y"] + 0.4 * plot["height"])
    bench.wait_for_picture()
    before = params(bench)["master"]
    field = page.get_by_label("Master: point across")
    field.focus()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    assert len(before) == 3 and params(bench)["master"] == [before[0], [before[1][0] + 3, before[1][1]], before[2]]


@pytest.mark.long(found_by="stops that are typed quickly, beside; web/src/engine/editors.test.ts")
@pytest.mark.another_shot
def test_gradient_stops(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Gradient map")
    bar = page.get_by_role("group", name="Stops").bounding_box()
    page.mouse.click(bar["x"] + 0.31 * bar["width"], bar["y"] + 12)
    bench.wait_for_picture()
    stops = params(bench)["stops"]
    assert len(stops) == 7 and any(abs(s["position"] - 31) < 1 for s in stops)
    third = page.get_by_role("slider", name="Stop 3 of 7").bounding_box()
    drag(bench, third, (0.5, 0.5), (0.5, 4.5))  # off the bar
    assert len(params(bench)["stops"]) == 6
    page.get_by_role("slider", name="Stop 2 of 6").focus()
    page.keyboard.press("ArrowRight")
    bench.wait_for_picture()
    assert params(bench)["stops"][1]["position"] == 21
    page.get_by_role("button", name="Even").click()
    bench.wait_for_picture()
    assert [s["position"] for s in params(bench)["stops"]] == [0, 20, 40, 60, 80, 100]
    page.get_by_role("slider", name="Stop 1 of 6").focus()
    page.get_by_label("Stop colour").fill("no colour")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Stop colour")).to_have_attribute("aria-invalid", "true")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Palettes ▾").click()
    page.get_by_role("menuitem", name="Viridis").click()
    bench.wait_for_picture()
    assert params(bench)["stops"][0]["colour"] == "#440154"
    red, blue = b'<stop offset="0" stop-color="red"/>', b'<stop offset="1" stop-color="#00f"/>'
    svg = b'<svg xmlns="http://www.w3.org/2000/svg"><linearGradient>' + red + blue + b"</linearGradient></svg>"
    page.get_by_label("Gradient file").set_input_files({"name": "g.svg", "mimeType": "image/svg+xml", "buffer": svg})
    wait_for(lambda: [s["colour"] for s in params(bench)["stops"]] == ["#ff0000", "#0000ff"])
    page.get_by_label("Gradient file").set_input_files({"name": "g.svg", "mimeType": "image/svg+xml", "buffer": b"<svg/>"})
    expect(page.locator("[data-notice]").get_by_text("no linearGradient")).to_be_visible()
    assert [p for p in problems if "422" not in p] == []


@pytest.mark.long(found_by="web/src/engine/bands.test.ts and editors.test.ts; curves by pointer, keyboard and typing beside, which share the handles")
@pytest.mark.another_shot
def test_bands_zones_and_ends(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Hue bands")
    bands = params(bench)["bands"]
    assert 3 <= len(bands) <= 8 and all(band["saturation"] == 100 for band in bands)  # at the frame's main colours
    red = min(bands, key=lambda band: abs(band["hue"] - 29))
    page.get_by_role("slider", name=f"{red['hue']:.0f}°", exact=True).focus()
    page.keyboard.press("Shift+ArrowDown")
    bench.wait_for_picture()
    assert {b["id"]: b["saturation"] for b in params(bench)["bands"]}[red["id"]] == 90
    page.get_by_role("button", name="only this").click()
    bench.wait_for_picture()
    kept = {b["id"]: b["saturation"] for b in params(bench)["bands"]}
    assert kept.pop(red["id"]) == 100 and set(kept.values()) == {0}
    r, g, b = bench.pixel(*SKY)
    assert max(r, g, b) - min(r, g, b) < 6  # the blue sky is grey
    page.get_by_role("button", name="Add", exact=True).click()
    bench.wait_for_picture()
    bench.type_in("Hue", "200")
    assert len(params(bench)["bands"]) == len(bands) + 1 and params(bench)["bands"][-1]["hue"] == 200
    page.get_by_role("button", name="Remove", exact=True).click()
    bench.wait_for_picture()
    assert len(params(bench)["bands"]) == len(bands)
    page.get_by_role("button", name="Pick a hue").click()
    bench.click(*SKY)  # its colour is asked for, then the band is put there
    wait_for(lambda: abs(params(bench)["bands"][-1]["hue"] - 255) < 25)

    bench.add("Tone zones")
    zones = page.get_by_role("group", name="Limits of the zones").bounding_box()
    drag(bench, zones, (0.33, 0.5), (0.5, 0.5))
    assert params(bench)["low"] == pytest.approx(50, abs=2)
    page.get_by_role("slider", name="Highlights begin, on the histogram").focus()
    page.keyboard.press("ArrowRight")
    bench.wait_for_picture()
    assert params(bench)["high"] == 67
    bench.set("Shadows end in %", 41.5)
    assert params(bench)["low"] == 41.5
    bench.set("Shadows end in %", 90)  # no further than where the highlights begin
    assert params(bench)["low"] == params(bench)["high"] == 67
    page.get_by_role("radio", name="Highlights").click()
    bench.set("Tint amount in %", 60)
    assert params(bench)["highlights_tint"] == 60 and params(bench)["shadows_tint"] == 0

    bench.add("Lift, gamma, gain")
    page.get_by_role("radio", name="Blue", exact=True).click()
    plot = page.get_by_role("group", name="Lift, gamma and gain").bounding_box()
    drag(bench, plot, (0.985, 0.02), (0.985, 0.5))  # the right end down: less gain of blue
    assert params(bench)["gain_blue"] == pytest.approx(0.5, abs=0.05) and params(bench)["gain"] == 1
    page.get_by_role("slider", name="lift blue").focus()
    page.keyboard.press("ArrowUp")
    bench.wait_for_picture()
    assert params(bench)["lift_blue"] == pytest.approx(0.01)
    bench.type_in("Offset red", "0.1")
    assert params(bench)["offset_red"] == 0.1
    assert problems == []


@pytest.mark.long(found_by="web/src/engine/stage/want.test.ts: stops after the chosen pass, or shows it alone; up to here is a switch in test_room.py")
@pytest.mark.another_shot
def test_blend_mode_alone_and_up_to_here(bench: BenchPage) -> None:
    page = bench.page
    source = bench.pixel(*SKY)
    bench.add("Monochrome")
    bench.add("Solid")
    bench.type_in("Colour", "#804020")
    solid = bench.pixel(*SKY)
    assert solid == pytest.approx([128, 64, 32], abs=3)
    bench.choose("Blend mode", "multiply")
    grey = round(0.2126 * source[0] + 0.7152 * source[1] + 0.0722 * source[2])
    assert bench.pixel(*SKY) == pytest.approx([grey * v / 255 for v in (128, 64, 32)], abs=4)
    page.get_by_role("button", name="Alone").click()
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx([s * v / 255 for s, v in zip(source, (128, 64, 32), strict=True)], abs=4)  # on the source, without the grey
    page.keyboard.press("s")
    page.keyboard.press("[")
    page.keyboard.press("u")
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx([grey] * 3, abs=4)


@pytest.mark.long(found_by="test_twelve_looks.py: what is asked for is answered; web/src/engine/pocket.test.ts")
@pytest.mark.another_shot
def test_shelf_asks_for_a_pick(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.go(60)
    page.keyboard.press("m")
    shelf = page.get_by_role("dialog")
    expect(shelf.get_by_role("button", name="One colour stays")).to_be_visible()
    page.wait_for_function("() => [...document.querySelectorAll('[role=dialog] img')].filter((i) => i.complete && i.naturalWidth > 0).length >= 10")
    shelf.get_by_role("button", name="One colour stays").click()
    expect(page.get_by_text("Pick the colour that stays")).to_be_visible()
    bench.wait_for_picture()
    assert bench.stages()[1:] == ["Grey outside", "More colour", "Crushed S-curve"]
    bench.click(*TRAM)
    expect(page.get_by_text("Pick the colour that stays")).to_have_count(0)
    r, g, b = bench.pixel(*TRAM)
    assert r - max(g, b) > 60
    r, g, b = bench.pixel(*SKY)
    assert max(r, g, b) - min(r, g, b) < 4
    undo(bench)
    undo(bench)
    assert bench.stages() == ["Source"]
    assert problems == []


@pytest.mark.long(found_by="tests/api/test_shelf_and_files.py; web/src/engine/pocket.test.ts")
@pytest.mark.another_shot
def test_saving_on_the_shelf_and_copying_to_another_shot(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Tint")
    bench.type_in("Light colour", "#ffcc66")
    page.get_by_role("button", name="Look ▾").click()
    page.get_by_role("menuitem", name="Save on the shelf").click()
    page.get_by_label("Name", exact=True).fill("Amber")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("[data-notice]").get_by_text("“Amber” is on the shelf.")).to_be_visible()
    bench.stage("Tint").hover()
    page.get_by_role("button", name="Do something with Tint").click()
    page.get_by_role("menuitem", name="Copy for another shot").click()
    bench.start_over("The marionette")
    page.get_by_role("button", name="Add a pass").click()
    page.get_by_role("button", name="Paste “Tint”").click()
    bench.wait_for_picture()
    assert bench.stages() == ["Source", "Tint"] and params(bench)["lights"] == "#ffcc66"
    page.get_by_role("button", name="Shelf", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Amber A saved look.").click()
    bench.wait_for_picture()
    assert bench.stages() == ["Source", "Tint"]


SCOPES = ("Waveform", "RGB parade", "Vectorscope", "Histogram")


@pytest.mark.long(found_by="web/src/engine/scopes.test.ts; scopes float, grow and tell values in test_room.py")
@pytest.mark.another_shot
def test_scopes_are_live(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Exposure")
    seen = set()
    for name in SCOPES:
        page.get_by_role("region", name="Scope").get_by_role("button").first.click()
        page.get_by_role("menuitemradio", name=name).click()
        expect(page.get_by_role("img", name=name)).to_have_attribute("data-ready", "true", timeout=60_000)
        bench.wait_for_picture()
        seen.add(page.get_by_role("img", name=name).screenshot())
    assert len(seen) == 4
    marks = "() => performance.getEntriesByName('wenditas-scope').length"
    before = page.evaluate(marks)
    bench.drag_slider("Exposure", -40)
    assert page.evaluate(marks) > before + 3  # drawn anew while the slider moved
    dark = page.get_by_role("img", name="Histogram").screenshot()
    place = bench.canvas.bounding_box()
    page.mouse.move(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2)
    bench.wait_for_picture()
    assert page.get_by_role("img", name="Histogram").screenshot() != dark  # the pixel under the pointer is marked
    before = page.evaluate(marks)
    page.keyboard.press(" ")
    page.wait_for_function(f"(before) => ({marks})() > before + 8", arg=before, timeout=60_000)
    page.keyboard.press(" ")
    assert problems == []


@pytest.mark.long(found_by="tests/formats/test_open_formats.py; web/src/engine/editors.test.ts")
@pytest.mark.another_shot
def test_files_and_colours_from_the_picture(bench: BenchPage, tmp_path: Path) -> None:
    page = bench.page
    source = bench.pixel(*SKY)
    bench.add("LUT")
    expect(page.get_by_text("Choose a .cube file")).to_be_visible()
    table = np.stack(np.meshgrid(*[np.linspace(1, 0, 2)] * 3, indexing="ij")[::-1], axis=-1).astype(np.float32)
    page.get_by_label("LUT file").set_input_files({"name": "inverted.cube", "mimeType": "text/plain", "buffer": write_cube(Lut("Inverted", table)).encode()})
    expect(page.get_by_text("Choose a .cube file")).to_be_hidden()
    bench.wait_for_picture()
    assert bench.pixel(*SKY) == pytest.approx([255 - v for v in source], abs=4)
    page.get_by_label("LUT file").set_input_files({"name": "bad.cube", "mimeType": "text/plain", "buffer": b"LUT_3D_SIZE 2\n0 0\n"})
    expect(page.locator("[data-notice=bad]").get_by_text("Line 2 of the LUT")).to_be_visible()
    page.keyboard.press("x")
    bench.wait_for_picture()
    bench.add("Overlay picture")
    image = io.BytesIO()
    Image.new("RGBA", (16, 16), (0, 200, 0, 255)).save(image, "PNG")
    page.get_by_label("Picture file").set_input_files({"name": "green.png", "mimeType": "image/png", "buffer": image.getvalue()})
    expect(page.get_by_label("Picture", exact=True).and_(page.locator("select"))).not_to_have_value("", timeout=60_000)
    bench.wait_for_picture()
    assert bench.pixel(0.5, 0.5) == pytest.approx([0, 200, 0], abs=4)
    page.keyboard.press("x")
    bench.wait_for_picture()
    bench.add("Solid")
    page.get_by_role("button", name="Colour: #b3392b").click()
    page.get_by_role("button", name="From the picture").click()
    expect(page.get_by_text("Click the colour to take")).to_be_visible()
    page.keyboard.press("2")  # the source
    bench.wait_for_picture()
    place = bench.canvas.bounding_box()
    bench.page.mouse.move(place["x"] + 0.5 * place["width"], place["y"] + 0.4 * place["height"])
    bench.wait_for_picture()
    taken = page.get_by_label("Pixel report").locator("b").first.inner_text()
    page.mouse.down()
    page.mouse.up()
    bench.wait_for_picture()
    assert params(bench)["colour"] == taken


@pytest.mark.long(found_by="tests/api/test_shelf_and_files.py: decision lists and gradients go through the API")
@pytest.mark.another_shot
def test_decision_list_in_and_out(bench: BenchPage) -> None:
    page = bench.page
    bench.add("ASC CDL")
    text = "<ColorCorrection id='dusk'><SOPNode><Slope>1.2 1 0.9</Slope><Offset>0 0 0.05</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection>"
    page.get_by_label("Decision list file").set_input_files({"name": "dusk.cc", "mimeType": "application/xml", "buffer": text.encode()})
    wait_for(lambda: params(bench)["slope_red"] == 1.2)
    assert params(bench)["offset_blue"] == 0.05
    page.get_by_role("button", name="Save as ▾").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name=".ccc").click()
    assert b"<Slope>1.2 1 0.9</Slope>" in Path(download.value.path()).read_bytes()


@pytest.mark.long(found_by="web/src/engine/editors.test.ts; tests/core/test_commands.py")
@pytest.mark.another_shot("The kiln")
def test_a_gradient_is_typed_at_once_and_told_in_the_history(bench: BenchPage, problems: list[str]) -> None:
    page = bench.page
    bench.add("Gradient map")
    page.get_by_role("button", name="Type…").click()
    stops = page.get_by_role("textbox", name="Stops")
    stops.fill("#101030\npuce-ish\ngold")
    expect(page.get_by_role("alert")).to_contain_text("is no colour")
    expect(page.get_by_role("button", name="Put them in")).to_be_disabled()
    stops.fill("#101030\n#c03050 40 %\ngold 70%\nwhite")
    page.get_by_role("button", name="Put them in").click()
    bench.wait_for_picture()
    params = bench.look().passes[0].params
    assert [(s["position"], s["colour"]) for s in params["stops"]] == [(0, "#101030"), (40, "#c03050"), (70, "#ffd700"), (100, "#ffffff")]
    bench.set("Amount in %", 80)
    bench.set("Amount in %", 60)
    page.get_by_role("button", name="History").click()
    edits = page.get_by_role("list", name="Edits")
    expect(edits.get_by_role("button", name="Gradient map: Amount 100 → 60 %")).to_be_visible()  # one value, one line
    edits.get_by_role("button", name="Gradient map: 4 stops typed").hover()
    expect(page.locator("[aria-hidden] img[src*='width=256']")).to_be_visible()
    assert problems == []
