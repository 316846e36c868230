"""Lightness moved by a different amount in each of eight bands of hue."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params
from wenditas.core.treat.parts.by_hue import BANDS, band_field, band_points, by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class LightnessByBand(Params):
    """Lightness in each of eight bands of hue."""

    red: float = band_field("red", "Lightness", 0, -50, 50, "%")
    orange: float = band_field("orange", "Lightness", 0, -50, 50, "%")
    yellow: float = band_field("yellow", "Lightness", 0, -50, 50, "%")
    green: float = band_field("green", "Lightness", 0, -50, 50, "%")
    teal: float = band_field("teal", "Lightness", 0, -50, 50, "%")
    blue: float = band_field("blue", "Lightness", 0, -50, 50, "%")
    violet: float = band_field("violet", "Lightness", 0, -50, 50, "%")
    pink: float = band_field("pink", "Lightness", 0, -50, 50, "%")


def _tables(params: LightnessByBand) -> Floats:
    return tables(lightness=band_points([getattr(params, name) for name in BANDS]))


def lightness_by_band(picture: Picture, params: LightnessByBand, at: At) -> Picture:
    """Lightness moved by a different amount in each of eight bands of hue.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres.
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="lightness-by-band",
    name="Lightness by hue band",
    group="shift",
    summary="Makes each of eight bands of hue lighter or darker.",
    intents=("darken the sky", "lighten skin"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=LightnessByBand,
    reference=lightness_by_band,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"red": -25, "yellow": 20, "blue": -30},
)
