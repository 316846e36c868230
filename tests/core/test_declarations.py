"""How parameters are declared, files are kept, and starter looks are made."""

import numpy as np
import pytest
from pydantic import ValidationError

from wenditas.core.files import Files
from wenditas.core.look.apply import apply_look
from wenditas.core.params import Colour, Curve, Gradient, Params, colour, curve, describe, file, gradient, number, percent, pixels, switch
from wenditas.core.select.matte import Moment
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
    assert infos["stops"].default[1] == {"id": "s2", "position": 100.0, "colour": "#ffffff"} and infos["ink"].default == "#102030"
    assert not infos["lut"].animatable and infos["still"].default == 1


def test_treatments_are_found_by_what_people_are_after() -> None:
    """Words that a new user typed, and what was meant by them."""
    wanted = {
        "crush": "contrast", "sepia": "tint", "negative": "curves", "invert": "levels", "bloom": "glow", "flip": "mirror", "threshold": "posterize",
        "temperature": "white-balance", "echo": "trails", "teal": "tone-zones", "noise": "grain", "night": "rod-vision", "single colour": "monochrome",
    }  # fmt: skip
    for word, id in wanted.items():
        assert any(word in intent for intent in TREATMENTS[id].intents), word
    assert next(id for id, treatment in TREATMENTS.items() if "sepia" in treatment.intents) == "tint", "what Enter adds shows at once what was looked for"
    for treatment in TREATMENTS.values():
        assert treatment.intents and all(intent == intent.strip() and len(intent) < 30 for intent in treatment.intents), treatment.id


def test_choices_are_listed() -> None:
    info = next(i for i in describe(TREATMENTS["gradient-map"].params) if i.key == "input")
    assert info.kind == "choice" and info.choices == ["luma", "lightness", "red", "green", "blue", "hue", "saturation"]


def test_stops_are_sorted_and_keep_their_order_where_they_coincide() -> None:
    stops = [{"position": 60, "colour": "#111111"}, {"position": 20, "colour": "#222222"}, {"position": 60, "colour": "#333333"}]
    found = Sample.model_validate({"stops": stops}).stops
    assert [s.colour for s in found] == ["#222222", "#111111", "#333333"] and [s.id for s in found] == ["s1", "s2", "s3"]
    named = Sample.model_validate({"stops": [{**stops[0], "id": "s1"}, *stops[1:]]}).stops
    assert [s.id for s in named] == ["s2", "s1", "s3"], "those that have an id keep it, wherever they stand"
    with pytest.raises(ValidationError, match="two stops have the id"):
        Sample.model_validate({"stops": [{**s, "id": "a"} for s in stops]})
    with pytest.raises(ValidationError, match="left to right"):
        Sample.model_validate({"bend": [[0, 0], [50, 10], [50, 20]]})


def test_files_are_found_by_digest_and_kind() -> None:
    lut = Lut("a", np.zeros((2, 3), np.float32))
    files = Files({"a": lut, "b": "text"})
    assert files.find("a", Lut) is lut and files.find("b", Lut) is None and files.find("c", Lut) is None and files.find("", Lut) is None
    assert Files({"a": lut}, only=frozenset("b")).find("a", Lut) is None and Files({"a": lut}, only=frozenset("a")).find("a", Lut) is lut


@pytest.mark.parametrize("starter", STARTERS.values(), ids=list(STARTERS))
def test_starters_explain_themselves_and_do_something(starter) -> None:
    assert starter.words.endswith(".") and 40 < len(starter.words) < 160 and all(p.known for p in starter.look.passes)
    assert (starter.asks is not None) == any(s.id == PICK for s in starter.look.selections)
    if starter.asks:
        assert "pick" in starter.words.lower() and starter.asks.startswith("Pick")
    key = {"type": "hue", "picks": [{"colour": [0.8, 0.2, 0.1], "x": 0.5, "y": 0.5, "frame": 0}]}
    look = starter.look.model_validate({**starter.look.model_dump(), "selections": [{**s.model_dump(), "keys": [key]} for s in starter.look.selections]})
    picture = np.random.default_rng(1).random((3, 90, 160), np.float32)
    out = apply_look(look, picture, Moment(4, lambda n: picture[:, ::-1].copy()))
    assert np.isfinite(out).all() and np.abs(out - picture).mean() > 0.004
