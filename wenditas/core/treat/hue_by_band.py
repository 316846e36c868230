"""Hues turned by a different angle in each of eight bands."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params
from wenditas.core.treat.parts.by_hue import BANDS, band_field, band_points, by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class HueByBand(Params):
    """Turn in each of eight bands of hue."""

    red: float = band_field("red", "Turn", 0, -180, 180, "°")
    orange: float = band_field("orange", "Turn", 0, -180, 180, "°")
    yellow: float = band_field("yellow", "Turn", 0, -180, 180, "°")
    green: float = band_field("green", "Turn", 0, -180, 180, "°")
    teal: float = band_field("teal", "Turn", 0, -180, 180, "°")
    blue: float = band_field("blue", "Turn", 0, -180, 180, "°")
    violet: float = band_field("violet", "Turn", 0, -180, 180, "°")
    pink: float = band_field("pink", "Turn", 0, -180, 180, "°")


def _tables(params: HueByBand) -> Floats:
    return tables(shift=band_points([getattr(params, name) for name in BANDS]))


def hue_by_band(picture: Picture, params: HueByBand, at: At) -> Picture:
    """Hues turned by a different angle in each of eight bands.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres.
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="hue-by-band",
    name="Hue by hue band",
    group="shift",
    summary="Turns each of eight bands of hue by its own angle.",
    intents=("autumn", "change greens", "skin"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the band centres",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=HueByBand,
    reference=hue_by_band,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"red": 120, "yellow": -60, "blue": 90},
)
