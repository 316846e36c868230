"""Chroma is denoised as far as the measured noise needs; edges stay; clean footage stays as it is."""

import cv2
import numpy as np
import pytest

from tests.core.drawn import Drawn, footage
from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.film import Shot, resolve, run
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import Shown
from wenditas.core.measure.noise import noise_of, sigma_of
from wenditas.core.select.denoise import NO_NOISE, Noise, denoised, denoised_reference
from wenditas.core.select.keys import ColourKey, HueKey, LightnessKey
from wenditas.core.select.keys.noisy import widened
from wenditas.core.select.picks import Pick

PICK = Pick(colour=(0.75, 0.15, 0.12), x=0.5, y=0.5, frame=0)
DARK = Pick(colour=(0.12, 0.05, 0.05), x=0.5, y=0.5, frame=0)


def scene(sigma: float, size: tuple[int, int] = (120, 160)) -> tuple[np.ndarray, np.ndarray]:
    """A red disc on grey, lighter to the right, with noise in chroma; and where the disc is."""
    rows, columns = np.mgrid[0 : size[0], 0 : size[1]]
    disc = np.hypot(columns - 80, rows - 60) < 40
    picture = np.where(disc, np.array(PICK.colour)[:, None, None], 0.5) * np.linspace(0.7, 1.1, size[1])
    rng = np.random.default_rng(2)
    waver = sigma * rng.standard_normal((2, *size))
    red, blue = 1.5748 * waver[1], 1.8556 * waver[0]
    green = -(LUMA_709[0] * red + LUMA_709[2] * blue) / LUMA_709[1]
    return (picture + np.stack([red, green, blue])).astype(np.float32), disc


@pytest.mark.parametrize("size", [(41, 37), (40, 64), (2, 2), (1, 9)])
@pytest.mark.parametrize("lines", [1, 400])
def test_fast_is_the_reference(size: tuple[int, int], lines: int) -> None:
    picture = np.random.default_rng(1).random((3, *size)).astype(np.float32)
    for sigma in (0.004, 0.06):
        assert denoised(picture, Noise(sigma, lines)) == pytest.approx(denoised_reference(picture, Noise(sigma, lines)), abs=1e-5)


def test_luma_and_clean_footage_stay() -> None:
    picture, _ = scene(0.01)
    assert denoised(picture, NO_NOISE) is picture and denoised(picture, Noise(5e-4, 120)) is picture
    after = denoised(picture, Noise(0.01, 120))
    assert np.tensordot(LUMA_709, after, 1) == pytest.approx(np.tensordot(LUMA_709, picture, 1), abs=1e-5)
    flat = np.full((3, 20, 30), 0.4, np.float32)
    assert denoised(flat, Noise(0.02, 20)) == pytest.approx(flat, abs=1e-6)


@pytest.mark.parametrize("lines", [120, 400])
def test_noise_goes_and_edges_stay(lines: int) -> None:
    clean, disc = scene(0)
    noisy, _ = scene(0.01)
    after = denoised(noisy, Noise(0.01, lines))
    inner = cv2.erode(disc.astype(np.uint8), np.ones((15, 15))) > 0
    error = lambda p, where: float(np.sqrt(((p - clean)[:, where] ** 2).mean()))  # noqa: E731
    assert error(after, inner) < 0.5 * error(noisy, inner) and error(after, ~disc) < 0.6 * error(noisy, ~disc)
    red = lambda p: p[0] - p[1]  # noqa: E731
    edge = cv2.morphologyEx(disc.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3))) > 0
    assert (
        np.abs(red(after) - red(clean))[edge].mean() < np.abs(red(cv2.blur(noisy.transpose(1, 2, 0), (5, 5)).transpose(2, 0, 1)) - red(clean))[edge].mean() / 2
    )


def test_gates_widen_by_the_noise() -> None:
    hue, noise = HueKey(picks=(PICK,)), Noise(0.005, 720)
    wide, dark = widened(hue, noise), widened(HueKey(picks=(DARK,)), noise)
    assert hue.softness < wide.softness < hue.softness + 3 < dark.softness and wide.gate_softness > hue.gate_softness and wide.tolerance == hue.tolerance
    assert widened(ColourKey(picks=(PICK,)), noise).softness > 6
    assert all(widened(key, noise) is key for key in (LightnessKey(), HueKey())) and widened(hue, NO_NOISE) is hue


def test_render_calms_the_source_alone() -> None:
    """A selection on noisy footage is denoised as far as it says; one that reads a pass is not; and the key tells them apart."""

    def draw(piece: object, frame: int) -> np.ndarray:
        return scene(0.02)[0]

    def matte(denoise: float, noise: float, **more: object) -> tuple[np.ndarray, str]:
        selection = {
            "id": "s",
            "name": "S",
            "keys": [{"type": "hue", "picks": [PICK.model_dump()]}],
            "cleaning": {"denoise_chroma": denoise, "follow": 0},
            **more,
        }
        look = parse_look({"selections": [selection], "passes": [{"id": "p", "name": "p", "treatment": "exposure"}]})
        node = Shot(of=footage(width=160, height=120).model_copy(update={"noise": noise}), first=0, last=9, look=look)
        op = resolve(node, 0, shown=Shown(view="matte", selection="s"))
        return run(op, sources=Drawn(draw))[0], op.digest

    plain, _ = matte(100, 0)
    disc = scene(0)[1]
    inner = cv2.erode(disc.astype(np.uint8), np.ones((15, 15))) > 0
    calm, key = matte(100, 0.02)
    off, other = matte(0, 0.02)
    assert off == pytest.approx(plain) and key != other
    assert calm[inner].std() < 0.5 * off[inner].std() or calm[inner].min() > 0.99
    assert matte(100, 0.02, reads="p")[0] == pytest.approx(matte(0, 0, reads="p")[0])
    node = Shot(of=footage().model_copy(update={"noise": 0.02}), first=0, last=9)
    grainy = node.model_copy(update={"look": parse_look({"passes": [{"id": "p", "name": "p", "treatment": "grain"}]})})
    assert node.footage_noise == Noise(0.02, 32)
    assert grainy.footage_noise == NO_NOISE


def test_several_selections_share_one_calm_picture(monkeypatch: pytest.MonkeyPatch) -> None:
    from wenditas.core.look.apply import apply_look
    from wenditas.core.select import operations as module
    from wenditas.core.select.matte import Moment

    count: list[int] = []
    monkeypatch.setattr(module, "denoised", lambda picture, noise: (count.append(1), denoised(picture, noise))[1])
    denoise = {"denoise_chroma": 100}
    picks = [{"id": id, "name": id, "keys": [{"type": "hue", "picks": [PICK.model_dump()]}], "cleaning": denoise} for id in "ab"]
    passes = [{"id": id, "name": id, "treatment": "monochrome", "selection": id, "side": "outside"} for id in "ab"]
    apply_look(parse_look({"selections": picks, "passes": passes}), scene(0.01)[0], Moment(noise=Noise(0.01, 120)))
    assert len(count) == 1


def test_measured_noise_of_a_plain_picture() -> None:
    assert sigma_of(np.full((3, 64, 64), 0.5, np.float32)) == 0 and sigma_of(np.zeros((3, 4, 4), np.float32)) == 0
    assert noise_of([]) == NO_NOISE and noise_of([scene(0.01)[0]] * 2).lines == 120
