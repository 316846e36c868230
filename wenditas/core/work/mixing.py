"""Operations on pictures and mattes that belong to no treatment: laying over, combining, bounding, showing."""

from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np

from wenditas.core.colour.blend import Blend, mix
from wenditas.core.kernel import Matte, bound
from wenditas.core.tiles import Load
from wenditas.core.work.operation import Band, Kind, Op, Place, Rows, Size, Sources, plain

EDGE_LINE, EDGE_SIDE, EDGE_END = np.float32(2), np.float32(3), np.float32(4)  # marks in the picture of an edge
ENDED, DASH = 0.03, 4  # share of a matte that counts as none; pixels
HATCH, HATCH_STRENGTH = 4, np.float32(0.5)  # pixels, share
PLAIN_GREY = np.float32(115 / 255)  # a code value, so that it is not dithered


def _even(value: float | tuple[float, ...]) -> Rows:
    values = np.asarray(value, np.float32)

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        out[:] = values if values.ndim == 0 else values[:, None, None]

    return rows


def _bounded(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        bound(out)

    return rows


def _laid(params: tuple[Blend, float, bool]) -> Rows:
    mode, amount, outside = params

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        mix(mode, out, inputs[1], amount, inputs[2] if len(inputs) > 2 else None, outside)

    return rows


def _laid_in_bands(params: tuple[Blend, float, bool]) -> Band:
    mode, amount, outside = params

    def band(inputs: Sequence[Any], out: Any, rows: tuple[int, int]) -> None:
        mix(mode, out, inputs[1], amount, inputs[2] if len(inputs) > 2 else None, outside, rows)

    return band


def combine(matte: Matte, part: Matte, how: str) -> None:
    """Combine in place: add is the larger of both, intersect the smaller, subtract what is not in the part."""
    if how == "add":
        np.maximum(matte, part, out=matte)
    elif how == "intersect":
        np.minimum(matte, part, out=matte)
    else:
        np.minimum(matte, 1 - part, out=matte)


def _combined(how: str) -> Rows:
    return lambda inputs, out, place: combine(out, inputs[1], how)


def _steadied(params: None) -> Rows:
    """The matte with those of as many frames before and after, by weights that fall off evenly: the nearest pair first."""

    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        reach = (len(inputs) - 1) // 2
        out[:] = inputs[0] * (reach + 1)
        weight = float(reach + 1)
        for n, matte in enumerate(inputs[1:]):
            share = reach - n // 2
            out += share * matte
            weight += share
        out /= np.float32(weight)

    return rows


def _plane(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        out[:] = inputs[0][0]

    return rows


def _grey(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        out[:] = inputs[0]

    return rows


def _selected(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        out[:] = PLAIN_GREY + (inputs[0] - PLAIN_GREY) * inputs[1]

    return rows


def edge_of(matte: Matte) -> Matte:
    """Where a matte's edge is drawn: `EDGE_LINE` on it (at 50 %), `EDGE_SIDE` beside it, `EDGE_END` further out where it has ended (at 3 %), 0 elsewhere."""
    cut, reach = (matte > 0.5).astype(np.uint8), (matte > ENDED).astype(np.uint8)
    square = np.ones((3, 3), np.uint8)
    line, end = cv2.morphologyEx(cut, cv2.MORPH_GRADIENT, square), cv2.morphologyEx(reach, cv2.MORPH_GRADIENT, square)
    side = cv2.dilate(line, square)
    return np.asarray(np.where(line > 0, EDGE_LINE, np.where(side > 0, EDGE_SIDE, np.where(end > 0, EDGE_END, 0))), np.float32)


def _outlined(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        picture, edge = inputs  # white, with black on either side, so that it shows on any picture; dashed where it ends
        row, column = np.mgrid[place.first : place.first + picture.shape[1], 0 : picture.shape[2]]
        dash = np.where((row + column) // DASH % 2 == 0, np.float32(1), np.float32(0))
        line = np.where(edge == EDGE_LINE, np.float32(1), np.where(edge == EDGE_SIDE, np.float32(0), picture))
        out[:] = np.where(edge == EDGE_END, dash, line)

    return rows


def _hatched(params: None) -> Rows:
    def rows(inputs: Sequence[Any], out: Any, place: Place) -> None:
        picture, matte = inputs
        row, column = np.mgrid[place.first : place.first + picture.shape[1], 0 : picture.shape[2]]
        stripe = np.where((row + column) // HATCH % 2 == 0, np.float32(1), np.float32(0))
        out[:] = picture + (stripe - picture) * matte * HATCH_STRENGTH

    return rows


def _frame(params: tuple[Any, int], size: Size, sources: Sources) -> Load:
    footage, frame = params
    return sources.load(footage, frame, size)


EVEN = Kind("even", "matte", rows=_even)
COLOUR = Kind("colour", rows=_even)
BOUND = Kind("bound", rows=_bounded, over=True)
BLEND = Kind("blend", rows=_laid, band=_laid_in_bands, over=True, cost=5)
COMBINE = Kind("combine", "matte", rows=_combined, over=True)
STEADY = Kind("steady", "matte", rows=_steadied, keeps=1, cost=3)
PLANE = Kind("plane", "matte", rows=_plane)
GREY = Kind("grey", rows=_grey)
SELECTED = Kind("selected", rows=_selected)
EDGE = Kind("edge", "matte", whole=lambda params: lambda inputs, place: edge_of(inputs[0]))
OUTLINED = Kind("outlined", rows=_outlined)
HATCHED = Kind("hatched", rows=_hatched)
SOURCE = Kind("source", load=_frame, cost=12)
KINDS = (EVEN, COLOUR, BOUND, BLEND, COMBINE, STEADY, PLANE, GREY, SELECTED, EDGE, OUTLINED, HATCHED, SOURCE)


def even(value: float, size: Size) -> Op:
    """A matte that is the same everywhere."""
    return Op(EVEN, value, (), size)


def bounded(picture: Op) -> Op:
    """A picture without what is no number, and within what every format can take."""
    return picture if picture.kind in (BOUND, GREY) else Op(BOUND, None, (picture,), picture.size)


def blended(mode: Blend, amount: float, under: Op, over: Op, matte: Op | None = None, outside: bool = False) -> Op:
    """R + (B - R) a: a picture laid over another. amount: 0-1, times the matte, or what the matte leaves.

    What has no effect is no operation. Source: W3C Compositing and Blending Level 1.
    """
    if mode == "normal" and amount == 1 and matte is None:
        return over
    if mode == "normal" and over.digest == under.digest:
        return under
    inputs = (under, over) if matte is None else (under, over, matte)
    outside = outside and matte is not None
    return Op(BLEND, (mode, amount, outside), inputs, under.size, f"{mode} {plain(amount)} {outside}")


def plane_of(picture: Op) -> Op:
    """A matte that was shown as a grey picture."""
    return picture.inputs[0] if picture.kind is GREY else Op(PLANE, None, (picture,), picture.size)
