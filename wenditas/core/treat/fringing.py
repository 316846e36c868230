"""Radial fringing: colours part towards the edge, as through a simple lens."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.gather import gather, gather_grid
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class Fringing(Params):
    """How strong, and round what centre."""

    strength: float = percent(1, "Strength", "How much larger red is than green, and blue smaller.", low=-10, high=10, step=0.1)
    centre_x: float = percent(50, "Centre across", "From the left edge.")
    centre_y: float = percent(50, "Centre down", "From the top edge.")


def _lines(params: Fringing, at: At, channel: int) -> tuple[Floats, Floats]:
    """The rows and columns that a channel is taken from."""
    zoom = 1 / (1 + params.strength / 100 * (1 - channel))
    cy, cx = params.centre_y / 100 * at.height - 0.5, params.centre_x / 100 * at.width - 0.5
    return cy + (np.arange(at.height) - cy) * zoom, cx + (np.arange(at.width) - cx) * zoom


def fringing(picture: Picture, params: Fringing, at: At) -> Picture:
    """Red enlarged and blue reduced about the centre by the strength; green stays.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: lateral chromatic aberration to first order in the distance from the centre (optics textbooks).
    """
    lines = [_lines(params, at, c) for c in range(3)]
    return np.concatenate([gather(picture[c : c + 1], *np.meshgrid(*lines[c], indexing="ij")) for c in range(3)])


def prepare(params: Fringing) -> Apply:
    """`fringing` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        for c in range(3):
            gather_grid(tile[c : c + 1], *_lines(params, at, c), "stretch", out[c : c + 1])

    return apply


TREATMENT = Treatment(
    id="radial-fringing",
    name="Radial fringing",
    group="break",
    summary="Parts the colours towards the edge of the frame, as a simple lens does.",
    intents=("chromatic aberration", "lens", "misprint"),
    source="Lateral chromatic aberration to first order",
    check="SciPy ndimage.affine_transform, order 1",
    params=Fringing,
    neutral=({"strength": 0},),
    reference=fringing,
    prepare=prepare,
    reach=on_frames,
    example={"strength": 4},
)
