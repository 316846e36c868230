"""The demo's own objects, drawn in two colours: where the pictures differ, the object is."""

from collections.abc import Callable
from types import ModuleType
from typing import Any
from unittest.mock import patch

import cv2
import numpy as np

from bench.clips.clip import REPORTED, WORKED_ON, Clip, Drawn
from wenditas.core.kernel import Matte, Picture
from wenditas.demo.draw import awnings, film, tram, umbrella

FIRST = 60
HOLE, DEEP = 0.3, 1.5  # coverage from which a texture's dark seams count as the thing; pixels inside its edge from which it is all there
SEAM = 7  # pixels across that a seam may be


def covered(difference: Matte) -> Matte:
    """Where a thing is, from how much its two colours differ: its texture and its seams are the thing too."""
    most = cv2.dilate(difference, np.ones((7, 7), np.uint8))
    share = np.where(most > 0.06, difference / np.maximum(most, 0.06), 0).astype(np.float32)
    seams = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (SEAM, SEAM))
    whole = cv2.morphologyEx((share > HOLE).astype(np.uint8), cv2.MORPH_CLOSE, seams)
    inside = cv2.distanceTransform(np.pad(whole, 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    return np.asarray(np.where(inside > DEEP, 1, share * (whole > 0)), np.float32)


def drawing(shot: Callable[[], film.Shot], scene: ModuleType, attribute: str, other: Any, below: int | None = None) -> Callable[[int, int], Drawn]:
    """What draws a clip. attribute, other: the name of the thing's colour in its scene, and another for it; below: rows that count, above a reflection."""

    def draw(count: int, height: int) -> Drawn:
        size = scene.WIDTH, scene.HEIGHT
        numbers = range(FIRST, FIRST + count)
        drawn = shot()  # what stands still is drawn once
        frames: list[Picture] = [film.picture_of(drawn, n, *size) for n in numbers]
        with patch.object(scene, attribute, other):
            recoloured = shot()
            others = [film.picture_of(recoloured, n, *size) for n in numbers]
        mattes = [covered(np.abs(frame - other).max(axis=0)) for frame, other in zip(frames, others, strict=True)]
        for matte in mattes:
            matte[below if below else matte.shape[0] :] = 0
        return frames, mattes

    return draw


def _awning(index: int, colour: tuple[float, float, float]) -> tuple[tuple[float, float, float], ...]:
    return tuple(colour if n == index else c for n, c in enumerate(awnings.HUES))


CLIPS = (
    Clip("red tram", WORKED_ON, drawing(tram.TramShot, tram, "RED", (0.1, 0.3, 0.8)), (540,)),
    Clip("yellow umbrella", WORKED_ON, drawing(umbrella.UmbrellaShot, umbrella, "YELLOW", (0.1, 0.3, 0.93), 600), (540,), 600),
    Clip("blue awning", REPORTED, drawing(awnings.AwningsShot, awnings, "HUES", _awning(4, (0.8, 0.3, 0.1))), (540,)),
    Clip("violet awning", REPORTED, drawing(awnings.AwningsShot, awnings, "HUES", _awning(5, (0.2, 0.7, 0.2))), (540,)),
)
