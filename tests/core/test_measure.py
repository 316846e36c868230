"""Census, pixel report, names of colours."""

import numpy as np
import pytest

from wenditas.core.colour.names import colour_name
from wenditas.core.measure.census import COLUMNS, ROWS, census, census_picture, census_reference
from wenditas.core.measure.pixel import pixel_report


@pytest.mark.parametrize("up", ["lightness", "chroma"])
def test_census_equals_numpy_histogram(random_picture: np.ndarray, up) -> None:
    counts, _ = census(random_picture, up=up)
    reference = census_reference(random_picture, up=up)
    assert counts.sum() == reference.sum()
    # A colour on the border of two cells may fall to either side.
    assert np.abs(counts - reference).sum() <= 0.002 * counts.sum() * 2


def test_census_places_red_by_its_published_coordinates() -> None:
    """sRGB red is OkLCh 0.628, 0.258, 29.23 degrees (CSS Color 4, sample conversions)."""
    red = np.zeros((3, 4, 4), np.float32)
    red[0] = 1
    counts, colours = census(red)
    row, column = np.unravel_index(counts.argmax(), counts.shape)
    assert counts.max() == 16
    assert column == int(29.23 / 360 * COLUMNS) and row == int((1 - 0.628) * ROWS)
    assert colours[:, row, column] == pytest.approx([1, 0, 0])


def test_census_leaves_greys_out_and_takes_any_picture() -> None:
    for value in (0.0, 0.5, 1.0, 7.0, -1.0):
        counts, _ = census(np.full((3, 5, 5), value, np.float32))
        assert counts.sum() == 0
    assert census_picture(np.zeros((3, 0, 0), np.float32)).shape == (3, ROWS, COLUMNS)


def test_pixel_report() -> None:
    picture = np.zeros((3, 2, 2), np.float32)
    picture[:, 1, 1] = (1.0, 0.5, 1.7)
    report = pixel_report(picture, 0.99, 1.0)
    assert report.hex == "#FF80FF"
    assert report.rgb == pytest.approx((100, 50, 170), abs=1e-4)  # what lies above white is told as it is
    assert report.luma == pytest.approx(0.2126 * 100 + 0.7152 * 50 + 0.0722 * 170, abs=1e-4)  # ITU-R BT.709-6, 3.2
    assert pixel_report(picture, 0, 0).hex == "#000000"


def test_names() -> None:
    names = [colour_name(c) for c in ((0.8, 0.1, 0.1), (0.95, 0.8, 0.2), (0.2, 0.6, 0.25), (0.15, 0.3, 0.8), (0.5, 0.5, 0.5), (0.02, 0.02, 0.02), (1, 1, 1))]
    assert names == ["Red", "Yellow", "Green", "Blue", "Grey", "Black", "White"]
