"""Lightness moved by a curve over hue."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.treat.neutral import level
from wenditas.core.treat.parts.by_hue import by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class LightnessByHue(Params):
    """A closed curve over the hue circle (OkLCh degrees)."""

    lightness: Curve = curve(((0, 0),), "Lightness", "How much lighter or darker each hue becomes.", axis="hue", low=-50, high=50, unit="%")


def _tables(params: LightnessByHue) -> Floats:
    return tables(lightness=params.lightness)


def lightness_by_hue(picture: Picture, params: LightnessByHue, at: At) -> Picture:
    """Lightness moved by a curve over hue.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980).
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="lightness-by-hue",
    name="Lightness by hue",
    group="shift",
    summary="Draws over the hue circle what becomes lighter or darker.",
    intents=("darken the sky", "lighten skin"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=LightnessByHue,
    neutral=({"lightness": level(0)},),
    reference=lightness_by_hue,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"lightness": [[30, -25], [100, 20], [250, -35]]},
)
