"""What hands do in haste, and by the keyboard alone: nothing is stored that was not meant, and nothing goes astray."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import BenchPage, Server
from tests.media.clips import make_clip


@pytest.fixture
def server(one_server: Server) -> Server:
    """One for all tests of this file: each makes a shot of its own, or looks at one of the demo's."""
    return one_server


def revisions(bench: BenchPage) -> int:
    shot = bench.page.url.rsplit("/", 1)[-1]
    return len(bench.page.request.get(f"{bench.server.url}/api/shots/{shot}/history").json())


def draft(bench: BenchPage) -> None:
    """Until nothing is under way and the lossless picture is there."""
    bench.wait_for_picture()


@pytest.mark.long(found_by="web/src/engine/passes.test.ts; the interleavings of document.test.ts and editors.test.ts")
@pytest.mark.another_shot
def test_a_pass_removed_twice_quickly_takes_one(bench: BenchPage) -> None:
    for name in ("Saturation", "Exposure", "Tint"):
        bench.add(name)
    bench.stage("Exposure").click()
    bench.page.evaluate("""() => {
      for (const _ of [1, 2]) for (const type of ['keydown', 'keyup'])
        window.dispatchEvent(new KeyboardEvent(type, { key: 'Delete', code: 'Delete', bubbles: true }));
    }""")
    draft(bench)
    # The second press removes what is chosen by then, as it would a moment later; one step back for each.
    assert len(bench.stages()) == 2
    bench.page.keyboard.press("Control+z")
    expect(bench.page.get_by_role("list", name="Stages").get_by_role("listitem")).to_have_count(4)
    draft(bench)
    assert len(bench.stages()) == 3


@pytest.mark.another_shot
def test_a_number_typed_belongs_to_the_frame_it_was_typed_at(bench: BenchPage) -> None:
    bench.add("Saturation")
    bench.go(10)
    bench.page.get_by_role("button", name="Amount stands still").click()
    bench.field("Amount in %").fill("40")
    ruler = bench.page.get_by_role("slider", name="Playhead").locator("xpath=..").bounding_box()
    bench.page.mouse.click(ruler["x"] + ruler["width"] * 0.75, ruler["y"] + 8)
    draft(bench)
    (lane,) = bench.look().lanes
    assert [(k.frame, k.value) for k in lane.keyframes] == [(10, 40)]


@pytest.mark.another_shot
def test_a_press_in_the_picture_that_leaves_a_field_picks_nothing(bench: BenchPage) -> None:
    bench.add("Saturation")
    bench.page.keyboard.press("p")
    bench.field("Amount in %").fill("40")
    bench.click(0.5, 0.5)
    assert bench.look().passes[0].amount == 40 and bench.look().selections == ()
    bench.click(0.5, 0.5)
    expect(bench.page.get_by_label("Coverage")).to_be_visible()
    assert len(bench.look().selections) == 1


@pytest.mark.another_shot
def test_clicks_and_drags_that_change_nothing_are_no_steps(bench: BenchPage) -> None:
    bench.add("Saturation")
    before = revisions(bench)
    page = bench.page
    slider = page.get_by_role("slider", name="Amount", exact=True)
    box = slider.bounding_box()
    x, y = box["x"] + box["width"], box["y"] + box["height"] / 2
    page.mouse.click(x, y)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y)
    page.mouse.move(x, y)
    page.mouse.up()
    draft(bench)  # the lossless picture comes: nothing is left of the drag
    page.mouse.down()
    page.mouse.move(x - 30, y)
    page.keyboard.press("Escape")
    page.mouse.move(x - 50, y)
    page.mouse.up()
    draft(bench)
    without = page.get_by_role("button", name="hold to see without", exact=True).bounding_box()
    page.mouse.move(without["x"] + 5, without["y"] + 5)
    page.mouse.down()
    page.mouse.up()
    draft(bench)
    assert revisions(bench) == before and bench.look().passes[0].amount == 100


@pytest.mark.another_shot
def test_a_double_click_resets_in_one_step(bench: BenchPage) -> None:
    bench.add("Saturation")
    bench.set("Saturation in %", 140)
    before = revisions(bench)
    box = bench.page.get_by_role("slider", name="Saturation", exact=True).bounding_box()
    bench.page.mouse.dblclick(box["x"] + box["width"] * 0.2, box["y"] + box["height"] / 2)
    draft(bench)
    assert revisions(bench) == before + 1 and bench.look().passes[0].params["saturation"] == 100


@pytest.mark.another_shot
def test_what_is_typed_is_stored_before_undo_and_before_leaving(bench: BenchPage) -> None:
    bench.add("Saturation")
    field = bench.field("Amount in %")
    field.fill("30")
    bench.page.get_by_role("button", name="Undo", exact=True).click()
    draft(bench)
    assert bench.look().passes[0].amount == 100  # the step that was typed, not the one before it
    bench.page.get_by_role("button", name="Redo", exact=True).click()
    expect(field).to_have_value("30")
    address = bench.page.url
    field.fill("35")
    bench.page.get_by_role("link", name="Footage").click()
    bench.page.goto(address)
    draft(bench)
    expect(field).to_have_value("35")


@pytest.mark.another_shot
def test_a_notice_takes_back_its_own_edit_or_says_that_it_cannot(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Saturation")
    page.keyboard.press("m")
    page.get_by_role("dialog").get_by_role("button", name="Two-ink print").click()
    draft(bench)
    notice = page.locator("[data-notice]").filter(has_text="is on.")
    bench.set("Amount in %", 42)
    notice.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-notice=bad]").get_by_text("cannot be taken back by itself")).to_be_visible()
    assert 42 in [p.amount for p in bench.look().passes]


@pytest.mark.another_shot
def test_errors_are_not_pushed_out(bench: BenchPage) -> None:
    page = bench.page
    page.get_by_label("Look file").set_input_files({"name": "x.json", "mimeType": "application/json", "buffer": b"{"})
    expect(page.locator("[data-notice=bad]")).to_be_visible()
    bench.add("Saturation")
    for _ in range(5):
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+Shift+z")
    draft(bench)
    expect(page.locator("[data-notice=bad]").get_by_text("not JSON")).to_be_visible()


@pytest.mark.another_shot
def test_a_picture_that_cannot_be_made_says_why_and_is_tried_again(bench: BenchPage) -> None:
    page = bench.page
    shot = bench.view_of_shot
    media = bench.server.data / "media" / f"{shot['shot']['footage_id']}.mp4"
    away = bench.server.data / "away.mp4"
    media.rename(away)
    bench.server.stop()
    bench.server.start()
    expect(page.get_by_text("The server does not answer.")).to_be_hidden(timeout=60_000)
    page.keyboard.press("End")
    failure = page.get_by_role("alert").filter(has_text="missing from the data folder")
    expect(failure).to_be_visible(timeout=60_000)
    expect(page.get_by_text("rendering…")).to_be_hidden()
    away.rename(media)
    failure.get_by_role("button", name="Try again").click()
    draft(bench)
    expect(failure).to_be_hidden()


def pressed(bench: BenchPage, key: str, code: str, **more: object) -> None:
    """A key as a keyboard of another layout sends it."""
    script = """([key, code, more]) => {
      const init = { key, code, bubbles: true, cancelable: true, ...more };
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', init));
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keyup', init));
    }"""
    bench.page.evaluate(script, [key, code, more])


@pytest.mark.another_shot
def test_keys_of_layouts_with_altgr(bench: BenchPage) -> None:
    """A German keyboard types [ with AltGr and 8, and has ü on the key beside P; a French one types digits with Shift."""
    page = bench.page
    for name in ("Saturation", "Exposure", "Tint"):
        bench.add(name)

    def chosen() -> str:
        return page.get_by_role("list", name="Stages").locator("button[aria-pressed=true]").first.get_attribute("aria-label") or ""

    altgr = {"ctrlKey": True, "altKey": True, "modifierAltGraph": True}
    pressed(bench, "[", "Digit8", **altgr)
    assert chosen() == "Exposure"
    pressed(bench, "ü", "BracketLeft")
    assert chosen() == "Saturation"
    pressed(bench, "]", "Digit9", **{**altgr, "modifierAltGraph": False})  # Ctrl and Alt themselves are nobody's
    assert chosen() == "Saturation"
    pressed(bench, "]", "Digit9", **altgr)
    pressed(bench, "PageDown", "PageDown")
    assert chosen() == "Tint"
    pressed(bench, '"', "Digit3")
    expect(page.get_by_role("radio", name="Matte", exact=True)).to_be_checked()
    pressed(bench, "1", "Digit1", shiftKey=True)
    expect(page.get_by_role("radio", name="Result", exact=True)).to_be_checked()


@pytest.mark.another_shot
def test_keys_go_on_after_lists_and_switches_and_reach_buttons(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Gradient map")
    page.get_by_label("Between stops").click()
    page.get_by_label("Between stops").select_option("smooth")
    page.get_by_role("checkbox", name="On", exact=True).click()
    draft(bench)
    assert not bench.look().passes[0].on
    page.keyboard.press("3")
    expect(page.get_by_role("radio", name="Matte", exact=True)).to_be_checked()
    page.keyboard.press("1")
    page.get_by_role("button", name="History").focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog", name="History")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="History")).to_be_focused()  # the list has closed, and given the focus back
    radios = page.get_by_role("radiogroup", name="View")
    radios.get_by_role("radio", name="Result").focus()
    page.keyboard.press("ArrowRight")
    expect(radios.get_by_role("radio", name="Source")).to_be_checked()
    expect(radios.get_by_role("radio", name="Source")).to_be_focused()
    page.keyboard.down("b")
    page.evaluate("() => window.dispatchEvent(new Event('blur'))")
    page.keyboard.press("1")
    expect(page.get_by_text("source", exact=True)).to_be_hidden()


@pytest.mark.another_shot
def test_a_pin_that_is_nudged_keeps_the_focus(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Saturation")
    bench.go(20)
    page.get_by_role("button", name="Amount stands still").click()
    draft(bench)
    page.get_by_role("button", name="Amount: keyframe at frame 20", exact=True).focus()
    for frame in (21, 22, 32):
        page.keyboard.press("Shift+ArrowRight" if frame == 32 else "ArrowRight")
        expect(page.get_by_role("button", name=f"Amount: keyframe at frame {frame}", exact=True)).to_be_focused()
    draft(bench)
    assert [k.frame for k in bench.look().lanes[0].keyframes] == [32]


@pytest.mark.another_shot
def test_the_first_key_goes_and_the_next_still_selects(bench: BenchPage) -> None:
    page = bench.page
    bench.click(0.6, 0.55)
    page.get_by_role("button", name="Add a key ▾").click()
    page.get_by_role("menuitem", name="By lightness").click()
    draft(bench)
    page.get_by_role("list", name="Keys").get_by_role("button", name=re.compile("^Do something with the key")).first.click()
    page.get_by_role("menuitem", name="Remove").click()
    draft(bench)
    expect(page.get_by_label("Coverage")).not_to_have_text("0.0 %")


def test_the_window_is_called_what_is_open(bench: BenchPage) -> None:
    expect(bench.page).to_have_title("Tram up the hill · Bench · Wenditas")
    bench.page.get_by_role("link", name="Footage").click()
    expect(bench.page).to_have_title("The Marrow Hill Tramway · Footage · Wenditas")


@pytest.mark.long(found_by="test_room.py: help of the focused control is on the screen")
@pytest.mark.another_shot
def test_help_is_on_the_screen_for_the_control_in_use(bench: BenchPage) -> None:
    bench.add("Saturation")
    slider = bench.page.get_by_role("slider", name="Amount", exact=True)
    slider.focus()
    expect(bench.page.locator("[data-helpline]")).to_have_text("How much of the treated picture replaces what was there.")


@pytest.mark.long(found_by="test_room.py: the picture takes the window and keeps transport and pass")
@pytest.mark.another_shot
def test_the_whole_screen_keeps_menus_transport_and_the_chosen_pass(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Saturation")
    page.keyboard.press("f")
    expect(page.get_by_role("list", name="Stages")).to_be_hidden()
    expect(page.get_by_role("button", name="Play (Space)")).to_be_visible()
    expect(page.get_by_role("slider", name="Amount", exact=True)).to_be_visible()
    page.get_by_role("button", name="Presets ▾").or_(page.get_by_role("button", name="Fit ▾")).first.click()
    expect(page.get_by_role("menu")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    expect(page.get_by_role("list", name="Stages")).to_be_visible()


@pytest.mark.long(found_by="test_stills_work_on_the_bench of the footage room")
def test_still_footage_opens_and_is_edited(bench: BenchPage, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """One frame: flash and step at frame 0, the only one there is."""
    clip = make_clip(tmp_path / "one.mp4", count=1)
    page = bench.page
    page.get_by_role("link", name="Footage").click()
    page.get_by_label("Files to bring in").set_input_files(clip)
    page.get_by_role("button", name="Open on the Bench", exact=True).last.click()
    bench.wait_for_picture()
    bench.add("Saturation")
    page.get_by_role("button", name="Amount stands still").click()
    for what in ("Flash here", "Step here"):
        page.get_by_role("button", name="Do something with the lane Amount").click()
        page.get_by_role("menuitem", name=what).click()
        bench.wait_for_picture()
    expect(page.locator("[data-notice=bad]")).to_have_count(0)


@pytest.mark.long(found_by="web/src/engine/places.test.ts; addresses in test_reloadable_addresses")
@pytest.mark.another_shot
def test_a_link_opens_the_shot_at_a_pass(bench: BenchPage) -> None:
    page = bench.page
    for name in ("Saturation", "Exposure", "Tint"):
        bench.add(name)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    bench.stage("Saturation").hover()
    page.get_by_role("button", name="Do something with Saturation").click()
    page.get_by_role("menuitem", name="Copy a link to this pass").click()
    link = page.evaluate("() => navigator.clipboard.readText()")
    assert link.endswith(f"?at={'look/passes/'.replace('/', '%2F')}{bench.look().passes[0].id}")
    page.goto(link)
    expect(bench.stage("Saturation")).to_have_attribute("aria-pressed", "true")


@pytest.mark.long(found_by="web/src/engine/search.test.ts")
@pytest.mark.another_shot
def test_treatments_are_found_by_what_one_is_after(bench: BenchPage) -> None:
    page = bench.page
    page.get_by_role("button", name="Add a pass").click()
    page.get_by_label("Search treatments").fill("sepia")
    expect(page.get_by_role("button", name="Tint", exact=True)).to_be_visible()
    page.get_by_label("Search treatments").fill("bloom")
    page.keyboard.press("Enter")
    bench.wait_for_picture()
    assert bench.stages()[-1] == "Glow"


@pytest.mark.long(found_by="web/src/ui/numbers.test.ts")
@pytest.mark.another_shot
def test_numbers_are_taken_as_people_type_them(bench: BenchPage) -> None:
    page = bench.page
    bench.add("Levels")
    gamma = bench.field("Gamma")
    gamma.fill("−0.08")
    gamma.press("Enter")
    expect(gamma).to_have_value("0.92")
    expect(page.locator("[data-notice]").get_by_text("was taken as a change from 1")).to_be_visible()
    amount = bench.field("Amount in %")
    for typed, shown in (("89%", "89"), ("100 * 1/4", "25"), ("400", "100")):
        amount.fill(typed)
        amount.press("Enter")
        expect(amount).to_have_value(shown)
    expect(page.locator("[data-notice]").get_by_text("Amount goes from 0 to 100 %")).to_be_visible()
    amount.fill("a lot")
    amount.press("Enter")
    expect(page.locator("[data-notice]").get_by_text("“a lot” is not a number")).to_be_visible()
    expect(amount).to_have_value("100")


SAME = pytest.mark.long(found_by="the handle of curves: all are dragged by web/src/ui/drag.ts")


@pytest.mark.another_shot
@pytest.mark.parametrize(
    ("treatment", "handle"),
    [("Curves", "Master, point 1 of 2"), pytest.param("Gradient map", "Stop 2 of 6", marks=SAME), pytest.param("Hue bands", "", marks=SAME)],
)
def test_a_drag_of_any_handle_is_given_up_by_escape(bench: BenchPage, treatment: str, handle: str) -> None:
    bench.add(treatment)
    before, look = revisions(bench), bench.look()
    sliders = bench.page.get_by_role("group", name=treatment).get_by_role("slider")
    box = (bench.page.get_by_role("slider", name=handle, exact=True) if handle else sliders.first).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    mouse = bench.page.mouse
    mouse.move(x, y)
    mouse.down()
    mouse.move(x + 25, y + 15)
    bench.page.keyboard.press("Escape")
    mouse.move(x + 30, y - 10)
    mouse.up()
    draft(bench)
    assert revisions(bench) == before and bench.look() == look
