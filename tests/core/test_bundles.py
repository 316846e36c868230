"""Bundles: a run of passes laid over what was there as one."""

import numpy as np
import pytest

from tests.core.drawn import Drawn, footage, waves
from wenditas.core.colour.blend import blend
from wenditas.core.errors import BadLook
from wenditas.core.film import Memo, Shot, render, resolve
from wenditas.core.look.animate import look_at
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, alone, parse_look
from wenditas.core.look.reference import render_reference
from wenditas.core.look.shown import Shown
from wenditas.core.select.matte import selection_matte_reference

PICK = {"colour": [0.8, 0.1, 0.08], "x": 0.5, "y": 0.5, "frame": 3}
KEYED = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK], "tolerance": 60, "softness": 30}]}
STEPS = (
    {"treatment": "exposure", "params": {"stops": 0.4}},
    {"treatment": "gaussian-blur", "params": {"radius": 30}},
    {"treatment": "tint", "blend": "soft-light", "selection": "red", "side": "inside"},
    {"treatment": "contrast", "params": {"contrast": 120}},
    {"treatment": "vignette"},
)
PICTURE = waves(footage(width=90, height=64), 7)


def look(members: dict[int, str], *bundles: dict, lanes: tuple = (), selections: tuple = (KEYED,)) -> Look:
    passes = [{"id": f"p{n}", "name": "p", **step, "bundle": members.get(n)} for n, step in enumerate(STEPS)]
    return parse_look({"selections": selections, "passes": passes, "bundles": [{"name": "B", **b} for b in bundles], "lanes": lanes})


def result(shown: Look, upto: int | None = None) -> np.ndarray:
    return apply_look(shown, PICTURE, shown=Shown(upto=upto))


@pytest.mark.parametrize(
    "kind",
    [
        {},
        {"amount": 40},
        {"blend": "multiply"},
        {"selection": "red", "side": "outside", "amount": 70},
        {"selection": "red", "side": "inside", "blend": "screen"},
    ],
)
@pytest.mark.parametrize("members", [(1, 2, 3), (0, 1), (2, 3, 4), (3,), (0, 1, 2, 3, 4)])
def test_a_bundle_is_laid_over_what_was_there_as_one(kind: dict, members: tuple[int, ...]) -> None:
    shown = look(dict.fromkeys(members, "b"), {"id": "b", **kind})
    bare = look({})
    under, made = result(bare, members[0]), result(bare, members[-1] + 1)
    matte = selection_matte_reference(bare.selections[0], PICTURE)
    share = kind.get("amount", 100) / 100 * {"inside": matte, "outside": 1 - matte}.get(kind.get("side", ""), 1)
    expected = under + (blend(kind.get("blend", "normal"), under, made) - under) * share
    assert result(shown, members[-1] + 1) == pytest.approx(expected, abs=1e-4)
    assert result(shown) == pytest.approx(render_reference(shown, PICTURE), abs=4e-3)  # the wide blur is made on a smaller copy
    if len(members) > 1:  # within an open bundle the picture is that of its passes
        assert result(shown, members[0] + 1) == pytest.approx(result(bare, members[0] + 1), abs=1e-6)


def test_a_switch_for_all_of_it() -> None:
    members = dict.fromkeys((1, 2), "b")
    off = look(members, {"id": "b", "on": False})
    bare = parse_look({**look({}).model_dump(mode="json"), "passes": [p.model_dump(mode="json") for n, p in enumerate(look({}).passes) if n not in members]})
    assert np.array_equal(result(off), result(bare)) and np.array_equal(result(look(members, {"id": "b", "amount": 0})), result(bare))
    assert alone(off, "p1").passes[1].on and np.array_equal(result(alone(off, "p0")), result(look({}), 1))


def test_what_makes_no_sense_is_refused() -> None:
    with pytest.raises(BadLook, match="do not stand together"):
        look({0: "b", 2: "b"}, {"id": "b"})
    with pytest.raises(BadLook, match="does not have"):
        look({0: "nope"})
    with pytest.raises(BadLook, match="bundle 'B' says"):
        look({0: "b"}, {"id": "b", "side": "inside"})
    with pytest.raises(BadLook, match="does not spread"):
        parse_look({"selections": [KEYED], "passes": [{"id": "p", "name": "p", "treatment": "tint", "selection": "red", "side": "from inside"}]})
    assert look({}, {"id": "b"}).bundles == ()  # one without passes is gone
    with pytest.raises(BadLook, match="uses it"):
        look({0: "b", 1: "b"}, {"id": "b", "selection": "red", "side": "inside"}, selections=({**KEYED, "reads": "p0"},))


def test_its_amount_and_switch_are_animated() -> None:
    lanes = ({"target": "bundles/b/amount", "keyframes": [{"frame": 0, "value": 0}, {"frame": 10, "value": 100, "how": "linear"}]},)
    shown = look({1: "b", 2: "b"}, {"id": "b"}, lanes=lanes)
    assert look_at(shown, 5, 24).bundles[0].amount == pytest.approx(50) and parse_look(shown.model_dump(mode="json")) == shown
    gone = parse_look({**shown.model_dump(mode="json"), "bundles": [], "passes": [{**p.model_dump(mode="json"), "bundle": None} for p in shown.passes]})
    assert gone.lanes == ()
    node = Shot(of=footage(width=90, height=64), first=0, last=39, look=shown)
    keys = {resolve(node, n).digest for n in range(12)}
    assert len(keys) == 12
    still = Shot(of=footage(width=90, height=64), first=0, last=39, look=look({1: "b"}, {"id": "b", "amount": 30}))
    assert resolve(still, 3).digest != resolve(Shot(of=still.of, first=0, last=39, look=look({1: "b"}, {"id": "b", "amount": 31})), 3).digest


def test_pictures_are_not_begun_in_the_middle_of_one() -> None:
    """What is kept of a picture on the way cannot be gone on from within a bundle: what lay under it would be missing."""
    trails = {"id": "t", "name": "t", "treatment": "trails", "bundle": "b"}
    plain = look({1: "b", 2: "b", 3: "b"}, {"id": "b", "amount": 50, "blend": "multiply"}).model_dump(mode="json")
    shown = parse_look({**plain, "passes": [*plain["passes"][:3], trails, *plain["passes"][3:]]})
    node = Shot(of=footage(width=90, height=64), first=0, last=39, look=shown)
    whole = render(node, 7, sources=Drawn())
    for upto in range(len(shown.passes)):
        memo = Memo()
        render(node, 7, sources=Drawn(), memo=memo, shown=Shown(upto=upto))
        assert np.array_equal(render(node, 7, sources=Drawn(), memo=memo), whole)
