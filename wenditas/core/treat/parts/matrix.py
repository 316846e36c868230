"""Three by three matrices, on gamma-coded values or in linear light."""

import numpy as np

from wenditas.core.colour.fast import decode, encode
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.treat.record import Apply


def matrix(picture: Picture, m: Floats, offset: Floats) -> Picture:
    """m @ R'G'B' + offset on coded values; not limited."""
    return as_picture(np.tensordot(m, picture.astype(np.float64), axes=1) + offset[:, None, None])


@kernel
def _matrix_tile(tile, m, offset, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        for c in range(3):
            to, kr, kg, kb, k = out[c, y], m[c, 0], m[c, 1], m[c, 2], offset[c]
            for x in range(tile.shape[2]):
                to[x] = kr * r[x] + kg * g[x] + kb * b[x] + k


def prepare_matrix(m: Floats, offset: Floats | None = None) -> Apply:
    """`matrix` on tiles."""
    values, add = as_picture(m), as_picture(np.zeros(3) if offset is None else offset)
    return lambda tile, out, at: _matrix_tile(tile, values, add, out)


def linear_matrix(picture: Picture, m: Floats) -> Picture:
    """m @ RGB in linear light, of values limited to 0-1.25 first; the result is not limited."""
    light = srgb_decode(np.clip(picture.astype(np.float64), 0, 1.25))
    return as_picture(srgb_encode(np.tensordot(m, light, axes=1)))


@kernel
def _linear_matrix_tile(tile, m, out):  # type: ignore[no-untyped-def]
    m00, m01, m02, m10, m11, m12, m20, m21, m22 = m[0, 0], m[0, 1], m[0, 2], m[1, 0], m[1, 1], m[1, 2], m[2, 0], m[2, 1], m[2, 2]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(tile.shape[2]):
            lr, lg, lb = decode(r[x]), decode(g[x]), decode(b[x])
            red[x] = encode(m00 * lr + m01 * lg + m02 * lb)
            green[x] = encode(m10 * lr + m11 * lg + m12 * lb)
            blue[x] = encode(m20 * lr + m21 * lg + m22 * lb)


def prepare_linear_matrix(m: Floats) -> Apply:
    """`linear_matrix` on tiles."""
    values = as_picture(m)
    return lambda tile, out, at: _linear_matrix_tile(tile, values, out)
