"""Checks on what editors make: `make bench-checks`.

Ordinary looks (the shelf's, with one pick where they ask for one) on ordinary footage: the demo's shots as they are, at CRF 28 and 34, noisy, with lamps
that flicker, moving fast, and scikit-learn's two photographs. Every mark there is counted as false, but that of a bright sky where a night is made of a
picture that has one. Then faults that are planted, of each check: how many are found. Told per check. `python -m bench.checks "worked on"` tells of the
shots that the checks were made on.
"""

import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from importlib import resources
from itertools import count, islice
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from rich.console import Console
from rich.table import Table
from sklearn.datasets import load_sample_image

from bench.clips.clip import REPORTED, WORKED_ON
from bench.timing import at_most
from wenditas.app.services import Services
from wenditas.core.film import Footage
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.look.commands import apply_commands
from wenditas.core.look.document import Look, parse_look
from wenditas.core.measure.checks import CHECKS
from wenditas.core.measure.checks.record import Mark
from wenditas.core.select.denoise import denoised
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.suggest import main_colours
from wenditas.core.shelf import STARTERS, dress
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.media.writing.h264 import write_clip
from wenditas.project.picking import Around, light_of, picked
from wenditas.store import projects

FRAMES, FROM, SIZE, RATE = 24, 40, (360, 640), Fraction(24)
SHOTS = {
    "Tram up the hill": ("tram-up-the-hill", WORKED_ON), "The kiln": ("the-kiln", WORKED_ON), "Orchard path": ("orchard-path", WORKED_ON),
    "Umbrella in the rain": ("umbrella-in-the-rain", REPORTED), "Six awnings": ("six-awnings", REPORTED),
    "The marionette": ("the-marionette", REPORTED), "Hill at dusk": ("hill-at-dusk", REPORTED),
}  # fmt: skip
ORDINARY = (
    "one-colour-stays",
    "two-tone-world",
    "one-ink",
    "two-ink-print",
    "warm-tint",
    "heat-camera",
    "poster-bands",
    "day-for-night",
    "old-broadcast",
    "newsprint",
    "faded-film",
)
WITH_SKY = {"Tram up the hill", "Hill at dusk", "china"}  # of which a night shows a bright sky
NIGHTS = ("day-for-night",)

Frames = list[Picture]
Change = Callable[[Frames], Frames]


@dataclass(frozen=True)
class Piece:
    """Footage as it is checked: frames that are written as a file. grade: CRF."""

    name: str
    half: str
    frames: Frames
    grade: str = "20"


@dataclass
class Tally:
    """What became of one check."""

    pairs: int = 0
    false: int = 0
    planted: int = 0
    found: int = 0
    told: list[str] = field(default_factory=list)


def _noise(frames: Frames) -> Frames:
    dice = np.random.default_rng(2)
    return [as_picture(np.clip(f + dice.normal(0, 0.02, f.shape), 0, 1)) for f in frames]


def _lamps(frames: Frames) -> Frames:
    """Lamps of 100 a second under 24 frames a second: a beat of four a second, three percent to either side."""
    return [as_picture(np.clip(f * (1 + 0.03 * np.sin(2 * np.pi * 4 * n / 24)), 0, 1)) for n, f in enumerate(frames)]


def _fast(frames: Frames) -> Frames:
    """A pan of eighteen pixels a frame, to and fro, over the middle of the picture."""
    height, width = frames[0].shape[1:]
    window = round(width * 0.6)
    places = [round((width - window) * abs(((n * 18 / (width - window)) % 2) - 1)) for n in range(len(frames))]
    return [as_picture(np.ascontiguousarray(f[:, : round(height * 0.6), x : x + window])) for f, x in zip(frames, places, strict=True)]


CONDITIONS: dict[str, tuple[Change, str]] = {
    "as it is": (lambda f: f, "20"), "CRF 28": (lambda f: f, "28"), "CRF 34": (lambda f: f, "34"),
    "noisy": (_noise, "24"), "lamps": (_lamps, "24"), "fast": (_fast, "24"),
}  # fmt: skip


def frames_of(name: str) -> Frames:
    """Frames of a shot of the demo, small."""
    with resources.as_file(resources.files("wenditas.demo") / "footage" / f"{SHOTS[name][0]}.mp4") as path:
        reader = Reader(path, *inspect(path))
        found = [reader.picture(FROM + n, SIZE) for n in range(at_most(FRAMES, 9))]
        reader.close()
    return found


def photograph(name: str) -> Frames:
    """One of scikit-learn's photographs, standing still."""
    picture = np.moveaxis(load_sample_image(f"{name}.jpg"), 2, 0) / 255
    small = np.stack([cv2.resize(plane, SIZE[::-1], interpolation=cv2.INTER_AREA) for plane in picture])
    return [as_picture(np.clip(small, 0, 1))] * at_most(FRAMES, 9)


def footage(half: str) -> Iterator[Piece]:
    """All of it."""
    for name, (_, of) in SHOTS.items():
        if of == half:
            frames = frames_of(name)
            for told, (change, grade) in CONDITIONS.items():
                yield Piece(f"{name}, {told}", half, change(frames), grade)
    yield Piece("china" if half == REPORTED else "flower", half, photograph("china" if half == REPORTED else "flower"))


class Room:
    """A project in which looks are checked as the application does it."""

    def __init__(self, folder: Path) -> None:
        self.services = Services.open(folder / "data")
        self.folder, self.project = folder, projects.add_project(self.services.db, "Checks").id

    def taken(self, piece: Piece, number: int) -> Footage:
        """A piece as footage."""
        path = self.folder / f"{number}.mp4"
        write_clip(path, piece.frames, RATE, (piece.grade, "medium"))
        row = self.services.projects.arrivals.take_in(self.project, path, f"{piece.name} {number}.mp4").row
        node = self.services.projects.library.node(row.id)
        assert isinstance(node, Footage)
        return node

    def marks(self, of: Footage, look: Look) -> list[Mark]:
        """What checks find over all of it."""
        node = self.services.projects.nodes.shot(of.content.split(".")[0], look)
        *_, (_, found) = self.services.screen.checking.over_shot(node, (0, of.length - 1))
        return found

    def close(self) -> None:
        """Let go of it."""
        self.services.close()


def dressed(starter: str, frame: Picture, of: Footage) -> Look:
    """A look of the shelf on a frame; what it asks for is picked: the most colourful of the main colours."""
    ids = (f"made {n}" for n in count())
    look, needs = dress(Look(), STARTERS[starter].look, None, lambda: next(ids))
    if needs is None:
        return look
    best = max(main_colours(frame), key=lambda c: np.ptp(c.colour), default=None)
    x, y = (best.x, best.y) if best else (0.5, 0.5)
    pick = Pick(id="pick", colour=sample(frame, x, y, 5), x=x, y=y, frame=0)
    noise = of.footage_noise
    around = Around(light_of(frame), noise, lambda key: fit_to_picks(key, lambda _: denoised(frame, noise), noise).key)
    made = picked(look, pick, needs, False, around=around)
    return parse_look(apply_commands({"look": look.model_dump(mode="json")}, made.commands)["look"])


def plain(*passes: tuple[str, dict[str, Any]], **more: Any) -> Look:
    """A look of passes, everywhere or (`inside`) in a selection."""
    made = [
        {
            "id": f"p{n}",
            "name": t,
            "treatment": t,
            "params": {k: v for k, v in p.items() if k != "inside"},
            **({"selection": "s", "side": p["inside"]} if "inside" in p else {}),
        }
        for n, (t, p) in enumerate(passes)
    ]
    return parse_look({"selections": [], **more, "passes": made})


def keyed(frame: Picture, of: Footage, **cleaning: Any) -> Look:
    """One colour stays, with the pick that is most colourful; cleaning as given."""
    look = dressed("one-colour-stays", frame, of)
    (selection,) = look.selections
    return look.model_copy(update={"selections": (selection.model_copy(update={"cleaning": selection.cleaning.model_copy(update=cleaning)}),)})


@dataclass(frozen=True)
class Fault:
    """Something wrong that is planted: in the footage, or by the look."""

    check: str
    change: Change
    look: Callable[[Picture, Footage], Look]


def _at(frames: Frames, wrong: Callable[[Picture], Picture], *places: int) -> Frames:
    return [as_picture(np.clip(wrong(f), 0, 1)) if n in places else f for n, f in enumerate(frames)]


def _specks(frames: Frames) -> Frames:
    """Specks of the most colourful colour, on one frame alone, where it is not."""
    best = max(main_colours(frames[0]), key=lambda c: np.ptp(c.colour))
    places = [(x, y) for x in (0.1, 0.3, 0.5, 0.7, 0.9) for y in (0.15, 0.4, 0.65, 0.9) if np.hypot(x - best.x, y - best.y) > 0.15]
    colour = sample(frames[0], best.x, best.y, 5)

    def dirty(frame: Picture) -> Picture:
        made = frame.copy()
        for x, y in places:
            row, column = int(y * frame.shape[1]), int(x * frame.shape[2])
            made[:, row - 5 : row + 5, column - 5 : column + 5] = np.array(colour)[:, None, None]
        return made

    return _at(frames, dirty, 5)


def _dip(frames: Frames) -> Frames:
    """For two frames the most colourful thing has nearly lost its colour."""
    best = max(main_colours(frames[0]), key=lambda c: np.ptp(c.colour))
    height, width = frames[0].shape[1:]
    y, x = np.mgrid[:height, :width]
    near = np.exp(-(((((x / width - best.x) * width / height) ** 2 + (y / height - best.y) ** 2) / (2 * 0.2**2)) ** 2))

    def paler(frame: Picture) -> Picture:
        grey = frame.mean(axis=0, keepdims=True)
        return np.asarray(frame + (grey - frame) * 0.88 * near)

    return _at(frames, paler, 11, 12)


def _still(frames: Frames) -> Frames:
    return [frames[0]] * len(frames)


def _wavering(frames: Frames) -> Frames:
    dice = np.random.default_rng(4)
    return [as_picture(np.clip(frames[0] + dice.normal(0, 0.05, frames[0].shape), 0, 1)) for _ in frames]


def _lightning(frames: Frames) -> Frames:
    return [as_picture(np.clip(f if n // 2 % 2 else f * 0.15, 0, 1)) for n, f in enumerate(frames)]


def _sky(light: tuple[float, float, float], share: float) -> Change:
    """A bright, even sky over what is there."""

    def over(frames: Frames) -> Frames:
        rows = round(frames[0].shape[1] * share)
        made = [f.copy() for f in frames]
        for f in made:
            f[:, :rows] = np.array(light)[:, None, None] * np.linspace(0.94, 1, rows)[None, :, None]
        return made

    return over


def _same(frames: Frames) -> Frames:
    return frames


def _amounts(*keys: tuple[int, float]) -> dict[str, Any]:
    return {"lanes": [{"target": "passes/p0/amount", "keyframes": [{"frame": f, "value": v, "how": "hold"} for f, v in keys]}]}


BLOWN = (
    ("exposure", {"stops": 2.5}),
    ("exposure", {"stops": 3.5}),
    ("cdl", {f"offset_{c}": -0.4 for c in ("red", "green", "blue")}),
    ("cdl", {f"slope_{c}": 2.4 for c in ("red", "green", "blue")}),
)
SKIES = [(colour, share) for colour in ((0.78, 0.86, 0.95), (0.9, 0.9, 0.9)) for share in (0.2, 0.33, 0.44, 0.58)]


def _uneven(most: float) -> dict[str, Any]:
    return _amounts(*((n, most * (n % 2)) for n in range(24)))


def _stretched(slope: float) -> Look:
    """A ramp of few code values stretched over many."""
    channels = ("red", "green", "blue")
    return plain(("cdl", {f"slope_{c}": slope for c in channels} | {f"offset_{c}": 0.3 - 0.45 * slope for c in channels}))


def _ramp(frames: Frames) -> Frames:
    """An even evening sky of eight bits over what is there: seven hundredths of the scale from top to bottom."""
    rows = round(frames[0].shape[1] * 0.6)
    made = [f.copy() for f in frames]
    for f in made:
        f[:, :rows] = np.round((0.45 + np.linspace(0, 0.07, rows)[None, :, None]) * 255) / 255
    return made


FAULTS = (
    *(Fault("clipping", _same, lambda f, o, p=p: plain(p)) for p in BLOWN),
    *(Fault("bright-sky", _sky(colour, share), lambda f, o: dressed("day-for-night", f, o)) for colour, share in SKIES),
    Fault("coverage-drop", _dip, lambda f, o: keyed(f, o)),
    Fault("islands", _specks, lambda f, o: keyed(f, o)),
    *(Fault("noisy-key", _wavering, lambda f, o, c=c: keyed(f, o, **c)) for c in ({"denoise_chroma": 0, "follow": 0}, {"follow": 0})),
    Fault("flash", _lightning, lambda f, o: plain(("saturation", {"saturation": 90}))),
    Fault("flash", _still, lambda f, o: plain(("exposure", {"stops": -4}), **_amounts(*((n, 100.0 * (n // 2 % 2)) for n in range(0, 24, 2))))),
    *(Fault("flicker", _still, lambda f, o, a=a: plain(("exposure", {"stops": 0.9}), **_uneven(a))) for a in (45.0, 70.0)),
    *(Fault("banding", _ramp, lambda f, o, slope=slope: _stretched(slope)) for slope in (3.0, 5.0)),
    Fault("out-of-range", _same, lambda f, o: plain(("saturation", {"saturation": 200}))),
)


def hard_to_tell(half: str) -> Iterator[tuple[Piece, Look]]:
    """One thing kept whose red or green is as light as the grey around it, and told from it by that alone."""
    colours = ((0.56, 0.4, 0.38), (0.4, 0.52, 0.42), (0.58, 0.42, 0.46), (0.36, 0.53, 0.5)) if half == REPORTED else ((0.6, 0.41, 0.4), (0.42, 0.5, 0.38))
    for n, colour in enumerate(colours):
        grey = float(np.dot(colour, (0.2126, 0.7152, 0.0722)))
        frame = np.full((3, *SIZE), grey, np.float32)
        frame[0] += np.linspace(-0.15, 0.15, SIZE[1])[None]  # it is colourful as it is filmed, and grey around the thing under the look
        frame[2] -= np.linspace(-0.15, 0.15, SIZE[1])[None]
        frame[:, 120:240, 200:420] = np.array(colour, np.float32)[:, None, None]
        shape = {"id": "e", "name": "E", "kind": "rectangle", "mode": "keep", "feather_out": 0, "points": [{"x": 600, "y": 360}, {"x": 1260, "y": 720}]}
        selections = [{"id": "s", "name": "Thing", "keys": [], "shapes": [shape]}]
        yield Piece(f"dull thing {n}", half, [as_picture(frame)] * at_most(FRAMES, 9)), plain(("monochrome", {"inside": "outside"}), selections=selections)


def main(half: str = REPORTED, say: Callable[[str], None] = print) -> dict[str, Tally]:
    """Check everything and tell."""
    tallies = {id: Tally() for id in CHECKS}
    spent, checked = 0.0, 0
    numbers = count()
    with tempfile.TemporaryDirectory() as folder:
        room = Room(Path(folder))
        for piece in islice(footage(half), at_most(10_000, 1)):
            of = room.taken(piece, next(numbers))
            for starter in ORDINARY[: at_most(len(ORDINARY), 1)]:
                look = dressed(starter, piece.frames[0], of)
                began = time.perf_counter()
                found = Counter(m.check for m in room.marks(of, look))
                spent, checked = spent + time.perf_counter() - began, checked + of.length
                for id, tally in tallies.items():
                    if id == "bright-sky" and starter in NIGHTS and piece.name.split(",")[0] in WITH_SKY:
                        continue
                    tally.pairs += 1
                    if found[id]:
                        tally.false += 1
                        tally.told.append(f"{piece.name}: {starter}")
        for name in [n for n, (_, of) in SHOTS.items() if of == half][: at_most(len(SHOTS), 1)]:
            frames = frames_of(name)
            for fault in FAULTS[: at_most(len(FAULTS), 1)]:
                piece = Piece(name, half, fault.change(frames))
                of = room.taken(piece, next(numbers))
                _planted(
                    tallies[fault.check],
                    fault.check,
                    room.marks(of, fault.look(frames[0], of)),
                    f"not found: {name}, {fault.look(frames[0], of).passes[0].treatment}",
                )
        for piece, look in list(hard_to_tell(half))[: at_most(4, 1)]:
            _planted(tallies["hard-to-tell"], "hard-to-tell", room.marks(room.taken(piece, next(numbers)), look), f"not found: {piece.name}")
        room.close()
    table = Table("check", "pairs", "false marks", "one in", "faults", "found", title=f"Checks, {half}")
    for id, t in tallies.items():
        table.add_row(
            CHECKS[id].name,
            str(t.pairs),
            str(t.false),
            f"{t.pairs / t.false:.0f}" if t.false else "none",
            str(t.planted),
            f"{100 * t.found / t.planted:.0f} %" if t.planted else "",
        )
    Console(width=130).print(table)
    for id, t in tallies.items():
        if t.told:
            say(f"{CHECKS[id].name}: {'; '.join(t.told)}")
    say(f"A shot of ten seconds at 24 frames a second is checked in {240 * spent / max(checked, 1):.1f} s.")
    return tallies


def _planted(tally: Tally, check: str, marks: list[Mark], missed: str) -> None:
    tally.planted += 1
    if any(m.check == check for m in marks):
        tally.found += 1
    else:
        tally.told.append(missed)


if __name__ == "__main__":
    main(*sys.argv[1:2])
