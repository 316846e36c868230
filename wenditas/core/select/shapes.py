"""Shapes: rough fences that keep or leave out, feathered, tracked.

Coordinates and lengths are pixels of a 1080-line picture, x to the right, y down.
"""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal, Self

import cv2
import numpy as np
from pydantic import Field, model_validator

from wenditas.core.kernel import Floats, Matte, kernel
from wenditas.core.params import Params, number
from wenditas.core.select.similarity import Similarity
from wenditas.core.select.tracks import MOST_POINTS, NO_TRACK, Track
from wenditas.core.tiles import run_tiles
from wenditas.core.work.operation import plain

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000)]
CURVE_STEPS, ELLIPSE_STEPS = 12, 96
REACH = np.float32(6)  # pixels beyond the feather that the band of a shape may be wide


class Point(Params):
    """A point of a polygon or path; at a corner the path does not curve.

    arrive, leave: tangents of the curve before and after the point, where they are fixed (points that
    were added to a path leave its form as it was); else they follow from the neighbours.
    """

    x: Coordinate
    y: Coordinate
    corner: bool = False
    arrive: tuple[Coordinate, Coordinate] | None = None
    leave: tuple[Coordinate, Coordinate] | None = None


class Correction(Params):
    """A move made by hand at a frame of a tracked shape, on top of the track."""

    frame: int = Field(ge=0)
    values: tuple[float, float, float, float]


class Shape(Params):
    """An ellipse, rectangle, polygon or smooth closed path.

    Ellipse and rectangle: two points, opposite corners of the box before `angle` turns it
    about its middle. Polygon and path: three points or more.
    """

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    on: bool = True
    mode: Literal["keep", "leave out"] = "leave out"
    kind: Literal["ellipse", "rectangle", "polygon", "path"]
    points: tuple[Point, ...] = Field(min_length=2, max_length=MOST_POINTS)
    angle: float = number(0, "Angle", "Turns an ellipse or rectangle about its middle.", low=-180, high=180, step=1, unit="°")
    feather_in: float = number(0, "Feather in", "How far inside the outline the shape begins to fade.", low=0, high=200, step=1, unit="px")
    feather_out: float = number(10, "Feather out", "How far outside the outline the shape still fades.", low=0, high=200, step=1, unit="px")
    track: Track = NO_TRACK
    corrections: tuple[Correction, ...] = ()

    @cached_property
    def lying(self) -> "Outline":
        """How it lies where nothing moves it."""
        return _lying(self, 0)

    @model_validator(mode="after")
    def _check(self) -> Self:
        needed = 2 if self.kind in ("ellipse", "rectangle") else 3
        if len(self.points) < needed or (needed == 2 and len(self.points) > 2):
            raise ValueError(f"a {self.kind} has {'two points' if needed == 2 else 'three points or more'}, not {len(self.points)}")
        frames = [item.frame for item in self.corrections]
        if frames != sorted(set(frames)):
            raise ValueError(f"the corrections of {self.name!r} must name each frame once, in order")
        return self


def transform_at(shape: Shape, frame: int) -> Similarity:
    """Where the track and the corrections have moved the shape at a frame. Outside the track its nearest end holds."""
    return correction_at(shape, frame) @ track_at(shape, frame)


def track_at(shape: Shape, frame: int) -> Similarity:
    """The track alone. Between frames that it names, the earlier one holds."""
    return Similarity.of(shape.track.frames[_tracked_at(shape, frame)].values) if shape.track else Similarity()


def correction_at(shape: Shape, frame: int) -> Similarity:
    """The corrections alone: even from one to the next, held before the first and after the last."""
    if not shape.corrections:
        return Similarity()
    after = bisect_right(shape.corrections, frame, key=lambda c: c.frame)
    if after == 0 or after == len(shape.corrections):
        return Similarity.of(shape.corrections[0 if after == 0 else -1].values)
    low, high = shape.corrections[after - 1], shape.corrections[after]
    return Similarity.of(low.values).towards(Similarity.of(high.values), (frame - low.frame) / (high.frame - low.frame))


def outline(shape: Shape, frame: int = 0) -> Floats:
    """The closed outline at a frame as points `(n, 2)`, curves flattened."""
    points = bent(shape, frame)
    if shape.kind in ("ellipse", "rectangle"):
        points = _box_outline(shape.kind, points, shape.angle)
    elif shape.kind == "path":
        points = _curve(points, *tangents(shape.points, points))
    return transform_at(shape, frame)(points)


def _box_outline(kind: str, corners: Floats, angle: float) -> Floats:
    middle, half = corners.mean(axis=0), np.abs(corners[1] - corners[0]) / 2
    if kind == "ellipse":
        turn = np.linspace(0, 2 * np.pi, ELLIPSE_STEPS, endpoint=False)
        unit = np.stack([np.cos(turn), np.sin(turn)], axis=1)
    else:
        unit = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)], np.float64)
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    return np.asarray(unit * half @ np.array([[c, s], [-s, c]]) + middle)


def bent(shape: Shape, frame: int) -> Floats:
    """Its points where a track that bends has them at a frame, before it moves them as a whole: `(n, 2)`.

    Points that were changed since go as those that were tracked near them did. Source: weights by the inverse square of the distance (Shepard 1968).
    """
    points: Floats = np.array([(p.x, p.y) for p in shape.points], np.float64)
    bend = shape.track.frames[_tracked_at(shape, frame)].bend if shape.track else ()
    if not bend:
        return points
    told = np.array(bend, np.float64)
    weights = 1 / (np.square(points[:, None] - told[None, :, :2]).sum(axis=2) + 1e-6)
    return np.asarray(points + (weights @ told[:, 2:]) / weights.sum(axis=1, keepdims=True))


def _tracked_at(shape: Shape, frame: int) -> int:
    """Which of a track's frames holds at a frame: between two, the earlier one."""
    return max(bisect_right(shape.track.frames, frame, key=lambda t: t.frame) - 1, 0)


def tangents(points: Sequence[Point], places: Floats | None = None) -> tuple[Floats, Floats]:
    """How a closed smooth path arrives at and leaves its points, `(n, 2)` each: as fixed, else Catmull-Rom, none at corners.

    places: where the points lie, `(n, 2)`, if not where they are.
    """
    if places is None:
        places = np.array([(p.x, p.y) for p in points], np.float64)
    even = (np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)) / 2
    even[np.array([p.corner for p in points])] = 0
    arrive, leave = even, even.copy()
    for n, p in enumerate(points):
        if p.arrive is not None:
            arrive[n] = p.arrive
        if p.leave is not None:
            leave[n] = p.leave
    return arrive, leave


def _curve(points: Floats, arrive: Floats, leave: Floats) -> Floats:
    """A closed curve of cubic Hermite pieces through the points."""
    t = np.linspace(0, 1, CURVE_STEPS, endpoint=False)[None, :, None]
    p0, p1 = points[:, None], np.roll(points, -1, axis=0)[:, None]
    m0, m1 = leave[:, None], np.roll(arrive, -1, axis=0)[:, None]
    curve = (2 * t**3 - 3 * t**2 + 1) * p0 + (t**3 - 2 * t**2 + t) * m0 + (3 * t**2 - 2 * t**3) * p1 + (t**3 - t**2) * m1
    return np.asarray(curve.reshape(-1, 2))


@dataclass(frozen=True, eq=False)
class Outline:
    """A shape as it lies at a frame. points: its closed outline `(n, 2)`; lengths in pixels of a 1080-line picture. keeps: whether it keeps, or leaves out."""

    points: Floats
    feather_in: float
    feather_out: float
    keeps: bool

    @cached_property
    def named(self) -> str:
        """All of it as text."""
        return plain((self.keeps, self.feather_in, self.feather_out, self.points))


def outlined(shape: Shape, frame: int) -> Outline:
    """A shape as it lies at a frame; one that is neither tracked nor corrected is worked out once."""
    return _lying(shape, frame) if shape.track or shape.corrections else shape.lying


def _lying(shape: Shape, frame: int) -> Outline:
    return Outline(outline(shape, frame) + 0.0, shape.feather_in, shape.feather_out, shape.mode == "keep")


@kernel
def _polygon_rows(points, first, end, feather_in, feather_out, band, inner, out):  # type: ignore[no-untyped-def]
    """Coverage of a polygon by smoothstep of the exact signed distance, at pixel middles; even-odd inside.

    Outside `band` no distance matters: there the coverage is that of `inner`. Within it only the sides near a row do.
    """
    count = points.shape[0]
    span = feather_in + feather_out
    reach = max(feather_in, feather_out) + REACH
    near = np.empty(count, np.int64)
    for y in range(first, end):
        py = np.float32(y) + np.float32(0.5)
        sides = 0
        for n in range(count):
            k = n + 1 if n + 1 < count else 0
            if min(points[n, 1], points[k, 1]) - reach <= py <= max(points[n, 1], points[k, 1]) + reach:
                near[sides] = n
                sides += 1
        for x in range(out.shape[1]):
            if band[y, x] == 0:
                out[y, x] = np.float32(inner[y, x])
                continue
            px = np.float32(x) + np.float32(0.5)
            nearest, inside = np.float32(1e18), False
            for m in range(sides):
                n = near[m]
                ax, ay = points[n, 0], points[n, 1]
                k = n + 1 if n + 1 < count else 0
                ex, ey = points[k, 0] - ax, points[k, 1] - ay
                wx, wy = px - ax, py - ay
                t = min(max((wx * ex + wy * ey) / (ex * ex + ey * ey + np.float32(1e-12)), np.float32(0)), np.float32(1))
                dx, dy = wx - ex * t, wy - ey * t
                nearest = min(nearest, dx * dx + dy * dy)
                if (ay > py) != (ay + ey > py) and px < ax + (py - ay) * ex / ey:
                    inside = not inside
            distance = np.sqrt(nearest)
            distance = distance if inside else -distance
            s = min(max((distance + feather_out) / span, np.float32(0)), np.float32(1))
            out[y, x] = s * s * (np.float32(3) - np.float32(2) * s)


def shape_matte(shape: Shape, frame: int, height: int, width: int) -> Matte:
    """The coverage of a shape, `(height, width)`, 0-1, whatever its mode.

    1 further in than `feather_in`, 0 further out than `feather_out`, smoothstep of the signed
    distance between; an outline without feather fades over one pixel. Source: definition.
    """
    return _coverage(outlined(shape, frame), height, width)


def _coverage(shape: Outline, height: int, width: int) -> Matte:
    out = np.zeros((height, width), np.float32)
    part = _part(shape, height, width)
    if part is not None:
        out[part[0]] = part[1]
    return out


def _part(shape: Outline, height: int, width: int) -> tuple[tuple[slice, slice], Matte] | None:
    """The rows and columns that a shape reaches, and its coverage there; None where it lies outside the frame."""
    scale = height / 1080
    points = shape.points * scale
    inner, outer = shape.feather_in * scale, shape.feather_out * scale
    if inner + outer < 1:
        inner, outer = inner + (1 - inner - outer) / 2, outer + (1 - inner - outer) / 2
    low, high = np.floor(points.min(axis=0) - outer - 1), np.ceil(points.max(axis=0) + outer + 1)
    left, top = (int(max(0, v)) for v in low)
    right, bottom = int(min(width, high[0])), int(min(height, high[1]))
    if right <= left or bottom <= top:
        return None
    moved = np.ascontiguousarray(points - (left, top), np.float32)
    box = np.empty((bottom - top, right - left), np.float32)
    inside, band = np.zeros(box.shape, np.uint8), np.zeros(box.shape, np.uint8)
    whole = [np.rint(moved).astype(np.int32)]
    cv2.fillPoly(inside, whole, 1)
    cv2.polylines(band, whole, True, 1, thickness=2 * int(np.ceil(max(inner, outer))) + 5)
    numbers = np.float32(inner), np.float32(outer)
    run_tiles(bottom - top, right - left, lambda first, end, scratch: _polygon_rows(moved, first, end, *numbers, band, inside, box))
    return (slice(top, bottom), slice(left, right)), box


def fence(matte: Matte, shapes: Sequence[Shape], frame: int) -> Matte:
    """The matte within the *keep* shapes that are on (all together) and outside the *leave out* ones. Changes it in place."""
    return fence_of(matte, [outlined(shape, frame) for shape in shapes if shape.on])


def fence_of(matte: Matte, shapes: Sequence[Outline]) -> Matte:
    """The same with shapes as they lie."""
    height, width = matte.shape
    keeping = [shape for shape in shapes if shape.keeps]
    if len(keeping) == 1:
        matte *= _coverage(keeping[0], height, width)
    elif keeping:
        keep = np.zeros_like(matte)
        for shape in keeping:
            part = _part(shape, height, width)
            if part is not None:
                np.maximum(keep[part[0]], part[1], out=keep[part[0]])
        matte *= keep
    for shape in shapes:
        part = None if shape.keeps else _part(shape, height, width)
        if part is not None:
            np.subtract(1, part[1], out=part[1])
            matte[part[0]] *= part[1]
    return matte
