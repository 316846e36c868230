"""Inks and stops: colours as they follow from how light a picture is."""

from typing import Any

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.oklab import rgb_from_oklab
from wenditas.core.kernel import Floats
from wenditas.core.likeness import tones
from wenditas.core.likeness.kinds import Curve, Recognised, colour_at
from wenditas.core.likeness.measured import Measured
from wenditas.core.treat.duotone import Duotone, inked

HOLDS = 0.01  # of Oklab, about one step of colour difference, that a line between two stops may be off
MOST = 12
SHARES = np.linspace(0, 1, 41)
ENDS = (0.004, 0.996)


def inks_of(seen: Measured, kind: Recognised) -> tuple[str, str, Floats]:
    """The darker and the lighter ink of some pixels, and how far each pixel lies on the way from one to the other, 0-1."""
    if kind.inks is not None:
        dark, light = kind.inks
    else:
        low, high = seen.quantiles(seen.lab[0], ENDS)
        dark, light = colour_at(kind.curve, float(low)), colour_at(kind.curve, float(high))
    steps = np.linspace(0, 1, 256)
    printed = inked(Duotone(dark=dark, light=light, method=kind.method), steps)
    places = np.empty(seen.rgb.shape[1])
    for first in range(0, len(places), 4096):
        part = seen.rgb[:, first : first + 4096]
        places[first : first + 4096] = steps[np.square(part[:, :, None] - printed[:, None]).sum(axis=0).argmin(axis=1)]
    return dark, light, places


def stops_of(seen: Measured, curve: Curve) -> list[dict[str, Any]]:
    """As few stops as hold a curve of colours, each where the tones of a usual picture meet it."""
    light = curve.lab[0]
    have, want = np.interp(SHARES, tones.SHARES, tones.USUAL / 100), seen.quantiles(seen.lab[0], SHARES)
    places = np.maximum.accumulate(np.clip(np.interp(light, np.maximum.accumulate(want + 1e-6 * SHARES), have), 0, 1))
    kept = _few(places, curve.lab)
    colours = rgb_from_oklab(curve.lab[:, kept])
    return [{"position": round(100 * float(places[n]), 1), "colour": hex_from_rgb(np.clip(colours[:, k], 0, 1))} for k, n in enumerate(kept)]


def _few(places: Floats, lab: Floats) -> list[int]:
    """The points of a curve between which straight lines hold it: the one furthest off is added until none is. Source: Douglas and Peucker (1973)."""
    kept = [0, len(places) - 1]
    while len(kept) < MOST:
        held = np.stack([np.interp(places, places[kept], plane[kept]) for plane in lab])
        off = np.sqrt(np.square(held - lab).sum(axis=0))
        worst = int(off.argmax())
        if off[worst] < HOLDS or worst in kept:
            break
        kept = sorted([*kept, worst])
    return kept
