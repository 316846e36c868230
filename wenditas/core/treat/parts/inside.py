"""What spreads from inside a selection alone, and is laid over all."""

from collections.abc import Callable

import numpy as np

from wenditas.core.kernel import Floats, Matte


def over_all(picture: Floats, matte: Matte | None, spread: Callable[[Floats], Floats]) -> Floats:
    """What `spread` makes of some planes `(n, h, w)`; with a matte, of what that selects alone, laid over the picture.

    Source: source-over of premultiplied colour, W3C Compositing 1, 5.1: spread(I M) + I (1 - spread(M)).
    """
    if matte is None:
        return spread(picture)
    soft = spread(np.concatenate([picture * matte, matte[None]]))
    return np.asarray(soft[:-1] + picture * (1 - soft[-1:]))
