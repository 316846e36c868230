"""`python -m wenditas.demo.draw.looks`: the finished looks of the demo's shots, picked and tracked on the drawn footage."""

import sys
from functools import partial
from pathlib import Path

from wenditas.core.look.document import Look
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.keys import HueKey, LightnessKey
from wenditas.core.select.picks import Pick, sample
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape
from wenditas.core.select.tracks import WHOLE
from wenditas.core.shelf import STARTERS
from wenditas.formats.look_json import write_look
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.tracking import grey_picture, track_shape

HERE = Path(__file__).parent.parent
LINES = 720  # of the footage; the places below are in its pixels


def _reader(name: str) -> Reader:
    path = HERE / "footage" / f"{name}.mp4"
    return Reader(path, *inspect(path))


def _pick(reader: Reader, frame: int, x: float, y: float) -> Pick:
    u, v = x / reader.facts.width, y / reader.facts.height
    r, g, b = (round(c, 4) for c in sample(reader.picture(frame), u, v, 5))
    return Pick(colour=(r, g, b), x=round(u, 4), y=round(v, 4), frame=frame)


def _points(*places: tuple[float, float]) -> tuple[Point, ...]:
    return tuple(Point(x=x * 1080 / LINES, y=y * 1080 / LINES) for x, y in places)


def _grey_outside(selection: Selection, saturation: float) -> Look:
    grey = {"id": "grey-outside", "name": "Monochrome", "treatment": "monochrome", "selection": selection.id, "side": "outside"}
    richer = {"id": "richer", "name": "Saturation", "treatment": "saturation", "selection": selection.id, "side": "inside"}
    return Look.model_validate({"selections": [selection.model_dump(context=WHOLE)], "passes": [grey, {**richer, "params": {"saturation": saturation}}]})


def tram() -> Look:
    """The tram stays red; the pillar box of the same red is left out by a tracked fence."""
    reader = _reader("tram-up-the-hill")
    picks = tuple(_pick(reader, 75, x, y) for x, y in ((410, 570), (710, 552), (510, 562)))
    key = HueKey(picks=picks, refused=(_pick(reader, 75, 383, 378),), tolerance=7, softness=5, least_chroma=0.045, gate_softness=0.02)
    fence = Shape(id="pillar-box", name="Pillar box", kind="polygon", points=_points((1052, 330), (1120, 292), (1192, 330), (1186, 640), (1058, 640)))
    tracked = track_shape(partial(grey_picture, reader), fence, 75, "both", 0, reader.facts.length - 1, lambda progress: None, lambda: False)
    assert tracked is not None and not tracked.lost
    selection = Selection(id="tram-red", name="Tram red", keys=(key,), shapes=(tracked.shape,), cleaning=Cleaning(despeckle=24))
    return _grey_outside(selection, 118)


def umbrella() -> Look:
    """The umbrella stays yellow; the shop sign of the same hue is left out."""
    reader = _reader("umbrella-in-the-rain")
    picks = (_pick(reader, 50, 540, 320), _pick(reader, 50, 470, 350), _pick(reader, 50, 600, 355))
    key = HueKey(picks=picks, tolerance=12, softness=7, least_chroma=0.075, gate_softness=0.03)
    sign = Shape(id="shop-sign", name="Shop sign", kind="rectangle", points=_points((760, 130), (1170, 262)), feather_out=6)
    puddle = Shape(id="puddle", name="Glow on the street", kind="ellipse", points=_points((840, 530), (1100, 700)), feather_out=30)
    cleaning = Cleaning(despeckle=30, fill_holes=20)
    return _grey_outside(Selection(id="umbrella", name="Umbrella", keys=(key,), shapes=(sign, puddle), cleaning=cleaning), 115)


def awnings() -> Look:
    """One awning of six stays blue."""
    reader = _reader("six-awnings")
    picks = tuple(_pick(reader, 40, x, y) for x, y in ((960, 290), (1040, 330), (900, 345)))
    key = HueKey(picks=picks, tolerance=16, softness=8, least_chroma=0.06, gate_softness=0.03)
    keep = Shape(id="stall", name="Stall", mode="keep", kind="rectangle", points=_points((840, 220), (1100, 420)), feather_out=12)
    return _grey_outside(Selection(id="blue-awning", name="Blue awning", keys=(key,), shapes=(keep,), cleaning=Cleaning(despeckle=20)), 112)


def _starter(id: str, **params: dict[str, object]) -> Look:
    """A look from the shelf, with parameters of its passes (by name) changed."""
    look = STARTERS[id].look
    passes = [p.model_dump(context=WHOLE) for p in look.passes]
    for item in passes:
        item["params"] |= params.get(item["name"].lower().replace(" ", "_"), {})
    return Look.model_validate({"selections": [s.model_dump(context=WHOLE) for s in look.selections], "passes": passes})


def kiln() -> Look:
    """The fire through a heat camera."""
    return _starter("heat-camera", heat={"blur": 3.0})


def marionette() -> Look:
    """The show printed in two inks."""
    return _starter("two-ink-print", two_inks={"dark": "#14285a", "light": "#f2b632"})


def orchard() -> Look:
    """The orchard by night."""
    return _starter("day-for-night")


def dusk() -> Look:
    """Steps in the sky smoothed, then the sky blood-red."""
    look = _starter("blood-red-sky")
    key = LightnessKey(low=34, high=100, soft_low=8, soft_high=0)
    roofs = ((0, 0), (1280, 0), (1280, 330), (1200, 262), (1010, 330), (930, 300), (930, 120), (856, 120), (850, 360), (560, 470), (360, 520), (0, 560))
    sky = Shape(id="sky", name="Sky", mode="keep", kind="polygon", points=_points(*roofs), feather_out=8)
    selection = look.selections[0].model_copy(update={"name": "Sky", "keys": (key,), "shapes": (sky,)})
    smooth = {"id": "smooth", "name": "Smooth sky", "treatment": "deband", "params": {"radius": 24, "threshold": 3}}
    return Look.model_validate({"selections": [selection.model_dump(context=WHOLE)], "passes": [smooth, *(p.model_dump(context=WHOLE) for p in look.passes)]})


LOOKS = {
    "tram-up-the-hill": (tram, "Tram red stays"),
    "umbrella-in-the-rain": (umbrella, "The umbrella stays"),
    "six-awnings": (awnings, "One awning stays"),
    "the-kiln": (kiln, "Heat camera"),
    "the-marionette": (marionette, "Two-ink print"),
    "orchard-path": (orchard, "Day for night"),
    "hill-at-dusk": (dusk, "Blood-red sky"),
}


def main(names: list[str]) -> None:
    """Write the looks of all shots, or of those named."""
    for name, (make, title) in LOOKS.items():
        if names and name not in names:
            continue
        (HERE / "looks" / f"{name}.json").write_text(write_look(make(), title), "utf-8")


if __name__ == "__main__":
    main(sys.argv[1:])
