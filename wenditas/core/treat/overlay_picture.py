"""Overlay picture: a still with alpha, placed and scaled over the frame."""

from dataclasses import dataclass

import cv2
import numpy as np

from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.core.params import Params, degrees, file, percent
from wenditas.core.treat.parts.blurs import sample
from wenditas.core.treat.record import Apply, At, Treatment, on_frames


@dataclass(frozen=True)
class Still:
    """A picture with alpha: float32 `(4, h, w)`, gamma-coded R'G'B' times alpha, and alpha."""

    planes: Picture

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return self.planes.nbytes


class OverlayPicture(Params):
    """Which picture, and where."""

    picture: str = file("Picture", "A PNG, JPEG, TIFF or WebP picture; where it is transparent, the frame shows.", "picture")
    centre_x: float = percent(50, "Centre across", "Where the middle of the picture lies, from the left edge.", low=-100, high=200, step=0.5)
    centre_y: float = percent(50, "Centre down", "Where the middle of the picture lies, from the top edge.", low=-100, high=200, step=0.5)
    size: float = percent(100, "Size", "Its height, in percent of the frame's height.", low=1, high=500)
    turn: float = degrees(0, "Turn", "Clockwise.")


def _place(still: Still, params: OverlayPicture, at: At) -> Floats:
    """The matrix `(2, 3)` from frame pixels to pixels of the still."""
    _, height, _ = still.planes.shape
    zoom = height / max(params.size / 100 * at.height, 1e-6)
    turn = np.radians(params.turn)
    m = zoom * np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    centre = np.array([params.centre_x / 100 * at.width, params.centre_y / 100 * at.height]) - 0.5
    middle = np.array([still.planes.shape[2], height]) / 2 - 0.5
    return np.column_stack([m, middle - m @ centre])


def overlay_picture(picture: Picture, params: OverlayPicture, at: At) -> Picture:
    """The still over the frame, bilinear, by its alpha; the frame as it is where no still is chosen.

    picture: `(3, h, w)`, any values. Returns the same shape.
    Source: source-over of W3C Compositing 1, 5.1.
    """
    still = at.files.find(params.picture, Still)
    if still is None:
        return picture
    m = _place(still, params, at)
    y, x = np.mgrid[0 : picture.shape[1], 0 : picture.shape[2]].astype(np.float64)
    sx, sy = m[0, 0] * x + m[0, 1] * y + m[0, 2], m[1, 0] * x + m[1, 1] * y + m[1, 2]
    padded = np.pad(still.planes.astype(np.float64), ((0, 0), (1, 1), (1, 1)))  # transparent beyond its edge
    laid = np.stack([sample(plane, sy + 1, sx + 1) for plane in padded])
    return as_picture(laid[:3] + picture * (1 - laid[3]))


def prepare(params: OverlayPicture) -> Apply:
    """`overlay_picture` on whole frames."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        still = at.files.find(params.picture, Still)
        if still is None:
            out[:] = tile
            return
        m, flags = _place(still, params, at), cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        alpha = cv2.warpAffine(still.planes[3], m, (at.width, at.height), flags=flags)
        for c in range(3):
            out[c] = cv2.warpAffine(still.planes[c], m, (at.width, at.height), flags=flags) + tile[c] * (1 - alpha)

    return apply


TREATMENT = Treatment(
    id="overlay-picture",
    name="Overlay picture",
    group="fill",
    summary="Lays a picture with transparency over the frame, placed and scaled.",
    intents=("texture", "watermark", "stamp", "paper", "frame"),
    source="Source-over, W3C Compositing 1, 5.1",
    check="Pillow's alpha_composite at full size",
    params=OverlayPicture,
    neutral=({"picture": ""},),
    reference=overlay_picture,
    begins="everywhere",
    prepare=prepare,
    reach=on_frames,
)
