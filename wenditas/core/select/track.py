"""Tracking: a shape follows what is under it.

Corners inside the shape are followed by pyramidal Lucas-Kanade (Bouguet 2001), checked
forward and backward, and a similarity is fitted by RANSAC from the corners' places at the
start, so that errors do not add up while the corners live. Pictures are flattened to equal
local brightness and contrast first, for light and shade are not motion.
"""

from dataclasses import dataclass

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats
from wenditas.core.select.similarity import Similarity

MOST_CORNERS, LEAST_CORNERS = 160, 6
INNER, QUALITY, APART = 0.8, 0.03, 4.0
LEAST_INSIDE = 0.3  # share of the shape that must be in the frame
LOST = 0.25  # confidence below which the object counts as lost
REACH = 0.45  # how far around the shape to look, as a share of its size
PATCH, UNLIKE, DOUBT = 48, 0.25, 0.4  # side of the patch that is compared; correlation below which a frame is doubtful, and how sure it then is at most
WINDOW, LEVELS, ROUND_TRIP, AGREE = 15, 3, 1.0, 1.5  # pixels of the picture that is tracked on


Grey = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class Step:
    """Where the shape is at a frame, relative to where tracking began, and how sure that is (0-1)."""

    move: Similarity
    confidence: float


def flatten(grey: Grey) -> Grey:
    """An 8-bit picture with its local mean and contrast made even: `(h, w)` to the same."""
    values = cv2.GaussianBlur(grey.astype(np.float32), (0, 0), 1.0)
    sigma = max(6.0, min(values.shape) / 24)
    mean = cv2.blur(values, (int(sigma) * 2 + 1,) * 2)
    spread = np.sqrt(np.maximum(cv2.blur(values * values, (int(sigma) * 2 + 1,) * 2) - mean * mean, 0))
    return np.asarray(np.clip(128 + 44 * (values - mean) / (spread + 25), 0, 255), np.uint8)


def _corners(part: Grey, outline: Floats) -> Floats:
    """Good corners (Shi & Tomasi 1994) within an outline, `(n, 2)`."""
    mask = np.zeros(part.shape, np.uint8)
    cv2.fillPoly(mask, [np.rint(outline).astype(np.int32)], 255)
    spacing = max(3.0, np.sqrt(mask.sum() / 255 / MOST_CORNERS) * 0.6)
    found = cv2.goodFeaturesToTrack(part, MOST_CORNERS, QUALITY, spacing, mask=mask, blockSize=5)
    return np.empty((0, 2)) if found is None else found.reshape(-1, 2).astype(np.float64)


def _flow(first: Grey, second: Grey, points: Floats, guess: Floats) -> tuple[Floats, Floats]:
    """Pyramidal Lucas-Kanade: where the points `(n, 1, 2)` of the first picture are in the second, and which were found."""
    window = (WINDOW, WINDOW)
    there, ok, _ = cv2.calcOpticalFlowPyrLK(first, second, points, guess.copy(), winSize=window, maxLevel=LEVELS, flags=cv2.OPTFLOW_USE_INITIAL_FLOW)  # type: ignore[call-overload]
    return there, ok


class Tracker:
    """Follows one outline through grey pictures `(h, w)`, 8 bit; outlines are in pixels of these pictures."""

    def __init__(self, grey: Grey, outline: Floats) -> None:
        self._outline = outline
        self._move = Similarity()
        self._previous = grey
        self._home: Floats = np.empty((0, 2))  # places of the corners when the shape was where it began
        self._now: Floats = np.empty((0, 2))
        self._plenty = 0
        self._began = self._patch(grey, Similarity())
        self._seed(grey)

    @property
    def usable(self) -> bool:
        """Whether there is enough texture under the shape to follow."""
        return len(self._now) >= LEAST_CORNERS

    def _box(self, shape: tuple[int, ...], margin: float) -> tuple[int, int, int, int]:
        points = self._move(self._outline)
        low, high = points.min(axis=0), points.max(axis=0)
        room = margin * max(*(high - low), 24)
        left, top = np.clip(np.floor(low - room), 0, None).astype(int)
        right, bottom = np.minimum(np.ceil(high + room), (shape[1], shape[0])).astype(int)
        return int(left), int(top), int(right), int(bottom)

    def _inside(self, shape: tuple[int, ...]) -> float:
        """Share of the shape's box that lies within the frame."""
        points = self._move(self._outline)
        low, high = points.min(axis=0), points.max(axis=0)
        seen = np.clip(np.minimum(high, (shape[1], shape[0])) - np.maximum(low, 0), 0, None)
        return float(seen.prod() / max((high - low).prod(), 1e-6))

    def _seed(self, grey: Grey) -> None:
        left, top, right, bottom = self._box(grey.shape, 0.05)
        if right - left < 8 or bottom - top < 8:
            return
        part = flatten(grey[top:bottom, left:right])
        outline = self._move(self._outline) - (left, top)
        for share in (INNER, 1.0):  # a rough shape holds some background near its edge: keep away from it if possible
            corners = _corners(part, outline.mean(axis=0) + share * (outline - outline.mean(axis=0)))
            if len(corners) >= 2 * LEAST_CORNERS:
                break
        fresh = corners + (left, top)
        if len(self._now):  # those that are still followed stay: they tie the track to where it began
            apart = np.linalg.norm(fresh[:, None] - self._now[None], axis=2).min(axis=1) > APART
            fresh = fresh[apart]
        self._home = np.concatenate([self._home, self._move.inverse()(fresh)])
        self._now = np.concatenate([self._now, fresh])
        self._plenty = len(self._now)

    def _likeness(self, grey: Grey, move: Similarity) -> float:
        """How like what is under the shape is to what was there where tracking began: normalised cross-correlation, -1 to 1."""
        now = self._patch(grey, move)
        one, other = self._began - self._began.mean(), now - now.mean()
        size = float(np.sqrt((one**2).sum() * (other**2).sum()))
        return float((one * other).sum()) / size if size > 1e-6 else 1.0

    def _patch(self, grey: Grey, move: Similarity) -> Floats:
        """What is under the shape's box, brought back to where it began and to one size, its light made even."""
        low, high = self._outline.min(axis=0), self._outline.max(axis=0)
        per = (high - low) / PATCH
        into = np.array([[per[0], 0, low[0]], [0, per[1], low[1]]])
        m = np.array([[move.m.real, -move.m.imag, move.t.real], [move.m.imag, move.m.real, move.t.imag]])
        matrix = m[:, :2] @ into + np.column_stack([np.zeros((2, 2)), m[:, 2]])
        patch = cv2.warpAffine(grey, matrix, (PATCH, PATCH), flags=cv2.INTER_AREA | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE)
        return flatten(patch).astype(np.float32)

    def step(self, grey: Grey) -> Step:
        """Follow into the next picture. A confidence below `LOST` means that the object is lost there.

        One that is followed but looks unlike where it began is doubtful: what is followed may have become the background.
        """
        if not self.usable or self._inside(grey.shape) < LEAST_INSIDE:
            return Step(self._move, 0.0)
        left, top, right, bottom = self._box(grey.shape, REACH)
        before, after = (flatten(g[top:bottom, left:right]) for g in (self._previous, grey))
        corner = np.array([left, top], np.float64)
        found = self._follow(before, after, corner, None)
        if found is None or self._confidence(found[1]) < LOST:  # too far for the pyramid: look where it has gone first
            found = self._follow(before, after, corner, self._jump(before, after, corner)) or found
        self._previous = grey
        if found is None:
            return Step(self._move, 0.0)
        move, keep, there = found
        confidence = self._confidence(keep)
        if confidence >= LOST:
            self._move = move
            self._now, self._home = there[keep], self._home[keep]
            if len(self._now) < max(LEAST_CORNERS * 2, self._plenty * 0.5):
                self._seed(grey)
        if confidence >= LOST and self._likeness(grey, move) < UNLIKE:
            confidence = min(confidence, DOUBT)
        return Step(move, float(confidence))

    def _confidence(self, keep: Floats) -> float:
        return min(1.0, float(keep.sum()) / max(self._plenty, 1) * 1.25)

    def _jump(self, before: Grey, after: Grey, corner: Floats) -> Floats:
        """How far the object has jumped, by normalised cross-correlation of its box with the surroundings."""
        low, high = (self._now - corner).min(axis=0), (self._now - corner).max(axis=0)
        left, top = np.clip(low, 0, None).astype(int)
        right, bottom = np.ceil(high).astype(int) + 1
        score = cv2.matchTemplate(after, before[top:bottom, left:right], cv2.TM_CCOEFF_NORMED)
        _, _, _, (x, y) = cv2.minMaxLoc(score)
        return np.array([x - left, y - top], np.float32)

    def _follow(self, before: Grey, after: Grey, corner: Floats, jump: Floats | None) -> tuple[Similarity, Floats, Floats] | None:
        start = (self._now - corner).astype(np.float32).reshape(-1, 1, 2)
        there, ok = _flow(before, after, start, start if jump is None else start + jump)
        back, ok_back = _flow(after, before, there, there if jump is None else there - jump)
        trip = np.linalg.norm((back - start).reshape(-1, 2), axis=1)
        good = (ok.ravel() > 0) & (ok_back.ravel() > 0) & (trip < ROUND_TRIP)
        if good.sum() < LEAST_CORNERS:
            return None
        points = there.reshape(-1, 2).astype(np.float64) + corner
        matrix, inliers = cv2.estimateAffinePartial2D(
            self._home[good], points[good], method=cv2.RANSAC, ransacReprojThreshold=AGREE, maxIters=500, confidence=0.99
        )
        if matrix is None or inliers.sum() < LEAST_CORNERS:
            return None
        keep = np.zeros(len(good), bool)
        keep[np.flatnonzero(good)[inliers.ravel() > 0]] = True
        move = Similarity(complex(matrix[0, 0], matrix[1, 0]), complex(matrix[0, 2], matrix[1, 2]))
        return (move, keep, points) if 0.5 < abs(move.m / self._move.m) < 2 else None
