"""A matte carried to the next frame: moved by flow, and drawn anew along its edge by the colours on both sides."""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte
from wenditas.core.select.ballot import Ask, Ballot
from wenditas.core.select.objects.colours import Box, Known, Palette, around, odds_between, signed
from wenditas.core.select.objects.seen import Seen, flow, grid, moved

BAND = 9  # pixels about the moved edge in which it is drawn anew
DOUBT = 1.5  # pixels by which there and back may differ
ROOM = 40
ROUNDS = 4
TOGETHER = 2.2  # how much a pixel goes with its neighbours
LOCAL, FOR_GOOD = 0.8, 0.35  # how much the colours seen around it count, and those of the stroked frame
SPREAD, SPREAD_IN_DOUBT = 3.5, 9.0  # pixels over which what was moved is believed
MOST_ODDS = 4.0
MOST_MOVED = 2.5  # odds of what was moved, at most
GAINED, LOST, GROWS = 1.0, -2.0, 30  # odds of pixels further off than the band that are looked at too, as far as so many pixels
POINTS = 400
SAMPLES = 12_000  # pixels of a box from which its classes of colour are made
LEAST_SEEN, LEAST_FOUND, MOST_FOUND = 0.02, 0.1, 1.6  # shares of the thing's area: below which it is lost, and between which it is found again
LIKE, MOVES = 1.0, 0.7  # odds of what has its colours; pixels a frame by which it moves against the rest
BESIDE = 8  # pixels from the greatest piece within which none has been left by it
STAYS = 0.6  # pixels a frame within which a piece moves as the rest does
LEAST_ISLAND = 0.03  # share of the thing, below which a piece of it is none
SOFT = 0.7


@dataclass(frozen=True)
class Step:
    """What one step gave. matte: `(h, w)`, 0-1. firm: share of the thing that moves as one; apart: how far its colours are told from its ground's, 0-1;
    alike: how like the moved matte is to the one drawn, 0-1; own: how much its colours are those of the stroked frame, 0-1."""

    matte: Matte
    firm: float
    apart: float
    alike: float
    own: float


def step(before: Seen, matte: Matte, here: Seen, known: Known) -> Step:
    """The matte of one frame carried to another, beside it in time. matte: of `before`, 0-1."""
    back, ahead = flow(here, before), flow(before, here)
    if (matte > 0.5).sum() < max(LEAST_SEEN * known.area, 1):
        matte = found(before, here, back, known)
        if not matte.any():
            return Step(matte, 0, 0, 0, 0)
        nowhere = np.zeros_like(ahead)
        return drawn(here, matte, nowhere, here, matte, np.zeros(matte.shape, bool), known, 0)
    doubt = np.hypot(*np.moveaxis(back + _at(ahead, back), 2, 0)) > DOUBT
    whole, firm = _as_one(matte, ahead)
    guess = moved(matte, back)
    if whole is not None:
        stiff = cv2.warpAffine(matte, whole, (matte.shape[1], matte.shape[0]), flags=cv2.INTER_LINEAR)
        guess = np.where(doubt, stiff, guess)
    made = drawn(before, matte, ahead, here, np.asarray(guess, np.float32), doubt, known, firm)
    return replace(made, matte=_moving_along(made.matte, back))


def _moving_along(matte: Matte, back: Floats) -> Matte:
    """Without the pieces that stay behind: they move as the rest of the frame does, not as the greatest piece, and that has left them.

    A limb may stand still for a moment, and be cut off by a line of the ground.
    """
    count, labels, stats, _ = cv2.connectedComponentsWithStats((matte > 0.5).astype(np.uint8), connectivity=8)
    if count < 3:
        return matte
    rest, main = np.median(back[::8, ::8].reshape(-1, 2), axis=0), 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
    beside = set(np.unique(labels[cv2.dilate((labels == main).astype(np.uint8), np.ones((2 * BESIDE + 1, 2 * BESIDE + 1), np.uint8)) > 0]).tolist())
    goes, out = np.median(back[labels == main], axis=0), matte.copy()
    for n in set(range(1, count)) - beside:
        own = np.median(back[labels == n], axis=0)
        if np.hypot(*(own - goes)) > 2 * STAYS and np.hypot(*(own - rest)) < STAYS:
            out[cv2.dilate((labels == n).astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool) & (labels != main)] = 0
    return out


def found(before: Seen, here: Seen, back: Floats, known: Known) -> Matte:
    """A thing that was out of sight, where it comes into view: the piece of a frame that has its colours and moves; nothing where there is none."""
    palette = Palette.of(here.planes[:, ::3, ::3].reshape(3, -1), here.noise.sigma)
    like = known.odds(palette)[palette.classes(here.planes)]
    most = np.median(back.reshape(-1, 2)[::97], axis=0)
    moves = np.hypot(*np.moveaxis(back - most, 2, 0)) > MOVES
    seeds = cv2.morphologyEx(((like > LIKE) & moves).astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(seeds, connectivity=8)
    if count < 2:
        return np.zeros(here.size, np.float32)
    areas = stats[1:, cv2.CC_STAT_AREA]
    at = 1 + int(np.argmax(np.where(areas < MOST_FOUND * known.area, areas, 0)))
    enough = LEAST_FOUND * known.area <= stats[at, cv2.CC_STAT_AREA] <= MOST_FOUND * known.area
    return (labels == at).astype(np.float32) if enough else np.zeros(here.size, np.float32)


def _at(way: Floats, places: Floats) -> Floats:
    return np.asarray(cv2.remap(way, grid(*way.shape[:2]) + places, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))


def _as_one(matte: Matte, ahead: Floats) -> tuple[Floats | None, float]:
    """The similarity by which most of the thing has moved, `(2, 3)`, and the share of it that has."""
    y, x = np.nonzero(matte > 0.6)
    if len(y) < 12:
        return None, 0.0
    every = max(1, len(y) // POINTS)
    points = np.stack([x[::every], y[::every]], axis=1).astype(np.float32)
    gone = points + ahead[y[::every], x[::every]]
    found, inliers = cv2.estimateAffinePartial2D(points, gone, ransacReprojThreshold=1.5, maxIters=300)
    return (None, 0.0) if found is None else (found, float(inliers.mean()))


def drawn(before: Seen, matte: Matte, ahead: Floats, here: Seen, guess: Matte, doubt: np.ndarray, known: Known, firm: float) -> Step:
    """The edge of a guess drawn anew. before, matte, ahead: a frame whose matte is known, and where its pixels have gone."""
    box = around(guess, ROOM)
    if box is None:
        return Step(np.zeros_like(matte), firm, 0, 0, 0)
    odds, own = _odds(before, matte, ahead, here, box, known)
    part, unsure = np.ascontiguousarray(guess[box]), doubt[box]
    far = signed(part)
    near = np.abs(far) < np.where(unsure, 2 * BAND, BAND)
    where = near | _grown(near, (odds > GAINED) & (far < 0) & (far > -GROWS)) | _grown(near, (odds < LOST) & (far > 0) & (far < GROWS))
    believed = odds + np.clip(far / np.where(unsure, SPREAD_IN_DOUBT, SPREAD), -MOST_MOVED, MOST_MOVED)
    settled = _settled(here, box, np.clip(believed, -2 * MOST_ODDS, 2 * MOST_ODDS), where, far)
    out = np.zeros_like(matte)
    out[box] = _whole(settled)
    return Step(out, firm, *_told(out[box], part, odds, where, own))


def _grown(near: np.ndarray, likely: np.ndarray) -> np.ndarray:
    """The likely pixels that hang together with those near the edge."""
    _, labels = cv2.connectedComponents((near | likely).astype(np.uint8), connectivity=4)
    kept = np.unique(labels[near])
    return np.asarray(np.isin(labels, kept[kept > 0]) & likely)


def _odds(before: Seen, matte: Matte, ahead: Floats, here: Seen, box: Box, known: Known) -> tuple[Floats, Floats]:
    """The odds of each pixel of a box, and those by what is known for good alone."""
    values = here.planes[:, box[0], box[1]]
    few = max(2, round((values[0].size / SAMPLES) ** 0.5))
    both = [each[:, ::few, ::few].reshape(3, -1) for each in (values, before.planes[:, box[0], box[1]])]
    palette = Palette.of(np.concatenate(both, axis=1), here.noise.sigma)
    for_good = known.odds(palette)
    sought = palette.classes(values)
    then, share = before.planes[:, box[0], box[1]], matte[box]
    places = np.moveaxis((grid(*before.size) + ahead)[box], 2, 0)[::-1] - np.array([box[0].start, box[1].start], np.float32).reshape(2, 1, 1)
    every = np.s_[::2, ::2]
    seen = palette.classes(np.ascontiguousarray(then[:, ::2, ::2])), share[every], places[:, ::2, ::2]
    local, own = odds_between(seen, sought, palette, for_good), for_good[sought]
    return np.asarray(LOCAL * np.clip(local, -MOST_ODDS, MOST_ODDS) + FOR_GOOD * np.clip(own, -MOST_ODDS, MOST_ODDS), np.float32), own


def _settled(here: Seen, box: Box, odds: Floats, where: np.ndarray, far: Floats) -> Matte:
    """Pixels agree with their likes beside them, round by round: a mean field over a bilateral neighbourhood (Krähenbühl and Koltun 2011)."""
    start = np.where(where, 1 / (1 + np.exp(-odds)), far > 0).astype(np.float32)
    if not where.any():
        return start
    ballot = Ballot(here.picture, (box[0].start, box[1].start), np.ascontiguousarray(where), Ask.of(here.noise, 0.75))
    own, voting = ballot.laid_out(np.where(where, odds, 0).astype(np.float32)), ballot.votes

    def weighed(flat: Floats) -> None:
        flat[voting] = 1 / (1 + np.exp(-(own[voting] + TOGETHER * (2 * flat[voting] - 1) * 2)))

    return np.ascontiguousarray(ballot.of(ballot.soften(ballot.rounds(start, ROUNDS, 1.0, weighed), SOFT)))


def _whole(matte: Matte) -> Matte:
    """Without specks beside the thing and in it."""
    out = matte.copy()
    for gone, value in ((out > 0.5, 0), (out <= 0.5, 1)):
        count, labels, stats, _ = cv2.connectedComponentsWithStats(gone.astype(np.uint8), connectivity=8)
        areas = stats[1:, cv2.CC_STAT_AREA]
        if count > 2:
            small = np.concatenate([[False], areas < LEAST_ISLAND * max(float((matte > 0.5).sum()), 1.0)])
            if value == 1:
                small &= np.concatenate([[False], areas < 30])
            out[small[labels]] = value
    return out


def _told(matte: Matte, guess: Matte, odds: Floats, where: np.ndarray, own: Floats) -> tuple[float, float, float]:
    inside, before = matte > 0.5, guess > 0.5
    both, either = (inside & before).sum(), (inside | before).sum()
    sure = np.where(inside, odds, -odds)[where]
    apart = float((sure > 0.5).mean()) if sure.size else 0.0
    like = float((own[inside] > 0).mean()) if inside.any() else 0.0
    return apart, float(both / max(either, 1)), like
