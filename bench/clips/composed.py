"""Things drawn over scikit-learn's two sample photographs and over drawn rooms, moved and lit by rule.

The photographs (china.jpg, flower.jpg; scikit-learn's `load_sample_images`) bring the textures that drawings lack. A thing is laid over its
ground in linear light by a coverage that is drawn at twice the size, several times within the time that the shutter is open.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from bench.clips import shapes
from bench.clips.clip import FRESH, REPORTED, WORKED_ON, Clip, Drawn
from wenditas.core.kernel import Floats, as_picture

GAMMA = 2.4  # of the display: near enough to linear light for laying one thing over another
OPEN, TIMES = 0.5, 6  # share of a frame that the shutter is open for, and how often the thing is drawn within it
Colour = tuple[float, float, float]


@lru_cache(2)
def _photograph(name: str) -> Floats:
    from sklearn.datasets import load_sample_image

    return np.asarray(load_sample_image(name), np.float32).transpose(2, 0, 1) / 255


def photograph(name: str, frame: float, width: int, height: int) -> Floats:
    """A photograph that a camera pans over, a little of it at a time."""
    picture = _photograph(name)
    rows = 300
    columns = rows * width / height
    left, top = 40 + 1.2 * frame, 60 + 0.5 * frame
    turn = np.array([[columns / width, 0, left], [0, rows / height, top]], np.float32)
    planes = [cv2.warpAffine(p, turn, (width, height), flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT) for p in picture]
    return np.clip(np.stack(planes), 0, 1)


def room(wall: Colour, floor: Colour, light: float, things: tuple[tuple[float, float, float, Colour], ...] = ()) -> Callable[[float, int, int], Floats]:
    """A drawn room: a wall that is lit from one side, a floor, and round things (across, down, radius in heights, colour)."""

    def ground(frame: float, width: int, height: int) -> Floats:
        y, x = (v.astype(np.float32) / height for v in np.mgrid[0:height, 0:width])
        lit = np.clip(1 - light * x, 0.12, 1) * (1 + 0.02 * np.sin(40 * y + 3 * np.sin(9 * x)))
        share = np.clip((y - 0.74) * height / 3, 0, 1)
        out = np.stack([((1 - share) * w + share * f) * lit for w, f in zip(wall, floor, strict=True)])
        for across, down, radius, colour in things:
            apart = np.hypot(x - across, y - down)
            cover = np.clip((radius - apart) * height + 0.5, 0, 1)
            shade = np.clip(1.05 - 0.5 * apart / radius - 0.6 * (x - across) / radius * 0.4, 0.25, 1.1) * lit
            out = np.stack([o * (1 - cover) + cover * c * shade for o, c in zip(out, colour, strict=True)])
        return np.clip(out, 0, 1)

    return ground


@dataclass(frozen=True)
class Laid:
    """A thing over a ground. shape: its coverage and its shade at a time; colour: as it is seen in full light; speed: frames of the rule in one frame."""

    shape: shapes.Shape
    colour: Colour
    ground: Callable[[float, int, int], Floats]
    light: float = 0.0  # how much darker the right end of the frame is
    speed: float = 1.0

    def draw(self, count: int, height: int) -> Drawn:
        """The frames and the coverage."""
        width = round(height * 16 / 9)
        made = [self._frame(n, width, height) for n in range(count)]
        return [frame for frame, _ in made], [cover for _, cover in made]

    def _frame(self, n: int, width: int, height: int) -> tuple[Floats, Floats]:
        below = self.ground(float(n), width, height) ** GAMMA
        across = np.linspace(0, width / height, width, dtype=np.float32)
        lit = np.clip(1 - self.light * across, 0.08, 1) * (1 + 0.03 * np.sin(0.7 * n))
        colour = np.array(self.colour, np.float32).reshape(3, 1, 1) ** GAMMA
        cover, light = np.zeros((height, width), np.float32), np.zeros((3, height, width), np.float32)
        for k in range(TIMES):
            share, shade = self.shape((n + OPEN * k / TIMES) * self.speed, width, height)
            cover += share / TIMES
            light += share * np.clip(colour * (shade * lit) ** GAMMA, 0, 1) / TIMES
        return as_picture(np.clip(light + (1 - cover) * below * (lit**GAMMA if self.light else 1), 0, 1) ** (1 / GAMMA)), as_picture(cover)


CHINA = lambda frame, width, height: photograph("china.jpg", frame, width, height)  # noqa: E731
FLOWER = lambda frame, width, height: photograph("flower.jpg", frame, width, height)  # noqa: E731
DIM = room((0.42, 0.40, 0.44), (0.30, 0.24, 0.20), 0.25, ((0.35, 0.66, 0.09, (0.55, 0.30, 0.12)), (1.4, 0.6, 0.14, (0.25, 0.42, 0.30))))
GREY = room((0.58, 0.58, 0.60), (0.45, 0.42, 0.40), 0.2, ((0.42, 0.5, 0.12, (0.88, 0.45, 0.12)), (1.42, 0.42, 0.11, (0.85, 0.62, 0.16))))
SAND = room((0.72, 0.64, 0.50), (0.60, 0.52, 0.38), 0.25, ((0.4, 0.55, 0.12, (0.70, 0.42, 0.16)), (1.45, 0.5, 0.12, (0.62, 0.66, 0.20))))
TABLE = room((0.66, 0.62, 0.52), (0.45, 0.30, 0.18), 0.3, ((0.5, 0.62, 0.13, (0.82, 0.70, 0.20)), (1.35, 0.6, 0.12, (0.55, 0.16, 0.10))))

_WORKED_ON = {
    "skin": Laid(shapes.ball(0.17), (0.86, 0.62, 0.50), CHINA),
    "pastel cloth": Laid(shapes.cloth(0.55), (0.90, 0.72, 0.76), CHINA),
    "thin cyan": Laid(shapes.twigs(3), (0.20, 0.72, 0.76), FLOWER),
    "green in uneven light": Laid(shapes.ball(0.2), (0.25, 0.66, 0.28), DIM, light=0.45),
    "fast orange": Laid(shapes.ball(0.13), (0.92, 0.52, 0.14), DIM, speed=6),
    "red beside orange": Laid(shapes.star(0.2), (0.80, 0.14, 0.12), GREY),
}
_REPORTED = {
    "deep violet cloth": Laid(shapes.cloth(0.5), (0.34, 0.16, 0.46), DIM, light=0.3),
    "furry teal": Laid(shapes.fur(0.17), (0.12, 0.52, 0.50), CHINA),
    "hand": Laid(shapes.hand(0.34), (0.78, 0.54, 0.42), FLOWER),
    "pastel mint": Laid(shapes.cloth(0.45), (0.72, 0.88, 0.78), GREY),
    "fast magenta": Laid(shapes.star(0.14), (0.78, 0.16, 0.52), CHINA, speed=6),
    "fruit beside its like": Laid(shapes.ball(0.16), (0.93, 0.50, 0.12), TABLE, light=0.2),
}
_FRESH = {  # drawn after the method was done, and looked at once
    "mustard on sand": Laid(shapes.cloth(0.4), (0.78, 0.60, 0.12), SAND),
    "rose star": Laid(shapes.star(0.2), (0.86, 0.36, 0.48), FLOWER),
    "olive": Laid(shapes.hand(0.34), (0.42, 0.46, 0.16), CHINA, light=0.2),
    "sky-blue fur": Laid(shapes.fur(0.15), (0.45, 0.68, 0.88), GREY),
    "brown ball": Laid(shapes.ball(0.15), (0.46, 0.27, 0.14), FLOWER),
    "fast green": Laid(shapes.ball(0.11), (0.20, 0.62, 0.30), TABLE, speed=6),
}
CLIPS = (
    *(Clip(name, FRESH, laid.draw) for name, laid in _FRESH.items()),
    *(Clip(name, WORKED_ON, laid.draw) for name, laid in _WORKED_ON.items()),
    *(Clip(name, REPORTED, laid.draw) for name, laid in _REPORTED.items()),
)
