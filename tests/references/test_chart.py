"""The key by hue on the 24-patch colour chart, reference values as published in colour-science
("ColorChecker24 - After November 2014", CCS_COLOURCHECKERS)."""

import numpy as np
import pytest

from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.select.keys import HueKey
from wenditas.core.select.keys.hue import hue_key, prepare
from wenditas.core.select.picks import Pick

colour = pytest.importorskip("colour")


@pytest.fixture(scope="module")
def chart() -> tuple[list[str], np.ndarray]:
    data = colour.CCS_COLOURCHECKERS["ColorChecker24 - After November 2014"]
    xyz = colour.xyY_to_XYZ(list(data.data.values()))
    rgb = colour.XYZ_to_sRGB(xyz, illuminant=data.illuminant)
    return list(data.data), np.clip(rgb, 0, 1).T[:, None, :].astype(np.float32)


def taken(chart: tuple[list[str], np.ndarray], patch: str, **more: float) -> set[str]:
    names, picture = chart
    chosen = tuple(float(v) for v in picture[:, 0, names.index(patch)])
    key = HueKey(picks=(Pick(colour=chosen, x=0.5, y=0.5, frame=0),), **more)
    matte = np.empty(picture.shape[1:], np.float32)
    prepare(key)(picture, matte)
    assert matte == pytest.approx(hue_key(picture, key), abs=1e-3)
    return {n for n, m in zip(names, matte[0], strict=True) if m > 0.5}


def test_greys_are_never_taken(chart) -> None:
    greys = {n for n in chart[0] if n.startswith(("white", "neutral", "black"))}
    assert len(greys) == 6
    for name in set(chart[0]) - greys:
        assert not taken(chart, name, tolerance=25) & greys, name


def test_each_saturated_patch_takes_itself_and_only_near_hues(chart) -> None:
    names, picture = chart
    lch = oklch_from_rgb(picture[:, 0, :])
    for name in ("red", "green", "blue", "yellow", "magenta", "cyan", "orange", "purple"):
        found = taken(chart, name, tolerance=9, softness=6)
        assert name in found
        hue = lch[2, names.index(name)]
        for other in found:
            apart = abs((lch[2, names.index(other)] - hue + 180) % 360 - 180)
            assert apart <= 12  # half way down the softness


def test_known_families(chart) -> None:
    """Which patches belong together is plain to see on the chart: two skins, two oranges-to-yellows, blues."""
    assert {"dark skin", "light skin"} <= taken(chart, "light skin", tolerance=9, softness=6)
    assert "red" not in taken(chart, "yellow", tolerance=9, softness=6)
    assert taken(chart, "red", tolerance=9, softness=6) & {"green", "cyan", "blue", "foliage", "yellow"} == set()
