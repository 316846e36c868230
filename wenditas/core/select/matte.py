"""The matte of a selection on a picture that is at hand, and its plain reference."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.clean import clean
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.following import followed_reference
from wenditas.core.select.keys import KEYS
from wenditas.core.select.operations import ALPHA, ground_of, resolve_keys, resolve_once, resolve_selection
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import fence
from wenditas.core.tiles import Held, Load
from wenditas.core.work.mixing import SOURCE, combine
from wenditas.core.work.operation import Op, Size
from wenditas.core.work.run import run


@dataclass(frozen=True)
class Moment:
    """Where a picture at hand stands: its frame, and what comes from elsewhere. All of one size.

    neighbour: the picture at another frame; None where there is only this one. alpha: the alpha channel of a frame, None where there is none.
    files: LUTs and pictures that passes use. noise: of the footage that it is from.
    """

    frame: int = 0
    neighbour: Callable[[int], Picture] | None = None
    alpha: Callable[[int], Matte | None] | None = None
    files: Files = NO_FILES
    noise: Noise = NO_NOISE


@dataclass(frozen=True)
class Given:
    """A picture at hand as the source of operations."""

    picture: Picture
    moment: Moment

    @property
    def size(self) -> Size:
        """Height and width."""
        return self.picture.shape[1], self.picture.shape[2]

    def source(self, frame: int) -> Op:
        """The picture at a frame, as an operation."""
        return Op(SOURCE, ("given", frame if self.moment.neighbour is not None else 0), (), self.size)

    def transparency(self, frame: int) -> Op | None:
        """Its alpha channel at a frame."""
        return None if self.moment.alpha is None else Op(ALPHA, ("given", frame), (), self.size)

    def load(self, footage: str, frame: int, size: Size) -> Load:
        """See `Sources`."""
        neighbour = self.moment.neighbour
        return Held(self.picture if neighbour is None or frame == self.moment.frame else neighbour(frame))

    def alpha(self, footage: str, frame: int, size: Size) -> Matte | None:
        """See `Sources`."""
        return None if self.moment.alpha is None else self.moment.alpha(frame)

    def thing(self, footage: str, frame: int, strokes: object, size: Size) -> Matte:
        """See `Sources`: nothing is carried to a picture at hand."""
        return np.zeros(size, np.float32)


def selection_matte(selection: Selection, picture: Picture, moment: Moment | None = None) -> Matte:
    """The matte of a whole picture: `(3, h, w)` to `(h, w)`, 0-1. Where it is steadied, neighbours have the same values."""
    given = Given(picture, moment or Moment())

    def once(frame: int) -> Op:
        return resolve_once(selection, frame, given.source(frame), lambda: given.transparency(frame), given.moment.noise)

    frame = given.moment.frame
    return run(once(frame) if given.moment.neighbour is None else resolve_selection(selection, frame, once), sources=given)


def keyed(selection: Selection, picture: Picture) -> Matte:
    """The keys of a selection alone, over a whole picture."""
    given = Given(picture, Moment())
    return run(resolve_keys(selection.keys, ground_of(selection), given.source(0), None), sources=given)


def selection_matte_reference(selection: Selection, picture: Picture, frame: int = 0, noise: Noise = NO_NOISE) -> Matte:
    """The matte of one frame with the plain references of the keys and of what follows edges."""
    matte = np.full(picture.shape[1:], ground_of(selection), np.float32)
    for key in selection.keys:
        if key.on:
            combine(matte, KEYS[key.type].reference(picture, key), key.combine)
    if selection.follows:
        matte = followed_reference(matte, picture, noise, selection.follows)
    return clean(fence(matte, selection.shapes, frame), selection.cleaning, picture.shape[1] / 1080)
