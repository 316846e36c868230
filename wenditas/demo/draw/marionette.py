"""Shot 5, the show: a dark marionette before a bright wall."""

import numpy as np
import skia

from wenditas.demo.draw.paint import Point, fill, glow, gradient, layer, polygon, shade, stroke, texture, vignette

WIDTH, HEIGHT, FRAMES = 1280, 720, 96
CLOTH, WOOD = (0.085, 0.075, 0.095), (0.17, 0.12, 0.10)


class MarionetteShot:
    """Draws any frame of the shot; the wall is drawn once."""

    def __init__(self) -> None:
        self.wall = layer(WIDTH, HEIGHT, self._wall)

    def _wall(self, canvas: skia.Canvas) -> None:
        rng = np.random.default_rng(41)
        canvas.drawPaint(gradient((0, 0), (WIDTH, HEIGHT), [(0.97, 0.93, 0.84), (0.93, 0.87, 0.77), (0.78, 0.70, 0.62)]))
        texture(canvas, skia.Rect.MakeWH(WIDTH, HEIGHT), 0.3, 9, (0.012, 0.02), 5)
        for _ in range(26):  # patches where plaster has come off
            x, y, size = rng.uniform(0, WIDTH), rng.uniform(0, 560), rng.uniform(8, 42)
            path = skia.Path()
            points = [(x + size * rng.uniform(0.5, 1) * np.cos(a), y + size * rng.uniform(0.3, 0.8) * np.sin(a)) for a in np.linspace(0, 6.0, 9)]
            path.addPoly([skia.Point(*p) for p in points], True)
            canvas.drawPath(path, fill((0.80, 0.71, 0.60), 0.35, 1.5))
        canvas.drawPaint(glow((430, 230), 720, [(1, 0.98, 0.90), (1, 0.95, 0.85)], [0.5, 0]))
        for x in range(-20, WIDTH, 150):  # a floor of boards
            canvas.drawPath(
                polygon([(x, 620), (x + 146, 620), (x + 190 + (x - 640) * 0.25, HEIGHT), (x - 8 + (x - 640) * 0.25, HEIGHT)]),
                fill(shade((0.50, 0.38, 0.28), rng.uniform(0.8, 1.1))),
            )
        canvas.drawRect(skia.Rect.MakeXYWH(0, 614, WIDTH, 10), fill((0.24, 0.17, 0.13)))
        for x, flip in ((0, 1), (WIDTH, -1)):  # curtains of the little stage
            for n in range(5):
                fold = skia.Path()
                left = x + flip * n * 30
                fold.moveTo(left, 0)
                fold.lineTo(left + flip * 34, 0)
                fold.cubicTo(left + flip * 30, 240, left + flip * 44, 420, left + flip * 22, HEIGHT)
                fold.lineTo(left - flip * 8, HEIGHT)
                fold.close()
                canvas.drawPath(fold, gradient((left, 0), (left + flip * 34, 0), [(0.36, 0.07, 0.09), (0.62, 0.13, 0.13), (0.26, 0.05, 0.07)]))

    def draw(self, canvas: skia.Canvas, frame: int) -> None:
        """Draw one frame: the wall, the figure's soft shadow on it, the figure."""
        canvas.drawImage(self.wall, 0, 0)
        canvas.save()
        canvas.translate(78, 26)
        shadow = skia.Paint(ImageFilter=skia.ImageFilters.Blur(11, 11), Alphaf=0.24)
        canvas.saveLayer(None, shadow)
        self._figure(canvas, frame)
        canvas.restore()
        canvas.restore()
        self._figure(canvas, frame)
        vignette(canvas, WIDTH, HEIGHT)

    def _figure(self, canvas: skia.Canvas, frame: int) -> None:
        t = frame / 24 * 2 * np.pi
        sway, bob = 26 * np.sin(t / 2), 8 * abs(np.sin(t))
        hip: Point = (640 + sway, 430 - bob)
        neck: Point = (640 + sway * 1.2, 288 - bob)
        head: Point = (neck[0] + 4 * np.sin(t / 2), neck[1] - 52)
        hands = [(neck[0] + side * (118 + 18 * np.sin(t + side)), neck[1] + 40 - 74 * np.sin(t / 2 + (side > 0) * 2.4)) for side in (-1, 1)]
        elbows = [((h[0] + neck[0]) / 2 + side * 22, (h[1] + neck[1]) / 2 + 40) for h, side in zip(hands, (-1, 1), strict=True)]
        feet = [(hip[0] + side * 52 + 30 * np.sin(t / 2 + side), 602 - max(0.0, 46 * np.sin(t + (side > 0) * np.pi))) for side in (-1, 1)]
        knees = [((f[0] + hip[0]) / 2 + side * 16, (f[1] + hip[1]) / 2 + 4) for f, side in zip(feet, (-1, 1), strict=True)]
        bar = 74 + 6 * np.sin(t / 2)
        canvas.drawLine(488 + sway, bar + 14, 792 + sway, bar - 14, stroke(WOOD, 13))
        canvas.drawLine(640 + sway, bar - 34, 640 + sway, bar + 34, stroke(WOOD, 11))
        for place in (*hands, *knees, head):
            canvas.drawLine(640 + sway + (place[0] - 640 - sway) * 0.9, bar, place[0], place[1], stroke((0.16, 0.14, 0.14), 1.6))
        for knee, foot in zip(knees, feet, strict=True):
            canvas.drawLine(*hip, *knee, stroke(CLOTH, 30))
            canvas.drawLine(*knee, *foot, stroke(shade(CLOTH, 0.8), 24))
            canvas.drawOval(skia.Rect.MakeXYWH(foot[0] - 26, foot[1] - 10, 62, 24), fill(WOOD))
        coat = polygon([(neck[0] - 52, neck[1]), (neck[0] + 52, neck[1]), (hip[0] + 78, hip[1] + 62), (hip[0] - 78, hip[1] + 62)])
        canvas.drawPath(coat, gradient((neck[0] - 70, 0), (neck[0] + 70, 0), [shade(CLOTH, 1.9), CLOTH, shade(CLOTH, 0.55)]))
        for n in range(4):
            canvas.drawCircle(neck[0] + (hip[0] - neck[0]) * n / 4, neck[1] + 26 + n * 34, 5.5, fill((0.42, 0.33, 0.24)))
        for elbow, hand in zip(elbows, hands, strict=True):
            canvas.drawLine(neck[0], neck[1] + 14, *elbow, stroke(CLOTH, 24))
            canvas.drawLine(*elbow, *hand, stroke(shade(CLOTH, 0.85), 19))
            canvas.drawCircle(*hand, 14, fill(WOOD))
        canvas.drawCircle(*head, 42, gradient((head[0] - 36, head[1] - 30), (head[0] + 40, head[1] + 34), [(0.30, 0.22, 0.18), WOOD, shade(WOOD, 0.45)]))
        canvas.drawPath(polygon([(head[0] - 56, head[1] - 22), (head[0] + 58, head[1] - 30), (head[0] + 18, head[1] - 92)]), fill(CLOTH))
        for side in (-1, 1):
            canvas.drawCircle(head[0] + side * 14 - 4, head[1] - 2, 5, fill((0.78, 0.70, 0.60)))
        canvas.drawLine(head[0] - 16, head[1] + 20, head[0] + 12, head[1] + 20, stroke((0.6, 0.5, 0.42), 3))
