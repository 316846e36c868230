"""Shot 4, the pottery: a kiln fired at night, pots glowing in its mouth."""

import numpy as np
import skia

from wenditas.demo.draw.paint import Colour, fill, glow, gradient, layer, mix, polygon, shade, stroke, texture, vignette

WIDTH, HEIGHT, FRAMES = 1280, 720, 96
MOUTH = (470.0, 210.0, 380.0, 350.0)  # x, y, width, height of the arch
FIRE: tuple[Colour, ...] = ((1.0, 0.96, 0.78), (1.0, 0.78, 0.30), (0.96, 0.44, 0.10), (0.58, 0.12, 0.05))
POTS = ((540, 548, 62, 104), (628, 556, 78, 132), (716, 552, 66, 96), (790, 548, 50, 120))


def _arch(grow: float = 0) -> skia.Path:
    x, y, w, h = MOUTH
    path = skia.Path()
    path.moveTo(x - grow, y + h)
    path.lineTo(x - grow, y + h * 0.45)
    path.cubicTo(x - grow, y - h * 0.18 - grow, x + w + grow, y - h * 0.18 - grow, x + w + grow, y + h * 0.45)
    path.lineTo(x + w + grow, y + h)
    path.close()
    return path


def _pot(x: float, base: float, width: float, height: float) -> skia.Path:
    """A thrown pot: foot, belly, neck and lip."""
    path = skia.Path()
    path.moveTo(x - width * 0.28, base)
    path.cubicTo(x - width * 0.72, base - height * 0.40, x - width * 0.55, base - height * 0.74, x - width * 0.22, base - height * 0.84)
    path.lineTo(x - width * 0.32, base - height)
    path.lineTo(x + width * 0.32, base - height)
    path.lineTo(x + width * 0.22, base - height * 0.84)
    path.cubicTo(x + width * 0.55, base - height * 0.74, x + width * 0.72, base - height * 0.40, x + width * 0.28, base)
    path.close()
    return path


class KilnShot:
    """Draws any frame of the shot; the room is drawn once."""

    def __init__(self) -> None:
        self.room = layer(WIDTH, HEIGHT, self._room)

    def _room(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(31)
        canvas.drawPaint(gradient((0, 0), (0, HEIGHT), [(0.055, 0.06, 0.085), (0.10, 0.09, 0.10), (0.07, 0.06, 0.06)]))
        for row in range(26):
            for x in np.arange(-40 + (row % 2) * 34, WIDTH, 68):
                y = row * 23
                far = np.hypot(x + 34 - 660, y + 11 - 400) / 520
                lit = mix((0.44, 0.23, 0.13), (0.09, 0.085, 0.10), min(float(far), 1))
                brick = shade(lit, rng.uniform(0.78, 1.16))
                area = skia.Rect.MakeXYWH(float(x) + 2, y + 2, 64, 19)
                canvas.drawRoundRect(area, 3, 3, gradient((float(x), y), (float(x) + 40, y + 22), [shade(brick, 1.15), shade(brick, 0.72)]))
        texture(canvas, skia.Rect.MakeWH(WIDTH, 600), 0.35, 7, (0.02, 0.03))
        canvas.drawRect(skia.Rect.MakeXYWH(0, 590, WIDTH, 130), gradient((0, 590), (0, HEIGHT), [(0.20, 0.13, 0.10), (0.07, 0.06, 0.06)]))
        texture(canvas, skia.Rect.MakeXYWH(0, 590, WIDTH, 130), 0.4, 3, (0.01, 0.06))
        for n in range(15):  # the ring of stones round the mouth
            turn = np.pi * (1 + n / 14)
            cx, cy = 660 + 232 * np.cos(turn), 372 + 216 * np.sin(turn)
            canvas.save()
            canvas.translate(cx, cy)
            canvas.rotate(float(np.degrees(turn)) + 90)
            tone = shade((0.40, 0.28, 0.20), rng.uniform(0.75, 1.1))
            canvas.drawRoundRect(skia.Rect.MakeXYWH(-26, -26, 50, 54), 5, 5, gradient((0, -26), (0, 28), [shade(tone, 0.5), shade(tone, 1.35)]))
            canvas.restore()
        for n, left in enumerate((90, 186, 300, 1010, 1120, 1216)):  # shelves with cold pots
            canvas.drawRect(skia.Rect.MakeXYWH(left - 74, 322, 148, 12), fill((0.12, 0.085, 0.07)))
            clay = mix((0.30, 0.22, 0.19), (0.20, 0.22, 0.26), n / 6)
            path = _pot(left, 322, 70, 92 + 14 * (n % 3))
            canvas.drawPath(
                path, gradient((left - 40, 0), (left + 40, 0), [shade(clay, 1.3 if left < 660 else 0.4), clay, shade(clay, 0.4 if left < 660 else 1.3)])
            )

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        flicker = 1 + 0.05 * np.sin(frame / 2.3) + 0.04 * np.sin(frame / 1.1 + 1)
        canvas.drawImage(self.room, 0, 0)
        canvas.save()
        canvas.clipPath(_arch(), True)
        canvas.drawPaint(gradient((0, 180), (0, 570), [shade(FIRE[3], 0.6), FIRE[3], FIRE[2]]))
        self._flames(canvas, frame)
        for n, (x, base, width, height) in enumerate(POTS):
            path = _pot(x, base, width, height)
            heat = 0.5 + 0.5 * np.sin(frame / 9 + n)
            low, high = mix((0.35, 0.09, 0.05), (0.62, 0.20, 0.06), heat), mix((0.95, 0.50, 0.14), (1.0, 0.80, 0.36), heat)
            canvas.drawPath(path, gradient((x - width / 2, base), (x + width / 2, base - height), [shade(low, 0.7), low, high]))
            canvas.drawPath(path, stroke((1, 0.86, 0.5), 2.2, 0.75, 1.2))
        canvas.drawRect(skia.Rect.MakeXYWH(460, 540, 400, 34), gradient((0, 540), (0, 574), [(0.98, 0.62, 0.2), (0.5, 0.12, 0.04)]))
        canvas.restore()
        canvas.drawPaint(glow((660, 420), 560, [(1, 0.55, 0.18), (1, 0.4, 0.1)], [0.26 * flicker, 0]))
        self._sparks(canvas, frame)
        self._potter(canvas, frame)
        vignette(canvas, WIDTH, HEIGHT)

    def _flames(self, canvas: skia.Canvas, frame: int) -> None:
        for layer_number, (colour, reach) in enumerate(((FIRE[2], 300), (FIRE[1], 220), (FIRE[0], 120))):
            for n in range(9):
                x = 478 + n * 46 + 10 * np.sin(frame / 5 + n * 2 + layer_number)
                tall = reach * (0.62 + 0.38 * np.sin(frame / 4.3 + n * 1.7 + layer_number * 2.2))
                lean = 26 * np.sin(frame / 6.1 + n)
                path = skia.Path()
                path.moveTo(x - 34, 566)
                path.cubicTo(x - 40, 566 - tall * 0.5, x + lean - 12, 566 - tall * 0.7, x + lean, 566 - tall)
                path.cubicTo(x + lean + 14, 566 - tall * 0.6, x + 44, 566 - tall * 0.4, x + 34, 566)
                path.close()
                canvas.drawPath(path, fill(colour, 0.5, 9))

    def _sparks(self, canvas: skia.Canvas, frame: int) -> None:
        rng = np.random.default_rng(5)
        for _ in range(46):
            start, speed, x, sway = rng.uniform(0, 60), rng.uniform(3, 8), rng.uniform(500, 820), rng.uniform(6, 30)
            age = (frame + start) % 60
            y = 540 - age * speed
            px = x + sway * np.sin(age / 7 + x)
            canvas.drawCircle(px, y, 1.1 + 1.6 * (1 - age / 60), fill((1, 0.75, 0.35), max(0.0, 0.95 - age / 60), 0.8))

    def _potter(self, canvas: skia.Canvas, frame: int) -> None:
        """A figure at the right, dark against the fire, raking it with a long rod."""
        sway = 9 * np.sin(frame / 15)
        rim: Colour = (0.92, 0.42, 0.14)
        canvas.drawLine(986 + sway, 470, 846 + sway * 1.8, 520, stroke((0.10, 0.09, 0.09), 7))
        for side in (-1, 1):
            canvas.drawLine(1010 + side * 14, 560, 1008 + side * 26, 702, stroke((0.045, 0.04, 0.05), 30))
        body = polygon([(966 + sway * 0.6, 388), (1052 + sway * 0.6, 396), (1062, 586), (970, 586)])
        canvas.drawPath(body, gradient((964, 0), (1060, 0), [(0.42, 0.17, 0.09), (0.12, 0.08, 0.08), (0.045, 0.04, 0.05)], [0, 0.25, 1]))
        canvas.drawLine(976 + sway * 0.6, 412, 984 + sway, 472, stroke((0.30, 0.13, 0.08), 22))
        canvas.drawCircle(
            1006 + sway, 358, 30, gradient((974 + sway, 350), (1036 + sway, 366), [(0.72, 0.33, 0.17), (0.16, 0.10, 0.09), (0.06, 0.05, 0.06)], [0, 0.35, 1])
        )
        canvas.drawPath(polygon([(974 + sway, 352), (1040 + sway, 348), (1034 + sway, 322), (982 + sway, 324)]), fill((0.07, 0.06, 0.07)))
        canvas.drawLine(967 + sway * 0.6, 392, 971, 584, stroke(rim, 3, 0.8, 1.5))
