"""Flashes: more than three in a second, over a large enough part of the picture.

Source: WCAG 2.2, 2.3.1. A general flash is a pair of opposing changes in relative luminance of 10 % or more of the maximum, the darker below
0.80; a red flash is a pair of opposing transitions involving a saturated red (R / (R + G + B) >= 0.8, of linear values, and a change of
(R - G - B) x 320, not below 0, of more than 20). They count where they cover, at the same time, more than a quarter of any rectangle of
341 x 256 pixels of a picture of 1024 x 768.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.kernel import Matte, Picture
from wenditas.core.measure.checks.record import Check, Mark

COLUMNS, ROWS = 64, 48  # the grid that pictures are looked at on
BOX = round(COLUMNS * 341 / 1024), round(ROWS * 256 / 768)
SHARE = 0.25  # of the box
CHANGE, DARK = 0.10, 0.80
RED, RED_CHANGE = 0.8, 20.0
MOST = 3  # flashes in any second
MOVED = 0.5  # share of a change that motion leaves unexplained, below which it is motion
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # WCAG 2.2, relative luminance


@dataclass(frozen=True)
class Glance:
    """A frame on the grid: relative luminance; and how red, where it is a saturated red."""

    light: Matte
    red: Matte
    saturated: Matte


def glance(picture: Picture) -> Glance:
    """A frame as it is remembered for the check."""
    small = np.stack([cv2.resize(p, (COLUMNS, ROWS), interpolation=cv2.INTER_AREA) for p in np.clip(picture, 0, 1)])
    linear = np.asarray(srgb_decode(small))
    total = linear.sum(axis=0)
    red = np.maximum((linear[0] - linear[1] - linear[2]) * 320, 0)
    saturated = (linear[0] / np.maximum(total, 1e-6) >= RED) & (total > 1e-3)
    return Glance(np.tensordot(LUMINANCE, linear, axes=1).astype(np.float32), red.astype(np.float32), saturated.astype(np.float32))


def _opposing(values: Sequence[Matte], change: float) -> list[tuple[np.ndarray, np.ndarray]]:
    """For each frame, where a change against the one before it is complete; and the lower end of it.

    A change is from the last extreme: while a value rises its peak is followed, while it falls its trough.
    """
    extreme, way = values[0].copy(), np.zeros(values[0].shape, np.int8)
    low, high = values[0].copy(), values[0].copy()
    found = []
    for value in values:
        low, high = np.minimum(low, value), np.maximum(high, value)
        up = ((way == -1) & (value - extreme >= change)) | ((way == 0) & (value - low >= change))
        down = ((way == 1) & (extreme - value >= change)) | ((way == 0) & (high - value >= change))
        darker = np.where(up, np.where(way == 0, low, extreme), value)
        found.append((up | down, darker))
        way = np.where(up, 1, np.where(down, -1, way)).astype(np.int8)
        extreme = np.where(up | down, value, np.where(way == 1, np.maximum(extreme, value), np.where(way == -1, np.minimum(extreme, value), extreme)))
    return found


def _large(where: np.ndarray) -> bool:
    """Whether more than a quarter of any box of the grid is covered."""
    mean = cv2.boxFilter(where.astype(np.float32), -1, BOX, normalize=True, borderType=cv2.BORDER_CONSTANT)
    return bool(mean.max() > SHARE)


def _passes_by(before: Matte, now: Matte, where: np.ndarray) -> bool:
    """Whether a change is mostly that of a picture which is moved as a whole: moved back, less than half of it is left.

    Source: phase correlation (Kuglin and Hines 1975), by OpenCV.
    """
    (x, y), _ = cv2.phaseCorrelate(before.astype(np.float64), now.astype(np.float64), cv2.createHanningWindow((COLUMNS, ROWS), cv2.CV_64F))
    moved = cv2.warpAffine(before, np.array([[1, 0, x], [0, 1, y]], np.float64), (COLUMNS, ROWS), borderMode=cv2.BORDER_CONSTANT, borderValue=-1)
    there = where & (moved >= 0)
    if np.hypot(x, y) < 0.5 or there.sum() < 0.5 * where.sum():
        return False
    return float(np.abs(now - moved)[there].mean()) < MOVED * float(np.abs(now - before)[there].mean())


def flashes(glances: Sequence[Glance], rate: float) -> list[tuple[int, float, str, Matte]]:
    """Frames at which a second ends that has more than three flashes: (frame, flashes, "general" or "red", where)."""
    if len(glances) < 3:
        return []
    found: dict[int, tuple[int, float, str, Matte]] = {}
    light = [(turned & (darker < DARK)) for turned, darker in _opposing([g.light for g in glances], CHANGE)]
    reds = _opposing([g.red for g in glances], RED_CHANGE)
    red = []
    for n, (turned, _) in enumerate(reds):
        near = np.maximum(glances[n].saturated, glances[max(0, n - 1)].saturated)
        red.append(turned & (near > 0))
    span = max(1, round(rate))
    for kind, events in (("red", red), ("general", light)):
        changes = [n for n, where in enumerate(events) if _large(where) and not (n and _passes_by(glances[n - 1].light, glances[n].light, where))]
        for k, n in enumerate(changes):
            within = [m for m in changes[: k + 1] if n - m < span]
            count = len(within) / 2
            if count <= MOST or (n in found and found[n][1] >= count):
                continue
            # What flashes does so in its place: things that pass by turn now here, now there.
            often = np.add.reduce([events[m].astype(np.float32) for m in within]) / 2
            if _large(often > MOST):
                found[n] = n, count, kind, np.asarray(often > 0, np.float32)
    return [found[n] for n in sorted(found)]


def marks(glances: Sequence[Glance], rate: float, first: int) -> list[Mark]:
    """Stretches with too many flashes, each with its worst frame. first: the number of the first frame."""
    made: list[Mark] = []
    for frame, count, kind, where in flashes(glances, rate):
        at = frame + first
        begins = max(first, at - round(rate) + 1)
        what = "flashes in red" if kind == "red" else "flashes"
        words = f"{count:.0f} {what} within a second, over a part of the picture that is large enough to harm; at most {MOST} are safe."
        mark = Mark(CHECK.id, at, count, words, where, first=begins, last=at)
        if made and begins <= made[-1].last + 1:
            worst = max(made[-1], mark, key=lambda m: m.value)
            made[-1] = Mark(CHECK.id, worst.frame, worst.value, worst.words, worst.where, first=made[-1].first, last=at)
        else:
            made.append(mark)
    return made


CHECK = Check(
    id="flash",
    name="Flashes",
    measures="general and red flashes in any second, over a quarter of a field of ten degrees",
    unit="flashes a second",
    threshold=3.0,
    source="WCAG 2.2, 2.3.1",
    fixes="fewer, slower or smaller flashes: pins further apart, a lower amount, a part of the frame",
    over="shot",
)
