"""Films: nodes made of nodes, rendered, named by content, conformed, joined."""

import json
from fractions import Fraction
from itertools import pairwise
from typing import Any

import numpy as np
import opentimelineio as otio
import pytest
from coloraide import Color
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy import ndimage

from tests.core.drawn import Drawn, footage, numbered
from wenditas.core.errors import BadLook
from wenditas.core.film import (
    Footage,
    Item,
    Laid,
    Memo,
    Node,
    Placed,
    Reel,
    Reveal,
    Sequence,
    Shot,
    Span,
    TooHeavy,
    Transition,
    TransitionPlan,
    parse_node,
    render,
    resolve,
)
from wenditas.core.film.nodes import Part
from wenditas.core.film.transitions import order_of
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.look.shown import Shown
from wenditas.core.select.matte import Moment
from wenditas.core.work import schedule
from wenditas.core.work.operation import Graph

PICK = {"colour": [0.8, 0.2, 0.5], "x": 0.5, "y": 0.5, "frame": 0}
KEY = {"id": "s", "name": "S", "keys": [{"type": "hue", "picks": [PICK], "tolerance": 60, "softness": 30}]}
STEPS: list[dict[str, Any]] = [
    {"treatment": "monochrome", "selection": "s", "side": "outside"},
    {"treatment": "gaussian-blur", "params": {"radius": 30}},
    {"treatment": "trails", "params": {"copies": 2, "spacing": 3}},
    {"treatment": "grain"},
    {"treatment": "hue-shift", "params": {"shift": 40}, "blend": "soft-light", "amount": 60},
]


def look(*numbers: int, lanes: tuple[dict[str, Any], ...] = (), **selection: Any) -> Look:
    passes = [{"id": f"p{n}", "name": "p", **STEPS[k]} for n, k in enumerate(numbers)]
    return parse_look({"selections": [{**KEY, **selection}], "passes": passes, "lanes": list(lanes)})


def shot(*numbers: int, of: Node | None = None, first: int = 0, last: int | None = None, **more: Any) -> Shot:
    of = of or footage()
    return Shot(of=of, first=first, last=of.length - 1 if last is None else last, look=look(*numbers, **more))


def shown(node: Node, frame: int, size: tuple[int, int] | None = None, memo: Memo | None = None, **more: Any) -> np.ndarray:
    return render(node, frame, size, sources=Drawn(), memo=memo, **more)


# Nodes as data


looks = st.lists(st.sampled_from(range(len(STEPS))), max_size=3).map(lambda numbers: look(*numbers))
pieces = st.builds(
    footage, content=st.sampled_from("abc"), width=st.sampled_from([24, 32]), height=st.sampled_from([18, 24]), fps=st.sampled_from(["24", "25", "30000/1001"]),
    frames=st.integers(3, 12), still=st.booleans(),
)  # fmt: skip


@st.composite
def stretches(draw: st.DrawFn, length: int) -> tuple[int, int]:
    first = draw(st.integers(0, length - 1))
    return first, draw(st.integers(first, length - 1))


@st.composite
def nodes(draw: st.DrawFn, depth: int = 3) -> Node:
    """Any film: stretches of stretches, placed, joined, laid over, one after another."""
    if depth == 0 or draw(st.integers(0, 4)) == 0:
        return draw(pieces)
    inner = draw(nodes(depth - 1))
    first, last = draw(stretches(inner.length))
    kind = draw(st.sampled_from(["shot", "span", "placed", "transition", "sequence"]))
    if kind == "shot":
        return Shot(of=inner, first=first, last=last, look=draw(looks))
    if kind == "span":
        amount = (Keyframe(frame=0, value=draw(st.sampled_from([0.0, 40.0, 100.0])), how="linear"), Keyframe(frame=5, value=100.0))
        return Span(of=inner, first=first, last=last, look=draw(looks), amount=amount, blend=draw(st.sampled_from(["normal", "multiply"])))
    one = placed(inner, draw)
    if kind == "placed":
        return one
    other = placed(draw(nodes(depth - 1)), draw)
    if kind == "transition":
        return Transition(
            a=one, b=other, frames=draw(st.integers(1, 6)), from_a=draw(st.integers(-2, 6)), from_b=draw(st.integers(-2, 6)), linear=draw(st.booleans())
        )
    return Sequence(parts=tuple(Part(of=n, first=0, last=n.length - 1) for n in (one, other)))


def placed(node: Node, draw: st.DrawFn) -> Placed:
    fit, turn = draw(st.sampled_from(["all", "fill", "own"])), draw(st.sampled_from([0.0, 20.0]))
    return Placed(of=node, width=30, height=20, fps="25", fit=fit, turn=turn, mirror_across=draw(st.booleans()), first=draw(st.integers(0, node.length - 1)))


@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(nodes(), st.randoms(use_true_random=False))
def test_any_film_renders_the_same_in_any_order_and_after_json(node: Node, chance: Any) -> None:
    """Same arguments, same bytes: alone, one after another with a memory, backwards, and as read from its own JSON."""
    again = parse_node(json.loads(node.model_dump_json()))
    assert again == node
    frames = list(range(-1, node.length + 1))[:7]
    alone = {n: shown(node, n) for n in frames}
    memo = Memo()
    for n in chance.sample(frames, len(frames)):
        assert shown(again, n, memo=memo).tobytes() == alone[n].tobytes()
        assert alone[n].shape == (3, node.size[1], node.size[0]) and np.isfinite(alone[n]).all()
    size = (8, 12)
    assert shown(node, 0, size).shape == (3, *size)


@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(nodes(2), nodes(2))
def test_equal_keys_show_equal_pixels(one: Node, other: Node) -> None:
    seen = {}
    for node in (one, other):
        for n in range(min(node.length, 6)):
            key = resolve(node, n).digest, node.size
            picture = shown(node, n).tobytes()
            assert seen.setdefault(key, picture) == picture


def test_frames_that_show_the_same_have_the_same_key() -> None:
    """The other way round, where it can be told: stills, held frames, copies, other names; and unequal where they differ."""
    still = shot(0, of=footage("still", still=True))
    assert len({resolve(still, n).digest for n in range(9)}) == 1
    assert len({resolve(shot(3, of=footage("still", still=True)), n).digest for n in range(9)}) == 9  # grain moves
    held = Placed(of=footage(fps="12"), width=48, height=32, fps="24")
    assert len({resolve(held, n).digest for n in range(8)}) == 5  # nearest in time: 0, 1, 1, 2, 2, 3, 3, 4
    assert resolve(shot(0), 5).digest == resolve(shot(0, first=5), 0).digest == resolve(Shot(of=footage(), first=2, last=20, look=look(0)), 3).digest
    assert resolve(shot(0), 5).digest != resolve(shot(1), 5).digest and resolve(shot(0), 5).digest != resolve(shot(0), 6).digest
    missing = parse_look({"passes": [{"id": "l", "name": "l", "treatment": "lut", "params": {"lut": "abc"}}]})
    with_file = Shot(of=footage(), first=0, last=39, look=missing, files=("abc",))
    assert resolve(with_file, 0).digest != resolve(with_file.model_copy(update={"files": ()}), 0).digest
    over = Span(of=footage(), first=10, last=20, look=look(0))
    assert resolve(over, 3).digest == resolve(footage(), 3).digest and resolve(over, 12).digest != resolve(footage(), 12).digest


@pytest.mark.parametrize(
    "bad",
    [
        {"type": "shot", "of": {"type": "footage", "content": "a", "width": 4, "height": 4, "fps": "24", "frames": 3}, "first": 2, "last": 3},
        {"type": "footage", "content": "a", "width": 0, "height": 4, "fps": "24", "frames": 3},
        {"type": "footage", "content": "a", "width": 4, "height": 4, "fps": "0/1", "frames": 3},
        {"type": "dream"},
        [],
    ],
)
def test_what_is_no_film_is_said(bad: Any) -> None:
    with pytest.raises(BadLook, match="not a film"):
        parse_node(bad)


# Shots and what they read


def test_a_shot_is_what_its_look_makes_of_each_frame() -> None:
    node = shot(0, 1, 4, first=5, last=20)
    for n in (0, 3, 15):
        source = shown(footage(), 5 + n)
        assert np.array_equal(shown(node, n), apply_look(node.look, source, Moment(5 + n)))
        assert np.array_equal(shown(node, n, shown=Shown(view="source")), source) and np.array_equal(shown(node, n, shown=Shown(upto=0)), source)
    assert np.array_equal(shown(node, 99), shown(node, 15)) and np.array_equal(shown(node, -4), shown(node, 0))


def test_a_picture_goes_row_by_row_where_it_is_stored() -> None:
    node, out = shot(0, 1, 2), np.zeros((3, 32, 48), np.float32)

    def store(first: int, tile: np.ndarray) -> None:
        out[:, first : first + tile.shape[1]] = tile

    assert shown(node, 9, store=store).size == 0
    assert np.array_equal(out, shown(node, 9))


def test_trails_read_frames_with_their_own_keyframed_values() -> None:
    """What lingers looks as it did when it was on screen: here only odd frames are grey."""
    keyframes = [{"frame": n, "value": 100.0 * (n % 2), "how": "hold"} for n in range(20)]
    node = shot(4, 2, lanes=({"target": "passes/p0/amount", "keyframes": keyframes},))
    plain = footage()
    stepped = shown(node, 10)
    alone = shot(4, lanes=({"target": "passes/p0/amount", "keyframes": keyframes},))
    before = [shown(alone, n) for n in (10, 7, 4)]
    assert np.abs(before[1] - shown(plain, 7)).max() > 0.01 and np.array_equal(before[2], shown(plain, 4))  # 7 was treated, 4 was not
    wanted = np.maximum(np.maximum(before[0], before[1] * np.float32(0.7)), before[2] * np.float32(0.7**2))
    assert np.abs(stepped - wanted).max() < 1e-5


def test_steadied_mattes_read_frames_with_their_own_keyframed_values() -> None:
    lanes = ({"target": "selections/s/keys/k1/tolerance", "keyframes": [{"frame": 0, "value": 5, "how": "hold"}, {"frame": 10, "value": 85, "how": "hold"}]},)
    steady = shot(lanes=lanes, cleaning={"steady": 1})
    sharp = shot(lanes=lanes)
    around = [shown(sharp, n, shown=Shown(view="matte", selection="s")) for n in (8, 9, 10)]
    assert np.abs(shown(steady, 9, shown=Shown(view="matte", selection="s")) - (around[0] + 2 * around[1] + around[2]) / 4).max() < 1e-5


def test_trails_over_trails_are_linear_in_passes_and_frames() -> None:
    """Five passes that each read two earlier frames: every stage at every frame once, not two to the fifth."""
    counts = []
    for passes in (1, 2, 3, 4, 5, 6):
        sources = Drawn()
        render(shot(*[2] * passes), 39, sources=sources)
        counts.append(len(sources.drawn))
    assert all(b - a <= 3 for a, b in pairwise(counts)) and counts[-1] <= 15, counts
    # With a memory the next frames need only what is new of every stage.
    memo, sources = Memo(), Drawn()
    for n in range(30, 39):
        sources.drawn.clear()
        render(shot(*[2] * 5), n, sources=sources, memo=memo)
    assert len(sources.drawn) <= 6


def test_selections_that_read_passes_are_linear() -> None:
    """Sixteen selections, each of which reads the pass before: resolved and performed once each."""
    selections = [{**KEY, "id": f"s{n}", "name": f"{n}", "reads": f"p{n - 1}" if n else None} for n in range(16)]
    passes = [{"id": f"p{n}", "name": "p", "treatment": "hue-shift", "params": {"shift": 9}, "selection": f"s{n}", "side": "inside"} for n in range(16)]
    node = Shot(of=footage(), first=0, last=39, look=parse_look({"selections": selections, "passes": passes}))
    out = shown(node, 3)
    assert len(Graph(resolve(node, 3)).ops) <= 5 * 16 + 1 and np.isfinite(out).all()
    by_hand = shown(footage(), 3)
    for n in range(16):
        single = parse_look({"selections": [{**selections[n], "reads": None}], "passes": [passes[n]]})
        by_hand = apply_look(single, by_hand)
    assert np.abs(out - by_hand).max() < 1e-4


def test_a_look_that_reads_more_than_fits_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(schedule, "MOST_AT_ONCE", 5 * 3 * 32 * 48 * 4)
    with pytest.raises(TooHeavy, match="more than fit into memory"):
        shown(shot(2, 2, 2, 2, 2), 39)


def test_the_same_footage_under_several_looks_and_a_look_over_several_footages() -> None:
    day, night = shot(4, first=0, last=9), shot(0, first=10, last=19)
    other = shot(1, of=footage("b"), last=9)
    film = Sequence(parts=tuple(Part(of=n, first=0, last=n.length - 1) for n in (day, night, other)))
    over = Span(of=film, first=5, last=24, look=look(4))
    assert film.length == 30 and np.array_equal(shown(film, 12), shown(night, 2)) and np.array_equal(shown(film, 25), shown(other, 5))
    assert np.array_equal(shown(over, 26), shown(film, 26))
    assert np.array_equal(shown(over, 12), apply_look(over.look, shown(film, 12), Moment(7)))
    stretch = Shot(of=over, first=8, last=20)
    assert np.array_equal(shown(stretch, 4), shown(over, 12))


# Spans, transitions, reels


def test_a_span_is_laid_over_by_amount_and_blend() -> None:
    amount = (Keyframe(frame=0, value=0.0, how="linear"), Keyframe(frame=10, value=100.0, how="linear"), Keyframe(frame=20, value=0.0))
    under, treated = shown(footage(), 10), shown(shot(4, of=footage(), first=5), 5)
    flash = Span(of=footage(), first=5, last=25, look=look(4), amount=amount)
    assert np.abs(shown(flash, 10) - (under + (treated - under) * 0.5)).max() < 1e-5
    assert np.array_equal(shown(flash, 5), shown(footage(), 5)) and np.array_equal(shown(flash, 4), shown(footage(), 4))
    multiplied = Span(of=footage(), first=0, last=39, look=look(4), amount=(Keyframe(frame=0, value=40.0),), blend="multiply")
    treated = shown(shot(4), 10)
    assert np.abs(shown(multiplied, 10) - (under + (under * treated - under) * 0.4)).max() < 1e-5


@pytest.mark.parametrize("linear", [False, True])
def test_dissolves_are_source_over_with_constant_alpha(linear: bool) -> None:
    """W3C Compositing, source-over: coloraide's compositing of the pixel with an alpha; in linear light its own mixing there."""
    a, b = footage("a"), footage("b")
    transition = Transition(a=a, b=b, frames=7, from_a=3, from_b=1, linear=linear)
    for n in (0, 3, 6):
        share = (n + 1) / 8
        one, other, out = shown(a, 3 + n), shown(b, 1 + n), shown(transition, n)
        for y, x in ((3, 5), (30, 40), (16, 24)):
            under, over = (Color("srgb", [float(v) for v in p[:, y, x]]) for p in (one, other))
            if linear:
                wanted = under.mix(over, share, space="srgb-linear").convert("srgb").coords()
            else:
                wanted = Color.layer([Color("srgb", over.coords(), share), under], space="srgb").coords()
            assert out[:, y, x] == pytest.approx(wanted, abs=2e-5)


REVEAL = Reveal(
    look=look(), selection="s", opens=(Keyframe(frame=0, value=0.0, how="linear"), Keyframe(frame=500, value=100.0)),
    takes=(Keyframe(frame=600, value=0.0, how="linear"), Keyframe(frame=1000, value=100.0)),
)  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(["likeness", "outward", "light", "dark"]), st.floats(1, 80), st.sampled_from(["outgoing", "incoming"]), st.integers(0, 20))
def test_reveals_go_one_way_for_every_pixel(grows: str, edge: float, of: str, at: int) -> None:
    """Nothing of the next before, all of it after, and never back, for every pixel; a still shows the share alone."""
    a, b = footage("a", still=True), footage("b", still=True)
    transition = Transition(a=a, b=b, frames=21, from_a=0, from_b=0, reveal=REVEAL.model_copy(update={"grows": grows, "edge": edge, "of": of}))
    one, other = shown(a, 0), shown(b, 0)
    told = np.abs(other - one) > 0.02
    shares = [np.where(told, (shown(transition, n) - one) / np.where(told, other - one, 1), 0) for n in (0, min(at, 19), min(at, 19) + 1, 20)]
    assert np.abs(shares[0]).max() < 1e-4 and np.abs(shares[3] - told).max() < 2e-3
    assert (shares[2] - shares[1]).min() > -2e-3 and shares[1].min() > -1e-3 and shares[1].max() < 1 + 1e-3


def test_the_hole_is_the_matte_and_grows_outward_by_distance() -> None:
    a, b = footage("a", still=True), footage("b", still=True)
    hole = Transition(a=a, b=b, frames=21, from_a=0, from_b=0, reveal=REVEAL)
    matte = shown(shot(of=a), 0, shown=Shown(view="matte", selection="s"))[0]
    one, other = shown(a, 0), shown(b, 0)
    assert np.abs(shown(hole, 11) - (one + (other - one) * matte)).max() < 1e-4  # open, and not yet taking the rest
    order = order_of(one, matte, "outward")
    distance = ndimage.distance_transform_edt(matte < 0.5)  # SciPy
    assert np.abs(order - distance / distance.max()).max() < 0.01


@pytest.mark.parametrize("rate", ["24000/1001", "25", "30000/1001", "50", "12", "60"])
@pytest.mark.parametrize("first", [0, 7])
def test_rates_are_conformed_to_the_nearest_frame_in_time(rate: str, first: int) -> None:
    """OpenTimelineIO's time arithmetic: the frame of the footage whose time is nearest to that of the frame of the reel."""
    source = footage("n", fps=rate, frames=200)
    node = Placed(of=source, width=48, height=32, fps="25", first=first)
    ours, theirs = Fraction(25), Fraction(rate)
    for n in range(0, node.length - node.ahead, 3):
        time = otio.opentime.RationalTime(n, float(ours))
        apart = [abs((otio.opentime.RationalTime(k - first, float(theirs)) - time).to_seconds()) for k in range(first, 200)]
        best = min(apart)
        shown_frame = round(float(render(node, node.ahead + n, sources=Drawn(numbered))[0, 16, 24]) * 1000)
        assert apart[shown_frame - first] <= best + 1e-6, (n, shown_frame)


def test_pictures_fit_into_frames() -> None:
    wide = footage("n", width=64, height=16)

    def corner(**more: Any) -> np.ndarray:
        return render(
            Placed(of=wide, width=32, height=32, fps="24", behind="#ffffff", **more), 0, sources=Drawn(lambda f, n: np.full((3, 16, 64), 0.25, np.float32))
        )

    bars = corner(fit="all")
    assert bars[0, 2, 16] == 1 and bars[0, 29, 16] == 1 and abs(bars[0, 16, 16] - 0.25) < 1e-6  # 32 x 8 in the middle
    assert np.abs(corner(fit="fill") - 0.25).max() < 1e-6
    own = corner(fit="own", across=0)
    assert own[0, 16, 2] == 0.25 and own[0, 3, 2] == 1
    assert corner(fit="all", down=0)[0, 3, 16] == 0.25
    left = Placed(of=footage(), width=48, height=32, fps="24", mirror_across=True)
    assert np.abs(shown(left, 4) - shown(footage(), 4)[:, :, ::-1]).max() < 1e-5
    assert np.array_equal(shown(Placed(of=footage(), width=48, height=32, fps="24"), 4), shown(footage(), 4))


def test_a_reel_compiles_to_its_items_joins_and_spans() -> None:
    """Numbered clips: every frame is the one that the cut list says; transitions take from both sides; a long transition is shortened."""
    one, two = (footage(c, frames=100) for c in "ab")
    items = (Item(id="x", of=one, first=10, last=29), Item(id="y", of=two, first=40, last=59), Item(id="z", of=one, first=30, last=39))
    reel = Reel(items=items, width=48, height=32, fps="24")
    node = reel.node()
    assert reel.cuts() == [0, 20, 40, 50] and node.length == 50

    def number(film: Node, n: int) -> int:
        return round(float(render(film, n, sources=Drawn(numbered))[0, 0, 0]) * 1000)

    assert [number(node, n) for n in (0, 19, 20, 39, 40, 49)] == [10, 29, 40, 59, 30, 39]
    joined = reel.model_copy(update={"transitions": (TransitionPlan(after="x", frames=8, at=50),)}).node()
    assert joined.length == 50 and number(joined, 15) == 25 and number(joined, 24) == 44
    middle = render(joined, 20, sources=Drawn(numbered))[0, 0, 0] * 1000  # frame 5 of 8: from 30 (held beyond the cut) to 40
    assert middle == pytest.approx(30 + (40 - 30) * 5 / 9, abs=0.01)
    long = reel.model_copy(update={"transitions": (TransitionPlan(after="x", frames=400, at=50),)}).node()
    assert long.length == 50
    laid = reel.model_copy(update={"spans": (Laid(id="l", first=5, last=24, look=look(4)),)}).node()
    assert isinstance(laid, Span) and laid.length == 50
    with pytest.raises(ValueError, match="last one"):
        Reel(items=items, transitions=(TransitionPlan(after="z", frames=3),), width=48, height=32, fps="24")


def test_footage_is_data() -> None:
    assert isinstance(parse_node(footage().model_dump(mode="json")), Footage) and footage() == footage() and footage() != footage("b")
