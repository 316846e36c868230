"""Footage that is drawn by a function, for tests of films without files."""

from collections.abc import Callable

import cv2
import numpy as np

from wenditas.core.film import Footage
from wenditas.core.kernel import Matte, Picture
from wenditas.core.tiles import Load, copy_rows

Draw = Callable[[Footage, int], Picture]


def waves(footage: Footage, frame: int) -> Picture:
    """Soft waves that move; others for other footage."""
    seed = sum(map(ord, footage.content)) % 7
    y, x = np.mgrid[0 : footage.height, 0 : footage.width] / footage.height
    planes = [0.5 + 0.4 * np.sin(4 * x + 3 * y + frame / 5 + seed), 0.4 + 0.3 * np.cos(5 * y - frame / 7 + seed), 0.4 + 0.3 * np.sin(6 * x * y + frame / 3)]
    return np.stack(planes).astype(np.float32)


def numbered(footage: Footage, frame: int) -> Picture:
    """A plain picture whose red is the number of its frame, in thousandths."""
    return np.full((3, footage.height, footage.width), frame / 1000, np.float32)


class Drawn:
    """Sources that draw each frame, and count how often."""

    def __init__(self, draw: Draw = waves) -> None:
        self._draw = draw
        self.drawn: list[tuple[str, int]] = []

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
        assert 0 <= frame < footage.frames
        self.drawn.append((footage.content, frame))
        picture = self._draw(footage, frame)
        if picture.shape[1:] != size:
            picture = np.stack([cv2.resize(p, size[::-1], interpolation=cv2.INTER_AREA) for p in picture])
        return lambda first, tile: copy_rows(picture, first, tile)

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> Matte | None:
        return None


def footage(content: str = "a", width: int = 48, height: int = 32, fps: str = "24", frames: int = 40, **more: bool) -> Footage:
    return Footage(content=content, width=width, height=height, fps=fps, frames=frames, **more)
