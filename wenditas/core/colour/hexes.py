"""Colours as they are written: #rrggbb (CSS Color 4, 5.2)."""

from collections.abc import Iterable

import numpy as np

from wenditas.core.kernel import Floats


def rgb_from_hex(text: str) -> Floats:
    """#rrggbb as three values 0-1.

    >>> rgb_from_hex("#ff8000").round(3).tolist()
    [1.0, 0.502, 0.0]
    """
    return np.array([int(text[n : n + 2], 16) for n in (1, 3, 5)]) / 255


def hex_from_rgb(values: Iterable[float]) -> str:
    """Three values 0-1 as #rrggbb, limited and rounded.

    >>> hex_from_rgb([1, 0.5, -1])
    '#ff8000'
    """
    return "#" + "".join(f"{round(255 * min(max(float(v), 0), 1)):02x}" for v in values)
