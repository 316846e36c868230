"""The shapes of things: where they are at a time, antialiased, and how they are shaded."""

from collections.abc import Callable

import cv2
import numpy as np

from wenditas.core.kernel import Floats

Shape = Callable[[float, int, int], tuple[Floats, Floats]]  # time in frames, width, height: coverage and shade, each `(h, w)`
OVER = 2  # times the size at which outlines are drawn


def _places(width: int, height: int) -> tuple[Floats, Floats]:
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    return (x + 0.5) / height, (y + 0.5) / height  # in heights


def _filled(outlines: list[Floats], width: int, height: int) -> Floats:
    """Polygons in heights, filled."""
    canvas = np.zeros((height * OVER, width * OVER), np.uint8)
    points = [np.round(outline * height * OVER * 16).astype(np.int32) for outline in outlines]
    cv2.fillPoly(canvas, points, 255, cv2.LINE_AA, 4)
    return cv2.resize(canvas, (width, height), interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def _middle(t: float, width: int, height: int) -> tuple[float, float]:
    """Where a thing is: it goes across, up and down."""
    return 0.5 * width / height + 0.012 * (t - 3), 0.48 + 0.03 * np.sin(0.35 * t)


def ball(radius: float) -> Shape:
    """A ball, lit from above on the left."""

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        x, y = _places(width, height)
        cx, cy = _middle(t, width, height)
        dx, dy = (x - cx) / radius, (y - cy) / radius
        apart = np.hypot(dx, dy)
        z = np.sqrt(np.maximum(1 - apart**2, 0))
        shade = np.clip(0.35 + 0.75 * np.maximum(-0.5 * dx - 0.6 * dy + 0.62 * z, 0), 0, 1.15)
        return np.clip((1 - apart) * radius * height + 0.5, 0, 1), shade

    return shape


def cloth(size: float) -> Shape:
    """A hanging cloth with folds and a waving edge."""

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        cx, cy = _middle(t, width, height)
        u = np.linspace(0, 1, 60)
        wave = 0.03 * np.sin(9 * u + 0.3 * t)
        top = np.stack([cx + size * (u - 0.5), cy - 0.45 * size + 0.3 * wave], 1)
        bottom = np.stack([cx + size * (u - 0.5) + 0.02 * np.sin(0.3 * t), cy + 0.45 * size + wave], 1)[::-1]
        x, y = _places(width, height)
        folds = 0.78 + 0.2 * np.sin(34 * (x - cx) + 2 * np.sin(5 * y) + 0.2 * t) + 0.03 * np.sin(240 * (x - cx)) * np.sin(240 * (y - cy))
        return _filled([np.concatenate([top, bottom])], width, height), folds.astype(np.float32)

    return shape


def star(radius: float) -> Shape:
    """A turning star."""

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        cx, cy = _middle(t, width, height)
        angles = np.arange(10) * np.pi / 5 + 0.05 * t
        reach = radius * np.where(np.arange(10) % 2, 0.5, 1)
        x, y = _places(width, height)
        shade = np.clip(0.9 - 0.9 * (y - cy) + 0.5 * (x - cx), 0.35, 1.1)
        return _filled([np.stack([cx + reach * np.cos(angles), cy + reach * np.sin(angles)], 1)], width, height), shade

    return shape


def hand(size: float) -> Shape:
    """A palm and five fingers."""

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        cx, cy = _middle(t, width, height)
        x, y = _places(width, height)
        apart = np.hypot((x - cx) / 1.0, y - cy) - 0.36 * size
        for k, angle in enumerate(np.radians([-160, -118, -95, -72, -50]) + 0.04 * np.sin(0.4 * t)):
            length = size * (0.62, 0.82, 0.9, 0.85, 0.7)[k]
            along = np.clip((x - cx) * np.cos(angle) + (y - cy) * np.sin(angle), 0, length)
            apart = np.minimum(apart, np.hypot(x - cx - along * np.cos(angle), y - cy - along * np.sin(angle)) - 0.085 * size)
        shade = np.clip(0.9 - 1.2 * (x - cx) - 0.5 * (y - cy) + np.clip(apart / 0.03, -1, 0) * -0.12, 0.35, 1.1)
        return np.clip(0.5 - apart * height, 0, 1), shade.astype(np.float32)

    return shape


def _strands(t: float, width: int, height: int, strands: list[tuple[Floats, float]]) -> Floats:
    """Lines in heights, each with its width in heights."""
    canvas = np.zeros((height * OVER, width * OVER), np.uint8)
    for points, thick in strands:
        drawn = np.round(points * height * OVER * 16).astype(np.int32)
        cv2.polylines(canvas, [drawn], False, 255, max(1, round(thick * height * OVER)), cv2.LINE_AA, 4)
    return cv2.resize(canvas, (width, height), interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def twigs(seed: int) -> Shape:
    """Thin branches that sway: 2 to 6 pixels of 540 lines."""
    dice = np.random.default_rng(seed)
    bends = dice.uniform(-0.12, 0.12, (14, 2))
    starts = dice.uniform(-0.3, 0.3, 14)

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        cx, cy = _middle(t, width, height)
        u = np.linspace(0, 1, 20)
        strands = []
        for k, ((bend, sway), start) in enumerate(zip(bends, starts, strict=True)):
            lean = start + bend * u**2 * 2 + sway * 0.3 * np.sin(0.3 * t + k) * u
            strands.append((np.stack([cx + lean, cy + 0.35 - 0.7 * u], 1), (2 + k % 5) / 540))
        x, y = _places(width, height)
        return _strands(t, width, height, strands), np.clip(0.95 - 0.5 * (y - cy) + 0 * x, 0.4, 1.1)

    return shape


def fur(radius: float) -> Shape:
    """A ball with hair of one to two pixels."""
    dice = np.random.default_rng(8)
    hair = dice.uniform(0, 1, (420, 3))
    body = ball(radius)

    def shape(t: float, width: int, height: int) -> tuple[Floats, Floats]:
        cx, cy = _middle(t, width, height)
        cover, shade = body(t, width, height)
        strands = []
        for turn, length, bend in hair:
            angle = 2 * np.pi * turn
            out = np.array([np.cos(angle), np.sin(angle)])
            side = np.array([-out[1], out[0]]) * (bend - 0.5) * 0.06
            base = np.array([cx, cy]) + out * radius * 0.96
            u = np.linspace(0, 1, 6)[:, None]
            strands.append((base + out * u * (0.02 + 0.05 * length) + side * u**2, (0.7 + bend) / 540))
        return np.maximum(cover, _strands(t, width, height, strands)), np.maximum(shade, 0.45)

    return shape
