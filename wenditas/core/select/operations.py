"""The operations of selections, and what a selection at a frame resolves to."""

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

import numpy as np

from wenditas.core.kernel import bound
from wenditas.core.select.clean import Cleaning, clean
from wenditas.core.select.denoise import Noise, denoised
from wenditas.core.select.following import followed
from wenditas.core.select.keys import KEYS, AlphaKey, Key
from wenditas.core.select.keys.noisy import widened
from wenditas.core.select.objects.fine import fine_edge
from wenditas.core.select.objects.marks import Stroke
from wenditas.core.select.objects.part import ObjectPart, combined, reached
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Outline, fence_of, outlined
from wenditas.core.tiles import Held, Load
from wenditas.core.work.mixing import COMBINE, STEADY, even
from wenditas.core.work.operation import Kind, Op, Place, Rows, Size, Sources, Whole

NOT_OF_A_KEY = {"id", "on", "combine"}  # what of a key has nothing to do with what it selects
NOT_OF_A_PICK = {"id", "x", "y", "frame", "patch"}


def _keyed(key: Key) -> Rows:
    fill = KEYS[key.type].prepare(key)

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        fill(inputs[0], out)
        bound(out)

    return rows


def _without_noise(params: tuple[float, int]) -> Whole:
    noise = Noise(*params)
    return lambda inputs, place: denoised(inputs[0], noise)


def _followed(params: tuple[float, float, int]) -> Whole:
    share, noise = params[0], Noise(*params[1:])
    return lambda inputs, place: followed(inputs[0], inputs[1], noise, share)


def _fenced(outlines: tuple[Outline, ...]) -> Whole:
    return lambda inputs, place: fence_of(inputs[0], outlines)


def _cleaned(cleaning: Cleaning) -> Whole:
    return lambda inputs, place: clean(inputs[0], cleaning, place.height / 1080)


def _alpha(params: tuple[Any, int], size: Size, sources: Sources) -> Load:
    found = sources.alpha(*params, size)
    return Held(np.ones(size, np.float32) if found is None else found)  # what has no alpha channel is opaque


def _thing(params: tuple[Any, int, tuple[Stroke, ...]], size: Size, sources: Sources) -> Load:
    footage, frame, strokes = params
    return Held(sources.thing(footage, frame, strokes, size))


def _within(params: tuple[str, float, float]) -> Whole:
    mode, margin, feather = params
    return lambda inputs, place: combined(inputs[0], reached(inputs[1], margin * place.height / 1080, feather * place.height / 1080), mode)


def _fine(width: float) -> Whole:
    return lambda inputs, place: fine_edge(inputs[0], inputs[1], width * place.height / 1080)


def _transparent(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        np.subtract(1, inputs[0], out=out)

    return rows


KEY = Kind("key", "matte", rows=_keyed, prepares=True, cost=11)
DENOISE = Kind("denoise chroma", whole=_without_noise, cost=18)
FOLLOW = Kind("follow edges", "matte", whole=_followed, cost=50)
FENCE = Kind("fence", "matte", whole=_fenced, over=True, cost=4)
CLEAN = Kind("clean", "matte", whole=_cleaned, cost=56)
ALPHA = Kind("alpha", "matte", load=_alpha)
TRANSPARENT = Kind("transparent", "matte", rows=_transparent)
OBJECT = Kind("object", "matte", load=_thing, cost=200, derived=True)
FINE = Kind("fine edge", "matte", whole=_fine, cost=400)
WITHIN = Kind("within an object", "matte", whole=_within, cost=6)
KINDS = (KEY, DENOISE, FOLLOW, FENCE, CLEAN, ALPHA, TRANSPARENT, OBJECT, FINE, WITHIN)
Thing = Callable[[ObjectPart], Op | None]


@lru_cache(1024)
def _of_key(key: Key) -> str:
    """What a key selects, as text."""
    picks = {"picks": {"__all__": NOT_OF_A_PICK}, "refused": {"__all__": NOT_OF_A_PICK}} if hasattr(key, "picks") else {}
    return key.model_dump_json(exclude={**dict.fromkeys(NOT_OF_A_KEY, True), **picks})


def _key(key: Key, picture: Op, alpha: Op | None) -> Op:
    if isinstance(key, AlphaKey):
        if alpha is None:
            return even(0.0 if key.invert else 1.0, picture.size)
        return Op(TRANSPARENT, None, (alpha,), alpha.size) if key.invert else alpha
    return Op(KEY, key, (picture,), picture.size, _of_key(key))


def ground_of(selection: Selection) -> float:
    """What is selected before the first key: nothing where that adds, everything where it intersects or subtracts.

    Without keys objects and shapes alone select, and with none of these nothing is selected.
    """
    if not selection.keys:
        return 1.0 if any(s.on for s in selection.shapes) or any(o.makes_a_difference for o in selection.objects) else 0.0
    first = next((key for key in selection.keys if key.on), None)
    return 0.0 if first is None or first.combine == "add" else 1.0


def resolve_keys(keys: Sequence[Key], ground: float, picture: Op, alpha: Op | None) -> Op:
    """Keys one after another. ground: what is selected before the first."""
    on = [key for key in keys if key.on]
    if len(on) == 1 and on[0].combine == "add":
        return _key(on[0], picture, alpha)
    matte = even(ground, picture.size)
    for key in on:
        matte = Op(COMBINE, key.combine, (matte, _key(key, picture, alpha)), picture.size)
    return matte


def _nothing(part: ObjectPart) -> Op | None:
    return None


def resolve_once(selection: Selection, frame: int, picture: Op, alpha: Callable[[], Op | None], noise: Noise, thing: Thing = _nothing) -> Op:
    """The matte of a selection on one picture, whatever its neighbours are. frame: where its shapes lie; noise: of the footage under the look.

    thing: the matte of an object; None where none can be carried, as in what is no footage, so that nothing is known of where it is.
    """
    share, cleaned, keys, keyed = selection.noise(noise), selection.cleaned, selection.keys, picture
    if not share.negligible:
        keyed = Op(DENOISE, (share.sigma, share.lines), (picture,), picture.size)
        keys = tuple(widened(key, share) for key in keys)
    matte = resolve_keys(keys, ground_of(selection), keyed, alpha() if selection.needs_alpha else None)
    if selection.follows and noise.sigma > 0:
        matte = Op(FOLLOW, (selection.follows, noise.sigma, noise.lines), (matte, picture), matte.size)
    for part in selection.objects:
        found = thing(part) if part.makes_a_difference else None
        if found is not None:
            matte = Op(WITHIN, (part.mode, part.margin, part.feather), (matte, found), matte.size)
    outlines = tuple(outlined(shape, frame) for shape in selection.shapes if shape.on)
    if outlines:
        matte = Op(FENCE, outlines, (matte,), matte.size, " ".join(o.named for o in outlines))
    return matte if cleaned is None else Op(CLEAN, cleaned, (matte,), matte.size)


def resolve_selection(selection: Selection, frame: int, once: Callable[[int], Op]) -> Op:
    """The matte of a selection at a frame. once: its matte at any frame, before it is steadied.

    With `steady` on, mattes of neighbouring frames are averaged with weights falling off evenly; a selection that reads a pass is not, for
    its neighbours would need that pass.
    """
    matte, reach = once(frame), int(selection.cleaning.steady)
    if reach == 0 or selection.reads is not None:
        return matte
    around = [once(frame + side) for offset in range(1, reach + 1) for side in (-offset, offset)]
    return Op(STEADY, None, (matte, *around), matte.size)
