"""Older looks open as they were: ids, names and units are new, what they show is not."""

import numpy as np
import pytest

from tests.core.drawn import Drawn, footage
from wenditas.core.film import Shot, render
from wenditas.core.look.animate import look_at
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import parse_look
from wenditas.core.look.names import BY_CURVE
from wenditas.core.look.upgrade import SCHEMA, upgrade_look
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.hue_bands import EIGHT
from wenditas.core.treat.operation import settled
from wenditas.core.treat.parts.by_hue import prepare_by_hue, tables
from wenditas.core.treat.parts.chroma import chroma_table, prepare_scale_chroma
from wenditas.core.treat.record import whole

PICK = {"colour": [0.8, 0.1, 0.08], "x": 0.5, "y": 0.5, "frame": 3}
OLD = {
    "schema_version": 1,
    "selections": [
        {"id": "s", "name": "S", "keys": [{"type": "lightness", "low": 20}, {"type": "hue", "combine": "intersect", "picks": [PICK, PICK], "refused": [PICK]}]},
        {"id": "t", "name": "T", "keys": [{"type": "colour", "picks": [PICK]}]},
    ],
    "passes": [
        {"id": "g", "name": "g", "treatment": "gradient-map", "params": {"phase": 90, "blur": 1}},
        {"id": "n", "name": "n", "treatment": "night-sight", "params": {"white": 0.3}},
        {"id": "t", "name": "t", "treatment": "tint", "params": {"black": "#102030", "white": "#fff0e0"}, "amount": 40},
        {"id": "l", "name": "l", "treatment": "lens-distortion", "params": {"curvature": 12}},
        {"id": "e", "name": "e", "treatment": "trails", "params": {"count": 2, "decay": 70}},
        {"id": "u", "name": "u", "treatment": "from-a-newer-version", "params": {"phase": 3}},
    ],
    "lanes": [
        {"target": "selections/s/keys/1/tolerance", "keyframes": [{"frame": 0, "value": 5}]},
        {"target": "passes/g/params/phase", "keyframes": [{"frame": 0, "value": 36}, {"frame": 24, "value": 72}], "drift": 100},
        {"target": "passes/e/params/decay", "keyframes": [{"frame": 0, "value": 55}]},
        {"target": "passes/l/amount", "keyframes": [{"frame": 0, "value": 55}]},
    ],
}


def test_old_selections_are_keyed_as_they_were() -> None:
    for version in (1, 2):
        look = parse_look({"schema_version": version, "selections": [{"id": "a", "name": "a"}, {"id": "b", "name": "b", "cleaning": {"choke": 2}}]})
        assert [s.cleaning.denoise_chroma for s in look.selections] == [0, 0] and look.selections[1].cleaning.choke == 2
        assert [s.cleaning.follow for s in look.selections] == [0, 0]
    third = {
        "schema_version": 3,
        "selections": [{"id": "a", "name": "a"}, {"id": "b", "name": "b", "cleaning": {"calm": 40, "choke": 2}}],
        "lanes": [{"target": "selections/b/cleaning/calm", "keyframes": [{"frame": 0, "value": 5}]}],
    }
    look = parse_look(third)
    assert [(s.cleaning.denoise_chroma, s.cleaning.follow) for s in look.selections] == [(100, 0), (40, 0)] and look.lanes[0].target.endswith("denoise_chroma")
    new = parse_look({"selections": [{"id": "a", "name": "a"}]}).selections[0].cleaning
    assert (new.denoise_chroma, new.follow) == (0, 100)


def test_keys_and_picks_get_ids_and_lanes_follow_them() -> None:
    look = parse_look(OLD)
    s, t = look.selections
    assert [k.id for k in s.keys] == ["k1", "k2"] and [p.id for p in s.keys[1].picks] == ["p1", "p2"] and s.keys[1].refused[0].id == "n1"
    assert t.keys[0].id == "k1" and look.lanes[0].target == "selections/s/keys/k2/tolerance"


def test_names_and_units_are_new() -> None:
    look = parse_look(OLD)
    g, n, t, lens, e, u = look.passes
    assert g.params["slide"] == 25 and n.treatment == "rod-vision" and (t.params["darks"], t.params["lights"]) == ("#102030", "#fff0e0")
    assert lens.params["bulge"] == 12 and (e.params["copies"], e.params["fading"]) == (2, 30) and u.params == {"phase": 3}
    slide, fading = look.lanes[1], look.lanes[2]
    assert slide.target == "passes/g/params/slide" and [k.value for k in slide.keyframes] == [10, 20] and slide.drift == pytest.approx(100 / 3.6)
    assert fading.target == "passes/e/params/fading" and fading.keyframes[0].value == 45 and look.lanes[3].target == "passes/l/amount"


def test_an_upgraded_look_stays_as_it_is(random_picture) -> None:  # type: ignore[no-untyped-def]
    look = parse_look(OLD)
    assert parse_look(look.model_dump(mode="json")) == look and look.schema_version == SCHEMA
    node = Shot(of=footage(width=53, height=37, fps="24", frames=60), first=0, last=59, look=look)
    assert render(node, 30, sources=Drawn(lambda _, __: random_picture)).shape == (3, 37, 53)


ODD: list = [
    {"passes": 3},
    {"passes": [3, None]},
    {"lanes": [{"target": 5}]},
    {"selections": [{"keys": {"a": 1}}]},
    {"passes": [{"treatment": "tint", "params": []}]},
    {"lanes": [{"target": "passes/g/params/phase", "keyframes": 4}], "passes": [{"id": "g", "treatment": "gradient-map"}]},
]


@pytest.mark.parametrize("look", ODD)
def test_what_is_no_look_is_left_to_the_validation(look: dict) -> None:
    assert upgrade_look({"schema_version": 1, **look})["schema_version"] == SCHEMA


@pytest.mark.parametrize("old,field,value", [("saturation-by-band", "saturation", 30), ("hue-by-band", "turn", -40), ("lightness-by-band", "lightness", 12)])
def test_fixed_bands_are_hue_bands_that_do_the_same(old: str, field: str, value: float) -> None:
    """What the three treatments with eight fixed bands made is what hue bands make, and their lanes go along."""
    lane = {"target": "passes/p/params/teal", "keyframes": [{"frame": 0, "value": 0}, {"frame": 9, "value": value}]}
    data = {"schema_version": 2, "passes": [{"id": "p", "name": "p", "treatment": old, "params": {"red": value, "blue": value}}], "lanes": [lane]}
    look = parse_look(data)
    (item,) = look.passes
    assert (
        item.treatment == "hue-bands"
        and [b["id"] for b in item.params["bands"]] == list(EIGHT)
        and look.lanes[0].target == f"passes/p/params/bands/teal/{field}"
    )
    bands = {b["id"]: b for b in item.params["bands"]}
    assert bands["red"][field] == bands["blue"][field] == value and bands["green"][field] == (100 if field == "saturation" else 0)
    at_end = look_at(look, 9, 24)
    assert {b["id"]: b for b in at_end.passes[0].params["bands"]}["teal"][field] == value
    gone = {**look.model_dump(mode="json"), "passes": [{**item.model_dump(mode="json"), "params": {"bands": [bands["red"]]}}]}
    assert parse_look(gone).lanes == ()  # a band that is gone takes its lanes along
    odd = {"schema_version": 2, "passes": [{"id": "p", "name": "p", "treatment": old, "params": 7}]}
    assert upgrade_look(odd)["passes"][0]["params"] == 7


@pytest.mark.parametrize(("old", "key", "changes", "over"), [(old, key, changes, over) for old, (changes, over, key) in BY_CURVE.items()])
def test_treatments_of_one_curve_are_curves_over_colour(old: str, key: str, changes: str, over: str) -> None:
    """What they made is what the pair of that name makes, bit for bit, and their lanes go along."""
    points = [[10, 40], [60, 20]]
    lane = {"target": f"passes/p/params/{key}", "keyframes": [{"frame": 0, "value": points}, {"frame": 9, "value": [[10, 0], [60, 30]]}]}
    look = parse_look({"schema_version": 4, "passes": [{"id": "p", "name": "p", "treatment": old, "params": {key: points}}], "lanes": [lane]})
    (item,) = look.passes
    assert (item.treatment, item.params["changes"], item.params["over"]) == ("curves-over-colour", changes, over)
    assert [list(p) for p in item.params[f"{changes}_over_{over}"]] == points and look.lanes[0].target == f"passes/p/params/{changes}_over_{over}"
    assert [list(p) for p in look_at(look, 9, 24).passes[0].params[f"{changes}_over_{over}"]] == [[10, 0], [60, 30]]
    kernel = {
        "hue-by-hue": lambda: prepare_by_hue(tables(shift=points)),
        "lightness-by-hue": lambda: prepare_by_hue(tables(lightness=points)),
        "saturation-by-hue": lambda: prepare_by_hue(tables(saturation=points)),
    }.get(old, lambda: prepare_scale_chroma(chroma_table(points), over))()
    picture = np.random.default_rng(2).random((3, 20, 30), np.float32)
    out = np.empty_like(picture)
    kernel(picture, out, whole(picture))
    plain = parse_look({"passes": [{**item.model_dump(mode="json")}]})
    assert np.array_equal(apply_look(plain, picture), out)
    odd = {"schema_version": 4, "passes": [{"id": "p", "name": "p", "treatment": old, "params": 7}], "lanes": [{"target": "passes/p/params/x"}]}
    assert upgrade_look(odd)["passes"][0]["params"] == 7


def test_what_does_not_count_has_no_say_in_what_is_computed() -> None:
    curves = TREATMENTS["curves-over-colour"]
    one, other, third = (settled(curves, {"over": "hue", **more}).named for more in ({}, {"hue_over_hue": [[0, 50]]}, {"saturation_over_hue": [[0, 50]]}))
    assert one == other != third
