"""Directional blur: a smear along one direction."""

import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.params import Params, degrees, pixels
from wenditas.core.treat.parts.blurs import pair_mean, shift_reference
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
    """The mean along a line through every pixel: the picture averaged with itself at halving distances.

    picture: `(3, h, w)`, any values; the edge goes on beyond the frame. Returns the same shape.
    Source: box filter along a line, as a product of two-point means (binary expansion of the sum).
    """
    planes: Floats = picture.astype(np.float64)
    for dy, dx in _steps(params, at):
        planes = np.stack([(shift_reference(p, dy, dx) + shift_reference(p, -dy, -dx)) / 2 for p in planes])
    return as_picture(planes)


def prepare(params: DirectionalBlur) -> Apply:
    """`directional_blur` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        steps = _steps(params, at)
        between = [tile] + [np.empty_like(tile) for _ in range(min(len(steps) - 1, 2))]
        for n, (dy, dx) in enumerate(steps):
            last = n == len(steps) - 1
            pair_mean(between[0 if n == 0 else 1 + (n - 1) % 2], dy, dx, out if last else between[1 + n % 2])
        if not steps:
            out[:] = tile

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
    reference=directional_blur,
    prepare=prepare,
    reach=on_frames,
    example={"length": 90},
)
