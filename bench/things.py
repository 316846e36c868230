"""Things carried through clips with true mattes: `make bench-things`.

Strokes are put on the first frame by rule; intersection over union with the truth after 12, 24, 48 and 71 frames, error near the edge,
milliseconds a frame; whether a stroke is asked for before the overlap falls below 0.85, and how often in vain; and what becomes of it with
strokes where they are asked for, at most one frame in 24. Beside it a plain graph cut on what flow carries, from the same first matte, and the tracked
path of the true outline, as a whole and bending. Where the edge is soft, the fine edge beside the plain one.
`python -m bench.things "worked on"` tells of the other half.
"""

import sys
import tempfile
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table

from bench import coded
from bench.beside import bending, tracked, warped_cuts
from bench.clips.clip import REPORTED
from bench.clips.moving import MOVING, Moving
from bench.timing import at_most
from wenditas.core.film import Footage
from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.denoise import Noise
from wenditas.core.select.objects.carry import Step, step
from wenditas.core.select.objects.fine import fine_edge
from wenditas.core.select.objects.marks import Stroke, painted
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.objects.start import known_of, started
from wenditas.core.select.objects.sure import UNSURE
from wenditas.render.things import Things

FRAMES, TOLD, APART = 72, (12, 24, 48, 71), 24
FAILED, GOOD = 0.85, 0.9
RADIUS = 10.0  # of the brush, in pixels of 1080 lines
NEAR = 8
SOFT_WIDTH, FINE_EVERY = 8.0, 12  # pixels of the fine edge where a thing is soft; which frames it is measured on


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


class _Frames:
    """Frames at hand, as a reader has them."""

    def __init__(self, frames: Sequence[Picture]) -> None:
        self._frames = frames

    def picture(self, number: int, size: tuple[int, int] | None = None) -> Picture:
        return self._frames[number]


def put_right(matte: Matte, truth: Matte, frame: int) -> tuple[Stroke, ...]:
    """What a person strokes who sees where a matte is wrong: the deepest place of what is missing, and of what is too much."""
    out, scale = [], 1080 / truth.shape[0]
    for kind, wrong in (("this", (truth > 0.5) & (matte <= 0.5)), ("not this", (truth <= 0.5) & (matte > 0.5))):
        deep = cv2.distanceTransform(wrong.astype(np.uint8), cv2.DIST_L2, 5)
        for n in range(3):
            y, x = np.unravel_index(int(deep.argmax()), deep.shape)
            if deep[y, x] < 3:
                break
            out.append(Stroke(id=f"{kind}{frame}{n}", frame=frame, kind=kind, radius=min(RADIUS, float(deep[y, x])), points=((x * scale, y * scale),)))  # type: ignore[arg-type]
            cv2.circle(deep, (int(x), int(y)), int(2 * deep[y, x]) + 4, 0, -1)
    return tuple(out)


@dataclass(frozen=True)
class Asked:
    """overlaps, without and with strokes where they are asked for; how many frames were stroked; how sure it was, without."""

    without: list[float]
    stroked: list[float]
    frames: int
    sure: list[float]


def asked_for(frames: Sequence[Picture], truth: Sequence[Matte], noise: Noise) -> Asked:
    """A clip with strokes on its first frame, and then where they are asked for, at most one frame in `APART`."""
    height, width = truth[0].shape
    reader = _Frames(frames)
    things = Things(lambda *of: reader)  # type: ignore[arg-type, return-value]
    footage = Footage(content="clip", width=width, height=height, fps="24", frames=len(frames), noise=noise.sigma)
    strokes, last, count, first = strokes_on(truth[0]), 0, 0, None
    while True:
        found = [things.carried(footage, strokes, n) for n in range(len(frames))]
        overlaps = [overlap(c.matte, t) for c, t in zip(found, truth, strict=True)]
        first = first or (overlaps, [c.sure for c in found])
        at = next((n for n in range(last + APART, len(frames)) if found[n].sure < UNSURE and truth[n].max() > 0.5), None)
        more = () if at is None else put_right(found[at].matte, truth[at], at)
        if at is None:
            return Asked(first[0], overlaps, count, first[1])
        strokes, last, count = (*strokes, *more), at, count + bool(more)


def read(clip: Moving, folder: Path, count: int) -> tuple[list[Picture], list[Matte], Noise]:
    """A clip as the application reads it once it is encoded."""
    drawn, truth = clip.draw(count)
    frames, noise = coded.encoded(drawn, folder, str(clip.crf))
    return frames, truth, noise


@dataclass(frozen=True)
class Row:
    """What was measured of a clip. told: its line; after: overlaps at `TOLD`; failed, marked: whether it fails, and was marked in time; vain, well: marks
    on frames that are well, and those; least: overlap with strokes where they are asked for; beside: overlaps of the plain ways at `TOLD`."""

    told: tuple[str, ...]
    after: list[float]
    failed: bool
    marked: bool
    vain: int
    well: int
    least: float
    beside: tuple[list[float], ...]


def at_told(mattes: Sequence[Matte], truth: Sequence[Matte]) -> list[float]:
    """Overlaps after the frames that are told of, or the last one."""
    return [overlap(mattes[n], truth[n]) for n in (min(n, len(truth) - 1) for n in TOLD)]


def measured(clip: Moving, folder: Path) -> Row:
    """A clip, without further strokes and with them."""
    frames, truth, noise = read(clip, folder, at_most(FRAMES, 4))
    mattes, _, first, each = carried(frames, noise, strokes_on(truth[0]))
    found = [overlap(m, t) for m, t in zip(mattes, truth, strict=True)]
    edge = 100 * float(np.mean([at_edge(m, t) for m, t in zip(mattes, truth, strict=True)]))
    soft = clip.fur > 0 or clip.shutter > 0
    some = [n for n, m in enumerate(mattes) if n % FINE_EVERY == 0 and m.max() > 0.5] if soft else []
    fine = 100 * float(np.mean([at_edge(fine_edge(mattes[n], frames[n], SOFT_WIDTH), truth[n]) for n in some])) if some else None
    asked = asked_for(frames, truth, noise)
    seen = [n for n, t in enumerate(truth) if t.max() > 0.5]
    bad = next((n for n in seen if asked.without[n] < FAILED), None)
    marked = bad is not None and any(asked.sure[n] < UNSURE for n in range(min(bad + 2, len(frames))))
    well = [n for n in seen if asked.without[n] >= FAILED]
    after, stroked = at_told(mattes, truth), [asked.stroked[n] for n in seen]
    ways = warped_cuts(frames, mattes[0]), tracked(frames, truth[0]), bending(frames, noise, truth[0])
    beside = tuple(at_told(way, truth) for way in ways)
    overlaps = (f"{v:.2f}" for v in (found[0], *after, min(found)))
    plain = (f"{way[1]:.2f} {way[2]:.2f}" for way in beside)
    strokes = f"{asked.frames}: {min(stroked):.2f}, {np.mean(stroked):.2f}"
    told = clip.name, *overlaps, f"{edge:.1f}" + ("" if fine is None else f", {fine:.1f} fine"), f"{first:.0f}", f"{each:.0f}", strokes, *plain
    return Row(told, after, bad is not None, marked, sum(asked.sure[n] < UNSURE for n in well), len(well), min(stroked), beside)


def main() -> None:
    """Measure a half and print its table."""
    half = sys.argv[1] if len(sys.argv) > 1 else REPORTED
    with tempfile.TemporaryDirectory() as folder:
        rows = [measured(clip, Path(folder)) for clip in [c for c in MOVING if c.half == half][: at_most(99, 1)]]
    beside = "cut on flow, 24 48", "path, 24 48", "bending, 24 48"
    columns = "Clip", "first", *(f"after {n}" for n in TOLD), "least", "edge, %", "ms, first", "ms a frame", "stroked: least, mean", *beside
    table = Table(*columns, title=f"Overlap with the truth (clips {half})")
    for row in rows:
        table.add_row(*row.told)
    good = (f"{sum(row.after[k] >= GOOD for row in rows)} of {len(rows)}" for k in range(len(TOLD)))
    plain = (" ".join(str(sum(row.beside[way][k] >= GOOD for row in rows)) for k in (1, 2)) for way in (0, 1, 2))
    table.add_row("at least 0.90", "", *good, "", "", "", "", f"throughout {sum(row.least >= GOOD for row in rows)} of {len(rows)}", *plain)
    vain = 100 * sum(row.vain for row in rows) / max(sum(row.well for row in rows), 1)
    in_time = f"{sum(row.marked for row in rows)} of {sum(row.failed for row in rows)}"
    table.caption = f"Failed, and marked in time: {in_time}; marks in vain: {vain:.1f} % of the frames that are well"
    Console(width=180).print(table)


if __name__ == "__main__":
    main()
