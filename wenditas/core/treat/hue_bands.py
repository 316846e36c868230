"""Hue bands: hues changed around hues of one's own choice."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import AfterValidator, Field

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.oklab import oklch_from_rgb
from wenditas.core.kernel import Floats, Picture
from wenditas.core.named import named
from wenditas.core.params import Params, bands, degrees, number, percent
from wenditas.core.treat.parts.by_hue import by_hue, prepare_by_hue, tables
from wenditas.core.treat.record import At, Treatment

# Where sRGB's red, yellow, green and blue lie in OkLCh, and what is between; by eye (common practice).
EIGHT = {"red": 29, "orange": 62, "yellow": 105, "green": 145, "teal": 195, "blue": 262, "violet": 305, "pink": 350}
MOST, LEAST_CHROMA = 12, 0.03


class Band(Params):
    """A hue, and what becomes of the colours around it."""

    id: str = Field("", max_length=40)  # one without gets one from its list
    hue: float = number(29, "Hue", "Which hue the band lies at, in OkLCh.", low=0, high=360, step=1, unit="°")
    saturation: float = percent(100, "Saturation", "Chroma of colours around this hue.", high=200)
    turn: float = degrees(0, "Turn", "How far these hues are turned.")
    lightness: float = percent(0, "Lightness", "How much lighter these colours become, or darker.", low=-50, high=50)


def _named(found: tuple[Band, ...]) -> tuple[Band, ...]:
    return named(found, "b", "bands")


class HueBands(Params):
    """One to twelve bands; between them the changes go over smoothly, all round the circle."""

    bands: Annotated[tuple[Band, ...], Field(min_length=1, max_length=MOST), AfterValidator(_named)] = bands(
        tuple(Band(id=name, hue=hue) for name, hue in EIGHT.items()), "Bands", "What becomes of the colours around each of these hues.", Band
    )


def _tables(params: HueBands) -> Floats:
    def points(field: str) -> list[tuple[float, float]]:
        return [(band.hue, getattr(band, field)) for band in params.bands]

    return tables(points("saturation"), points("turn"), points("lightness"))


def hue_bands(picture: Picture, params: HueBands, at: At) -> Picture:
    """Chroma, hue and lightness changed by the bands; a single one counts for all hues, and of two at the same hue the later one counts.

    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, within 0-1.
    Source: Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the bands.
    """
    return by_hue(picture, _tables(params))


def bands_at(params: HueBands, colours: Sequence[str]) -> dict[str, list[dict[str, object]]]:
    """Bands at the hues of some colours, as they begin; greys have none. What there was stays where none of them has a hue."""
    lch = [oklch_from_rgb(rgb_from_hex(c)) for c in colours]
    hues = sorted(round(float(hue), 1) for _, chroma, hue in lch if chroma > LEAST_CHROMA)[:MOST]
    made = HueBands(bands=tuple(Band(hue=hue) for hue in hues)) if hues else params
    return made.model_dump(mode="json")


TREATMENT = Treatment(
    id="hue-bands",
    name="Hue bands",
    group="shift",
    summary="Changes saturation, hue and lightness around hues of your own choice.",
    intents=("autumn", "change greens", "skin", "teal", "one by one", "single colour", "colours return", "selective", "sky"),
    source="Oklab (Ottosson 2020); periodic monotone cubic (Fritsch and Carlson 1980) through the bands",
    check="coloraide OkLCh of single colours; SciPy on the tripled domain for the curve",
    params=HueBands,
    neutral=({"bands": lambda bands: all((b.saturation, b.turn, b.lightness) == (100, 0, 0) for b in bands)},),
    takes_palette=bands_at,
    reference=hue_bands,
    begins="everywhere",
    prepare=lambda params: prepare_by_hue(_tables(params)),
    example={
        "bands": [
            {"id": "a", "hue": 29, "turn": 120},
            {"id": "b", "hue": 105, "turn": -60, "saturation": 150},
            {"id": "c", "hue": 262, "turn": 90, "lightness": 10},
        ]
    },
)
