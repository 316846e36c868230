"""HLG and PQ pictures for a display of ordinary range.

Signals of ITU-R BT.2100 become light on a reference display of 1000 cd/m² (BT.2100-2, tables 4 and 5; for HLG with the system
gamma of 1.2 that belongs to it), which is mapped to 100 cd/m² by method A of ITU-R BT.2446-1, part 4, and brought from the
primaries of BT.2020 to those of BT.709 (BT.2087-0, annex 2). What PQ holds above 1000 cd/m² is limited. The result is coded for a
display by BT.1886 (a power of 2.4). Constants of BT.2446 from memory: that its three pieces meet is checked.
"""

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats, Picture, as_picture

PEAK, TARGET = 1000.0, 100.0  # cd/m² of the two displays
GAMMA = 2.4  # BT.1886
SYSTEM_GAMMA = 1.2  # BT.2100-2, note 5f: of a display of 1000 cd/m²
LUMA_2020 = np.array([0.2627, 0.6780, 0.0593])  # BT.2020-2, table 4
M1, M2, C1, C2, C3 = 2610 / 16384, 2523 / 4096 * 128, 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32  # BT.2100-2, table 4
A = 0.17883277  # BT.2100-2, table 5
B, C = 1 - 4 * A, 0.5 - A * float(np.log(4 * A))
TO_709 = np.array([[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]])  # BT.2087-0, annex 2


def pq_light(signal: npt.ArrayLike) -> Floats:
    """PQ signal, 0-1, any shape, to light in cd/m², 0-10,000. Source: BT.2100-2, table 4.

    >>> float(pq_light(0.58).round(0))
    202.0
    """
    power = np.clip(np.asarray(signal, np.float64), 0, 1) ** (1 / M2)
    return np.asarray(10_000 * (np.maximum(power - C1, 0) / (C2 - C3 * power)) ** (1 / M1))


def hlg_light(signal: npt.ArrayLike) -> Floats:
    """HLG signals R'G'B' `(3, ...)`, 0-1, to light on a display of 1000 cd/m². Source: BT.2100-2, table 5.

    >>> hlg_light([0.75, 0.75, 0.75]).round(0).tolist()
    [203.0, 203.0, 203.0]
    """
    e = np.clip(np.asarray(signal, np.float64), 0, 1)
    scene = np.where(e <= 0.5, e**2 / 3, (np.exp((e - C) / A) + B) / 12)
    luma = np.tensordot(LUMA_2020, scene, axes=1)
    return np.asarray(PEAK * luma ** (SYSTEM_GAMMA - 1) * scene)


def _compressed(y: Floats) -> Floats:
    """The tone curve on luma, 0-1. Source: BT.2446-1, 4.1, steps 1 to 3."""
    rho_in, rho_out = 1 + 32 * (PEAK / 10_000) ** (1 / GAMMA), 1 + 32 * (TARGET / 10_000) ** (1 / GAMMA)
    p = np.log(1 + (rho_in - 1) * y) / np.log(rho_in)
    middle = -1.1510 * p**2 + 2.7811 * p - 0.6302
    c = np.where(p <= 0.7399, 1.0770 * p, np.where(p < 0.9909, middle, 0.5 * p + 0.5))
    return np.asarray((rho_out**c - 1) / (rho_out - 1))


def mapped(light: npt.ArrayLike) -> Floats:
    """Light of BT.2020 primaries `(3, ...)` in cd/m² to R'G'B' of BT.709 `(3, ...)`, nominal 0-1; outside where colours are. Source: BT.2446-1, method A.

    >>> mapped([1000.0, 1000.0, 1000.0]).round(3).tolist()
    [1.0, 1.0, 1.0]
    """
    coded = (np.clip(np.asarray(light, np.float64), 0, PEAK) / PEAK) ** (1 / GAMMA)
    y = np.tensordot(LUMA_2020, coded, axes=1)
    toned = _compressed(y)
    share = np.where(y > 0, toned / np.maximum(1.1 * y, 1e-12), 0.0)
    blue, red = share * (coded[2] - y) / 1.8814, share * (coded[0] - y) / 1.4746
    toned = toned - np.maximum(0.1 * red, 0)
    r, b = toned + 1.4746 * red, toned + 1.8814 * blue
    g = (toned - LUMA_2020[0] * r - LUMA_2020[2] * b) / LUMA_2020[1]
    linear = np.tensordot(TO_709, np.maximum(np.stack([r, g, b]), 0) ** GAMMA, axes=1)
    return np.asarray(np.sign(linear) * np.abs(linear) ** (1 / GAMMA))


def table(kind: str, size: int = 65) -> Picture:
    """What a signal, "hlg" or "pq", becomes, as samples `(b, g, r, 3)` over a cube of signals."""
    axis = np.linspace(0, 1, size)
    b, g, r = np.meshgrid(axis, axis, axis, indexing="ij")
    signals = np.stack([r, g, b])
    light = hlg_light(signals) if kind == "hlg" else pq_light(signals)
    return as_picture(np.moveaxis(mapped(light), 0, -1))
