"""What films sound like: in step with the picture, crossing over with equal power."""

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.drawn import footage
from wenditas.core.film import Item, Placed, Reel, Sequence, Shot, Span, Transition, TransitionPlan
from wenditas.core.film.nodes import Part
from wenditas.core.look.document import Look


def test_a_stretch_of_a_shot_is_heard_from_its_place_in_the_footage() -> None:
    shot = Shot(of=footage(fps="24"), first=12, last=35, look=Look())
    (piece,) = shot.sound(6, 17)
    assert (piece.content, piece.at, piece.start, piece.seconds) == ("a", 0, Fraction(18, 24), Fraction(12, 24))
    assert Span(of=shot, first=0, last=5).sound(6, 17) == (piece,)
    assert Shot(of=footage(still=True), first=0, last=3).sound(0, 3) == ()


def test_conformed_pictures_leave_the_sound_in_step() -> None:
    """A frame of the reel and the sound with it belong to the same time of the footage, within half a frame, at every place."""
    source = footage(fps="24000/1001", frames=2000)
    node = Placed(of=source, width=48, height=32, fps="25", first=100)
    for n in (0, 50, 800, 1900):
        (piece,) = node.sound(n, n + 10)
        picture = node.shown(n) / source.rate
        assert abs(piece.start + (0 - piece.at) - picture) <= 1 / source.rate / 2 + Fraction(1, 10**6)


def test_parts_follow_one_another() -> None:
    film = Sequence(parts=(Part(of=footage("a"), first=10, last=19), Part(of=footage("b"), first=0, last=23)))
    pieces = film.sound(5, 20)
    assert [(p.content, p.at, p.start, p.seconds) for p in pieces] == [
        ("a", 0, Fraction(15, 24), Fraction(5, 24)),
        ("b", Fraction(5, 24), 0, Fraction(11, 24)),
    ]


@settings(max_examples=50)
@given(st.integers(2, 60), st.integers(0, 40), st.integers(0, 40))
def test_joins_cross_over_with_equal_power(frames: int, first: int, count: int) -> None:
    """The squares of both gains add up to 1 at every time of the transition, whichever stretch of it is asked for (definition of equal power)."""
    transition = Transition(a=footage("a", frames=200), b=footage("b", frames=200), frames=frames, from_a=60, from_b=20)
    first = min(first, frames - 1)
    pieces = transition.sound(first, min(first + count, frames - 1))
    assert [p.content for p in pieces] == ["a", "b"] and [p.start for p in pieces] == [(60 + first) / Fraction(24), (20 + first) / Fraction(24)]
    for share in np.linspace(0, 1, 7):
        gains = [p.gain(float(p.seconds) * share) for p in pieces]
        assert sum(g * g for g in gains) == pytest.approx(1, abs=1e-9)
    whole = transition.sound(0, frames - 1)
    assert whole[0].gain(0) == 1 and whole[1].gain(0) == 0 and whole[1].gain(float(whole[1].seconds)) == pytest.approx(1)


def test_a_reel_sounds_as_long_as_it_lasts() -> None:
    items = (Item(id="x", of=footage("a", frames=100), first=10, last=29), Item(id="y", of=footage("b", frames=100), first=40, last=59))
    node = Reel(items=items, transitions=(TransitionPlan(after="x", frames=8),), width=48, height=32, fps="24").node()
    pieces = node.sound(0, node.length - 1)
    covered = sorted((p.at, p.at + p.seconds) for p in pieces)
    assert covered[0][0] == 0 and max(end for _, end in covered) == node.length / node.rate
    assert all(other[0] <= end for (_, end), other in pairwise(covered))


def test_sound_stays_in_step_over_ten_minutes() -> None:
    """Items of three rates, ten minutes of them at 25 frames a second: the sound of each begins with its first frame, the last as exactly as the first."""
    rates = ("24000/1001", "25", "30000/1001")
    items = tuple(Item(id=f"i{n}", of=footage(f"{n}", fps=rates[n % 3], frames=400), first=30, last=30 + 97 + n % 11) for n in range(160))
    reel = Reel(items=items, width=48, height=32, fps="25")
    cuts, pieces = reel.cuts(), reel.node().sound(0, reel.node().length - 1)
    assert cuts[-1] > 10 * 60 * 25 and len(pieces) == len(items)
    for item, cut, piece in zip(items, cuts, pieces, strict=False):
        assert piece.content == item.of.content and piece.at == Fraction(cut, 25)
        assert abs(piece.start - Fraction(30) / item.of.rate) <= Fraction(1, 25)  # within a frame, by what the rates differ
