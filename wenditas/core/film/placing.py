"""A picture in a frame of another size."""

import cv2
import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.film.nodes import Placed
from wenditas.core.kernel import Floats, Matte, Picture


def _zoom(node: Placed, size: tuple[int, int]) -> float:
    """Pixels of the picture that is made for a pixel of the one that is placed, at full size of both."""
    height, width = size
    inner_width, inner_height = node.of.size
    per_width, per_height = width / inner_width, height / inner_height
    fitted = {"all": min(per_width, per_height), "fill": max(per_width, per_height), "own": height / node.height}[node.fit]
    return fitted * node.scale / 100


def _fills(node: Placed) -> bool:
    """Whether the picture takes all of the frame and lies in it pixel by pixel: their shapes are the same, and it is neither scaled nor turned."""
    (inner_width, inner_height), (width, height) = node.of.size, node.size
    fits = node.fit != "own" or node.of.size == node.size
    return fits and node.scale == 100 and node.turn == 0 and inner_width * height == inner_height * width


def inner_size(node: Placed, size: tuple[int, int]) -> tuple[int, int]:
    """`(height, width)` at which the picture is made that is then placed in a frame of `size`: as large as it is seen, at most its own."""
    if _fills(node) and _zoom(node, size) <= 1:
        return size
    zoom = min(_zoom(node, size), 1.0)
    width, height = node.of.size
    return max(1, round(height * zoom)), max(1, round(width * zoom))


def matrix(node: Placed, inner: tuple[int, int], size: tuple[int, int]) -> Floats:
    """The matrix `(2, 3)` from pixels of the frame to pixels of the picture placed in it, which is mirrored already."""
    height, width = size
    zoom = _zoom(node, size)
    shown = np.array([node.of.size[0] * zoom, node.of.size[1] * zoom])
    room = np.array([width, height]) - shown
    middle = room * np.array([node.across, node.down]) / 100 + shown / 2 - 0.5
    turn = np.radians(node.turn)
    per = np.array([inner[1], inner[0]]) / shown
    m = np.diag(per) @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    centre = np.array([inner[1], inner[0]]) / 2 - 0.5
    return np.column_stack([m, centre - m @ middle])


def place(node: Placed, picture: Picture, size: tuple[int, int]) -> Picture:
    """The picture `(3, h, w)` of a placed node in its frame, `(3, height, width)`: bilinear, over the colour behind it.

    Source: definition; affine resampling by OpenCV.
    """
    height, width = size
    if node.mirror_across or node.mirror_down:
        picture = np.ascontiguousarray(picture[:, :: -1 if node.mirror_down else 1, :: -1 if node.mirror_across else 1])
    if _fills(node) and picture.shape[1:] == size:
        return picture
    m = matrix(node, picture.shape[1:], size)
    plain = np.allclose(m[:, :2], np.eye(2)) and np.allclose(m[:, 2], 0) and picture.shape[1:] == size
    if plain:
        return picture
    behind, inside = rgb_from_hex(node.behind), _coverage(m, picture.shape[1:], size)
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
