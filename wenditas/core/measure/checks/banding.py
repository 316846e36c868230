"""Banding: steps that can be seen in what was an even ramp."""

import cv2
import numpy as np

from wenditas.core.kernel import Matte, Picture
from wenditas.core.measure.checks.fixing import add_pass
from wenditas.core.measure.checks.pictures import luma, smooth
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen

FLAT, RUN = 0.35, 6  # code values that neighbours of a flat differ by at most; pixels of a 1080-line picture that a flat is long
LEAST_STEP, MOST_STEP = (
    2.2,
    9.0,
)  # code values: a smaller step is not seen as such, and compression has it in any even surface; a larger one is meant (posterized, an edge)
RATIO = 1.3  # how much larger than in the source the step has to be
CALM = 6.0  # code values that the source changes within its surroundings, at most


def _steps(codes: Matte, run: int) -> Matte:
    """Heights of steps between two flats, at the pixel before them, across; 0 where there is none."""
    apart = np.diff(codes, axis=1, append=codes[:, -1:])
    flat = (np.abs(apart) < FLAT).astype(np.uint8)
    kernel = np.ones((1, run), np.uint8)
    left = cv2.erode(flat, kernel, anchor=(run - 1, 0), borderValue=0)  # flat for so long up to here
    right = cv2.erode(flat, kernel, anchor=(0, 0), borderValue=0)  # and from here on
    before = np.roll(left, 1, axis=1)
    before[:, 0] = 0
    after = np.roll(right, -1, axis=1)
    after[:, -1] = 0
    return np.asarray(np.abs(apart) * (before & after), np.float32)


def bands(source: Picture, result: Picture) -> Matte:
    """Where steps between flats are in the result that the source has not, or less high. Pictures at their own size."""
    run = max(4, round(RUN * result.shape[1] / 1080))
    before, now = luma(source) * 255, luma(result) * 255
    calm = np.abs(before - smooth(before, 8)) < CALM
    found = np.zeros(now.shape, bool)
    for turned in (False, True):
        a, b = (before.T.copy(), now.T.copy()) if turned else (before, now)
        ours, theirs = _steps(b, run), np.abs(np.diff(a, axis=1, append=a[:, -1:]))
        theirs = cv2.dilate(theirs, np.ones((1, 3), np.uint8))
        seen = (ours >= LEAST_STEP) & (ours <= MOST_STEP) & (ours > RATIO * theirs)
        found |= seen.T if turned else seen
    return np.asarray(cv2.dilate((found & calm).astype(np.uint8), np.ones((3, 3), np.uint8)), np.float32)


def measure(seen: Seen) -> list[Mark]:
    """The share of the frame that is bands."""
    where = bands(seen.source, seen.result)
    share = float(where.mean() * 100)
    if share <= CHECK.threshold:
        return []
    step = add_pass(seen.look, "deband", "Deband", "deband")
    words = f"Bands show on {share:.1f} % of the frame, where the footage has none."
    return [Mark(CHECK.id, seen.frame, share, words, where, fix=Fix("Smooth the bands, with a little dither", (step,)))]


CHECK = Check(
    id="banding",
    name="Banding",
    measures="long flat steps in smooth areas that the footage does not have",
    unit="% of the frame",
    threshold=0.3,
    source="common practice; that a step of a code value and a half in a smooth ramp is seen, by trial",
    fixes="a deband pass with dither at the end",
    own_size=True,
    measure=measure,
)
