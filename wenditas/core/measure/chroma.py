"""Lightness and chroma of every pixel, for what is measured on many frames."""

import numpy as np

from wenditas.core.colour.fast import oklab
from wenditas.core.colour.oklab import lch_from_lab, limited_oklab
from wenditas.core.kernel import Picture, as_picture, kernel


def light_and_chroma_reference(picture: Picture) -> Picture:
    """The plain way of `light_and_chroma`."""
    return as_picture(lch_from_lab(limited_oklab(picture))[:2])


@kernel
def _light_and_chroma(picture, out):  # type: ignore[no-untyped-def]
    for y in range(picture.shape[1]):
        r, g, b = picture[0, y], picture[1, y], picture[2, y]
        light, chroma = out[0, y], out[1, y]
        for x in range(picture.shape[2]):
            lightness, p, q = oklab(r[x], g[x], b[x])
            light[x], chroma[x] = lightness, np.sqrt(p * p + q * q)


def light_and_chroma(picture: Picture) -> Picture:
    """Oklab lightness and chroma, `(2, h, w)`, of a picture `(3, h, w)`, limited to 0-1.25 first. Source: Oklab (Ottosson 2020)."""
    out = np.empty((2, *picture.shape[1:]), np.float32)
    _light_and_chroma(as_picture(picture), out)
    return out
