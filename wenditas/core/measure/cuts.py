"""Cuts within footage: frames from which on another scene is seen."""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.kernel import Floats, Picture, finite

COLUMNS, ROWS = 32, 18
CHANGE, STANDS_OUT = 0.06, 3.0  # the least mean change of a cut, in Oklab; how many times that of the frames around it
AROUND = 3


def glimpse(picture: Picture) -> Floats:
    """What two frames are compared by: a picture `(3, h, w)` as `(3, ROWS, COLUMNS)` in Oklab."""
    small = np.stack([cv2.resize(plane, (COLUMNS, ROWS), interpolation=cv2.INTER_AREA) for plane in np.clip(finite(picture), 0, 1.25)])
    return oklab_from_rgb(small)


def change(one: Floats, other: Floats) -> float:
    """Mean distance in Oklab between two glimpses."""
    return float(np.sqrt(((other - one) ** 2).sum(axis=0)).mean())


def cuts(changes: npt.ArrayLike) -> list[int]:
    """The frames that begin another scene. changes: of each frame against the one before it; the first is 0, unknown ones are NaN.

    A cut changes much more than the frames around it; a flash, which changes twice, and motion, which goes on changing, are none.
    Source: our own thresholds on mean differences (common practice).

    >>> cuts([0, 0.01, 0.2, 0.01, 0.01])
    [2]
    """
    values = np.nan_to_num(np.asarray(changes, np.float64))
    found = []
    for n in np.flatnonzero(values > CHANGE):
        near = np.concatenate([values[max(0, n - AROUND) : n], values[n + 1 : n + 1 + AROUND]])
        if not len(near) or values[n] > STANDS_OUT * near.max():
            found.append(int(n))
    return found
