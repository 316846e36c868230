"""Transitions as they run, held to their plain forms."""

import numpy as np
import pytest

from wenditas.core.film.crossing import DISSOLVE, SHARE, order
from wenditas.core.film.transitions import dissolve, order_of, revealed
from wenditas.core.kernel import Picture
from wenditas.core.work.mixing import BLEND
from wenditas.core.work.operation import Kind, Place

GROWS = ("likeness", "outward", "light", "dark")


@pytest.fixture
def pictures() -> tuple[Picture, Picture]:
    dice = np.random.default_rng(4)
    return dice.random((3, 30, 50), np.float32), dice.random((3, 30, 50), np.float32)


@pytest.fixture
def matte() -> np.ndarray:
    y, x = np.mgrid[:30, :50].astype(np.float32)
    return np.clip((11 - np.hypot(y - 14, x - 20)) / 4, 0, 1).astype(np.float32)


def by_pixel(kind: Kind, params: object, *inputs: np.ndarray) -> np.ndarray:
    assert kind.rows is not None
    out = inputs[0].copy()
    kind.rows(params)(inputs, out, Place(*out.shape[-2:]))
    return out


@pytest.mark.parametrize("linear", [False, True])
@pytest.mark.parametrize("share", [0.0, 0.04, 0.5, 1.0])
def test_dissolves(pictures: tuple[Picture, Picture], share: float, linear: bool) -> None:
    """Negative values and those above white are mirrored and go on, as in the plain form."""
    a, b = (4 * p - 1 for p in pictures)
    plain = dissolve(a, b, share, linear)
    assert (
        np.abs((by_pixel(DISSOLVE, share, a, b) if linear else by_pixel(BLEND, ("normal", share, False), a, b)) - plain) / np.maximum(1, np.abs(plain))
    ).max() < 2.5e-5  # 0.006 of an 8-bit step


@pytest.mark.parametrize("grows", GROWS)
@pytest.mark.parametrize("opens, takes, edge", [(0, 0, 0.1), (0.4, 0, 0.3), (1, 0.3, 0.05), (0.7, 0.9, 0.8), (1, 1, 0.1)])
def test_reveals(pictures: tuple[Picture, Picture], matte: np.ndarray, grows: str, opens: float, takes: float, edge: float) -> None:
    a, b = pictures
    share = by_pixel(SHARE, (opens, takes, edge), matte, *((order(a, matte, grows),) if takes else ()))  # type: ignore[arg-type]
    assert np.abs(by_pixel(BLEND, ("normal", 1, False), a, b, share) - revealed(a, b, a, matte, opens, takes, edge, grows)).max() < 1e-4  # type: ignore[arg-type]


@pytest.mark.parametrize("grows", GROWS)
def test_orders(pictures: tuple[Picture, Picture], matte: np.ndarray, grows: str) -> None:
    """Of what is within 0-1, of what is not, where nothing is selected, and where all is the same."""
    even = np.full((3, 30, 50), 0.4, np.float32)
    for picture in (pictures[0], 3 * pictures[0] - 1):
        for selected in (matte, 0 * matte):
            assert np.abs(order(picture, selected, grows) - order_of(picture, selected, grows)).max() < 1e-5  # type: ignore[arg-type]
    assert np.isfinite(order(even, matte, grows)).all()  # type: ignore[arg-type]
