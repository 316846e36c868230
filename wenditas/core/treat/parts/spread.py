"""Gradients spread over the frame, by place."""

from collections.abc import Callable

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.tone.curves import look_up
from wenditas.core.treat.record import Apply, At

Place = Callable[[Floats, Floats, float], Floats]


def place_of(at: At, rows: int, place: Place) -> Floats:
    """`place(y, x, aspect)` for every pixel of a tile: y 0-1 down the frame, x 0-`aspect` across it; float64."""
    y = (np.arange(at.first, at.first + rows) + 0.5) / max(at.height, 1)
    x = (np.arange(at.width) + 0.5) / max(at.height, 1)
    return place(y[:, None], x[None, :], at.width / max(at.height, 1))


def spread(picture: Picture, table: Floats, place: Place, at: At) -> Picture:
    """The gradient `table` `(3, n)` laid out by `place`, whatever the picture."""
    where = place_of(at, picture.shape[1], place)
    return as_picture(np.stack([look_up(t, where, 0, 1) for t in table]))


def prepare_spread(table: Floats, place: Place) -> Apply:
    """`spread` on tiles, in float32: it is plain NumPy, for the places of a tile are few."""
    values = as_picture(table)
    last = values.shape[1] - 1

    def apply(tile: Picture, out: Picture, at: At) -> None:
        where = np.clip(place_of(at, tile.shape[1], place), 0, 1) * last
        n = np.minimum(where.astype(np.int32), last - 1)
        share = (where - n).astype(np.float32)
        for c in range(3):
            left = values[c][n]
            out[c] = left + (values[c][n + 1] - left) * share

    return apply
