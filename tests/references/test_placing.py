"""Pictures moved, scaled, turned, cropped, mirrored and laid in, against SciPy, NumPy and coloraide."""

import numpy as np
import pytest
from coloraide import Color
from scipy import ndimage

from tests.core.drawn import Drawn, footage, numbered, waves
from wenditas.core.film import Footage, Inlaid, Shot, render, resolve
from wenditas.core.look.document import parse_look, shots_laid
from wenditas.core.treat.mirror import Mirror, mirror
from wenditas.core.treat.parts.placing import Placing, placed, placed_reference
from wenditas.core.treat.place import Place, place
from wenditas.core.treat.record import At, whole
from wenditas.core.treat.shot_laid_in import ShotLaidIn, frame_shown, shot_laid_in

PICTURE = waves(footage(width=96, height=64), 5)


@pytest.mark.parametrize("zoom,turn", [(1.0, 0), (1.7, 0), (1.0, 30), (2.2, -75)])
def test_placing_is_scipys_affine_transform(zoom: float, turn: float) -> None:
    placing = Placing(64, 96, 60.5, 20.25, zoom, turn)
    m = placing.matrix()
    matrix = m[::-1, 1::-1]  # SciPy counts rows first
    expected = np.stack([ndimage.affine_transform(p.astype(np.float64), matrix, m[::-1, 2], output_shape=(64, 96), order=1, mode="nearest") for p in PICTURE])
    assert placed_reference(PICTURE, placing, 64, 96) == pytest.approx(expected, abs=1e-6)
    assert placed(PICTURE, placing, 64, 96) == pytest.approx(expected, abs=0.02)  # OpenCV's places are exact to 1/32 of a pixel


def test_what_is_made_smaller_is_averaged() -> None:
    half = placed_reference(PICTURE, Placing(64, 96, 48, 32, 0.5), 64, 96)
    assert half[:, 16:48, 24:72] == pytest.approx(PICTURE.reshape(3, 32, 2, 48, 2).mean(axis=(2, 4)), abs=1e-5)


def test_place_mirrors_crops_and_shows_what_is_behind() -> None:
    at = At(64, 96, source=np.full_like(PICTURE, 0.3))
    assert place(PICTURE, Place(), at) == pytest.approx(PICTURE, abs=1e-6)
    assert place(PICTURE, Place(mirror_across=True), at) == pytest.approx(np.flip(PICTURE, 2), abs=1e-6)
    assert place(PICTURE, Place(mirror_down=True), at) == pytest.approx(np.flip(PICTURE, 1), abs=1e-6)
    cropped = place(PICTURE, Place(crop_left=25, crop_bottom=50, colour="#ff0000"), at)
    assert cropped[:, :32, 24:] == pytest.approx(PICTURE[:, :32, 24:], abs=1e-6)
    assert cropped[0, 40, 50] == 1 and cropped[1, 10, 5] == 0
    over = place(PICTURE, Place(size=50, behind="the source"), at)
    assert over[:, 0, 0] == pytest.approx(0.3) and over[:, 32, 48] != pytest.approx(0.3)


@pytest.mark.parametrize("across,down", [(25, 75), (50, 50), (60, 30)])
def test_what_is_laid_in_lies_with_its_middle_where_it_is_told(across: float, down: float) -> None:
    """A white shot on black: the centre of mass by SciPy, and as many pixels as its size says."""
    white = np.ones((3, 32, 48), np.float32)
    at = At(64, 96, inset=(white, None))
    laid = shot_laid_in(np.zeros((3, 64, 96), np.float32), ShotLaidIn(shot="other", size=25, centre_x=across, centre_y=down), at)[0]
    row, column = ndimage.center_of_mass(laid)
    assert (column + 0.5, row + 0.5) == pytest.approx((across / 100 * 96, down / 100 * 64), abs=0.02)
    assert laid.sum() == pytest.approx(16 * 24, rel=0.01)


@pytest.mark.parametrize("side,axis", [("flipped across", 2), ("flipped down", 1)])
def test_mirror_flips_the_whole_frame(side: str, axis: int) -> None:
    assert mirror(PICTURE, Mirror(side=side), whole(PICTURE)) == pytest.approx(np.flip(PICTURE, axis), abs=1e-6)


def laying(other: Shot | None, own: str = "24", **params: object) -> Shot:
    look = parse_look({"passes": [{"id": "p", "name": "p", "treatment": "shot-laid-in", "params": {"shot": "other", **params}}]})
    under = footage("under", width=96, height=64, fps=own, frames=40)
    return Shot(of=under, first=0, last=39, look=look, laid=() if other is None else (Inlaid(id="other", of=other),))


def shot(frames: int = 40, fps: str = "24", first: int = 0, look: dict | None = None, **more: bool) -> Shot:
    return Shot(of=footage("other", width=96, height=64, fps=fps, frames=frames, **more), first=first, last=frames - 1, look=parse_look(look or {}))


def test_a_shot_is_laid_in_with_its_own_look_at_its_own_time() -> None:
    """Numbered frames: the one that is nearest in time, held or running, from the frame chosen; with the other shot's look on it."""
    sources = Drawn(numbered)
    shown = lambda node, n: round(float(render(node, n, sources=sources)[0, 32, 48]) * 1000)  # noqa: E731
    assert [shown(laying(shot()), n) for n in (0, 7, 39)] == [0, 7, 39]
    assert [shown(laying(shot(first=10), first=12, begins=5), n) for n in (5, 9, 0)] == [12, 16, 10]  # not before its in
    assert [shown(laying(shot(), first=12, runs=False), n) for n in (0, 30)] == [12, 12]
    assert [shown(laying(shot(frames=80, fps="48")), n) for n in (0, 1, 10)] == [0, 2, 20]
    inverted = {"passes": [{"id": "i", "name": "i", "treatment": "exposure", "params": {"stops": 1}}]}
    assert shown(laying(shot(look=inverted)), 7) > 7
    assert shown(laying(None), 7) == 7 and shots_laid(laying(None).look) == ["other"]
    assert [f.content for f in laying(shot()).within() if isinstance(f, Footage)] == ["other", "under"]


def test_frame_shown_rounds_to_the_nearest() -> None:
    assert [frame_shown(ShotLaidIn(first=3, begins=2), n, 0.5) for n in (2, 3, 4, 0)] == [3, 4, 4, 2]


def test_a_selection_of_it_is_its_shape() -> None:
    """Source-over by coloraide where a selection's matte is half, and nothing of it where the matte is nought."""
    box = {"id": "b", "name": "b", "kind": "rectangle", "mode": "keep", "points": [{"x": 0, "y": 0}, {"x": 810, "y": 1080}], "feather_in": 0, "feather_out": 0}
    look = {
        "selections": [{"id": "s", "name": "S", "shapes": [box], "cleaning": {"white": 100}}],
        "passes": [{"id": "f", "name": "f", "treatment": "solid", "params": {"colour": "#ff8000"}}],
    }
    sources = Drawn(numbered)
    out = render(laying(shot(look=look), part="s"), 20, sources=sources)
    assert out[:, 32, 20] == pytest.approx([1, 128 / 255, 0], abs=1e-3) and out[:, 32, 80] == pytest.approx(0.02, abs=1e-6)
    assert render(laying(shot(look=look), part="gone"), 20, sources=sources)[:, 32, 80] == pytest.approx([1, 128 / 255, 0], abs=1e-3)


def test_alpha_of_its_footage_is_its_shape() -> None:
    class WithAlpha(Drawn):
        def alpha(self, footage, frame: int, size: tuple[int, int]) -> np.ndarray | None:  # type: ignore[no-untyped-def]
            return np.full(size, 0.25, np.float32)

    out = render(laying(shot(alpha=True), first=39, runs=False), 4, sources=WithAlpha(numbered))[:, 32, 48]
    mixed = Color("srgb", [0.039] * 3, 0.25)
    expected = Color.layer([mixed, Color("srgb", [0.004] * 3)], space="srgb")
    assert out == pytest.approx(expected.coords(), abs=1e-4)


def test_keys_tell_what_is_laid_in() -> None:
    plain = {resolve(laying(shot()), n).digest for n in range(5)}
    assert len(plain) == 5 and resolve(laying(shot()), 3).digest == resolve(laying(shot()), 3).digest
    look = {"passes": [{"id": "i", "name": "i", "treatment": "exposure", "params": {"stops": 1}}]}
    assert resolve(laying(shot(look=look)), 3).digest not in plain and resolve(laying(None), 3).digest not in plain
    held = {resolve(laying(shot(), runs=False), n).digest for n in range(5)}
    assert len(held) == 5  # what lies under it moves
