"""Recolour: one colour moved onto another, shading and texture kept."""

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.kernel import Picture
from wenditas.core.params import Colour, Params, colour, percent
from wenditas.core.treat.parts.rotate import prepare_rotate, rotate
from wenditas.core.treat.record import At, Treatment

GREY = 0.01  # chroma below which a colour has no hue of its own
MOST = 6.0  # the most that chroma is multiplied by


class Recolour(Params):
    """From which colour to which, and how far chroma and lightness follow."""

    original: Colour = colour("#b83227", "From", "The colour that the object has now; its picks give it.")
    target: Colour = colour("#2f6fb5", "To", "The colour that it gets.")
    chroma: float = percent(100, "Chroma", "0 % keeps the object's own chroma, 100 % takes the target's.", high=150)
    lightness: float = percent(0, "Lightness", "0 % keeps the object's own lightness, 100 % takes the target's.")


def _turn(params: Recolour) -> tuple[float, float, float]:
    """Degrees to turn, chroma factor and lightness to add."""
    old, new = oklch_from_rgb(rgb_from_hex(params.original)), oklch_from_rgb(rgb_from_hex(params.target))
    turn = float(new[2] - old[2]) if min(old[1], new[1]) > GREY else 0.0
    factor = min(float(new[1] / max(old[1], GREY)), MOST)
    return turn, max(0.0, 1 + (factor - 1) * params.chroma / 100), float(new[0] - old[0]) * params.lightness / 100


def recolour(picture: Picture, params: Recolour, at: At) -> Picture:
    """Hue turned by the angle between the two colours, chroma scaled and lightness moved towards the target's.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: OkLCh (Ottosson 2020); the rest by definition.
    """
    return rotate(picture, *_turn(params))


TREATMENT = Treatment(
    id="recolour",
    name="Recolour",
    group="shift",
    summary="Moves one colour onto another and keeps the shading and texture of the object.",
    intents=("replace", "swap", "change colour", "paint", "repaint"),
    source="OkLCh (Ottosson 2020)",
    check="coloraide: the original colour lands on the target's hue, chroma and lightness",
    params=Recolour,
    reference=recolour,
    follows_picks="original",
    prepare=lambda p: prepare_rotate(*_turn(p)),
    example={"original": "#b83227", "target": "#2f6fb5"},
)
