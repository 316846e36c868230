"""Clipping: pixels driven to an end of the scale that were not there before."""

import numpy as np

from wenditas.core.measure.checks.fixing import add_pass, first_pass
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen

LOW, HIGH = 0.5 / 255, 254.5 / 255
INNER = 3 / 255  # how far from the ends a pixel of the source is to be, not to count as clipped already
NAMES = ("red", "green", "blue")


def clipped(seen: Seen) -> np.ndarray:
    """Per channel, -1 where it is driven to nothing, 1 where to full, 0 elsewhere: int8 `(3, h, w)`."""
    low = (seen.result <= LOW) & (seen.source > LOW + INNER)
    high = (seen.result >= HIGH) & (seen.source < HIGH - INNER)
    return high.astype(np.int8) - low.astype(np.int8)


def measure(seen: Seen) -> list[Mark]:
    """The share of pixels that are clipped in a channel; the worst channel counts."""
    ends = clipped(seen)
    marks = []
    for end, what in ((1, "full"), (-1, "nothing")):
        shares = [float((plane == end).mean() * 100) for plane in ends]
        worst = int(np.argmax(shares))
        if shares[worst] <= CHECK.threshold:
            continue
        where = (ends == end).any(axis=0).astype(np.float32)
        all_three = min(shares) > CHECK.threshold
        channel = "all channels" if all_three else NAMES[worst]
        words = f"{shares[worst]:.0f} % of the frame is driven to {what} in {channel} that was not there before."
        marks.append(Mark(CHECK.id, seen.frame, shares[worst], words, where, fix=_mend(seen, end)))
    return marks


def _mend(seen: Seen, end: int) -> Fix:
    """Levels before the ends: what lies beyond them is kept between passes, so that it comes back; else what is there is held off them."""
    if end > 0:
        top = float(np.quantile(seen.result.max(axis=0), 0.995))
        scale = 100 / max(top, 1.0)
        if scale < 99:
            step = add_pass(seen.look, "ends", "Within the ends", "cdl", params={f"slope_{c}": round(scale / 100, 3) for c in NAMES})
            return Fix(f"Bring the brightest back to full: × {scale / 100:.2f}", (step,))
        step = add_pass(seen.look, "ends", "Highlights down", "highlights-shadows", before=first_pass(seen.look), params={"highlights": -40})
        return Fix("Take the highlights down before the other passes", (step,))
    step = add_pass(seen.look, "ends", "Shadows up", "highlights-shadows", before=first_pass(seen.look), params={"shadows": 40})
    return Fix("Lift the shadows before the other passes", (step,))


CHECK = Check(
    id="clipping",
    name="Clipping",
    measures="pixels driven to 0 or 100 % that were not in the footage, in the worst channel",
    unit="% of the frame",
    threshold=4.0,
    source="common practice",
    fixes="the ends brought back, highlights or shadows eased",
    measure=measure,
)
