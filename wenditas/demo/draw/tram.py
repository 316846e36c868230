"""Shot 1, tram up the hill: a red tram climbs past houses, trees and sky, through the shade of a tall
building, with a pillar box of the same red in the foreground and roofs of a near hue."""

import numpy as np
import skia

from wenditas.demo.draw.paint import clouds, fill, glow, gradient, house, layer, mix, polygon, shade, stroke, texture, tree, vignette

WIDTH, HEIGHT, FRAMES = 1280, 720, 132
SLOPE = -0.072  # rise of the street from left to right
WIDE = WIDTH + 240

RED, CREAM, ROOFS = (0.80, 0.10, 0.075), (0.96, 0.90, 0.78), ((0.62, 0.30, 0.20), (0.55, 0.27, 0.19), (0.66, 0.36, 0.23))
LEAVES = ((0.80, 0.52, 0.14), (0.66, 0.60, 0.16), (0.42, 0.50, 0.18), (0.30, 0.44, 0.20), (0.74, 0.40, 0.12))


def street(x: float, base: float = 560) -> float:
    """Height of the street at x."""
    return base + SLOPE * (x - WIDTH / 2)


class TramShot:
    """Draws any frame of the shot; the layers that do not change are drawn once."""

    def __init__(self) -> None:
        self.rng = np.random.default_rng(1907)
        self.sky = layer(WIDE, HEIGHT, self._sky)
        self.hills = layer(WIDE, HEIGHT, self._hills)
        self.town = layer(WIDE, HEIGHT, self._town)
        self.road = layer(WIDE, HEIGHT, self._road)
        self.box = layer(200, 420, self._pillar_box)

    def _sky(self, canvas: skia.Canvas) -> None:
        canvas.drawPaint(gradient((0, 0), (0, 470), [(0.30, 0.52, 0.80), (0.52, 0.70, 0.88), (0.86, 0.88, 0.88), (0.97, 0.89, 0.76)], [0, 0.45, 0.85, 1]))
        canvas.drawPaint(glow((260, 330), 620, [(1, 0.93, 0.76), (1, 0.9, 0.7)], [0.75, 0]))
        clouds(canvas, skia.Rect.MakeWH(WIDE, 440), 11, 0.9)

    def _hills(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(5)
        for depth, (base, colour) in enumerate(((355, (0.52, 0.62, 0.68)), (395, (0.40, 0.50, 0.46)), (440, (0.38, 0.43, 0.26)))):
            xs = np.arange(0, WIDE + 20, 20)
            ys = base - 46 * np.sin(xs / (330 - 50 * depth) + depth * 2.1) - 18 * np.sin(xs / 117 + depth)
            path = polygon([(0, HEIGHT), *zip(xs.tolist(), ys.tolist(), strict=True), (WIDE, HEIGHT)])
            canvas.drawPath(path, gradient((0, base - 70), (0, base + 130), [mix(colour, (0.95, 0.88, 0.75), 0.3), colour, shade(colour, 0.75)]))
            canvas.save()
            canvas.clipPath(path, True)
            texture(canvas, skia.Rect.MakeWH(WIDE, HEIGHT), 0.8, depth * 7 + 3, (0.012, 0.03), 5)
            if depth:
                for _ in range(220):
                    x = rng.uniform(0, WIDE)
                    y = rng.uniform(base - 30, base + 70)
                    r = rng.uniform(4, 11) * (0.6 + 0.5 * depth)
                    tone = mix(LEAVES[rng.integers(5)], colour, 0.35)
                    canvas.drawOval(skia.Rect.MakeXYWH(x - r, y - r, 2 * r, 1.7 * r), fill(shade(tone, 0.62), 0.8))
                    canvas.drawOval(skia.Rect.MakeXYWH(x - r, y - r * 1.2, 1.5 * r, 1.2 * r), fill(tone, 0.75))
            canvas.restore()

    def _town(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(42)
        walls = ((0.86, 0.79, 0.66), (0.80, 0.82, 0.78), (0.74, 0.66, 0.56), (0.90, 0.86, 0.78), (0.66, 0.70, 0.70), (0.82, 0.72, 0.58))
        x, n = -30.0, 0
        while x < WIDE:
            width, height = rng.uniform(105, 165), rng.uniform(120, 205)
            if 400 < x < 560:
                height, width = 420, 178  # the tall building whose shade falls across the street
            house(canvas, x, street(x) - 26, width, height, walls[n % 6], ROOFS[n % 3], rng)
            x += width + rng.uniform(6, 70)
            n += 1
        for _ in range(17):
            tx = rng.uniform(0, WIDE)
            tree(canvas, tx, street(tx) - 18, rng.uniform(95, 170), LEAVES[rng.integers(5)], rng)

    def _road(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(8)
        pavement = polygon([(0, street(0) - 34), (WIDE, street(WIDE) - 34), (WIDE, HEIGHT), (0, HEIGHT)])
        canvas.drawPath(pavement, gradient((0, 520), (0, HEIGHT), [(0.66, 0.63, 0.60), (0.50, 0.48, 0.47), (0.30, 0.29, 0.30)]))
        canvas.save()
        canvas.clipPath(pavement, True)
        for row in range(34):
            y = -34 + row * (4 + row * 0.34)
            size = 10 + row * 0.75
            for x in np.arange(-20 + (row % 2) * size / 2, WIDE, size):
                tone = (0.5 + rng.normal(0, 0.055)) * (1.08 - row * 0.012)
                stone = (tone * 1.02, tone * 0.985, tone * 0.96)
                canvas.drawRoundRect(skia.Rect.MakeXYWH(x, street(x) + y, size - 1.6, 3 + row * 0.36), 2, 2, fill(stone, 0.75))
        texture(canvas, skia.Rect.MakeWH(WIDE, HEIGHT), 0.3, 21, (0.02, 0.09), 4)
        for offset in (30, 58):
            canvas.drawLine(0, street(0) + offset + 2, WIDE, street(WIDE) + offset + 2, stroke((0.1, 0.1, 0.11), 6, 0.8))
            canvas.drawLine(0, street(0) + offset, WIDE, street(WIDE) + offset, stroke((0.72, 0.72, 0.74), 2.6))
        canvas.drawLine(0, street(0) - 30, WIDE, street(WIDE) - 30, stroke((0.80, 0.78, 0.74), 6))
        canvas.drawLine(0, street(0) - 25, WIDE, street(WIDE) - 25, stroke((0.16, 0.15, 0.17), 3, 0.6))
        for _ in range(500):
            x, y = rng.uniform(0, WIDE), rng.uniform(-28, 170)
            leaf = shade(LEAVES[rng.integers(5)], rng.uniform(0.7, 1.1))
            r = 1.2 + (y + 30) / 60
            canvas.drawOval(skia.Rect.MakeXYWH(x, street(x) + y, r * 2, r), fill(leaf, 0.8))
        canvas.restore()
        for x in range(90, WIDE, 330):
            y = street(x) - 28
            canvas.drawLine(x, y, x, y - 330, stroke((0.13, 0.15, 0.15), 6))
            canvas.drawLine(x - 1.6, y, x - 1.6, y - 330, stroke((0.4, 0.43, 0.42), 1.6))
            canvas.drawLine(x, y - 316, x + 52, y - 320, stroke((0.13, 0.15, 0.15), 4))
        canvas.drawLine(0, street(0) - 342, WIDE, street(WIDE) - 342, stroke((0.1, 0.11, 0.12), 1.8, 0.9))

    def _pillar_box(self, canvas: skia.Canvas) -> None:
        canvas.drawOval(skia.Rect.MakeXYWH(10, 374, 185, 34), fill((0.03, 0.03, 0.05), 0.55, 9))
        body = skia.Rect.MakeXYWH(42, 70, 106, 320)
        round_light = [shade(RED, 0.62), shade(RED, 1.12), shade(RED, 0.82), shade(RED, 0.30)]
        canvas.drawRoundRect(body, 10, 10, gradient((42, 0), (148, 0), round_light, [0, 0.28, 0.55, 1]))
        cap = skia.Path()
        cap.moveTo(32, 78)
        cap.cubicTo(34, 18, 156, 18, 158, 78)
        cap.lineTo(158, 92)
        cap.lineTo(32, 92)
        cap.close()
        canvas.drawPath(cap, gradient((32, 0), (158, 0), [shade(c, 1.08) for c in round_light], [0, 0.28, 0.55, 1]))
        canvas.drawRect(skia.Rect.MakeXYWH(40, 92, 110, 7), fill((0.05, 0.01, 0.01), 0.5, 2))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(62, 122, 62, 11), 4, 4, fill((0.03, 0.02, 0.02)))
        canvas.drawRect(skia.Rect.MakeXYWH(66, 158, 52, 62), gradient((66, 158), (118, 220), [(0.93, 0.9, 0.83), (0.68, 0.64, 0.58)]))
        for k in range(4):
            canvas.drawLine(72, 172 + 11 * k, 112 - 9 * (k % 2), 172 + 11 * k, stroke((0.25, 0.25, 0.27), 2, 0.8))
        canvas.drawRect(skia.Rect.MakeXYWH(42, 356, 106, 34), gradient((42, 0), (148, 0), [(0.1, 0.1, 0.1), (0.25, 0.24, 0.24), (0.04, 0.04, 0.04)]))
        canvas.drawRect(skia.Rect.MakeXYWH(58, 84, 6, 262), fill((1, 0.86, 0.8), 0.28, 4))

    def _tram(self, canvas: skia.Canvas, x: float, travel: float) -> None:
        """The tram with its lower left corner at (x, street)."""
        length, height = 430, 172
        canvas.save()
        canvas.translate(x, street(x) + 48)
        canvas.rotate(float(np.degrees(np.arctan(SLOPE))))
        bounce = 1.2 * np.sin(travel / 19) + 0.6 * np.sin(travel / 7.3)
        canvas.drawOval(skia.Rect.MakeXYWH(-14, -12, length + 40, 34), fill((0.02, 0.02, 0.04), 0.62, 10))
        canvas.drawRoundRect(skia.Rect.MakeXYWH(30, -44, length - 60, 34), 8, 8, gradient((0, -44), (0, -10), [(0.16, 0.14, 0.14), (0.05, 0.05, 0.06)]))
        for wx in (78, 128, 302, 352):
            self._wheel(canvas, wx, -12, travel)
        canvas.translate(0, bounce)
        body = skia.Rect.MakeXYWH(0, -height, length, height - 26)
        canvas.drawRoundRect(body, 16, 16, gradient((0, -height), (0, -26), [shade(RED, 1.2), RED, shade(RED, 0.93), shade(RED, 0.48)], [0, 0.3, 0.72, 1]))
        canvas.save()
        canvas.clipRRect(skia.RRect.MakeRectXY(body, 16, 16), True)
        canvas.drawRect(skia.Rect.MakeXYWH(length - 150, -height, 150, height), glow((length, -100), 150, [(0.02, 0, 0), (0.03, 0, 0)], [0.6, 0]))
        canvas.drawRect(skia.Rect.MakeXYWH(0, -height, 120, height), glow((0, -110), 120, [(1, 0.72, 0.55), (1, 0.6, 0.5)], [0.3, 0]))
        canvas.drawRect(skia.Rect.MakeXYWH(0, -86, length, 11), gradient((0, 0), (length, 0), [CREAM, shade(CREAM, 0.95), shade(CREAM, 0.6)]))
        texture(canvas, body, 0.28, 61, (0.015, 0.05))
        canvas.restore()
        roof = skia.Path()
        roof.moveTo(-6, -height + 10)
        roof.cubicTo(20, -height - 24, length - 20, -height - 24, length + 6, -height + 10)
        roof.close()
        canvas.drawPath(roof, gradient((0, -height - 20), (0, -height + 10), [(0.98, 0.95, 0.88), (0.62, 0.58, 0.52)]))
        self._windows(canvas, length, height, travel)
        canvas.drawRect(skia.Rect.MakeXYWH(6, -34, length - 12, 9), fill((0.08, 0.05, 0.05), 0.9))
        canvas.drawCircle(length - 10, -52, 8, fill((1, 0.95, 0.75)))
        canvas.drawCircle(length - 10, -52, 26, glow((length - 10, -52), 26, [(1, 0.93, 0.7), (1, 0.9, 0.6)], [0.55, 0]))
        canvas.drawLine(length * 0.45, -height - 16, length * 0.62, -height - 106, stroke((0.12, 0.12, 0.13), 3.4))
        canvas.drawLine(length * 0.62, -height - 106, length * 0.5, -height - 172, stroke((0.12, 0.12, 0.13), 3))
        canvas.restore()

    def _windows(self, canvas: skia.Canvas, length: float, height: float, travel: float) -> None:
        for k in range(7):
            pane = skia.Rect.MakeXYWH(20 + k * 57, -height + 24, 46, 52)
            canvas.drawRoundRect(pane.makeOutset(2.5, 2.5), 5, 5, fill(shade(CREAM, 0.88)))
            canvas.drawRoundRect(
                pane, 4, 4, gradient((pane.left(), pane.top()), (pane.right(), pane.bottom()), [(0.62, 0.71, 0.76), (0.24, 0.27, 0.30), (0.12, 0.12, 0.14)])
            )
            canvas.save()
            canvas.clipRRect(skia.RRect.MakeRectXY(pane, 4, 4), True)
            shift = (travel * 0.55 + k * 31) % 150 - 60
            glint = polygon(
                [
                    (pane.left() + shift, pane.top()),
                    (pane.left() + shift + 16, pane.top()),
                    (pane.left() + shift - 14, pane.bottom()),
                    (pane.left() + shift - 30, pane.bottom()),
                ]
            )
            canvas.drawPath(glint, fill((0.95, 0.95, 0.92), 0.4, 2))
            if k in (1, 2, 4):
                canvas.drawCircle(pane.centerX() + 3, pane.bottom() - 17, 9, fill((0.2, 0.14, 0.12), 0.85))
                canvas.drawRoundRect(skia.Rect.MakeXYWH(pane.centerX() - 12, pane.bottom() - 10, 30, 20), 8, 8, fill((0.16, 0.18, 0.22), 0.9))
            canvas.restore()

    def _wheel(self, canvas: skia.Canvas, x: float, y: float, travel: float) -> None:
        canvas.drawCircle(x, y, 21, gradient((x - 20, y - 20), (x + 20, y + 20), [(0.42, 0.42, 0.44), (0.08, 0.08, 0.09)]))
        canvas.drawCircle(x, y, 14, fill((0.20, 0.19, 0.2)))
        turn = travel / 21
        for k in range(6):
            a = turn + k * np.pi / 3
            canvas.drawLine(x, y, x + 13 * np.cos(a), y + 13 * np.sin(a), stroke((0.5, 0.5, 0.52), 2.4))
        canvas.drawCircle(x, y, 4.5, fill((0.62, 0.6, 0.58)))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame."""
        t = frame / (FRAMES - 1)
        pan = 70 * (t * t * (3 - 2 * t))
        smooth = skia.SamplingOptions(skia.FilterMode.kLinear)
        for image, parallax in ((self.sky, 0.1), (self.hills, 0.35), (self.town, 1.0), (self.road, 1.0)):
            canvas.drawImage(image, -pan * parallax - frame * (0.12 if parallax == 0.1 else 0), 0, smooth)
        x = -20 + 720 * t
        canvas.save()
        canvas.translate(-pan, 0)
        self._tram(canvas, x, x * 1.0 + 200)
        self._shade(canvas)
        canvas.restore()
        canvas.drawImage(self.box, 1090 - pan * 1.5, 270, smooth)
        canvas.drawPaint(glow((200, 120), 1250, [(1, 0.93, 0.8), (1, 0.9, 0.75)], [0.13, 0]))
        vignette(canvas, WIDTH, HEIGHT)

    def _shade(self, canvas: skia.Canvas) -> None:
        """The shade that the tall building throws over street and tram."""
        shape = polygon([(515, 396), (655, 385), (555, HEIGHT + 70), (395, HEIGHT + 70)])
        canvas.drawPath(shape, fill((0.31, 0.37, 0.60), 0.86, 20, skia.BlendMode.kMultiply))
