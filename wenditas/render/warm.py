"""Warm-up: call every kernel once with the types it is used with, so that its code is in the disk cache."""

import os
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from pathlib import Path
from threading import Thread

import numpy as np

from wenditas.core.colour.blend import BLENDS
from wenditas.core.colour.ycbcr import Signal
from wenditas.core.film.crossing import DISSOLVE, SHARE, order
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.look.shown import MATTE_VIEWS, Shown
from wenditas.core.measure.census import census
from wenditas.core.measure.chroma import light_and_chroma
from wenditas.core.measure.scopes import SCOPES, scope_picture
from wenditas.core.select.clean import Cleaning, clean
from wenditas.core.select.denoise import Noise, denoised
from wenditas.core.select.following import followed
from wenditas.core.select.matte import Moment
from wenditas.core.select.objects.carry import step
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.objects.start import known_of, started
from wenditas.core.tone.lut import Lut, cube_tile, line_tile, prepare_lut
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.parts.blurs import pair_mean
from wenditas.core.work.operation import Place
from wenditas.media.convert import Out420, OutRgb16, OutWide, Planes, to_jpeg_planes, to_rgb8

READY = "all-compiled"
REST = 8  # of the steps that are told, for what comes after the treatments
PICK = {"colour": (0.7, 0.2, 0.1), "x": 0.5, "y": 0.5, "frame": 0}


def _carry_something() -> None:
    """An object, for a frame."""
    picture = np.full((3, 64, 96), 0.2, np.float32)
    picture[:, 20:44, 30:60] = 0.7
    here, strokes = Seen.of(picture, Noise(0.01, 64)), np.zeros((64, 96), np.uint8)
    strokes[30:34, 36:54] = 1
    matte = started(here, strokes, np.zeros_like(strokes))
    step(here, started(here, np.zeros_like(strokes), strokes, matte) + matte, here, known_of(here, matte))


def _cross() -> None:
    """A dissolve in linear light, and how far a reveal has got."""
    picture, matte = np.full((3, 4, 16), 0.5, np.float32), np.full((4, 16), 0.5, np.float32)
    assert DISSOLVE.rows is not None and SHARE.rows is not None
    DISSOLVE.rows(0.5)((picture, picture), picture.copy(), Place(4, 16))
    SHARE.rows((0.5, 0.5, 0.1))((matte, order(picture, matte, "likeness")), matte.copy(), Place(4, 16))


@cache
def load_kernels() -> None:
    """Load compiled kernels before the first picture, besides what else goes on; once in a process."""
    Thread(target=warm_up, name="warm", daemon=True).start()


Tell = Callable[[int, int], None]


def is_cold() -> bool:
    """Whether kernels of this state of the code are still to be compiled, all or some."""
    folder = os.environ.get("NUMBA_CACHE_DIR", "")
    return not (Path(folder) / READY).exists() if folder else True


def warm_up(tell: Tell = lambda done, total: None) -> int:
    """Run everything on a tiny picture. Returns how many treatments and conversions were run. tell: how many steps are done, of how many."""
    picture = np.full((3, 4, 16), 0.5, np.float32)
    picking = {"picks": [PICK, PICK], "refused": [PICK]}
    keys = [{"type": "hue", **picking}, {"type": "colour", **picking}, {"type": "lightness"}, {"type": "ranges"}]
    fence = {"id": "f", "name": "f", "kind": "rectangle", "points": [{"x": 0, "y": 0}, {"x": 500, "y": 500}]}
    selections = [{"id": "s", "name": "s", "keys": keys}, {"id": "t", "name": "t", "keys": keys, "shapes": [fence]}]
    sides = ("inside", "outside", "everywhere")
    settings = [(t, dict(TREATMENTS[t].example)) for t in TREATMENTS] + [("posterize", {"border": "random"}), ("gaussian-blur", {"light": "in linear light"})]
    settings += [("curves-over-colour", {"changes": changes, "over": "lightness", f"{changes}_over_lightness": [[0, 30]]}) for changes in ("saturation", "hue")]
    passes = [
        {"treatment": id, "params": params, "selection": "s", "side": "outside" if TREATMENTS[id].reads_matte else sides[n % 3]}
        for n, (id, params) in enumerate(settings)
    ]
    passes += [{"treatment": "solid", "blend": blend, "selection": "s", "side": side} for blend in BLENDS for side in sides[1:]]
    # Two at a time, so that a look stays within its limits.
    steps = len(passes) // 2 + REST
    for first in range(0, len(passes), 2):
        tell(first // 2, steps)
        named = [{"id": f"p{n}", "name": "p", "amount": 50, **item} for n, item in enumerate(passes[first : first + 2])]
        look = parse_look({"selections": selections, "passes": named})
        apply_look(look, picture, Moment(0, lambda number: picture))
    for view in MATTE_VIEWS:
        for selection in ("s", "t"):
            apply_look(look, picture, shown=Shown(view=view, selection=selection))
    tell(steps - REST, steps)
    pair_mean(picture, 0.5, 0.5, picture.copy())
    corner = np.zeros((2, 2, 2, 3), np.float32)
    flat, low, scale = prepare_lut(Lut("warm", corner))
    cube_tile(picture, flat, 2, low, scale, picture.copy())
    flat, low, scale = prepare_lut(Lut("warm", corner[0, 0]))
    line_tile(picture, flat, low, scale, picture.copy())
    for height in (16, 64):
        denoised(np.full((3, 16, 32), 0.5, np.float32), Noise(0.01, height))
    matte = np.zeros((48, 48), np.float32)
    matte[4:20, 4:20] = matte[30, 30] = 1  # a piece that stays, and one that goes
    followed(matte, np.full((3, 48, 48), 0.5, np.float32), Noise(0.01, 48))
    clean(matte, Cleaning(despeckle=4, fill_holes=4, choke=1.5, soften=1, black=10, white=90), 1.0)
    _carry_something()
    _cross()
    light_and_chroma(picture)
    tell(steps - REST // 2, steps)
    census(picture)
    for scope in SCOPES:
        scope_picture(scope, picture)
    to_rgb8(picture)
    to_jpeg_planes(picture)
    codes = np.full((4, 32), 128, np.uint8)
    for planes in (codes, codes.astype(np.uint16)):
        for subsampled in ((True, True), (True, False), (False, False)):
            Planes((planes, planes, planes), 16, 4, subsampled, Signal()).load(0, picture.copy())
    Out420((codes, codes.copy(), codes.copy()), Signal()).store(0, picture)
    deep = [np.zeros((4, 32), np.uint16) for _ in range(3)]
    Out420((deep[0], deep[1], deep[2]), Signal(bits=10)).store(0, picture)
    for half in (True, False):
        OutWide((deep[0], deep[1], deep[2]), Signal(bits=10), half).store(0, picture)
    OutRgb16((deep[0], deep[1], deep[2])).store(0, picture)
    tell(steps, steps)
    with suppress(OSError):  # where nothing can be kept, all is compiled again
        (Path(os.environ["NUMBA_CACHE_DIR"]) / READY).touch()
    return len(TREATMENTS) + 6


if __name__ == "__main__":
    warm_up()
