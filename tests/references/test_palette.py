"""Palettes from pictures, and into treatments: SciPy's k-means on the same points, and pictures whose colours are known."""

import numpy as np
import pytest
from scipy.cluster.vq import kmeans2

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.select.palette import palette_of
from wenditas.core.treat import TREATMENTS

COLOURS = ("#101418", "#7a2a20", "#2f6fb5", "#e0a458", "#f4ead2")  # dark to light


def patches(noise: float = 0.0) -> np.ndarray:
    picture = np.concatenate([np.full((3, 40, 30), 1.0) * rgb_from_hex(c)[:, None, None] for c in COLOURS], axis=2)
    return np.clip(picture + noise * np.random.default_rng(2).standard_normal(picture.shape), 0, 1).astype(np.float32)


def test_the_colours_of_a_picture_are_found_dark_to_light() -> None:
    assert palette_of(patches(), 5) == list(COLOURS)
    assert palette_of(patches(), 12) == list(COLOURS)  # it has no more
    assert palette_of(np.full((3, 4, 4), 0.6, np.float32), 5) == ["#999999"]
    light = [oklab_from_rgb(rgb_from_hex(c))[0] for c in palette_of(patches(0.05), 4)]
    assert len(light) == 4 and light == sorted(light)


def test_clusters_are_as_tight_as_scipys() -> None:
    picture = patches(0.04)
    points = oklab_from_rgb(picture.reshape(3, -1)).T
    ours = np.array([oklab_from_rgb(rgb_from_hex(c)) for c in palette_of(picture, 5)])
    theirs, _ = kmeans2(points, np.array([oklab_from_rgb(rgb_from_hex(c)) for c in COLOURS]), minit="matrix")
    spread = lambda centres: float((np.linalg.norm(points[:, None] - centres[None], axis=2).min(axis=1) ** 2).mean())  # noqa: E731
    assert spread(ours) < 1.02 * spread(theirs)


@pytest.mark.parametrize("treatment", [t for t in TREATMENTS.values() if t.takes_palette], ids=lambda t: t.id)
@pytest.mark.parametrize("colours", [COLOURS, COLOURS[:2], COLOURS[1:2], ("#202020", "#e0e0e0")])
def test_treatments_take_palettes(treatment, colours: tuple[str, ...]) -> None:
    changed = treatment.takes_palette(treatment.params(), colours)
    look = parse_look({"passes": [{"id": "p", "name": "p", "treatment": treatment.id, "params": changed}]})
    out = apply_look(look, patches())
    assert np.isfinite(out).all()
    if treatment.id in ("gradient-map", "duotone") and len(colours) > 1:
        ends = np.stack([np.zeros((3, 1, 2)), np.ones((3, 1, 2))], axis=3)[..., 0, :].astype(np.float32)
        shown = apply_look(look, np.ascontiguousarray(ends))
        assert shown[:, 0, 0] == pytest.approx(rgb_from_hex(colours[0]), abs=3e-3) and shown[:, 0, 1] == pytest.approx(rgb_from_hex(colours[-1]), abs=3e-3)


def test_bands_come_to_the_hues_of_a_palette() -> None:
    takes = TREATMENTS["hue-bands"].takes_palette
    assert takes is not None
    bands = takes(TREATMENTS["hue-bands"].params(), COLOURS)["bands"]
    assert 3 <= len(bands) <= 5 and [b["hue"] for b in bands] == sorted(b["hue"] for b in bands)
