"""Islands: pieces of a matte that come and go."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats
from wenditas.core.measure.checks.fixing import cleaned, left_out
from wenditas.core.measure.checks.record import Check, Command, Fix, Mark, Seen
from wenditas.core.select.distance import EDGE
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Shape

LEAST = 0.0002  # of the frame that a piece covers at least
MOST_DESPECKLE, LARGER = 200.0, 1.2  # pixels of a 1080-line picture; how much larger than a piece it is set, and a piece larger than so wants a fence
AROUND = 8.0  # pixels of a 1080-line picture that a fence stands off from a piece
MOST_FENCES, MOST_CUT = 4, 0.005  # pieces that are fenced, and the share of the rest of the matte that the fences may take with them
NEAR = 9  # pixels that a piece may move from frame to frame
MOST_FLYING = 4  # pieces of a frame that may be things that fly: more are specks
EVEN, LIKE_AREA, LIKE_COLOUR = 0.35, 2.0, 0.1  # how uneven its way may be, as a share of a step; how much its area and its colour (Oklab) may change


@dataclass(frozen=True)
class Piece:
    """A connected piece of a matte: its label, its area in pixels, its middle (x, y) and the mean colour of what was filmed there (Oklab)."""

    label: int
    area: int
    middle: Floats
    colour: Floats


def passing(before: Seen, now: Seen, after: Seen, id: str) -> tuple[np.ndarray, list[int]]:
    """Pieces of a matte now that are not there before and after: where they are, and their areas in pixels.

    A piece is there on a frame beside where something of the matte lies near it; or where a few pieces are left and one of them, of like
    size and colour, lies where a thing that flies on evenly would be. Beyond the frame it may be anywhere.
    """
    mattes = [np.asarray(seen.mattes[id] > EDGE, np.uint8) for seen in (before, now, after)]
    labels, found = _alone(now, mattes[1], mattes[0] | mattes[2])
    if 0 < len(found) <= MOST_FLYING:
        was, comes = (_alone(seen, matte, mattes[1])[1] for seen, matte in ((before, mattes[0]), (after, mattes[2])))
        if len(was) <= MOST_FLYING and len(comes) <= MOST_FLYING:
            found = [piece for piece in found if not _flies(piece, was, comes, (mattes[1].shape[1], mattes[1].shape[0]))]
    return np.isin(labels, [piece.label for piece in found]) if found else np.zeros(mattes[1].shape, bool), [piece.area for piece in found]


def _alone(seen: Seen, matte: np.ndarray, beside: np.ndarray) -> tuple[np.ndarray, list[Piece]]:
    """The labels of a matte's pieces, and those of some size that nothing of another matte lies near."""
    count, labels, stats, middles = cv2.connectedComponentsWithStats(matte, connectivity=8)
    kept = set(np.unique(labels[cv2.dilate(beside, np.ones((NEAR, NEAR), np.uint8)) > 0]))
    least = max(2, LEAST * matte.size)
    alone = [n for n in range(1, count) if n not in kept and stats[n, cv2.CC_STAT_AREA] >= least]
    few = len(alone) <= MOST_FLYING  # colours are compared of few alone
    return labels, [Piece(n, int(stats[n, cv2.CC_STAT_AREA]), middles[n], _colour(seen, labels, n) if few else np.zeros(3)) for n in alone]


def _colour(seen: Seen, labels: np.ndarray, label: int) -> Floats:
    height, width = labels.shape
    source = seen.source
    if source.shape[1:] != (height, width):
        source = np.stack([cv2.resize(plane, (width, height), interpolation=cv2.INTER_AREA) for plane in source])
    return np.asarray(oklab_from_rgb(np.clip(source[:, labels == label].mean(axis=1), 0, 1.25)))


def _flies(piece: Piece, was: Sequence[Piece], comes: Sequence[Piece], size: tuple[int, int]) -> bool:
    """Whether a piece goes on from one before it to one after it, or from or to beyond the frame."""
    before, after = ([other for other in others if _alike(piece, other)] for others in (was, comes))
    for one in before:
        for other in after:
            step = piece.middle - one.middle
            if np.hypot(*(other.middle - piece.middle - step)) <= EVEN * np.hypot(*step) + np.sqrt(piece.area):
                return True
    if before and after:
        return False
    return any(not _within(2 * piece.middle - other.middle, piece, size) for other in (*before, *after))


def _alike(one: Piece, other: Piece) -> bool:
    return max(one.area, other.area) <= LIKE_AREA * min(one.area, other.area) and float(np.linalg.norm(one.colour - other.colour)) <= LIKE_COLOUR


def _within(place: Floats, piece: Piece, size: tuple[int, int]) -> bool:
    room = np.sqrt(piece.area / np.pi)
    return bool((place >= room).all() and (place <= np.array(size) - room).all())


def _fences(selection: Selection, matte: np.ndarray, where: np.ndarray, frame: int) -> Fix | None:
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
    return Fix("Fence it out on this frame" if count == 2 else "Fence them out on this frame", tuple(commands))


def measure(seen: Seen) -> list[Mark]:
    """How many such pieces each matte has."""
    if seen.before is None or seen.after is None:
        return []
    marks = []
    for id, matte in seen.mattes.items():
        where, areas = passing(seen.before, seen, seen.after, id)
        if len(areas) <= CHECK.threshold:
            continue
        selection = seen.selection(id)
        across = 2 * np.sqrt(max(areas) / np.pi) * 1080 / matte.shape[0]
        fix = None
        if selection is not None and selection.cleaning.despeckle < across <= MOST_DESPECKLE / LARGER:
            value = float(np.ceil(across * LARGER))
            fix = cleaned("Leave out specks of that size", id, "despeckle", value)
        elif selection is not None:
            fix = _fences(selection, matte, where, seen.frame)
        name = seen.called(id)
        words = (
            f"{len(areas)} {'piece' if len(areas) == 1 else 'pieces'} of the matte of “{name}” {'is' if len(areas) == 1 else 'are'} there on this frame alone."
        )
        marks.append(Mark(CHECK.id, seen.frame, float(len(areas)), words, where.astype(np.float32), id, fix=fix))
    return marks


CHECK = Check(
    id="islands",
    name="Islands",
    measures="pieces of a matte that are on one frame and not on those beside it",
    unit="pieces",
    threshold=0.0,
    source="common practice",
    fixes="despeckle; a fence where they are large",
    over="neighbours",
    measure=measure,
)
