"""How different two colours look: CIEDE2000."""

import numpy as np
import numpy.typing as npt

from wenditas.core.kernel import Floats

GAMMA = 2.4  # of a display: ITU-R BT.1886 with black at zero
XYZ = np.array([[0.4123908, 0.3575843, 0.1804808], [0.2126390, 0.7151687, 0.0721923], [0.0193308, 0.1191948, 0.9505322]])  # of BT.709 primaries, D65
WHITE = XYZ.sum(axis=1)
SEVENTH = 25.0**7


def lab_from_rgb(coded: npt.ArrayLike) -> Floats:
    """CIE 1976 L*a*b* (D65) of display-referred, gamma-coded BT.709 R'G'B', limited to 0-1. Shapes `(3, ...)`.

    Source: ITU-R BT.709 (primaries), BT.1886 (gamma); CIE 15:2004, 8.2.1.
    """
    linear = np.clip(np.asarray(coded, np.float64), 0, 1) ** GAMMA
    t = np.tensordot(XYZ, linear, axes=1) / WHITE.reshape(3, *[1] * (linear.ndim - 1))
    x, y, z = np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)])


def ciede2000(one: npt.ArrayLike, other: npt.ArrayLike) -> Floats:
    """The difference between colours in L*a*b*, of shapes `(3, ...)`: about 1 is just seen side by side (common practice).

    Source: CIE 142-2001; Sharma, Wu and Dalal 2005 (the order of operations, and the table that checks it).
    """
    (l1, a1, b1), (l2, a2, b2) = np.asarray(one, np.float64), np.asarray(other, np.float64)
    mean = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    grey = 1 + 0.5 * (1 - np.sqrt(mean / (mean + SEVENTH)))
    c1, c2 = np.hypot(a1 * grey, b1), np.hypot(a2 * grey, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1 * grey)) % 360, np.degrees(np.arctan2(b2, a2 * grey)) % 360
    none = c1 * c2 == 0
    turn = np.where(none, 0, (h2 - h1 + 180) % 360 - 180)
    turn = np.where((turn == -180) & (h2 > h1), 180, turn)
    hue = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    apart = np.abs(h1 - h2) > 180
    middle = np.where(none, h1 + h2, np.where(apart, np.where(h1 + h2 < 360, h1 + h2 + 360, h1 + h2 - 360), h1 + h2) / 2)
    lightness, chroma = (l1 + l2) / 2, (c1 + c2) / 2
    cosine = [np.cos(np.radians(middle * k - shift)) for k, shift in ((1, 30), (2, 0), (3, -6), (4, 63))]
    weight = 1 - 0.17 * cosine[0] + 0.24 * cosine[1] + 0.32 * cosine[2] - 0.20 * cosine[3]
    for_lightness = 1 + 0.015 * (lightness - 50) ** 2 / np.sqrt(20 + (lightness - 50) ** 2)
    for_chroma, for_hue = 1 + 0.045 * chroma, 1 + 0.015 * chroma * weight
    rotation = -2 * np.sqrt(chroma**7 / (chroma**7 + SEVENTH)) * np.sin(np.radians(60 * np.exp(-(((middle - 275) / 25) ** 2))))
    dl, dc, dh = (l2 - l1) / for_lightness, (c2 - c1) / for_chroma, hue / for_hue
    return np.asarray(np.sqrt(np.maximum(dl**2 + dc**2 + dh**2 + rotation * dc * dh, 0)))
