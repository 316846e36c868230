"""LUT: the picture through a look-up table that was brought in as a .cube file."""

from wenditas.core.kernel import Picture
from wenditas.core.params import Params, file
from wenditas.core.tone.lut import Lut, apply_lut, cube_tile, line_tile
from wenditas.core.treat.record import Apply, At, Treatment


class LutParams(Params):
    """Which LUT."""

    lut: str = file("LUT", "A .cube file, one- or three-dimensional.", "lut")


def lut(picture: Picture, params: LutParams, at: At) -> Picture:
    """The picture through the LUT; as it is where none is chosen.

    picture: `(3, h, w)`, held to the LUT's input range. Returns the same shape, not limited.
    Source: Kasson, Nin, Plouffe & Hafner 1995, tetrahedral interpolation; the published .cube description.
    """
    found = at.files.find(params.lut, Lut)
    return picture if found is None else apply_lut(picture, found)


def prepare(params: LutParams) -> Apply:
    """`lut` on tiles."""

    def apply(tile: Picture, out: Picture, at: At) -> None:
        found = at.files.find(params.lut, Lut)
        if found is None:
            out[:] = tile
            return
        flat, low, scale = found.prepared
        if found.cube:
            cube_tile(tile, flat, found.size, low, scale, out)
        else:
            line_tile(tile, flat, low, scale, out)

    return apply


TREATMENT = Treatment(
    id="lut",
    name="LUT",
    group="map",
    summary="Sends every colour through a look-up table from a .cube file.",
    intents=("cube", "film look", "table"),
    source="Kasson, Nin, Plouffe & Hafner 1995; the published .cube description",
    check="OpenColorIO with tetrahedral interpolation, 33 samples an edge",
    params=LutParams,
    neutral=({"lut": ""},),
    reference=lut,
    prepare=prepare,
)
