"""Shot laid in: another shot of the project over the picture, with its own look."""

from functools import partial

import numpy as np

from wenditas.core.kernel import Floats, Matte, Picture, as_picture
from wenditas.core.params import Params, degrees, number, part, percent, shot, switch
from wenditas.core.treat.parts.placing import Placing, placed, placed_reference
from wenditas.core.treat.record import Apply, At, Inset, Treatment, on_frames


class ShotLaidIn(Params):
    """Which shot, from which frame, what of it, and where."""

    shot: str = shot("Shot", "A shot of this project, with its own look. A change of it shows here too.")
    part: str = part("Shape", "What of it is laid in: all of it (less what its footage leaves transparent), or what one of its selections selects.")
    first: float = number(0, "Its frame", "Which of its frames is shown where it begins.", low=0, high=100_000, step=1, unit="fr", animatable=False)
    begins: float = number(0, "Begins at", "The frame of this shot at which it is there.", low=0, high=100_000, step=1, unit="fr", animatable=False)
    runs: bool = switch(True, "Runs along", "Whether it goes on from that frame, or is held on it.", animatable=False)
    centre_x: float = percent(50, "Centre across", "Where its middle lies, from the left edge.", low=-100, high=200, step=0.5)
    centre_y: float = percent(50, "Centre down", "Where its middle lies, from the top edge.", low=-100, high=200, step=0.5)
    size: float = percent(100, "Size", "Its height, in percent of the frame's height.", low=1, high=500)
    turn: float = degrees(0, "Turn", "Clockwise.")


def frame_shown(params: ShotLaidIn, frame: int, ratio: float) -> int:
    """Which frame of the shot that is laid in is shown at a frame: nearest in time, ties to the later. ratio: its rate over this one's."""
    return int(params.first) + (int(np.floor((frame - int(params.begins)) * ratio + 0.5)) if params.runs else 0)


def inset(params: ShotLaidIn) -> Inset | None:
    """The shot that is asked for."""
    return Inset(params.shot, params.part, params.size, partial(frame_shown, params)) if params.shot else None


def _shown(params: ShotLaidIn, at: At) -> tuple[Picture, Matte | None, Placing] | None:
    if at.inset is None or not at.height or not at.width:
        return None
    picture, matte = at.inset
    x, y = params.centre_x / 100 * at.width, params.centre_y / 100 * at.height
    zoom = params.size / 100 * at.height / picture.shape[1]
    return picture, matte, Placing(picture.shape[1], picture.shape[2], x, y, zoom, params.turn)


def shot_laid_in(picture: Picture, params: ShotLaidIn, at: At) -> Picture:
    """The other shot over the picture, by its alpha or a selection's matte; the picture as it is where no shot is chosen.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: source-over of W3C Compositing 1, 5.1; affine resampling, by definition; nearest frame in time.
    """
    found = _shown(params, at)
    if found is None:
        return picture
    laid, matte, placing = found
    planes: Floats = laid if matte is None else np.concatenate([laid, matte[None]])
    there = placed_reference(planes, placing, at.height, at.width)
    alpha = placing.coverage(at.height, at.width) * (there[3] if matte is not None else 1)
    return as_picture(there[:3] * alpha + picture * (1 - alpha))


def prepare(params: ShotLaidIn) -> Apply:
    """`shot_laid_in` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        found = _shown(params, at)
        if found is None:
            out[:] = tile
            return
        laid, matte, placing = found
        there = placed(laid if matte is None else np.concatenate([laid, matte[None]]), placing, at.height, at.width)
        alpha = placing.coverage(at.height, at.width) * (there[3] if matte is not None else np.float32(1))
        out[:] = tile + (there[:3] - tile) * alpha

    return apply


TREATMENT = Treatment(
    id="shot-laid-in",
    name="Shot laid in",
    group="fill",
    summary="Lays another shot of the project over the picture, with its own look.",
    intents=("picture in picture", "inset", "window", "double exposure", "collage", "composite", "screen"),
    source="Source-over of W3C Compositing 1, 5.1; affine resampling, by definition; nearest frame in time",
    check="coloraide's source-over; SciPy ndimage.affine_transform",
    params=ShotLaidIn,
    neutral=({"shot": ""},),
    reference=shot_laid_in,
    begins="everywhere",
    prepare=prepare,
    reach=on_frames,
    inset=inset,
    example={"size": 50, "turn": 8},
)
