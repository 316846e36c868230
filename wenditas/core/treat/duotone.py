"""Duotone and tritone: the picture printed in two or three inks."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Colour, Params, choice, colour, percent
from wenditas.core.tone.curves import HIGH, LOW, SAMPLES
from wenditas.core.treat.parts.tables import by_number, prepare_by_number
from wenditas.core.treat.record import At, Treatment


class Duotone(Params):
    """The inks, and how they meet."""

    inks: Literal["two", "three"] = choice("two", "Inks", "Two inks, or three with one for the middle tones.")
    method: Literal["ramp", "ink by ink"] = choice(
        "ramp", "Printed", "A ramp from ink to ink, or the light ink multiplied and the dark one laid in by lighten."
    )
    dark: Colour = colour("#1d2b4f", "Dark ink", "What black becomes.")
    middle: Colour = colour("#c8503c", "Middle ink", "What the middle tone becomes, where there are three inks.")
    light: Colour = colour("#f2e3c6", "Light ink", "What white becomes.")
    place: float = percent(50, "Middle at", "The luma that meets the middle ink.", low=1, high=99)
    contrast: float = percent(0, "S-curve", "Separates the inks: darkens what is dark and lightens what is light, before printing.")


def _s_curve(grey: Floats, contrast: float) -> Floats:
    """A mixture of the grey with its smoothstep."""
    t = np.clip(grey, 0, 1)
    return np.asarray(t + (t * t * (3 - 2 * t) - t) * contrast)


def inked(params: Duotone, grey: Floats) -> Floats:
    """The colours that greys 0-1 become: `(...)` to `(3, ...)`."""
    g = _s_curve(grey, params.contrast / 100)
    dark, middle, light = (rgb_from_hex(c)[:, None] for c in (params.dark, params.middle, params.light))
    place = params.place / 100
    if params.method == "ink by ink":
        printed = np.maximum(g * light, dark)
        if params.inks == "three":
            lower = np.maximum(np.minimum(g / place, 1) * middle, dark)
            printed = np.where(g < place, lower, np.maximum(lower, (g - place) / (1 - place) * light))
        return np.asarray(printed)
    if params.inks == "two":
        return np.asarray(dark + (light - dark) * g)
    below, above = np.clip(g / place, 0, 1), np.clip((g - place) / (1 - place), 0, 1)
    return np.asarray(dark + (middle - dark) * below + (light - middle) * above)


def _tables(params: Duotone) -> Floats:
    return inked(params, np.linspace(LOW, HIGH, SAMPLES + 1))


def duotone(picture: Picture, params: Duotone, at: At) -> Picture:
    """BT.709 luma printed in the inks.

    picture: `(3, h, w)`, any values. Returns the same shape, within 0-1.
    Source: multiply and lighten of W3C Compositing 1, 9.1; the ramp is straight interpolation.
    """
    return by_number(picture, "luma", _tables(params), LOW, HIGH)


def inks_from(params: Duotone, colours: Sequence[str]) -> dict[str, str]:
    """The darkest and the lightest of some colours as inks, and of three or more the middle one for the middle tones."""
    ends = {"dark": colours[0], "light": colours[-1]}
    return {**ends, "inks": "three", "middle": colours[len(colours) // 2]} if len(colours) > 2 else {**ends, "inks": "two"}


TREATMENT = Treatment(
    id="duotone",
    name="Duotone",
    group="map",
    summary="Prints the picture in two or three inks.",
    intents=("two inks", "print", "poster", "paper"),
    source="W3C Compositing 1, 9.1 (multiply, lighten); straight interpolation",
    check="coloraide: the same two blend modes one after the other, and CSS color-mix in sRGB",
    params=Duotone,
    takes_palette=inks_from,
    reference=duotone,
    prepare=lambda params: prepare_by_number("luma", _tables(params), LOW, HIGH),
    presets={
        "Night and paper": {"dark": "#1d2b4f", "light": "#f2e3c6"},
        "Rust and mint": {"dark": "#7a2618", "light": "#d5efdc"},
        "Three inks": {"inks": "three", "dark": "#14202b", "middle": "#b3392b", "light": "#f4ead2"},
    },
)
