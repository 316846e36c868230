"""Outlines that lie on edges, and outlines that bend."""

from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from wenditas.core.kernel import as_picture
from wenditas.core.select.bending import Bender, filled, matched
from wenditas.core.select.denoise import Noise
from wenditas.core.select.edges import ROUGH, best_way, lies, normals_of, snapped, spread
from wenditas.core.select.objects.outlines import piece_of
from wenditas.core.select.objects.seen import Seen
from wenditas.core.select.shapes import Point, Shape, bent, outline
from wenditas.core.select.tracks import WHOLE, Track, TrackFrame

MIDDLE = np.array([160.0, 90.0])


def round_line(radius: float, count: int = 48, flat: float = 1.0) -> np.ndarray:
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return MIDDLE + radius * np.stack([np.cos(turn), flat * np.sin(turn)], axis=1)


def blob(radius: float, bow: float = 0.0) -> np.ndarray:
    """A disc, or with `bow` a bean: `(180, 320)`, 0-1, its edge over one pixel."""
    y, x = np.mgrid[:180, :320] + 0.5
    u, v = x - MIDDLE[0], y - MIDDLE[1]
    return np.clip(radius - np.hypot(u, v - bow * (u / radius) ** 2) + 0.5, 0, 1)


def grey_of(cover: np.ndarray) -> np.ndarray:
    return (60 + 140 * cover + np.random.default_rng(2).normal(0, 2, cover.shape)).clip(0, 255).astype(np.uint8)


def overlap(a: np.ndarray, b: np.ndarray) -> float:
    return float(((a > 0.5) & (b > 0.5)).sum() / ((a > 0.5) | (b > 0.5)).sum())


@pytest.mark.parametrize("off", [-5, -2, 3, 6])
def test_an_outline_snaps_to_the_circle_that_is_there(off: float) -> None:
    found = snapped(grey_of(blob(50)), round_line(50 + off), 9)
    assert np.abs(np.hypot(*(found - MIDDLE).T) - 50).max() < 1.1


def test_how_an_outline_lies_falls_as_it_leaves_the_edge() -> None:
    grey = grey_of(blob(50))
    told = [lies(grey, round_line(50 + off)) for off in (0, 2, 4, 7)]
    assert told[0] > 0.95 and all(a > b for a, b in pairwise(told)) and told[-1] < 0.3


@given(hnp.arrays(np.float64, st.tuples(st.integers(3, 5), st.integers(2, 3)), elements=st.floats(0, 2).map(lambda v: round(v, 2))))
@settings(max_examples=60, deadline=None)
def test_the_best_way_around_costs_no_more_than_any_other(costs: np.ndarray) -> None:
    """By trying all of them. Twice around the ends of a short line need not meet as they do in the middle, so a step of roughness is allowed."""
    count, steps = costs.shape

    def price(way: tuple[int, ...]) -> float:
        return sum(costs[n, k] + ROUGH * (k - way[n - 1]) ** 2 for n, k in enumerate(way))

    least = min(price(way) for way in product(range(steps), repeat=count))
    assert price(tuple(int(v) for v in best_way(costs))) <= least + 2 * ROUGH * (steps - 1) ** 2 + 1e-9


def test_normals_lead_out_whichever_way_round() -> None:
    for line in (round_line(40), round_line(40)[::-1]):
        assert ((line - MIDDLE) * normals_of(line)).sum(axis=1).min() > 39


def test_places_lie_evenly_along_a_line() -> None:
    found = spread(np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 50.0), (0.0, 50.0)]), 10)
    assert len(found) == 30 and np.allclose(np.linalg.norm(np.diff(found, axis=0), axis=1), 10)


def test_what_is_filled_has_its_outline_again() -> None:
    line = round_line(40, 200)
    again = piece_of(filled(line, (180, 320)))
    assert np.abs(np.hypot(*(again - MIDDLE).T) - 40).max() < 1
    assert abs(filled(line, (180, 320)).sum() / (np.pi * 40**2) - 1) < 0.02  # OpenCV fills the pixels on the line too


@pytest.mark.parametrize("turned", [False, True])
def test_places_match_those_nearest_to_them_in_order(turned: bool) -> None:
    line = spread(round_line(50, 90, 0.6), 4)
    contour = spread(round_line(52, 300, 0.6), 2)
    contour = np.roll(contour[::-1] if turned else contour, 37, axis=0)
    found = contour[matched(line, contour)]
    assert np.linalg.norm(found - line, axis=1).max() < 4


def test_an_outline_follows_what_bends() -> None:
    seen = [Seen.of(as_picture(np.stack([0.2 + 0.6 * c, 0.35 - 0.1 * c, 0.3 + 0 * c])), Noise(0.002)) for c in (blob(45, 3.0 * n) for n in range(8))]
    start = spread(round_line(45, 120), 4)
    bender = Bender(seen[0], start)
    for here in seen[1:]:
        bender.step(here, bender.points)
    true = blob(45, 21)
    assert overlap(filled(bender.points, (180, 320)), true) > 0.94 > overlap(filled(start, (180, 320)), true)
    assert 0 < bender.sure <= 1


def path(*points: tuple[float, float], track: Track) -> Shape:
    return Shape(id="p", name="P", kind="polygon", points=tuple(Point(x=x, y=y) for x, y in points), track=track)


def test_points_go_as_they_were_tracked_and_new_ones_as_those_near_them() -> None:
    bend = ((100.0, 100.0, 5.0, 0.0), (300.0, 100.0, 0.0, 0.0), (200.0, 300.0, 0.0, 8.0))
    track = Track((TrackFrame(frame=0, values=(1, 0, 0, 0), confidence=1), TrackFrame(frame=1, values=(1, 0, 10, 0), confidence=0.9, bend=bend, lies=0.7)))
    corners = ((100.0, 100.0), (300.0, 100.0), (200.0, 300.0))
    assert np.allclose(outline(path(*corners, track=track), 0), corners)
    assert np.allclose(outline(path(*corners, track=track), 1), [(115, 100), (310, 100), (210, 308)], atol=0.01)
    more = bent(path(*corners, (100.0, 104.0), track=track), 1)
    assert np.abs(more[3] - (105, 104)).max() < 0.1


def test_a_track_with_bends_survives_and_one_without_keeps_its_name() -> None:
    plain = Track((TrackFrame(frame=0, values=(1, 0, 0, 0), confidence=1),))
    assert plain.packed == "[[0,1.0,0.0,0.0,0.0,1.0]]"
    bends = Track((TrackFrame(frame=3, values=(1, 0, 2, 0), confidence=0.5, bend=((1.0, 2.0, 3.0, 4.0), (5.0, 6.0, 7.0, 8.0)), lies=0.25),))
    assert Track.unpacked(bends.packed) == bends
    shape = path((0.0, 0.0), (9.0, 0.0), (0.0, 9.0), track=bends)
    assert Shape.model_validate(shape.model_dump(mode="json", context=WHOLE)) == shape
