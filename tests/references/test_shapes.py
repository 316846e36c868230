"""Shapes against geometry and SciPy."""

import numpy as np
import pytest
from pydantic import ValidationError
from scipy import ndimage
from scipy.interpolate import CubicHermiteSpline

from wenditas.core.select.matte import selection_matte
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Correction, Point, Shape, fence, outline, shape_matte, tangents, transform_at
from wenditas.core.select.similarity import Similarity
from wenditas.core.select.tracks import Track, TrackFrame


def shape(kind: str, *points: tuple[float, float], **more: object) -> Shape:
    return Shape(id="s", name="S", kind=kind, points=tuple(Point(x=x, y=y) for x, y in points), **{"feather_out": 0, **more})


def area(made: Shape, frame: int = 0) -> float:
    """Area in square pixels of a 1080-line picture, from the matte of a 540-line one."""
    return float(shape_matte(made, frame, 540, 960).sum()) * 4


def test_areas_against_geometry() -> None:
    assert area(shape("rectangle", (400, 300), (900, 700))) == pytest.approx(500 * 400, rel=0.003)
    assert area(shape("ellipse", (400, 300), (900, 700))) == pytest.approx(np.pi * 250 * 200, rel=0.003)
    assert area(shape("polygon", (400, 300), (900, 300), (400, 700))) == pytest.approx(500 * 400 / 2, rel=0.003)
    assert area(shape("ellipse", (400, 300), (900, 700), angle=37)) == pytest.approx(np.pi * 250 * 200, rel=0.003)
    assert area(shape("rectangle", (500, 300), (900, 700), angle=45)) == pytest.approx(400 * 400, rel=0.003)
    corners = [Point(x=x, y=y, corner=True) for x, y in ((400, 300), (900, 300), (900, 700), (400, 700))]
    sharp = Shape(id="s", name="S", kind="path", points=tuple(corners), feather_out=0)
    assert area(sharp) == pytest.approx(500 * 400, rel=0.003)
    assert area(sharp.model_copy(update={"points": tuple(p.model_copy(update={"corner": False}) for p in corners)})) > 500 * 400 * 1.1


def test_a_smooth_path_is_scipys_hermite_spline() -> None:
    """Source: scipy.interpolate.CubicHermiteSpline, piece by piece, with the tangents as fixed or by the neighbours."""
    fixed = (Point(x=400, y=300), Point(x=900, y=350, leave=(50, 300)), Point(x=800, y=700, arrive=(-400, 20)), Point(x=450, y=650, corner=True, arrive=(9, 9)))
    made = Shape(id="s", name="S", kind="path", points=fixed)
    drawn = outline(made).reshape(4, -1, 2)
    places = np.array([(p.x, p.y) for p in fixed])
    even = (np.roll(places, -1, axis=0) - np.roll(places, 1, axis=0)) / 2
    arrive, leave = [even[0], even[1], (-400, 20), (9, 9)], [even[0], (50, 300), even[2], (0, 0)]
    t = np.arange(drawn.shape[1]) / drawn.shape[1]
    for n in range(4):
        k = (n + 1) % 4
        theirs = CubicHermiteSpline([0, 1], [places[n], places[k]], [leave[n], arrive[k]])(t)
        assert drawn[n] == pytest.approx(theirs, abs=1e-9)


def test_a_piece_cut_in_two_keeps_its_form() -> None:
    """A point half way whose neighbours' tangents are halved, as the page adds points. Source: subdivision of cubic curves (de Casteljau)."""
    whole = shape("path", (400, 300), (900, 350), (800, 700), (450, 650))
    arrive, leave = tangents(whole.points)
    p, q = whole.points[1:3]
    piece = CubicHermiteSpline([0, 1], [(p.x, p.y), (q.x, q.y)], [leave[1], arrive[2]])
    at, going = piece(0.5), piece(0.5, 1) / 2
    cut = (
        whole.points[0],
        p.model_copy(update={"arrive": tuple(arrive[1]), "leave": tuple(leave[1] / 2)}),
        Point(x=at[0], y=at[1], arrive=tuple(going), leave=tuple(going)),
        q.model_copy(update={"arrive": tuple(arrive[2] / 2), "leave": tuple(leave[2])}),
        whole.points[3],
    )
    before, after = outline(whole), outline(whole.model_copy(update={"points": cut}))
    assert max(np.linalg.norm(after - point, axis=1).min() for point in before) < 1e-9  # every point that was drawn still is
    assert area(whole.model_copy(update={"points": cut})) == pytest.approx(area(whole), rel=1e-3)


def test_a_path_runs_through_its_points() -> None:
    made = shape("path", (400, 300), (900, 350), (800, 700), (450, 650))
    drawn = outline(made)
    for p in made.points:
        assert np.linalg.norm(drawn - (p.x, p.y), axis=1).min() < 1e-9


@pytest.mark.parametrize(("inner", "outer"), [(0, 40), (40, 0), (25, 25)])
def test_feather_is_smoothstep_of_scipys_distance(inner: float, outer: float) -> None:
    made = shape("polygon", (300, 200), (1000, 260), (820, 800), (420, 700), feather_in=inner, feather_out=outer)
    matte = shape_matte(made, 0, 1080, 1920)
    inside = shape_matte(shape("polygon", (300, 200), (1000, 260), (820, 800), (420, 700)), 0, 1080, 1920) > 0.5
    distance = np.where(inside, ndimage.distance_transform_edt(inside) - 0.5, 0.5 - ndimage.distance_transform_edt(~inside))
    t = np.clip((distance + outer) / (inner + outer), 0, 1)
    assert np.abs(matte - t * t * (3 - 2 * t)).max() < 0.04  # SciPy measures from pixel to pixel, we from the outline itself


def test_keep_and_leave_out() -> None:
    ones = np.ones((108, 192), np.float32)
    left, right = shape("rectangle", (0, 0), (960, 1080), mode="keep"), shape("rectangle", (960, 0), (1920, 1080))
    assert fence(ones.copy(), (left,), 0).mean() == pytest.approx(0.5, abs=0.01)
    assert fence(ones.copy(), (left, right), 0).mean() == pytest.approx(0.5, abs=0.01)
    assert fence(ones.copy(), (right,), 0)[:, :90].min() == 1 and fence(ones.copy(), (right,), 0)[:, 100:].max() == 0
    both = (left, shape("rectangle", (960, 0), (1920, 1080), mode="keep"))
    assert fence(ones.copy(), both, 0).mean() > 0.98
    assert fence(ones.copy(), (right.model_copy(update={"on": False}),), 0).min() == 1


def test_shapes_alone_select() -> None:
    selection = Selection(id="s", name="S", shapes=(shape("rectangle", (480, 270), (1440, 810), mode="keep"),))
    picture = np.zeros((3, 108, 192), np.float32)
    assert selection_matte(selection, picture).mean() == pytest.approx(0.25, abs=0.01)
    assert selection_matte(Selection(id="s", name="S"), picture).max() == 0


def test_anywhere_and_any_size() -> None:
    for size in ((1, 1), (2, 3), (540, 960)):
        for made in (shape("ellipse", (-900, -900), (-500, -500)), shape("ellipse", (-5000, -5000), (9000, 9000)), shape("rectangle", (5, 5), (5, 5))):
            matte = shape_matte(made, 0, *size)
            assert matte.shape == size and np.isfinite(matte).all() and matte.min() >= 0 and matte.max() <= 1


def test_track_moves_and_corrections_compose() -> None:
    track = Track(tuple(TrackFrame(frame=n, values=Similarity(t=complex(10 * n, 0)).values(), confidence=1) for n in range(10)))
    made = shape("rectangle", (100, 100), (200, 200), track=track)
    assert outline(made, 4)[0] == pytest.approx([140, 100]) and outline(made, 99)[0] == pytest.approx([190, 100])
    fixed = made.model_copy(update={"corrections": (Correction(frame=2, values=(1, 0, 0, 0)), Correction(frame=6, values=(1, 0, 0, 8)))})
    assert outline(fixed, 2)[0] == pytest.approx([120, 100])
    assert outline(fixed, 4)[0] == pytest.approx([140, 104])  # half way to the correction
    assert outline(fixed, 9)[0] == pytest.approx([190, 108])
    assert transform_at(shape("rectangle", (1, 1), (2, 2)), 5) == Similarity()


def test_similarity_algebra() -> None:
    one, two = Similarity(1.2 * np.exp(0.3j), 5 - 2j), Similarity(0.8 * np.exp(-1j), -3 + 9j)
    points = np.random.default_rng(0).random((6, 2)) * 100
    assert (one @ two)(points) == pytest.approx(one(two(points)))
    assert one.inverse()(one(points)) == pytest.approx(points)
    assert Similarity.of(one.values()) == one
    half = Similarity().towards(Similarity(np.exp(1j), 10j), 0.5)
    assert abs(half.m) == pytest.approx(1) and np.angle(half.m) == pytest.approx(0.5) and half.t == pytest.approx(5j)


@pytest.mark.parametrize(
    "bad",
    [
        {"kind": "polygon", "points": [{"x": 0, "y": 0}, {"x": 1, "y": 1}]},
        {"kind": "ellipse", "points": [{"x": 0, "y": 0}] * 3},
        {"kind": "star", "points": [{"x": 0, "y": 0}] * 3},
        {"kind": "polygon", "points": [{"x": float("nan"), "y": 0}] * 3},
        {"kind": "polygon", "points": [{"x": 0, "y": 0}] * 201},
        {"kind": "polygon", "points": [{"x": 0, "y": 0}] * 3, "corrections": [{"frame": 3, "values": [1, 0, 0, 0]}, {"frame": 3, "values": [1, 0, 0, 0]}]},
    ],
)
def test_bad_shapes(bad: dict) -> None:
    with pytest.raises(ValidationError):
        Shape.model_validate({"id": "s", "name": "S", **bad})
