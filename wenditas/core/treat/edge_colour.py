"""Edge colour: mixed pixels at a selection's edge get the nearest colour inside, or their own without the ground's."""

from typing import Literal

import cv2
import numpy as np

from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.params import Params, choice, percent, pixels
from wenditas.core.treat.parts.unmixed import unmixed
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

SELECTED = 0.5  # what counts as inside the edge
ROOM = 24  # pixels around mixed ones from which the colours on both sides are known


class EdgeColour(Params):
    """Which colours mixed pixels get; how far in they are taken from, and how far around the edge they replace what is there."""

    colours: Literal["nearest", "unmixed"] = choice(
        "nearest", "Colours", "The nearest inside; or, where the matte is soft, each pixel's own with the ground's share taken out of it."
    )

    inset: float = pixels(4, "Inset", "How far inside the edge a colour is taken to be unmixed.", low=0, high=60, step=0.5)
    reach: float = pixels(8, "Reach", "How far outside the edge colours are replaced too.", low=0, high=120, step=0.5)
    strength: float = percent(100, "Strength", "How much of the colour inside takes the place of the mixed one.")


def places(matte: Matte, inset: float, reach: float) -> tuple[np.ndarray, np.ndarray] | None:
    """Which pixels are replaced `(h, w)`, and by which ones: the number, row by row, of the nearest unmixed one. None where there is none."""
    inside = np.pad((matte > SELECTED).astype(np.uint8), 1, constant_values=1)  # beyond the frame the selection goes on
    depth = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1]
    core = (depth > inset) & (inside[1:-1, 1:-1] > 0)
    if not core.any():
        return None
    distance, labels = cv2.distanceTransformWithLabels((~core).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    of_label = np.zeros(int(labels.max()) + 1, np.int64)
    of_label[labels[core]] = np.flatnonzero(core)
    return (distance > 0) & (distance <= inset + reach), of_label[labels]


def _without_ground(picture: Picture, matte: Matte, strength: float) -> Picture:
    """Pixels that are mixed, 0 < matte < 1, with the thing's own colour."""
    mixed = (matte > 0) & (matte < 1)
    rows, columns = np.flatnonzero(mixed.any(axis=1)), np.flatnonzero(mixed.any(axis=0))
    if not rows.size:
        return picture
    box = slice(max(rows[0] - ROOM, 0), rows[-1] + ROOM + 1), slice(max(columns[0] - ROOM, 0), columns[-1] + ROOM + 1)
    out = picture.copy()
    part = out[:, box[0], box[1]]
    part += np.where(mixed[box], (unmixed(part, matte[box]) - part) * strength, 0).astype(part.dtype)
    return out


def edge_colour(picture: Picture, params: EdgeColour, at: At) -> Picture:
    """Pixels around the selection's edge replaced by the nearest one that lies well inside it. Nothing without a selection.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: stated formula; unmixed as in `unmixed`; nearest by the Euclidean distance transform (OpenCV's 5 x 5 mask, within 2 % of the exact distance).
    """
    if at.matte is not None and params.colours == "unmixed":
        return as_picture(_without_ground(picture.astype(np.float64), at.matte, params.strength / 100))
    found = None if at.matte is None else places(at.matte, params.inset * at.scale, params.reach * at.scale)
    if found is None:
        return picture
    replaced, nearest = found
    values = picture.astype(np.float64)
    inner = values.reshape(3, -1)[:, nearest]
    return as_picture(np.where(replaced, values + (inner - values) * params.strength / 100, values))


def prepare(params: EdgeColour) -> Apply:
    """`edge_colour` on whole frames, only where something is replaced."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        if at.matte is not None and params.colours == "unmixed":
            out[:] = _without_ground(tile, at.matte, params.strength / 100)
            return
        out[:] = tile
        found = None if at.matte is None else places(at.matte, params.inset * at.scale, params.reach * at.scale)
        if found is None:
            return
        flat, where = out.reshape(3, -1), np.flatnonzero(found[0])
        inner = tile.reshape(3, -1)[:, found[1].ravel()[where]]
        flat[:, where] += (inner - flat[:, where]) * np.float32(params.strength / 100)

    return apply


TREATMENT = Treatment(
    id="edge-colour",
    name="Edge colour",
    group="shift",
    summary="Gives mixed pixels at a selection's edge the nearest colour inside, or their own without the ground's.",
    intents=("fringe", "edge", "clean edge", "outline", "halo"),
    source="Stated formula; Euclidean distance transform; foreground estimation of Germer et al. (2020)",
    check="SciPy distance_transform_edt with indices; PyMatting",
    params=EdgeColour,
    neutral=({"strength": 0},),
    reference=edge_colour,
    prepare=prepare,
    reach=on_frames,
    reads_matte=True,
    example={"inset": 20, "reach": 60},
)
