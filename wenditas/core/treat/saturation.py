"""Saturation: each colour moved away from, or towards, the grey of its own luma."""

import numpy as np

from wenditas.core.colour.ycbcr import LUMA_709, luma
from wenditas.core.kernel import Picture, as_picture, kernel
from wenditas.core.params import Params, number
from wenditas.core.treat.record import ApplyTile, Treatment

KR, KG, KB = (np.float32(w) for w in LUMA_709)


class Saturation(Params):
    """How much colour is left, in percent."""

    saturation: float = number(100, "Saturation", "0 % is grey, 100 % leaves the picture as it is.", low=0, high=200, step=1, unit="%")


def saturation(picture: Picture, params: Saturation) -> Picture:
    """luma + saturation * (R'G'B' - luma), with BT.709 luma, which stays as it was.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: ASC CDL 1.2, saturation; luma weights BT.709-6, 3.2.
    """
    grey = luma(picture)
    return as_picture(grey + params.saturation / 100 * (picture.astype(np.float64) - grey))


@kernel
def _saturation_tile(tile, amount, out):  # type: ignore[no-untyped-def]
    for y in range(tile.shape[1]):
        r, g, b = tile[0, y], tile[1, y], tile[2, y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(tile.shape[2]):
            grey = KR * r[x] + KG * g[x] + KB * b[x]
            red[x] = grey + amount * (r[x] - grey)
            green[x] = grey + amount * (g[x] - grey)
            blue[x] = grey + amount * (b[x] - grey)


def prepare(params: Saturation) -> ApplyTile:
    """`saturation` on tiles."""
    amount = np.float32(params.saturation / 100)
    return lambda tile, out: _saturation_tile(tile, amount, out)


TREATMENT = Treatment(
    id="saturation",
    name="Saturation",
    group="remove",
    summary="Takes colour away or adds to it, keeping the luma of every pixel.",
    source="ASC CDL 1.2, saturation",
    params=Saturation,
    reference=saturation,
    prepare=prepare,
)
