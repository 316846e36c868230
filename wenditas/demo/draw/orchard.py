"""Shot 6, the orchard: a path under trees, in daylight, with no sky in frame."""

import numpy as np
import skia

from wenditas.demo.draw.paint import Colour, fill, glow, gradient, layer, mix, polygon, shade, stroke, texture, tree, vignette

WIDTH, HEIGHT, FRAMES = 1280, 720, 96
LEAVES: tuple[Colour, ...] = ((0.42, 0.50, 0.16), (0.62, 0.55, 0.14), (0.70, 0.42, 0.13), (0.34, 0.46, 0.20))


class OrchardShot:
    """Draws any frame of the shot: ground and hedge once, trees in two layers that part as the camera moves."""

    def __init__(self) -> None:
        self.ground = layer(WIDTH + 80, HEIGHT, self._ground)
        self.far = layer(WIDTH + 80, HEIGHT, lambda c: self._trees(c, 61, range(-60, WIDTH + 120, 118), 318, 250))
        self.near = layer(WIDTH + 200, HEIGHT, self._near)

    def _ground(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(53)
        canvas.drawPaint(gradient((0, 0), (0, 340), [(0.20, 0.27, 0.14), (0.30, 0.37, 0.17)]))
        for _ in range(900):  # a hedge of leaves behind everything
            x, y = rng.uniform(0, WIDTH + 80), rng.uniform(-10, 330)
            tone = shade(LEAVES[int(rng.integers(4))], rng.uniform(0.45, 1.05))
            canvas.drawOval(skia.Rect.MakeXYWH(x, y, rng.uniform(14, 40), rng.uniform(10, 26)), fill(tone, 0.75))
        canvas.drawRect(
            skia.Rect.MakeXYWH(0, 300, WIDTH + 80, 420), gradient((0, 300), (0, HEIGHT), [(0.42, 0.46, 0.20), (0.36, 0.41, 0.17), (0.20, 0.24, 0.10)])
        )
        for _ in range(1500):
            y = 302 + 418 * rng.uniform(0, 1) ** 1.6
            x, long = rng.uniform(0, WIDTH + 80), (y - 280) / 16
            tone = mix((0.30, 0.36, 0.14), (0.58, 0.58, 0.26), rng.uniform())
            canvas.drawLine(x, y, x + rng.uniform(-0.4, 0.4) * long, y - long, stroke(tone, 1.2 + (y - 300) / 240, 0.7))
        path = skia.Path()
        path.moveTo(640, 304)
        path.lineTo(700, 304)
        path.cubicTo(760, 430, 830, 560, 1000, HEIGHT)
        path.lineTo(360, HEIGHT)
        path.cubicTo(520, 560, 600, 430, 640, 304)
        path.close()
        canvas.drawPath(path, gradient((0, 300), (0, HEIGHT), [(0.66, 0.57, 0.42), (0.58, 0.48, 0.34), (0.42, 0.34, 0.24)]))
        canvas.save()
        canvas.clipPath(path, True)
        texture(canvas, skia.Rect.MakeXYWH(300, 300, 760, 420), 0.5, 5, (0.03, 0.09))
        canvas.restore()
        for _ in range(260):  # fallen leaves and apples
            y = 320 + 390 * rng.uniform(0, 1) ** 1.3
            x, r = rng.uniform(0, WIDTH + 80), 1.5 + (y - 300) / 110
            tone = (0.72, 0.16, 0.10) if rng.uniform() < 0.35 else (0.82, 0.56, 0.16)
            canvas.drawOval(skia.Rect.MakeXYWH(x, y, 2.2 * r, 1.5 * r), fill(shade(tone, rng.uniform(0.7, 1.1)), 0.9))

    def _trees(self, canvas: skia.Canvas, seed: int, places: range, base: float, size: float) -> None:
        rng = np.random.default_rng(seed)
        for x in places:
            if abs(x - 670) > 90:
                tree(canvas, x + rng.uniform(-20, 20), base + rng.uniform(-8, 22), size * rng.uniform(0.9, 1.15), LEAVES[int(rng.integers(4))], rng)

    def _near(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(71)
        for x, base, size in ((120, 560, 500), (1190, 590, 540), (372, 452, 380), (1000, 460, 390)):
            tree(canvas, x, base, size, LEAVES[int(rng.integers(3))], rng)
            for _ in range(16):
                ax, ay = x + rng.uniform(-0.36, 0.36) * size, base - size * rng.uniform(0.5, 1.05)
                canvas.drawCircle(ax, ay, size / 52, gradient((ax - 6, ay - 7), (ax + 7, ay + 8), [(0.96, 0.42, 0.28), (0.78, 0.12, 0.09), (0.34, 0.04, 0.04)]))
        for _ in range(1300):  # boughs across the top, so that no sky is seen
            along, y = rng.uniform(0, WIDTH + 200), rng.uniform(-30, 1) ** 2 / 9
            tone = shade(LEAVES[int(rng.integers(4))], rng.uniform(0.4, 1.15))
            canvas.drawOval(skia.Rect.MakeXYWH(along, y, rng.uniform(16, 46), rng.uniform(10, 26)), fill(tone, 0.85))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        move = frame / FRAMES
        canvas.drawImage(self.ground, -40 - 14 * move, 0)
        canvas.drawImage(self.far, -40 - 24 * move, 0)
        self._walker(canvas, frame)
        canvas.drawImage(self.near, -60 - 70 * move, 0)
        self._light(canvas, frame)
        vignette(canvas, WIDTH, HEIGHT)

    def _light(self, canvas: skia.Canvas, frame: int) -> None:
        """Spots of sun on the ground and shafts through the leaves."""
        rng = np.random.default_rng(83)
        for n in range(60):
            y = 330 + 370 * rng.uniform(0, 1)
            x, r = rng.uniform(0, WIDTH) + 5 * np.sin(frame / 11 + n), 6 + (y - 300) / 16
            light = 0.20 * max(0.0, 0.6 + 0.4 * np.sin(frame / 13 + n * 1.9))
            canvas.drawOval(skia.Rect.MakeXYWH(x, y, 2.6 * r, 0.9 * r), fill((1, 0.93, 0.62), light, r * 0.35, skia.BlendMode.kScreen))
        for n, x in enumerate((240, 520, 860)):
            lean = 8 * np.sin(frame / 29 + n)
            shaft = polygon([(x + lean, -20), (x + 64 + lean, -20), (x - 130, 640), (x - 290, 640)])
            canvas.drawPath(shaft, fill((1, 0.92, 0.66), 0.085, 16, skia.BlendMode.kScreen))
        canvas.drawPaint(glow((420, 40), 700, [(1, 0.94, 0.7), (1, 0.9, 0.6)], [0.14, 0]))

    def _walker(self, canvas: skia.Canvas, frame: int) -> None:
        """A figure with a red scarf and a lantern, going down the path towards the camera."""
        near = 0.62 + 0.55 * frame / FRAMES
        x, base, step = 676 + 18 * near + 3 * np.sin(frame / 4), 330 + 190 * near, np.sin(frame / 3.2)
        canvas.save()
        canvas.translate(x, base)
        canvas.scale(near, near)
        canvas.drawOval(skia.Rect.MakeXYWH(-60, -10, 120, 22), fill((0.06, 0.08, 0.03), 0.45, 7))
        for side in (-1, 1):
            canvas.drawLine(side * 8, -70, side * 10 + side * 14 * step, -2, stroke((0.18, 0.15, 0.13), 14))
        canvas.drawPath(
            polygon([(-26, -170), (26, -170), (40, -58), (-40, -58)]), gradient((-40, 0), (40, 0), [(0.50, 0.44, 0.36), (0.36, 0.31, 0.25), (0.20, 0.17, 0.14)])
        )
        canvas.drawLine(24, -158, 50, -104, stroke((0.34, 0.29, 0.24), 13))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(42, -104, 20, 30), 3, 3, fill((0.96, 0.82, 0.42)))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(42, -104, 20, 30), 3, 3, stroke((0.16, 0.13, 0.10), 3))
        canvas.drawCircle(0, -194, 19, gradient((-16, -206), (18, -182), [(0.86, 0.66, 0.52), (0.50, 0.34, 0.26)]))
        canvas.drawPath(
            polygon([(-24, -180), (24, -180), (30, -156), (8 + 6 * step, -120), (-4, -156), (-28, -158)]),
            gradient((0, -182), (0, -120), [(0.86, 0.16, 0.12), (0.56, 0.07, 0.06)]),
        )
        canvas.drawPath(polygon([(-24, -200), (24, -200), (16, -222), (-16, -222)]), fill((0.22, 0.19, 0.16)))
        canvas.restore()
