"""The fine edge of an object: hair, fur and blur, drawn from the colours on both sides of it."""

import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture, kernel
from wenditas.core.select.objects.colours import around, signed

EVEN = 1e-4  # sum of squares below which the colours of a window count as one
ROUNDS, CLOSE = 400, 1e-3  # of conjugate gradients at most; share of the first residual at which they end
SPAN = 25  # pixels that share a window of 3 by 3 with a pixel
RIM = 2  # pixels around the open ones that share a window with them


@kernel
def _windows(picture, numbers, even, weights):  # type: ignore[no-untyped-def]
    """Adds up the matting Laplacian: `weights` of each open pixel to the 25 around it. picture: `(h, w, 3)`; numbers: of open pixels, -1 elsewhere."""
    height, width = numbers.shape
    colours = np.empty((9, 3))
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            any_open = False
            for k in range(9):
                any_open |= numbers[y - 1 + k // 3, x - 1 + k % 3] >= 0
            if not any_open:
                continue
            for c in range(3):
                total = 0.0
                for k in range(9):
                    colours[k, c] = picture[y - 1 + k // 3, x - 1 + k % 3, c]
                    total += colours[k, c]
                for k in range(9):
                    colours[k, c] -= total / 9
            a = b = c2 = d = e = f = 0.0
            for k in range(9):
                a += colours[k, 0] * colours[k, 0]
                b += colours[k, 0] * colours[k, 1]
                c2 += colours[k, 0] * colours[k, 2]
                d += colours[k, 1] * colours[k, 1]
                e += colours[k, 1] * colours[k, 2]
                f += colours[k, 2] * colours[k, 2]
            a, b, c2, d, e, f = (a + even) / 9, b / 9, c2 / 9, (d + even) / 9, e / 9, (f + even) / 9
            m00, m01, m02, m11, m12, m22 = d * f - e * e, c2 * e - b * f, b * e - c2 * d, a * f - c2 * c2, b * c2 - a * e, a * d - b * b
            per = 1 / (a * m00 + b * m01 + c2 * m02)
            for i in range(9):
                own = numbers[y - 1 + i // 3, x - 1 + i % 3]
                if own < 0:
                    continue
                r, g, bl = colours[i, 0], colours[i, 1], colours[i, 2]
                u = (m00 * r + m01 * g + m02 * bl) * per
                v = (m01 * r + m11 * g + m12 * bl) * per
                w = (m02 * r + m12 * g + m22 * bl) * per
                for j in range(9):
                    like = (1 + u * colours[j, 0] + v * colours[j, 1] + w * colours[j, 2]) / 9
                    at = (j // 3 - i // 3 + 2) * 5 + (j % 3 - i % 3 + 2)
                    weights[own, at] += (1.0 if i == j else 0.0) - like


@kernel
def _product(weights, beside, values, out):  # type: ignore[no-untyped-def]
    for n in range(values.size):
        total = 0.0
        for k in range(25):
            at = beside[n, k]
            if at >= 0:
                total += weights[n, k] * values[at]
        out[n] = total


def closed_form(picture: Floats, known: Matte, where: np.ndarray, guess: Matte, even: float = EVEN) -> Matte:
    """Alpha of the open pixels of a picture, from the known ones beside them. `(h, w)`, 0-1.

    picture: `(h, w, 3)`. known: 0-1 where `where` is False. where: the open pixels. guess: where the search begins.
    Source: Levin, Lischinski and Weiss (2008), *A closed-form solution to natural image matting*: alpha is as nearly as can be a linear function
    of the colours within each 3 × 3 window; solved by conjugate gradients over the open pixels alone.
    """
    spot = np.pad(where, RIM)
    wide = np.pad(picture.astype(np.float64), ((RIM, RIM), (RIM, RIM), (0, 0)), mode="reflect")
    values = np.pad(np.where(where, guess, known).astype(np.float64), RIM, mode="edge")
    numbers = np.full(spot.shape, -1, np.int64)
    rows, columns = np.nonzero(spot)
    numbers[rows, columns] = np.arange(len(rows))
    weights = np.zeros((len(rows), SPAN))
    _windows(wide, numbers, even, weights)
    steps = np.array([(y, x) for y in range(-2, 3) for x in range(-2, 3)])
    by, bx = rows[:, None] + steps[:, 0], columns[:, None] + steps[:, 1]
    beside = numbers[by, bx]
    fixed = np.where(beside < 0, values[by, bx], 0)
    out = known.astype(np.float64).copy()
    out[where] = _solved(weights, beside, -(weights * fixed).sum(axis=1), guess[where].astype(np.float64))
    return np.asarray(np.clip(out, 0, 1), np.float32)


def _solved(weights: Floats, beside: np.ndarray, right: Floats, start: Floats) -> Floats:
    """Conjugate gradients with the diagonal before them (Hestenes and Stiefel 1952)."""
    found, product = start.copy(), np.empty_like(start)
    _product(weights, beside, found, product)
    left, first = right - product, float(np.sqrt((right**2).sum())) or 1.0
    before = 1 / np.maximum(weights[:, SPAN // 2], 1e-9)
    aim = before * left
    way, energy = aim.copy(), float(left @ aim)
    for _ in range(ROUNDS):
        if np.sqrt((left**2).sum()) < CLOSE * first or energy <= 0:
            break
        _product(weights, beside, way, product)
        step = energy / max(float(way @ product), 1e-30)
        found += step * way
        left -= step * product
        aim = before * left
        energy, last = float(left @ aim), energy
        way = aim + energy / last * way
    return found


def fine_edge(matte: Matte, picture: Picture, width: float) -> Matte:
    """A matte with its edge drawn anew, so that hair, fur and blur are kept. `(h, w)`, 0-1.

    matte: its sharp edge. picture: `(3, h, w)`, R'G'B'. width: how far from that edge there are mixed pixels, in pixels.
    """
    box = around(matte, int(np.ceil(width)) + RIM)
    if box is None or width <= 0:
        return matte
    part = np.ascontiguousarray(matte[box])
    far = signed(part)
    where = np.abs(far) < width
    if not where.any() or where.all():
        return matte
    out = matte.copy()
    seen = np.ascontiguousarray(np.moveaxis(picture[:, box[0], box[1]], 0, 2))
    out[box] = closed_form(seen, (far > 0).astype(np.float32), where, part)
    return out
