"""Tone zones: shadows, midtones and highlights tinted, lightened and saturated apart."""

from typing import Any

import numpy as np

from wenditas.core.colour.fast import smoothstep
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.params import Colour, Params, colour, percent
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment

ZONES = ("shadows", "midtones", "highlights")


def _ink(zone: str, default: str) -> Any:
    return colour(default, f"{zone.capitalize()} tint", f"The colour that the {zone} lean towards; their luma stays.")


def _amount(zone: str) -> Any:
    return percent(0, f"{zone.capitalize()} tint amount", f"How far the {zone} lean towards their tint. 0 % leaves them: whites can stay white.")


def _bright(zone: str) -> Any:
    return percent(0, f"{zone.capitalize()} brightness", f"Added to the {zone}.", low=-50, high=50)


def _saturation(zone: str) -> Any:
    return percent(100, f"{zone.capitalize()} saturation", f"How much colour the {zone} keep.", high=200)


class ToneZones(Params):
    """The limits between the zones, and what happens in each."""

    low: float = percent(33, "Shadows end", "Luma at which shadows give way to midtones.")
    high: float = percent(66, "Highlights begin", "Luma at which midtones give way to highlights.")
    softness: float = percent(30, "Softness", "Width of the passage from one zone to the next.", low=1)
    shadows: Colour = _ink("shadows", "#27408b")
    shadows_tint: float = _amount("shadows")
    shadows_brightness: float = _bright("shadows")
    shadows_saturation: float = _saturation("shadows")
    midtones: Colour = _ink("midtones", "#8a6f4d")
    midtones_tint: float = _amount("midtones")
    midtones_brightness: float = _bright("midtones")
    midtones_saturation: float = _saturation("midtones")
    highlights: Colour = _ink("highlights", "#f0c070")
    highlights_tint: float = _amount("highlights")
    highlights_brightness: float = _bright("highlights")
    highlights_saturation: float = _saturation("highlights")


def _zones(params: ToneZones) -> Floats:
    """For each zone: red, green, blue and saturation to apply, `(3, 4)`."""
    rows = []
    for zone in ZONES:
        ink = rgb_from_hex(getattr(params, zone))
        lean = (ink - luma(ink)) * getattr(params, f"{zone}_tint") / 100
        rows.append([*(lean + getattr(params, f"{zone}_brightness") / 100), getattr(params, f"{zone}_saturation") / 100])
    return np.array(rows)


def _edges(params: ToneZones) -> tuple[float, float, float]:
    """Starts of the two ramps, and the inverse of their width."""
    low, high, width = params.low / 100, max(params.high, params.low) / 100, params.softness / 100
    return low - width / 2, high - width / 2, 1 / width


def tone_zones(picture: Picture, params: ToneZones, at: At) -> Picture:
    """luma + saturation * (R'G'B' - luma) + tint + brightness, each mixed from the zones by the pixel's luma.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: stated formula; smoothsteps between zones, whose weights sum to one.
    """
    low, high, steep = _edges(params)
    grey = luma(picture)
    up, over = (np.clip((grey - edge) * steep, 0, 1) for edge in (low, high))
    up, over = up * up * (3 - 2 * up), over * over * (3 - 2 * over)
    weights = np.stack([1 - up, up - over, over])
    values = np.tensordot(_zones(params).T, weights, axes=1)
    return as_picture(grey + values[3] * (picture - grey) + values[:3])


@kernel
def _tone_zones_tile(tile, zones, low, high, steep, out):  # type: ignore[no-untyped-def]
    k0, k1, k2 = zones[0, 3], zones[1, 3], zones[2, 3]
    width = tile.shape[2]
    rows = np.empty((4, width), np.float32)
    shadow, middle, over, grey = rows[0], rows[1], rows[2], rows[3]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        for x in range(width):
            grey[x] = KR * r[x] + KG * g[x] + KB * b[x]
            up = smoothstep(low, steep, grey[x])
            over[x] = smoothstep(high, steep, grey[x])
            shadow[x], middle[x] = np.float32(1) - up, up - over[x]
        for c in range(3):
            row, to, z0, z1, z2 = tile[c, y], out[c, y], zones[0, c], zones[1, c], zones[2, c]
            for x in range(width):
                keep = shadow[x] * k0 + middle[x] * k1 + over[x] * k2
                to[x] = grey[x] + keep * (row[x] - grey[x]) + shadow[x] * z0 + middle[x] * z1 + over[x] * z2


def prepare(params: ToneZones) -> Apply:
    """`tone_zones` on tiles."""
    zones = as_picture(_zones(params))
    low, high, steep = (np.float32(v) for v in _edges(params))
    return lambda tile, out, at: _tone_zones_tile(tile, zones, low, high, steep, out)


TREATMENT = Treatment(
    id="tone-zones",
    name="Tone zones",
    group="tone",
    summary="Tints, lightens and saturates shadows, midtones and highlights apart, with limits of your own.",
    intents=("split toning", "teal and orange", "shadows", "highlights"),
    source="Stated formula; smoothsteps between zones, whose weights sum to one",
    check="NumPy: luma is kept by tints; a zone alone equals the plain saturation of ASC CDL 1.2",
    params=ToneZones,
    neutral=(
        {f"{zone}_{key}": value for zone in ("shadows", "midtones", "highlights") for key, value in (("tint", 0), ("brightness", 0), ("saturation", 100))},
    ),
    reference=tone_zones,
    prepare=prepare,
    presets={
        "One ink in the shadows": {"shadows": "#27408b", "shadows_tint": 70, "shadows_saturation": 0, "midtones_saturation": 0, "highlights_saturation": 0},
        "Blue night shadows": {
            "shadows": "#14306e",
            "shadows_tint": 60,
            "midtones": "#2d4a80",
            "midtones_tint": 30,
            "highlights_tint": 0,
            "highlights_brightness": -15,
        },
        "Teal and amber": {"shadows": "#0f6f7a", "shadows_tint": 40, "highlights": "#f0a040", "highlights_tint": 30},
    },
    example={"shadows_tint": 70, "highlights_tint": 60},
)
