"""How light the tones of one set of pixels are beside another's, as a curve that an editor can bend."""

import numpy as np

from wenditas.core.kernel import Floats
from wenditas.core.likeness.measured import Measured

Points = tuple[tuple[float, float], ...]
ENDS = (0.002, 0.998)  # shares of the tones that are taken for the ends of a picture
SHARES = np.linspace(0.01, 0.99, 50)
AT = (0.0, 8.0, 25.0, 50.0, 75.0, 92.0, 100.0)  # percent of luma at which a curve has points
LEAST_SLOPE, MOST_SLOPE = 0.3, 3.0
DOUBT_MEAN, DOUBT_SLOPE = 9.0, 0.2  # percent, and share, by which the tones of pictures differ anyway
USUAL = 47 + 24 * np.sqrt(3) * (
    2 * SHARES - 1
)  # luma of a usual picture, in percent: mean and spread of scikit-image's and scikit-learn's photographs, even between


def tone_curve(shot: Measured, reference: Measured, trust: float) -> Points:
    """Points in percent of the curve that gives a shot's luma the distribution of the reference's.

    trust: 0-1, how far each share of the one is taken for the same share of the other. What they do not share is not known: a shot may show more sky.
    So all of the mean and of the spread is taken, and of the rest so much. Slopes stay between `LEAST_SLOPE` and `MOST_SLOPE`.
    """
    own, want = (100 * seen.quantiles(seen.luma, SHARES) for seen in (shot, reference))
    have = own if trust == 1 else USUAL
    line = _line(have, want)
    if trust < 1:
        at = have.mean()
        moved, bent = line[0] + line[1] * at - at, line[1] - 1
        moved, bent = np.sign(moved) * max(abs(moved) - DOUBT_MEAN, 0), np.sign(bent) * max(abs(bent) - DOUBT_SLOPE, 0)
        line = float(at + moved - (1 + bent) * at), float(1 + bent)
    at = np.array(AT)
    matched = np.interp(at, have, want, left=np.nan, right=np.nan)
    straight = line[0] + line[1] * at
    aimed = np.where(np.isnan(matched), straight, trust * matched + (1 - trust) * straight)
    return _bounded(at, aimed, *(100 * reference.quantiles(reference.luma, ENDS)).tolist())


def _line(have: Floats, want: Floats) -> tuple[float, float]:
    """Offset and slope by which means and spreads agree."""
    slope = float(np.clip(want.std() / max(have.std(), 1.0), LEAST_SLOPE, MOST_SLOPE))
    return float(want.mean() - slope * have.mean()), slope


def _bounded(at: Floats, aimed: Floats, low: float, high: float) -> Points:
    """No darker or lighter than the reference is, so that no more is clipped, and between the slopes, from the middle outward."""
    out = np.clip(aimed, low, high)
    middle = len(at) // 2
    for order in (range(middle + 1, len(at)), range(middle - 1, -1, -1)):
        for n in order:
            near = n - 1 if n > middle else n + 1
            step = abs(at[n] - at[near])
            sign = 1 if n > middle else -1
            out[n] = out[near] + sign * float(np.clip(sign * (out[n] - out[near]), LEAST_SLOPE * step, MOST_SLOPE * step))
    out = np.clip(out, low, high)
    return tuple((float(x), round(float(y), 1)) for x, y in zip(at, out, strict=True))


def is_straight(points: Points) -> bool:
    """Whether a curve changes nothing that could be seen."""
    return max(abs(x - y) for x, y in points) < 1.0
