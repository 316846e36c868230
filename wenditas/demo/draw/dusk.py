"""Shot 7, the hill at dusk: a smooth sky over the town, the tram's lights climbing."""

import numpy as np
import skia

from wenditas.demo.draw.paint import Point, fill, glow, gradient, layer, polygon, shade, stroke

WIDTH, HEIGHT, FRAMES = 1280, 720, 96
NOISE = 0.0015  # hardly any: a smooth sky shows the steps of eight bits
TRACK: tuple[Point, Point] = ((120, 640), (1010, 402))


class DuskShot:
    """Draws any frame of the shot; the town is drawn once."""

    def __init__(self) -> None:
        self.town = layer(WIDTH, HEIGHT, self._town)
        self.hills = layer(WIDTH, HEIGHT, self._hills)

    def _hills(self, canvas: skia.Canvas) -> None:
        for n, (base, rise, tone) in enumerate(((430, 60, (0.30, 0.22, 0.33)), (480, 84, (0.20, 0.155, 0.25)), (556, 108, (0.115, 0.095, 0.16)))):
            path = skia.Path()
            path.moveTo(0, HEIGHT)
            for x in range(0, WIDTH + 40, 40):
                path.lineTo(x, base - rise * np.sin(x / (330 - 60 * n) + n * 1.9) - 0.10 * x * (n == 2))
            path.lineTo(WIDTH, HEIGHT)
            path.close()
            canvas.drawPath(path, gradient((0, base - rise), (0, HEIGHT), [tone, shade(tone, 0.55)]))

    def _town(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(97)
        for x in range(360, 1200, 46):
            foot = 640 - (x - 120) * 0.268 + rng.uniform(-6, 30)
            wide, tall = rng.uniform(34, 56), rng.uniform(46, 118)
            tone = shade((0.085, 0.07, 0.115), rng.uniform(0.7, 1.25))
            canvas.drawRect(
                skia.Rect.MakeXYWH(x, foot - tall, wide, tall + 180), gradient((x, foot - tall), (x + wide, foot), [shade(tone, 1.5), shade(tone, 0.7)])
            )
            canvas.drawPath(
                polygon([(x - 5, foot - tall + 1), (x + wide / 2, foot - tall - wide * 0.5), (x + wide + 5, foot - tall + 1)]), fill(shade(tone, 0.8))
            )
            for _ in range(int(rng.integers(0, 4))):
                wx, wy = x + rng.uniform(5, wide - 12), foot - tall + rng.uniform(8, tall - 14)
                canvas.drawRect(skia.Rect.MakeXYWH(wx, wy, 7, 10), fill((0.98, 0.78, 0.40)))
                canvas.drawRect(skia.Rect.MakeXYWH(wx - 2, wy - 2, 11, 14), fill((1, 0.7, 0.3), 0.3, 4))
        tower = skia.Rect.MakeXYWH(866, 214, 54, 260)
        canvas.drawRect(tower, gradient((866, 0), (920, 0), [(0.17, 0.12, 0.17), (0.06, 0.05, 0.09)]))
        canvas.drawPath(polygon([(858, 216), (928, 216), (893, 128)]), fill((0.07, 0.055, 0.09)))
        canvas.drawCircle(893, 262, 15, fill((0.96, 0.84, 0.58)))
        slope = polygon([(0, 694), (WIDTH, 348), (WIDTH, HEIGHT), (0, HEIGHT)])
        canvas.drawPath(slope, gradient((600, 480), (700, 740), [(0.075, 0.062, 0.105), (0.03, 0.026, 0.045)]))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        low = frame / FRAMES * 10
        sky = [(0.16, 0.20, 0.36), (0.32, 0.29, 0.45), (0.60, 0.40, 0.47), (0.87, 0.54, 0.40), (0.97, 0.75, 0.48)]
        canvas.drawPaint(gradient((0, -30), (0, 470 + low), sky, [0, 0.32, 0.6, 0.84, 1]))
        canvas.drawPaint(glow((330, 440 + low), 560, [(1, 0.80, 0.50), (0.95, 0.5, 0.35)], [0.55, 0]))
        canvas.drawCircle(330, 424 + low * 2, 30, fill((1, 0.93, 0.74), 0.95, 3))
        for n in range(4):  # long thin clouds that drift
            x, y = (n * 390 + frame * (0.5 + 0.2 * n)) % 1700 - 260, 92 + n * 66
            path = skia.Path()
            path.addOval(skia.Rect.MakeXYWH(x, y, 420 - 40 * n, 13 + 3 * n))
            canvas.drawPath(path, fill((0.96, 0.60, 0.48), 0.28, 9))
        canvas.drawImage(self.hills, 0, 0)
        canvas.drawImage(self.town, 0, 0)
        self._tram(canvas, frame)
        for n in range(5):  # birds
            t = frame / 4 + n
            x, y, flap = 180 + n * 34 + frame * 2.2, 190 + 22 * np.sin(n * 2.1) - frame * 0.3, 7 * np.sin(t)
            canvas.drawLine(x - 11, y - flap, x, y, stroke((0.10, 0.08, 0.12), 2.2))
            canvas.drawLine(x, y, x + 11, y - flap, stroke((0.10, 0.08, 0.12), 2.2))

    def _tram(self, canvas: skia.Canvas, frame: int) -> None:
        (x0, y0), (x1, y1) = TRACK
        canvas.drawLine(x0 - 120, y0 + 32, x1 + 200, y1 - 54, stroke((0.05, 0.045, 0.07), 5))
        t = 0.06 + 0.8 * frame / FRAMES
        canvas.save()
        canvas.translate(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t)
        canvas.rotate(float(np.degrees(np.arctan2(y1 - y0, x1 - x0))))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(-62, -50, 124, 44), 6, 6, gradient((0, -50), (0, -6), [(0.55, 0.10, 0.09), (0.28, 0.04, 0.05)]))
        for n in range(5):
            canvas.drawRect(skia.Rect.MakeXYWH(-54 + n * 23, -43, 17, 16), fill((1, 0.86, 0.5)))
        canvas.drawRect(skia.Rect.MakeXYWH(-60, -48, 120, 26), fill((1, 0.78, 0.36), 0.35, 8))
        canvas.drawCircle(62, -18, 5, fill((1, 0.96, 0.82)))
        canvas.drawCircle(66, -18, 22, fill((1, 0.9, 0.6), 0.35, 9))
        canvas.restore()
