"""Noise of the key: a matte that wavers more than the footage does."""

import numpy as np

from wenditas.core.measure.checks.fixing import cleaned
from wenditas.core.measure.checks.pictures import luma, still
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen
from wenditas.core.select.selection import Selection

LEAST_STILL = 0.02
RATIO = 3.0  # how much more a matte may waver than the footage
ROBUST = 0.6745


def measure(seen: Seen) -> list[Mark]:
    """The waver of each matte from frame to frame where the footage stands still, against that of the footage."""
    if seen.before is None:
        return []
    calm = still(seen.before, seen)
    if calm.mean() < LEAST_STILL:
        return []
    noise = float(np.median(np.abs(luma(seen.source) - luma(seen.before.source))[calm])) / ROBUST / np.sqrt(2) * 100
    marks = []
    for id, matte in seen.mattes.items():
        before = seen.before.mattes[id]
        selected = calm & ((matte > 0.02) | (before > 0.02))
        if selected.mean() < 0.002:
            continue
        change = np.abs(matte - before)
        value = float(np.sqrt((change[selected] ** 2).mean() / 2)) * 100
        if value <= CHECK.threshold or value <= RATIO * noise:
            continue
        selection = seen.selection(id)
        words = f"The matte of “{seen.called(id)}” wavers by {value:.0f} %, the footage by {noise:.1f} %."
        marks.append(Mark(CHECK.id, seen.frame, value, words, np.asarray(np.clip(change * 3, 0, 1) * calm, np.float32), id, fix=_mend(selection, id)))
    return marks


def _mend(selection: Selection | None, id: str) -> Fix | None:
    if selection is None:
        return None
    cleaning = selection.cleaning
    if cleaning.denoise_chroma < 100:
        return cleaned("Denoise its chroma", id, "denoise_chroma", 100)
    if cleaning.soften < 2:
        return cleaned("Soften the matte a little", id, "soften", 2)
    return None


CHECK = Check(
    id="noisy-key",
    name="Noise of the key",
    measures="waver of a matte from frame to frame where the footage stands still",
    unit="%",
    threshold=6.0,
    source="common practice; the median estimator of Donoho and Johnstone 1994 for the footage",
    fixes="denoise chroma, then soften",
    over="neighbours",
    measure=measure,
)
