"""Saturation as a curve over saturation itself."""

from wenditas.core.kernel import Picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.treat.neutral import level
from wenditas.core.treat.parts.chroma import chroma_table, prepare_scale_chroma, scale_chroma
from wenditas.core.treat.record import At, Treatment


class SaturationBySaturation(Params):
    """A curve over Oklab chroma in percent of 0.33."""

    saturation: Curve = curve(((0, 100), (100, 100)), "Saturation", "How much colour is left at each saturation.", axis="saturation", low=0, high=200)


def saturation_by_saturation(picture: Picture, params: SaturationBySaturation, at: At) -> Picture:
    """Saturation as a curve over saturation itself.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); monotone cubic (Fritsch and Carlson 1980).
    """
    return scale_chroma(picture, chroma_table(params.saturation), "saturation")


TREATMENT = Treatment(
    id="saturation-by-saturation",
    name="Saturation by saturation",
    group="remove",
    summary="Draws over saturation how much of it is left: calms the loud colours or lifts the faint ones.",
    intents=("denoise_chroma", "tame", "garish", "loud colours"),
    source="Oklab (Ottosson 2020); monotone cubic (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy PCHIP for the curve",
    params=SaturationBySaturation,
    neutral=({"saturation": level(100)},),
    reference=saturation_by_saturation,
    prepare=lambda params: prepare_scale_chroma(chroma_table(params.saturation), "saturation"),
    example={"saturation": [[0, 0], [25, 0], [45, 130], [100, 130]]},
)
