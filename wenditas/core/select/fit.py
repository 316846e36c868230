"""Fit to picks: tolerance and least chroma of a key by hue, from measurements around its picks.

Around every pick and not-this pick the pixels that belong to the same thing are taken: connected to the pick and near it in
Oklab, as near as its own chroma allows, for where chroma is small all things lie near each other. Tolerance reaches as far as
the picked things do; least chroma lies below the greyest of what was picked, and above what was refused for being greyer.
Softness is the user's own. Source: our own; percentiles by definition, held to the demo's true mattes by `bench/keys.py`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb
from wenditas.core.kernel import Floats, Picture
from wenditas.core.select.keys.hue import HueKey, hue_key, hues
from wenditas.core.select.picks import Pick

REACH = 0.09  # half the side of the neighbourhood, as a share of the frame's height
LIKE, LEAST_LIKE, MOST_LIKE = 0.5, 0.02, 0.07  # a neighbour is the same thing up to this share of the pick's chroma, within these ends, in Oklab's a-b plane
DARKER = 0.33  # and up to this difference in lightness
PART, MARGIN, WIDEST = 97, 1.0, 45.0  # percentile of the picked hues that tolerance covers, degrees on top, and its most
FLOOR = 3  # percentile of the picked chroma that counts as the least
GATE = 0.5  # where the gate begins, and how wide it is, as a share of that
ENOUGH = 0.75  # share of each group that must fall on its own side for colour to tell them apart
NOTHING = 0.05  # percent of the frame that is nothing
JUMP, LEAST_JUMP = 2.0, 5.0  # a fit that takes more than so many times the area, and so much more in percent of the frame, is asked about


@dataclass(frozen=True)
class Fit:
    """The fitted key, and what was found. inside: share of the picked pixels that it selects; outside: share of the refused ones that it does not."""

    key: HueKey
    inside: float
    outside: float

    @property
    def apart(self) -> bool:
        """Whether colour alone tells what was picked from what was refused."""
        return min(self.inside, self.outside) >= ENOUGH

    @property
    def words(self) -> str:
        """What was set, and how well the two groups are told apart."""
        key = self.key
        found = f"Fitted: tolerance {key.tolerance:g}°, least chroma {key.least_chroma:g}."
        if not key.refused:
            return found
        shares = f"{100 * self.inside:.0f} % of what was picked is in, {100 * self.outside:.0f} % of what was refused is out."
        return f"{found} {shares}" if self.apart else f"{found} Colour tells them apart only in part: {shares} Draw a shape around one of them."


def startles(before: float, after: float) -> bool:
    """Whether a coverage in percent grows so much, or to nothing, that it is asked about first."""
    return (after > before * JUMP and after - before > LEAST_JUMP) or (after < NOTHING <= before)


def same_thing(picture: Picture, pick: Pick) -> tuple[Picture, Floats]:
    """The pixels around a pick that belong to what was picked: R'G'B' `(3, n)`, and lightness, chroma, hue `(3, n)`."""
    _, height, width = picture.shape
    reach = max(4, int(REACH * height))
    column, row = min(int(pick.x * width), width - 1), min(int(pick.y * height), height - 1)
    left, top = max(0, column - reach), max(0, row - reach)
    part = picture[:, top : row + reach + 1, left : column + reach + 1]
    lab = oklab_from_rgb(np.clip(part, 0, 1.25))
    target = oklab_from_rgb(pick.colour).reshape(3, 1, 1)
    limit = np.clip(LIKE * np.hypot(target[1], target[2]), LEAST_LIKE, MOST_LIKE)
    near = ((np.hypot(*(lab - target)[1:]) < limit) & (np.abs(lab[0] - target[0]) < DARKER)).astype(np.uint8)
    near[row - top, column - left] = 1
    _, labels = cv2.connectedComponents(near, connectivity=4)
    belongs = labels == labels[row - top, column - left]
    return part[:, belongs], lch_from_lab(lab[:, belongs])


def fit_to_picks(key: HueKey, picture_at: Callable[[int], Picture]) -> Fit:
    """Fit a key by hue to its picks. `picture_at` gives the picture that is keyed at a frame. Needs at least one pick."""
    picked = [same_thing(picture_at(p.frame), p) for p in key.picks]
    refused = [same_thing(picture_at(p.frame), p) for p in key.refused]
    centres = hues(key.picks, 0)
    floor = min(float(np.percentile(lch[1], FLOOR)) for _, lch in picked)
    reach = max(float(np.percentile(_nearest(lch[2], centres), PART)) for _, lch in picked)
    least, gate = GATE * floor, GATE * floor
    alike = [lch for _, lch in refused if np.median(_nearest(lch[2], centres)) <= reach + key.softness]
    greyer = [float(np.percentile(lch[1], 100 - FLOOR)) for lch in alike if np.median(lch[1]) < floor]
    if greyer and max(greyer) > least:  # what was refused is of the same kind but greyer: the gate stands between
        least = min(max(greyer), floor)
        gate = max(floor - least, 0.25 * floor)
    fitted = key.model_copy(
        update={
            "tolerance": round(min(reach + MARGIN, WIDEST), 1),
            "least_chroma": round(float(np.clip(least, 0.005, 0.3)), 3),
            "gate_softness": round(float(np.clip(gate, 0.005, 0.2)), 3),
            "hue_offset": 0.0,
        }
    )
    return Fit(fitted, _selected(picked, fitted), 1 - _selected(refused, fitted))


def _selected(groups: Sequence[tuple[Picture, Floats]], key: HueKey) -> float:
    """The share of the pixels of some groups that a key selects; each group counts the same."""
    if not groups:
        return 0.0
    return float(np.mean([(hue_key(colours[:, None], key) > 0.5).mean() for colours, _ in groups]))


def _nearest(hue: Floats, centres: list[float]) -> Floats:
    return np.asarray(np.min([hue_distance(hue, c) for c in centres], axis=0))
