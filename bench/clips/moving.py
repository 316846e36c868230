"""Things that move through a shot, with their true mattes: what `bench/things.py` follows.

Two clips of each kind, one to work on and one to report: rigid, turning and growing, a figure that walks, like its ground, hidden for a while,
fast and blurred, crossing its like, dark, under a panning camera, with a furry edge. Grounds are scikit-learn's photographs and drawn rooms;
things have a texture of their own, laid on by the same rule as they move.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import cv2
import numpy as np

from bench.clips.clip import REPORTED, WORKED_ON
from bench.clips.composed import CHINA, DIM, FLOWER, GREY, SAND, TABLE, photograph
from wenditas.core.kernel import Floats, Matte, Picture, as_picture

OVER, SHIFT = 2, 4  # times the size at which outlines are drawn; binary places of their coordinates
HEIGHT, WIDTH = 540, 960
BLURRED = 5  # times that a thing is drawn within a frame where it is fast

Colour = tuple[float, float, float]
Part = tuple[Floats, Colour]  # an outline `(n, 2)` in heights of the frame, and its colour
Actor = Callable[[float], list[Part]]  # at a time in frames
Ground = Callable[[float, int, int], Floats]


@dataclass(frozen=True)
class Moving:
    """A clip. things: of which the first is followed; hides: what lies in front of it; shutter: share of a frame for which it is open."""

    name: str
    half: str
    ground: Ground
    thing: Actor
    others: tuple[Actor, ...] = ()
    hides: tuple[Actor, ...] = ()
    texture: float = 0.25
    fur: float = 0.0
    shutter: float = 0.0
    light: float = 1.0
    crf: int = 26

    def draw(self, count: int) -> tuple[list[Picture], list[Matte]]:
        """The frames and the coverage of the thing."""
        made = [self._frame(n) for n in range(count)]
        return [p for p, _ in made], [m for _, m in made]

    def _frame(self, n: int) -> tuple[Picture, Matte]:
        times = [n + self.shutter * k / BLURRED for k in range(BLURRED)] if self.shutter else [float(n)]
        frames = [self._moment(t, n) for t in times]
        picture = np.mean([p for p, _ in frames], axis=0) * self.light ** (1 / 2.4)
        return as_picture(np.clip(picture, 0, 1)), as_picture(np.mean([m for _, m in frames], axis=0))

    def _moment(self, t: float, n: int) -> tuple[Floats, Floats]:
        out, matte = np.array(self.ground(float(n), WIDTH, HEIGHT)), np.zeros((HEIGHT, WIDTH), np.float32)
        for actor in (*self.others, self.thing, *self.hides):
            parts = actor(t)
            middle = np.concatenate([outline for outline, _ in parts]).mean(axis=0)
            for outline, colour in parts:
                cover = _cover(_furry(outline, self.fur, t) if actor is self.thing and self.fur else outline)
                shade = _texture(middle, self.texture)
                out += (np.array(colour, np.float32).reshape(3, 1, 1) * shade - out) * cover
                matte = np.maximum(matte, cover) if actor is self.thing else matte * (1 - cover)
        return out, matte


def _cover(outline: Floats) -> Floats:
    canvas = np.zeros((HEIGHT * OVER, WIDTH * OVER), np.uint8)
    cv2.fillPoly(canvas, [np.round(outline * HEIGHT * OVER * 2**SHIFT).astype(np.int32)], 255, cv2.LINE_AA, SHIFT)
    return np.asarray(cv2.resize(canvas, (WIDTH, HEIGHT), interpolation=cv2.INTER_AREA), np.float32) / 255


_PATTERN = np.random.default_rng(11).normal(size=(256, 256)).astype(np.float32)
_PATTERN = cv2.GaussianBlur(_PATTERN, (0, 0), 2.5, borderType=cv2.BORDER_REFLECT)
_PATTERN /= _PATTERN.std() * 3


def _texture(middle: Floats, strength: float) -> Floats:
    """How light a thing is from place to place; it goes with its middle."""
    y, x = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    u, v = x - np.float32(middle[0] * HEIGHT), y - np.float32(middle[1] * HEIGHT)
    told = cv2.remap(_PATTERN, np.mod(u, 255), np.mod(v, 255), cv2.INTER_LINEAR)
    return np.clip(1 + strength * told - 0.25 * v / HEIGHT, 0.2, 1.4)


def _furry(outline: Floats, length: float, t: float) -> Floats:
    """An outline with hairs: every other point further out, swaying."""
    dense = _dense(outline, 240)
    middle = dense.mean(axis=0)
    out = 1 + length * (np.arange(len(dense)) % 2) * (0.7 + 0.3 * np.sin(np.arange(len(dense)) * 1.7 + 0.4 * t))
    return middle + (dense - middle) * out[:, None]


def _dense(outline: Floats, count: int) -> Floats:
    closed = np.concatenate([outline, outline[:1]])
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    at = np.linspace(0, along[-1], count, endpoint=False)
    return np.stack([np.interp(at, along, closed[:, k]) for k in range(2)], axis=1)


def _ellipse(x: float, y: float, a: float, b: float, turn: float = 0.0) -> Floats:
    angle = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([a * np.cos(angle), b * np.sin(angle)], axis=1) @ np.array([[c, s], [-s, c]]) + (x, y)


def _limb(points: Sequence[tuple[float, float]], width: float) -> list[Floats]:
    """A limb of straight pieces with round ends."""
    out = []
    for (ax, ay), (bx, by) in pairwise(points):
        along = np.hypot(bx - ax, by - ay)
        turn = float(np.arctan2(by - ay, bx - ax))
        out.append(_ellipse((ax + bx) / 2, (ay + by) / 2, along / 2 + width / 2, width / 2, turn))
    return out


def slab(size: float, colour: Colour, at: tuple[float, float], speed: tuple[float, float], turn: float = 0.0, grow: float = 0.0, sides: int = 5) -> Actor:
    """A many-sided thing that goes its way, turning and growing."""

    def actor(t: float) -> list[Part]:
        angle = np.linspace(0, 2 * np.pi, sides, endpoint=False) + turn * t
        radius = size * (1 + grow * t)
        x, y = at[0] + speed[0] * t, at[1] + speed[1] * t + 0.015 * np.sin(0.21 * t)
        return [(np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1), colour)]

    return actor


def figure(size: float, jacket: Colour, trousers: Colour, at: tuple[float, float], speed: float, gait: float = 0.35) -> Actor:
    """A figure that walks: legs and arms swing, the head nods."""

    def actor(t: float) -> list[Part]:
        x, y, swing = at[0] + speed * t, at[1] + 0.01 * size * np.sin(2 * gait * t), np.sin(gait * t)
        parts: list[Part] = []
        for side in (-1, 1):
            a = 0.55 * side * swing
            knee = (x + size * 0.24 * np.sin(a), y + size * (0.18 + 0.22 * np.cos(a)))
            bend = a - 0.5 * max(0.0, -side * np.cos(gait * t))
            parts += [
                (limb, trousers)
                for limb in _limb([(x, y + size * 0.16), knee, (knee[0] + size * 0.24 * np.sin(bend), knee[1] + size * 0.24 * np.cos(bend))], size * 0.1)
            ]
        parts.append((_ellipse(x, y, size * 0.13, size * 0.24), jacket))
        for side in (-1, 1):
            a = -0.7 * side * swing
            hand = (x + size * 0.27 * np.sin(a), y - size * 0.14 + size * 0.27 * np.cos(a))
            parts += [(limb, jacket) for limb in _limb([(x, y - size * 0.16), hand], size * 0.07)]
        parts.append((_ellipse(x + 0.01 * size * swing, y - size * 0.33, size * 0.085, size * 0.1), (0.80, 0.60, 0.48)))
        return parts

    return actor


def post(x: float, width: float, colour: Colour) -> Actor:
    """Something upright that stands in front."""
    outline = np.array([(x - width / 2, -0.1), (x + width / 2, -0.1), (x + width / 2, 1.1), (x - width / 2, 1.1)])
    return lambda t: [(outline, colour)]


def panned(name: str, across: float, down: float) -> Ground:
    """A photograph under a camera that pans fast."""
    return lambda frame, width, height: photograph(name, across * frame, width, height) if not down else photograph(name, across * frame + down, width, height)


_RED, _YELLOW, _BLUE, _GREEN, _BROWN, _GREY, _TEAL = (
    (0.78, 0.16, 0.13), (0.90, 0.74, 0.15), (0.16, 0.30, 0.66), (0.24, 0.55, 0.26), (0.45, 0.30, 0.18), (0.52, 0.52, 0.54), (0.10, 0.50, 0.48),
)  # fmt: skip

_DARK = (0.2, 0.2, 0.3)  # trousers

MOVING: tuple[Moving, ...] = (
    Moving("rigid", WORKED_ON, CHINA, slab(0.13, _RED, (0.5, 0.5), (0.008, 0.001))),
    Moving("rigid, 2", REPORTED, FLOWER, slab(0.15, _BLUE, (1.25, 0.45), (-0.008, 0.002), sides=7)),
    Moving("turning and growing", WORKED_ON, FLOWER, slab(0.1, _TEAL, (0.6, 0.5), (0.006, 0), turn=0.03, grow=0.012, sides=4)),
    Moving("turning and growing, 2", REPORTED, CHINA, slab(0.16, _YELLOW, (1.1, 0.55), (-0.005, -0.001), turn=-0.04, grow=-0.004, sides=3)),
    Moving("walking", WORKED_ON, CHINA, figure(0.6, _YELLOW, (0.20, 0.22, 0.35), (0.5, 0.48), 0.008)),
    Moving("walking, 2", REPORTED, SAND, figure(0.55, _RED, (0.26, 0.22, 0.20), (1.2, 0.5), -0.007, gait=0.28)),
    Moving("like its ground", WORKED_ON, DIM, slab(0.14, (0.46, 0.43, 0.47), (0.6, 0.42), (0.006, 0), turn=0.01, sides=5), texture=0.5),
    Moving("like its ground, 2", REPORTED, SAND, slab(0.13, (0.66, 0.58, 0.45), (1.1, 0.45), (-0.006, 0.001), turn=0.01, sides=6), texture=0.5),
    Moving("hidden for a while", WORKED_ON, GREY, slab(0.1, _GREEN, (0.35, 0.5), (0.014, 0), sides=6), hides=(post(0.85, 0.28, (0.35, 0.30, 0.26)),)),
    Moving("hidden for a while, 2", REPORTED, CHINA, figure(0.5, _BLUE, (0.3, 0.24, 0.2), (0.4, 0.55), 0.013), hides=(post(0.95, 0.34, _BROWN),)),
    Moving("fast and blurred", WORKED_ON, DIM, slab(0.1, (0.92, 0.52, 0.14), (0.25, 0.4), (0.02, 0.003), turn=0.02), shutter=0.8),
    Moving("fast and blurred, 2", REPORTED, FLOWER, slab(0.1, (0.75, 0.15, 0.5), (1.6, 0.35), (-0.019, 0.004), turn=0.03, sides=4), shutter=0.8),
    Moving("crossing its like", WORKED_ON, GREY, figure(0.5, _RED, _DARK, (0.4, 0.5), 0.012), others=(figure(0.5, _RED, _DARK, (1.35, 0.5), -0.012),)),
    Moving("crossing its like, 2", REPORTED, TABLE, slab(0.11, _BLUE, (0.4, 0.45), (0.013, 0.001)), others=(slab(0.11, _BLUE, (1.35, 0.5), (-0.012, 0)),)),
    Moving("dark", WORKED_ON, CHINA, figure(0.55, _YELLOW, (0.2, 0.2, 0.3), (0.5, 0.5), 0.007), light=0.2, crf=32),
    Moving("dark, 2", REPORTED, TABLE, slab(0.14, _GREEN, (1.15, 0.45), (-0.007, 0.001), turn=0.015), light=0.2, crf=32),
    Moving("panning camera", WORKED_ON, panned("china.jpg", 2.4, 0), figure(0.5, _TEAL, (0.3, 0.26, 0.2), (0.9, 0.52), -0.002)),
    Moving("panning camera, 2", REPORTED, panned("flower.jpg", 2.2, 0), slab(0.13, (0.85, 0.8, 0.75), (0.7, 0.5), (0.003, 0), turn=0.01)),
    Moving("furry", WORKED_ON, SAND, slab(0.14, _BROWN, (0.55, 0.5), (0.007, 0), sides=16), fur=0.16),
    Moving("furry, 2", REPORTED, GREY, slab(0.13, (0.16, 0.16, 0.18), (1.2, 0.5), (-0.007, 0), sides=16), fur=0.18),
)  # fmt: skip
