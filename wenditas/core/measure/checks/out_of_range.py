"""Out of range: colours that cannot be shown, and are limited when the picture is written."""

import numpy as np

from wenditas.core.measure.checks.fixing import add_pass
from wenditas.core.measure.checks.pictures import luma
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen

OUTSIDE = 13 / 255  # by how much a channel is outside, to count: less is limited without being seen
LEAST = 20.0  # % of chroma that is left at least


def outside(seen: Seen) -> np.ndarray:
    """Where the luma of the result can be shown and a channel of it cannot, which it could in the source."""
    light = luma(seen.result)
    shown = (light > OUTSIDE) & (light < 1 - OUTSIDE)
    over = (seen.result < -OUTSIDE).any(axis=0) | (seen.result > 1 + OUTSIDE).any(axis=0)
    before = (seen.source < -OUTSIDE).any(axis=0) | (seen.source > 1 + OUTSIDE).any(axis=0)
    return np.asarray(shown & over & ~before)


def measure(seen: Seen) -> list[Mark]:
    """The share of the frame whose colours are limited at output."""
    where = outside(seen)
    share = float(where.mean() * 100)
    if share <= CHECK.threshold:
        return []
    light, result = luma(seen.result)[where], seen.result[:, where]
    room = np.where(result > light, (1 - light) / np.maximum(result - light, 1e-6), light / np.maximum(light - result, 1e-6)).min(axis=0)
    keep = max(LEAST, float(np.floor(np.quantile(room, 0.1) * 100)))
    inside = next((p for p in reversed(seen.look.passes) if p.on and p.side == "inside" and p.selection), None)
    place = {"selection": inside.selection, "side": "inside"} if inside is not None and _mostly(seen, str(inside.selection), where) else {}
    step = add_pass(seen.look, "chroma", "Less chroma", "saturation", params={"saturation": keep}, **place)
    words = f"{share:.0f} % of the frame has colours that cannot be shown; they are cut when it is written."
    return [Mark(CHECK.id, seen.frame, share, words, where.astype(np.float32), fix=Fix(f"Less chroma{' inside' if place else ''}: {keep:.0f} %", (step,)))]


def _mostly(seen: Seen, selection: str, where: np.ndarray) -> bool:
    matte = seen.mattes.get(selection)
    return matte is not None and float(matte[where].mean()) > 0.6


CHECK = Check(
    id="out-of-range",
    name="Out of range",
    measures="pixels whose colours lie outside what can be shown, limited when written",
    unit="% of the frame",
    threshold=2.0,
    source="ITU-R BT.709-6 (its range); the share is common practice",
    fixes="less chroma, inside where it lies inside",
    measure=measure,
)
