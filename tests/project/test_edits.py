"""Edits of shots: picks, fences, looks put on, and that nothing half done is ever stored."""

from itertools import pairwise

import numpy as np
import pytest

from tests.core.treatments import odd_values
from tests.project.conftest import OneShot
from wenditas.core.colour.transfer import srgb_decode, srgb_encode
from wenditas.core.errors import BadEdit, BadLook, StaleRevision, TargetGone
from wenditas.core.look.commands import apply_commands
from wenditas.core.look.document import Look, parse_look
from wenditas.core.params import describe
from wenditas.core.select.fit import fit_to_picks
from wenditas.core.select.islands import Island
from wenditas.core.select.keys import ColourKey, HueKey, LightnessKey
from wenditas.core.select.matte import selection_matte
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.core.treat import TREATMENTS
from wenditas.project import edits
from wenditas.project.picking import Around, light_of, of_what_was_picked, picked
from wenditas.store import history

PICK = Pick(id="here", colour=(0.8, 0.1, 0.1), x=0.5, y=0.5, frame=3)


def look(*selections: Selection) -> Look:
    return Look(selections=selections)


def after(before: Look, commands: list) -> Look:
    return parse_look(apply_commands({"look": before.model_dump(mode="json")}, commands)["look"])


def test_a_new_shot_uses_all_frames(shot: OneShot) -> None:
    made = shot.load().document
    assert (made.first, made.last, made.look) == (0, 47, Look())


def test_edits_are_chained_and_stale_ones_refused(shot: OneShot) -> None:
    start = shot.load().revision
    made = shot.edit({"do": "set", "target": "first", "value": 5}, words="In at frame 5")
    head = history.revision(shot.db, shot.id, made)
    assert shot.load().document.first == 5 and (head.words, head.parent) == ("In at frame 5", start)
    with pytest.raises(StaleRevision):
        shot.edit({"do": "set", "target": "first", "value": 6}, base=start)
    bad = (
        ({"do": "set", "target": "first", "value": 99}, BadLook),
        ({"do": "remove", "target": "look/passes/none"}, TargetGone),
        ({"do": "set", "target": "", "value": 1}, BadEdit),
    )
    for command, error in bad:
        with pytest.raises(error):
            shot.edit(command)
    assert shot.load().revision == made


def test_what_changes_nothing_makes_no_revision(shot: OneShot) -> None:
    start = shot.load().revision
    assert shot.edit({"do": "set", "target": "first", "value": 0}) == start and shot.load().revision == start


def test_loading_a_look_is_one_step(shot: OneShot) -> None:
    mine = look(Selection(id="s", name="S", keys=(HueKey(picks=(PICK,)),)))
    head = shot.edit(*(c.model_dump() for c in edits.whole_look(mine)), words="Look loaded: Mine")
    assert shot.load().document.look == mine and history.revision(shot.db, shot.id, head).words == "Look loaded: Mine"
    history.step(shot.db, shot.id, head, forward=False)
    assert shot.load().document.look == Look()


def test_picks_go_to_the_key_that_takes_them() -> None:
    made = look(Selection(id="s", name="S", keys=(LightnessKey(id="l"), ColourKey(id="c"), HueKey(id="h", picks=(PICK,)))))
    other = PICK.model_copy(update={"id": "other"})
    for key, refuse, target in ((None, False, "c/picks"), ("h", True, "h/refused"), ("l", False, "l/high")):
        low = look(made.selections[0].model_copy(update={"keys": (LightnessKey(id="l", low=0, high=20), *made.selections[0].keys[1:])}))
        assert picked(low, other, "s", refuse, key).commands[0].target == f"look/selections/s/keys/{target}"
    alone = look(Selection(id="s", name="S"))
    assert after(alone, picked(alone, PICK, "s", False).commands).selections[0].keys[0].type == "hue"
    with pytest.raises(BadLook, match="nope"):
        picked(made, PICK, "nope", False)


def test_names_of_selections_are_free() -> None:
    taken = look(Selection(id="a", name="Red"), Selection(id="b", name="Red 2"))
    assert picked(taken, PICK, None, False).words == "Selection Red 3"


def grey(value: float) -> Pick:
    return PICK.model_copy(update={"id": f"g{value}", "colour": (value, value, value)})


@pytest.mark.parametrize("value,kind", [(0.05, "lightness"), (0.5, "colour"), (0.95, "lightness")])
def test_a_grey_is_keyed_by_what_it_has(value: float, kind: str) -> None:
    """A hue key from a grey selects nothing, for its hue is noise; it was made all the same."""
    found = picked(look(), grey(value), None, False)
    made = after(look(), found.commands)
    assert made.selections[0].keys[0].type == kind and "keyed by" in found.note
    picture = np.full((3, 4, 4), value, np.float32)
    picture[:, :, 2:] = 0.25
    matte = selection_matte(made.selections[0], picture)
    assert matte[:, :2].min() > 0.99 and matte[:, 2:].max() < 0.5


def test_greys_and_keys_by_hue() -> None:
    red = look(Selection(id="s", name="S", keys=(HueKey(id="h", picks=(PICK,)),)))
    more = picked(red, grey(0.5), "s", False)
    assert after(red, more.commands).selections[0].keys[1].type == "colour" and "grey" in more.note
    tinted = PICK.model_copy(update={"id": "t", "colour": (0.55, 0.5, 0.5)})
    less = picked(red, tinted, "s", True)
    key = after(red, less.commands).selections[0].keys[0]
    assert isinstance(key, HueKey) and key.refused == () and key.least_chroma == 0.04 and "least chroma" in less.note


def test_colours_that_follow_picks_follow_them_where_their_pass_begins() -> None:
    """A recolour inside and spill outside start from what was picked; the same on another side keep what they were told."""
    keyed = Selection(id="s", name="S", keys=(HueKey(id="h", picks=(PICK,)),))
    kinds = (("recolour", "inside", "original"), ("spill", "outside", "colour"), ("recolour", "outside", "original"), ("spill", "inside", "colour"))
    passes = [{"id": str(n), "name": "p", "treatment": t, "selection": "s", "side": side, "params": {key: "#00ff00"}} for n, (t, side, key) in enumerate(kinds)]
    before = parse_look({**look(keyed).model_dump(mode="json"), "passes": passes})
    commands = edits.following(before, before)
    assert [(c.target, c.value) for c in commands] == [("look/passes/0/params/original", "#cc1a1a"), ("look/passes/1/params/colour", "#cc1a1a")]


def test_picks_stretch_a_key_by_lightness() -> None:
    dark = look(Selection(id="s", name="S", keys=(LightnessKey(id="l", low=0, high=20, soft_low=0, soft_high=5),)))
    wider = after(dark, picked(dark, grey(0.2), "s", False).commands).selections[0].keys[0]
    assert isinstance(wider, LightnessKey) and 35 < wider.high < 45 and wider.low == 0
    narrower = after(dark, picked(dark, grey(0.02), "s", True).commands).selections[0].keys[0]
    assert isinstance(narrower, LightnessKey) and narrower.high < 20


@pytest.mark.parametrize("keep", [True, False])
def test_a_fence_lies_around_its_island(keep: bool) -> None:
    outline = np.array([(100, 100), (200, 100), (200, 300), (100, 300)], np.float64)
    made = look(Selection(id="s", name="S"))
    commands, words, id = edits.fence(made, "s", 7, Island(50, 3, (100, 100, 200, 300), outline), keep)
    fenced = after(made, commands)
    shape = edits.shape_of(fenced, "s", id)
    assert fenced.selections[0].shapes == (shape,) and shape.mode == ("keep" if keep else "leave out") and "frame 7" in words
    points = np.array([(p.x, p.y) for p in shape.points])
    assert points[:, 0].min() < 97 and points[:, 0].max() > 203 and points[:, 1].min() < 97
    again, _, _ = edits.fence(fenced, "s", 7, Island(50, 3, (0, 0, 1, 1), outline), keep)
    assert again[0].value["name"].endswith(" 2")
    with pytest.raises(BadLook):
        edits.shape_of(fenced, "s", "nope")


@pytest.mark.parametrize("treatment", list(TREATMENTS))
def test_every_treatment_is_added_changed_removed_and_undone(shot: OneShot, treatment: str) -> None:
    first, params = {"id": "p", "name": "P", "treatment": treatment}, describe(TREATMENTS[treatment].params)
    commands = [
        {"do": "add", "target": "look/passes", "value": first},
        *({"do": "set", "target": f"look/passes/p/params/{p.key}", "value": next(v for v in odd_values(p) if v != p.default)} for p in params),
        {"do": "set", "target": "look/passes/p/amount", "value": 40},
        {"do": "remove", "target": "look/passes/p"},
    ]
    states = [shot.load()]
    for command in commands:
        shot.edit(command)
        states.append(shot.load())
    documents = [state.plain for state in states]
    assert documents[0] == documents[-1] and all(one != other for one, other in pairwise(documents[1:]))
    for state in reversed(states[:-1]):
        history.step(shot.db, shot.id, shot.load().revision, forward=False)
        assert shot.load() == state
    for state in states[1:]:
        history.step(shot.db, shot.id, shot.load().revision, forward=True)
        assert shot.load() == state


def dimmed(light: float, *colours: tuple[float, float, float]) -> np.ndarray:
    """Columns of colours on a wall, at a share of their linear light."""
    picture = np.full((3, 60, 120), 0.75, np.float32)
    for n, colour in enumerate(colours):
        picture[:, 15:45, 10 + 40 * n : 35 + 40 * n] = np.array(colour)[:, None, None]
    return np.asarray(srgb_encode(srgb_decode(picture) * light), np.float32)


THINGS = {"Orange": (0.95, 0.55, 0.15), "Red": (0.8, 0.1, 0.1), "Blue": (0.15, 0.25, 0.85), "Grey": (0.5, 0.5, 0.5)}


@pytest.mark.parametrize("light", [1.0, 0.5, 0.2, 0.1])
@pytest.mark.parametrize("name", THINGS)
def test_a_pick_in_the_dark_is_called_and_keyed_as_in_the_light(name: str, light: float) -> None:
    """An orange at a fifth of its light was called Black, and selected the frame. Linear light scales: von Kries."""
    picture = dimmed(light, THINGS[name])
    pick = Pick(id="p", colour=tuple(float(v) for v in picture[:, 30, 20]), x=20.5 / 120, y=0.5, frame=0)
    around = Around(light_of(picture), fit=lambda key: fit_to_picks(key, lambda frame: picture).key)
    assert around.name(pick) == name and around.hueless(pick) == (name == "Grey")
    made = after(look(), picked(look(), pick, None, False, around=around).commands).selections[0]
    matte = selection_matte(made, picture)
    assert matte[18:42, 13:32].mean() > 0.95 and matte.mean() < 0.2


def test_a_further_pick_opens_the_limits_that_kept_it_out() -> None:
    red = look(Selection(id="s", name="S", keys=(HueKey(id="h", picks=(PICK,), least_saturation=30, least_lightness=50, least_chroma=0.12),)))
    dark = PICK.model_copy(update={"id": "d", "colour": (0.3, 0.12, 0.12)})
    key = after(red, picked(red, dark, "s", False).commands).selections[0].keys[0]
    assert isinstance(key, HueKey) and len(key.picks) == 2
    matte = selection_matte(Selection(id="s", name="S", keys=(key,)), np.full((3, 2, 2), 0.12, np.float32) + np.array([0.18, 0, 0], np.float32)[:, None, None])
    assert matte.min() > 0.95


def test_a_further_pick_that_is_lighter_or_stronger_opens_them_too() -> None:
    key = HueKey(id="h", picks=(PICK,), most_saturation=30, most_lightness=45)
    red = look(Selection(id="s", name="S", keys=(key,)))
    light = PICK.model_copy(update={"id": "l", "colour": (1.0, 0.25, 0.2)})
    opened = after(red, picked(red, light, "s", False).commands).selections[0].keys[0]
    picture = np.broadcast_to(np.array(light.colour, np.float32)[:, None, None], (3, 2, 2)).copy()
    assert selection_matte(Selection(id="s", name="S", keys=(key,)), picture).max() < 0.05
    assert selection_matte(Selection(id="s", name="S", keys=(opened,)), picture).min() > 0.95


def test_what_is_said_of_what_was_picked() -> None:
    assert of_what_was_picked(0.95, 20) == "" and "Only 60 %" in of_what_was_picked(0.6, 20) and "41 % of the frame" in of_what_was_picked(1, 41)
