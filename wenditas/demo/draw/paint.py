"""Brushes shared by the scenes: gradients, textures, soft shadows, trees, houses, clouds."""

from collections.abc import Callable, Sequence

import numpy as np
import skia

Colour = tuple[float, float, float]
Point = tuple[float, float]


def rgb(colour: Colour, alpha: float = 1.0) -> int:
    """A colour of 0-1 values as Skia's packed form."""
    r, g, b = (round(255 * min(max(v, 0), 1)) for v in colour)
    return int(skia.Color(r, g, b, round(255 * alpha)))


def mix(a: Colour, b: Colour, t: float) -> Colour:
    """Straight mixture of two colours."""
    return (a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t)


def shade(colour: Colour, factor: float) -> Colour:
    """A colour made darker (below 1) or lighter (above)."""
    return (colour[0] * factor, colour[1] * factor, colour[2] * factor)


def fill(colour: Colour, alpha: float = 1.0, blur: float = 0, blend: skia.BlendMode = skia.BlendMode.kSrcOver) -> skia.Paint:
    """A plain brush, blurred by `blur` pixels where given."""
    paint = skia.Paint(AntiAlias=True, Color=rgb(colour, alpha), BlendMode=blend)
    if blur:
        paint.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, blur))
    return paint


def stroke(colour: Colour, width: float, alpha: float = 1.0, blur: float = 0) -> skia.Paint:
    """A line brush."""
    paint = fill(colour, alpha, blur)
    paint.setStyle(skia.Paint.kStroke_Style)
    paint.setStrokeWidth(width)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    return paint


def gradient(a: Point, b: Point, colours: Sequence[Colour], stops: Sequence[float] | None = None, alpha: float = 1.0) -> skia.Paint:
    """A brush with a linear gradient from a to b."""
    shader = skia.GradientShader.MakeLinear([skia.Point(*a), skia.Point(*b)], [rgb(c, alpha) for c in colours], list(stops) if stops else None)
    return skia.Paint(AntiAlias=True, Shader=shader)


def glow(centre: Point, radius: float, colours: Sequence[Colour], alphas: Sequence[float]) -> skia.Paint:
    """A brush with a radial gradient whose colours fade by `alphas`."""
    packed = [rgb(c, a) for c, a in zip(colours, alphas, strict=True)]
    return skia.Paint(AntiAlias=True, Shader=skia.GradientShader.MakeRadial(skia.Point(*centre), radius, packed))


def polygon(points: Sequence[Point]) -> skia.Path:
    """A closed path through points."""
    path = skia.Path()
    path.addPoly([skia.Point(*p) for p in points], True)
    return path


def layer(width: int, height: int, draw: Callable[[skia.Canvas], None]) -> skia.Image:
    """Something drawn once, to be laid down in every frame."""
    surface = skia.Surface(width, height)
    with surface as canvas:
        canvas.clear(0)
        draw(canvas)
    return surface.makeImageSnapshot()


def texture(canvas: skia.Canvas, area: skia.Rect, strength: float, seed: float, scale: tuple[float, float] = (0.05, 0.05), octaves: int = 4) -> None:
    """Fractal noise laid softly over what is drawn in an area, lighter and darker."""
    noise = skia.PerlinNoiseShader.MakeFractalNoise(*scale, octaves, seed)
    grey = skia.ColorFilters.Matrix([0.9, 0.9, 0, 0, -0.4] * 3 + [0, 0, 0, 0, strength])
    paint = skia.Paint(Shader=noise, ColorFilter=grey, BlendMode=skia.BlendMode.kOverlay)
    canvas.save()
    canvas.clipRect(area)
    canvas.drawRect(area, paint)
    canvas.restore()


def clouds(canvas: skia.Canvas, area: skia.Rect, seed: float, alpha: float, tint: Colour = (1, 0.97, 0.93)) -> None:
    """A drift of clouds from stretched fractal noise."""
    noise = skia.PerlinNoiseShader.MakeFractalNoise(0.0028, 0.0085, 5, seed)
    r, g, b = tint
    matrix = [0, 0, 0, 0, r, 0, 0, 0, 0, g, 0, 0, 0, 0, b, 2.6 * alpha, 1.6 * alpha, 0, 0, -1.75 * alpha]
    canvas.save()
    canvas.clipRect(area)
    canvas.drawRect(area, skia.Paint(Shader=noise, ColorFilter=skia.ColorFilters.Matrix(matrix)))
    canvas.restore()


def tree(canvas: skia.Canvas, x: float, y: float, size: float, leaf: Colour, rng: np.random.Generator) -> None:
    """A broad-leaved tree standing at (x, y): trunk, then leaves from dark below to lit above."""
    canvas.drawOval(skia.Rect.MakeXYWH(x - size * 0.5, y - size * 0.06, size * 1.3, size * 0.14), fill((0.1, 0.08, 0.1), 0.35, size * 0.05))
    trunk = polygon([(x - size * 0.05, y), (x - size * 0.025, y - size * 0.6), (x + size * 0.025, y - size * 0.6), (x + size * 0.06, y)])
    canvas.drawPath(trunk, gradient((x - size * 0.06, y), (x + size * 0.06, y), [(0.36, 0.26, 0.18), (0.15, 0.1, 0.08)]))
    for depth in range(3):
        for _ in range(int(70 + 50 * depth)):
            angle, reach = rng.uniform(0, 2 * np.pi), np.sqrt(rng.uniform(0, 1))
            dx, dy = np.cos(angle) * reach * size * 0.46, np.sin(angle) * reach * size * 0.4
            light = 0.55 + 0.22 * depth - dy / size * 0.55 - dx / size * 0.35 + rng.normal(0, 0.07)
            spot = mix(shade(leaf, light), (0.98, 0.9, 0.62), max(0.0, light - 1) * 0.5)
            r = size * rng.uniform(0.035, 0.085) * (1.15 - 0.2 * depth)
            canvas.drawOval(skia.Rect.MakeXYWH(x + dx - r, y - size * 0.78 + dy - r * 0.8, 2 * r, 1.6 * r), fill(spot, 0.92))


def house(
    canvas: skia.Canvas, x: float, base: float, width: float, height: float, wall: Colour, roof: Colour, rng: np.random.Generator, pitch: float = 0.42
) -> None:
    """A town house: plaster lit from the left, windows with frames and reflections, a tiled roof."""
    top = base - height
    area = skia.Rect.MakeXYWH(x, top, width, height)
    canvas.drawRect(area, gradient((x, top), (x + width, base), [shade(wall, 1.12), wall, shade(wall, 0.72)], [0, 0.45, 1]))
    texture(canvas, area, 0.22, rng.uniform(0, 100), (0.03, 0.06))
    canvas.drawRect(skia.Rect.MakeXYWH(x, base - height * 0.09, width, height * 0.09), fill(shade(wall, 0.5), 0.7))
    eave, ridge = width * 0.07, top - width * pitch
    path = polygon([(x - eave, top + 3), (x + width * 0.5, ridge), (x + width + eave, top + 3)])
    canvas.drawPath(path, gradient((x, ridge), (x + width, top), [shade(roof, 1.25), roof, shade(roof, 0.55)], [0, 0.5, 1]))
    canvas.save()
    canvas.clipPath(path, True)
    for k in range(24):
        y = ridge + (top - ridge) * k / 24
        canvas.drawLine(x - eave, y, x + width + eave, y, stroke(shade(roof, 0.5), 1.1, 0.4))
        for n in range(int(width / 7)):
            if rng.uniform() < 0.3:
                canvas.drawRect(skia.Rect.MakeXYWH(x - eave + n * 7.6 + (k % 2) * 3, y, 6, 6), fill(shade(roof, rng.uniform(0.6, 1.4)), 0.35))
    canvas.restore()
    canvas.drawRect(skia.Rect.MakeXYWH(x - eave * 0.6, top + 2, width + eave * 1.2, 9), fill((0.05, 0.04, 0.06), 0.4, 4))
    chimney = skia.Rect.MakeXYWH(x + width * 0.68, ridge + width * pitch * 0.1, width * 0.1, width * 0.3)
    canvas.drawRect(chimney, gradient((chimney.left(), 0), (chimney.right(), 0), [shade(roof, 0.95), shade(roof, 0.45)]))
    columns, floors = max(2, int(width / 48)), max(2, int(height / 70))
    for i in range(columns):
        for j in range(floors):
            _window(canvas, x + width * (i + 0.5) / columns, top + height * (j + 0.42) / floors, width / columns * 0.46, height / floors * 0.56, rng)


def _window(canvas: skia.Canvas, x: float, y: float, width: float, height: float, rng: np.random.Generator) -> None:
    frame = skia.Rect.MakeXYWH(x - width / 2 - 2.5, y - height / 2 - 2.5, width + 5, height + 5)
    canvas.drawRect(frame, fill((0.9, 0.87, 0.8)))
    pane = skia.Rect.MakeXYWH(x - width / 2, y - height / 2, width, height)
    colours = [(0.98, 0.82, 0.5), (0.75, 0.5, 0.22)] if rng.uniform() < 0.22 else [(0.55, 0.66, 0.74), (0.2, 0.25, 0.32), (0.1, 0.12, 0.16)]
    canvas.drawRect(pane, gradient((pane.left(), pane.top()), (pane.right(), pane.bottom()), colours))
    bars = stroke((0.86, 0.83, 0.76), 1.6)
    canvas.drawLine(x, pane.top(), x, pane.bottom(), bars)
    canvas.drawLine(pane.left(), y - height * 0.12, pane.right(), y - height * 0.12, bars)
    canvas.drawRect(skia.Rect.MakeXYWH(frame.left() - 2, frame.bottom(), width + 9, 3.5), fill((0.78, 0.74, 0.68)))
    canvas.drawRect(skia.Rect.MakeXYWH(frame.left(), frame.bottom() + 3, width + 9, 5), fill((0.05, 0.05, 0.08), 0.3, 2))


def vignette(canvas: skia.Canvas, width: int, height: int) -> None:
    """Darker corners."""
    clear, dark = skia.Color(0, 0, 0, 0), skia.Color(8, 7, 12, 122)
    canvas.drawPaint(skia.Paint(Shader=skia.GradientShader.MakeRadial(skia.Point(width / 2, height / 2), 835, [clear, clear, dark], [0, 0.55, 1])))
