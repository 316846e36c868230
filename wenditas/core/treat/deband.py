"""Deband: smooth steps in flat areas, then a fine dither so that they do not come back."""

import numpy as np

from wenditas.core.colour.fast import smoothstep
from wenditas.core.kernel import Floats, Picture, as_picture, kernel
from wenditas.core.params import Params, number, pixels
from wenditas.core.tiles import run_tiles
from wenditas.core.tone.patterns import blue_noise
from wenditas.core.treat.parts.blurs import gaussian, gaussian_reference
from wenditas.core.treat.record import Apply, At, Treatment, on_frames

STEP = 1 / 255


class Deband(Params):
    """How wide to look, what counts as a step, and how much dither is laid over."""

    radius: float = pixels(16, "Radius", "How far steps are smoothed over.", low=0, high=80)
    threshold: float = number(2, "Threshold", "Differences up to this many 8-bit steps are smoothed; larger ones are edges and stay.", low=0, high=16, step=0.5)
    dither: float = number(1, "Dither", "Blue noise laid over, in 8-bit steps from end to end.", low=0, high=8, step=0.1)


def _noise(at: At, rows: int, amount: float) -> Floats:
    pattern = blue_noise()
    y, x = np.arange(at.first, at.first + rows) % 64, np.arange(at.width) % 64
    return np.asarray((pattern[np.ix_(y, x)] - 0.5) * amount * STEP)


def deband(picture: Picture, params: Deband, at: At) -> Picture:
    """The blurred picture where it differs by less than the threshold (fading out to twice that), plus blue noise.

    picture: `(3, h, w)`, any values. Returns the same shape, not limited.
    Source: stated formula; Ulichney 1993 for the noise.
    """
    soft = gaussian_reference(picture, params.radius / 2 * at.scale)
    edge = max(params.threshold, 1e-3) * STEP
    t = np.clip((np.abs(soft - picture) - edge) / edge, 0, 1)
    keep = t * t * (3 - 2 * t)
    return as_picture(soft + (picture - soft) * keep + _noise(at, picture.shape[1], params.dither))


@kernel
def _deband_rows(picture, soft, noise, edge, first, end, out):  # type: ignore[no-untyped-def]
    inverse = np.float32(1) / edge
    for c in range(3):
        for y in range(first, end):
            for x in range(picture.shape[2]):
                s = soft[c, y, x]
                d = picture[c, y, x] - s
                out[c, y, x] = s + d * smoothstep(edge, inverse, abs(d)) + noise[y, x]


def prepare(params: Deband) -> Apply:
    """`deband` on whole frames."""
    edge = np.float32(max(params.threshold, 1e-3) * STEP)

    def apply(tile: Picture, out: Picture, at: At) -> None:
        soft = gaussian(tile, params.radius / 2 * at.scale)
        noise = as_picture(_noise(at, tile.shape[1], params.dither))
        run_tiles(at.height, at.width, lambda first, end, scratch: _deband_rows(tile, soft, noise, edge, first, end, out))

    return apply


TREATMENT = Treatment(
    id="deband",
    name="Deband",
    group="tone",
    summary="Smooths steps in skies and other even areas, and dithers them.",
    intents=("banding", "stripes", "steps", "noise"),
    source="Stated formula; Ulichney 1993 (blue noise)",
    check="SciPy gaussian_filter on a banded ramp; the mean is kept",
    params=Deband,
    neutral=({"threshold": 0, "dither": 0},),
    reference=deband,
    prepare=prepare,
    reach=on_frames,
    example={"threshold": 6, "dither": 2},
    grainy=True,
)
