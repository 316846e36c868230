"""Gradient map: every tone becomes the colour at its place in a palette."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Gradient, Params, choice, gradient, number, percent, pixels
from wenditas.core.tone.gradient import Mixing, Space, gradient_table
from wenditas.core.tone.palettes import PALETTES, as_stops, even_stops
from wenditas.core.treat.parts.blurs import LEAST, gaussian, gaussian_reference
from wenditas.core.treat.parts.tables import Input, by_number, prepare_by_number
from wenditas.core.treat.record import Apply, At, Reach, Treatment


class GradientMap(Params):
    """The palette, how it is read, and from what."""

    stops: Gradient = gradient(PALETTES["Kiln"], "Stops", "Colours and where they stand, from dark to light.")
    mixing: Mixing = choice("linear", "Between stops", "Straight, eased, or each colour held until the next.")
    space: Space = choice("sRGB", "Mixed in", "sRGB mixes as screens and style sheets do; Oklab keeps the steps even to the eye.")
    spacing: float = percent(0, "Spacing", "Squeezes every transition towards its middle: 100 % makes hard edges.")
    slide: float = number(
        0,
        "Slide",
        "Moves the palette along; what leaves at one end comes in at the other. 100 % is once round.",
        low=-1000,
        high=1000,
        step=1,
        unit="%",
        period=100,
    )
    input: Input = choice("luma", "Read from", "What decides a pixel's place in the palette.")
    low: float = percent(0, "From", "The input that meets the first colour.", low=0, high=99)
    high: float = percent(100, "Up to", "The input that meets the last colour.", low=1, high=100)
    blur: float = pixels(0, "Blur before", "Softens the picture before it is read, for smooth bands.", high=100, step=0.5)


def _table(params: GradientMap) -> tuple[Floats, float, float]:
    low = params.low / 100
    table = gradient_table(params.stops, params.mixing, params.space, params.spacing / 100, params.slide / 100)
    return table, low, max(params.high / 100, low + 0.01)


def gradient_map(picture: Picture, params: GradientMap, at: At) -> Picture:
    """The colour of the gradient at each pixel's input, from a table of 4097 samples.

    picture: `(3, h, w)`, any values. Returns the same shape, within 0-1.
    Source: CSS Images 3, 3.4 for stops; CSS Color 4, 12 for mixing in Oklab.
    """
    table, low, high = _table(params)
    soft = gaussian_reference(picture, params.blur * at.scale)
    return by_number(soft.astype(np.float32), params.input, table, low, high)


def prepare(params: GradientMap) -> Apply:
    """`gradient_map` on tiles, or on a whole frame where it is blurred first."""
    look_up = prepare_by_number(params.input, *_table(params))

    def apply(tile: Picture, out: Picture, at: At) -> None:
        sigma = params.blur * at.scale
        look_up(gaussian(tile, sigma) if sigma >= LEAST else tile, out, at)

    return apply


def reach(params: GradientMap) -> Reach:
    """The frame where it is blurred first."""
    return "frame" if params.blur > 0 else "pixel"


TREATMENT = Treatment(
    id="gradient-map",
    name="Gradient map",
    group="map",
    summary="Turns every tone into the colour at its place in a palette of any number of stops.",
    intents=("heat camera", "thermal", "false colour", "palette", "negative"),
    source="CSS Images 3, 3.4 (stops); CSS Color 4, 12 (Oklab)",
    check="the same gradient painted by the browser from CSS; NumPy interp",
    params=GradientMap,
    takes_palette=lambda params, colours: {"stops": even_stops(colours)},
    reference=gradient_map,
    prepare=prepare,
    reach=reach,
    presets={name: {"stops": as_stops(p)} for name, p in PALETTES.items()},
)
