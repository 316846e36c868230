"""What a played frame costs, part by part: ms of one core, at 960 × 540, for a look of six passes with a cleaned selection."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

import numpy as np
from rich.console import Console
from rich.table import Table

from bench.coded import GRAIN
from bench.looks import six_passes
from bench.timing import at_most
from wenditas.core.film import Memo, Op, run
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.look.apply import resolve_look
from wenditas.core.look.document import Look
from wenditas.core.measure.noise import noise_of
from wenditas.core.select.matte import Given, Moment
from wenditas.core.tiles import single_threaded
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.stills import encode_jpeg
from wenditas.media.writing.h264 import write_clip

SIZE = (540, 960)
FRAMES, CRF = 25, "30"
TARGET = 60  # ms of one core, the page's share included


@dataclass
class Account:
    """Milliseconds of one core by part, one value a frame."""

    parts: dict[str, list[float]] = field(default_factory=dict)

    @contextmanager
    def on(self, part: str) -> Iterator[None]:
        """What is done within this block is put on a part's account."""
        began = time.process_time()
        yield
        self.parts.setdefault(part, []).append(1000 * (time.process_time() - began))

    def medians(self) -> dict[str, float]:
        """Of each part, and of all."""
        found = {part: float(np.median(values)) for part, values in self.parts.items()}
        return found | {"all of it": sum(found.values())}


def _mattes(op: Op) -> list[Op]:
    """The operations that make the mattes under a picture, in order."""
    found: dict[str, Op] = {}

    def walk(here: Op) -> None:
        for needed in here.inputs:
            walk(needed)
        if here.kind.gives == "matte":
            found.setdefault(here.digest, here)

    walk(op)
    return list(found.values())


def _pictured(account: Account, op: Op, given: Given) -> Picture:
    """A picture, worked out one matte after another."""
    memo = Memo()
    for matte in _mattes(op):
        with account.on(matte.kind.name):
            memo.put(matte.digest, run(matte, sources=given, memo=memo))
    with account.on("passes"):
        return run(op, sources=given, memo=memo)


def account_of(path: Path, look: Look, frames: int) -> dict[str, float]:
    """The account of a look on the frames of a file."""
    reader = Reader(path, *inspect(path), threads=1)
    noise, account = noise_of([reader.picture(n) for n in range(0, 5, 2)]), Account()
    with single_threaded():
        for n in range(frames):
            with account.on("decode"):
                reader.frame(n)
            with account.on("to R'G'B', scaled"):
                picture = reader.picture(n, SIZE)
            given = Given(picture, Moment(noise=noise))
            shown = _pictured(account, resolve_look(look, given), given)
            with account.on("JPEG"):
                encode_jpeg(shown, subsampled=True)
    reader.close()
    return account.medians()


def noisy(clip: Path, folder: Path, height: int) -> Path:
    """The clip as a camera hands it over: noisy, coded hard, at another height."""
    reader, path, dice = Reader(clip, *inspect(clip)), folder / f"noisy-{height}.mp4", np.random.default_rng(5)
    size = (height, height * 16 // 9)
    frames = (reader.picture(n, size) if size != (reader.facts.height, reader.facts.width) else reader.picture(n) for n in range(FRAMES))
    write_clip(path, (as_picture(np.clip(f + dice.normal(0, GRAIN, f.shape), 0, 1)) for f in frames), Fraction(24), (CRF, "medium"))
    return path


def measure(clip: Path, folder: Path) -> list[tuple[str, str]]:
    """Prints the account of two clips, and gives its last line as a row."""
    count, rows = at_most(FRAMES, 3), []
    found = {}
    for name, path_of in (("the demo's", lambda: clip), ("noisy, 1080 lines, CRF 30", lambda: noisy(clip, folder, 1080)))[: at_most(2, 1)]:
        found[name] = account_of(path_of(), six_passes(), count)
        told = f"{found[name]['all of it']:.0f} ms of one core (target ≤ {TARGET}, sending and the page included)"
        rows.append((f"a played frame, {name}: 960 × 540, six passes, cleaned selection", told))
    table = Table("Part, ms of one core a frame", *found)
    for part in dict.fromkeys(part for each in found.values() for part in each):
        table.add_row(part, *(f"{each[part]:.1f}" if part in each else "" for each in found.values()))
    Console(width=130).print(table)
    return rows
