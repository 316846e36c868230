"""Things carried through clips with true mattes: `make bench-things`.

Strokes are put on the first frame by rule; intersection over union with the truth after 12, 24, 48 and 71 frames, error near the edge,
milliseconds a frame. `python -m bench.things "worked on"` tells of the other half.
"""

import sys
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table

from bench import coded
from bench.clips.clip import REPORTED
from bench.clips.moving import MOVING, Moving
from bench.timing import at_most
from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.denoise import Noise
from wenditas.core.select.objects.carry import Step, step
from wenditas.core.select.objects.marks import Stroke, painted
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.objects.start import known_of, started

FRAMES, TOLD = 72, (12, 24, 48, 71)
RADIUS = 10.0  # of the brush, in pixels of 1080 lines
NEAR = 8


def overlap(matte: Matte, truth: Matte) -> float:
    """Intersection over union; 1 where both are empty."""
    a, b = matte > 0.5, truth > 0.5
    either = (a | b).sum()
    return float((a & b).sum() / either) if either else 1.0


def at_edge(matte: Matte, truth: Matte) -> float:
    """Mean error within some pixels of the true edge."""
    inside = (truth > 0.5).astype(np.uint8)
    if not inside.any():
        return float(np.abs(matte - truth).mean())
    box = np.ones((2 * NEAR + 1, 2 * NEAR + 1), np.uint8)
    near = cv2.dilate(inside, box) != cv2.erode(inside, box)
    return float(np.abs(matte - truth)[near].mean())


def strokes_on(truth: Matte, frame: int = 0) -> tuple[Stroke, ...]:
    """Two or three lines within the thing, from place to place, and one around it at some distance: as a person would put them."""
    inside = cv2.distanceTransform((truth > 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    scale = 1080 / truth.shape[0]
    places = []
    left = inside.copy()
    reach = max(float(inside.max()), 3.0)
    for _ in range(9):
        y, x = np.unravel_index(int(left.argmax()), left.shape)
        if left[y, x] < max(0.3 * reach, 4):
            break
        places.append((float(x), float(y)))
        cv2.circle(left, (int(x), int(y)), int(1.6 * reach), 0, -1)
    lines = [[p] for p in places[:1]]
    for place in places[1:]:
        near = min((q for q in places[: places.index(place)]), key=lambda q: np.hypot(q[0] - place[0], q[1] - place[1]))
        way = np.linspace(near, place, 12)
        clear = all(inside[int(y), int(x)] > 3 for x, y in way)
        lines.append([near, place] if clear else [place])
    out = [
        Stroke(id=f"t{n}", frame=frame, kind="this", radius=min(RADIUS, reach), points=tuple((x * scale, y * scale) for x, y in line))
        for n, line in enumerate(lines)
    ]
    ring, _ = cv2.findContours(cv2.dilate((truth > 0.5).astype(np.uint8), np.ones((61, 61))), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    around = ring[0][:: max(1, len(ring[0]) // 40), 0]
    out.append(Stroke(id="n", frame=frame, kind="not this", radius=RADIUS, points=tuple((float(x) * scale, float(y) * scale) for x, y in around)))
    return tuple(out)


def carried(frames: Sequence[Picture], noise: Noise, strokes: tuple[Stroke, ...]) -> tuple[list[Matte], list[Step | None], float, float]:
    """Mattes and steps of all frames; ms of one core of the first, and of each of the others."""
    began = time.process_time()
    here = Seen.of(frames[0], noise)
    matte = started(here, painted(strokes, "this", here.size), painted(strokes, "not this", here.size))
    known = known_of(here, matte)
    first = 1000 * (time.process_time() - began)
    mattes, steps, began = [matte], [None], time.process_time()
    for frame in frames[1:]:
        before, here = here, Seen.of(frame, noise)
        found = step(before, mattes[-1], here, known)
        mattes.append(found.matte)
        steps.append(found)
    return mattes, steps, first, 1000 * (time.process_time() - began) / max(len(frames) - 1, 1)


def read(clip: Moving, folder: Path, count: int) -> tuple[list[Picture], list[Matte], Noise]:
    """A clip as the application reads it once it is encoded."""
    drawn, truth = clip.draw(count)
    frames, noise = coded.encoded(drawn, folder, str(clip.crf))
    return frames, truth, noise


def main() -> None:
    """Measure a half and print its table."""
    half = sys.argv[1] if len(sys.argv) > 1 else REPORTED
    table = Table("Clip", "first", *(f"after {n}" for n in TOLD), "least", "edge, %", "ms, first", "ms a frame", title=f"Overlap with the truth (clips {half})")
    rows = []
    with tempfile.TemporaryDirectory() as folder:
        for clip in [c for c in MOVING if c.half == half][: at_most(99, 1)]:
            frames, truth, noise = read(clip, Path(folder), at_most(FRAMES, 4))
            mattes, _, first, each = carried(frames, noise, strokes_on(truth[0]))
            found = [overlap(m, t) for m, t in zip(mattes, truth, strict=True)]
            edge = 100 * float(np.mean([at_edge(m, t) for m, t in zip(mattes, truth, strict=True)]))
            rows.append([found[min(n, len(found) - 1)] for n in TOLD])
            table.add_row(clip.name, f"{found[0]:.2f}", *(f"{v:.2f}" for v in rows[-1]), f"{min(found):.2f}", f"{edge:.1f}", f"{first:.0f}", f"{each:.0f}")
    good = [sum(row[k] >= 0.9 for row in rows) for k in range(len(TOLD))]
    table.add_row("at least 0.90", "", *(f"{n} of {len(rows)}" for n in good), "", "", "", "")
    Console(width=150).print(table)


if __name__ == "__main__":
    main()
