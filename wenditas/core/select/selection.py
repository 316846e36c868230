"""A selection: a named, reusable recipe for a matte: keys and shapes, then cleaning."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import Field, field_validator

from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Matte, Picture, bound
from wenditas.core.named import named
from wenditas.core.params import Params
from wenditas.core.select.calm import NO_NOISE, Noise, calmed
from wenditas.core.select.clean import Cleaning, clean
from wenditas.core.select.keys import KEYS, AlphaKey, ColourKey, HueKey, Key
from wenditas.core.select.keys.alpha import from_alpha
from wenditas.core.select.keys.noisy import widened
from wenditas.core.select.keys.record import FillMatte
from wenditas.core.select.shapes import Shape, fence
from wenditas.core.tiles import run_tiles


class Selection(Params):
    """Keys combined in order, then fenced by shapes, then cleaned. An empty selection selects nothing.

    reads: the id of the pass after which the picture is keyed; the source where None.
    Without keys, shapes alone make the matte.
    """

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    reads: str | None = None
    keys: tuple[Key, ...] = Field((), max_length=16)
    shapes: tuple[Shape, ...] = Field((), max_length=64)
    cleaning: Cleaning = Cleaning()

    @field_validator("keys")
    @classmethod
    def _named(cls, keys: tuple[Key, ...]) -> tuple[Key, ...]:
        return named(tuple(_with_named_picks(key) for key in keys), "k", "keys")

    @field_validator("shapes")
    @classmethod
    def _each_once(cls, shapes: tuple[Shape, ...]) -> tuple[Shape, ...]:
        return named(shapes, "s", "shapes")

    @property
    def pointwise(self) -> bool:
        """Whether each pixel of the matte depends on the same pixel of the source alone."""
        return self.reads is None and self.cleaning.idle and not any(s.on for s in self.shapes) and not self.needs_alpha

    def noise(self, footage: Noise) -> Noise:
        """What is calmed of the footage's noise before the keys; only the source has it."""
        return NO_NOISE if self.reads is not None or not self.keys else footage.times(self.cleaning.calm / 100)

    @property
    def needs_alpha(self) -> bool:
        """Whether a key takes the footage's alpha channel."""
        return any(isinstance(k, AlphaKey) and k.on for k in self.keys)


def _with_named_picks(key: Key) -> Key:
    if not isinstance(key, HueKey | ColourKey):
        return key
    picks, refused = named(key.picks, "p", "picks"), named(key.refused, "n", "not-this picks")
    return key if picks is key.picks and refused is key.refused else key.model_copy(update={"picks": picks, "refused": refused})


class Calmed:
    """The picture that was calmed last, for the next selection that wants the same."""

    def __init__(self) -> None:
        self._last: tuple[Picture, Noise, Picture] | None = None

    def __call__(self, picture: Picture, noise: Noise) -> Picture:
        """See `calmed`."""
        last = self._last
        if last is None or last[0] is not picture or last[1] != noise:
            self._last = last = (picture, noise, calmed(picture, noise))
        return last[2]


@dataclass(frozen=True)
class Moment:
    """Where a look is evaluated: the frame, and all that comes from elsewhere. Pictures and mattes are of the same size.

    neighbour: the source at another frame. alpha: the alpha channel of a frame, None where the footage has none.
    stage: the picture after so many passes at a frame, with the values that are animated as they are there.
    then: a selection as it is at another frame. memo: given a selection and how to compute its matte, the
    remembered matte or a new one. files: LUTs and pictures that passes use. noise: of the footage that lies under the look;
    calmed: a picture without it. inlay: other shots, as `At` has them. check: called between the parts of
    the work; raises `Cancelled` where nobody waits for it any more.
    """

    frame: int = 0
    neighbour: Callable[[int], Picture] | None = None
    alpha: Callable[[int], Matte | None] | None = None
    stage: Callable[[int, int], Picture] | None = None
    then: Callable[[str, int], Selection] | None = None
    memo: Callable[[Selection, Callable[[], Matte]], Matte] | None = None
    files: Files = NO_FILES
    noise: Noise = NO_NOISE
    calmed: Callable[[Picture, Noise], Picture] = calmed
    inlay: Any = None
    check: Callable[[], None] = lambda: None


def _combine(matte: Matte, part: Matte, how: str) -> None:
    """Combine in place: add is the larger of both, intersect the smaller, subtract what is not in the part."""
    if how == "add":
        np.maximum(matte, part, out=matte)
    elif how == "intersect":
        np.minimum(matte, part, out=matte)
    else:
        np.minimum(matte, 1 - part, out=matte)


def _ground(selection: Selection) -> float:
    """What is selected before the first key: nothing where that adds, everything where it intersects or subtracts.

    Without keys shapes alone select, and with none of either nothing is selected.
    """
    if not selection.keys:
        return 1.0 if any(s.on for s in selection.shapes) else 0.0
    first = next((key for key in selection.keys if key.on), None)
    return 0.0 if first is None or first.combine == "add" else 1.0


def prepare_keys(selection: Selection) -> FillMatte:
    """The selection's keys ready to fill the mattes of tiles."""
    parts = [(KEYS[key.type].prepare(key), key.combine) for key in selection.keys if key.on]
    ground = _ground(selection)

    def fill(tile: Picture, matte: Matte) -> None:
        if len(parts) == 1 and parts[0][1] == "add":
            parts[0][0](tile, matte)
            bound(matte)
            return
        matte.fill(ground)
        part = np.empty_like(matte)
        for fill_part, how in parts:
            fill_part(tile, part)
            _combine(matte, bound(part), how)

    return fill


def _keyed_with_alpha(selection: Selection, picture: Picture, alpha: Matte) -> Matte:
    """The keys one by one over a whole picture, the alpha channel standing in for keys by alpha."""
    matte = np.full(picture.shape[1:], _ground(selection), np.float32)
    for key in selection.keys:
        if key.on:
            alone = selection.model_copy(update={"keys": (key.model_copy(update={"combine": "add"}),)})
            part = from_alpha(alpha, key) if isinstance(key, AlphaKey) else keyed(alone, picture)
            _combine(matte, part, key.combine)
    return matte


def keyed(selection: Selection, picture: Picture, alpha: Matte | None = None) -> Matte:
    """The keys over a whole picture, on the thread pool."""
    if alpha is not None and selection.needs_alpha:
        return _keyed_with_alpha(selection, picture, alpha)
    fill = prepare_keys(selection)
    _, height, width = picture.shape
    matte = np.empty((height, width), np.float32)

    def work(first: int, end: int, scratch: object) -> None:
        fill(np.ascontiguousarray(picture[:, first:end]), matte[first:end])

    run_tiles(height, width, work)
    return matte


def _one_frame(selection: Selection, picture: Picture, frame: int, moment: Moment) -> Matte:
    alpha = moment.alpha(frame) if moment.alpha is not None and selection.needs_alpha else None
    noise = selection.noise(moment.noise)
    if not noise.calm:
        picture = moment.calmed(picture, noise)
        selection = selection.model_copy(update={"keys": tuple(widened(key, noise) for key in selection.keys)})
    matte = fence(keyed(selection, picture, alpha), selection.shapes, frame)
    return clean(matte, selection.cleaning, picture.shape[1] / 1080)


def selection_matte(selection: Selection, picture: Picture, moment: Moment | None = None) -> Matte:
    """The matte of a whole picture: `(3, h, w)` to `(h, w)`, 0-1.

    With `steady` on, mattes of neighbouring frames are averaged with weights falling off
    evenly; a selection that reads a pass is not, for its neighbours would need that pass.
    """
    moment = moment or Moment()
    matte = _one_frame(selection, picture, moment.frame, moment)
    reach = int(selection.cleaning.steady)
    if reach == 0 or moment.neighbour is None or selection.reads is not None:
        return matte
    total, weight = matte * (reach + 1), float(reach + 1)
    for offset in range(1, reach + 1):
        for side in (-offset, offset):
            moment.check()
            share = reach + 1 - offset
            number = moment.frame + side
            there = selection if moment.then is None else moment.then(selection.id, number)
            total += share * _one_frame(there, moment.neighbour(number), number, moment)
            weight += share
    return np.asarray(total / np.float32(weight), np.float32)


def selection_matte_reference(selection: Selection, picture: Picture, frame: int = 0) -> Matte:
    """The matte of one frame with the plain references of the keys."""
    matte = np.full(picture.shape[1:], _ground(selection), np.float32)
    for key in selection.keys:
        if key.on:
            _combine(matte, KEYS[key.type].reference(picture, key), key.combine)
    return clean(fence(matte, selection.shapes, frame), selection.cleaning, picture.shape[1] / 1080)
