"""Fit to picks: the limits of a key by hue, from measurements around its picks and of the rest of the frame.

Around every pick and not-this pick the pixels that belong to the same thing are taken: connected to the pick and near it in
Oklab, as near as its own chroma allows, for where chroma is small all things lie near each other. They say how far the thing reaches in hue,
how weak its colour and how dark it is. Each limit is then laid where the frame has the fewest colours, between what the thing needs and what it
may still be, for a limit that lies in a gap cuts through nothing: the emptiest place of a smoothed histogram, as in the choice of thresholds
at the valley between two modes (Prewitt and Mendelsohn 1966). Softness is the user's own. The figures are our own, chosen on one half of
`bench/keys.py`'s clips and reported on the other.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.oklab import hue_distance, lch_from_lab, oklab_from_rgb
from wenditas.core.kernel import Floats, Picture, finite
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.keys.hue import HueKey, hue_key, hues, saturation
from wenditas.core.select.keys.noisy import chroma_error
from wenditas.core.select.picks import Pick

REACH = 0.09  # half the side of the neighbourhood, as a share of the frame's height
LIKE, LEAST_LIKE, MOST_LIKE = 0.5, 0.02, 0.07  # a neighbour is the same thing up to this share of the pick's chroma, within these ends, in Oklab's a-b plane
DARKER = 0.33  # and up to this difference in lightness
PART, LEAST_PART = 95, 10  # percentile of the thing's hues that is reached; of its saturation and lightness that counts as its least
STRAY = 0.55  # a thing is not weaker or darker than this share of its pick, whatever lies beside it
BRIGHTER = 1.35  # nor stronger or lighter than so many times it
WIDEST_THING, ROOM = 10.0, (1.0, 12.0)  # degrees that a thing reaches at most from its picks; where tolerance may lie beyond what it reaches
SATURATIONS, LIGHTNESSES = (0.85, 0.5, 0.6), (0.8, 0.45, 0.55)  # where limits may lie, as shares of the thing's least: near, far, and with no gap
STRONGEST, LIGHTEST = (1.15, 2.0, 1.6), (1.12, 1.8, 1.5)  # the same of its most saturation and lightness
MOST_PART = 95  # percentile of the thing's that counts as its most
EVEN_ROOM = 3.0  # degrees beyond the thing at which tolerance lies with no gap
PLACES, SAMPLES, SEED = 24, 200_000, 3  # limits that are tried, pixels of the frame that are looked at
EVEN, CENTRED, KEEP_OUT = 0.02, 2.0, 20.0  # how far a gap outweighs the usual place; how much refused pixels weigh
LET_IN = 2.0  # how much it weighs to let in as much again as there is of the thing
SOFTER = 0.08, 6.0  # edges of the gates: of saturation as a share of the thing's least, of lightness in percent of it
WEAKEST = 0.01  # chroma of what has no hue at all
ENOUGH = 0.75  # share of each group that must fall on its own side for colour to tell them apart
NOTHING = 0.05  # percent of the frame that is nothing
JUMP, LEAST_JUMP = 2.0, 5.0  # a fit that takes more than so many times the area, and so much more in percent of the frame, is asked about

FITTED = (
    "tolerance",
    "least_chroma",
    "gate_softness",
    "least_saturation",
    "most_saturation",
    "saturation_edge",
    "least_lightness",
    "most_lightness",
    "lightness_edge",
    "hue_offset",
)
Mask = npt.NDArray[np.bool_]


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
        found = f"Fitted: tolerance {key.tolerance:g}°, least saturation {key.least_saturation:g} %, least lightness {key.least_lightness:g} %."
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


@dataclass(frozen=True)
class _Colours:
    """Colours as a key by hue looks at them: degrees from the nearest pick, saturation, lightness; each `(n,)`."""

    apart: Floats
    saturation: Floats
    lightness: Floats

    @classmethod
    def of(cls, lch: Floats, centres: Sequence[float]) -> "_Colours":
        return cls(np.asarray(np.min([hue_distance(lch[2], c) for c in centres], axis=0)), saturation(lch[0], lch[1]), lch[0])

    def within(self, limits: "_Limits") -> Mask:
        of_colour = (self.apart < limits.tolerance) & (self.saturation > limits.weakest) & (self.saturation < limits.strongest)
        return np.asarray(of_colour & (self.lightness > limits.darkest) & (self.lightness < limits.lightest))


@dataclass(frozen=True)
class _Thing:
    """What was picked: how far it reaches in hue, its least and most saturation and lightness."""

    reach: float
    weakest: float
    strongest: float
    darkest: float
    lightest: float

    @classmethod
    def of(cls, groups: Sequence[_Colours], picks: _Colours) -> "_Thing":
        def least(values: Sequence[Floats], picked: Floats) -> float:
            each = (max(float(np.percentile(v, LEAST_PART)), STRAY * float(p)) for v, p in zip(values, picked, strict=True))
            return min(*each, float(picked.min()), 1.0)

        weakest = least([g.saturation for g in groups], picks.saturation)
        own = [g.apart[g.saturation >= 0.8 * weakest] for g in groups]
        reach = max((float(np.percentile(apart, PART)) for apart in own if apart.size), default=WIDEST_THING / 2)

        def most(values: Sequence[Floats], picked: Floats) -> float:
            each = (min(float(np.percentile(v, MOST_PART)), BRIGHTER * float(p)) for v, p in zip(values, picked, strict=True))
            return min(max(float(picked.max()), *each), 1.0)

        lights = [g.lightness for g in groups]
        strongest = most([g.saturation for g in groups], picks.saturation)
        return cls(min(reach, WIDEST_THING), weakest, strongest, least(lights, picks.lightness), most(lights, picks.lightness))


@dataclass(frozen=True)
class _Limits:
    """What a key lets in. tolerance: degrees; saturation and lightness, 0-1."""

    tolerance: float
    weakest: float
    strongest: float
    darkest: float
    lightest: float


@dataclass(frozen=True)
class _Room:
    """Where a limit may lie: from nearest to the thing to furthest from it, and where it lies with no gap. own: where the thing ends."""

    own: float
    near: float
    far: float
    usual: float

    def gap(self, values: Floats, refused: Floats, width: float) -> float:
        """The limit near which the fewest values lie, and which lets little in that is not the thing. refused: values that are to lie beyond it."""
        limits = np.linspace(self.near, self.far, PLACES)
        reach, sign = max(abs(self.far - self.near), 1e-6), 1 if self.far > self.near else -1
        width = max(width, reach / PLACES)
        low, high = sorted((self.near - sign * 4 * width, self.far + sign * 4 * width))
        counts, edges = np.histogram(values, 512, (low, high))
        middles = (edges[1:] + edges[:-1]) / 2
        density = np.exp(-(((middles[None] - limits[:, None]) / width) ** 2) / 2) @ counts
        own = max(int((sign * (values - self.own) <= 0).sum()), 1)
        let_in = np.array([((sign * (values - self.own) > 0) & (sign * (values - limit) <= 0)).sum() for limit in limits]) / own
        cost = (density + EVEN * max(len(values), 1) * width / reach) * (1 + CENTRED * ((limits - self.usual) / reach) ** 2) * (1 + LET_IN * let_in)
        if refused.size:
            cost = cost * (1 + KEEP_OUT * (sign * (limits[:, None] - refused[None]) > 0).mean(axis=1))
        return float(limits[np.argmin(cost)])


def fit_to_picks(key: HueKey, picture_at: Callable[[int], Picture], noise: Noise = NO_NOISE) -> Fit:
    """Fit a key by hue to its picks. Needs at least one.

    picture_at: the picture that is keyed at a frame. noise: of that picture; limits are laid no finer than it.
    """
    pictures = {frame: finite(picture_at(frame)) for frame in {p.frame for p in (*key.picks, *key.refused)}}
    picked = [same_thing(pictures[p.frame], p) for p in key.picks]
    refused = [same_thing(pictures[p.frame], p) for p in key.refused]
    centres = hues(key.picks, 0)
    at_picks = lch_from_lab(np.stack([oklab_from_rgb(np.clip(p.colour, 0, 1.25)) for p in key.picks], axis=1))
    thing = _Thing.of([_Colours.of(lch, centres) for _, lch in picked], _Colours.of(at_picks, centres))
    not_this = [_Colours.of(lch, centres) for _, lch in refused]
    frame = _Colours.of(_sampled([pictures[p.frame] for p in key.picks]), centres)
    wavers = float(np.median([chroma_error(p, noise.sigma) for p in key.picks]))
    degrees = min(float(np.degrees(wavers / max(float(np.median(at_picks[1])), WEAKEST))), WIDEST_THING)
    limits = _limits(thing, frame, not_this, degrees, wavers)
    softness = (SOFTER[0] * 100 * thing.weakest, SOFTER[1] * thing.darkest)
    fitted = key.model_copy(
        update={
            "tolerance": round(float(np.clip(limits.tolerance - key.softness / 2, 0.5, 90)), 1),
            "least_chroma": 0.0,
            "gate_softness": WEAKEST,
            "least_saturation": round(float(np.clip(100 * limits.weakest - softness[0] / 2, 0.1, 100)), 1),
            "most_saturation": round(float(np.clip(100 * limits.strongest + softness[0] / 2, 1, 100)), 1),
            "saturation_edge": round(float(np.clip(max(softness[0], 100 * wavers / max(thing.darkest, 0.05)), 0.1, 50)), 1),
            "least_lightness": round(float(np.clip(100 * limits.darkest - softness[1] / 2, 0.1, 100)), 1),
            "most_lightness": round(float(np.clip(100 * limits.lightest + softness[1] / 2, 1, 100)), 1),
            "lightness_edge": round(float(np.clip(softness[1], 0.1, 50)), 1),
            "hue_offset": 0.0,
        }
    )
    return Fit(fitted, _selected(picked, fitted), 1 - _selected(refused, fitted))


def _sampled(pictures: Sequence[Picture]) -> Floats:
    """Lightness, chroma, hue of some pixels of pictures: `(3, n)`."""
    each = max(1, SAMPLES // len(pictures))
    dice = np.random.default_rng(SEED)
    flat = [picture.reshape(3, -1) for picture in pictures]
    some = [p if p.shape[1] <= each else p[:, dice.choice(p.shape[1], each, replace=False)] for p in flat]
    return lch_from_lab(oklab_from_rgb(np.clip(np.concatenate(some, axis=1), 0, 1.25)))


def _limits(thing: _Thing, frame: _Colours, refused: Sequence[_Colours], degrees: float, wavers: float) -> _Limits:
    """Each limit in a gap of what the others leave in, twice round."""

    def room(own: float, near: float, far: float, usual: float) -> _Room:
        return _Room(own, own * near, own * far, own * usual)

    def refused_by(values: Callable[[_Colours], Floats]) -> Floats:
        return np.concatenate([np.zeros(0), *(values(r) for r in refused if np.median(r.apart) <= thing.reach + ROOM[1])])

    apart, strengths, lights = (refused_by(v) for v in (lambda c: c.apart, lambda c: c.saturation, lambda c: c.lightness))
    hue = _Room(thing.reach, thing.reach + ROOM[0], thing.reach + ROOM[1] + degrees, thing.reach + EVEN_ROOM + degrees)
    weak, strong = room(thing.weakest, *SATURATIONS), room(thing.strongest, *STRONGEST)
    dark, light = room(thing.darkest, *LIGHTNESSES), room(thing.lightest, *LIGHTEST)
    wide, middle, half = max(0.01, wavers / max(thing.darkest, 0.05)), (thing.weakest + thing.strongest) / 2, (thing.darkest + thing.lightest) / 2
    found = _Limits(hue.usual, weak.usual, strong.usual, dark.usual, light.usual)
    for _ in range(2):
        found = replace(found, tolerance=hue.gap(frame.apart[frame.within(replace(found, tolerance=1e9))], apart, max(1.0, degrees)))
        found = replace(found, weakest=weak.gap(frame.saturation[frame.within(replace(found, weakest=0))], strengths[strengths < middle], wide))
        found = replace(found, strongest=strong.gap(frame.saturation[frame.within(replace(found, strongest=1e9))], strengths[strengths >= middle], wide))
        found = replace(found, darkest=dark.gap(frame.lightness[frame.within(replace(found, darkest=0))], lights[lights < half], 0.02))
        found = replace(found, lightest=light.gap(frame.lightness[frame.within(replace(found, lightest=1e9))], lights[lights >= half], 0.02))
    return found


def _selected(groups: Sequence[tuple[Picture, Floats]], key: HueKey) -> float:
    """The share of the pixels of some groups that a key selects; each group counts the same."""
    if not groups:
        return 0.0
    return float(np.mean([(hue_key(colours[:, None], key) > 0.5).mean() for colours, _ in groups]))
