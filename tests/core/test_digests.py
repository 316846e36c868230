"""Digests: equal ones name the same computation, and only they. The first tests were faults that showed wrong pictures; then the family that they are of."""

import re
from collections.abc import Callable
from typing import Any

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.core.drawn import Drawn, footage
from tests.examples import TIMES
from wenditas.core.errors import WenditasError
from wenditas.core.film import Footage, Inlaid, Node, Part, Placed, Reveal, Sequence, Shot, Shown, Span, Transition, resolve, run
from wenditas.core.look.commands import apply_commands, parse_commands
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.work.operation import Graph

FRAMES = 30


def shot(look: dict[str, Any] | Look, of: Node | None = None) -> Shot:
    of = of or footage(frames=FRAMES)
    return Shot(of=of, first=0, last=of.length - 1, look=look if isinstance(look, Look) else parse_look(look))


def same(one: Node, other: Node, frame: int, **seen: Any) -> tuple[bool, bool]:
    """Whether two nodes have one key for a view of a frame, and one picture."""
    ops = [resolve(node, frame, shown=Shown(**seen)) for node in (one, other)]
    return ops[0].digest == ops[1].digest, bool(np.array_equal(*(run(op, sources=Drawn()) for op in ops)))


def box(id: str, left: float, corrections: list[dict[str, Any]] = []) -> dict[str, Any]:  # noqa: B006
    points = [{"x": left, "y": 200}, {"x": left + 500, "y": 900}]
    return {"id": id, "name": id, "kind": "rectangle", "mode": "keep", "points": points, "corrections": corrections}


def treated(id: str, treatment: str, **more: Any) -> dict[str, Any]:
    return {"id": id, "name": id, "treatment": treatment, **more}


def test_up_to_here_inside_a_bundle_depends_on_what_follows_in_it() -> None:
    """With the bundle's last pass gone, "up to here" shows the bundle closed over what was there."""
    bundle = {"id": "b", "name": "b", "amount": 40, "blend": "multiply"}
    passes = [treated("one", "exposure", params={"stops": -1}, bundle="b"), treated("two", "tint", bundle="b")]
    both, alone = shot({"bundles": [bundle], "passes": passes}), shot({"bundles": [bundle], "passes": passes[:1]})
    assert same(both, alone, 3, upto=1) == (False, False)
    assert same(both, both, 3, upto=1) == (True, True)


def test_which_shape_was_moved_is_in_the_key() -> None:
    moved = [{"frame": 0, "values": [1, 0, 90, 0]}]

    def of(a: list[dict[str, Any]], b: list[dict[str, Any]]) -> Shot:
        selection = {"id": "s", "name": "s", "shapes": [box("a", 100, a), box("b", 1000, b)]}
        return shot({"selections": [selection], "passes": [treated("m", "monochrome", selection="s", side="outside")]})

    assert same(of(moved, []), of([], moved), 3) == (False, False)


def test_trails_over_a_steadied_selection_reach_as_far_as_both_together() -> None:
    """What is keyframed as far back as both reach one after another changes the picture."""

    def of(at_first: float) -> Shot:
        lanes = [
            {"target": "selections/s/shapes/a/angle", "keyframes": [{"frame": 0, "value": at_first, "how": "hold"}, {"frame": 8, "value": 40.0, "how": "hold"}]}
        ]
        selection = {"id": "s", "name": "s", "shapes": [box("a", 300)], "cleaning": {"steady": 3}}
        passes = [treated("m", "monochrome", selection="s", side="outside"), treated("t", "trails", params={"copies": 2, "spacing": 4})]
        return shot({"selections": [selection], "passes": passes, "lanes": lanes})

    changed = [n for n in range(8, FRAMES) if same(of(0), of(20), n) == (False, False)]
    assert all(same(of(0), of(20), n) in ((False, False), (False, True), (True, True)) for n in range(FRAMES))
    assert max(changed) > 8 + max(3, 8), "further than either alone"


def test_a_key_costs_what_it_depends_on_and_not_its_power() -> None:
    """Spans over trails over spans: each frame of each is named once."""
    trails = parse_look({"passes": [treated("t", "trails", params={"copies": 4, "spacing": 2})]})
    node: Node = footage(frames=FRAMES)
    for _ in range(12):
        node = Span(of=node, first=0, last=FRAMES - 1, look=trails)
    assert len(Graph(resolve(node, FRAMES - 1)).ops) <= 3 * 13 * FRAMES  # and not 5 to the power of 12


kinds = st.sampled_from(
    [
        ("exposure", {"stops": -1}), ("tint", {}), ("monochrome", {}), ("saturation", {"saturation": 160}), ("gaussian-blur", {"radius": 30}),
        ("trails", {"copies": 2, "spacing": 3}), ("grain", {"amount": 40}), ("neutral", {}), ("hue-shift", {"angle": 60}),
    ]
)  # fmt: skip


@st.composite
def looks(draw: st.DrawFn) -> dict[str, Any]:
    """Looks with bundles, trails, steadied selections of moved shapes, selections that read passes, and lanes."""
    count = draw(st.integers(1, 4))
    selections = [
        {
            "id": f"s{n}", "name": "s", "shapes": [box("a", 200 + 500 * n), box("b", 900, [{"frame": draw(st.integers(0, 9)), "values": [1, 0, 60, 0]}])],
            "cleaning": {"steady": draw(st.integers(0, 3))}, "reads": draw(st.sampled_from([None, None, "p0"])) if n else None,
        }
        for n in range(2)
    ]  # fmt: skip
    first, last = sorted(draw(st.tuples(st.integers(0, count), st.integers(0, count))))
    passes = []
    for n in range(count):
        treatment, params = draw(kinds)
        where = draw(st.sampled_from([{}, {"selection": "s0", "side": "inside"}, {"selection": "s0" if n == 0 else "s1", "side": "outside"}]))
        more = {"bundle": "b"} if first <= n < last else {}
        blend, reads = draw(st.sampled_from(["normal", "multiply"])), draw(st.sampled_from(["running", "running", "source"]))
        passes.append(treated(f"p{n}", treatment, params=params, on=draw(st.integers(0, 5)) > 0, blend=blend, reads=reads, **where, **more))
    bundles = (
        [{"id": "b", "name": "b", "amount": draw(st.sampled_from([100, 50])), "blend": draw(st.sampled_from(["normal", "screen"]))}] if first < last else []
    )
    lanes = [
        {
            "target": target,
            "keyframes": [
                {"frame": draw(st.integers(0, 6)), "value": draw(st.sampled_from([0, 60])), "how": "hold"},
                {"frame": 12, "value": 100, "how": "linear"},
            ],
        }
        for target in draw(
            st.lists(
                st.sampled_from(["passes/p0/amount", f"passes/p{count - 1}/amount", "bundles/b/amount", "selections/s0/shapes/a/feather_out"]),
                unique=True,
                max_size=2,
            )
        )
    ]
    return {"selections": selections, "passes": passes, "bundles": bundles, "lanes": lanes}


@st.composite
def edits(draw: st.DrawFn) -> dict[str, Any]:
    """An edit of such a look; it may not fit it."""
    number, select = draw(st.integers(0, 3)), draw(st.integers(0, 1))
    return draw(
        st.sampled_from(
            [
                {"do": "remove", "target": f"passes/p{number}"},
                {"do": "set", "target": f"passes/p{number}/on", "value": draw(st.booleans())},
                {"do": "set", "target": f"passes/p{number}/amount", "value": draw(st.sampled_from([0, 30, 100]))},
                {"do": "set", "target": f"passes/p{number}/bundle", "value": None},
                {"do": "set", "target": f"passes/p{number}/name", "value": "Other"},
                {"do": "set", "target": "bundles/b/amount", "value": 70},
                {"do": "set", "target": f"selections/s{select}/cleaning/steady", "value": draw(st.integers(0, 3))},
                {"do": "set", "target": f"selections/s{select}/reads", "value": None},
                {"do": "set", "target": f"selections/s{select}/shapes/b/corrections", "value": []},
                {
                    "do": "set",
                    "target": f"selections/s{select}/shapes/{draw(st.sampled_from('ab'))}/corrections",
                    "value": [{"frame": 2, "values": [1, 0, -80, 0]}],
                },
                {"do": "set", "target": "lanes/passes~1p0~1amount/keyframes/2", "value": {"frame": 2, "value": 20, "how": "hold"}},
                {"do": "set", "target": "lanes/selections~1s0~1shapes~1a~1feather_out/keyframes/3", "value": {"frame": 3, "value": 90, "how": "hold"}},
            ]
        )
    )


VIEWS = st.one_of(
    st.just({}), st.builds(lambda n: {"upto": n}, st.integers(0, 3)),
    st.builds(lambda s, view: {"view": view, "selection": f"s{s}"}, st.integers(0, 1), st.sampled_from(["matte", "edge", "selected", "hatched"])),
)  # fmt: skip
SMALL = Footage(content="a", width=24, height=16, fps="24", frames=FRAMES)
OTHER = Footage(content="b", width=32, height=16, fps="25", frames=FRAMES)
HALF = parse_look({"passes": [treated("h", "exposure", params={"stops": -1}, amount=50)]})


def placed(node: Node, **more: Any) -> Placed:
    return Placed(of=node, width=24, height=16, fps="24", **more)


def as_reveal(worn: Look) -> Node:
    keyframes = (Keyframe(frame=0, value=20.0, how="linear"), Keyframe(frame=1000, value=80.0))
    reveal = Reveal(look=worn, selection="s0", opens=keyframes, takes=(Keyframe(frame=0, value=0.0, how="linear"), Keyframe(frame=1000, value=60.0)))
    return Transition(a=placed(shot(worn, SMALL), turn=10), b=placed(shot(HALF, OTHER)), frames=FRAMES, from_a=0, from_b=0, reveal=reveal)


def as_inlaid(worn: Look) -> Node:
    laying = parse_look(
        {"passes": [treated("l", "shot-laid-in", params={"shot": "other", "size": 60, "part": "s0"}), treated("t", "trails", params={"copies": 1})]}
    )
    return Shot(of=OTHER, first=0, last=FRAMES - 1, look=laying, laid=(Inlaid(id="other", of=shot(worn, SMALL)),))


def as_reel(worn: Look) -> Node:
    """Two items and a dissolve between them, under two spans, one of which wears the look."""
    one, two = placed(shot(worn, SMALL)), placed(shot(HALF, OTHER), fit="fill", across=20)
    transition = Transition(a=one, b=two, frames=8, from_a=8, from_b=0, linear=True)
    parts = (Part(of=one, first=0, last=7), Part(of=transition, first=0, last=7), Part(of=two, first=8, last=21))
    lower = Span(of=Sequence(parts=parts), first=4, last=25, look=HALF, amount=(Keyframe(frame=0, value=70.0),), blend="multiply")
    return Span(of=lower, first=2, last=20, look=worn, fade_in=4)


FILMS: dict[str, Callable[[Look], Node]] = {
    "shot": lambda worn: shot(worn, SMALL),
    "span": lambda worn: Span(of=SMALL, first=0, last=FRAMES - 1, look=worn),
    "reveal": as_reveal,
    "laid in": as_inlaid,
    "reel": as_reel,
}
# What may give other digests to equal pixels: where nothing of it happens to be seen. A selection that takes nothing there, or all, or whose
# shapes lie elsewhere; a matte that does not change from frame to frame, and is steadied; values that are limited to the same ones.
UNSEEN = re.compile(r"cleaning/steady|corrections|feather_out|reads|/amount|lanes/|/bundle|passes/p\d$|/on$")


@settings(max_examples=150 * TIMES, deadline=None, suppress_health_check=list(HealthCheck))
@given(looks(), edits(), VIEWS, st.integers(0, FRAMES - 1), st.sampled_from(sorted(FILMS)))
def test_equal_digests_are_equal_pixels(plain: dict[str, Any], edit: dict[str, Any], shown: dict[str, Any], frame: int, kind: str) -> None:
    """Random looks and random edits of them, worn in any way and looked at in any way."""
    try:
        before = parse_look(plain)
        after = parse_look(apply_commands(before.model_dump(mode="json"), parse_commands([edit])))
    except WenditasError:
        assume(False)
    one, other = (FILMS[kind](look) for look in (before, after))
    shown = {key: value for key, value in shown.items() if kind != "laid in" or key == "upto"}  # which has no selections of its own
    digests, pixels = same(one, other, min(frame, one.length - 1), **shown)
    assert pixels or not digests
    assert digests or not pixels or UNSEEN.search(edit["target"]), "something that has no effect costs a picture"
