"""Lens distortion: the frame bulges or pinches."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, choice, percent
from wenditas.core.treat.parts.gather import Edge, gather, gather_by
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class LensDistortion(Params):
    """How much, round what centre, and what is seen beyond the edge."""

    bulge: float = percent(30, "Bulge", "Above nought bulges like a barrel, below pinches like a cushion.", low=-100, high=100)
    centre_x: float = percent(50, "Centre across", "From the left edge.")
    centre_y: float = percent(50, "Centre down", "From the top edge.")
    edge: Edge = choice("mirror", "Beyond the edge", "The edge stretched, the picture mirrored or repeated, or black.")


def _places(params: LensDistortion, at: At, first: int, end: int) -> tuple[Floats, Floats]:
    unit = max(at.height, at.width) / 2
    cy, cx = params.centre_y / 100 * at.height - 0.5, params.centre_x / 100 * at.width - 0.5
    dy, dx = (np.arange(first, end)[:, None] - cy) / unit, (np.arange(at.width)[None, :] - cx) / unit
    k = 1 + params.bulge / 100 * (dy**2 + dx**2)
    return cy + dy * k * unit, cx + dx * k * unit


def lens_distortion(picture: Picture, params: LensDistortion, at: At) -> Picture:
    """Every pixel taken from r (1 + k r^2) along its own ray, r counted in halves of the longer side.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: first radial term of Brown 1971.
    """
    return gather(picture, *_places(params, at, 0, at.height), params.edge)


def prepare(params: LensDistortion) -> Apply:
    """`lens_distortion` on whole frames."""
    return lambda tile, out, at: gather_by(tile, lambda first, end: _places(params, at, first, end), params.edge, out)


TREATMENT = Treatment(
    id="lens-distortion",
    name="Lens distortion",
    group="break",
    summary="Bulges or pinches the frame like a lens.",
    intents=("fisheye", "barrel", "pincushion", "wide angle"),
    source="First radial term of Brown 1971",
    check="OpenCV initUndistortRectifyMap with the same coefficient",
    params=LensDistortion,
    neutral=({"bulge": 0},),
    reference=lens_distortion,
    prepare=prepare,
    reach=on_frames,
    example={"bulge": 70},
)
