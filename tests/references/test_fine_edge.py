"""The fine edge and unmixed colours: by their definitions, and beside PyMatting (compiled by nobody: it is run as plain Python on small pictures)."""

import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from wenditas.core.select.objects.fine import EVEN, closed_form, fine_edge
from wenditas.core.treat.parts.unmixed import unmixed

PEER = """
import sys
import numpy as np
from pymatting import estimate_alpha_cf, estimate_foreground_ml
told = np.load(sys.argv[1])
alpha = estimate_alpha_cf(told["picture"], told["trimap"], laplacian_kwargs={"epsilon": float(told["even"])}, cg_kwargs={"rtol": 1e-9, "maxiter": 4000})
np.savez(sys.argv[2], alpha=alpha, fore=estimate_foreground_ml(told["picture"], told["alpha"]))
"""
OPEN = 5


def hairy(height: int = 36, width: int = 44) -> tuple[np.ndarray, np.ndarray]:
    """A soft-edged thing, its alpha `(h, w)`, over a ground of some slow shades: `(h, w, 3)`."""
    y, x = np.mgrid[:height, :width].astype(np.float64)
    away = 11 + 3 * np.sin(np.arctan2(y - height / 2, x - width / 2) * 7) - np.hypot(y - height / 2, x - width / 2)
    alpha = np.clip(0.5 + away / 5, 0, 1)
    fore = np.stack([0.75 + 0.002 * x, 0.35 + 0.003 * y, 0.2 + 0 * x], axis=2)
    back = np.stack([0.2 + 0.004 * y, 0.45 - 0.002 * x, 0.6 + 0.001 * x], axis=2)
    return alpha[..., None] * fore + (1 - alpha[..., None]) * back, alpha


@pytest.fixture(scope="module")
def peer(tmp_path_factory: pytest.TempPathFactory) -> dict[str, np.ndarray]:
    """What PyMatting makes of the same picture and trimap."""
    folder: Path = tmp_path_factory.mktemp("peer")
    picture, alpha = hairy()
    trimap = np.where(alpha > 0.98, 1.0, np.where(alpha < 0.02, 0.0, 0.5))
    np.savez(folder / "in.npz", picture=picture, trimap=trimap, alpha=alpha, even=EVEN)
    line = [sys.executable, "-c", PEER, str(folder / "in.npz"), str(folder / "out.npz")]
    subprocess.run(line, check=True, env={**os.environ, "NUMBA_DISABLE_JIT": "1"})
    return {"picture": picture, "trimap": trimap, "true": alpha, **np.load(folder / "out.npz")}


def test_closed_form_is_that_of_pymatting(peer: dict[str, np.ndarray]) -> None:
    trimap = peer["trimap"]
    found = closed_form(peer["picture"], (trimap == 1).astype(np.float32), trimap == 0.5, trimap.astype(np.float32))
    assert np.abs(found - peer["alpha"]).max() < 0.02
    assert np.abs(found - peer["true"]).mean() < 0.01


def test_unmixed_colours_are_those_of_pymatting(peer: dict[str, np.ndarray]) -> None:
    """PyMatting limits to 0-1, we to the picture's range; levels are drawn the same way."""
    found = np.moveaxis(unmixed(np.moveaxis(peer["picture"], 2, 0).astype(np.float32), peer["true"].astype(np.float32)), 0, 2)
    mixed = (peer["true"] > 0.05) & (peer["true"] < 1)
    assert np.abs(found - peer["fore"])[mixed].max() < 0.02


@pytest.mark.parametrize("colours", [((0.8, 0.3, 0.2), (0.1, 0.4, 0.7)), ((0.5, 0.5, 0.5), (0.1, 0.1, 0.1))])
def test_two_colours_give_their_mixture_back(colours: tuple[tuple[float, ...], tuple[float, ...]]) -> None:
    """Levin, Lischinski and Weiss (2008), theorem 1: where both colours are even, the true alpha costs nothing."""
    _, alpha = hairy()
    one, other = (np.array(c) for c in colours)
    picture = alpha[..., None] * one + (1 - alpha[..., None]) * other
    where = (alpha > 0.02) & (alpha < 0.98)
    found = closed_form(picture, (alpha >= 0.98).astype(np.float32), where, (alpha > 0.5).astype(np.float32), even=1e-7)
    assert np.abs(found - alpha).max() < 0.05
    own = unmixed(np.moveaxis(picture, 2, 0).astype(np.float32), alpha.astype(np.float32))
    assert np.abs(own - one[:, None, None])[:, alpha > 0.1].max() < 0.01


def test_a_soft_edge_is_found_from_a_sharp_one() -> None:
    picture, alpha = hairy()
    sharp = (alpha > 0.5).astype(np.float32)
    found = fine_edge(sharp, np.moveaxis(picture, 2, 0).astype(np.float32), OPEN)
    assert np.abs(found - alpha).mean() < 0.4 * np.abs(sharp - alpha).mean()
    assert found.dtype == np.float32 and found.min() >= 0 and found.max() <= 1


@pytest.mark.parametrize("matte", [np.zeros((20, 24), np.float32), np.ones((20, 24), np.float32), np.full((1, 1), 1, np.float32)])
def test_what_has_no_edge_stays(matte: np.ndarray) -> None:
    picture = np.zeros((3, *matte.shape), np.float32)
    assert np.array_equal(fine_edge(matte, picture, 8), matte)
    assert np.array_equal(fine_edge(matte, picture, 0), matte)


def test_one_colour_tells_nothing_and_is_no_error() -> None:
    matte = np.zeros((30, 30), np.float32)
    matte[8:22, 8:22] = 1
    found = fine_edge(matte, np.full((3, 30, 30), 0.4, np.float32), 3)
    assert np.isfinite(found).all() and found[15, 15] == 1 and found[0, 0] == 0
