"""Key by alpha: the footage's own alpha channel, where it has one."""

from typing import Literal

import numpy as np

from wenditas.core.kernel import Matte, Picture
from wenditas.core.params import switch
from wenditas.core.select.keys.record import FillMatte, KeyBase, KeyRecord


class AlphaKey(KeyBase):
    """The parameters of a key by alpha."""

    type: Literal["alpha"] = "alpha"
    invert: bool = switch(False, "Transparent parts", "Selects what is transparent instead of what is opaque.")


def alpha_key(picture: Picture, key: AlphaKey) -> Matte:
    """The matte where the footage has no alpha channel: everything is opaque.

    picture: `(3, h, w)`. Returns `(h, w)`. With an alpha channel the selection puts it in place.
    Source: straight alpha, 0 transparent to 1 opaque (W3C Compositing and Blending Level 1, 2).
    """
    return np.full(picture.shape[1:], 0.0 if key.invert else 1.0, np.float32)


def prepare(key: AlphaKey) -> FillMatte:
    """The key on footage without alpha."""
    value = 0.0 if key.invert else 1.0
    return lambda tile, matte: matte.fill(value)


RECORD = KeyRecord("alpha", "By alpha", "Takes the footage's own alpha channel, where it has one.", AlphaKey, alpha_key, prepare)
