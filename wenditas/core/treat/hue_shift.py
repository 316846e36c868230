"""Hue shift: every hue turned by the same angle, lightness kept."""

from wenditas.core.kernel import Picture
from wenditas.core.params import Params, degrees, percent
from wenditas.core.treat.neutral import whole_turns
from wenditas.core.treat.parts.rotate import prepare_rotate, rotate
from wenditas.core.treat.record import At, Treatment


class HueShift(Params):
    """How far hues turn, and what becomes of chroma and lightness."""

    shift: float = degrees(0, "Shift", "How far every hue turns round the circle. Lightness stays as it is seen.", low=-360, high=360)
    chroma: float = percent(100, "Chroma", "How strong the colours are afterwards.", high=200)
    lightness: float = percent(0, "Lightness", "Added to the lightness.", low=-100, high=100)


def hue_shift(picture: Picture, params: HueShift, at: At) -> Picture:
    """Hues turned in OkLCh.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: OkLCh (Ottosson 2020).
    """
    return rotate(picture, params.shift, params.chroma / 100, params.lightness / 100)


TREATMENT = Treatment(
    id="hue-shift",
    name="Hue shift",
    group="shift",
    summary="Turns every hue by the same angle and keeps lightness as the eye sees it.",
    intents=("rotate", "change colour", "rainbow"),
    source="OkLCh (Ottosson 2020)",
    check="coloraide, OkLCh with the hue turned",
    params=HueShift,
    neutral=({"shift": whole_turns, "chroma": 100, "lightness": 0},),
    reference=hue_shift,
    prepare=lambda p: prepare_rotate(p.shift, p.chroma / 100, p.lightness / 100),
    example={"shift": 140},
)
