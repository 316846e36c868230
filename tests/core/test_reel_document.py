"""A reel's document: what it takes, what it refuses, and where everything lies in it."""

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.examples import TIMES
from wenditas.core.errors import BadLook
from wenditas.core.film import Accompanied, Blank, Footage, Item, Reel, Shot, SoundTrack, Span, TransitionPlan, parse_node, render, resolve
from wenditas.core.film.document import EARLY, parse_reel
from wenditas.core.look.document import Look
from wenditas.core.work.operation import reads
from wenditas.project.reels import span_ends

KNOWN = json.loads((Path(__file__).parent / "reels.json").read_text())  # the page's engine is held to the same
SHOTS = KNOWN["shots"]


def reel_of(data: dict[str, Any]) -> Reel:
    """A reel over footage that is described in the cases."""
    document, items = parse_reel(data, {}), []
    lead = SHOTS[document.items[0].shot]
    for item in document.items:
        shot = SHOTS[item.shot]
        frames = max(shot["length"], item.last + 1) if shot["still"] else shot["length"]
        source = Footage(content=item.shot, width=shot["width"], height=shot["height"], fps=shot["fps"], frames=frames, still=shot["still"])
        last = min(item.last, frames - 1)
        items.append(Item(id=item.id, of=Shot(of=source, first=0, last=frames - 1), first=min(item.first, last), last=last))
    transitions = tuple(TransitionPlan(after=j.after, frames=j.frames, at=EARLY[j.at]) for j in document.transitions)
    return Reel(
        items=tuple(items),
        transitions=transitions,
        width=document.width or lead["width"],
        height=document.height or lead["height"],
        fps=document.fps or lead["fps"],
    )


@pytest.mark.parametrize("case", [c for c in KNOWN["cases"] if c["document"]], ids=lambda c: c["it"])
def test_where_things_lie(case: dict[str, Any]) -> None:
    reel = reel_of(case["document"])
    assert (reel.fps, reel.width, reel.height) == (case["fps"], case["width"], case["height"])
    assert reel.cuts() == case["cuts"]
    assert [[o.after, o.before, o.behind, o.held_out, o.held_in] for o in reel.overlaps()] == case["overlaps"]
    assert {k: [e.first, e.last] for k, e in span_ends(parse_reel(case["document"], {}), reel).items()} == case["spans"]
    assert reel.node().length == case["cuts"][-1]


@given(
    st.integers(1, 5000), st.sampled_from(["24000/1001", "24", "25", "30000/1001", "60", "1", "240"]), st.sampled_from(["24", "25", "30000/1001", "1", "240"])
)
def test_items_last_as_long_as_opentimelineio_says(frames: int, rate: str, to: str) -> None:
    """Reference: OpenTimelineIO's RationalTime, rescaled; the nearest whole frame, at least one."""
    source = Footage(content="a", width=64, height=36, fps=rate, frames=frames)
    reel = Reel(items=(Item(id="i", of=source, first=0, last=frames - 1),), width=64, height=36, fps=to)
    exact = otio.opentime.RationalTime(frames, float(Fraction(rate))).rescaled_to(float(Fraction(to))).value
    assert abs(reel.cuts()[-1] - max(exact, 1)) <= 0.5 + 1e-6 * exact


RATES = st.sampled_from(["24000/1001", "24", "25", "30000/1001", "30", "48", "50", "60000/1001", "60", "12", "240"])


@st.composite
def cut_reels(draw: st.DrawFn) -> Reel:
    """Some items of footage of any rates in a reel of any rate, and now and then one that goes on in what the one before shows."""
    items: list[Item] = []
    for n in range(draw(st.integers(1, 5))):
        if items and draw(st.booleans()) and items[-1].last < 140:
            of, first = items[-1].of, items[-1].last + 1
        else:
            content = draw(st.sampled_from("abc"))
            of, first = Footage(content=content, width=64, height=36, fps=draw(RATES), frames=150), draw(st.integers(0, 100))
        items.append(Item(id=f"i{n}", of=of, first=first, last=draw(st.integers(first, 149))))
    return Reel(items=tuple(items), width=64, height=36, fps=draw(RATES))


def source_frames(reel: Reel) -> list[tuple[str, int]]:
    """What a reel of footage shows, frame by frame."""
    node = reel.node()
    return [(f.content, number) for n in range(node.length) for f, number in (leaf.params for leaf in reads(resolve(node, n)))]


@settings(max_examples=100 * TIMES, deadline=None)
@given(cut_reels())
def test_an_item_shows_its_own_frames_alone(reel: Reel) -> None:
    shown, cuts = source_frames(reel), reel.cuts()
    for item, begin, end in zip(reel.items, cuts, cuts[1:], strict=False):
        numbers = [number for _, number in shown[begin:end]]
        assert item.first <= min(numbers) and max(numbers) <= item.last, item.id
        assert numbers == sorted(numbers)


def test_no_flash_of_what_was_cut() -> None:
    source = Footage(content="a", width=64, height=36, fps="30", frames=100)
    reel = Reel(items=(Item(id="i", of=source, first=8, last=20),), width=64, height=36, fps="60")
    assert source_frames(reel)[-1] == ("a", 20)  # 21 until it was fixed


@settings(max_examples=100 * TIMES, deadline=None)
@given(cut_reels(), st.data())
def test_a_split_moves_nothing(reel: Reel, data: st.DataObject) -> None:
    """At any two rates, at any frame, once and again: the same length, the same frames of footage, the same cuts elsewhere."""
    before, cuts = source_frames(reel), reel.cuts()
    made, done = reel, 0
    for _ in range(3):
        at = data.draw(st.integers(0, len(before) - 1))
        starts = made.cuts()
        n = max(k for k, start in enumerate(starts[:-1]) if start <= at)
        item, number = made.items[n], before[at][1]
        if at == starts[n] or number <= item.first:
            continue
        halves = (item.model_copy(update={"last": number - 1}), item.model_copy(update={"id": f"{item.id}'", "first": number}))
        made, done = made.model_copy(update={"items": (*made.items[:n], *halves, *made.items[n + 1 :])}), done + 1
    assert source_frames(made) == before
    assert set(cuts) <= set(made.cuts()) and len(made.cuts()) == len(cuts) + done


def test_a_split_keeps_the_length_of_film_in_a_reel_of_video() -> None:
    source = Footage(content="a", width=64, height=36, fps="24000/1001", frames=800)
    one = Reel(items=(Item(id="i", of=source, first=0, last=735),), width=64, height=36, fps="25")
    two = one.model_copy(update={"items": (Item(id="i", of=source, first=0, last=183), Item(id="j", of=source, first=184, last=735))})
    assert one.cuts()[-1] == two.cuts()[-1] == 767  # 30:17
    assert two.cuts()[1] == 192


ITEMS = [{"id": "i", "shot": "a", "first": 0, "last": 9}, {"id": "j", "shot": "a", "first": 0, "last": 9}]


@pytest.mark.parametrize(
    ("data", "said"),
    [
        ({"items": [ITEMS[0], ITEMS[0]]}, "two items have the id 'i'"),
        ({"items": [{**ITEMS[0], "first": 10}]}, "is after its last"),
        ({"items": ITEMS, "transitions": [{"id": "x", "after": "i"}, {"id": "y", "after": "i"}]}, "two transitions stand at the same cut"),
        ({"items": ITEMS, "transitions": [{"id": "x", "after": "i", "kind": "reveal"}]}, "a reveal needs a selection"),
        ({"items": ITEMS, "transitions": [{"id": "x", "after": "i", "frames": 0}]}, "greater than or equal to 1"),
        ({"width": 100}, "a width and a height"),
        ({"width": 0, "height": 0}, "greater than or equal to 1"),
        ({"fps": "0"}, "match pattern"),
        ({"fps": "nan"}, "match pattern"),
        ({"items": [{**ITEMS[0], "gain": float("nan")}]}, "finite"),
        ({"schema_version": 3}, "newer Wenditas"),
        ([], "JSON object"),
        (
            {
                "spans": [
                    {"id": "s", "name": "S", "start": {"item": "i", "frame": 0}, "end": {"item": "i", "frame": 1}, "amounts": [{"frame": 0, "value": 101}]}
                ]
            },
            "from 0 to 100",
        ),
    ],
)
def test_what_makes_no_sense_is_said(data: Any, said: str) -> None:
    with pytest.raises(BadLook, match=said):
        parse_reel(data, {})


def test_a_join_goes_with_its_cut() -> None:
    data = {"items": ITEMS, "transitions": [{"id": "x", "after": "i"}]}
    assert [j.id for j in parse_reel(data, {}).transitions] == ["x"]
    assert parse_reel({**data, "items": ITEMS[:1]}, {}).transitions == ()
    assert parse_reel({**data, "items": ITEMS[::-1]}, {}).transitions == ()


def test_looks_of_spans_are_upgraded() -> None:
    span = {"id": "s", "name": "S", "start": {"item": "i", "frame": 0}, "end": {"item": "j", "frame": 1}}
    old = {"schema_version": 1, "passes": [{"id": "p", "name": "P", "treatment": "night-sight", "params": {}}]}
    document = parse_reel({"items": ITEMS, "spans": [{**span, "look": old}]}, {})
    assert document.spans[0].look.passes[0].treatment == "rod-vision"
    assert document.looks == (document.spans[0].look,)


class Grey:
    """Sources whose frames are even grey, by their number."""

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Any:
        def load(first: int, out: Any) -> None:
            out[:] = frame / 100

        return load

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> None:
        return None


def test_gaps_tracks_and_fading_spans_are_rendered() -> None:
    source = Footage(content="a", width=8, height=4, fps="24", frames=50)
    gap = Item(id="g", of=Blank(width=8, height=4, fps="24", frames=10, colour="#808080"), first=0, last=9)
    reel = Reel(items=(gap, Item(id="i", of=source, first=20, last=29)), width=8, height=4, fps="24", track=SoundTrack(of=source, at=3))
    node = parse_node(reel.node().model_dump(mode="json"))
    assert isinstance(node, Accompanied) and node == reel.node()
    assert [round(float(render(node, n, sources=Grey())[0, 0, 0]), 3) for n in (0, 9, 10, 19)] == [0.502, 0.502, 0.2, 0.29]
    assert resolve(node, 0).digest == resolve(node, 9).digest != resolve(node, 10).digest != resolve(node, 11).digest
    black = Look.model_validate({"passes": [{"id": "p", "name": "p", "treatment": "solid", "params": {"colour": "#000000"}}]})
    fading = Span(of=source, first=10, last=19, look=black, fade_in=3, fade_out=1)
    shares = [1 - float(render(fading, n, sources=Grey())[0, 0, 0]) / (n / 100) for n in range(9, 21)]
    assert shares == pytest.approx([0, 0.25, 0.5, 0.75, 1, 1, 1, 1, 1, 1, 0.5, 0], abs=1e-5)  # even steps, by definition


def test_a_reel_of_the_first_version_opens_as_it_was() -> None:
    """Joins are transitions now, and what rose and fell fades in and out."""
    item = {"id": "a", "shot": "s", "first": 0, "last": 47, "rise": 4, "fall": 6}
    old = {
        "schema_version": 1,
        "items": [item, {**item, "id": "b", "rise": 0}],
        "joins": [{"id": "x", "after": "a", "kind": "dissolve", "frames": 12, "at": "before"}],
        "spans": [{"id": "p", "name": "P", "start": {"item": "a", "frame": 3}, "end": {"item": "b", "frame": 9}, "rise": 2, "fall": 5}],
        "track": {"footage": "f", "rise": 24, "fall": 36},
    }
    document = parse_reel(old, {})
    assert [(i.fade_in, i.fade_out) for i in document.items] == [(4, 6), (0, 6)]
    assert (document.transitions[0].after, document.transitions[0].frames, document.transitions[0].at) == ("a", 12, "before")
    assert (document.spans[0].fade_in, document.spans[0].fade_out) == (2, 5)
    assert document.track is not None and (document.track.fade_in, document.track.fade_out) == (24, 36)
    assert parse_reel(document.model_dump(mode="json"), {}) == document
    with pytest.raises(BadLook, match="whole number"):
        parse_reel({"schema_version": "one"}, {})
