"""Spill: a colour that has strayed from a selection onto what lies around it is taken out."""

import numpy as np

from wenditas.core.colour.hexes import rgb_from_hex
from wenditas.core.colour.ycbcr import differences, rgb_from_differences, spans
from wenditas.core.kernel import Matte, Picture, as_picture, kernel
from wenditas.core.params import Colour, Params, colour, number, percent, pixels
from wenditas.core.select.distance import signed_distance
from wenditas.core.tiles import run_tiles
from wenditas.core.treat.parts.tables import KB, KG, KR
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

BLUE, RED = (np.float32(v) for v in spans())
TINY, ZERO, ONE = np.float32(1e-9), np.float32(0), np.float32(1)
SOFT = 20.0  # degrees over which hues beyond the reach fade out


class Spill(Params):
    """Which colour is taken out, how far around and how much of it."""

    colour: Colour = colour("#b3392b", "Colour", "The colour that strays: what was picked for the selection.")
    reach: float = pixels(60, "Reach", "How far from the selection's edge it is taken out; it fades towards there.", low=1, high=600)
    strength: float = percent(100, "Strength", "How much of it is taken out at the edge.")
    hues: float = number(60, "Hues", "How far from that colour a hue may be and still lose its part of it.", low=5, high=90, step=1, unit="°")


def weight_of(matte: Matte, reach: float) -> Matte:
    """How much is taken out at each place: all at the selection's edge, nothing `reach` pixels outside it, none well inside. `(h, w)`, 0-1."""
    away = np.clip(-signed_distance(matte) / max(reach, 1e-3), 0, 1)
    near = 1 - away * away * (3 - 2 * away)
    return np.asarray(near * (1 - matte), np.float32)


def _direction(params: Spill) -> tuple[float, float]:
    """The colour's direction in the plane of Cb and Cr; none of a grey."""
    _, cb, cr = (float(v) for v in differences(rgb_from_hex(params.colour)))
    length = float(np.hypot(cb, cr))
    return (cb / length, cr / length) if length > 1e-3 else (0.0, 0.0)


def spill(picture: Picture, params: Spill, at: At) -> Picture:
    """Chroma less its part along the colour's hue, by the distance from the matte; luma stays as it is. Nothing without a selection.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: stated formula: c' = c - w s g max(c . u, 0) u in the plane of Cb and Cr of BT.709, u the colour's direction, g a smoothstep of
    the angle between them; distance by the Euclidean distance transform.
    """
    if at.matte is None:
        return picture
    weight = weight_of(at.matte, params.reach * at.scale) * params.strength / 100
    ub, ur = _direction(params)
    y, cb, cr = differences(picture)
    along = np.maximum(cb * ub + cr * ur, 0)
    apart = np.degrees(np.arccos(np.clip(along / np.maximum(np.hypot(cb, cr), 1e-9), 0, 1)))
    t = np.clip((apart - params.hues) / SOFT, 0, 1)
    taken = weight * (1 - t * t * (3 - 2 * t)) * along
    return as_picture(rgb_from_differences([y, cb - taken * ub, cr - taken * ur]))


@kernel
def _spill_rows(picture, weight, ub, ur, strength, hues, first, end, out):  # type: ignore[no-untyped-def]
    per_soft, degrees = ONE / np.float32(SOFT), np.float32(180 / np.pi)
    for y in range(first, end):
        red, green, blue, part = picture[0, y], picture[1, y], picture[2, y], weight[y]
        for x in range(picture.shape[2]):
            luma = KR * red[x] + KG * green[x] + KB * blue[x]
            cb, cr = (blue[x] - luma) / BLUE, (red[x] - luma) / RED
            along = max(cb * ub + cr * ur, ZERO)
            apart = degrees * np.arccos(min(along / max(np.sqrt(cb * cb + cr * cr), TINY), ONE))
            t = min(max((apart - hues) * per_soft, ZERO), ONE)
            taken = part[x] * strength * (ONE - t * t * (np.float32(3) - np.float32(2) * t)) * along
            r, b = luma + RED * (cr - taken * ur), luma + BLUE * (cb - taken * ub)
            out[0, y, x], out[1, y, x], out[2, y, x] = r, (luma - KR * r - KB * b) / KG, b


def prepare(params: Spill) -> Apply:
    """`spill` on whole frames."""
    ub, ur = (np.float32(v) for v in _direction(params))
    strength, hues = np.float32(params.strength / 100), np.float32(params.hues)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        if at.matte is None:
            out[:] = tile
            return
        weight = weight_of(at.matte, params.reach * at.scale)
        run_tiles(at.height, at.width, lambda first, end, scratch: _spill_rows(tile, weight, ub, ur, strength, hues, first, end, out))

    return apply


TREATMENT = Treatment(
    id="spill",
    name="Spill",
    group="remove",
    summary="Takes a selection's colour out of what lies around it.",
    intents=("colour cast", "reflection", "fringe", "bounce", "halo"),
    source="Stated formula in Cb and Cr of BT.709; Euclidean distance transform",
    check="SciPy distance_transform_edt; luma by colour-science stays",
    params=Spill,
    neutral=({"strength": 0},),
    reference=spill,
    begins="outside",
    follows_picks="colour",
    prepare=prepare,
    reach=on_frames,
    reads_matte=True,
    example={"reach": 200, "hues": 90},
)
