"""White balance, tone zones and saturation by least squares: parameters of real passes, tried through what renders them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.colour.ycbcr import rgb_from_differences
from wenditas.core.kernel import Floats, as_picture
from wenditas.core.likeness.measured import Measured
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look

BANDS = np.array([0.04, 0.18, 0.4, 0.6, 0.82, 0.96])  # shares of the tones around which colours are compared
WIDE = 0.16
TRIED = 4096  # pixels
ROUNDS, STEP = 6, 0.25
MIRED = 1e6 / 6500
SPREADS = 0.6  # how much the spread of colours counts beside their mean
HELD = np.array([0.02, 0.02, *[0.012] * 6, *[0.03] * 3])  # what it costs to move a parameter by one of its steps
SCALES = np.array([30.0, 20.0, *[0.06] * 6, *[35.0] * 3])  # steps: mired, tint, differences of blue and red of three zones, percent of saturation of three
DOUBT_AB, DOUBT_SPREAD = 0.014, 0.014  # of Oklab, by which means and spreads of pictures differ anyway
# Of a usual picture, band by band: a little warm.
USUAL = np.tile([0.004, 0.018, SPREADS * 0.06], len(BANDS))
LEAN = 0.35  # how far the colour of a zone is from grey as it is written; the rest is its amount


@dataclass(frozen=True)
class Colours:
    """A white balance, and three zones' tints (differences of blue and of red) and saturations in percent."""

    temperature: float
    tint: float
    leans: tuple[tuple[float, float], ...]
    saturations: tuple[float, ...]

    @classmethod
    def of(cls, values: Floats) -> "Colours":
        """From steps."""
        v = values * SCALES
        leans = tuple((float(v[2 + 2 * n]), float(v[3 + 2 * n])) for n in range(3))
        temperature = 1e6 / float(np.clip(MIRED + v[0], 1e6 / 15000, 1e6 / 2500))
        return cls(round(temperature / 50) * 50, round(float(np.clip(v[1], -100, 100))), leans, tuple(float(np.clip(100 + s, 0, 200)) for s in v[8:]))

    def passes(self, balanced: bool = True, zoned: bool = True) -> list[dict[str, Any]]:
        """As passes, without those that do nothing."""
        out: list[dict[str, Any]] = []
        if balanced and (abs(self.temperature - 6500) >= 100 or abs(self.tint) >= 2):
            out.append({"treatment": "white-balance", "params": {"temperature": self.temperature, "tint": self.tint}})
        params: dict[str, Any] = {}
        for zone, (blue, red), saturation in zip(("shadows", "midtones", "highlights"), self.leans, self.saturations, strict=True):
            length = float(np.hypot(blue, red))
            if length > 0.004:
                share = max(LEAN, length)
                lean = np.asarray(rgb_from_differences([np.array(0.5), np.array(blue / length * share), np.array(red / length * share)]))
                params |= {zone: hex_from_rgb(np.clip(lean, 0, 1)), f"{zone}_tint": round(100 * length / share, 1)}
            if abs(saturation - 100) >= 2:
                params[f"{zone}_saturation"] = round(saturation)
        return [*out, {"treatment": "tone-zones", "params": params}] if zoned and params else out


def fitted(shot: Measured, reference: Measured, before: Sequence[dict[str, Any]], trust: float, free: Sequence[int] = range(11)) -> Colours:
    """The colours that bring a shot's pixels, after some passes, to those of a reference.

    trust: 0-1; the less, the more it costs to move. free: which parameters may move. Source: Gauss and Newton's least squares with Levenberg's damping,
    slopes by finite differences; compared are mean and spread of a and b of Oklab within bands of equal shares of the tones.
    """
    rng = np.random.default_rng(7)
    some = rng.choice(shot.rgb.shape[1], min(TRIED, shot.rgb.shape[1]), replace=False)
    picture, weight = as_picture(shot.rgb[:, some].reshape(3, 1, -1)), shot.weight[some]
    aim = _told(reference.lab, reference.weight)
    if trust < 1:
        plain = oklab_from_rgb(np.clip(apply_look(as_look(list(before)), picture), 0, 1.25)).reshape(3, -1)
        aim = _told(plain, weight) + _beyond(aim - USUAL, np.tile([DOUBT_AB, DOUBT_AB, DOUBT_SPREAD], len(BANDS)))
    free = list(free)

    def off(values: Floats) -> Floats:
        lab = oklab_from_rgb(np.clip(apply_look(as_look([*before, *Colours.of(values).passes()]), picture), 0, 1.25)).reshape(3, -1)
        return np.concatenate([_told(lab, weight) - aim, values * HELD / max(trust, 0.05)])

    at, damp = np.zeros(len(HELD)), 0.05
    here = off(at)
    for _ in range(ROUNDS):
        slopes = np.zeros((len(here), len(free)))
        for k, n in enumerate(free):
            step = at.copy()
            step[n] += STEP
            slopes[:, k] = (off(step) - here) / STEP
        for _try in range(4):
            move = np.linalg.solve(slopes.T @ slopes + damp * np.diag(np.diag(slopes.T @ slopes) + 1e-9), -slopes.T @ here)
            then = at.copy()
            then[free] = np.clip(at[free] + move, -3, 3)
            there = off(then)
            if there @ there < here @ here:
                damp *= 0.3
                break
            damp *= 4
        else:
            break
        gain = here @ here - there @ there
        at, here = then, there
        if gain < 1e-3 * (here @ here):
            break
    return Colours.of(at)


def _beyond(values: Floats, doubt: Floats) -> Floats:
    """What of some differences goes beyond what pictures differ by anyway."""
    return np.sign(values) * np.maximum(np.abs(values) - doubt, 0)


def _told(lab: Floats, weight: Floats) -> Floats:
    """Mean a and b, and the root of their mean square around that, of bands of the tones."""
    order = np.argsort(lab[0])
    rank = np.empty(len(order))
    rank[order] = np.cumsum(weight[order])
    out = []
    for middle in BANDS:
        near = weight * np.maximum(0, 1 - np.abs(rank / weight.sum() - middle) / WIDE)
        near = near / max(near.sum(), 1e-12)
        means = lab[1:] @ near
        spread = np.sqrt(np.square(lab[1:] - means[:, None]).sum(axis=0) @ near)
        out += [*means, SPREADS * spread]
    return np.array(out)


def as_look(passes: Sequence[dict[str, Any]], selections: Sequence[dict[str, Any]] = (), bundles: Sequence[dict[str, Any]] = ()) -> Look:
    """A look of passes that name their treatment and parameters."""
    named = [{"id": f"p{n}", "name": item["treatment"].replace("-", " ").capitalize(), **item} for n, item in enumerate(passes)]
    return parse_look({"selections": list(selections), "passes": named, "bundles": list(bundles)})
