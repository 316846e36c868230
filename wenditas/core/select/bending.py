"""Outlines that bend with what lies in them: it is carried as an object is, and each place of the outline goes along its edge."""

import cv2
import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Matte
from wenditas.core.select.edges import normals_of, spread, turns_right
from wenditas.core.select.objects.carry import step
from wenditas.core.select.objects.colours import signed
from wenditas.core.select.objects.outlines import piece_of
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.objects.start import known_of, started
from wenditas.core.select.objects.sure import how_sure

TURNED, UNEVEN = 60.0, 1.5  # what it costs to point the other way, and to be uneven along the way
MOST_STEP = 6.0  # places of a contour to one of an outline, as a multiple of what is even
HOME = 0.3  # how much an outline keeps to the form in which it was drawn, beside the one it had before
CLOSE = 2.0  # pixels between the places of a contour
WELL, ALIKE = 10.0, 0.7  # pixels from the line that was drawn; share of what is within it that is to be the thing
LEAST = 0.2  # share of what it covered below which a thing tells nothing of its outline
FINE = 16


def filled(points: Floats, size: tuple[int, int]) -> Matte:
    """What lies within a closed outline `(n, 2)`, in pixels whose middles are at halves: `(h, w)`, 0-1."""
    out = np.zeros((size[0] * 2, size[1] * 2), np.uint8)
    cv2.fillPoly(out, [np.rint((points * 2 - 0.5) * FINE).astype(np.int32)], 255, shift=4)
    return np.asarray(cv2.resize(out, (size[1], size[0]), interpolation=cv2.INTER_AREA), np.float32) / np.float32(255)


def matched(points: Floats, contour: Floats, home: Floats | None = None) -> npt.NDArray[np.intp]:
    """Which place of a contour each of an outline's becomes: near, of like direction, in the same order around: `(n,)`.

    home: where the outline would be if it had kept its form; places are drawn there too, so that they do not slide along.

    Source: dynamic time warping (Sakoe and Chiba 1978) of one closed line to another, begun where they are nearest.
    """
    turned = turns_right(points) != turns_right(contour)
    line = contour[::-1] if turned else contour
    apart = np.square(points[:, None] - line[None]).sum(axis=2) + TURNED * (1 - normals_of(points) @ normals_of(line).T)
    if home is not None:
        apart += HOME * np.square(home[:, None] - line[None]).sum(axis=2)
    begin, at = (int(v) for v in np.unravel_index(int(apart.argmin()), apart.shape))
    found = (_in_order(np.roll(apart, (-begin, -at), axis=(0, 1))) + at) % len(line)
    found = np.roll(found, begin)
    return len(line) - 1 - found if turned else found


def _in_order(costs: Floats) -> npt.NDArray[np.intp]:
    """The steps that cost least in all, each at or after the one before, begun with the first."""
    count, steps = costs.shape
    even, total, came = steps / count, np.full(steps, np.inf), np.zeros((count, steps), np.intp)
    total[0] = costs[0, 0]
    for n in range(1, count):
        best = np.full(steps, np.inf)
        for k in range(int(np.ceil(MOST_STEP * even)) + 1):
            shifted = np.concatenate([np.full(k, np.inf), total[: max(steps - k, 0)]])[:steps] + UNEVEN * (k - even) ** 2
            better = shifted < best
            best[better], came[n, better] = shifted[better], k
        total = best + costs[n]
    found = np.zeros(count, np.intp)
    found[-1] = int((total + UNEVEN * np.square(steps - np.arange(steps) - even)).argmin())
    for n in range(count - 1, 0, -1):
        found[n - 1] = found[n] - came[n, found[n]]
    return found


def _thing_in(here: Seen, drawn: Matte) -> Matte:
    """What an outline was drawn around, which it may lie beside by a little: what is well within it and well without is taken for certain."""
    far = signed(drawn)
    room = min(WELL, 0.5 * float(far.max()))
    found = started(here, (far > room).astype(np.uint8), (far < -room).astype(np.uint8))
    return found if ((found > 0.5) & (drawn > 0.5)).sum() >= ALIKE * (drawn > 0.5).sum() else drawn


class Bender:
    """Carries the places of a closed outline from picture to picture. points: `(n, 2)`, in pixels; sure: how sure the last step is, 0-1."""

    def __init__(self, here: Seen, points: Floats) -> None:
        self._before, self.points, self.sure, self._count = here, points, 1.0, 0
        self._matte = _thing_in(here, filled(points, here.size))
        self._known = known_of(here, self._matte)

    def step(self, here: Seen, stiff: Floats, home: Floats | None = None) -> Floats:
        """The places in the next picture. stiff: where they would be if the outline did not bend any further.

        home: where they would be if it never had, as far as that is known.
        Where the thing is out of sight they stay where they would be.
        """
        self._count += 1
        found = step(self._before, self._matte, here, self._known)
        share = float((found.matte > 0.5).sum()) / max(self._known.area, 1.0)
        self._before, self._matte, self.points = here, found.matte, stiff
        self.sure = how_sure(found, share, self._count)
        piece = piece_of(found.matte)
        if share >= LEAST and len(piece):
            contour = spread(piece, CLOSE)
            self.points = contour[matched(stiff, contour, home)]
        return self.points
