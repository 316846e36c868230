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


@pytest.fixture
def empty(bench: BenchPage) -> BenchPage:
    bench.start_over()
    return bench


def test_a_pass_removed_twice_quickly_takes_one(empty: BenchPage) -> None:
    for name in ("Saturation", "Exposure", "Tint"):
        empty.add(name)
    empty.stage("Exposure").click()
    empty.page.evaluate("""() => {
      for (const _ of [1, 2]) for (const type of ['keydown', 'keyup'])
        window.dispatchEvent(new KeyboardEvent(type, { key: 'Delete', code: 'Delete', bubbles: true }));
    }""")
    draft(empty)
    # The second press removes what is chosen by then, as it would a moment later; one step back for each.
    assert len(empty.stages()) == 2
    empty.page.keyboard.press("Control+z")
    expect(empty.page.get_by_role("list", name="Stages").get_by_role("listitem")).to_have_count(4)
    draft(empty)
    assert len(empty.stages()) == 3


def test_a_number_typed_belongs_to_the_frame_it_was_typed_at(empty: BenchPage) -> None:
    empty.add("Saturation")
    empty.go(10)
    empty.page.get_by_role("button", name="Amount stands still").click()
    empty.field("Amount in %").fill("40")
    ruler = empty.page.get_by_role("slider", name="Playhead").locator("xpath=..").bounding_box()
    empty.page.mouse.click(ruler["x"] + ruler["width"] * 0.75, ruler["y"] + 8)
    draft(empty)
    (lane,) = empty.look().lanes
    assert [(k.frame, k.value) for k in lane.keyframes] == [(10, 40)]


def test_a_press_in_the_picture_that_leaves_a_field_picks_nothing(empty: BenchPage) -> None:
    empty.add("Saturation")
    empty.page.keyboard.press("p")
    empty.field("Amount in %").fill("40")
    empty.click(0.5, 0.5)
    assert empty.look().passes[0].amount == 40 and empty.look().selections == ()
    empty.click(0.5, 0.5)
    expect(empty.page.get_by_label("Coverage")).to_be_visible()
    assert len(empty.look().selections) == 1


def test_clicks_and_drags_that_change_nothing_are_no_steps(empty: BenchPage) -> None:
    empty.add("Saturation")
    before = revisions(empty)
    page = empty.page
    slider = page.get_by_role("slider", name="Amount", exact=True)
    box = slider.bounding_box()
    x, y = box["x"] + box["width"], box["y"] + box["height"] / 2
    page.mouse.click(x, y)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y)
    page.mouse.move(x, y)
    page.mouse.up()
    draft(empty)  # the lossless picture comes: nothing is left of the drag
    page.mouse.down()
    page.mouse.move(x - 30, y)
    page.keyboard.press("Escape")
    page.mouse.move(x - 50, y)
    page.mouse.up()
    draft(empty)
    without = page.get_by_role("button", name="hold to see without", exact=True).bounding_box()
    page.mouse.move(without["x"] + 5, without["y"] + 5)
    page.mouse.down()
    page.mouse.up()
    draft(empty)
    assert revisions(empty) == before and empty.look().passes[0].amount == 100


def test_a_double_click_resets_in_one_step(empty: BenchPage) -> None:
    empty.add("Saturation")
    empty.set("Saturation in %", 140)
    before = revisions(empty)
    box = empty.page.get_by_role("slider", name="Saturation", exact=True).bounding_box()
    empty.page.mouse.dblclick(box["x"] + box["width"] * 0.2, box["y"] + box["height"] / 2)
    draft(empty)
    assert revisions(empty) == before + 1 and empty.look().passes[0].params["saturation"] == 100


def test_what_is_typed_is_stored_before_undo_and_before_leaving(empty: BenchPage) -> None:
    empty.add("Saturation")
    field = empty.field("Amount in %")
    field.fill("30")
    empty.page.get_by_role("button", name="Undo", exact=True).click()
    draft(empty)
    assert empty.look().passes[0].amount == 100  # the step that was typed, not the one before it
    empty.page.get_by_role("button", name="Redo", exact=True).click()
    expect(field).to_have_value("30")
    bench = empty.page.url
    field.fill("35")
    empty.page.get_by_role("link", name="Footage").click()
    empty.page.goto(bench)
    draft(empty)
    expect(field).to_have_value("35")


def test_a_notice_takes_back_its_own_edit_or_says_that_it_cannot(empty: BenchPage) -> None:
    page = empty.page
    empty.add("Saturation")
    page.keyboard.press("m")
    page.get_by_role("dialog").get_by_role("button", name="Two-ink print").click()
    draft(empty)
    notice = page.locator("[data-notice]").filter(has_text="is on.")
    empty.set("Amount in %", 42)
    notice.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-notice=bad]").get_by_text("cannot be taken back by itself")).to_be_visible()
    assert 42 in [p.amount for p in empty.look().passes]


def test_errors_are_not_pushed_out(empty: BenchPage) -> None:
    page = empty.page
    page.get_by_label("Look file").set_input_files({"name": "x.json", "mimeType": "application/json", "buffer": b"{"})
    expect(page.locator("[data-notice=bad]")).to_be_visible()
    empty.add("Saturation")
    for _ in range(5):
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+Shift+z")
    draft(empty)
    expect(page.locator("[data-notice=bad]").get_by_text("not JSON")).to_be_visible()


def test_a_picture_that_cannot_be_made_says_why_and_is_tried_again(empty: BenchPage) -> None:
    page = empty.page
    shot = empty.view_of_shot
    media = empty.server.data / "media" / f"{shot['shot']['footage_id']}.mp4"
    away = empty.server.data / "away.mp4"
    media.rename(away)
    empty.server.stop()
    empty.server.start()
    expect(page.get_by_text("The server does not answer.")).to_be_hidden(timeout=30_000)
    page.keyboard.press("End")
    failure = page.get_by_role("alert").filter(has_text="missing from the data folder")
    expect(failure).to_be_visible(timeout=20_000)
    expect(page.get_by_text("rendering…")).to_be_hidden()
    away.rename(media)
    failure.get_by_role("button", name="Try again").click()
    draft(empty)
    expect(failure).to_be_hidden()


def pressed(bench: BenchPage, key: str, code: str, **more: object) -> None:
    """A key as a keyboard of another layout sends it."""
    script = """([key, code, more]) => {
      const init = { key, code, bubbles: true, cancelable: true, ...more };
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', init));
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keyup', init));
    }"""
    bench.page.evaluate(script, [key, code, more])


def test_keys_of_layouts_with_altgr(empty: BenchPage) -> None:
    """A German keyboard types [ with AltGr and 8, and has ü on the key beside P; a French one types digits with Shift."""
    page = empty.page
    for name in ("Saturation", "Exposure", "Tint"):
        empty.add(name)

    def chosen() -> str:
        return page.get_by_role("list", name="Stages").locator("button[aria-pressed=true]").first.get_attribute("aria-label") or ""

    altgr = {"ctrlKey": True, "altKey": True, "modifierAltGraph": True}
    pressed(empty, "[", "Digit8", **altgr)
    assert chosen() == "Exposure"
    pressed(empty, "ü", "BracketLeft")
    assert chosen() == "Saturation"
    pressed(empty, "]", "Digit9", **altgr)
    pressed(empty, "PageDown", "PageDown")
    assert chosen() == "Tint"
    pressed(empty, '"', "Digit3")
    expect(page.get_by_role("radio", name="Matte", exact=True)).to_be_checked()
    pressed(empty, "1", "Digit1", shiftKey=True)
    expect(page.get_by_role("radio", name="Result", exact=True)).to_be_checked()


def test_keys_go_on_after_lists_and_switches_and_reach_buttons(empty: BenchPage) -> None:
    page = empty.page
    empty.add("Gradient map")
    page.get_by_label("Between stops").click()
    page.get_by_label("Between stops").select_option("smooth")
    page.get_by_role("checkbox", name="On", exact=True).click()
    draft(empty)
    assert not empty.look().passes[0].on
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


def test_a_pin_that_is_nudged_keeps_the_focus(empty: BenchPage) -> None:
    page = empty.page
    empty.add("Saturation")
    empty.go(20)
    page.get_by_role("button", name="Amount stands still").click()
    draft(empty)
    page.get_by_role("button", name="Amount: keyframe at frame 20", exact=True).focus()
    for frame in (21, 22, 32):
        page.keyboard.press("Shift+ArrowRight" if frame == 32 else "ArrowRight")
        expect(page.get_by_role("button", name=f"Amount: keyframe at frame {frame}", exact=True)).to_be_focused()
    draft(empty)
    assert [k.frame for k in empty.look().lanes[0].keyframes] == [32]


def test_the_first_key_goes_and_the_next_still_selects(empty: BenchPage) -> None:
    page = empty.page
    empty.click(0.6, 0.55)
    page.get_by_role("button", name="Add a key ▾").click()
    page.get_by_role("menuitem", name="By lightness").click()
    draft(empty)
    page.get_by_role("list", name="Keys").get_by_role("button", name=re.compile("^Do something with the key")).first.click()
    page.get_by_role("menuitem", name="Remove").click()
    draft(empty)
    expect(page.get_by_label("Coverage")).not_to_have_text("0.0 %")


def test_the_window_is_called_what_is_open(bench: BenchPage) -> None:
    expect(bench.page).to_have_title("Tram up the hill · Bench · Wenditas")
    bench.page.get_by_role("link", name="Footage").click()
    expect(bench.page).to_have_title("The Marrow Hill Tramway · Footage · Wenditas")


def test_help_is_on_the_screen_for_the_control_in_use(empty: BenchPage) -> None:
    empty.add("Saturation")
    slider = empty.page.get_by_role("slider", name="Amount", exact=True)
    slider.focus()
    expect(empty.page.locator("[data-helpline]")).to_have_text("How much of the treated picture replaces what was there.")


def test_the_whole_screen_keeps_menus_transport_and_the_chosen_pass(empty: BenchPage) -> None:
    page = empty.page
    empty.add("Saturation")
    page.keyboard.press("f")
    expect(page.get_by_role("list", name="Stages")).to_be_hidden()
    expect(page.get_by_role("button", name="Play (Space)")).to_be_visible()
    expect(page.get_by_role("slider", name="Amount", exact=True)).to_be_visible()
    page.get_by_role("button", name="Presets ▾").or_(page.get_by_role("button", name="Fit ▾")).first.click()
    expect(page.get_by_role("menu")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    expect(page.get_by_role("list", name="Stages")).to_be_visible()


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


def test_a_link_opens_the_shot_at_a_pass(empty: BenchPage) -> None:
    page = empty.page
    for name in ("Saturation", "Exposure", "Tint"):
        empty.add(name)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    empty.stage("Saturation").hover()
    page.get_by_role("button", name="Do something with Saturation").click()
    page.get_by_role("menuitem", name="Copy a link to this pass").click()
    link = page.evaluate("() => navigator.clipboard.readText()")
    assert link.endswith(f"?at={'look/passes/'.replace('/', '%2F')}{empty.look().passes[0].id}")
    page.goto(link)
    expect(empty.stage("Saturation")).to_have_attribute("aria-pressed", "true")


def test_treatments_are_found_by_what_one_is_after(empty: BenchPage) -> None:
    page = empty.page
    page.get_by_role("button", name="Add a pass").click()
    page.get_by_label("Search treatments").fill("sepia")
    expect(page.get_by_role("button", name="Tint", exact=True)).to_be_visible()
    page.get_by_label("Search treatments").fill("bloom")
    page.keyboard.press("Enter")
    empty.wait_for_picture()
    assert empty.stages()[-1] == "Glow"


def test_numbers_are_taken_as_people_type_them(empty: BenchPage) -> None:
    page = empty.page
    empty.add("Levels")
    gamma = empty.field("Gamma")
    gamma.fill("−0.08")
    gamma.press("Enter")
    expect(gamma).to_have_value("0.92")
    expect(page.locator("[data-notice]").get_by_text("was taken as a change from 1")).to_be_visible()
    amount = empty.field("Amount in %")
    for typed, shown in (("89%", "89"), ("100 * 1/4", "25"), ("400", "100")):
        amount.fill(typed)
        amount.press("Enter")
        expect(amount).to_have_value(shown)
    expect(page.locator("[data-notice]").get_by_text("Amount goes from 0 to 100 %")).to_be_visible()
    amount.fill("a lot")
    amount.press("Enter")
    expect(page.locator("[data-notice]").get_by_text("“a lot” is not a number")).to_be_visible()
    expect(amount).to_have_value("100")


@pytest.mark.parametrize(("treatment", "handle"), [("Curves", "Master, point 1 of 2"), ("Gradient map", "Stop 2 of 6"), ("Hue bands", "")])
def test_a_drag_of_any_handle_is_given_up_by_escape(empty: BenchPage, treatment: str, handle: str) -> None:
    empty.add(treatment)
    before, look = revisions(empty), empty.look()
    sliders = empty.page.get_by_role("group", name=treatment).get_by_role("slider")
    box = (empty.page.get_by_role("slider", name=handle, exact=True) if handle else sliders.first).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    mouse = empty.page.mouse
    mouse.move(x, y)
    mouse.down()
    mouse.move(x + 25, y + 15)
    empty.page.keyboard.press("Escape")
    mouse.move(x + 30, y - 10)
    mouse.up()
    draft(empty)
    assert revisions(empty) == before and empty.look() == look
