"""How keys were fitted and cleaned before November 2026: what the new ones are measured against."""

from collections.abc import Sequence

import numpy as np

from wenditas.core.colour.oklab import hue_distance
from wenditas.core.kernel import Floats, Matte, Picture
from wenditas.core.select.denoise import Noise, denoised
from wenditas.core.select.fit import same_thing
from wenditas.core.select.keys.hue import HueKey, hues
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection

PART, MARGIN, WIDEST, FLOOR, GATE = 97, 1.0, 45.0, 3, 0.5


def _nearest(hue: Floats, centres: list[float]) -> Floats:
    return np.asarray(np.min([hue_distance(hue, c) for c in centres], axis=0))


def fitted(picks: tuple[Pick, ...], picture: Picture) -> HueKey:
    """A key by hue whose tolerance and least chroma reach as far as what was picked."""
    picked = [same_thing(picture, p)[1] for p in picks]
    centres = hues(picks, 0)
    floor = min(float(np.percentile(lch[1], FLOOR)) for lch in picked)
    reach = max(float(np.percentile(_nearest(lch[2], centres), PART)) for lch in picked)
    gate = float(np.clip(GATE * floor, 0.005, 0.2))
    return HueKey(picks=picks, tolerance=min(reach + MARGIN, WIDEST), least_chroma=gate, gate_softness=gate)


def keyed(frames: Sequence[Picture], picks: tuple[Pick, ...], noise: Noise) -> list[Matte]:
    """Mattes: chroma is denoised, the key fitted, soft edges widened by the noise."""
    key = fitted(picks, denoised(frames[0], noise))
    selection = Selection.model_validate({"id": "s", "name": "S", "keys": [key], "cleaning": {"denoise_chroma": 100, "follow": 0}})
    return [selection_matte(selection, frame, Moment(noise=noise)) for frame in frames]
