"""Saturation set apart for eight bands of hue."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params
from wenditas.core.treat.parts.by_hue import BANDS, band_field, band_points, by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class SaturationByBand(Params):
    """Saturation in each of eight bands of hue."""

    red: float = band_field("red", "Saturation", 100, 0, 200, "%")
    orange: float = band_field("orange", "Saturation", 100, 0, 200, "%")
    yellow: float = band_field("yellow", "Saturation", 100, 0, 200, "%")
    green: float = band_field("green", "Saturation", 100, 0, 200, "%")
    teal: float = band_field("teal", "Saturation", 100, 0, 200, "%")
    blue: float = band_field("blue", "Saturation", 100, 0, 200, "%")
    violet: float = band_field("violet", "Saturation", 100, 0, 200, "%")
    pink: float = band_field("pink", "Saturation", 100, 0, 200, "%")


def _tables(params: SaturationByBand) -> Floats:
    return tables(saturation=band_points([getattr(params, name) for name in BANDS]))


def saturation_by_band(picture: Picture, params: SaturationByBand, at: At) -> Picture:
    """Saturation set apart for eight bands of hue.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres.
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="saturation-by-band",
    name="Saturation by hue band",
    group="remove",
    summary="Sets how much colour each of eight bands of hue keeps; the way to let colours return one by one.",
    intents=("single colour", "one colour stays", "spot colour", "colours return"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=SaturationByBand,
    reference=saturation_by_band,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"red": 100, "orange": 0, "yellow": 0, "green": 0, "teal": 0, "blue": 0, "violet": 0, "pink": 0},
)
