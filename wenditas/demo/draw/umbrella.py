"""Shot 2, the yellow umbrella: it turns as it crosses a grey street in the rain, past a warm yellow shop sign of the same hue."""

import numpy as np
import skia

from wenditas.demo.draw.paint import fill, glow, gradient, layer, mix, polygon, shade, stroke, texture

WIDTH, HEIGHT, FRAMES = 1280, 720, 120
YELLOW, SIGN = (0.93, 0.72, 0.10), (0.96, 0.76, 0.20)


class UmbrellaShot:
    """Draws any frame of the shot; the street is drawn once."""

    def __init__(self) -> None:
        self.street = layer(WIDTH, HEIGHT, self._street)
        rng = np.random.default_rng(77)
        self.drops = rng.uniform((0, 0, 0.5), (WIDTH, HEIGHT, 1.4), (320, 3))

    def _street(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(31)
        canvas.drawPaint(gradient((0, 0), (0, 460), [(0.50, 0.53, 0.56), (0.63, 0.65, 0.66), (0.72, 0.72, 0.71)]))
        for n, x in enumerate(range(-40, WIDTH, 190)):
            top = 60 + rng.uniform(0, 70)
            wall = mix((0.46, 0.47, 0.49), (0.60, 0.59, 0.57), rng.uniform())
            area = skia.Rect.MakeXYWH(x, top, 186, 420 - top + 90)
            canvas.drawRect(area, gradient((x, top), (x + 186, 510), [shade(wall, 1.1), wall, shade(wall, 0.6)]))
            texture(canvas, area, 0.2, n * 3.1, (0.03, 0.05))
            for i in range(3):
                for j in range(3):
                    if j == 2 and n % 2 == 0:
                        continue
                    px, py = x + 22 + i * 54, top + 34 + j * 118
                    canvas.drawRect(skia.Rect.MakeXYWH(px - 3, py - 3, 40, 76), fill(shade(wall, 1.25)))
                    lit = rng.uniform() < 0.15
                    glass = [(0.80, 0.74, 0.62), (0.5, 0.46, 0.4)] if lit else [(0.42, 0.46, 0.50), (0.16, 0.18, 0.21)]
                    canvas.drawRect(skia.Rect.MakeXYWH(px, py, 34, 70), gradient((px, py), (px + 34, py + 70), glass))
                    canvas.drawLine(px + 17, py, px + 17, py + 70, stroke(shade(wall, 1.2), 1.6))
            if n % 2 == 0:
                canvas.drawRect(skia.Rect.MakeXYWH(x + 16, 352, 150, 128), gradient((x, 352), (x, 480), [(0.24, 0.26, 0.29), (0.10, 0.11, 0.13)]))
                canvas.drawRect(skia.Rect.MakeXYWH(x + 10, 336, 164, 18), fill((0.32, 0.32, 0.34)))
        self._sign(canvas)
        canvas.drawRect(
            skia.Rect.MakeXYWH(0, 508, WIDTH, HEIGHT), gradient((0, 508), (0, HEIGHT), [(0.50, 0.51, 0.52), (0.32, 0.33, 0.35), (0.20, 0.21, 0.23)])
        )
        for row in range(16):
            y = 512 + row * (5 + row * 0.85)
            for x in np.arange(-30 + (row % 2) * 22, WIDTH, 46 + row * 2).tolist():
                tone = 0.36 + rng.normal(0, 0.03) - row * 0.009
                canvas.drawRoundRect(skia.Rect.MakeXYWH(x, y, 42 + row * 2, 4 + row * 0.8), 2, 2, fill((tone, tone * 1.01, tone * 1.04), 0.7))
        for _ in range(26):
            left, y, w = rng.uniform(0, WIDTH), rng.uniform(540, 700), rng.uniform(60, 190)
            canvas.drawOval(skia.Rect.MakeXYWH(left, y, w, w * 0.13), fill((0.62, 0.65, 0.68), 0.35, 6))
        canvas.drawOval(skia.Rect.MakeXYWH(880, 560, 180, 110), fill(SIGN, 0.16, 22))

    def _sign(self, canvas: skia.Canvas) -> None:
        """A warm sign that glows: the same hue as the umbrella."""
        canvas.drawPaint(glow((960, 218), 220, [(1, 0.84, 0.42), (1, 0.8, 0.3)], [0.42, 0]))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(884, 186, 158, 62), 8, 8, gradient((884, 186), (884, 248), [shade(SIGN, 1.06), SIGN, shade(SIGN, 0.82)]))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(892, 193, 142, 48), 5, 5, stroke((0.45, 0.30, 0.06), 2.4))
        for k in range(5):
            canvas.drawCircle(915 + 24 * k, 217, 6 + (k % 2) * 3, fill((0.42, 0.27, 0.05), 0.9))
        canvas.drawLine(963, 186, 963, 160, stroke((0.15, 0.15, 0.16), 4))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        t = frame / (FRAMES - 1)
        canvas.drawImage(self.street, 0, 0)
        x, y = 110 + 1010 * t, 372 + 5 * np.sin(frame / 3.1)
        self._reflection(canvas, x, y, frame)
        self._walker(canvas, x, y, frame)
        self._umbrella(canvas, x, y, frame)
        self._rain(canvas, frame)
        corners = skia.GradientShader.MakeRadial(
            skia.Point(WIDTH / 2, HEIGHT / 2), 830, [skia.Color(0, 0, 0, 0), skia.Color(0, 0, 0, 0), skia.Color(6, 8, 12, 130)], [0, 0.55, 1]
        )
        canvas.drawPaint(skia.Paint(Shader=corners))

    def _walker(self, canvas: skia.Canvas, x: float, y: float, frame: int) -> None:
        step = np.sin(frame / 3.1)
        canvas.drawOval(skia.Rect.MakeXYWH(x - 64, y + 252, 128, 20), fill((0.03, 0.03, 0.05), 0.5, 7))
        for side in (-1, 1):
            foot = x + side * 20 * step
            canvas.drawLine(x + side * 5, y + 168, foot, y + 258, stroke((0.10, 0.10, 0.12), 15))
            canvas.drawOval(skia.Rect.MakeXYWH(foot - 12, y + 251, 34, 13), fill((0.05, 0.05, 0.06)))
        coat = polygon([(x - 26, y + 72), (x + 26, y + 72), (x + 42 + 3 * step, y + 186), (x - 42 + 3 * step, y + 186)])
        canvas.drawPath(coat, gradient((x - 40, 0), (x + 42, 0), [(0.34, 0.36, 0.40), (0.22, 0.23, 0.27), (0.11, 0.12, 0.14)]))
        canvas.drawCircle(x, y + 52, 20, gradient((x - 18, y), (x + 20, y), [(0.52, 0.42, 0.36), (0.24, 0.18, 0.16)]))
        canvas.drawLine(x + 14, y + 120, x + 6, y - 70, stroke((0.20, 0.15, 0.12), 5))

    def _umbrella(self, canvas: skia.Canvas, x: float, y: float, frame: int, alpha: float = 1.0) -> None:
        """Eight panels around the stick, each lit by where it faces; they turn as it is twirled."""
        turn = frame / 15
        cx, cy, radius = x + 4, y - 8, 128
        panels = []
        for k in range(8):
            a0, a1 = turn + k * np.pi / 4, turn + (k + 1) * np.pi / 4
            panels.append((np.sin((a0 + a1) / 2), a0, a1))
        for depth, a0, a1 in sorted(panels):
            p0, p1 = (cx + radius * np.cos(a0), cy + 26 * np.sin(a0)), (cx + radius * np.cos(a1), cy + 26 * np.sin(a1))
            path = skia.Path()
            path.moveTo(cx, cy - 78)
            path.quadTo(cx + radius * 0.72 * np.cos(a0), cy - 66 + 10 * np.sin(a0), *p0)
            path.quadTo((p0[0] + p1[0]) / 2, (p0[1] + p1[1]) / 2 - 9, *p1)
            path.quadTo(cx + radius * 0.72 * np.cos(a1), cy - 66 + 10 * np.sin(a1), cx, cy - 78)
            facing = -np.cos((a0 + a1) / 2)
            light = 0.66 + 0.34 * facing + 0.12 * depth
            lit = mix(shade((0.80, 0.50, 0.07), 0.75), YELLOW, min(max(light, 0), 1))  # towards orange in the shade
            top, low = shade(lit, 1.12), shade(lit, 0.78 if depth > 0 else 0.42)
            canvas.drawPath(path, gradient((cx, cy - 78), (cx, cy + 26), [top, lit, low], alpha=alpha))
            canvas.drawPath(path, stroke(shade(lit, 0.55), 1.6, 0.7 * alpha))
        canvas.drawLine(cx, cy - 78, cx, cy - 94, stroke((0.18, 0.14, 0.1), 4, alpha))

    def _reflection(self, canvas: skia.Canvas, x: float, y: float, frame: int) -> None:
        canvas.save()
        canvas.clipRect(skia.Rect.MakeXYWH(0, 560, WIDTH, 160))
        canvas.translate(0, 2 * (y + 262))
        canvas.scale(1, -1)
        blurred = skia.Paint(ImageFilter=skia.ImageFilters.Blur(7, 16))
        blurred.setAlphaf(0.2)
        canvas.saveLayer(None, blurred)
        self._umbrella(canvas, x, y + 190, frame)
        canvas.restore()
        canvas.restore()

    def _rain(self, canvas: skia.Canvas, frame: int) -> None:
        for x, y, speed in self.drops:
            py = (y + frame * 38 * speed) % (HEIGHT + 60) - 30
            px = (x - frame * 5 * speed) % WIDTH
            canvas.drawLine(px, py, px - 4 * speed, py + 24 * speed, stroke((0.85, 0.88, 0.92), 1.1, 0.20))
