"""Islands: pieces of a matte that come and go."""

import cv2
import numpy as np

from wenditas.core.measure.checks.mending import cleaned, left_out
from wenditas.core.measure.checks.record import Check, Command, Mark, Mend, Seen
from wenditas.core.select.distance import EDGE
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Shape

LEAST = 0.0002  # of the frame that a piece covers at least
MOST_DESPECKLE, LARGER = 200.0, 1.2  # pixels of a 1080-line picture; how much larger than a piece it is set, and a piece larger than so wants a fence
AROUND = 8.0  # pixels of a 1080-line picture that a fence stands off from a piece
MOST_FENCES, MOST_CUT = 4, 0.005  # pieces that are fenced, and the share of the rest of the matte that the fences may take with them
NEAR = 9  # pixels that a piece may move from frame to frame


def passing(before: np.ndarray, now: np.ndarray, after: np.ndarray) -> tuple[np.ndarray, list[int]]:
    """Pieces of the matte now that neither neighbour has anything near: where they are, and their areas in pixels."""
    cut = (now > EDGE).astype(np.uint8)
    kernel = np.ones((NEAR, NEAR), np.uint8)
    beside = cv2.dilate((before > EDGE).astype(np.uint8), kernel) | cv2.dilate((after > EDGE).astype(np.uint8), kernel)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(cut, connectivity=8)
    kept = set(np.unique(labels[beside > 0]))
    least = max(2, LEAST * now.size)
    alone = [n for n in range(1, count) if n not in kept and stats[n, cv2.CC_STAT_AREA] >= least]
    return np.isin(labels, alone) if alone else np.zeros(now.shape, bool), [int(stats[n, cv2.CC_STAT_AREA]) for n in alone]


def _fences(selection: Selection, matte: np.ndarray, where: np.ndarray, frame: int) -> Mend | None:
    """A fence around each piece, on this frame alone; None where there are too many, or where they would cut what stays."""
    count, _, stats, _ = cv2.connectedComponentsWithStats(where.astype(np.uint8), connectivity=8)
    rest = (matte > EDGE) & ~where
    scale = 1080 / matte.shape[0]
    margin = int(np.ceil(AROUND / scale))
    cut = np.zeros(where.shape, bool)
    commands: list[Command] = []
    for n in range(1, count):
        left, top, width, height = (int(v) for v in stats[n, :4])
        left, top, right, bottom = left - margin, top - margin, left + width + margin, top + height + margin
        cut[max(0, top) : bottom, max(0, left) : right] = True
        shape, lane = left_out(selection, (left * scale, top * scale, right * scale, bottom * scale), frame)
        commands += [shape, lane]
        selection = selection.model_copy(update={"shapes": (*selection.shapes, Shape.model_validate(shape["value"]))})
    if count - 1 > MOST_FENCES or (cut & rest).sum() > MOST_CUT * max(int(rest.sum()), 1):
        return None
    return Mend("Fence it out on this frame" if count == 2 else "Fence them out on this frame", tuple(commands))


def measure(seen: Seen) -> list[Mark]:
    """How many such pieces each matte has."""
    if seen.before is None or seen.after is None:
        return []
    marks = []
    for id, matte in seen.mattes.items():
        where, areas = passing(seen.before.mattes[id], matte, seen.after.mattes[id])
        if len(areas) <= CHECK.threshold:
            continue
        selection = seen.selection(id)
        across = 2 * np.sqrt(max(areas) / np.pi) * 1080 / matte.shape[0]
        mend = None
        if selection is not None and selection.cleaning.despeckle < across <= MOST_DESPECKLE / LARGER:
            value = float(np.ceil(across * LARGER))
            mend = cleaned(f"Leave out specks below {value:.0f} pixels", id, "despeckle", value)
        elif selection is not None:
            mend = _fences(selection, matte, where, seen.frame)
        name = seen.called(id)
        words = (
            f"{len(areas)} {'piece' if len(areas) == 1 else 'pieces'} of the matte of “{name}” {'is' if len(areas) == 1 else 'are'} there on this frame alone."
        )
        marks.append(Mark(CHECK.id, seen.frame, float(len(areas)), words, where.astype(np.float32), id, mend=mend))
    return marks


CHECK = Check(
    id="islands",
    name="Islands",
    measures="pieces of a matte that are on one frame and not on those beside it",
    unit="pieces",
    threshold=0.0,
    source="common practice",
    mends="despeckle; a fence where they are large",
    over="neighbours",
    measure=measure,
)
