"""Saturation as a curve over lightness."""

from wenditas.core.kernel import Picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.treat.neutral import level
from wenditas.core.treat.parts.chroma import chroma_table, prepare_scale_chroma, scale_chroma
from wenditas.core.treat.record import At, Treatment


class SaturationByLightness(Params):
    """A curve over Oklab lightness."""

    saturation: Curve = curve(((0, 100), (100, 100)), "Saturation", "How much colour is left at each lightness.", axis="lightness", low=0, high=200)


def saturation_by_lightness(picture: Picture, params: SaturationByLightness, at: At) -> Picture:
    """Saturation as a curve over lightness.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); monotone cubic (Fritsch and Carlson 1980).
    """
    return scale_chroma(picture, chroma_table(params.saturation), "lightness")


TREATMENT = Treatment(
    id="saturation-by-lightness",
    name="Saturation by lightness",
    group="remove",
    summary="Draws over lightness how much colour is left, from shadows to highlights.",
    intents=("grey shadows", "calm highlights"),
    source="Oklab (Ottosson 2020); monotone cubic (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy PCHIP for the curve",
    params=SaturationByLightness,
    neutral=({"saturation": level(100)},),
    reference=saturation_by_lightness,
    prepare=lambda params: prepare_scale_chroma(chroma_table(params.saturation), "lightness"),
    example={"saturation": [[0, 0], [40, 20], [60, 160], [100, 160]]},
)
