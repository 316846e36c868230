"""Looks from pictures, with known answers: `make bench-reference`.

A known look is put on one shot; a frame of that, encoded as H.264, is the reference for another. The first proposal is compared with the known look on
that other shot: mean CIEDE2000, as a share of that of the untouched shot. Beside it, from the same pictures, moments in a decorrelated space (Reinhard,
Ashikhmin, Gooch and Shirley 2001) and scikit-image's `match_histograms`. `python -m bench.reference "worked on"` tells of the looks that it was made on.
"""

import sys
import tempfile
import time
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table
from skimage.exposure import match_histograms
from sklearn.datasets import load_sample_image

from bench import coded
from bench.clips.clip import REPORTED, WORKED_ON
from bench.timing import at_most
from wenditas.core.colour.difference import ciede2000, lab_from_rgb
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.likeness.kinds import Kind
from wenditas.core.likeness.proposals import propose
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look
from wenditas.demo.draw import awnings, dusk, film, kiln, marionette, orchard, tram, umbrella

SIZE, FRAME, CRF = (480, 270), 60, "23"
CLIPPED = 0.02  # share of a picture that may be clipped beyond what the reference is


def look(*passes: tuple[str, dict[str, Any]]) -> Look:
    """A look of some passes."""
    return parse_look({"selections": [], "passes": [{"id": f"p{n}", "name": t, "treatment": t, "params": p} for n, (t, p) in enumerate(passes)]})


@dataclass(frozen=True)
class Known:
    """A look whose likeness is sought. kinds: what its pictures may rightly be taken for."""

    name: str
    half: str
    look: Look
    kinds: tuple[Kind, ...]


def _stops(*colours: str) -> list[dict[str, Any]]:
    return [{"position": 100 * n / (len(colours) - 1), "colour": c} for n, c in enumerate(colours)]


def _night(stops: float, blue: str, saturation: float) -> Look:
    zones = {"shadows": blue, "shadows_tint": 40, "midtones": blue, "midtones_tint": 30, "highlights": blue, "highlights_tint": 10}
    return look(("exposure", {"stops": stops}), ("saturation", {"saturation": saturation}), ("tone-zones", zones))


def _zoned(shadows: str, highlights: str, amount: float) -> Look:
    return look(("tone-zones", {"shadows": shadows, "shadows_tint": amount, "highlights": highlights, "highlights_tint": amount}))


GRADED: tuple[Kind, ...] = ("graded",)
LOOKS = (
    Known("two inks, worked on", WORKED_ON, look(("duotone", {"dark": "#2a1a4a", "light": "#ffd9a0"})), ("two inks",)),
    Known("heat, worked on", WORKED_ON, look(("gradient-map", {"stops": _stops("#000010", "#5a0a6a", "#e04020", "#ffe060")})), ("by lightness",)),
    Known("night, worked on", WORKED_ON, _night(-1.3, "#2040a0", 50), ("night",)),
    Known("warm, worked on", WORKED_ON, look(("white-balance", {"temperature": 4800, "tint": 5})), GRADED),
    Known("faded, worked on", WORKED_ON, look(("curves", {"master": [[0, 12], [50, 52], [100, 90]]}), ("saturation", {"saturation": 60})), GRADED),
    Known("two inks", REPORTED, look(("duotone", {"dark": "#1d2b4f", "light": "#f2e3c6"})), ("two inks",)),
    Known("ink by ink", REPORTED, look(("duotone", {"dark": "#1b2a5c", "light": "#f0523d", "method": "ink by ink"})), ("two inks",)),
    Known(
        "heat", REPORTED, look(("gradient-map", {"stops": _stops("#05010d", "#3b0f70", "#b5367a", "#fb8861", "#fcfdbf"), "space": "Oklab"})), ("by lightness",)
    ),
    Known("sepia", REPORTED, look(("tint", {"darks": "#20140e", "lights": "#f3e6c8"})), ("two inks", "by lightness")),
    Known("grey", REPORTED, look(("monochrome", {}), ("curves", {"master": [[0, 0], [25, 14], [75, 86], [100, 100]]})), ("grey",)),
    Known("night", REPORTED, _night(-1.15, "#1a3a7a", 60), ("night", "graded")),
    Known("teal and orange", REPORTED, _zoned("#106070", "#f0a050", 35), GRADED),
    Known("cool and flat", REPORTED, look(("white-balance", {"temperature": 8500}), ("curves", {"master": [[0, 8], [50, 50], [100, 92]]})), GRADED),
    Known("rich and dark", REPORTED, look(("curves", {"master": [[0, 0], [50, 38], [100, 96]]}), ("saturation", {"saturation": 140})), GRADED),
    Known("pale green", REPORTED, look(("saturation", {"saturation": 45}), ("tone-zones", {"midtones": "#708a60", "midtones_tint": 40})), GRADED),
)


def pictures() -> dict[str, Picture]:
    """Frames of the demo's shots, and scikit-learn's two photographs."""
    shots = {
        "tram": (tram, tram.TramShot),
        "umbrella": (umbrella, umbrella.UmbrellaShot),
        "awnings": (awnings, awnings.AwningsShot),
        "kiln": (kiln, kiln.KilnShot),
    }
    more = {"marionette": (marionette, marionette.MarionetteShot), "orchard": (orchard, orchard.OrchardShot), "dusk": (dusk, dusk.DuskShot)}
    found = {name: film.picture_of(shot(), FRAME, scene.WIDTH, scene.HEIGHT) for name, (scene, shot) in {**shots, **more}.items()}
    photos = {name: np.moveaxis(load_sample_image(f"{name}.jpg"), 2, 0) / 255 for name in ("china", "flower")}
    return {name: _small(as_picture(picture)) for name, picture in {**found, **photos}.items()}


def _small(picture: Picture) -> Picture:
    small = cv2.resize(np.ascontiguousarray(np.moveaxis(picture, 0, 2)), SIZE, interpolation=cv2.INTER_AREA)
    return as_picture(np.clip(np.moveaxis(small, 2, 0), 0, 1))


def apart(one: Picture, other: Picture) -> float:
    """Mean CIEDE2000."""
    return float(ciede2000(*(lab_from_rgb(np.clip(p, 0, 1)) for p in (one, other))).mean())


def by_moments(picture: Picture, reference: Picture) -> Picture:
    """Means and spreads in lαβ of Ruderman et al. (1998), as Reinhard et al. (2001) have it; their matrices, from memory, on linear light."""
    lms = np.array([[0.3811, 0.5783, 0.0402], [0.1967, 0.7244, 0.0782], [0.0241, 0.1288, 0.8444]])
    turn = np.diag([1 / np.sqrt(3), 1 / np.sqrt(6), 1 / np.sqrt(2)]) @ np.array([[1, 1, 1], [1, 1, -2], [1, -1, 0]])

    def to(p: Picture) -> np.ndarray:
        return np.asarray(turn @ np.log10(np.maximum(lms @ (np.clip(p, 0, 1).reshape(3, -1).astype(np.float64) ** 2.2), 1e-4)))

    one, other = to(picture), to(reference)
    moved = (one - one.mean(1, keepdims=True)) * (other.std(1) / np.maximum(one.std(1), 1e-6))[:, None] + other.mean(1, keepdims=True)
    linear = np.linalg.inv(lms) @ 10 ** (np.linalg.inv(turn) @ moved)
    return as_picture(np.clip(linear, 0, 1).reshape(picture.shape) ** (1 / 2.2))


def by_histograms(picture: Picture, reference: Picture) -> Picture:
    """Channel by channel."""
    return as_picture(match_histograms(np.asarray(picture), np.asarray(reference), channel_axis=0))


@dataclass(frozen=True)
class Row:
    """Of a look: ratios of ours and of the peers', share of right kinds, clipping beyond the reference, seconds."""

    name: str
    ratios: tuple[float, float, float]
    right: float
    clipped: float
    seconds: float


def clipping(picture: Picture) -> float:
    """Share of pixels at an end."""
    return float(((picture <= 0.002) | (picture >= 0.998)).all(axis=0).mean())


def measured(known: Known, shots: dict[str, Picture], pairs: Sequence[tuple[str, str]], folder: Path) -> Row:
    """A look on all pairs: of the shot that wears it, and of the one that is to."""
    ratios, right, clipped, taken = [], [], [], []
    for wears, wants in pairs:
        reference = np.clip(apply_look(known.look, shots[wears]), 0, 1)
        read = coded.encoded([as_picture(reference)] * 2, folder, CRF)[0][0]
        shot, true = shots[wants], np.clip(apply_look(known.look, shots[wants]), 0, 1)
        began, ids = time.perf_counter(), count()
        first = propose([(0, shot)], [read], lambda ids=ids: f"i{next(ids)}").proposals[0]  # type: ignore[misc]
        taken.append(time.perf_counter() - began)
        made = np.clip(apply_look(first.look, shot), 0, 1)
        plain = max(apart(shot, true), 0.5)
        ratios.append([apart(p, true) / plain for p in (made, by_moments(shot, read), by_histograms(shot, read))])
        right.append(first.kind in known.kinds)
        clipped.append(clipping(made) > clipping(true) + CLIPPED)
    ours, moments, histograms = np.mean(ratios, axis=0).tolist()
    return Row(known.name, (ours, moments, histograms), float(np.mean(right)), float(np.mean(clipped)), float(np.median(taken)))


def main() -> None:
    """Measure the looks of a half and print their table."""
    half = sys.argv[1] if len(sys.argv) > 1 else REPORTED
    shots = pictures()
    names = list(shots)
    pairs = [(names[n], names[(n + k) % len(names)]) for n in range(len(names)) for k in (1, 4)][: at_most(99, 1)]
    with tempfile.TemporaryDirectory() as folder:
        rows = [measured(known, shots, pairs, Path(folder)) for known in [k for k in LOOKS if k.half == half][: at_most(99, 2)]]
    table = Table(
        "Look", "ours", "moments", "histograms", "right kind", "clips more", "seconds", title=f"What is left of the difference ({half}, {len(pairs)} pairs)"
    )
    for row in rows:
        table.add_row(row.name, *(f"{v:.2f}" for v in row.ratios), f"{100 * row.right:.0f} %", f"{100 * row.clipped:.0f} %", f"{row.seconds:.2f}")
    good = sum(row.ratios[0] <= 0.5 for row in rows)
    best = sum(row.ratios[0] < min(row.ratios[1:]) for row in rows)
    kinds = sum(row.right > 0.5 for row in rows)
    table.caption = f"At most 0.5: {good} of {len(rows)}; better than both peers: {best}; the right kind mostly: {kinds}"
    Console(width=140).print(table)


if __name__ == "__main__":
    main()
