"""Edits by target: what each command does, which edits meet, and that a patch is exactly what changed."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

import jsonpatch
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wenditas.core.errors import BadEdit, TargetGone
from wenditas.core.look.commands import apply_commands, first_conflict, parse_commands, touched
from wenditas.core.look.patch import difference, patched
from wenditas.core.look.targets import join, overlap, split, value_at

CASES = json.loads((Path(__file__).parent / "commands.json").read_text())  # the page's engine is held to the same
START: dict[str, Any] = {
    "first": 0,
    "look": {
        "passes": [
            {"id": "a", "amount": 10, "params": {"stops": [{"id": f"s{n + 1}", "position": 50 * n} for n in range(3)]}},
            {"id": "b", "amount": 20},
            {"id": "c", "amount": 30},
        ],
        "selections": [{"id": "s", "keys": [{"id": "k1", "tolerance": 9}, {"id": "k2", "tolerance": 9}]}],
        "lanes": [{"target": "passes/a/amount", "keyframes": [{"frame": 0, "value": 1}, {"frame": 24, "value": 2}]}],
    },
}


def wanted(case: dict) -> Any:
    """The document that a case asks for."""
    made = deepcopy(START)
    look = made["look"]
    made["first"] = case.get("first", 0)
    known = {p["id"]: p for p in look["passes"]} | {"d": {"id": "d", "amount": 1}}
    look["passes"] = [known[id] for id in case.get("passes", ["a", "b", "c"])]
    lanes = {lane["target"]: lane for lane in look["lanes"]}
    look["lanes"] = [lanes.get(t, {"target": t, "keyframes": []}) for t in case.get("lanes", list(lanes))]
    if "frames" in case:
        values = {0: 1, 24: 2, 12: 9}
        look["lanes"][0]["keyframes"] = [{"frame": n, "value": values[n]} for n in case["frames"]]
    for place, value in case.get("changes", {}).items():
        node, words = look, place.split("/")
        for word in words[:-1]:
            node = node[int(word) if isinstance(node, list) else word]
        node[words[-1]] = value
    return made


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["it"])
def test_commands(case: dict) -> None:
    before, commands = deepcopy(START), parse_commands(case["commands"])
    if case.get("gone"):
        with pytest.raises(TargetGone):
            apply_commands(before, commands)
    else:
        assert apply_commands(before, commands) == wanted(case)
    assert before == START


@pytest.mark.parametrize(
    "command",
    [
        {"do": "set", "target": "", "value": 1},
        {"do": "set", "target": "look/passes/a", "value": {"id": "z"}},
        {"do": "add", "target": "look/passes", "value": {"amount": 3}},
        {"do": "add", "target": "look/passes", "value": {"id": "a"}},
        {"do": "set", "target": "first", "value": float("inf")},
        {"do": "set", "target": "/".join("a" * 30), "value": 1},
    ],
)
def test_commands_that_make_no_sense(command: dict) -> None:
    with pytest.raises(BadEdit):
        apply_commands(deepcopy(START), parse_commands([command]))


@pytest.mark.parametrize(
    "data",
    [
        [{"do": "hop", "target": "first"}],
        [{"target": "first"}],
        ["nonsense"],
        [{"do": "set", "target": 3, "value": 1}],
        [{"do": "remove", "target": "a", "more": 1}],
    ],
)
def test_what_is_no_command(data: list) -> None:
    with pytest.raises(BadEdit):
        parse_commands(data)


def test_words_of_targets() -> None:
    # RFC 6901, section 4: ~1 is a slash, ~0 a tilde, decoded in this order.
    assert split("a/m~0n/c~1d/~01") == ["a", "m~n", "c/d", "~1"] and join(["a", "m~n", "c/d", "~1"]) == "a/m~0n/c~1d/~01"
    assert value_at(START, "look/lanes/passes~1a~1amount/keyframes/24/value") == 2
    assert overlap("look/passes", "look/passes/a/amount") and overlap("", "first") and not overlap("look/passes/a", "look/passes/ab")


def met(one: dict, other: dict) -> bool:
    return first_conflict(touched(parse_commands([one])), touched(parse_commands([other]))) is not None


def test_which_edits_meet() -> None:
    amount = {"do": "set", "target": "look/passes/a/amount", "value": 1}
    assert met(amount, amount) and met(amount, {"do": "remove", "target": "look/passes/a"}) and met({"do": "set", "target": "look", "value": {}}, amount)
    for other in (
        {"do": "set", "target": "look/passes/b/amount", "value": 1},
        {"do": "set", "target": "look/passes/a/blend", "value": "screen"},
        {"do": "move", "target": "look/passes/a", "before": "c"},
        {"do": "add", "target": "look/passes", "value": {"id": "d"}, "before": "a"},
    ):
        assert not met(amount, other)
    assert met({"do": "move", "target": "look/passes/a"}, {"do": "move", "target": "look/passes/a", "before": "b"})
    lane = {"do": "set", "target": "look/lanes/passes~1a~1amount", "value": {"target": "passes/a/amount", "keyframes": []}}
    at = [{"do": "set", "target": f"look/lanes/passes~1a~1amount/keyframes/{n}", "value": {"frame": n, "value": 0}} for n in (0, 9)]
    assert met(lane, amount) and met(lane, at[0]) and not met(*at)


leaves = st.one_of(st.none(), st.booleans(), st.integers(-3, 3), st.floats(allow_nan=False, width=16), st.text("ab/~", max_size=2))
keys = st.text("ab/~", max_size=2)
trees = st.recursive(leaves, lambda inner: st.one_of(st.lists(inner, max_size=5), st.dictionaries(keys, inner, max_size=4)), max_leaves=20)


def text_of(data: Any) -> str:
    return json.dumps(data, sort_keys=True).replace("-0.0", "0.0")  # one number, to JSON as to Python


@given(trees, trees)
def test_a_patch_is_exactly_what_changed(one: Any, other: Any) -> None:
    """Outside check: applied by the jsonpatch library (RFC 6902)."""
    before, after = {"it": one}, {"it": other}
    patch = difference(before, after)
    assert text_of(jsonpatch.JsonPatch(patch).apply(before)) == text_of(patched(before, [patch])) == text_of(after)
    assert difference(after, after) == [] and before == {"it": one}


def test_a_patch_is_small_where_little_changed() -> None:
    before = {"items": [{"id": n, "value": 0} for n in range(1000)]}
    for after in (before["items"][:500] + before["items"][501:], [*before["items"], {"id": -1}], [*before["items"][:7], {"id": -1}, *before["items"][7:]]):
        assert len(difference(before, {"items": after})) == 1
