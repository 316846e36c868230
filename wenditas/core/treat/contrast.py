"""Contrast about a pivot."""

import numpy as np

from wenditas.core.kernel import Floats, Picture
from wenditas.core.params import Params, percent
from wenditas.core.treat.parts.matrix import matrix, prepare_matrix
from wenditas.core.treat.record import At, Treatment


class Contrast(Params):
    """How much, and which tone stays."""

    contrast: float = percent(100, "Contrast", "100 % leaves the picture as it is; 0 % is one flat tone.", high=300)
    pivot: float = percent(50, "Pivot", "The tone that stays where it is.")


def _matrix(params: Contrast) -> tuple[Floats, Floats]:
    k, pivot = params.contrast / 100, params.pivot / 100
    return np.eye(3) * k, np.full(3, pivot * (1 - k))


def contrast(picture: Picture, params: Contrast, at: At) -> Picture:
    """pivot + (value - pivot) * contrast, on coded values.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: a straight line through the pivot, by definition.
    """
    return matrix(picture, *_matrix(params))


TREATMENT = Treatment(
    id="contrast",
    name="Contrast",
    group="tone",
    summary="Moves tones away from a pivot, or towards it.",
    intents=("punch", "flat", "crush"),
    source="A straight line through the pivot, by definition",
    check="OpenColorIO MatrixTransform with offset",
    params=Contrast,
    neutral=({"contrast": 100},),
    reference=contrast,
    prepare=lambda params: prepare_matrix(*_matrix(params)),
    example={"contrast": 170},
)
