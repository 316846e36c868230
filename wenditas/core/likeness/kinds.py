"""What kind of picture a reference is, by what is measured of it."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.oklab import rgb_from_oklab
from wenditas.core.kernel import Floats
from wenditas.core.likeness.measured import Measured
from wenditas.core.treat.duotone import Duotone, inked

Kind = Literal["two inks", "by lightness", "one colour", "grey", "night", "graded"]

GREY, COLOURED = 0.022, 0.055  # chroma of Oklab up to which a pixel is grey, and from which on it has a colour
LEFT, MOST_LEFT, NARROW = 0.003, 0.4, 22.0  # share of a picture that one colour is at least and at most; degrees by which its hue wavers
GREYS = 0.97  # share of grey pixels in a grey picture, beside the colour that is left
BINS, LEAST_IN_BIN = 40, 12
FOLLOWS, BY_CHROMA = 0.007, 0.1  # how far pixels of one lightness may be apart where colour follows from it, in Oklab; more, the more colour there is
MOST = 90  # percent of the pixels of which that is said
TINTED = 0.012  # mean chroma of that curve from which on it is a colour
INKS = 0.03  # how far pixels may lie from what two inks make, in R'G'B'
DARK, BLUE = 0.42, 255.0  # median lightness of a night at most; hue of its blue
NEAR_BLUE = 70.0


@dataclass(frozen=True)
class Curve:
    """Colour as it follows from lightness: `lab (3, n)`, from dark to light, and how far pixels are off it."""

    lab: Floats
    off: float

    @property
    def chroma(self) -> float:
        """Its mean."""
        return float(np.hypot(self.lab[1], self.lab[2]).mean())


@dataclass(frozen=True)
class Recognised:
    """A kind, and what it was known by. ends: the two inks, darkest and lightest, of what two inks print; method: how they are laid."""

    kind: Kind
    curve: Curve
    hue: float | None = None
    left: float = 0.0
    inks: tuple[str, str] | None = None
    method: Literal["ramp", "ink by ink"] = "ramp"


def curve_of(seen: Measured) -> Curve:
    """The mean colour at each lightness that there is enough of, and how far most pixels are off the line through their neighbours in lightness."""
    light = seen.lab[0]
    low, high = seen.quantiles(light, (0.004, 0.996))
    number = np.clip(((light - low) / max(high - low, 1e-6) * BINS).astype(int), 0, BINS - 1)
    means, off = list[Floats](), list[Floats]()
    for n in range(BINS):
        lab, weight = seen.lab[:, number == n], seen.weight[number == n]
        if lab.shape[1] < LEAST_IN_BIN:
            continue
        mean = lab @ weight / weight.sum()
        about = lab - mean[:, None]
        slope = (about[1:] * about[0] * weight).sum(axis=1) / max(float((weight * about[0] ** 2).sum()), 1e-12)
        off.append(np.hypot(*(about[1:] - slope[:, None] * about[0])))
        means.append(mean)
    if not means:
        return Curve(seen.lab.mean(axis=1, keepdims=True), 0.0)
    return Curve(np.stack(means, axis=1), float(np.percentile(np.concatenate(off), MOST)))


def recognised(seen: Measured) -> Recognised:
    """What kind of picture these pixels are of."""
    curve = curve_of(seen)
    coloured, grey = seen.chroma > COLOURED, seen.chroma < GREY
    left = seen.share(coloured)
    if curve.off < FOLLOWS + BY_CHROMA * curve.chroma and curve.chroma >= TINTED:
        inks = two_inks(seen)
        if inks is not None:
            return Recognised("two inks", curve, inks=inks[0], method=inks[1])
        return Recognised("by lightness", curve)
    if seen.share(grey) > GREYS - left and left < LEFT:
        return Recognised("grey", curve)
    if LEFT <= left <= MOST_LEFT and seen.share(grey) / max(1 - left, 1e-6) > 0.8:
        hue, wavers = _hue(seen.lab[1:, coloured])
        if wavers < NARROW:
            return Recognised("one colour", curve, hue=hue, left=left)
    if _is_night(seen):
        return Recognised("night", curve)
    return Recognised("graded", curve)


def _hue(ab: Floats) -> tuple[float, float]:
    """The mean hue of some colours, and by how much it wavers, both in degrees."""
    angle = np.arctan2(ab[1], ab[0])
    mean = np.angle(np.exp(1j * angle).mean())
    return float(np.degrees(mean) % 360), float(np.degrees(np.sqrt(np.square(np.angle(np.exp(1j * (angle - mean)))).mean())))


def _is_night(seen: Measured) -> bool:
    a, b = (float(seen.weight @ plane) for plane in seen.lab[1:])
    away = abs((float(np.degrees(np.arctan2(b, a))) - BLUE + 180) % 360 - 180)
    return float(np.median(seen.lab[0])) < DARK and np.hypot(a, b) > 0.012 and away < NEAR_BLUE


def two_inks(seen: Measured) -> tuple[tuple[str, str], Literal["ramp", "ink by ink"]] | None:
    """The two inks that all of it is printed in, and how; None where it is not."""
    low, high = seen.quantiles(seen.lab[0], (0.004, 0.996))
    ends = [np.median(seen.rgb[:, where], axis=1) for where in (seen.lab[0] <= low, seen.lab[0] >= high)]
    best: tuple[float, Literal["ramp", "ink by ink"]] | None = None
    inks = hex_from_rgb(ends[0]), hex_from_rgb(ends[1])
    steps = np.linspace(0, 1, 256)
    methods: tuple[Literal["ramp", "ink by ink"], ...] = ("ramp", "ink by ink")
    for method in methods:
        printed = inked(Duotone(dark=inks[0], light=inks[1], method=method), steps)
        apart = np.sqrt(np.square(seen.rgb[:, ::4, None] - printed[:, None]).sum(axis=0).min(axis=1))
        off = float((seen.weight[::4] * apart).sum() / seen.weight[::4].sum())
        if off < INKS and (best is None or off < best[0] - 0.002):
            best = off, method
    return None if best is None else (inks, best[1])


def colour_at(curve: Curve, light: float) -> str:
    """The colour of a curve at a lightness, as #rrggbb."""
    lab = np.array([np.interp(light, curve.lab[0], plane) for plane in curve.lab])
    return hex_from_rgb(np.clip(rgb_from_oklab(lab), 0, 1))
