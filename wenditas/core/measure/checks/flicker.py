"""Flicker: a matte or the picture goes to and fro where the footage stands still."""

import numpy as np

from wenditas.core.measure.checks.fixing import cleaned
from wenditas.core.measure.checks.pictures import luma, smooth, still
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen

LEAST_STILL = 0.05  # of the frame that has to stand still, for anything to be said
PICTURE = 1.0  # % of full scale that the mean of what stands still goes to and fro


def to_and_fro(before: np.ndarray, now: np.ndarray, after: np.ndarray) -> np.ndarray:
    """How far a value leaves what it was and comes back: the smaller of two steps of opposite direction, 0 where they have one direction."""
    there, back = now - before, now - after
    return np.where(there * back > 0, np.minimum(np.abs(there), np.abs(back)), 0)


def measure(seen: Seen) -> list[Mark]:
    """Of each matte, and of the mean of the picture."""
    if seen.before is None or seen.after is None:
        return []
    calm = still(seen.before, seen) & still(seen, seen.after)
    if calm.mean() < LEAST_STILL:
        return []
    marks = []
    for id, matte in seen.mattes.items():
        before, after = seen.before.mattes[id], seen.after.mattes[id]
        moved = to_and_fro(smooth(before, 1), smooth(matte, 1), smooth(after, 1)) * calm
        area = float(np.maximum(np.maximum(before, matte), after)[calm].sum())
        value = float(moved.sum()) / max(area, 0.002 * matte.size) * 100
        if value > CHECK.threshold:
            where = np.clip(moved * 4, 0, 1).astype(np.float32)
            words = f"The matte of “{seen.called(id)}” flickers by {value:.0f} % where the footage stands still."
            marks.append(Mark(CHECK.id, seen.frame, value, words, where, id, fix=_mend(seen, id)))
    if not marks:
        means = [float(luma(s.result)[calm].mean()) * 100 for s in (seen.before, seen, seen.after)]
        value = float(to_and_fro(*(np.array(m) for m in means)))
        if value > PICTURE:
            words = f"The picture flickers by {value:.1f} % of full scale where the footage stands still."
            marks.append(Mark(CHECK.id, seen.frame, value, words, calm.astype(np.float32)))
    return marks


def _mend(seen: Seen, id: str) -> Fix | None:
    selection = seen.selection(id)
    if selection is None:
        return None
    if selection.cleaning.steady < 2:
        return cleaned("Steady the matte over its neighbouring frames", id, "steady", 2)
    if selection.cleaning.denoise_chroma < 100:
        return cleaned("Denoise its chroma", id, "denoise_chroma", 100)
    return None


CHECK = Check(
    id="flicker",
    name="Flicker",
    measures="change to and fro of a matte (or of the whole) where the footage stands still",
    unit="% of the matte",
    threshold=4.0,
    source="common practice",
    fixes="steady, then denoise chroma",
    over="neighbours",
    measure=measure,
)
