"""Hues turned by a curve over hue."""

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Curve, Params, curve
from wenditas.core.treat.neutral import level
from wenditas.core.treat.parts.by_hue import by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment


class HueByHue(Params):
    """A closed curve over the hue circle (OkLCh degrees)."""

    shift: Curve = curve(((0, 0),), "Turn", "How far each hue is turned.", axis="hue", low=-180, high=180, unit="°")


def _tables(params: HueByHue) -> Floats:
    return tables(shift=params.shift)


def hue_by_hue(picture: Picture, params: HueByHue, at: At) -> Picture:
    """Hues turned by a curve over hue.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980).
    """
    return by_hue(picture, _tables(params))


TREATMENT = Treatment(
    id="hue-by-hue",
    name="Hue by hue",
    group="shift",
    summary="Draws over the hue circle how far each hue is turned.",
    intents=("autumn", "unify greens", "skin"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=HueByHue,
    neutral=({"shift": level(0)},),
    reference=hue_by_hue,
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={"shift": [[0, 0], [30, 140], [80, 0], [250, -90]]},
)
