"""Vignette: darker or lighter towards the edge of the frame."""

import numpy as np

from wenditas.core.colour.fast import smoothstep
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.spread import place_of
from wenditas.core.treat.record import Apply, At, Treatment


class Vignette(Params):
    """Where it begins, how wide the passage is, and how strong."""

    strength: float = percent(50, "Strength", "Below nought lightens the edges.", low=-100, high=100)
    radius: float = percent(55, "Radius", "Where it begins: 100 % is the corner.", high=150)
    softness: float = percent(60, "Softness", "Width of the passage.", low=1, high=150)
    roundness: float = percent(0, "Corner shape", "0 % follows the frame, 100 % is a circle.")
    centre_x: float = percent(50, "Centre across", "From the left edge.")
    centre_y: float = percent(50, "Centre down", "From the top edge.")


def _distance(params: Vignette, y: Floats, x: Floats, aspect: float) -> Floats:
    """0 at the centre, 1 at a corner of the frame when it is in the middle."""
    round_ = params.roundness / 100
    across = 1 / aspect + (1 / np.hypot(aspect, 1) * np.sqrt(2) - 1 / aspect) * round_
    down = 1 + (1 / np.hypot(aspect, 1) * np.sqrt(2) - 1) * round_
    dx, dy = (x - params.centre_x / 100 * aspect) * across * 2, (y - params.centre_y / 100) * down * 2
    return np.asarray(np.hypot(dx, dy) / np.sqrt(2))


def vignette(picture: Picture, params: Vignette, at: At) -> Picture:
    """value * (1 - strength * smoothstep of the distance), lightened towards white for strengths below nought.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: smoothstep of an elliptical distance, by definition.
    """
    d = place_of(at, picture.shape[1], lambda y, x, aspect: _distance(params, y, x, aspect))
    t = np.clip((d - params.radius / 100) / (params.softness / 100), 0, 1)
    weight = t * t * (3 - 2 * t) * abs(params.strength) / 100
    goal = 0.0 if params.strength >= 0 else 1.0
    return as_picture(picture + (goal - picture) * weight)


@kernel
def _vignette_tile(tile, distance, radius, inverse, strength, goal, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        d = distance[y]
        for c in range(3):
            row, to = tile[c, y], out[c, y]
            for x in range(tile.shape[2]):
                to[x] = row[x] + (goal - row[x]) * (smoothstep(radius, inverse, d[x]) * strength)


def prepare(params: Vignette) -> Apply:
    """`vignette` on tiles."""
    radius, inverse = np.float32(params.radius / 100), np.float32(100 / params.softness)
    strength, goal = np.float32(abs(params.strength) / 100), np.float32(0 if params.strength >= 0 else 1)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        distance = as_picture(place_of(at, tile.shape[1], lambda y, x, aspect: _distance(params, y, x, aspect)))
        _vignette_tile(tile, distance, radius, inverse, strength, goal, out)

    return apply


TREATMENT = Treatment(
    id="vignette",
    name="Vignette",
    group="soften",
    summary="Darkens or lightens the frame towards its edge.",
    intents=("dark corners", "edges", "spotlight"),
    source="Smoothstep of an elliptical distance, by definition",
    check="NumPy: the centre stays, corners take the full strength at radius 0; symmetry",
    params=Vignette,
    neutral=({"strength": 0},),
    reference=vignette,
    prepare=prepare,
    example={"strength": 90, "radius": 30},
)
