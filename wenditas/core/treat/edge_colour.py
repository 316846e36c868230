"""Edge colour: mixed pixels at a selection's edge get the nearest colour inside."""

import cv2
import numpy as np

from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.params import Params, percent, pixels
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

SELECTED = 0.5  # what counts as inside the edge


class EdgeColour(Params):
    """How far in colours are taken from, and how far around the edge they replace what is there."""

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


def edge_colour(picture: Picture, params: EdgeColour, at: At) -> Picture:
    """Pixels around the selection's edge replaced by the nearest one that lies well inside it. Nothing without a selection.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: stated formula; nearest by the Euclidean distance transform (OpenCV's 5 x 5 mask, within 2 % of the exact distance).
    """
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
    summary="Gives mixed pixels at a selection's edge the nearest colour inside.",
    intents=("fringe", "edge", "clean edge", "outline", "halo"),
    source="Stated formula; Euclidean distance transform",
    check="SciPy distance_transform_edt with indices",
    params=EdgeColour,
    neutral=({"strength": 0},),
    reference=edge_colour,
    prepare=prepare,
    reach=on_frames,
    reads_matte=True,
    example={"inset": 20, "reach": 60},
)
