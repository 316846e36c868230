"""Handing on and taking in by the page: formats, presets, the queue, checks, media folders, sequences, archives."""

import re
from pathlib import Path

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import BenchPage
from tests.media.clips import make_clip
from wenditas.media.probe import inspect


@pytest.mark.long(found_by="tests/api/test_exports.py: formats, presets, order and pause; test_pick_treat_export drives the dialog")
def test_a_format_a_preset_and_the_queue(bench: BenchPage, tmp_path: Path) -> None:
    page = bench.page

    def export(name: str) -> None:
        dialog.get_by_label("Name").fill(name)
        dialog.get_by_role("button", name="Export", exact=True).click()
        expect(dialog).to_have_count(0)

    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="Picture with alpha").click()
    expect(dialog.get_by_label("Format")).to_have_value("prores-4444")
    assert "h264" not in dialog.get_by_label("Format").locator("option").evaluate_all("all => all.map((o) => o.value)")
    dialog.get_by_label("Size").fill("320")
    dialog.get_by_role("button", name="Presets").click()
    page.get_by_role("menuitem", name="Keep these options…").click()
    page.get_by_label("Name", exact=True).last.fill("Cut out, small")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator("[data-notice]").get_by_text("Kept as “Cut out, small”.")).to_be_visible()
    export("One")
    for name in ("Two", "Three"):
        page.get_by_role("button", name="Export", exact=True).click()
        dialog.get_by_role("button", name="Presets").click()
        page.get_by_role("menuitem", name="Cut out, small", exact=True).click()
        expect(dialog.get_by_label("Size")).to_have_value("320")
        export(name)
    page.get_by_role("link", name="Exports").click()
    queue = page.get_by_role("list", name="Queue")
    queue.get_by_role("listitem", name="Three").get_by_role("button", name="Three earlier").click()
    expect(queue.get_by_role("listitem").nth(1)).to_have_attribute("aria-label", "Three")
    page.get_by_role("button", name="Pause all").click()
    expect(queue.get_by_text("Paused; what is done is kept").first).to_be_visible(timeout=60_000)
    page.get_by_role("button", name="Go on with all").click()
    done = page.get_by_role("list", name="Exports").get_by_role("listitem")
    expect(done).to_have_count(3, timeout=180_000)
    row = page.get_by_role("listitem", name="One")
    expect(row).to_contain_text("with alpha, ProRes 4444")
    expect(row).to_contain_text("132 frames, 5.50 s, tagged BT.709")
    expect(row.get_by_role("button", name=re.compile("sha256"))).to_be_visible()
    with page.expect_download() as download:
        row.get_by_role("link", name="Download").click()
    download.value.save_as(tmp_path / "one.mov")
    facts = inspect(tmp_path / "one.mov")[0]
    assert (facts.width, facts.height, facts.alpha, facts.length) == (320, 180, True, 132)


@pytest.mark.long(found_by="tests/api/test_checks.py: found, shown and mended; engine/checks.test.ts")
@pytest.mark.idle
def test_a_check_is_shown_lights_up_and_is_mended(bench: BenchPage) -> None:
    page = bench.page
    count = page.get_by_role("button", name=re.compile("^Checks: [0-9]+ marks$"))
    expect(count).to_be_visible(timeout=120_000)
    count.click()
    expect(page.get_by_text("132 frames looked at")).to_be_visible(timeout=60_000)
    flicker = page.get_by_role("list", name="Marks").get_by_role("listitem", name="Flicker").first
    expect(flicker).to_contain_text("where the footage stands still")
    flicker.get_by_role("button", name="Show").click()
    overlay = page.get_by_role("img", name="Where: Flicker")
    expect(overlay).to_be_visible(timeout=60_000)
    expect(overlay).to_have_js_property("naturalWidth", 640)
    expect(page.get_by_role("img", name=re.compile("Marks of checks: Flicker"))).to_be_visible()
    count.click()
    flicker.get_by_role("button", name=re.compile("^Steady the matte")).click()
    expect(page.locator("[data-notice]").get_by_role("button", name="Undo").or_(page.get_by_role("button", name="Undo").last)).to_be_visible()
    bench.wait_for_picture()
    assert bench.look().selections[0].cleaning.steady == 2
    for _ in range(2):  # the message, then the list
        page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    bench.wait_for_picture()
    assert bench.look().selections[0].cleaning.steady == 0


def test_the_picture_as_others_see_it(bench: BenchPage) -> None:
    page = bench.page
    tram = bench.pixel(0.27, 0.795)
    page.get_by_role("button", name="Seen by").click()
    page.get_by_role("menuitemradio", name="With red blindness").click()
    bench.wait_for_picture()
    other = bench.pixel(0.27, 0.795)
    assert tram[0] > 2 * tram[1] and abs(other[0] - other[1]) < 30 < other[1] - other[2]  # red turns to a dark yellow
    page.get_by_role("button", name="With red blindness").click()
    page.get_by_role("menuitemradio", name="Steps amplified").click()
    bench.wait_for_picture()
    assert abs(np.mean(bench.pixel(0.1, 0.15)) - 128) < 60
    page.keyboard.press("1")
    bench.wait_for_picture()
    assert bench.pixel(0.27, 0.795) == tram


@pytest.mark.long(found_by="tests/api/test_intake.py; tests/media/test_sequences.py")
def test_from_a_media_folder_and_as_a_sequence(bench: BenchPage, tmp_path: Path) -> None:
    page, server, rushes = bench.page, bench.server, tmp_path / "rushes"
    (rushes / "day").mkdir(parents=True)
    make_clip(rushes / "walk.mp4", count=9)
    for n in (1, 2, 4):
        cv2.imwrite(str(rushes / "day" / f"frame-{n:04d}.png"), np.full((40, 60, 3), 60 * n, np.uint8))
    server.stop()
    server.media = [str(rushes)]
    server.start()
    page.get_by_role("link", name="Footage").click()
    expect(page.get_by_role("heading", name="Footage", exact=True)).to_be_visible()
    page.reload()
    page.get_by_role("button", name="From a media folder").click()
    listed = page.get_by_role("list", name="In this folder")
    page.get_by_role("button", name="Choose all", exact=True).click()
    expect(listed.get_by_label("walk.mp4")).to_be_checked()
    page.get_by_role("button", name="Take in 1").click()
    card = page.locator('li[aria-label="walk.mp4"]')  # behind the dialog
    expect(card).to_contain_text(str(rushes / "walk.mp4"), timeout=60_000)
    listed.get_by_role("button", name="day/").click()
    listed.get_by_label("frame-0001.png").check()
    page.get_by_role("button", name="Take in 1").click()
    page.get_by_label("Rate").fill("12")
    page.get_by_role("button", name="Take in", exact=True).click()
    expect(page.get_by_role("dialog")).to_contain_text("Pictures are missing: 3", timeout=60_000)
    page.get_by_role("button", name="Take what is there").click()
    sequence = page.get_by_role("list", name="Footage").get_by_role("listitem", name=re.compile("frame-0001"))
    page.get_by_label("Search the footage").fill("missing frame")
    page.get_by_label("Search the footage").fill("frame-0001")
    expect(sequence).to_contain_text("12 fps", timeout=60_000)
    expect(sequence).to_contain_text("3 PNG pictures, 8 bit")
    page.get_by_label("Search the footage").fill("")
    (rushes / "walk.mp4").rename(rushes / "day" / "renamed.mp4")
    page.reload()
    expect(card).to_contain_text("The file is not there")
    card.get_by_role("button", name="Find it again").click()
    expect(card).to_contain_text("renamed.mp4", timeout=60_000)


@pytest.mark.long(found_by="tests/project/test_archive.py; the room shows what its door answers")
def test_an_archive_out_and_in(bench: BenchPage, tmp_path: Path) -> None:
    page = bench.page
    page.get_by_role("button", name="Project").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Save as an archive, with footage").click()
    download.value.save_as(tmp_path / "film.zip")
    assert download.value.suggested_filename == "The Marrow Hill Tramway.zip"
    before = page.url.split("/projects/")[1].split("/")[0]
    page.get_by_label("Archive to bring in").set_input_files(str(tmp_path / "film.zip"))
    expect(page.locator("[data-notice]").get_by_text("“The Marrow Hill Tramway” is here.")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("heading", name="Tram up the hill.mp4")).to_be_visible()
    assert before not in page.url
    (tmp_path / "film.zip").write_bytes((tmp_path / "film.zip").read_bytes()[:100_000])
    page.get_by_label("Archive to bring in").set_input_files(str(tmp_path / "film.zip"))
    expect(page.locator("[data-notice=bad]").filter(has_text="The archive is damaged")).to_be_visible(timeout=60_000)
