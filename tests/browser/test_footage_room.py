"""Bringing footage in, refusing what cannot be used, removing and bringing back."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.api.conftest import wait_for
from tests.browser.conftest import BenchPage, Server
from tests.media.clips import make_clip
from tests.media.test_sound_alone import written


def listed(page: Page) -> list[str]:
    return page.get_by_role("list", name="Footage").get_by_role("heading").all_inner_texts()


def bring_in(page: Page, *paths: Path) -> None:
    page.get_by_label("Files to bring in").set_input_files([str(p) for p in paths])


def test_bad_files_say_why_and_change_nothing(page: Page, server: Server, tmp_path: Path, tram_clip: Path) -> None:
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Tram up the hill.mp4")).to_be_visible()
    before = listed(page)
    (tmp_path / "empty.mp4").touch()
    (tmp_path / "cut.mp4").write_bytes(tram_clip.read_bytes()[:400_000])
    (tmp_path / "text.mp4").write_text("not a film " * 99)
    cv2.imwrite(str(tmp_path / "one.png"), np.zeros((1, 1, 3), np.uint8))
    says = {"empty.mp4": "zero bytes", "cut.mp4": "cut short", "text.mp4": "cannot be read", "one.png": "1 × 1"}
    bring_in(page, *(tmp_path / name for name in says))
    for name, words in says.items():
        expect(page.get_by_role("alert").filter(has_text=name)).to_contain_text(words, timeout=60_000)
    assert listed(page) == before
    page.reload()
    expect(page.get_by_role("heading", name="Tram up the hill.mp4")).to_be_visible()
    assert listed(page) == before


@pytest.mark.long(found_by="tests/api/test_intake.py: sound alone comes in and lies below a reel; tests/media/test_sound_alone.py")
def test_a_song_comes_in_and_is_heard_below_the_reel(page: Page, server: Server, tmp_path: Path) -> None:
    page.goto(server.url)
    bring_in(page, written(tmp_path / "song.mp3", "libmp3lame"))
    card = page.get_by_role("listitem", name="song.mp3")
    expect(card).to_contain_text("MP3 stereo, 48 kHz", timeout=60_000)
    page.get_by_role("link", name="Reel", exact=True).click()
    page.get_by_role("combobox", name="Sound track").select_option(label="song.mp3")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.get_by_role("slider", name="Fade in", exact=True)).to_be_visible()
    page.get_by_role("link", name="Footage", exact=True).click()
    expect(card).to_contain_text("below the reel")


@pytest.mark.long(found_by="tests/api/test_footage.py; tests/media of other kinds")
def test_a_file_of_another_kind_from_start_to_finish(page: Page, server: Server, tmp_path: Path) -> None:
    from fractions import Fraction

    clip = make_clip(tmp_path / "square.mkv", width=640, height=480, pixel_format="yuv420p10le", rate=Fraction(30000, 1001), sound="libopus")
    page.goto(server.url)
    bring_in(page, clip)
    card = page.get_by_role("listitem", name="square.mkv")
    expect(card).to_contain_text("640 × 480", timeout=60_000)
    for fact in ("29.97 fps", "24 frames", "H264, 10 bit", "OPUS stereo", "BT.709 limited"):
        expect(card).to_contain_text(fact)
    card.get_by_role("button", name="Open on the Bench", exact=True).click()
    bench = BenchPage(page, server)
    bench.wait_for_picture()
    bench.click(0.375, 0.375)
    page.get_by_role("button", name="Monochrome, outside").click()
    bench.wait_for_picture()
    inside, outside = bench.pixel(0.375, 0.375), bench.pixel(0.1, 0.1)
    assert inside[0] - inside[1] > 120 and np.ptp(outside) <= 2


@pytest.mark.long(found_by="tests/media/test_reading.py and tests/api/test_sheet.py with stills; the Bench opens footage of any kind by the same door")
def test_stills_work_on_the_bench(page: Page, server: Server, tmp_path: Path) -> None:
    from tests.media.clips import frame_pixels

    path = tmp_path / "still.png"
    cv2.imwrite(str(path), frame_pixels(0, 400, 300, 1)[:, :, ::-1])
    page.goto(server.url)
    bring_in(page, path)
    card = page.get_by_role("listitem", name="still.png")
    card.get_by_role("button", name="Open on the Bench", exact=True).click(timeout=60_000)
    bench = BenchPage(page, server)
    bench.wait_for_picture()
    bench.click(0.375, 0.375)
    bench.view("Matte")
    assert min(bench.pixel(0.375, 0.375)) > 250
    page.keyboard.press("Space")
    start = int(page.get_by_label("Frame", exact=True).input_value())
    page.wait_for_function("(start) => Number(document.querySelector('input[aria-label=Frame]').value) > start + 3", arg=start, timeout=60_000)
    page.keyboard.press("k")


@pytest.mark.long(found_by="tests/media/test_damaged_footage.py; tests/faults/test_data_folder.py")
def test_what_is_there_of_a_damaged_file_is_taken(page: Page, server: Server, tmp_path: Path, tram_clip: Path) -> None:
    data = tram_clip.read_bytes()
    (tmp_path / "cut.mp4").write_bytes(data[: len(data) // 2])
    page.goto(server.url)
    bring_in(page, tmp_path / "cut.mp4")
    row = page.get_by_role("alert").filter(has_text="cut.mp4")
    expect(row).to_contain_text("cut short: it promises 132 pictures", timeout=60_000)
    row.get_by_role("button", name="Take what is there").click()
    card = page.get_by_role("listitem", name="cut.mp4")
    expect(card).to_contain_text("cut short", timeout=60_000)
    bring_in(page, tmp_path / "cut.mp4")
    expect(page.locator("[data-notice]").filter(has_text="is here already")).to_be_visible(timeout=60_000)
    assert listed(page).count("cut.mp4") == 1
    card.get_by_role("button", name="Open on the Bench", exact=True).click()
    bench = BenchPage(page, server)
    bench.go(40)
    assert bench.pixel(0.5, 0.5) != bench.pixel(0.5, 0.05)


@pytest.mark.long(found_by="tests/faults/test_data_folder.py: footage is conformed only while no shot counts its frames")
def test_another_rate_is_asked_for(page: Page, server: Server, tmp_path: Path) -> None:
    clip = make_clip(tmp_path / "slow.mkv", count=18, times=[round(n * 1000 / 18) for n in range(18)])
    page.goto(server.url)
    bring_in(page, clip)
    card = page.get_by_role("listitem", name="slow.mkv")
    expect(card).to_contain_text("18 fps", timeout=60_000)
    card.get_by_role("button", name="More for slow.mkv").click()
    page.get_by_role("menuitem", name="Show at another rate…").click()
    page.get_by_label("Frames a second").fill("24")
    page.get_by_role("button", name="Show at this rate").click()
    expect(card).to_contain_text("24 frames")
    expect(card).to_contain_text("24 fps")


def test_removal_has_an_undo(page: Page, server: Server) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="More for Tram up the hill.mp4").click()
    page.get_by_role("menuitem", name="Remove this footage").click()
    expect(page.get_by_role("heading", name="Tram up the hill.mp4")).to_have_count(0)
    assert len(listed(page)) == 6
    page.locator("[data-notice]").get_by_role("button", name="Undo").click()
    expect(page.get_by_role("heading", name="Tram up the hill.mp4")).to_be_visible()


def test_cancel_an_upload(page: Page, server: Server, tmp_path: Path) -> None:
    big = tmp_path / "big.mp4"
    big.write_bytes(bytes(200_000_000))
    page.goto(server.url)
    session = page.context.new_cdp_session(page)
    session.send("Network.enable")
    session.send("Network.emulateNetworkConditions", {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 4_000_000})
    bring_in(page, big)
    row = page.get_by_role("list", name="Uploads").get_by_role("listitem")
    expect(row.get_by_role("progressbar")).to_be_visible()
    wait_for(lambda: list((server.data / "incoming").iterdir()))
    row.get_by_role("button", name="Cancel").click()
    expect(row).to_have_count(0)
    wait_for(lambda: not list((server.data / "incoming").iterdir()))


def test_several_at_once_from_a_list(page: Page, server: Server) -> None:
    """Ordered by a column, chosen, into the reel, under a look, away and back; and the project once more, by itself."""
    page.goto(server.url)
    page.get_by_role("link", name="Footage", exact=True).click()
    page.get_by_text("List", exact=True).click()
    rows = page.get_by_role("table", name="Footage").get_by_role("row")
    expect(rows).to_have_count(8)
    page.get_by_role("button", name="Name", exact=True).click()
    names = rows.locator("[role=cell]:nth-child(3)")
    wait_for(lambda: (told := names.all_inner_texts()) == sorted(told))
    page.get_by_role("button", name="Name ↑").click()
    wait_for(lambda: (told := names.all_inner_texts()) == sorted(told, reverse=True))
    for name in ("The kiln.mp4", "Orchard path.mp4"):
        page.get_by_label(f"Choose {name}").check()
    chosen = page.get_by_role("group", name="What is chosen")
    chosen.get_by_role("button", name="Put in the reel").click()
    expect(page.locator("[data-notice]").get_by_text("2 files stand at the end of the reel.")).to_be_visible(timeout=60_000)
    chosen.get_by_role("button", name="Put a look on ▾").click()
    page.get_by_role("menuitem", name="Two-ink print").click()
    said = page.locator("[data-notice]").get_by_text("“Two-ink print” is on 2 shots")
    expect(said).to_be_visible(timeout=60_000)
    page.keyboard.press("Escape")  # closes the newest message
    expect(said).to_have_count(0)
    chosen.get_by_role("button", name="Remove", exact=True).click()
    expect(rows).to_have_count(6)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(rows).to_have_count(8)
    page.get_by_role("button", name="Project ▾").click()
    page.get_by_role("menuitem", name="Duplicate this project").click()
    expect(page.get_by_text("The Marrow Hill Tramway, copy", exact=True)).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="Reel", exact=True).click()
    expect(page.get_by_label("Items").get_by_role("button")).to_have_count(10)


def test_other_footage_is_sought_to_stand_in_its_place(page: Page, server: Server) -> None:
    page.goto(server.url)
    page.get_by_role("link", name="Footage", exact=True).click()
    page.get_by_role("button", name="More for The kiln.mp4").click()
    page.get_by_role("menuitem", name="Put other footage in its place…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Search for footage").fill("awnings")
    expect(dialog.get_by_role("listitem")).to_have_count(1)
    dialog.get_by_role("button", name="Put in its place: Six awnings.mp4").click()
    expect(page.locator("[data-notice]").get_by_text("Its shot is made of “Six awnings.mp4” now.")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_role("listitem", name="The kiln.mp4").first).to_contain_text("1 shot")
