"""Glow: light that spills from bright parts, in linear light."""

import numpy as np

from wenditas.core.colour.fast import encode
from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.transfer import srgb_decode
from wenditas.core.colour.ycbcr import LUMA_709
from wenditas.core.kernel import Floats, Picture, kernel
from wenditas.core.params import Colour, Params, colour, percent, pixels
from wenditas.core.tiles import run_tiles
from wenditas.core.treat.parts.blurs import from_light_reference, gaussian, gaussian_reference, to_light, to_light_reference
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

TINY = np.float32(1e-6)


class Glow(Params):
    """What glows, how far and how strongly."""

    radius: float = pixels(24, "Radius", "How far the light spills.", low=1)
    intensity: float = percent(80, "Strength", "How much light is added.", high=400)
    threshold: float = percent(60, "Threshold", "Tones below this do not glow.")
    tint: Colour = colour("#ffffff", "Colour", "The colour of the glow; white keeps the colour of what glows.")


def _numbers(params: Glow) -> tuple[float, Floats]:
    """The threshold in linear light, and the factor of each channel."""
    return float(srgb_decode(params.threshold / 100)), srgb_decode(rgb_from_hex(params.tint)) * params.intensity / 100


def glow(picture: Picture, params: Glow, at: At) -> Picture:
    """light + intensity * tint * blur(light above the threshold), in linear light.

    What is above: light * max(Y - t, 0) / Y, with Y its luminance, so that hue is kept. With at.matte only what it selects glows.
    picture: `(3, h, w)`, limited to 0-1.25 first. Returns the same shape, not limited.
    Source: stated formula (common practice); Gaussian by definition.
    """
    threshold, factor = _numbers(params)
    light = to_light_reference(picture)
    luminance = np.tensordot(np.array(LUMA_709), light, axes=1)
    bright = light * np.maximum(luminance - threshold, 0) / np.maximum(luminance, 1e-6)
    if at.matte is not None:
        bright = bright * at.matte
    return from_light_reference(light + gaussian_reference(bright, params.radius * at.scale) * factor[:, None, None])


@kernel
def _bright_rows(light, threshold, first, end, out):  # type: ignore[no-untyped-def]
    for y in range(first, end):
        r, g, b = light[0, y], light[1, y], light[2, y]
        for x in range(light.shape[2]):
            luminance = KR * r[x] + KG * g[x] + KB * b[x]
            k = max(luminance - threshold, np.float32(0)) / max(luminance, TINY)
            out[0, y, x], out[1, y, x], out[2, y, x] = r[x] * k, g[x] * k, b[x] * k


@kernel
def _add_rows(light, spill, factor, first, end, out):  # type: ignore[no-untyped-def]
    for c in range(3):
        for y in range(first, end):
            a, s, to, k = light[c, y], spill[c, y], out[c, y], factor[c]
            for x in range(light.shape[2]):
                to[x] = encode(a[x] + s[x] * k)


def prepare(params: Glow) -> Apply:
    """`glow` on whole frames."""
    threshold, factor = np.float32(_numbers(params)[0]), _numbers(params)[1].astype(np.float32)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        light, bright = to_light(tile), np.empty_like(tile)
        run_tiles(at.height, at.width, lambda first, end, scratch: _bright_rows(light, threshold, first, end, bright))
        if at.matte is not None:
            bright *= at.matte
        spill = gaussian(bright, params.radius * at.scale)
        run_tiles(at.height, at.width, lambda first, end, scratch: _add_rows(light, spill, factor, first, end, out))

    return apply


TREATMENT = Treatment(
    id="glow",
    name="Glow",
    group="soften",
    summary="Lets light spill from the bright parts.",
    intents=("bloom", "halo", "dream", "neon"),
    source="Stated formula in linear light (common practice)",
    check="SciPy gaussian_filter on linear light; a point of light keeps its energy",
    params=Glow,
    neutral=({"intensity": 0},),
    reference=glow,
    begins="from inside",
    prepare=prepare,
    reach=on_frames,
    spreads=True,
    example={"threshold": 40, "radius": 40, "intensity": 200},
)
