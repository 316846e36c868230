"""Key quality: mattes on encoded footage against true ones. `make bench-keys`.

`python -m bench.keys "worked on"` tells of the other half, `fresh` of the clips that were drawn last; a picture's name after that
draws where the errors are.

Clips of `bench.clips` are encoded in several ways and keyed as a user would: three picks (where the thing is rather dark, middling and rather light),
then fit. Told of each, in percent: mean absolute error around the thing, error within 8 px of its edge, and flicker (change of the
matte where the true one stands still); and as ratios to the straightforward key, OpenCV's HSV, its ranges taken from the same picks and cut hard.
Beside it stand plain distance in Oklab, and the key as it was before. Then where the error is: at the edge, holes within, leaks outside.
"""

import sys
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table

from bench import coded, older
from bench.clips import CLIPS, REPORTED
from bench.clips.clip import Drawn
from bench.seen import Seen, write_sheet
from bench.timing import at_most
from wenditas.core.colour.oklab import oklab_from_rgb
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.select.denoise import NO_NOISE, Noise, denoised
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.keys import HueKey
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.demo.draw import film
from wenditas.media.writing.h264 import CODING
from wenditas.media.writing.video import Coding

COUNT = 6  # frames of each clip, one after another
EDGE, AROUND = 8, 60  # pixels around the edge, and around the thing, that count
PLACES = (25, 50, 80)  # percentiles of the thing's luma that are picked
DISPLAY = 2.4  # gamma of the display, by which light becomes coded values


@dataclass(frozen=True)
class Way:
    """How a clip is encoded: rate factor (None: not at all), share of the light, strength of the film noise, lines, encoder."""

    name: str
    crf: int | None
    light: float = 1
    grain: float = film.NOISE
    height: int = 540
    base: Coding = CODING


WAYS = (
    Way("as drawn", None, grain=0),
    Way("CRF 18", 18),
    Way("CRF 26", 26),
    Way("CRF 34", 34),
    Way("H.265, CRF 28", 28, base=coded.HEVC),
    Way("10 bit 4:2:2, CRF 26", 26, base=coded.TEN_BIT),
    Way("1080 lines, CRF 30", 30, height=1080),
    Way("half the light, CRF 28", 28, 0.5, 0.02),
    Way("a fifth, CRF 28", 28, 0.2, 0.02),
    Way("a fifth, CRF 34", 34, 0.2, 0.03),
)


def encoded(frames: list[Picture], way: Way, folder: Path) -> tuple[list[Picture], Noise]:
    """The frames exposed, with film noise, encoded, as the application reads them; and the noise that it measures."""
    share = np.float32(way.light ** (1 / DISPLAY))
    exposed = [as_picture(np.clip(film.noise(np.clip(f, 0, 1) * share, n, way.grain), 0, 1)) for n, f in enumerate(frames)]
    return (exposed, NO_NOISE) if way.crf is None else coded.encoded(exposed, folder, str(way.crf), way.base)


def picks(frame: Picture, matte: Matte) -> tuple[Pick, ...]:
    """Three picks well inside the thing; where it is too thin, on it."""
    _, height, width = frame.shape
    inner = cv2.erode((matte > 0.9).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    places = np.argwhere(inner if inner.any() else matte > 0.9)
    soft = cv2.GaussianBlur(luma(frame), (0, 0), 2)
    order = np.argsort(soft[tuple(places.T)])
    found = []
    for share in PLACES:
        row, column = places[order[int(share / 100 * (len(order) - 1))]]
        x, y = (column + 0.5) / width, (row + 0.5) / height
        found.append(Pick(id=str(share), colour=sample(frame, x, y, 5), x=x, y=y, frame=0))
    return tuple(found)


def keyed(frames: Sequence[Picture], chosen: tuple[Pick, ...], noise: Noise) -> list[Matte]:
    """The mattes of a new selection: a key by hue that was fitted to its picks."""
    key = fit_to_picks(HueKey(picks=chosen), lambda frame: denoised(frames[0], noise), noise).key
    selection = Selection(id="s", name="S", keys=(key,))
    return [selection_matte(selection, frame, Moment(noise=noise)) for frame in frames]


def straightforward(frames: Sequence[Picture], chosen: tuple[Pick, ...], noise: Noise = NO_NOISE) -> list[Matte]:
    """Ranges of hue, saturation and value around the picks, cut hard, by OpenCV."""
    colours = np.clip(np.array([p.colour for p in chosen], np.float32), 0, 1)
    hue, saturation, value = cv2.cvtColor(colours[None], cv2.COLOR_RGB2HSV)[0].T
    middle = np.degrees(np.angle(np.exp(1j * np.radians(hue)).mean())) % 360
    reach = np.abs((hue - middle + 180) % 360 - 180).max() + 10
    found = []
    for frame in frames:
        h, s, v = cv2.split(cv2.cvtColor(np.ascontiguousarray(np.clip(frame, 0, 1).transpose(1, 2, 0)), cv2.COLOR_RGB2HSV))
        near = np.abs((h - middle + 180) % 360 - 180) < reach
        found.append((near & (s > max(0.1, 0.6 * saturation.min())) & (v > 0.5 * value.min())).astype(np.float32))
    return found


def by_distance(frames: Sequence[Picture], chosen: tuple[Pick, ...], noise: Noise = NO_NOISE) -> list[Matte]:
    """Plain distance in Oklab to the nearest pick, lightness counting half, cut hard."""
    places = [oklab_from_rgb(p.colour) for p in chosen]
    found = []
    for frame in frames:
        lightness, a, b = oklab_from_rgb(np.clip(frame, 0, 1.25))
        apart = np.min([(0.5 * (lightness - p[0])) ** 2 + (a - p[1]) ** 2 + (b - p[2]) ** 2 for p in places], axis=0)
        found.append((np.sqrt(apart) < 0.06).astype(np.float32))
    return found


WAYS_TO_KEY = {"as it is keyed": keyed, "as it was": older.keyed, "Oklab": by_distance, "plain HSV": straightforward}


def _around(matte: Matte, reach: int) -> Matte:
    return np.asarray(cv2.dilate((matte > 0.5).astype(np.uint8), np.ones((2 * reach + 1,) * 2, np.uint8)) > 0)


def _near_edge(true: Matte) -> Matte:
    cut = cv2.morphologyEx((true > 0.5).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    return np.asarray(cv2.dilate(cut, np.ones((2 * EDGE - 1,) * 2, np.uint8)) > 0)


def errors(mattes: Sequence[Matte], truth: Sequence[Matte]) -> tuple[float, float, float]:
    """Error, error at the edge, and flicker, in percent."""
    counted = np.any([_around(t, AROUND) for t in truth], axis=0)
    whole, edge, flicker = [], [], []
    for n, (matte, true) in enumerate(zip(mattes, truth, strict=True)):
        error = np.abs(matte - true)
        whole.append(error[counted].mean())
        edge.append(error[_near_edge(true)].mean())
        if n:
            still = counted & (np.abs(true - truth[n - 1]) < 0.02)
            flicker.append(np.abs(matte - mattes[n - 1])[still].mean())
    return 100 * float(np.mean(whole)), 100 * float(np.mean(edge)), 100 * float(np.mean(flicker))


def causes(matte: Matte, true: Matte) -> tuple[float, float, float]:
    """Where the error is, in percent of the thing's area: at its edge, in holes within it, in leaks outside."""
    error, edge = np.abs(matte - true), _near_edge(true)
    area = max(float(true.sum()), 1)
    return (
        100 * float(error[edge].sum()) / area,
        100 * float(error[~edge & (true > 0.5)].sum()) / area,
        100 * float(error[~edge & (true <= 0.5)].sum()) / area,
    )


def _rows(half: str) -> tuple[list[tuple[Way, dict[str, np.ndarray]]], list[Seen]]:
    """For each way of encoding the errors of each way to key, `(clips, 3)`; and what was keyed at the middle one."""
    clips = [clip for clip in CLIPS if clip.half == half][: at_most(99, 1)]
    drawn: dict[tuple[str, int], Drawn] = {}
    found, seen = [], list[Seen]()
    with tempfile.TemporaryDirectory() as folder:
        for way in WAYS[:: at_most(1, 9)]:
            rows: dict[str, list[tuple[float, float, float]]] = {name: [] for name in WAYS_TO_KEY}
            for clip in (c for c in clips if way.height in c.heights):
                if (clip.name, way.height) not in drawn:
                    drawn[clip.name, way.height] = clip.draw(at_most(COUNT, 2), way.height)
                frames, truth = drawn[clip.name, way.height]
                read, noise = encoded(frames, way, Path(folder))
                chosen = picks(read[0], truth[0])
                keyed_by = {name: method(read, chosen, noise) for name, method in WAYS_TO_KEY.items()}
                for name, mattes in keyed_by.items():
                    rows[name].append(errors(mattes, truth))
                if way.name == "CRF 26":
                    seen.append(Seen(clip.name, read[0], truth[0], {name: mattes[0] for name, mattes in keyed_by.items()}))
            found.append((way, {name: np.array(values) for name, values in rows.items()}))
    return found, seen


def _told(values: np.ndarray) -> str:
    return " / ".join(f"{v:.2f}" for v in values)


def main() -> None:
    """Measure a half and print its tables."""
    half = sys.argv[1] if len(sys.argv) > 1 else REPORTED
    found, seen = _rows(half)
    if len(sys.argv) > 2 and seen:
        write_sheet(Path(sys.argv[2]), seen)
    table = Table(
        "Footage", *(f"{name}, ratio" for name in list(WAYS_TO_KEY)[:-1]), "plain HSV, %", title=f"Error / at the edge / flicker (means of the clips {half})"
    )
    for way, rows in found:
        plain = rows["plain HSV"].mean(axis=0)
        ratios = [_told(rows[name].mean(axis=0) / np.maximum(plain, 1e-3)) for name in list(WAYS_TO_KEY)[:-1]]
        table.add_row(way.name, *ratios, _told(plain))
    causes_table = Table("Clip at CRF 26", *WAYS_TO_KEY, title="Where the error is: edge / holes / leaks, in % of the thing's area")
    for each in seen:
        causes_table.add_row(each.name, *(" / ".join(f"{v:.1f}" for v in causes(matte, each.truth)) for matte in each.mattes.values()))
    console = Console(width=130)
    console.print(table)
    console.print(causes_table)


if __name__ == "__main__":
    main()
