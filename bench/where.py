"""Selections: a full one in milliseconds and against OpenCV's HSV in-range and blur; tracking; coverage over time."""

import time
from functools import partial
from pathlib import Path

import cv2
import numpy as np

from bench.coded import noisy, sized
from bench.looks import PICKS, REFUSED
from bench.timing import against, at_most
from tests.rendering import shot_of
from wenditas.core.files import NO_FILES
from wenditas.core.look.document import parse_look
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape
from wenditas.media.reader import Reader
from wenditas.render.over_time import Coverage
from wenditas.render.tracking import grey_picture, track_shape


def full_selection() -> Selection:
    """Three picks, one not-this pick, two shapes, despeckle, choke, soften."""
    fences = [
        {"id": "a", "name": "A", "kind": "polygon", "points": [{"x": x, "y": y} for x, y in ((1580, 440), (1800, 440), (1790, 1000), (1590, 1000))]},
        {"id": "b", "name": "B", "kind": "ellipse", "mode": "keep", "points": [{"x": -200, "y": 300}, {"x": 2100, "y": 1300}]},
    ]
    key = {"type": "hue", "picks": PICKS, "refused": REFUSED, "tolerance": 8, "softness": 6}
    cleaning = {"despeckle": 24, "choke": 1.5, "soften": 2}
    return Selection.model_validate({"id": "s", "name": "S", "keys": [key], "shapes": fences, "cleaning": cleaning})


def _opencv(picture: np.ndarray) -> np.ndarray:
    hsv = cv2.cvtColor(np.ascontiguousarray(picture.transpose(1, 2, 0)), cv2.COLOR_RGB2HSV)
    mask = cv2.inRange(hsv, (0, 0.2, 0.05), (14, 1, 1)) | cv2.inRange(hsv, (352, 0.2, 0.05), (360, 1, 1))
    return cv2.GaussianBlur(mask.astype(np.float32) / 255, (0, 0), 2)


def measure(reader: Reader, folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast)."""
    rows = []
    frame = reader.picture(60)
    selection = full_selection()
    for height, width in ((1080, 1920), (540, 960))[-at_most(2, 1) :]:
        clean = sized(frame, height, width)
        coded, noise = noisy(clean, folder)
        for footage, picture, moment in (("noisy", coded, Moment(noise=noise)), ("clean", clean, Moment())):
            found = against(lambda x=picture, m=moment: selection_matte(selection, x, m), lambda x=picture: _opencv(x))
            target = 90 if height == 1080 else 20
            line = f"{1000 * found.ours:.0f} ms (target ≤ {target}); {found} OpenCV's HSV in-range and blur"
            rows.append((f"{footage} footage: full selection, {width} × {height}", line))
    box = Shape(id="b", name="B", kind="rectangle", points=(Point(x=1620, y=450), Point(x=1800, y=950)))
    started = time.perf_counter()
    track_shape(partial(grey_picture, reader.twin()), box, 0, "forward", 0, at_most(reader.facts.length - 1, 6), lambda progress: None, lambda: False)
    rows.append(("tracking one shape, 720p, decoding included", f"{(reader.facts.length - 1) / (time.perf_counter() - started):.0f} fps (target ≥ 60)"))
    look = parse_look({"selections": [selection.model_dump(mode="json")]})
    node = shot_of(look, reader)
    twin = reader.twin()
    coverage = Coverage(lambda content, purpose, number: twin, NO_FILES)
    for when in ("first time", "again, for another selection"):
        started = time.perf_counter()
        coverage.forget()
        for _ in coverage.over_time(node, "s", (0, at_most(node.length - 1, 6)), lambda: False):
            pass
        seconds = (time.perf_counter() - started) * 240 / reader.facts.length
        rows.append((f"coverage of a 10 s shot at 24 fps, {when}", f"{seconds:.1f} s (target ≤ 2 s)"))
    return rows
