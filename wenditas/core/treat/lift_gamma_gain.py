"""Lift, gamma, gain, offset: together and per channel."""

from typing import Any

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.powers import powers, prepare_powers
from wenditas.core.treat.record import At, Treatment

CHANNELS = ("red", "green", "blue")
WORDS = {
    "lift": "Raises or lowers the dark end",
    "gamma": "Lightens (above 1) or darkens the middle tones",
    "gain": "Scales the light end",
    "offset": "Moves all tones",
}
ENDS = {"lift": (0, -1, 1), "gamma": (1, 0.1, 4), "gain": (1, 0, 4), "offset": (0, -1, 1)}


def _field(what: str, channel: str = "") -> Any:
    default, low, high = ENDS[what]
    name = f"{what.capitalize()} {channel}".strip()
    return number(default, name, f"{WORDS[what]}{f' of {channel}' if channel else ''}.", low=low, high=high, step=0.01)


class LiftGammaGain(Params):
    """Four numbers for all channels and four for each."""

    lift: float = _field("lift")
    lift_red: float = _field("lift", "red")
    lift_green: float = _field("lift", "green")
    lift_blue: float = _field("lift", "blue")
    gamma: float = _field("gamma")
    gamma_red: float = _field("gamma", "red")
    gamma_green: float = _field("gamma", "green")
    gamma_blue: float = _field("gamma", "blue")
    gain: float = _field("gain")
    gain_red: float = _field("gain", "red")
    gain_green: float = _field("gain", "green")
    gain_blue: float = _field("gain", "blue")
    offset: float = _field("offset")
    offset_red: float = _field("offset", "red")
    offset_green: float = _field("offset", "green")
    offset_blue: float = _field("offset", "blue")


def _values(params: LiftGammaGain) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """Slope, offset, exponent, factor and sum for `powers`: the sums and products of what is set together and per channel."""
    each = {w: np.array([getattr(params, f"{w}_{c}") for c in CHANNELS]) for w in WORDS}
    lift, offset = params.lift + each["lift"], params.offset + each["offset"]
    gamma, gain = np.maximum(params.gamma * each["gamma"], 0.01), params.gain * each["gain"]
    return gain * (1 - lift), gain * lift, 1 / gamma, np.ones(3), offset


def lift_gamma_gain(picture: Picture, params: LiftGammaGain, at: At) -> Picture:
    """max(gain * (value + lift * (1 - value)), 0) ** (1 / gamma) + offset.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited above.
    Source: stated formula, common practice in this form; the identity at 0, 1, 1, 0.
    """
    return powers(picture, *_values(params))


TREATMENT = Treatment(
    id="lift-gamma-gain",
    name="Lift, gamma, gain",
    group="tone",
    summary="Sets the dark end, the middle and the light end apart, together and per channel, and moves all by an offset.",
    intents=("shadows", "midtones", "highlights", "colour balance", "teal and orange"),
    source="Stated formula (common practice in this form); the identity at 0, 1, 1, 0",
    check="OpenColorIO CDL where the two coincide; algebraic identities",
    params=LiftGammaGain,
    neutral=(LiftGammaGain().model_dump(),),
    reference=lift_gamma_gain,
    prepare=lambda params: prepare_powers(*_values(params)),
    presets={
        "Teal shadows, warm lights": {"lift_red": -0.04, "lift_blue": 0.05, "gain_red": 1.06, "gain_blue": 0.92},
        "Blood sky": {"gain_red": 1.1, "gain_green": 0.78, "gain_blue": 0.7, "gamma_red": 1.1},
    },
    example={"lift_blue": 0.12, "gain_red": 1.15, "gain_blue": 0.8},
)
