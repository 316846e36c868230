"""What is done at the edge of a selection, and what spreads from inside it, against outside libraries."""

import numpy as np
import pytest
from scipy import ndimage

from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.reference import render_reference
from wenditas.core.select.matte import selection_matte
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.edge_colour import EdgeColour, edge_colour
from wenditas.core.treat.record import At, whole
from wenditas.core.treat.spill import Spill, spill, weight_of

SIZE = (108, 160)
LUMA = (0.2126, 0.7152, 0.0722)  # ITU-R BT.709


def square() -> np.ndarray:
    matte = np.zeros(SIZE, np.float32)
    matte[40:70, 60:100] = 1
    return matte


def random_picture() -> np.ndarray:
    return np.random.default_rng(8).random((3, *SIZE), np.float32)


def at(matte: np.ndarray | None) -> At:
    return At(*SIZE, matte=matte)


def test_spill_falls_off_by_distance_and_keeps_luma() -> None:
    matte = square()
    away = ndimage.distance_transform_edt(matte < 0.5) - 0.5  # to the edge between pixels
    t = np.clip(away / 30, 0, 1)
    assert weight_of(matte, 30)[matte == 0] == pytest.approx((1 - t * t * (3 - 2 * t))[matte == 0], abs=1e-4)
    picture = random_picture()
    after = spill(picture, Spill(colour="#ff0000", reach=200), at(matte))
    assert np.tensordot(LUMA, after, 1) == pytest.approx(np.tensordot(LUMA, picture, 1), abs=1e-5)
    assert np.array_equal(after[:, matte == 1], picture[:, matte == 1]) or after[:, matte == 1] == pytest.approx(picture[:, matte == 1], abs=1e-6)
    assert spill(picture, Spill(), at(None)) is picture


def test_spill_takes_its_own_hue_and_no_other() -> None:
    around = square()
    for colour, gone in (("#ff0000", True), ("#00ff00", False), ("#0000ff", False)):
        picture = np.empty((3, *SIZE), np.float32)
        picture[:] = np.array([0.6, 0.35, 0.36], np.float32)[:, None, None]
        after = spill(picture, Spill(colour=colour, reach=600, hues=30), at(around))
        chroma = np.ptp(after[:, 39, 80])
        assert bool(chroma < 0.05) is gone, colour


def test_edge_colour_is_the_nearest_inside() -> None:
    matte, picture = square(), random_picture()
    params = EdgeColour(inset=30, reach=60)
    depth = ndimage.distance_transform_edt(matte > 0.5)
    core = depth > 30 * SIZE[0] / 1080
    away, (rows, columns) = ndimage.distance_transform_edt(~core, return_indices=True)
    replaced = (away > 0) & (away <= 90 * SIZE[0] / 1080 * 0.98)  # OpenCV's distances are within 2 %
    after = edge_colour(picture, params, at(matte))
    exact = picture[:, rows, columns]
    same = np.abs(after - exact).max(axis=0) < 1e-6
    assert same[replaced].mean() > 0.97  # ties between pixels that are as near
    assert np.array_equal(after[:, away > 95 * SIZE[0] / 1080], picture[:, away > 95 * SIZE[0] / 1080]) and np.array_equal(after[:, core], picture[:, core])
    assert edge_colour(picture, params, at(None)) is picture and edge_colour(picture, params, at(np.zeros(SIZE, np.float32))) is picture


def scene() -> tuple[np.ndarray, Look]:
    """A bright red square, selected, on dark grey with a bright grey one beside it; and a look that has nothing but its selection."""
    picture = np.full((3, *SIZE), 0.2, np.float32)
    picture[:, 40:70, 60:100] = np.array([0.9, 0.15, 0.1], np.float32)[:, None, None]
    picture[:, 40:70, 130:150] = 0.9
    pick = {"colour": [0.9, 0.15, 0.1], "x": 0.5, "y": 0.5, "frame": 0}
    return picture, parse_look({"selections": [{"id": "s", "name": "S", "keys": [{"type": "hue", "picks": [pick]}]}]})


def passed(look: Look, treatment: str, side: str, **params: object) -> Look:
    item = {"id": "p", "name": "p", "treatment": treatment, "params": params, "selection": "s", "side": side}
    return parse_look({**look.model_dump(mode="json"), "passes": [item]})


def test_glow_from_inside_is_light_of_the_selection_over_all() -> None:
    """Linear light of what is selected, blurred by SciPy and added: nothing from the bright grey square, and nothing clipped at the matte."""
    picture, look = scene()
    out = apply_look(passed(look, "glow", "from inside", threshold=0, radius=60, intensity=100), picture)
    matte = selection_matte(look.selections[0], picture)
    light = srgb_decode(picture)
    spread = np.stack([ndimage.gaussian_filter(plane * matte, 6, mode="nearest", truncate=4) for plane in light])
    assert out == pytest.approx(srgb_encode(light + spread), abs=4e-3)
    inside = apply_look(passed(look, "glow", "inside", threshold=0, radius=60, intensity=100), picture)
    assert out[0, 35, 80] > picture[0, 35, 80] + 0.05 and np.array_equal(inside[:, 35, 80], picture[:, 35, 80])


@pytest.mark.parametrize("treatment", [t for t in TREATMENTS if TREATMENTS[t].spreads])
def test_what_spreads_spreads_from_inside(treatment: str) -> None:
    picture, look = scene()
    params = dict(TREATMENTS[treatment].example)
    shown = passed(look, treatment, "from inside", **params)
    out = apply_look(shown, picture)
    assert out == pytest.approx(render_reference(shown, picture, at=whole(picture)), abs=8e-3)
    far = np.s_[:, 5:8, 130:150]  # by the grey square
    if treatment in ("glow", "gaussian-blur", "directional-blur"):
        assert out[far] == pytest.approx(picture[far], abs=5e-3)
    assert max(np.abs(out - picture)[:, 30:39, 60:100].max(), np.abs(out - picture)[:, 40:70, 52:59].max()) > 0.01  # beyond the edge


def test_blur_from_inside_is_source_over() -> None:
    """W3C Compositing 1, 5.1, premultiplied: SciPy's blur of the selected colour and of the matte."""
    picture, look = scene()
    out = apply_look(passed(look, "gaussian-blur", "from inside", radius=50), picture)
    matte = selection_matte(look.selections[0], picture)
    blur = lambda plane: ndimage.gaussian_filter(plane.astype(np.float64), 5, mode="nearest", truncate=4)  # noqa: E731
    expected = np.stack([blur(plane * matte) + plane * (1 - blur(matte)) for plane in picture])
    assert out == pytest.approx(expected, abs=4e-3)


@pytest.mark.parametrize("treatment", ["spill", "edge-colour"])
def test_edge_treatments_read_the_matte_of_their_selection(treatment: str) -> None:
    picture, look = scene()
    params = {"colour": "#e6261a"} if treatment == "spill" else {}
    for side in ("inside", "outside"):
        shown = passed(look, treatment, side, **params)
        assert apply_look(shown, picture) == pytest.approx(render_reference(shown, picture), abs=1e-4)
