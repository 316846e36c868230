"""Strokes: rough lines that say what a thing is, and what it is not."""

from collections.abc import Sequence
from typing import Annotated, Literal

import cv2
import numpy as np
import numpy.typing as npt
from pydantic import Field

from wenditas.core.params import Params

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000)]
MOST_POINTS, MOST_STROKES = 1000, 400


class Stroke(Params):
    """A line drawn with a round brush. Coordinates and radius are pixels of a 1080-line picture."""

    id: str = Field(min_length=1, max_length=40)
    frame: int = Field(ge=0)
    kind: Literal["this", "not this"] = "this"
    radius: float = Field(12, ge=1, le=400)
    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=1, max_length=MOST_POINTS)


Mask = npt.NDArray[np.uint8]


def painted(strokes: Sequence[Stroke], kind: str, size: tuple[int, int]) -> Mask:
    """Which pixels the strokes of a kind cover, 1 where so; a later stroke of the other kind takes its pixels back."""
    out, scale = np.zeros(size, np.uint8), size[0] / 1080
    for stroke in strokes:
        points = np.round(np.array(stroke.points, np.float64) * scale * 16).astype(np.int32)
        value, thick = int(stroke.kind == kind), max(1, round(2 * stroke.radius * scale))
        if len(points) > 1:
            cv2.polylines(out, [points], False, value, thick, cv2.LINE_8, 4)
        for x, y in points[[0, -1]]:
            cv2.circle(out, (int(x), int(y)), thick * 8, value, -1, cv2.LINE_8, 4)
    return out
