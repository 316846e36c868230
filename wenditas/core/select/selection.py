"""A selection: a named, reusable recipe for a matte."""

import numpy as np
from pydantic import Field

from wenditas.core.kernel import Matte, Picture
from wenditas.core.params import Params
from wenditas.core.select.keys import KEYS, Key
from wenditas.core.select.keys.record import FillMatte


class Selection(Params):
    """Keys, combined in order. An empty selection selects nothing."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    keys: tuple[Key, ...] = ()


def _combine(matte: Matte, part: Matte, how: str) -> None:
    """Combine in place: add is the larger of both, intersect the smaller, subtract what is not in the part."""
    if how == "add":
        np.maximum(matte, part, out=matte)
    elif how == "intersect":
        np.minimum(matte, part, out=matte)
    else:
        np.minimum(matte, 1 - part, out=matte)


def prepare_selection(selection: Selection) -> FillMatte:
    """The selection ready to fill the mattes of tiles."""
    parts = [(KEYS[key.type].prepare(key), key.combine) for key in selection.keys if key.on]

    def fill(tile: Picture, matte: Matte) -> None:
        if len(parts) == 1 and parts[0][1] == "add":
            parts[0][0](tile, matte)
            return
        matte.fill(0)
        part = np.empty_like(matte)
        for fill_part, how in parts:
            fill_part(tile, part)
            _combine(matte, part, how)

    return fill


def selection_matte(selection: Selection, picture: Picture) -> Matte:
    """The matte of a whole picture from the references: `(3, h, w)` to `(h, w)`, 0-1."""
    matte = np.zeros(picture.shape[1:], np.float32)
    for key in selection.keys:
        if key.on:
            _combine(matte, KEYS[key.type].reference(picture, key), key.combine)
    return matte
