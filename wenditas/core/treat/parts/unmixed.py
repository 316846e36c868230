"""What colour a thing has along its edge, where it is seen mixed with its ground."""

import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture, kernel

LIKE, BY_ALPHA = 1e-5, 1.0  # how much neighbours are alike at least, and how much more where alpha changes
SMALL, MANY, FEW = 32, 10, 2  # side up to which a level has many rounds; rounds of small and of large levels
INSIDE, OUTSIDE = 0.9, 0.1  # alpha from which on a pixel counts as the thing's own, and below which as the ground's


@kernel
def _rounds(picture, alpha, fore, back, rounds, low, high):  # type: ignore[no-untyped-def]
    """Each pixel's two colours from its own and those of its four neighbours, over and over."""
    height, width = alpha.shape
    for _ in range(rounds):
        for y in range(height):
            for x in range(width):
                own = alpha[y, x]
                rest = 1 - own
                aa, ab, bb = own * own, own * rest, rest * rest
                f0, f1, f2 = own * picture[0, y, x], own * picture[1, y, x], own * picture[2, y, x]
                b0, b1, b2 = rest * picture[0, y, x], rest * picture[1, y, x], rest * picture[2, y, x]
                for d in range(4):
                    v = min(max(y + (d == 2) * -1 + (d == 3), 0), height - 1)
                    u = min(max(x + (d == 0) * -1 + (d == 1), 0), width - 1)
                    share = LIKE + BY_ALPHA * abs(own - alpha[v, u])
                    aa += share
                    bb += share
                    f0 += share * fore[0, v, u]
                    f1 += share * fore[1, v, u]
                    f2 += share * fore[2, v, u]
                    b0 += share * back[0, v, u]
                    b1 += share * back[1, v, u]
                    b2 += share * back[2, v, u]
                per = 1 / (aa * bb - ab * ab)
                p, q, r = bb * per, ab * per, aa * per
                fore[0, y, x] = min(max(p * f0 - q * b0, low), high)
                fore[1, y, x] = min(max(p * f1 - q * b1, low), high)
                fore[2, y, x] = min(max(p * f2 - q * b2, low), high)
                back[0, y, x] = min(max(r * b0 - q * f0, low), high)
                back[1, y, x] = min(max(r * b1 - q * f1, low), high)
                back[2, y, x] = min(max(r * b2 - q * f2, low), high)


def _sized(values: Floats, height: int, width: int) -> Floats:
    """Planes `(..., h, w)` at another size, by the nearest pixel."""
    rows = np.arange(height) * values.shape[-2] // height
    columns = np.arange(width) * values.shape[-1] // width
    return np.ascontiguousarray(values[..., rows[:, None], columns])


def _mean(picture: Floats, where: np.ndarray) -> Floats:
    return np.asarray(picture[:, where].sum(axis=1) / (where.sum() + 1e-5))


def unmixed(picture: Picture, matte: Matte) -> Picture:
    """The thing's own colour at each pixel: what is left when the ground is taken out of it. `(3, h, w)`, within the picture's range.

    picture: `(3, h, w)`. matte: how much of each pixel is the thing, 0-1.
    Source: Germer, Uelwer, Conrad and Harmeling (2020), *Fast multi-level foreground estimation*: from one pixel to all of them, each level begins with
    the one before it.
    """
    values, alpha = np.asarray(picture, np.float64), np.asarray(matte, np.float64)
    height, width = matte.shape
    levels = int(np.ceil(np.log2(max(width, height))))
    low, high = float(values.min()), float(values.max())
    fore = _mean(values, alpha > INSIDE)[:, None, None]
    back = _mean(values, alpha < OUTSIDE)[:, None, None]
    for level in range(levels + 1):
        share = level / levels if levels else 1
        size = round(height**share), round(width**share)
        fore, back = _sized(fore, *size), _sized(back, *size)
        rounds = MANY if max(size) <= SMALL else FEW
        _rounds(_sized(values, *size), _sized(alpha, *size), fore, back, rounds, low, high)
    return np.asarray(fore, np.float32)
