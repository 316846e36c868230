"""Keyframes: values between them, what can be animated, and clear errors."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.drawn import Drawn, footage
from tests.core.treatments import odd_values
from wenditas.core.errors import BadLook
from wenditas.core.film import Shot, render
from wenditas.core.look.animate import look_at, passage
from wenditas.core.look.apply import apply_look
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import describe
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.shapes import tangents
from wenditas.core.treat import TREATMENTS

PICK = {"colour": [0.8, 0.1, 0.08], "x": 0.5, "y": 0.5, "frame": 3}
SHAPE = {"id": "f", "name": "Fence", "kind": "polygon", "points": [{"x": 0, "y": 0}, {"x": 100, "y": 0}, {"x": 100, "y": 100}]}
SELECTION = {"id": "red", "name": "Red", "keys": [{"type": "hue", "picks": [PICK]}], "shapes": [SHAPE]}


def look(target: str, *keyframes: tuple, treatment: str = "tint", params: dict | None = None, **more: object) -> Look:
    """A look of one pass with one lane; keyframes are (frame, value) or (frame, value, how)."""
    item = {"id": "p", "name": "p", "treatment": treatment, "params": params or {}, "selection": "red", "side": "inside"}
    made = [dict(zip(("frame", "value", "how", "ease"), k, strict=False)) for k in keyframes]
    return parse_look({"selections": [SELECTION], "passes": [item], "lanes": [{"target": target, "keyframes": made, **more}]})


def amounts(shown: Look, frames: list[int]) -> list[float]:
    return [look_at(shown, n, 24).passes[0].amount for n in frames]


def test_a_number_is_held_straight_or_eased() -> None:
    for how, wanted in (("hold", [0, 0, 0, 100, 100]), ("linear", [0, 25, 50, 100, 100]), ("smooth", [0, 15.625, 50, 100, 100])):
        assert amounts(look("passes/p/amount", (10, 0, how), (30, 100)), [5, 15, 20, 30, 99]) == wanted
    assert amounts(look("passes/p/amount", (10, 0, "smooth", 50), (30, 100)), [15]) == [(25 + 15.625) / 2]
    assert amounts(look("passes/p/amount", (10, 40)), [0, 10, 500]) == [40, 40, 40]


@given(st.floats(0, 1), st.floats(0, 100), st.sampled_from(["hold", "linear", "smooth"]))
def test_a_passage_begins_at_nought_and_never_turns_back(t: float, ease: float, how) -> None:
    keyframe = Keyframe(frame=0, value=0, how=how, ease=ease)
    assert passage(keyframe, 0) == 0 and 0 <= passage(keyframe, t) <= 1 + 1e-12
    assert passage(keyframe, min(t + 0.01, 1)) >= passage(keyframe, t) - 1e-12


def test_flash_is_nought_hundred_nought() -> None:
    flash = look("passes/p/amount", (20, 0, "linear"), (24, 100, "linear"), (28, 0, "linear"))
    assert amounts(flash, [19, 20, 22, 24, 26, 28, 29]) == [0, 0, 50, 100, 50, 0, 0]


def test_a_hold_changes_nothing_before_it() -> None:
    held = look("selections/red/keys/k1/tolerance", (0, 9, "hold"), (54, 14, "hold"))
    assert [look_at(held, n, 24).selections[0].keys[0].tolerance for n in (0, 53, 54, 200)] == [9, 9, 14, 14]


def test_everything_that_can_be_animated_is() -> None:
    for treatment in TREATMENTS.values():
        for info in describe(treatment.params):
            values = [v for v in odd_values(info) if v != []]
            if not info.animatable:
                with pytest.raises(BadLook, match="cannot be animated"):
                    look(f"passes/p/params/{info.key}", (0, info.default), treatment=treatment.id)
                continue
            shown = look(f"passes/p/params/{info.key}", (0, values[0]), (10, values[-1]), treatment=treatment.id)
            for frame in (0, 3, 10):
                still = look_at(shown, frame, 24)
                assert not still.lanes and treatment.params.model_validate(still.passes[0].params)
            assert parse_look(shown.model_dump(mode="json")) == shown
            first = treatment.params.model_validate({info.key: values[0]})
            assert look_at(shown, 0, 24).passes[0].params[info.key] == first.model_dump(mode="json")[info.key], (treatment.id, info.key)


def test_cleaning_shapes_paths_and_switches_are_animated() -> None:
    for info in describe(Cleaning):
        ends = (False, True) if info.kind == "switch" else (info.low, info.high)
        shown = look(f"selections/red/cleaning/{info.key}", (0, ends[0]), (10, ends[1]))
        assert getattr(look_at(shown, 10, 24).selections[0].cleaning, info.key) == ends[1]
    feather = look("selections/red/shapes/f/feather_out", (0, 0, "linear"), (10, 50))
    assert look_at(feather, 5, 24).selections[0].shapes[0].feather_out == 25
    moved = [{**p, "x": p["x"] + 40} for p in SHAPE["points"]]
    path = look("selections/red/shapes/f/points", (0, SHAPE["points"], "linear"), (10, moved))
    assert [p.x for p in look_at(path, 5, 24).selections[0].shapes[0].points] == [20, 120, 120]
    off = look("passes/p/on", (0, True), (7, False))
    assert [look_at(off, n, 24).passes[0].on for n in (6, 7)] == [True, False]


def test_angles_go_the_way_that_was_chosen() -> None:
    def at(way: str, t: int) -> float:
        shown = look("passes/p/params/shift", (0, 350, "linear"), (10, 10), treatment="hue-shift", way=way)
        return look_at(shown, t, 24).passes[0].params["shift"]

    assert at("as typed", 5) == 180
    assert at("short", 5) % 360 == 0
    assert at("long", 5) % 360 == 180


def test_drift_comes_round() -> None:
    # 100 degrees a second is a whole turn after 3.6 s (common practice).
    shown = look("passes/p/params/shift", (0, 30), treatment="hue-shift", drift=100)
    shift = [look_at(shown, n, 25).passes[0].params["shift"] for n in (0, 45, 90)]
    assert shift[0] == 30 and (shift[1] - 210) % 360 == pytest.approx(0, abs=1e-9) and (shift[2] - 30) % 360 == pytest.approx(0, abs=1e-9)
    shown = look("passes/p/params/slide", (0, 30), treatment="gradient-map", drift=25)
    slide = [look_at(shown, n, 25).passes[0].params["slide"] for n in (0, 50, 100)]
    assert slide[0] == 30 and (slide[1] - 80) % 100 == pytest.approx(0, abs=1e-9) and (slide[2] - 30) % 100 == pytest.approx(0, abs=1e-9)
    far = look_at(shown, 100_001, 25).passes[0].params["slide"]
    assert -1000 <= far <= 1000 and far % 100 == pytest.approx((30 + 25 * 100_001 / 25) % 100, abs=1e-6)
    ends = look("passes/p/amount", (0, 90), drift=10)
    assert amounts(ends, [0, 24, 240]) == [90, 100, 100]  # a percentage stops at its end


def test_a_cycling_palette_renders_the_same_after_a_turn(random_picture: np.ndarray) -> None:
    shown = look("passes/p/params/slide", (0, 0), treatment="gradient-map", drift=100 / 3.6)

    node = Shot(of=footage(width=53, height=37, fps="25", frames=200), first=0, last=199, look=shown)
    at = [render(node, n, sources=Drawn(lambda _, __: random_picture)) for n in (0, 45, 90)]
    assert np.abs(at[0] - at[2]).max() < 1e-4 and np.abs(at[0] - at[1]).max() > 0.1


def test_curves_and_gradients_of_different_length_meet() -> None:
    curve = look("passes/p/params/master", (0, [[0, 0], [100, 100]], "linear"), (10, [[0, 0], [50, 80], [100, 100]]), treatment="curves")
    assert look_at(curve, 5, 24).passes[0].params["master"][1] == pytest.approx([50, 65])
    one = [{"position": 0, "colour": "#000000"}, {"position": 100, "colour": "#ffffff"}]
    three = [one[0], {"position": 50, "colour": "#ff0000"}, one[1]]
    stops = look("passes/p/params/stops", (0, one, "linear"), (10, three), treatment="gradient-map")
    half = look_at(stops, 5, 24).passes[0].params["stops"]
    assert [s["position"] for s in half] == [0, 50, 100] and half[1]["colour"] not in ("#ff0000", "#808080")


@pytest.mark.parametrize(
    ("target", "keyframes", "says"),
    [
        ("passes/p/amount", [(5, 0), (5, 10)], "two keyframes stand at frame 5"),
        ("passes/p/amount", [(5, 101)], "frame 5 of Amount"),
        ("passes/p/amount", [(5, float("nan"))], "frame 5 of Amount"),
        ("passes/p/amount", [(5, "many")], "frame 5 of Amount"),
        ("passes/p/amount", [(-1, 5)], "frame"),
        ("passes/p/amount", [], "keyframes"),
        ("passes/p/params/lights", [(0, "#000000"), (9, "white")], "frame 9"),
        ("passes/p/params/nothing", [(0, 1)], "cannot be animated"),
        ("passes/p", [(0, 1)], "names no parameter"),
        ("nonsense", [(0, 1)], "names no parameter"),
        ("selections/red/shapes/f/points", [(0, SHAPE["points"]), (5, [*SHAPE["points"], SHAPE["points"][0]])], "4 points"),
    ],
)
def test_bad_lanes_say_why(target: str, keyframes: list, says: str) -> None:
    with pytest.raises(BadLook, match=says):
        look(target, *keyframes)


def test_only_numbers_drift_and_lanes_are_unique() -> None:
    with pytest.raises(BadLook, match="cannot drift"):
        look("passes/p/on", (0, True), drift=1)
    data = look("passes/p/amount", (0, 1)).model_dump(mode="json")
    with pytest.raises(BadLook, match="two lanes"):
        parse_look({**data, "lanes": data["lanes"] * 2})


def test_reordered_keyframes_are_put_in_order_and_lanes_go_with_what_they_animate() -> None:
    shown = look("passes/p/amount", (30, 3), (10, 1), (20, 2))
    assert [k.frame for k in shown.lanes[0].keyframes] == [10, 20, 30]
    data = shown.model_dump(mode="json")
    assert parse_look({**data, "passes": []}).lanes == ()
    assert parse_look({**data, "passes": [{**data["passes"][0], "treatment": "from-the-future"}]}).lanes == shown.lanes


def test_ten_thousand_keyframes(random_picture: np.ndarray) -> None:
    shown = look("passes/p/amount", *((n, n % 101) for n in range(10_000)))
    assert amounts(shown, [0, 5050, 9999, 20_000]) == [0, 5050 % 101, 9999 % 101, 9999 % 101]
    out = apply_look(look_at(shown, 5050, 24), random_picture)
    assert np.isfinite(out).all()


PATH = "selections/s/shapes/f/points"


def path_look(*keyframes: tuple[int, list[dict]]) -> Look:
    shape = {"id": "f", "name": "F", "kind": "path", "points": keyframes[0][1]}
    lane = {"target": PATH, "keyframes": [{"frame": n, "value": points, "how": "linear"} for n, points in keyframes]}
    return parse_look({"selections": [{"id": "s", "name": "S", "shapes": [shape]}], "lanes": [lane]})


def points_at(look: Look, frame: int) -> tuple:
    return look_at(look, frame, 24).selections[0].shapes[0].points


SQUARE = [{"x": x, "y": y} for x, y in ((0, 0), (100, 0), (100, 100), (0, 100))]


def test_paths_go_over_point_by_point() -> None:
    moved = [{"x": p["x"] * 2, "y": p["y"] + 40} for p in SQUARE]
    look = path_look((10, SQUARE), (20, moved))
    assert [(p.x, p.y) for p in points_at(look, 15)] == [(0, 20), (150, 20), (150, 120), (0, 120)]
    assert [(p.x, p.y) for p in points_at(look, 5)] == [(p["x"], p["y"]) for p in SQUARE]
    assert all(p.arrive is None and p.leave is None for p in points_at(look, 15))


def test_fixed_tangents_go_over_too_and_are_worked_out_where_one_side_has_none() -> None:
    bent = [{**p, **({"leave": (80, 60)} if n == 1 else {})} for n, p in enumerate(SQUARE)]
    look = path_look((10, SQUARE), (20, bent))
    even = tangents(points_at(path_look((0, SQUARE)), 0))[1]
    half = points_at(look, 15)
    assert half[1].leave == pytest.approx((even[1] + (80, 60)) / 2)
    assert half[2].arrive == pytest.approx(even[2]) and half[2].leave == pytest.approx(even[2])


def test_paths_with_other_points_are_refused() -> None:
    with pytest.raises(BadLook, match="path at frame 20 has 3 points, the first one 4"):
        path_look((10, SQUARE), (20, SQUARE[:3]))
