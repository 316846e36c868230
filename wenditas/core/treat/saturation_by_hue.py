"""Saturation as a curve over hue."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.treat.neutral import level
from wenditas.core.treat.parts.by_hue import by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class SaturationByHue(Params):
    """A closed curve over the hue circle (OkLCh degrees)."""

    saturation: Curve = curve(((0, 100),), "Saturation", "How much colour is left at each hue.", axis="hue", low=0, high=200, unit="%")


def _tables(params: SaturationByHue) -> Floats:
    return tables(saturation=params.saturation)


def saturation_by_hue(picture: Picture, params: SaturationByHue, at: At) -> Picture:
    """Saturation as a curve over hue.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980).
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="saturation-by-hue",
    name="Saturation by hue",
    group="remove",
    summary="Draws over the hue circle how much colour is left.",
    intents=("single colour", "mute one colour", "spot colour"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=SaturationByHue,
    neutral=({"saturation": level(100)},),
    reference=saturation_by_hue,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"saturation": [[0, 160], [30, 180], [80, 20], [200, 0], [300, 20]]},
)
