"""Shot 3, the market: six awnings in six hues, moving in the wind."""

import numpy as np
import skia

from wenditas.demo.draw.paint import clouds, fill, glow, gradient, layer, mix, polygon, shade, stroke, texture

WIDTH, HEIGHT, FRAMES = 1280, 720, 120
HUES = ((0.78, 0.13, 0.12), (0.90, 0.52, 0.10), (0.90, 0.79, 0.16), (0.20, 0.55, 0.24), (0.14, 0.36, 0.72), (0.50, 0.22, 0.60))
PLACES = ((60, 250, 200), (262, 262, 196), (462, 250, 200), (664, 258, 196), (862, 248, 202), (1066, 260, 190))


class AwningsShot:
    """Draws any frame of the shot; square and houses are drawn once."""

    def __init__(self) -> None:
        self.square = layer(WIDTH, HEIGHT, self._square)
        self.goods = layer(WIDTH, HEIGHT, self._goods)

    def _square(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(13)
        canvas.drawPaint(gradient((0, 0), (0, 260), [(0.62, 0.72, 0.82), (0.84, 0.86, 0.86), (0.93, 0.88, 0.80)]))
        clouds(canvas, skia.Rect.MakeWH(WIDTH, 200), 4, 0.8)
        for n, x in enumerate(range(-30, WIDTH, 160)):
            top = 40 + rng.uniform(0, 60)
            wall = mix((0.74, 0.69, 0.62), (0.66, 0.66, 0.64), rng.uniform())
            area = skia.Rect.MakeXYWH(x, top, 156, 480 - top)
            canvas.drawRect(area, gradient((x, top), (x + 156, 470), [shade(wall, 1.14), wall, shade(wall, 0.68)]))
            texture(canvas, area, 0.25, n * 2.3, (0.03, 0.06))
            canvas.drawRect(skia.Rect.MakeXYWH(x - 5, top - 14, 166, 16), fill((0.36, 0.30, 0.28)))
            for i in range(2):
                px, py = x + 28 + i * 66, top + 40
                canvas.drawRect(skia.Rect.MakeXYWH(px - 3, py - 3, 40, 70), fill((0.88, 0.85, 0.79)))
                canvas.drawRect(skia.Rect.MakeXYWH(px, py, 34, 64), gradient((px, py), (px + 34, py + 64), [(0.56, 0.62, 0.68), (0.20, 0.23, 0.28)]))
        canvas.drawRect(skia.Rect.MakeXYWH(0, 470, WIDTH, 250), gradient((0, 470), (0, HEIGHT), [(0.60, 0.58, 0.55), (0.44, 0.43, 0.42), (0.30, 0.29, 0.29)]))
        for row in range(18):
            y = 474 + row * (5 + row * 0.6)
            size = 22 + row * 1.8
            for x in np.arange(-30 + (row % 2) * size / 2, WIDTH, size).tolist():
                tone = 0.50 + rng.normal(0, 0.04) - row * 0.008
                canvas.drawRoundRect(skia.Rect.MakeXYWH(x, y, size - 2, 4 + row * 0.6), 2, 2, fill((tone * 1.02, tone, tone * 0.96), 0.7))

    def _goods(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(23)
        for x, y, width in PLACES:
            canvas.drawRect(skia.Rect.MakeXYWH(x + 8, y + 86, width - 16, 150), gradient((0, y + 86), (0, y + 236), [(0.10, 0.09, 0.09), (0.24, 0.21, 0.19)]))
            table = skia.Rect.MakeXYWH(x, y + 228, width, 74)
            canvas.drawRect(table, gradient((x, 0), (x + width, 0), [(0.52, 0.40, 0.29), (0.44, 0.33, 0.24), (0.26, 0.19, 0.14)]))
            texture(canvas, table, 0.4, x / 50, (0.01, 0.12))
            for _k in range(44):
                px, py = x + 10 + rng.uniform(0, width - 20), y + 224 - rng.uniform(0, 22)
                tone = rng.uniform(0.34, 0.62)
                apple = (tone * 1.08, tone * 0.96, tone * 0.80)
                canvas.drawCircle(px, py, 8, gradient((px - 7, py - 8), (px + 8, py + 8), [shade(apple, 1.25), apple, shade(apple, 0.45)]))
            for side in (x + 5, x + width - 9):
                canvas.drawLine(side, y - 4, side, y + 330, stroke((0.30, 0.28, 0.27), 6))
            canvas.drawOval(skia.Rect.MakeXYWH(x - 8, y + 318, width + 30, 26), fill((0.05, 0.05, 0.07), 0.4, 9))

    def _awning(self, canvas: skia.Canvas, n: int, frame: int) -> None:
        """A sloping cloth of stripes lit from the left, with a scalloped edge that the wind moves."""
        x, y, width = PLACES[n]
        colour = HUES[n]
        stripes = 8
        wind = [7 * np.sin(frame / 7 + n * 1.3 + k * 0.55) + 3 * np.sin(frame / 2.9 + k) for k in range(stripes + 1)]
        for k in range(stripes):
            left, right = x + width * k / stripes, x + width * (k + 1) / stripes
            inset = 16
            top_left, top_right = x + inset + (width - 2 * inset) * k / stripes, x + inset + (width - 2 * inset) * (k + 1) / stripes
            low_left, low_right = y + 92 + wind[k], y + 92 + wind[k + 1]
            path = skia.Path()
            path.moveTo(top_left, y)
            path.lineTo(top_right, y)
            path.lineTo(right, low_right)
            path.quadTo((left + right) / 2, (low_left + low_right) / 2 + 30, left, low_left)
            path.close()
            fold = 1.0 + 0.018 * (wind[k + 1] - wind[k]) + 0.10 * (1 - 2 * k / stripes)
            tone = shade(colour, fold * (1.0 if k % 2 == 0 else 0.84))
            canvas.drawPath(path, gradient((0, y), (0, y + 112), [shade(tone, 1.14), tone, shade(tone, 0.62)], [0, 0.55, 1]))
            canvas.drawPath(path, stroke(shade(colour, 0.5), 1.1, 0.5))
        canvas.drawRect(skia.Rect.MakeXYWH(x + 8, y + 100, width - 16, 34), fill((0.02, 0.02, 0.03), 0.35, 8))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        canvas.save()
        canvas.translate(2.5 * np.sin(frame / 31), 1.5 * np.sin(frame / 23))
        canvas.scale(1.01, 1.01)
        canvas.drawImage(self.square, 0, 0)
        canvas.drawImage(self.goods, 0, 0)
        for n in range(6):
            self._awning(canvas, n, frame)
        self._passer_by(canvas, frame)
        canvas.restore()
        canvas.drawPaint(glow((160, 40), 1150, [(1, 0.94, 0.82), (1, 0.9, 0.75)], [0.16, 0]))
        corners = skia.GradientShader.MakeRadial(
            skia.Point(WIDTH / 2, HEIGHT / 2), 830, [skia.Color(0, 0, 0, 0), skia.Color(0, 0, 0, 0), skia.Color(10, 8, 8, 120)], [0, 0.55, 1]
        )
        canvas.drawPaint(skia.Paint(Shader=corners))

    def _passer_by(self, canvas: skia.Canvas, frame: int) -> None:
        x, step = 1380 - frame * 12.5, np.sin(frame / 3)
        canvas.drawOval(skia.Rect.MakeXYWH(x - 60, 682, 124, 20), fill((0.02, 0.02, 0.03), 0.45, 7))
        for side in (-1, 1):
            canvas.drawLine(x + side * 6, 596, x + side * 24 * step, 690, stroke((0.13, 0.12, 0.13), 17))
        coat = polygon([(x - 30, 452), (x + 30, 452), (x + 44, 610), (x - 44, 610)])
        canvas.drawPath(coat, gradient((x - 44, 0), (x + 44, 0), [(0.42, 0.40, 0.38), (0.28, 0.26, 0.25), (0.13, 0.12, 0.12)]))
        canvas.drawCircle(x, 430, 24, gradient((x - 20, 410), (x + 22, 450), [(0.56, 0.45, 0.38), (0.26, 0.19, 0.16)]))
        canvas.drawPath(polygon([(x - 30, 420), (x + 30, 420), (x + 18, 398), (x - 18, 398)]), fill((0.16, 0.15, 0.15)))
