"""Kept colour hard to tell: what stays coloured looks grey too, to somebody who sees colours otherwise."""

import numpy as np

from wenditas.core.colour.deficiency import KINDS, seen_with
from wenditas.core.colour.difference import ciede2000, lab_from_rgb
from wenditas.core.kernel import Picture
from wenditas.core.measure.checks.fixing import add_pass
from wenditas.core.measure.checks.pictures import luma
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen
from wenditas.core.measure.chroma import light_and_chroma
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import whole

COLOURED, GREY = 0.05, 0.03  # Oklab chroma from which on, and below which, a pixel is coloured, or grey
LEAST, MOST = 0.2, 60.0  # % of the frame that what stays coloured covers
SURE = 15.0  # CIEDE2000 to grey that it has for usual sight: else nobody sees it as kept
TURNS = range(5, 181, 5)


def kept(picture: Picture) -> np.ndarray | None:
    """Where a picture stays coloured while the rest is grey; None where it is no such picture."""
    _, chroma = light_and_chroma(picture)
    where = chroma > COLOURED
    share = where.mean() * 100
    if not LEAST <= share <= MOST or float((chroma[~where] <= GREY).mean()) < 0.5:
        return None
    return np.asarray(where)


def apart(colours: Picture, kind: str) -> float:
    """How different colours `(3, n, 1)` look from grey of their own luma, to a kind of sight: the median of CIEDE2000."""
    grey = np.repeat(luma(colours)[None], 3, axis=0)
    one, other = (lab_from_rgb(np.clip(seen_with(p, kind), 0, 1)) for p in (colours, grey))
    return float(np.median(ciede2000(one, other)))


def measure(seen: Seen) -> list[Mark]:
    """The least difference to grey that any kind of sight leaves; of looks that keep a colour, not of footage that is grey by itself."""
    where = kept(seen.result) if seen.mattes else None
    if where is None or kept(seen.source) is not None:
        return []
    colours = np.clip(seen.result[:, where], 0, 1)[:, :: max(1, int(where.sum()) // 2000), None]
    usual = apart(colours, "usual")
    if usual < SURE:
        return []
    found = {kind: apart(colours, kind) for kind in KINDS}
    worst = min(found, key=lambda kind: found[kind])
    if found[worst] >= CHECK.threshold:
        return []
    names = ", ".join(KINDS[kind].name for kind, value in found.items() if value < CHECK.threshold)
    words = f"The colour that stays is hard to tell from the grey with {names}: {found[worst]:.0f} apart (CIEDE2000), {usual:.0f} with usual sight."
    return [Mark(CHECK.id, seen.frame, found[worst], words, where.astype(np.float32), fix=_mend(seen, colours, where))]


def _mend(seen: Seen, colours: Picture, where: np.ndarray) -> Fix | None:
    """The nearest hue that passes, inside what keeps the colour; else more lightness."""
    inside = max((s for s in seen.look.selections if s.id in seen.mattes), key=lambda s: float(seen.mattes[s.id][where].mean()), default=None)
    place = {"selection": inside.id, "side": "inside"} if inside is not None and float(seen.mattes[inside.id][where].mean()) > 0.5 else {}
    treatment = TREATMENTS["hue-shift"]
    for turn in TURNS:
        for shift in (turn, -turn):
            params = treatment.params(shift=shift)  # type: ignore[call-arg]
            turned = treatment.reference(np.ascontiguousarray(colours, np.float32), params, whole(colours))
            if min(apart(np.clip(turned, 0, 1), kind) for kind in KINDS) >= CHECK.threshold:
                step = add_pass(seen.look, "tell", "Easier to tell", "hue-shift", params={"shift": shift}, **place)
                return Fix(f"Turn its hue by {shift:+d}°, the nearest that everybody can tell", (step,))
    step = add_pass(seen.look, "tell", "Lighter", "exposure", params={"stops": 0.7}, **place)
    return Fix("Make it lighter", (step,)) if place else None


CHECK = Check(
    id="hard-to-tell",
    name="Kept colour hard to tell",
    measures="difference of what stays coloured from grey, with each kind of colour-vision deficiency",
    unit="CIEDE2000",
    threshold=10.0,
    source="Machado, Oliveira and Fernandes 2009 for the kinds of sight; the threshold is common practice",
    fixes="the nearest hue that passes, or lightness",
    below=True,
    measure=measure,
)
