"""Directional blur: a smear along one direction."""

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.params import Params, degrees, pixels
from wenditas.core.treat.parts.blurs import pair_mean, shift_reference
from wenditas.core.treat.parts.inside import over_all
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class DirectionalBlur(Params):
    """Which way and how far."""

    angle: float = degrees(90, "Angle", "0° up, 90° right; the smear goes both ways.", low=-360, high=360)
    length: float = pixels(40, "Length", "From end to end of the smear.", high=600)


def _steps(params: DirectionalBlur, at: At) -> list[tuple[float, float]]:
    """Half distances at which the picture is laid over itself: each halves the gap, down to less than a pixel."""
    length, turn = params.length * at.scale, np.radians(params.angle)
    steps, gap = [], length / 2
    while gap > 0.3:
        steps.append((-np.cos(turn) * gap / 2, np.sin(turn) * gap / 2))
        gap /= 2
    return steps


def directional_blur(picture: Picture, params: DirectionalBlur, at: At) -> Picture:
    """The mean along a line through every pixel: the picture averaged with itself at halving distances. With at.matte of what it selects, over the rest.

    picture: `(3, h, w)`, any values; the edge goes on beyond the frame. Returns the same shape.
    Source: box filter along a line, as a product of two-point means (binary expansion of the sum).
    """

    def smear(planes: Floats) -> Floats:
        for dy, dx in _steps(params, at):
            planes = np.stack([(shift_reference(p, dy, dx) + shift_reference(p, -dy, -dx)) / 2 for p in planes])
        return planes

    return as_picture(over_all(picture.astype(np.float64), at.matte, smear))


def _smear(planes: Picture, steps: list[tuple[float, float]], out: Picture) -> Picture:
    """Planes averaged with themselves at every step, into `out`, which is returned."""
    between = [planes] + [np.empty_like(planes) for _ in range(min(len(steps) - 1, 2))]
    for n, (dy, dx) in enumerate(steps):
        last = n == len(steps) - 1
        pair_mean(between[0 if n == 0 else 1 + (n - 1) % 2], dy, dx, out if last else between[1 + n % 2])
    if not steps:
        out[:] = planes
    return out


def prepare(params: DirectionalBlur) -> Apply:
    """`directional_blur` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        if at.matte is None:
            _smear(tile, _steps(params, at), out)
        else:
            out[:] = over_all(tile, at.matte, lambda planes: _smear(as_picture(planes), _steps(params, at), np.empty(planes.shape, np.float32)))

    return apply


TREATMENT = Treatment(
    id="directional-blur",
    name="Directional blur",
    group="soften",
    summary="Smears the picture along one direction.",
    intents=("motion", "speed", "smear"),
    source="Box filter along a line, as a product of two-point means",
    check="SciPy ndimage.uniform_filter1d along the axes",
    params=DirectionalBlur,
    neutral=({"length": 0},),
    reference=directional_blur,
    prepare=prepare,
    reach=on_frames,
    spreads=True,
    example={"length": 90},
)
