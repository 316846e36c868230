"""Trails: earlier frames linger."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Params, choice, number, percent
from wenditas.core.treat.record import Apply, At, Treatment, over_time

Combine = Literal["lighten", "add", "screen", "average"]


class Trails(Params):
    """How many copies of earlier frames, how far apart, how they fade and how they are laid over."""

    copies: float = number(4, "Copies", "How many earlier frames linger.", low=1, high=12, step=1)
    spacing: float = number(2, "Spacing", "Frames from one copy to the next.", low=1, high=12, step=1, unit="fr")
    fading: float = percent(30, "Fading", "How much fainter each copy is than the one after it.", high=99)
    combine: Combine = choice("lighten", "Combined by", "The lighter of both, their sum, screen, or a weighted mean.")


def _copies(params: Trails, at: At) -> list[tuple[float, Picture]]:
    """Weight and picture of every copy, the nearest first."""
    return [(((100 - params.fading) / 100) ** n, copy) for n, copy in enumerate(at.others, 1)]


def looks(params: Trails) -> tuple[int, ...]:
    """The frames that linger, the nearest first, relative to the one on screen."""
    return tuple(-n * int(params.spacing) for n in range(1, int(params.copies) + 1))


def trails(picture: Picture, params: Trails, at: At) -> Picture:
    """Copy n, weighted by (1 - fading) ** n, laid over: max(value, w c), value + w c, value + w c - value w c, or the weighted mean.

    picture: `(3, h, w)`, any values; at.others are earlier frames. Returns the same shape, not limited.
    Source: lighten, plus and screen of W3C Compositing 1; weighted mean by definition.
    """
    value, total = picture.astype(np.float64), 1.0
    for weight, copy in _copies(params, at):
        layer = copy.astype(np.float64) * weight
        if params.combine == "lighten":
            value = np.maximum(value, layer)
        elif params.combine == "screen":
            value = value + layer - value * layer
        else:
            value, total = value + layer, total + weight
    return as_picture(value / total if params.combine == "average" else value)


def prepare(params: Trails) -> Apply:
    """`trails` on whole frames, in float32."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        out[:] = tile
        total = np.float32(1)
        for weight, copy in _copies(params, at):
            w = np.float32(weight)
            if params.combine == "lighten":
                np.maximum(out, copy * w, out=out)
            elif params.combine == "screen":
                out += copy * w * (1 - out)
            else:
                out += copy * w
                total += w
        if params.combine == "average":
            out /= total

    return apply


TREATMENT = Treatment(
    id="trails",
    name="Trails",
    group="break",
    summary="Lets earlier frames linger behind what moves.",
    intents=("echo", "ghost", "motion", "afterimage"),
    source="Lighten, plus and screen of W3C Compositing 1; weighted mean",
    check="coloraide's lighten and screen; NumPy average",
    params=Trails,
    reference=trails,
    prepare=prepare,
    reach=over_time,
    looks=looks,
)
