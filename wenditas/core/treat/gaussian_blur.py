"""Gaussian blur."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Params, choice, pixels
from wenditas.core.treat.parts.blurs import from_light, from_light_reference, gaussian, gaussian_reference, to_light, to_light_reference
from wenditas.core.treat.parts.inside import over_all
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

Light = Literal["as coded", "in linear light"]


class GaussianBlur(Params):
    """How wide, and in what light."""

    radius: float = pixels(8, "Radius", "Standard deviation of the blur.", step=0.5)
    light: Light = choice("as coded", "Blurred", "As coded keeps tones even; in linear light bright points spread as through a lens.")


def gaussian_blur(picture: Picture, params: GaussianBlur, at: At) -> Picture:
    """The picture under a Gaussian of `radius`; the edge goes on beyond the frame. With at.matte what it selects is blurred over the rest.

    picture: `(3, h, w)`; limited to 0-1.25 first where it is blurred in linear light. Returns the same shape.
    Source: definition of the Gaussian, sampled to four standard deviations.
    """
    sigma = params.radius * at.scale
    if params.light == "as coded":
        return as_picture(over_all(picture.astype(np.float64), at.matte, lambda planes: gaussian_reference(planes, sigma)))
    return from_light_reference(over_all(to_light_reference(picture), at.matte, lambda planes: gaussian_reference(planes, sigma)))


def prepare(params: GaussianBlur) -> Apply:
    """`gaussian_blur` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        sigma = params.radius * at.scale
        if params.light == "as coded":
            out[:] = over_all(tile, at.matte, lambda planes: gaussian(planes, sigma))
        else:
            from_light(as_picture(over_all(to_light(tile), at.matte, lambda planes: gaussian(planes, sigma))), out)

    return apply


TREATMENT = Treatment(
    id="gaussian-blur",
    name="Gaussian blur",
    group="soften",
    summary="Softens evenly in all directions.",
    intents=("soft", "defocus", "out of focus"),
    source="Definition of the Gaussian",
    check="SciPy ndimage.gaussian_filter",
    params=GaussianBlur,
    neutral=({"radius": 0},),
    reference=gaussian_blur,
    prepare=prepare,
    reach=on_frames,
    spreads=True,
    example={"radius": 14},
)
