"""Picks: colours sampled from the picture."""

from typing import Annotated

import numpy as np
from pydantic import Field

from wenditas.core.kernel import Picture, finite
from wenditas.core.params import Params

Channel = Annotated[float, Field(ge=-4, le=4)]
Place = Annotated[float, Field(ge=0, le=1)]


class Pick(Params):
    """A colour taken from the picture, with where and when it was taken.

    colour: gamma-coded R'G'B', nominal 0-1. x, y: place as a share of width and height.
    frame: source frame. patch: side of the sampled square, in source pixels.
    """

    id: str = Field("", max_length=40)  # one without gets one from its selection
    colour: tuple[Channel, Channel, Channel]
    x: Place
    y: Place
    frame: int = Field(ge=0)
    patch: int = Field(5, ge=1, le=101)


def sample_box(picture: Picture, x: float, y: float, width: float, height: float) -> tuple[float, float, float]:
    """The median colour of a box: its middle at x, y, its size as shares of width and height (0-1)."""
    _, rows, columns = picture.shape
    left, right = np.clip([(x - width / 2) * columns, (x + width / 2) * columns], 0, columns).astype(int)
    top, bottom = np.clip([(y - height / 2) * rows, (y + height / 2) * rows], 0, rows).astype(int)
    if right - left < 1 or bottom - top < 1:
        return sample(picture, x, y, 1)
    r, g, b = np.median(finite(picture[:, top:bottom, left:right]).reshape(3, -1), axis=1)
    return float(r), float(g), float(b)


def sample(picture: Picture, x: float, y: float, patch: int) -> tuple[float, float, float]:
    """The median colour of a `patch` x `patch` square around a place, cut off at the frame's edge.

    picture: `(3, h, w)`. x, y: 0-1 across and down. Returns gamma-coded R'G'B'.
    The median, channel by channel, ignores single noisy pixels (common practice).
    """
    _, height, width = picture.shape
    column, row = min(int(x * width), width - 1), min(int(y * height), height - 1)
    reach = patch // 2
    square = finite(picture[:, max(0, row - reach) : row + reach + 1, max(0, column - reach) : column + reach + 1])
    r, g, b = np.median(square.reshape(3, -1), axis=1)
    return float(r), float(g), float(b)
