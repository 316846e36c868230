"""Hue, saturation or lightness changed by a curve over hue, saturation or lightness."""

from typing import Any, Literal

from wenditas.core.kernel import Picture
from wenditas.core.params import Axis, Curve, Params, choice, curve
from wenditas.core.treat.neutral import Neutral, level
from wenditas.core.treat.parts.by_hue import by_hue, prepare_by_hue, tables
from wenditas.core.treat.parts.by_place import by_place, place_tables, prepare_by_place
from wenditas.core.treat.parts.chroma import chroma_table, prepare_scale_chroma, scale_chroma
from wenditas.core.treat.record import Apply, At, Treatment

Quality = Literal["hue", "saturation", "lightness"]

NAMES = {"hue": "Turn", "saturation": "Saturation", "lightness": "Lightness"}
HELP = {"hue": "How far the hue is turned", "saturation": "How much colour is left", "lightness": "How much lighter or darker it becomes"}
RANGES = {"hue": (-180, 180, "°"), "saturation": (0, 200, "%"), "lightness": (-50, 50, "%")}
LEVELS = {"hue": 0, "saturation": 100, "lightness": 0}  # at which a curve changes nothing


def _over(changes: Quality, over: Axis) -> Any:
    """The curve of one pair: from where it changes nothing."""
    low, high, unit = RANGES[changes]
    height = LEVELS[changes]
    ends = ((0, height),) if over == "hue" else ((0, height), (100, height))
    where = {"changes": changes, "over": str(over)}
    return curve(ends, NAMES[changes], f"{HELP[changes]} at each {over}.", axis=over, low=low, high=high, unit=unit, when=where)


class CurvesOverColour(Params):
    """A curve for each pair; that of the pair which is chosen counts. Over hue (OkLCh degrees) it is closed; over saturation it runs in percent of 0.33."""

    changes: Quality = choice("saturation", "Changes", "What of the colour is changed.")
    over: Quality = choice("hue", "Over", "What of the colour says how much it is changed.")
    hue_over_hue: Curve = _over("hue", "hue")
    hue_over_saturation: Curve = _over("hue", "saturation")
    hue_over_lightness: Curve = _over("hue", "lightness")
    saturation_over_hue: Curve = _over("saturation", "hue")
    saturation_over_saturation: Curve = _over("saturation", "saturation")
    saturation_over_lightness: Curve = _over("saturation", "lightness")
    lightness_over_hue: Curve = _over("lightness", "hue")
    lightness_over_saturation: Curve = _over("lightness", "saturation")
    lightness_over_lightness: Curve = _over("lightness", "lightness")

    @property
    def drawn(self) -> Curve:
        """The curve that counts."""
        found: Curve = getattr(self, f"{self.changes}_over_{self.over}")
        return found


def _by(params: CurvesOverColour) -> dict[str, Curve]:
    """The curve under the name that tables know it by."""
    return {"shift" if params.changes == "hue" else params.changes: params.drawn}


def curves_over_colour(picture: Picture, params: CurvesOverColour, at: At) -> Picture:
    """Hue turned, saturation scaled or lightness moved by a curve over hue, saturation or lightness.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); monotone cubic, periodic over hue (Fritsch and Carlson 1980).
    """
    if params.over == "hue":
        return by_hue(picture, tables(**_by(params)))
    if params.changes == "saturation":
        return scale_chroma(picture, chroma_table(params.drawn), params.over)
    return by_place(picture, place_tables(**_by(params)), params.over)


def _prepare(params: CurvesOverColour) -> Apply:
    if params.over == "hue":
        return prepare_by_hue(tables(**_by(params)))
    if params.changes == "saturation":
        return prepare_scale_chroma(chroma_table(params.drawn), params.over)
    return prepare_by_place(place_tables(**_by(params)), params.over)


def _neutral(changes: str, over: str) -> Neutral:
    return {"changes": changes, "over": over, f"{changes}_over_{over}": level(LEVELS[changes])}


TREATMENT = Treatment(
    id="curves-over-colour",
    name="Curves over colour",
    group="shift",
    summary="Draws over hue, saturation or lightness how hues turn, how much colour is left, and what becomes lighter or darker.",
    intents=(
        "hue by hue",
        "saturation by hue",
        "lightness by hue",
        "saturation by lightness",
        "saturation by saturation",
        "single colour",
        "mute one colour",
        "spot colour",
        "autumn",
        "unify greens",
        "skin",
        "darken the sky",
        "lighten skin",
        "grey shadows",
        "calm highlights",
        "calm",
        "tame",
        "garish",
        "loud colours",
    ),
    source="Oklab (Ottosson 2020); monotone cubic, periodic over hue (Fritsch and Carlson 1980)",
    check="coloraide OkLCh of single colours; SciPy PCHIP for the curve, on the tripled domain over hue",
    params=CurvesOverColour,
    neutral=tuple(_neutral(changes, over) for changes in LEVELS for over in LEVELS),
    reference=curves_over_colour,
    prepare=_prepare,
    example={"saturation_over_hue": [[0, 160], [30, 180], [80, 20], [200, 0], [300, 20]]},
)
