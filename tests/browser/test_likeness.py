"""A look from a picture, on the Bench: chosen, dropped, said where it cannot be; from another shot."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect
from sklearn.datasets import load_sample_image

from tests.browser.conftest import BenchPage

DARK, LIGHT = (0x1D, 0x2B, 0x4F), (0xF2, 0xE3, 0xC6)


def poster(folder: Path) -> Path:
    """A photograph of scikit-learn's, printed in two inks."""
    grey = cv2.cvtColor(load_sample_image("china.jpg"), cv2.COLOR_RGB2GRAY)[..., None] / 255
    inked = np.array(DARK) + (np.array(LIGHT) - np.array(DARK)) * grey
    path = folder / "poster.png"
    cv2.imwrite(str(path), inked[..., ::-1].round().astype(np.uint8))
    return path


@pytest.mark.long(found_by="tests/api/test_likeness.py; tests/core/test_likeness.py; bench/reference.py")
def test_a_poster_becomes_a_look_that_can_be_edited(bench: BenchPage, tmp_path: Path) -> None:
    page = bench.page
    page.get_by_role("button", name="Look ▾").click()
    page.get_by_role("menuitem", name="From a picture…").click()
    panel = page.get_by_role("dialog", name="A look from a picture")
    panel.get_by_label("Reference picture").set_input_files(poster(tmp_path))
    expect(panel.get_by_text("It is printed in two inks.")).to_be_visible(timeout=60_000)
    proposals = panel.get_by_role("list", name="Proposals").get_by_role("button")
    expect(proposals).to_have_count(3)
    expect(proposals.first).to_have_attribute("aria-pressed", "true")
    expect(panel.get_by_role("list", name="What was measured")).to_contain_text("Dark ink")
    far = panel.get_by_role("slider", name="How far")
    far.press("ArrowLeft")
    expect(panel.get_by_text("99")).to_be_visible()
    proposals.nth(1).click()
    expect(panel.get_by_role("list", name="What was measured")).to_contain_text("stops hold the colours")
    black = tmp_path / "black.png"
    cv2.imwrite(str(black), np.zeros((60, 80, 3), np.uint8))
    panel.get_by_label("Reference picture").set_input_files(black)
    expect(panel.get_by_role("alert")).to_contain_text("The picture is all black")
    panel.get_by_role("button", name="Close").click()
    expect(panel).to_be_hidden()
