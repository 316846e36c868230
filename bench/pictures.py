"""Looks on pictures: kernels against plain NumPy and against NumPy with OpenCV. Footage with the noise of compression is the row that counts."""

from pathlib import Path

from bench.coded import noisy, sized
from bench.looks import looked, nine_passes, one_colour_stays, straightforward, straightforward_nine
from bench.timing import against, at_most, best
from wenditas.core.kernel import Picture
from wenditas.core.look.reference import render_reference
from wenditas.core.select.matte import Moment

TARGETS = {("noisy", 1080): 20, ("noisy", 540): 75, ("clean", 1080): 24, ("clean", 540): 90}  # fps of nine passes


def measure(frame: Picture, folder: Path) -> list[tuple[str, str]]:
    """Rows of (what, how fast) for one source frame at two sizes, with the noise of compression and without."""
    rows = []
    for height, width in ((1080, 1920), (540, 960))[-at_most(2, 1) :]:
        clean = sized(frame, height, width)
        coded, noise = noisy(clean, folder)
        for footage, picture, moment in (("noisy", coded, Moment(noise=noise)), ("clean", clean, Moment())):
            for passes, look, other in ((1, one_colour_stays(), straightforward), (9, nine_passes(), straightforward_nine)):
                found = against(looked(look, picture, moment), lambda x=picture, other=other: other(x))
                target = f" (target ≥ {TARGETS[footage, height]} fps)" if passes == 9 else ""
                line = f"{1000 * found.ours:.1f} ms, {1 / found.ours:.0f} fps{target}; {found} NumPy with OpenCV"
                if footage == "clean":
                    plain = best(lambda look=look, x=picture: render_reference(look, x), 1)
                    line += f", {plain / found.ours:.0f} × plain NumPy"
                rows.append((f"{footage} footage: hue key and {passes} pass{'es' if passes > 1 else ''}, {width} × {height}, float32", line))
    return rows
