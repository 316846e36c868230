"""CIEDE2000 by the table of Sharma, Wu and Dalal (2005), some of whose pairs are given from memory, and by colour-science; L*a*b* by colour-science."""

import colour
import numpy as np
import pytest

from wenditas.core.colour.difference import ciede2000, lab_from_rgb

SHARMA = (
    ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
    ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
    ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
    ((50, 0, 0), (50, -1, 2), 2.3669),
    ((50, 2.5, 0), (50, 0, -2.5), 4.3065),
    ((50, 2.5, 0), (73, 25, -18), 27.1492),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
)


@pytest.mark.parametrize(("one", "other", "expected"), SHARMA)
def test_the_published_table(one: tuple, other: tuple, expected: float) -> None:
    assert float(ciede2000(one, other)) == pytest.approx(expected, abs=1e-4)
    assert float(ciede2000(other, one)) == pytest.approx(expected, abs=1e-4)


def test_many_pairs_by_colour_science() -> None:
    rng = np.random.default_rng(4)
    one, other = (rng.uniform((0, -90, -90), (100, 90, 90), (4000, 3)) for _ in range(2))
    other[:1000] = one[:1000] + rng.normal(0, 2, (1000, 3))
    one[-50:, 1:] = 0  # greys
    expected = colour.delta_E(one, other, method="CIE 2000")
    assert np.abs(ciede2000(one.T, other.T) - expected).max() < 1e-6


def test_lab_by_colour_science() -> None:
    coded = np.random.default_rng(5).random((500, 3))
    xyz = colour.RGB_to_XYZ(coded**2.4, "ITU-R BT.709", apply_cctf_decoding=False)
    expected = colour.XYZ_to_Lab(xyz, colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"])
    assert np.abs(lab_from_rgb(coded.T) - expected.T).max() < 0.02
    assert np.allclose(lab_from_rgb(np.ones((3, 1)))[:, 0], (100, 0, 0), atol=1e-9)
