"""Colour profiles that pictures carry: read where they are of three primaries and three curves, so that a picture's colours are those that were meant.

Source: ICC.1:2022 (profile version 4.4), clauses 7 (header, tag table), 10.6 curveType, 10.18 parametricCurveType, 10.31 XYZType, annex F.
"""

import struct
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import OpenImageIO

from wenditas.core.colour.transfer import srgb_encode
from wenditas.core.kernel import Floats, Picture, as_picture
from wenditas.media.reasons import reason

HEAD, ENTRY = 128, 12
# XYZ, relative to D50, of linear sRGB: IEC 61966-2-1 adapted by Bradford's matrix, as in the profiles of the ICC's own registry (from memory).
XYZ_FROM_RGB = np.array([[0.4360747, 0.3850649, 0.1430804], [0.2225045, 0.7168786, 0.0606169], [0.0139322, 0.0971045, 0.7141733]])
STEPS = 4096
PARAMETERS = {0: 1, 1: 3, 2: 4, 3: 5, 4: 7}


@dataclass(frozen=True, eq=False)
class Profile:
    """matrix: XYZ relative to D50 from linear red, green, blue, `(3, 3)`; curves: their light at even steps of the code, `(3, STEPS + 1)`."""

    matrix: Floats
    curves: Floats

    def meant(self, picture: Picture) -> Picture:
        """A picture `(3, h, w)` in the codes of the profile as gamma-coded sRGB of the same shape, within 0-1."""
        codes = np.clip(picture, 0, 1) * STEPS
        light = np.stack([np.interp(plane, np.arange(STEPS + 1), curve) for plane, curve in zip(codes, self.curves, strict=True)])
        linear = np.tensordot(np.linalg.inv(XYZ_FROM_RGB) @ self.matrix, light, axes=1)
        return as_picture(srgb_encode(np.clip(linear, 0, 1)))


def profile_of(path: Path) -> Profile | None:
    """The profile that a picture carries; None where it carries none, or one of another kind (of tables, or of inks), which is passed over."""
    opened = OpenImageIO.ImageInput.open(str(path))
    if opened is None:
        reason()
        return None
    try:
        data = opened.spec().getattribute("ICCProfile")
    finally:
        opened.close()
    return None if data is None else read_profile(np.asarray(data, np.uint8).tobytes())


def read_profile(data: bytes) -> Profile | None:
    """A profile of primaries and curves; None for another, or a damaged one."""
    try:
        if data[16:20] != b"RGB " or data[36:40] != b"acsp":
            return None
        (count,) = struct.unpack_from(">I", data, HEAD)
        entries = [struct.unpack_from(">4sII", data, HEAD + 4 + ENTRY * n) for n in range(min(count, 100))]
        tags = {name: data[first : first + size] for name, first, size in entries}
        matrix = np.array([struct.unpack_from(">3i", tags[name], 8) for name in (b"rXYZ", b"gXYZ", b"bXYZ")]).T / 65536
        return Profile(matrix, np.stack([_curve(tags[name]) for name in (b"rTRC", b"gTRC", b"bTRC")]))
    except (KeyError, struct.error, ValueError):
        return None


def _curve(tag: bytes) -> Floats:
    x = np.linspace(0, 1, STEPS + 1)
    if tag[:4] == b"curv":
        (count,) = struct.unpack_from(">I", tag, 8)
        if count == 0:
            return x
        values = np.frombuffer(tag, ">u2", count, 12)
        return np.asarray(x ** (values[0] / 256) if count == 1 else np.interp(x, np.linspace(0, 1, count), values / 65535))
    if tag[:4] != b"para":
        raise ValueError("a curve of a kind that is not known")
    (kind,) = struct.unpack_from(">H", tag, 8)
    if kind not in PARAMETERS:
        raise ValueError("a curve of a form that is not known")
    g, a, b, c, d, e, f = (np.array([*struct.unpack_from(f">{PARAMETERS[kind]}i", tag, 12), *[0] * 7])[:7] / 65536).tolist()
    if kind == 0:
        return np.asarray(x**g)
    if kind in (1, 2):
        return np.asarray(np.where(x >= -b / a, np.maximum(a * x + b, 0) ** g, 0) + (c if kind == 2 else 0))
    upper = np.maximum(a * x + b, 0) ** g
    return np.asarray(np.where(x >= d, upper + (e if kind == 4 else 0), c * x + (f if kind == 4 else 0)))
