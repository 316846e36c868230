"""What objects are made of: strokes, anchors, colours, and how sure it is."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage
from skimage.graph import MCP_Geometric

from wenditas.core.film import Footage, Reveal, Shot, Span, Transition, render, resolve
from wenditas.core.kernel import Matte, as_picture
from wenditas.core.look.document import Look, parse_look
from wenditas.core.look.lanes import Keyframe
from wenditas.core.select.denoise import Noise
from wenditas.core.select.objects.anchors import anchors, beside
from wenditas.core.select.objects.carry import Step, step
from wenditas.core.select.objects.colours import Palette, signed
from wenditas.core.select.objects.marks import Stroke, painted
from wenditas.core.select.objects.outlines import outline_of, strokes_of
from wenditas.core.select.objects.part import combined, reached
from wenditas.core.select.objects.seen import Seen, working_size
from wenditas.core.select.objects.start import UNLIKE, known_of, started, ways
from wenditas.core.select.objects.sure import LOST, how_sure
from wenditas.core.shelf.carry import without_shapes
from wenditas.core.tiles import Held, Load
from wenditas.core.work.operation import Op


def stroke(id: str, frame: int, kind: str = "this", x: float = 500) -> Stroke:
    return Stroke.model_validate({"id": id, "frame": frame, "kind": kind, "radius": 20, "points": [(x, 500)]})


frames = st.lists(st.tuples(st.integers(0, 30), st.sampled_from(["this", "not this"])), min_size=1, max_size=12)


@given(frames, st.integers(0, 30))
def test_a_further_stroke_changes_no_anchor_before_it_and_its_own_frame_s_name(drawn: list[tuple[int, str]], frame: int) -> None:
    strokes = [stroke("first", 15), *(stroke(f"s{n}", f, kind) for n, (f, kind) in enumerate(drawn))]
    before, after = anchors("clip", strokes), anchors("clip", [*strokes, stroke("new", frame, x=700)])
    names = {a.frame: a.name for a in before}
    assert {a.frame: a.name for a in after}[frame] != names.get(frame)
    changed = {frame}
    for anchor in after:  # what hangs on the changed one changes with it, and nothing else
        if anchor.parent is not None and anchor.parent.frame in changed:
            changed.add(anchor.frame)
        if anchor.frame not in changed:
            assert names[anchor.frame] == anchor.name
    assert [a.frame for a in after if a.parent is None] == [after[0].frame]


@given(frames, st.integers(0, 40))
def test_each_frame_lies_beside_its_nearest_anchors(drawn: list[tuple[int, str]], frame: int) -> None:
    found = anchors("clip", [stroke(f"s{n}", f, kind) for n, (f, kind) in enumerate(drawn)])
    before, after = beside(found, frame)
    stroked = {f for f, _ in drawn}
    assert (before.frame if before else None) == max((f for f in stroked if f <= frame), default=None)
    assert (after.frame if after else None) == min((f for f in stroked if f >= frame), default=None)


def test_a_stroke_covers_what_a_round_brush_covers() -> None:
    line = Stroke.model_validate({"id": "a", "frame": 0, "radius": 60, "points": [(300, 400), (700, 600)]})
    found = painted([line], "this", (270, 480))
    y, x = np.mgrid[0:270, 0:480] * 4.0
    along = np.clip(((x - 300) * 400 + (y - 400) * 200) / (400**2 + 200**2), 0, 1)
    away = np.hypot(x - 300 - 400 * along, y - 400 - 200 * along)  # definition: distance to the segment
    assert (found == (away <= 60)).mean() > 0.995
    over = Stroke.model_validate({"id": "b", "frame": 0, "kind": "not this", "radius": 90, "points": [(500, 500)]})
    assert painted([line, over], "this", (270, 480))[125, 125] == 0 and painted([over, line], "this", (270, 480))[125, 125] == 1


def test_ways_over_a_picture_against_a_reference_library() -> None:
    """scikit-image's minimum cost paths (`MCP_Geometric`): where a picture is plain, the way is its length in steps of 1 and √2 there too."""
    seeds = np.zeros((40, 60), np.uint8)
    seeds[20, 30] = seeds[3, 5] = 1
    plain = ways(np.full((3, 40, 60), 0.4, np.float32), seeds)
    theirs, _ = MCP_Geometric(np.ones((40, 60))).find_costs(np.argwhere(seeds).tolist())
    assert np.abs(plain - theirs).max() < 1e-2
    # A wall with a gap: the way goes through the gap, or over the wall where that is nearer.
    walled = np.full((3, 40, 60), 0.4, np.float32)
    walled[0, :30, 40] = 0.9
    over = ways(walled, seeds)[5, 50] - plain[5, 50]
    assert 0 < over <= 2 * 0.5 * UNLIKE + 1e-3 and over == pytest.approx(_round_the_gap(seeds) - plain[5, 50], abs=1)


def _round_the_gap(seeds: np.ndarray) -> float:
    cost = np.ones(seeds.shape)
    cost[:30, 40] = -1  # cannot be passed
    return float(MCP_Geometric(cost).find_costs(np.argwhere(seeds).tolist())[0][5, 50])


def test_a_stroke_alone_takes_what_is_like_it_and_not_what_lies_beside_it() -> None:
    """An orange disc with a blue block at its side, on grey: nothing says where it ends but its colour."""
    v, u = np.mgrid[0:180, 0:320]
    disc, block = np.hypot(u - 130, v - 90) < 34, (abs(u - 184) < 20) & (abs(v - 90) < 20)
    picture = np.full((3, 180, 320), 0.5)
    picture[:, disc], picture[:, block] = np.array([[0.85], [0.5], [0.15]]), np.array([[0.2], [0.35], [0.8]])
    seen = Seen.of(as_picture(picture + np.random.default_rng(2).normal(0, 0.01, picture.shape)), Noise(0.005, 180))
    this = (abs(v - 90) < 5) & (abs(u - 130) < 24)
    matte = started(seen, this.astype(np.uint8), np.zeros((180, 320), np.uint8))
    assert matte[disc].mean() > 0.95 and matte[block].mean() < 0.05 and matte[~(disc | block)].mean() < 0.02


def test_distance_to_the_edge_against_scipy() -> None:
    matte = np.zeros((50, 70), np.float32)
    matte[10:30, 20:55] = 1
    theirs = ndimage.distance_transform_edt(matte > 0.5) - ndimage.distance_transform_edt(matte <= 0.5)
    assert np.abs(signed(matte) - theirs).max() < 0.6  # a mask of five by five, not exact


def test_a_colour_goes_to_the_nearest_class() -> None:
    rng = np.random.default_rng(2)
    values = rng.uniform(-0.2, 0.9, (3, 3000)).astype(np.float32)
    palette = Palette.of(values, 0.01)
    apart = (((values.T[:, None] - palette.centres[None]) * (1, 2, 2)) ** 2).sum(axis=2)
    told = palette.classes(values)
    assert np.allclose(apart[np.arange(3000), told], apart.min(axis=1), atol=1e-6)
    assert np.allclose(palette.alike.sum(axis=1), 1, atol=1e-5)


@settings(deadline=None, max_examples=15)
@given(st.floats(-30, 60), st.floats(0, 40))
def test_margin_and_feather_are_a_smoothstep_of_the_distance(margin: float, feather: float) -> None:
    matte = np.zeros((200, 200), np.float32)
    matte[60:140, 60:140] = 1
    row = reached(matte, margin, feather)[100]
    if margin or feather:
        away = np.minimum(np.arange(200) - 60, 139 - np.arange(200)) + 0.5  # along the middle row
        share = np.clip((away + margin) / max(feather, 1) + 0.5, 0, 1)
        near = np.abs(away) < 38  # where the nearest edge is that of this row
        assert np.abs(row - share * share * (3 - 2 * share))[near].max() < 0.02
    else:
        assert np.array_equal(row, matte[100])


def test_an_outline_lies_within_a_pixel_of_the_matte_and_strokes_of_it_select_the_same() -> None:
    v, u = np.mgrid[0:270, 0:480]
    matte = ((np.hypot((u - 200) / 1.6, v - 130) < 60) | ((abs(u - 300) < 40) & (abs(v - 150) < 25))).astype(np.float32)
    points = outline_of(matte)
    assert 8 <= len(points) <= 60
    back = np.zeros((270, 480), np.uint8)
    cv2.fillPoly(back, [np.round(points / 4 * 16).astype(np.int32)], 1, cv2.LINE_8, 4)
    assert np.abs(signed(matte))[back != (matte > 0.5)].max() <= 2
    assert len(outline_of(np.zeros((9, 9), np.float32))) == 0
    strokes = strokes_of(points, 3, [str(n) for n in range(20)])
    this, other = painted(strokes, "this", (270, 480)), painted(strokes, "not this", (270, 480))
    assert {s.kind for s in strokes} == {"this", "not this"} and all(s.frame == 3 for s in strokes)
    assert (this & (matte < 0.5)).sum() == 0 and (other & (matte > 0.5)).sum() == 0 and this.sum() > 400
    picture = np.full((3, 270, 480), 0.35, np.float32)
    picture[1] += 0.3 * matte
    again = started(Seen.of(as_picture(picture), Noise(0.004, 270)), this, other)
    assert ((again > 0.5) == (matte > 0.5)).mean() > 0.985


def test_an_object_keeps_leaves_out_or_is_the_matte() -> None:
    matte, thing = np.full((4, 4), 0.8, np.float32), np.eye(4, dtype=np.float32)
    assert np.allclose(combined(matte, thing, "keep"), 0.8 * thing)
    assert np.allclose(combined(matte, thing, "leave out"), 0.8 * (1 - thing))
    assert np.array_equal(combined(matte, thing, "is"), thing)


def test_what_stands_still_stays_and_what_has_gone_is_lost() -> None:
    picture = np.full((3, 128, 192), 0.3, np.float32)
    picture[0, 40:90, 60:120] = 0.8
    noise = np.random.default_rng(1).normal(0, 0.005, picture.shape)
    one, two = Seen.of(as_picture(picture + noise), Noise(0.005, 128)), Seen.of(as_picture(picture - noise), Noise(0.005, 128))
    this, nothing = np.zeros((128, 192), np.uint8), np.zeros((128, 192), np.uint8)
    this[60:66, 70:110] = 1
    matte = started(one, this, nothing)
    truth = picture[0] > 0.5
    assert ((matte > 0.5) == truth).mean() > 0.98
    known = known_of(one, matte)
    again = step(one, matte, two, known)
    assert ((again.matte > 0.5) == truth).mean() > 0.98 and how_sure(again, 1.0, 1) > 0.7
    empty = Seen.of(as_picture(np.full((3, 128, 192), 0.3, np.float32) + noise), Noise(0.005, 128))
    gone = step(one, np.zeros_like(matte), empty, known)
    assert gone.matte.max() == 0 and how_sure(gone, 0.0, 5) == LOST


@pytest.mark.parametrize("columns", [(60, 142), (60, 98)], ids=["an arm comes out", "a part goes"])
def test_a_thing_grows_and_shrinks_further_than_the_band_about_its_edge(columns: tuple[int, int]) -> None:
    """From one frame to the next it is more than twenty pixels wider, or narrower, in colours that are its own."""
    noise = np.random.default_rng(1).normal(0, 0.005, (3, 128, 192))

    def seen(first: int, last: int) -> Seen:
        picture = np.full((3, 128, 192), 0.3, np.float32)
        picture[0, 40:90, first:last] = 0.8
        return Seen.of(as_picture(picture + noise), Noise(0.005, 128))

    one, two = seen(60, 120), seen(*columns)
    matte = np.zeros((128, 192), np.float32)
    matte[40:90, 60:120] = 1
    found = step(one, matte, two, known_of(one, matte)).matte > 0.5
    truth = np.zeros((128, 192), np.bool_)
    truth[40:90, slice(*columns)] = True
    assert (found & truth).sum() / (found | truth).sum() > 0.95


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1000), st.integers(0, 100_000))
def test_how_sure_it_is_is_a_share(firm: float, apart: float, alike: float, own: float, area: float, count: int) -> None:
    assert 0 <= how_sure(Step(np.zeros((1, 1), np.float32), firm, apart, alike, own), area, count) <= 1


@pytest.mark.parametrize("size", [(1, 1), (2, 4000), (4320, 7680), (1080, 1920), (270, 480), (1920, 1080)])
def test_frames_are_worked_on_at_no_more_than_their_size(size: tuple[int, int]) -> None:
    height, width = working_size(*size)
    assert height <= 540 and width <= 960 and height % 2 == width % 2 == 0


class Sources:
    """Grey frames, and an object that is the left half of each."""

    def load(self, footage: Footage, frame: int, size: tuple[int, int]) -> Load:
        return Held(np.full((3, *size), 0.5, np.float32))

    def alpha(self, footage: Footage, frame: int, size: tuple[int, int]) -> Matte | None:
        return None

    def thing(self, footage: Footage, frame: int, strokes: object, size: tuple[int, int]) -> Matte:
        out = np.zeros(size, np.float32)
        out[:, : size[1] // 2] = 1
        return out


def test_a_look_reads_the_objects_of_its_footage() -> None:
    part = {"id": "o", "name": "O", "mode": "keep", "strokes": [stroke("a", 0).model_dump(mode="json")]}
    plain = {
        "selections": [{"id": "s", "name": "S", "objects": [part]}],
        "passes": [{"id": "p", "name": "P", "treatment": "exposure", "params": {"stops": 1}, "selection": "s", "side": "inside"}],
    }
    look = parse_look(plain)
    footage = Footage(content="a", width=64, height=36, fps="24", frames=4)
    shot = Shot(of=footage, first=0, last=3, look=look)
    shown = render(shot, 2, (36, 64), sources=Sources())  # type: ignore[arg-type]
    assert shown[0, 10, 10] > 0.55 and abs(shown[0, 10, 50] - 0.5) < 1e-6
    # Without a stroke of the thing it has no effect; on another shot it waits for strokes.
    bare, had = without_shapes(look)
    assert had and bare.selections[0].objects[0].strokes == ()
    assert np.allclose(render(shot.model_copy(update={"look": bare}), 2, (36, 64), sources=Sources()), 0.5)  # type: ignore[arg-type]


def kept_by_object(**more: object) -> Look:
    """A look that is a stop lighter in an object."""
    part = {"id": "o", "name": "O", "mode": "is", "strokes": [stroke("a", 0).model_dump(mode="json")], **more}
    return parse_look(
        {
            "selections": [{"id": "s", "name": "S", "objects": [part]}],
            "passes": [{"id": "p", "name": "P", "treatment": "exposure", "params": {"stops": 1}, "selection": "s", "side": "inside"}],
        }
    )


FOOTAGE = Footage(content="a", width=64, height=36, fps="24", frames=4)


def test_an_object_lies_under_a_span_and_is_not_lost_in_it() -> None:
    shot = Shot(of=FOOTAGE, first=0, last=3, look=kept_by_object())
    dark = parse_look({"selections": [], "passes": [{"id": "p", "name": "P", "treatment": "exposure", "params": {"stops": -1}}]})
    shown = render(Span(of=shot, first=1, last=3, look=dark), 2, (36, 64), sources=Sources())  # type: ignore[arg-type]
    plain = render(Span(of=shot.model_copy(update={"look": Look()}), first=1, last=3, look=dark), 2, (36, 64), sources=Sources())  # type: ignore[arg-type]
    assert shown[0, 10, 10] > plain[0, 10, 10] + 0.05 and abs(shown[0, 10, 50] - plain[0, 10, 50]) < 1e-6


@pytest.mark.parametrize("of", ["outgoing", "incoming"])
def test_a_reveal_opens_through_an_object(of: str) -> None:
    one = Shot(of=FOOTAGE, first=0, last=3, look=Look())
    bright = parse_look({"selections": [], "passes": [{"id": "p", "name": "P", "treatment": "exposure", "params": {"stops": 1}}]})
    whole = (Keyframe(frame=0, value=100.0),), (Keyframe(frame=0, value=0.0),)
    reveal = Reveal(look=kept_by_object(), selection="s", of=of, opens=whole[0], takes=whole[1])  # type: ignore[arg-type]
    other = one.model_copy(update={"look": bright})
    shown = render(Transition(a=one, b=other, frames=4, from_a=0, from_b=0, reveal=reveal), 2, (36, 64), sources=Sources())  # type: ignore[arg-type]
    left, right = float(shown[0, 10, 10]), float(shown[0, 10, 50])
    assert left > right + 0.05 and abs(right - 0.5) < 1e-6


def test_a_fine_edge_is_seen_at_rest_and_in_files_and_left_out_in_passing() -> None:
    plain, fine = (Shot(of=FOOTAGE, first=0, last=3, look=kept_by_object(fine=width)) for width in (0, 12))
    kinds = [{op.kind.name for op in _all(resolve(shot, 2, moving=moving))} for shot in (plain, fine) for moving in (False, True)]
    assert [("fine edge" in found) for found in kinds] == [False, False, True, False]
    assert resolve(plain, 2).digest == resolve(plain, 2, moving=True).digest == resolve(fine, 2, moving=True).digest != resolve(fine, 2).digest


def _all(op: Op) -> list[Op]:
    return [op, *(found for inner in op.inputs for found in _all(inner))]
