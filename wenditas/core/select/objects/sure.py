"""How sure it is that a carried matte is the thing: what its overlap with the truth is likely to be."""

import numpy as np

from wenditas.core.select.objects.carry import Step

UNSURE, LOST, CUT = 0.78, 0.0, -1.0  # below which a stroke is asked for; what is told where the thing is out of sight, and beyond a cut
# Fitted to the overlaps of one half of `bench/things.py`'s clips; on the other half it goes with them at 0.79.
FIRM, APART, ALIKE, OWN, GROWN, LONG, ELSE = 0.521, 1.412, -0.384, -0.072, -0.12, -0.121, -0.406
LONG_IS = 72  # frames
MOST_GROWN = 50.0


def how_sure(step: Step, area: float, frames: int) -> float:
    """Likely overlap, 0-1. area: the thing's, as a share of what it was where it was stroked; frames: since then."""
    if area <= 0:
        return LOST
    grown = abs(float(np.log(np.clip(area, 1 / MOST_GROWN, MOST_GROWN))))
    told = ELSE + FIRM * step.firm + APART * step.apart + ALIKE * step.alike + OWN * step.own + GROWN * grown + LONG * frames / LONG_IS
    return float(np.clip(told, 0.01, 1))
