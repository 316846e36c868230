"""Rows that two states of the code are compared by: run in a process of its own on either, with what both have.

`python bench/rows.py CLIP` prints the names of its rows; then, for each name on a line of its input, the seconds that it took.
"""

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np

from bench.coded import noisy
from bench.looks import PICKS, REFUSED, nine_passes, one_colour_stays
from bench.timing import at_most
from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look, parse_look
from wenditas.core.select.selection import Selection
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.stills import encode_jpeg

try:
    from wenditas.core.select.matte import Moment, selection_matte
except ImportError:  # up to November 2026
    from wenditas.core.select.selection import Moment, selection_matte

FULL = {
    "id": "s",
    "name": "S",
    "keys": [{"type": "hue", "picks": PICKS, "refused": REFUSED, "tolerance": 8, "softness": 6}],
    "shapes": [{"id": "b", "name": "B", "kind": "ellipse", "mode": "keep", "points": [{"x": -200, "y": 300}, {"x": 2100, "y": 1300}]}],
    "cleaning": {"despeckle": 24, "choke": 1.5, "soften": 2},
}


def _looked(look: Look, picture: Picture, moment: Moment = Moment()) -> Callable[[], object]:  # noqa: B008
    """A look on a picture, made ready once: as frames of a film are."""
    try:
        from bench.looks import looked

        return looked(look, picture, moment)
    except ImportError:
        from wenditas.core.look.plan import compile_look, run_on_picture

        plan = compile_look(look)
        return lambda: run_on_picture(plan, picture, moment)


def _export(reader: Reader, clip: Path, look: Look, last: int) -> Callable[[], object]:
    target = Path(tempfile.mkdtemp()) / "out.mp4"
    try:
        from tests.rendering import export
        from wenditas.render.options import ExportOptions

        return lambda: export(reader, clip, look, 0, last, target, ExportOptions(sound=False))
    except ImportError:
        from wenditas.render.options import ExportOptions, export_video

        return lambda: export_video(reader, clip, look, 0, last, target, ExportOptions(sound=False))


def rows(clip: Path) -> dict[str, Callable[[], object]]:
    """Works by name."""
    reader = Reader(clip, *inspect(clip))
    frame = reader.picture(60)
    found: dict[str, Callable[[], object]] = {}
    selection = Selection.model_validate(FULL)
    for height, width in ((1080, 1920), (540, 960))[-at_most(2, 1) :]:
        picture = np.stack([cv2.resize(plane, (width, height), interpolation=cv2.INTER_AREA) for plane in frame])
        for name, look in (("hue key and 1 pass", one_colour_stays()), ("hue key and 9 passes", nine_passes())):
            found[f"{name}, {width} × {height}"] = _looked(look, picture)
        coded, noise = noisy(picture, Path(tempfile.mkdtemp()))
        found[f"noisy footage: hue key and 1 pass, {width} × {height}"] = _looked(one_colour_stays(), coded, Moment(noise=noise))
        found[f"a live JPEG, {width} × {height}"] = lambda x=picture: encode_jpeg(x)  # type: ignore[misc]
        found[f"full selection, {width} × {height}"] = lambda x=picture: selection_matte(selection, x)  # type: ignore[misc]
        blurred = parse_look({"passes": [{"id": str(n), "name": "p", "treatment": t} for n, t in enumerate(("glow", "gaussian-blur", "grain"))]})
        found[f"glow, blur, grain, {width} × {height}"] = _looked(blurred, picture, Moment(5))
    found["export, one colour stays, 720p, 96 frames"] = _export(reader, clip, one_colour_stays(), at_most(95, 3))
    found["export, nine passes, 720p, 48 frames"] = _export(reader, clip, nine_passes(), at_most(47, 3))
    found["export, full selection, 720p, 48 frames"] = _export(
        reader,
        clip,
        parse_look({"selections": [FULL], "passes": [{"id": "m", "name": "m", "treatment": "monochrome", "selection": "s", "side": "outside"}]}),
        at_most(47, 3),
    )
    return found


def main() -> None:
    """Serve the rows."""
    known = rows(Path(sys.argv[1]))
    print("\t".join(known), flush=True)
    for line in sys.stdin:
        started = time.perf_counter()
        known[line.rstrip("\n")]()
        print(time.perf_counter() - started, flush=True)


if __name__ == "__main__":
    main()
