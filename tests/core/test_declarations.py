"""How parameters are declared, files are kept, and starter looks are made."""

import numpy as np
import pytest
from pydantic import ValidationError

from wenditas.core.assets import MOST_BYTES, Assets
from wenditas.core.errors import NotFound
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.params import Colour, Curve, Gradient, Params, colour, curve, describe, file, gradient, number, percent, pixels, switch
from wenditas.core.select.selection import Moment
from wenditas.core.shelf import PICK, STARTERS
from wenditas.core.tone.lut import Lut
from wenditas.core.treat import TREATMENTS


class Sample(Params):
    much: float = percent(40, "Much", "How much.")
    far: float = pixels(3, "Far", "How far.", high=50, step=0.5)
    place: float = number(10, "Place", "Where.", low=0, high=360, step=1, unit="°", at=29)
    ink: Colour = colour("#102030", "Ink", "Which ink.")
    bend: Curve = curve(((0, 0), (100, 100)), "Bend", "How it bends.", axis="tone", low=0, high=100)
    stops: Gradient = gradient(((0, "#000000"), (100, "#ffffff")), "Stops", "Which stops.")
    still: bool = switch(True, "Still", "Whether it is still.")
    lut: str = file("LUT", "Which LUT.", "lut")


def test_declarations_become_metadata() -> None:
    infos = {i.key: i for i in describe(Sample)}
    assert [i.kind for i in infos.values()] == ["number", "number", "number", "colour", "curve", "gradient", "switch", "file"]
    assert (infos["much"].unit, infos["far"].step, infos["place"].at, infos["bend"].axis, infos["lut"].accepts) == ("%", 0.5, 29, "tone", "lut")
    assert infos["stops"].default[1] == {"position": 100.0, "colour": "#ffffff"} and infos["ink"].default == "#102030"
    assert not infos["lut"].animatable and infos["still"].default == 1


def test_choices_are_listed() -> None:
    info = next(i for i in describe(TREATMENTS["gradient-map"].params) if i.key == "input")
    assert info.kind == "choice" and info.choices == ["luma", "lightness", "red", "green", "blue", "hue", "saturation"]


def test_stops_are_sorted_and_keep_their_order_where_they_coincide() -> None:
    stops = [{"position": 60, "colour": "#111111"}, {"position": 20, "colour": "#222222"}, {"position": 60, "colour": "#333333"}]
    assert [s.colour for s in Sample.model_validate({"stops": stops}).stops] == ["#222222", "#111111", "#333333"]
    with pytest.raises(ValidationError, match="left to right"):
        Sample.model_validate({"bend": [[0, 0], [50, 10], [50, 20]]})


def test_files_are_loaded_once_and_the_oldest_are_let_go() -> None:
    asked: list[str] = []

    def load(digest: str) -> Lut:
        asked.append(digest)
        if digest == "gone":
            raise NotFound("gone")
        return Lut(digest, np.broadcast_to(np.float32(0), (MOST_BYTES // 36, 3)))  # a third of what is kept

    assets = Assets()
    assert assets.find("a", Lut) is None  # nobody has said where files come from
    assets.load_with(load)
    assert assets.find("a", Lut) is assets.find("a", Lut) and asked == ["a"]
    assert assets.find("a", int) is None and assets.find("gone", Lut) is None and assets.find("", Lut) is None
    for name in "bcd":
        assets.find(name, Lut)
    assets.find("d", Lut)
    assets.find("a", Lut)
    assert asked.count("a") == 2 and asked.count("d") == 1
    assets.put("huge", Lut("huge", np.broadcast_to(np.float32(0), (MOST_BYTES // 4, 3))))
    assert assets.find("huge", Lut) is not None and asked.count("huge") == 0  # the newest is kept whatever its size


@pytest.mark.parametrize("starter", STARTERS.values(), ids=list(STARTERS))
def test_starters_explain_themselves_and_do_something(starter) -> None:
    assert starter.words.endswith(".") and 40 < len(starter.words) < 160 and all(p.known for p in starter.look.passes)
    assert (starter.asks is not None) == any(s.id == PICK for s in starter.look.selections)
    if starter.asks:
        assert "pick" in starter.words.lower() and starter.asks.startswith("Pick")
    key = {"type": "hue", "picks": [{"colour": [0.8, 0.2, 0.1], "x": 0.5, "y": 0.5, "frame": 0}]}
    look = starter.look.model_validate({**starter.look.model_dump(), "selections": [{**s.model_dump(), "keys": [key]} for s in starter.look.selections]})
    picture = np.random.default_rng(1).random((3, 90, 160), np.float32)
    out = run_on_picture(compile_look(look), picture, Moment(4, lambda n: picture[:, ::-1].copy()))
    assert np.isfinite(out).all() and np.abs(out - picture).mean() > 0.004
