"""Key quality: mattes on encoded footage against the true mattes of the demo's generator. `make bench-keys`.

Objects are drawn twice, in two colours; where the pictures differ, the object is. The clips are encoded at several qualities and
keyed as a user would: three picks (where the object is rather dark, middling and rather light), then fit. Told of each, in percent:
mean absolute error around the object, error within 8 px of its edge, and flicker (change of the matte where the true one stands
still). Beside it stand the same key without calm, and the straightforward one: OpenCV's HSV, its ranges taken from the same picks.
"""

import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType
from typing import Any
from unittest.mock import patch

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table

from bench import coded
from bench.timing import at_most
from wenditas.core.colour.ycbcr import luma
from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.select.denoise import NO_NOISE, Noise, denoised
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.keys import HueKey
from wenditas.core.select.matte import Moment, selection_matte
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.demo.draw import awnings, film, tram, umbrella

COUNT, FIRST = 6, 60  # frames of each clip, one after another
EDGE, AROUND = 8, 60  # pixels around the edge, and around the object, that count
PLACES = (25, 50, 80)  # percentiles of the object's luma that are picked


@dataclass(frozen=True)
class Thing:
    """Something to key: the name of its colour in its scene, and another colour for it. below: rows that count, where a reflection lies under them."""

    name: str
    shot: Callable[[], film.Shot]
    scene: ModuleType
    attribute: str
    other: Any
    below: int | None = None


def _awning(index: int, colour: tuple[float, float, float]) -> tuple[tuple[float, float, float], ...]:
    return tuple(colour if n == index else c for n, c in enumerate(awnings.HUES))


THINGS = (
    Thing("red tram", tram.TramShot, tram, "RED", (0.1, 0.3, 0.8)),
    Thing("yellow umbrella", umbrella.UmbrellaShot, umbrella, "YELLOW", (0.1, 0.3, 0.93), 600),
    Thing("blue awning", awnings.AwningsShot, awnings, "HUES", _awning(4, (0.8, 0.3, 0.1))),
    Thing("violet awning", awnings.AwningsShot, awnings, "HUES", _awning(5, (0.2, 0.7, 0.2))),
)


@dataclass(frozen=True)
class Coding:
    """How a clip is encoded: CRF (None: not at all), exposure in stops, strength of the film noise."""

    name: str
    crf: int | None
    stops: float = 0
    grain: float = film.NOISE


CODINGS = (
    Coding("as drawn", None, grain=0),
    Coding("fine, CRF 16", 16),
    Coding("middling, CRF 26", 26),
    Coding("hard, CRF 34", 34),
    Coding("dark, CRF 28", 28, -3, 0.02),
    Coding("dark and hard, CRF 34", 34, -3, 0.03),
)


def drawn(thing: Thing) -> tuple[list[Picture], list[Matte]]:
    """The frames, and where the thing is in them, 0-1: how much its two colours differ, measured against the most that they do nearby."""
    size = thing.scene.WIDTH, thing.scene.HEIGHT
    numbers = range(FIRST, FIRST + at_most(COUNT, 3))
    shot = thing.shot()
    frames = [film.picture_of(shot, n, *size) for n in numbers]
    with patch.object(thing.scene, thing.attribute, thing.other):
        shot = thing.shot()
        others = [film.picture_of(shot, n, *size) for n in numbers]
    mattes = []
    for frame, other in zip(frames, others, strict=True):
        difference = np.abs(frame - other).max(axis=0)
        most = cv2.dilate(difference, np.ones((7, 7), np.uint8))
        matte = np.where(most > 0.06, difference / np.maximum(most, 0.06), 0).astype(np.float32)
        matte[thing.below :] = 0 if thing.below else matte[thing.below :]
        mattes.append(matte)
    return frames, mattes


def encoded(frames: list[Picture], coding: Coding, folder: Path) -> tuple[list[Picture], Noise]:
    """The frames exposed, with film noise, after H.264 of 8 bits and 4:2:0, as the application reads them; and the noise that it measures."""
    exposed = [np.clip(film.noise(f * np.float32(2 ** (coding.stops / 2.4)), FIRST + n, coding.grain), 0, 1) for n, f in enumerate(frames)]
    if coding.crf is None:
        return [as_picture(f) for f in exposed], NO_NOISE
    return coded.encoded([as_picture(f) for f in exposed], folder, str(coding.crf))


def picks(frame: Picture, matte: Matte) -> tuple[Pick, ...]:
    """Three picks well inside the thing."""
    _, height, width = frame.shape
    places = np.argwhere(cv2.erode((matte > 0.9).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0)
    soft = cv2.GaussianBlur(luma(frame), (0, 0), 2)
    order = np.argsort(soft[tuple(places.T)])
    found = []
    for share in PLACES:
        row, column = places[order[int(share / 100 * (len(order) - 1))]]
        x, y = (column + 0.5) / width, (row + 0.5) / height
        found.append(Pick(id=str(share), colour=sample(frame, x, y, 5), x=x, y=y, frame=0))
    return tuple(found)


def keyed(frames: list[Picture], chosen: tuple[Pick, ...], noise: Noise, denoise: float) -> list[Matte]:
    """The mattes of a key by hue that was fitted to its picks."""
    share = noise.times(denoise / 100)
    key = fit_to_picks(HueKey(picks=chosen), lambda frame: denoised(frames[0], share)).key
    selection = Selection.model_validate({"id": "s", "name": "S", "keys": [key], "cleaning": {"denoise_chroma": denoise, "follow": 0}})
    return [selection_matte(selection, frame, Moment(noise=noise)) for frame in frames]


def straightforward(frames: list[Picture], chosen: tuple[Pick, ...]) -> list[Matte]:
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


def errors(mattes: list[Matte], truth: list[Matte]) -> tuple[float, float, float]:
    """Error, error at the edge, and flicker, in percent."""
    counted = np.any([cv2.dilate((t > 0.5).astype(np.uint8), np.ones((2 * AROUND + 1,) * 2, np.uint8)) > 0 for t in truth], axis=0)
    whole, edge, flicker = [], [], []
    for n, (matte, true) in enumerate(zip(mattes, truth, strict=True)):
        cut = cv2.morphologyEx((true > 0.5).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
        at_edge = cv2.dilate(cut, np.ones((2 * EDGE - 1,) * 2, np.uint8)) > 0
        error = np.abs(matte - true)
        whole.append(error[counted].mean())
        edge.append(error[at_edge].mean())
        if n:
            still = counted & (np.abs(true - truth[n - 1]) < 0.02)
            flicker.append(np.abs(matte - mattes[n - 1])[still].mean())
    return 100 * float(np.mean(whole)), 100 * float(np.mean(edge)), 100 * float(np.mean(flicker))


def main() -> None:
    """Measure everything and print one table."""
    table = Table("Footage", "Noise", "As it is keyed", "Without calm", "Plain HSV", title="Error / at the edge / flicker, in % (means of four objects)")
    scenes = [drawn(thing) for thing in THINGS[: at_most(len(THINGS), 1)]]
    with tempfile.TemporaryDirectory() as folder:
        first = None
        for coding in CODINGS[:: at_most(1, 5)]:
            rows: list[tuple[tuple[float, float, float], ...]] = []
            sigmas = []
            for frames, truth in scenes:
                read, noise = encoded(frames, coding, Path(folder))
                chosen = picks(read[0], truth[0])
                mattes = (keyed(read, chosen, noise, 100), keyed(read, chosen, noise, 0), straightforward(read, chosen))
                rows.append(tuple(errors(m, truth) for m in mattes))
                sigmas.append(noise.sigma)
            means = np.mean(rows, axis=0)
            first = means[0][0] if first is None else first
            told = [" / ".join(f"{v:.2f}" for v in part) for part in means]
            table.add_row(coding.name, f"{1000 * float(np.mean(sigmas)):.1f} ‰", f"{told[0]} ({100 * means[0][0] / first - 100:+.0f} %)", *told[1:])
    Console(width=130).print(table)


if __name__ == "__main__":
    main()
