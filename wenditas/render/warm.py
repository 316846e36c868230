"""Warm-up: call every kernel once with the types it is used with, so that its code is in the disk cache."""

import numpy as np

from wenditas.core.colour.ycbcr import Signal
from wenditas.core.look.document import parse_look
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.measure.census import census
from wenditas.core.treat import TREATMENTS
from wenditas.media.convert import Out420, Planes, to_jpeg_planes, to_rgb8

PICK = {"colour": (0.7, 0.2, 0.1), "x": 0.5, "y": 0.5, "frame": 0}


def warm_up() -> int:
    """Run everything on a tiny picture. Returns how many treatments and conversions were run."""
    picture = np.full((3, 4, 16), 0.5, np.float32)
    picking = {"picks": [PICK, PICK], "refused": [PICK]}
    keys = [{"type": "hue", **picking}, {"type": "colour", **picking}, {"type": "lightness"}, {"type": "ranges"}]
    fence = {"id": "f", "name": "f", "kind": "rectangle", "points": [{"x": 0, "y": 0}, {"x": 500, "y": 500}]}
    selections = [{"id": "s", "name": "s", "keys": keys}, {"id": "t", "name": "t", "keys": keys, "shapes": [fence]}]
    sides = ("inside", "outside", "everywhere")
    passes = [{"id": f"{t}{s}", "name": t, "treatment": t, "selection": "s", "side": s} for t in TREATMENTS for s in sides]
    look = parse_look({"selections": selections, "passes": passes})
    for view in ("result", "matte", "selected", "edge", "hatched"):
        for selection in ("s", "t"):
            run_on_picture(compile_look(look, view=view, selection=selection), picture)  # type: ignore[arg-type]
    census(picture)
    to_rgb8(picture)
    to_jpeg_planes(picture)
    codes = np.full((4, 32), 128, np.uint8)
    for planes in (codes, codes.astype(np.uint16)):
        for subsampled in ((True, True), (True, False), (False, False)):
            Planes((planes, planes, planes), 16, 4, subsampled, Signal()).load(0, picture.copy())
    Out420((codes, codes.copy(), codes.copy()), Signal()).store(0, picture)
    return len(TREATMENTS) + 6


if __name__ == "__main__":
    warm_up()
