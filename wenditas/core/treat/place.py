"""Place: the picture moved, scaled, turned, cropped and mirrored within its frame."""

from typing import Literal

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.params import Colour, Params, choice, colour, degrees, percent, switch
from wenditas.core.treat.parts.placing import Placing, placed, placed_reference
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

Behind = Literal["a colour", "the source"]


class Place(Params):
    """Where the picture lies, and what is seen where it does not."""

    centre_x: float = percent(50, "Centre across", "Where the middle of the picture lies, from the left edge.", low=-100, high=200, step=0.5)
    centre_y: float = percent(50, "Centre down", "Where the middle of the picture lies, from the top edge.", low=-100, high=200, step=0.5)
    size: float = percent(100, "Size", "Its height, in percent of the frame's height.", low=1, high=500)
    turn: float = degrees(0, "Turn", "Clockwise.")
    crop_left: float = percent(0, "Crop left", "How much is taken off its left side.", step=0.5)
    crop_right: float = percent(0, "Crop right", "How much is taken off its right side.", step=0.5)
    crop_top: float = percent(0, "Crop top", "How much is taken off its top.", step=0.5)
    crop_bottom: float = percent(0, "Crop bottom", "How much is taken off its bottom.", step=0.5)
    mirror_across: bool = switch(False, "Mirror across", "Left and right changed over.")
    mirror_down: bool = switch(False, "Mirror down", "Top and bottom changed over.")
    behind: Behind = choice("a colour", "Behind", "What is seen where the picture is not.")
    colour: Colour = colour("#000000", "Colour", "The colour behind it.")


def placing_of(params: Place, at: At) -> Placing:
    """Where the picture of a frame lies in that frame."""
    crop = tuple(v / 100 for v in (params.crop_left, params.crop_top, params.crop_right, params.crop_bottom))
    x, y = params.centre_x / 100 * at.width, params.centre_y / 100 * at.height
    return Placing(at.height, at.width, x, y, params.size / 100, params.turn, crop, (params.mirror_across, params.mirror_down))  # type: ignore[arg-type]


def _behind(params: Place, picture: Picture, at: At) -> Floats:
    if params.behind == "the source" and at.source is not None:
        return at.source
    return np.broadcast_to(rgb_from_hex(params.colour)[:, None, None].astype(np.float32), picture.shape)


def place(picture: Picture, params: Place, at: At) -> Picture:
    """The picture laid over a colour or the source, bilinear; its edges fade over one pixel of the frame.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: affine resampling, by definition; source-over of W3C Compositing 1, 5.1.
    """
    placing = placing_of(params, at)
    covered = placing.coverage(at.height, at.width)
    return as_picture(placed_reference(picture, placing, at.height, at.width) * covered + _behind(params, picture, at) * (1 - covered))


def prepare(params: Place) -> Apply:
    """`place` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        if not tile.size:
            return
        placing = placing_of(params, at)
        covered = placing.coverage(at.height, at.width)
        np.multiply(placed(tile, placing, at.height, at.width), covered, out=out)
        out += _behind(params, tile, at) * (1 - covered)

    return apply


TREATMENT = Treatment(
    id="place",
    name="Place",
    group="fill",
    summary="Moves, scales, turns, crops and mirrors the picture over a colour or over the source.",
    intents=("move", "position", "scale", "zoom", "crop", "rotate", "flip", "reframe", "inset", "border"),
    source="Affine resampling, by definition; source-over of W3C Compositing 1, 5.1",
    check="SciPy ndimage.affine_transform; NumPy flip",
    params=Place,
    reference=place,
    begins="everywhere",
    prepare=prepare,
    reach=on_frames,
    needs_source=lambda params: params.behind == "the source",
    example={"size": 60, "turn": 12, "crop_top": 10, "colour": "#303030"},
)
