"""What strokes on a frame select on it, and what is known of the thing from then on."""

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Matte, kernel
from wenditas.core.select.objects.carry import drawn
from wenditas.core.select.objects.colours import Known, Palette, around, signed
from wenditas.core.select.objects.marks import Mask
from wenditas.core.select.objects.seen import Seen

UNLIKE = 220.0  # how many pixels of way a difference of 1 in colour counts for
SWEEPS = 3
CUTS = 3  # rounds of the graph cut
SAMPLES, RING = 4000, 60
CLOSE = 6.0  # way from a stroke within which a pixel goes with it, whatever its colour
REACHES, LEAST_REACH = 0.6, 24  # how far a thing reaches beyond its strokes: shares of their length, and pixels at half the size
RIM = 2
NEARER = 0.75  # a pixel goes to what was stroked now where that is so much nearer, by its colours, than what it was
FAR = np.float32(1e6)


@kernel
def _sweep(planes, way, unlike, down):  # type: ignore[no-untyped-def]
    """One sweep over the frame: how near each pixel is to a seed by the neighbours that were passed already (Borgefors 1986; Toivanen 1996)."""
    height, width = way.shape
    for i in range(height):
        y = i if down else height - 1 - i
        row = y - 1 if down else y + 1
        for j in range(width):
            x = j if down else width - 1 - j
            beside = x - 1 if down else x + 1
            best = way[y, x]
            for k in range(4):
                v, u = (y, beside) if k == 0 else (row, x - 2 + k)
                if v < 0 or v >= height or u < 0 or u >= width:
                    continue
                a, b, c = planes[0, y, x] - planes[0, v, u], planes[1, y, x] - planes[1, v, u], planes[2, y, x] - planes[2, v, u]
                long = np.float32(1) if k == 0 or k == 2 else np.float32(1.4142)
                best = min(best, way[v, u] + long + unlike * np.sqrt(a * a + np.float32(4) * (b * b + c * c)))
            way[y, x] = best


def ways(planes: Floats, seeds: Mask) -> Floats:
    """How far each pixel is from the nearest seed, over the picture's colours as over hills: `(h, w)`."""
    out = np.where(seeds > 0, np.float32(0), FAR)
    for _ in range(SWEEPS):
        _sweep(planes, out, np.float32(UNLIKE), True)
        _sweep(planes, out, np.float32(UNLIKE), False)
    return out


def started(here: Seen, this: Mask, other: Mask, before: Matte | None = None) -> Matte:
    """The matte that strokes select on a frame, `(h, w)`, 0-1.

    this, other: which pixels were stroked as the thing, and as not it, at the frame's size. before: the matte that was carried to this frame,
    which the strokes put right. A graph cut (GrabCut: Rother, Kolmogorov and Blake 2004, as OpenCV has it) at half the size, between what is nearer to
    either over the picture; its edge is drawn anew at full size.
    """
    if not this.any() and before is None:
        return np.zeros(here.size, np.float32)
    height, width = here.size
    small = max(width // 2, 1), max(height // 2, 1)
    planes = np.stack([cv2.resize(p, small, interpolation=cv2.INTER_AREA) for p in here.planes])
    seeds = [cv2.resize(m, small, interpolation=cv2.INTER_AREA if m.any() else cv2.INTER_NEAREST) for m in (this * np.uint8(255), other * np.uint8(255))]
    mine, theirs = seeds[0] > 100, seeds[1] > 100
    label = _guessed(planes, mine, theirs, None if before is None else cv2.resize(before, small, interpolation=cv2.INTER_AREA))
    label[mine], label[theirs] = cv2.GC_FGD, cv2.GC_BGD
    if (label == cv2.GC_FGD).any() or (label == cv2.GC_PR_FGD).any():
        label = _cut(planes, label)
    inside = np.isin(label, (cv2.GC_FGD, cv2.GC_PR_FGD))
    if before is None:
        inside = _touching(inside, mine)
    guess = cv2.resize(inside.astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
    return _held(_redrawn(here, guess), this, other)


def _guessed(planes: Floats, mine: np.ndarray, theirs: np.ndarray, before: Matte | None) -> Mask:
    """Which pixels are probably the thing's: those that are nearer to its strokes than to the others, or to what it was."""
    to_mine = ways(planes, mine.astype(np.uint8)) if mine.any() else np.full(mine.shape, FAR)
    if before is None:
        far = _far_from(mine)
        others = theirs.astype(np.uint8) | far
        likely = to_mine < ways(planes, others)
        if not theirs.any():  # nothing says where it ends: only what is like it is taken
            likely &= _like(planes, mine, others > 0) | (to_mine < CLOSE)
        return np.where(far > 0, cv2.GC_BGD, np.where(likely, cv2.GC_PR_FGD, cv2.GC_PR_BGD)).astype(np.uint8)
    was = before > 0.5
    inner, outer = cv2.erode(was.astype(np.uint8), np.ones((7, 7))), cv2.erode((~was).astype(np.uint8), np.ones((7, 7)))
    to_theirs = ways(planes, theirs.astype(np.uint8)) if theirs.any() else np.full(mine.shape, FAR)
    joins = mine.any() & ~was & (to_mine < NEARER * np.minimum(ways(planes, outer & (~mine).astype(np.uint8)) + _apart(mine, outer), to_theirs))
    leaves = theirs.any() & was & (to_theirs < NEARER * np.minimum(ways(planes, inner & (~theirs).astype(np.uint8)) + _apart(theirs, inner), to_mine))
    return np.where((was | joins) & ~leaves, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)


def _far_from(strokes: np.ndarray) -> Mask:
    """1 further from the strokes than the thing is likely to reach: as long again as they are, and some pixels; and along the frame's rim."""
    rows, columns = np.flatnonzero(strokes.any(axis=1)), np.flatnonzero(strokes.any(axis=0))
    out = np.ones(strokes.shape, np.uint8)
    room = round(REACHES * max(np.ptp(rows), np.ptp(columns))) + LEAST_REACH
    out[max(rows[0] - room, 0) : rows[-1] + room + 1, max(columns[0] - room, 0) : columns[-1] + room + 1] = 0
    edge = np.ones_like(out)
    edge[RIM:-RIM, RIM:-RIM] = 0
    near = cv2.dilate(strokes.astype(np.uint8), np.ones((2 * LEAST_REACH + 1, 2 * LEAST_REACH + 1), np.uint8))
    return np.asarray(out | (edge & (1 - near)), np.uint8)


def _like(planes: Floats, mine: np.ndarray, theirs: np.ndarray) -> np.ndarray:
    """Which pixels have colours that come more often in the strokes than in what is not the thing."""
    palette = Palette.of(planes[:, ::2, ::2].reshape(3, -1), 0.01)
    classes, count = palette.classes(planes), len(palette.centres)
    shares = [np.bincount(classes[where], minlength=count) @ palette.alike / max(where.sum(), 1) for where in (mine, theirs)]
    return np.asarray(cv2.blur(np.log((shares[0] + 2e-3) / (shares[1] + 2e-3))[classes].astype(np.float32), (3, 3)) > 0)


def _apart(strokes: np.ndarray, held: Mask) -> Floats:
    """What lies near strokes that were made where something else was held is given up by that: its way is longer there."""
    near = cv2.distanceTransform(1 - strokes.astype(np.uint8), cv2.DIST_L2, 3)
    return np.asarray(np.maximum(60 - near, 0) * held, np.float32)


def _cut(planes: Floats, label: Mask) -> Mask:
    luma, blue, red = planes
    coded = np.stack([np.sqrt(np.clip(luma, 0, 1)), blue * 2 + 0.5, red * 2 + 0.5], axis=2)
    image = np.ascontiguousarray(np.clip(coded * 255, 0, 255).astype(np.uint8))
    if not np.isin(label, (cv2.GC_BGD, cv2.GC_PR_BGD)).any():
        return label
    cv2.setRNGSeed(1)
    out = label.copy()
    cv2.grabCut(image, out, None, np.zeros((1, 65)), np.zeros((1, 65)), CUTS, cv2.GC_INIT_WITH_MASK)
    return out


def _touching(inside: np.ndarray, strokes: np.ndarray) -> np.ndarray:
    """The pieces that strokes touch."""
    _, labels = cv2.connectedComponents(inside.astype(np.uint8), connectivity=8)
    kept = np.unique(labels[strokes & inside])
    return np.isin(labels, kept[kept > 0])


def _redrawn(here: Seen, guess: Matte) -> Matte:
    if not (guess > 0.5).any():
        return guess
    nowhere = np.zeros((*here.size, 2), np.float32)
    return drawn(here, guess, nowhere, here, guess, np.zeros(here.size, bool), known_of(here, guess), 1.0).matte


def _held(matte: Matte, this: Mask, other: Mask) -> Matte:
    """What was stroked is as it was stroked."""
    out = np.where(other > 0, np.float32(0), matte)
    return np.where(this > 0, np.float32(1), out).astype(np.float32)


def known_of(here: Seen, matte: Matte) -> Known:
    """What is known of the thing for good: colours of it and of what is around it, evenly taken."""
    box = around(matte, RING)
    planes, part = (here.planes, matte) if box is None else (here.planes[:, box[0], box[1]], matte[box])
    far = signed(part)
    found = []
    for where in (far > 1.5, (far < -1.5) & (far > -RING)):
        colours = planes[:, where]
        every = max(1, colours.shape[1] // SAMPLES)
        found.append(np.ascontiguousarray(colours[:, ::every]))
    return Known(found[0], found[1], float((matte > 0.5).sum()))
