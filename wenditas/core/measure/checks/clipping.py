"""Clipping: pixels driven to an end of the scale that were not there before."""

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Picture
from wenditas.core.measure.checks.fixing import add_pass, first_pass
from wenditas.core.measure.checks.record import Check, Fix, Mark, Seen, Step

LOW, HIGH = 0.5 / 255, 254.5 / 255
INNER = 16 / 255  # how far from the ends a pixel of the source is to be, for its loss to be seen
TOGETHER = 2  # channels that are lost at once: one alone is what strong colours are made of
NAMES = ("red", "green", "blue")
HEX = re.compile("#[0-9a-fA-F]{6}")
NEAR, MOST_COLOURS = 0.06, 8  # how far from a chosen colour a pixel still is one; colours of an end that are looked at


def clipped(seen: Seen) -> np.ndarray:
    """Per channel, -1 where it is driven to nothing, 1 where to full, 0 elsewhere: int8 `(3, h, w)`."""
    low = (seen.result <= LOW) & (seen.source > LOW + INNER)
    high = (seen.result >= HIGH) & (seen.source < HIGH - INNER)
    return high.astype(np.int8) - low.astype(np.int8)


def chosen(steps: Iterable[Step]) -> np.ndarray:
    """The colours that passes name in their parameters, `(n, 3)`, 0-1."""
    return np.array([rgb_from_hex(hex) for step in steps if step.on for hex in dict.fromkeys(_hexes(step.params))] or np.zeros((0, 3)))


def _hexes(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield from [value] if HEX.fullmatch(value) else []
    elif isinstance(value, Mapping):
        for inner in value.values():
            yield from _hexes(inner)
    elif isinstance(value, list | tuple):
        for inner in value:
            yield from _hexes(inner)


def meant(result: Picture, channel: int, end: int, colours: np.ndarray) -> np.ndarray:
    """Where a channel lies at an end since a colour was chosen that has it there: at such a colour, or between two of them."""
    there = colours[(colours[:, channel] >= HIGH) if end > 0 else (colours[:, channel] <= LOW)][:MOST_COLOURS]
    found = np.zeros(result.shape[1:], bool)
    pixels = np.moveaxis(result, 0, 2)
    for n, one in enumerate(there):
        for other in there[n:]:
            way = other - one
            along = np.clip(((pixels - one) @ way) / max(float(way @ way), 1e-9), 0, 1)[..., None]
            found |= np.abs(pixels - (one + along * way)).max(axis=2) < NEAR
    return found


def measure(seen: Seen) -> list[Mark]:
    """The share of pixels that are clipped in two channels or all. Ends that a chosen colour has are meant."""
    ends = clipped(seen)
    colours = chosen(seen.look.passes)
    for end in (1, -1):
        for number in range(3 if len(colours) else 0):
            there = ends[number] == end
            if there.mean() * 100 > CHECK.threshold:
                ends[number][there & meant(seen.result, number, end, colours)] = 0
    marks = []
    for end, what in ((1, "full"), (-1, "nothing")):
        lost = (ends == end).sum(axis=0)
        share = float((lost >= TOGETHER).mean() * 100)
        if share <= CHECK.threshold:
            continue
        channels = "all channels" if float((lost == 3).mean() * 100) > CHECK.threshold else "two channels"
        words = f"{share:.0f} % of the frame is driven to {what} in {channels} that was not there before."
        marks.append(Mark(CHECK.id, seen.frame, share, words, (lost >= TOGETHER).astype(np.float32), fix=_mend(seen, end)))
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
    measures="pixels driven to 0 or 100 % that were not in the footage, in two channels or all",
    unit="% of the frame",
    threshold=4.0,
    source="common practice",
    fixes="the ends brought back, highlights or shadows eased",
    measure=measure,
)
