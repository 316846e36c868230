"""Looks on pictures: kernels against plain NumPy and against NumPy with OpenCV."""

import cv2
import numpy as np

from bench.looks import nine_passes, one_colour_stays, straightforward, straightforward_nine
from bench.timing import against, at_most, best
from wenditas.core.kernel import Picture
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.look.reference import render_reference


def measure(frame: Picture) -> list[tuple[str, str]]:
    """Rows of (what, how fast) for one source frame at two sizes."""
    rows = []
    for height, width in ((1080, 1920), (540, 960))[-at_most(2, 1) :]:
        picture = np.stack([cv2.resize(plane, (width, height), interpolation=cv2.INTER_AREA) for plane in frame])
        for passes, look, other in ((1, one_colour_stays(), straightforward), (9, nine_passes(), straightforward_nine)):
            plan = compile_look(look)
            found = against(lambda p=plan, x=picture: run_on_picture(p, x), lambda x=picture, other=other: other(x))
            plain = best(lambda look=look, x=picture: render_reference(look, x), 1)
            target = {(9, 1080): " (target ≥ 24 fps)", (9, 540): " (target ≥ 90 fps)"}.get((passes, height), "")
            line = f"{1000 * found.ours:.1f} ms, {1 / found.ours:.0f} fps{target}; {found} NumPy with OpenCV, {plain / found.ours:.0f} × plain NumPy"
            rows.append((f"hue key and {passes} pass{'es' if passes > 1 else ''}, {width} × {height}, float32", line))
    return rows
