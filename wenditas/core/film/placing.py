"""A picture in a frame of another size."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.params import Colour
from wenditas.core.work.operation import Kind

Fit = Literal["all", "fill", "own"]


@dataclass(frozen=True)
class Framing:
    """How a picture lies in a frame (see `Placed`). inner, outer: width and height of both at full size; mirrored: across, down."""

    inner: tuple[int, int]
    outer: tuple[int, int]
    fit: Fit = "all"
    across: float = 50
    down: float = 50
    scale: float = 100
    turn: float = 0
    mirrored: tuple[bool, bool] = (False, False)
    behind: Colour = "#000000"

    def values(self) -> tuple[object, ...]:
        """All that it says, one after another."""
        return tuple(vars(self).values())


def _zoom(framing: Framing, size: tuple[int, int]) -> float:
    """Pixels of the picture that is made for a pixel of the one that is placed, at full size of both."""
    height, width = size
    inner_width, inner_height = framing.inner
    per_width, per_height = width / inner_width, height / inner_height
    fitted = {"all": min(per_width, per_height), "fill": max(per_width, per_height), "own": height / framing.outer[1]}[framing.fit]
    return fitted * framing.scale / 100


def _fills(framing: Framing) -> bool:
    """Whether the picture takes all of the frame and lies in it pixel by pixel: their shapes are the same, and it is neither scaled nor turned."""
    (inner_width, inner_height), (width, height) = framing.inner, framing.outer
    fits = framing.fit != "own" or framing.inner == framing.outer
    return fits and framing.scale == 100 and framing.turn == 0 and inner_width * height == inner_height * width


def inner_size(framing: Framing, size: tuple[int, int]) -> tuple[int, int]:
    """`(height, width)` at which the picture is made that is then placed in a frame of `size`: as large as it is seen, at most its own."""
    if _fills(framing) and _zoom(framing, size) <= 1:
        return size
    zoom = min(_zoom(framing, size), 1.0)
    width, height = framing.inner
    return max(1, round(height * zoom)), max(1, round(width * zoom))


def matrix(framing: Framing, inner: tuple[int, int], size: tuple[int, int]) -> Floats:
    """The matrix `(2, 3)` from pixels of the frame to pixels of the picture placed in it, which is mirrored already."""
    height, width = size
    zoom = _zoom(framing, size)
    shown = np.array([framing.inner[0] * zoom, framing.inner[1] * zoom])
    room = np.array([width, height]) - shown
    middle = room * np.array([framing.across, framing.down]) / 100 + shown / 2 - 0.5
    turn = np.radians(framing.turn)
    per = np.array([inner[1], inner[0]]) / shown
    m = np.diag(per) @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    centre = np.array([inner[1], inner[0]]) / 2 - 0.5
    return np.column_stack([m, centre - m @ middle])


def lies_as_it_is(framing: Framing, inner: tuple[int, int], size: tuple[int, int]) -> bool:
    """Whether nothing is done to the picture, `(height, width)`, in the frame: it lies there pixel by pixel, and is not mirrored."""
    return not any(framing.mirrored) and inner == size and _as_it_is(framing, inner, size)


def _as_it_is(framing: Framing, inner: tuple[int, int], size: tuple[int, int]) -> bool:
    if inner != size:
        return False
    m = matrix(framing, inner, size)
    return _fills(framing) or bool(np.allclose(m[:, :2], np.eye(2)) and np.allclose(m[:, 2], 0))


def place(framing: Framing, picture: Picture, size: tuple[int, int]) -> Picture:
    """The picture `(3, h, w)` of a placed node in its frame, `(3, height, width)`: bilinear, over the colour behind it.

    Source: definition; affine resampling by OpenCV.
    """
    height, width = size
    if any(framing.mirrored):
        picture = np.ascontiguousarray(picture[:, :: -1 if framing.mirrored[1] else 1, :: -1 if framing.mirrored[0] else 1])
    if _as_it_is(framing, picture.shape[1:], size):
        return picture
    m = matrix(framing, picture.shape[1:], size)
    behind, inside = rgb_from_hex(framing.behind), _coverage(m, picture.shape[1:], size)
    out = np.empty((3, height, width), np.float32)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    for c in range(3):
        warped = cv2.warpAffine(picture[c], m, (width, height), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        out[c] = warped * inside + np.float32(behind[c]) * (1 - inside)
    return out


def _coverage(m: Floats, inner: tuple[int, int], size: tuple[int, int]) -> Matte:
    """How much of each pixel of the frame the picture covers, 0-1: its edges fade over one pixel of the frame."""
    x, y = np.arange(size[1], dtype=np.float32)[None, :], np.arange(size[0], dtype=np.float32)[:, None]
    found = np.ones(size, np.float32)
    for row, length in ((m[0], inner[1]), (m[1], inner[0])):
        place = row[0] * x + row[1] * y + row[2]
        inside = np.minimum(place + 0.5, length - 0.5 - place) / float(np.hypot(row[0], row[1]))
        found *= np.clip(inside + 0.5, 0, 1)
    return np.asarray(found, np.float32)


PLACE = Kind("place", whole=lambda framing: lambda inputs, place_: place(framing, inputs[0], (place_.height, place_.width)), cost=49)
