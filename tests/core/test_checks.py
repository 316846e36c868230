"""The bright-sky check on drawn pictures and on the demo's shots, of which two have no bright sky."""

from importlib import resources

import numpy as np
import pytest

from wenditas.core.measure.checks.bright_sky import bright_sky
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader


def scene(sky: tuple[float, float, float], rows: int = 60) -> np.ndarray:
    rng = np.random.default_rng(3)
    picture = rng.uniform(0.05, 0.5, (3, 180, 320)).astype(np.float32)
    picture[:, :rows] = np.array(sky, np.float32)[:, None, None] + rng.normal(0, 0.004, (3, rows, 320)).astype(np.float32)
    return picture


def test_a_light_even_top_is_a_bright_sky() -> None:
    assert bright_sky(scene((0.75, 0.85, 0.95))) == pytest.approx(60 / 180, abs=0.05)
    assert bright_sky(scene((0.1, 0.12, 0.25))) == 0  # a night sky
    assert bright_sky(scene((0.75, 0.85, 0.95), rows=0)) == 0
    lower = scene((0.75, 0.85, 0.95))[:, ::-1].copy()
    assert bright_sky(lower) == 0  # a bright street is no sky
    assert bright_sky(np.ones((3, 2, 2), np.float32)) == 0


@pytest.mark.parametrize(("clip", "has"), [("tram-up-the-hill", True), ("orchard-path", False), ("the-kiln", False)])
def test_on_the_film(clip: str, has: bool) -> None:
    path = resources.files("wenditas.demo") / "footage" / f"{clip}.mp4"
    with resources.as_file(path) as file:
        share = bright_sky(Reader(file, *inspect(file)).picture(40))
    assert (share > 0.08) == has, share
