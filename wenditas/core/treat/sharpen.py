"""Sharpen: what a blur takes away, added."""

import numpy as np

from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Params, number, percent, pixels
from wenditas.core.treat.parts.blurs import gaussian, gaussian_reference
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


class Sharpen(Params):
    """How much, how fine, and what is left alone."""

    sharpness: float = percent(80, "Sharpness", "How much of the detail is added.", high=400)
    radius: float = pixels(1.5, "Radius", "How fine the detail is.", low=0.3, high=30, step=0.1)
    threshold: float = number(0, "Threshold", "Detail smaller than this many 8-bit steps is left alone, so that noise is not raised.", low=0, high=32, step=0.5)


def sharpen(picture: Picture, params: Sharpen, at: At) -> Picture:
    """value + sharpness * d, where d is value - blurred, shrunk by the threshold.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: unsharp mask (common practice); soft threshold by definition.
    """
    d = picture - gaussian_reference(picture, params.radius * at.scale)
    d = np.sign(d) * np.maximum(np.abs(d) - params.threshold / 255, 0)
    return as_picture(picture + d * params.sharpness / 100)


def prepare(params: Sharpen) -> Apply:
    """`sharpen` on whole frames."""
    amount, threshold = np.float32(params.sharpness / 100), np.float32(params.threshold / 255)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        np.subtract(tile, gaussian(tile, params.radius * at.scale), out=out)
        if threshold > 0:
            out -= np.clip(out, -threshold, threshold)
        out *= amount
        out += tile

    return apply


TREATMENT = Treatment(
    id="sharpen",
    name="Sharpen",
    group="soften",
    summary="Brings fine detail forward.",
    intents=("crisp", "detail", "focus"),
    source="Unsharp mask (common practice)",
    check="scikit-image unsharp_mask",
    params=Sharpen,
    neutral=({"sharpness": 0},),
    reference=sharpen,
    prepare=prepare,
    reach=on_frames,
    example={"sharpness": 250, "radius": 3},
)
