"""Channel offset: red, green and blue moved apart."""

from typing import Any

import numpy as np

from wenditas.core.kernel import Picture, as_picture
from wenditas.core.params import Params, number
from wenditas.core.treat.parts.blurs import shift, shift_reference
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


def _move(channel: str, way: str, default: float = 0) -> Any:
    help = f"Moves {channel} {'to the right' if way == 'across' else 'down'}."
    return number(default, f"{channel.capitalize()} {way}", help, low=-200, high=200, step=0.5, unit="px")


class ChannelOffset(Params):
    """How far each channel moves."""

    red_x: float = _move("red", "across", 6)
    red_y: float = _move("red", "down")
    green_x: float = _move("green", "across")
    green_y: float = _move("green", "down")
    blue_x: float = _move("blue", "across", -6)
    blue_y: float = _move("blue", "down")


def _moves(params: ChannelOffset, at: At) -> list[tuple[float, float]]:
    return [(-getattr(params, f"{c}_y") * at.scale, -getattr(params, f"{c}_x") * at.scale) for c in ("red", "green", "blue")]


def channel_offset(picture: Picture, params: ChannelOffset, at: At) -> Picture:
    """Each channel moved by its own distance, bilinear, the edge going on beyond.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: definition of bilinear interpolation.
    """
    return as_picture(np.stack([shift_reference(plane, *move) for plane, move in zip(picture, _moves(params, at), strict=True)]))


def prepare(params: ChannelOffset) -> Apply:
    """`channel_offset` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        for plane, to, move in zip(tile, out, _moves(params, at), strict=True):
            shift(plane, *move, to)

    return apply


TREATMENT = Treatment(
    id="channel-offset",
    name="Channel offset",
    group="break",
    summary="Moves red, green and blue apart.",
    intents=("misprint", "split channels", "anaglyph", "red and cyan"),
    source="Bilinear interpolation",
    check="SciPy ndimage.shift, order 1, mode nearest",
    params=ChannelOffset,
    neutral=({f"{channel}_{axis}": 0 for channel in ("red", "green", "blue") for axis in ("x", "y")},),
    reference=channel_offset,
    prepare=prepare,
    reach=on_frames,
    example={"red_x": 18, "blue_x": -18},
)
