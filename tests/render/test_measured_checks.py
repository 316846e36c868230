"""Every check on pictures that have the fault, and on pictures that only look as if they had."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from wenditas.core.files import NO_FILES
from wenditas.core.film import Footage, Shot
from wenditas.core.look.animate import look_at
from wenditas.core.look.apply import apply_look
from wenditas.core.look.commands import apply_commands, parse_commands
from wenditas.core.look.document import Look, ShotDocument, parse_look, parse_shot
from wenditas.core.measure.checks import CHECKS, banding, bright_sky, clipping, coverage_drop, flash, flicker, hard_to_tell, islands, noisy_key, out_of_range
from wenditas.core.measure.checks.record import Mark, Seen
from wenditas.core.select.shapes import fence
from wenditas.render.cache import ByteCache
from wenditas.render.checking import Checking, joined
from wenditas.render.frames import FrameFiles
from wenditas.render.kept_marks import KeptMarks
from wenditas.render.sources import ScreenSources

H, W = 180, 320
Y, X = np.mgrid[0:H, 0:W].astype(np.float32)
OUTSIDE = {"id": "m", "name": "M", "treatment": "monochrome", "selection": "s", "side": "outside"}
GREY = parse_look({"passes": [{"id": "m", "name": "M", "treatment": "monochrome"}]})
KEYED = parse_look({"selections": [{"id": "s", "name": "Red"}], "passes": [OUTSIDE]})


def flat(*colour: float) -> np.ndarray:
    return np.ones((3, H, W), np.float32) * np.array(colour, np.float32)[:, None, None]


def seen(source: np.ndarray, result: np.ndarray, look: Look = GREY, **more: object) -> Seen:
    return Seen(5, 24.0, look, source.astype(np.float32), result.astype(np.float32), **more)  # type: ignore[arg-type]


def coded(picture: np.ndarray) -> np.ndarray:
    """As footage of 8 bits holds it."""
    return np.rint(picture * 255).astype(np.float32) / 255


def fixed(mark: Mark, look: Look) -> Look:
    """The look after the step that fixes, by the very commands that the page sends."""
    assert mark.fix is not None
    plain = ShotDocument(first=0, last=9, look=look).model_dump(mode="json")
    return parse_shot(apply_commands(plain, parse_commands(list(mark.fix.commands))), 10).look


def ramp(low: float, high: float) -> np.ndarray:
    return np.broadcast_to(low + (high - low) * X / (W - 1), (3, H, W))


def test_banding() -> None:
    source = coded(ramp(0.3, 0.4))  # 25 code values over 320 pixels: flats of 13
    stretched = (source - 0.35) * 4 + 0.5
    marks = banding.measure(seen(source, stretched))
    assert len(marks) == 1 and marks[0].value > 5 and "Bands show" in marks[0].words and marks[0].where is not None
    noise = np.random.default_rng(1).normal(0, 0.004, (3, H, W))
    noisy = coded(ramp(0.3, 0.4) + noise)
    fine = ramp(0.3, 0.4)  # of footage of more bits
    posterized = np.floor(ramp(0, 1) * 5) / 4
    stretch = [(p, (p - 0.35) * 4 + 0.5) for p in (noisy, fine)]
    for before, after in ((source, source), *stretch, (ramp(0, 1), posterized), (flat(0.5, 0.5, 0.5), flat(0.6, 0.6, 0.6))):
        assert banding.measure(seen(before, after)) == []
    contrast = parse_look({"passes": [{"id": "c", "name": "C", "treatment": "contrast", "params": {"contrast": 300, "pivot": 35}}]})
    before = banding.bands(source, apply_look(contrast, source)).mean()
    after = banding.bands(source, apply_look(fixed(marks[0], contrast), source)).mean()
    assert before > 0.05 and after < before / 5


def test_clipping() -> None:
    source = ramp(0.05, 0.95)
    marks = clipping.measure(seen(source, source * 1.5 - 0.2))
    assert {m.words.split(" in ")[0].rsplit(" ", 1)[1] for m in marks} == {"full", "nothing"}
    white = np.where(X > W / 2, 1.0, 0.4).astype(np.float32) * np.ones((3, 1, 1), np.float32)  # a white wall was white before
    for before, after in ((white, white * 1.2), (source, source), (ramp(0.2, 0.8), ramp(0.2, 0.8) * 1.2), (ramp(0, 1), ramp(0, 1) ** 1.2)):
        assert clipping.measure(seen(before, after)) == []
    bright = parse_look({"passes": [{"id": "e", "name": "E", "treatment": "exposure", "params": {"stops": 1}}]})
    result = apply_look(bright, source.astype(np.float32))
    mark = next(m for m in clipping.measure(seen(source, result, bright)) if "full" in m.words)
    again = apply_look(fixed(mark, bright), source.astype(np.float32))
    assert clipping.measure(seen(source, again, bright)) == []


def test_out_of_range() -> None:
    colours = np.stack([0.9 - 0.2 * X / W, 0.3 + 0.1 * Y / H, np.full((H, W), 0.25, np.float32)])
    rich = parse_look({"passes": [{"id": "s", "name": "S", "treatment": "saturation", "params": {"saturation": 190}}]})
    result = apply_look(rich, colours)
    marks = out_of_range.measure(seen(colours, result, rich))
    assert len(marks) == 1 and marks[0].value > 20
    again = apply_look(fixed(marks[0], rich), colours)
    assert float(out_of_range.outside(seen(colours, again)).mean()) < 0.15 * marks[0].value / 100 + 0.1
    over = ramp(0.5, 1.4)  # too light, not too colourful: that is clipping
    assert out_of_range.measure(seen(ramp(0.3, 0.9), over)) == [] and out_of_range.measure(seen(result, result)) == []


def three(source: np.ndarray, mattes: list[np.ndarray], look: Look = KEYED, results: list[np.ndarray] | None = None, moves: float = 0.0) -> Seen:
    """Three frames of the same picture (with a little noise of its own each, or moving) under three mattes."""
    rng = np.random.default_rng(3)
    frames = []
    for n, matte in enumerate(mattes):
        picture = np.roll(source, round(moves * n), axis=2) + rng.normal(0, 0.003, source.shape)
        result = picture if results is None else results[n]
        frames.append(seen(picture, result, look, mattes={"s": matte.astype(np.float32)}))
    return replace(frames[1], before=frames[0], after=frames[2])


DISC = np.clip(40.5 - np.hypot(X - 160, Y - 90), 0, 1).astype(np.float32)
TEXTURE = np.stack([0.4 + 0.2 * np.sin(X / 7) * np.cos(Y / 9)] * 3).astype(np.float32)


def test_flicker() -> None:
    marks = flicker.measure(three(TEXTURE, [DISC, DISC * 0.6, DISC]))
    assert len(marks) == 1 and marks[0].selection == "s" and 25 < marks[0].value < 60 and "flickers by" in marks[0].words
    assert fixed(marks[0], KEYED).selections[0].cleaning.steady == 2
    growing = [np.clip(r + 0.5 - np.hypot(X - 160, Y - 90), 0, 1) for r in (30, 40, 50)]  # an animated shape goes one way
    faded = [DISC * a for a in (0.2, 0.5, 0.8)]
    assert flicker.measure(three(TEXTURE, growing)) == [] and flicker.measure(three(TEXTURE, faded)) == [] and flicker.measure(three(TEXTURE, [DISC] * 3)) == []
    assert flicker.measure(three(TEXTURE, [DISC, DISC * 0.6, DISC], moves=9)) == []  # the picture moves as well
    assert flicker.measure(seen(TEXTURE, TEXTURE, KEYED, mattes={"s": DISC})) == []
    plain = replace(three(TEXTURE, [DISC] * 3), mattes={})
    lamp = [TEXTURE, TEXTURE * 1.08, TEXTURE]
    shaken = replace(plain, result=lamp[1], before=replace(plain.before, result=lamp[0]), after=replace(plain.after, result=lamp[2]))  # type: ignore[type-var]
    assert "The picture flickers" in flicker.measure(shaken)[0].words


def test_islands() -> None:
    speck = (np.hypot(X - 40, Y - 40) < 6).astype(np.float32)
    marks = islands.measure(three(TEXTURE, [DISC, np.maximum(DISC, speck), DISC]))
    assert len(marks) == 1 and marks[0].value == 1 and "on this frame alone" in marks[0].words
    assert marks[0].where is not None and marks[0].where[40, 40] == 1 and marks[0].where[90, 160] == 0
    assert fixed(marks[0], KEYED).selections[0].cleaning.despeckle >= 12 * 1080 / H
    wall = ((X < 60) & (Y < 60)).astype(np.float32)  # larger than despeckle reaches: fenced out, on that frame alone
    fenced = fixed(islands.measure(three(TEXTURE, [DISC, np.maximum(DISC, wall), DISC]))[0], KEYED)
    at = [fence(np.maximum(DISC, wall), look_at(fenced, frame, 24).selections[0].shapes, frame) for frame in (4, 5, 6)]
    assert [float((m * wall > 0.5).sum()) > 0 for m in at] == [True, False, True] and all(m[DISC > 0.999].min() > 0.99 for m in at)
    around = ((X < 150) & (Y < 120) & (np.hypot(X - 160, Y - 90) > 55)).astype(np.float32)  # a rectangle around it would cut the disc
    assert [m.fix for m in islands.measure(three(TEXTURE, [DISC, np.maximum(DISC, around), DISC]))] == [None]
    walking = [np.maximum(DISC, (np.hypot(X - 40 - 3 * n, Y - 40) < 6)) for n in range(3)]
    arriving = [DISC, np.maximum(DISC, speck), np.maximum(DISC, speck)]
    dust = np.maximum(DISC, ((X == 40) & (Y == 40)).astype(np.float32))
    for quiet in (walking, arriving, [DISC, dust, DISC], [DISC * 0] * 3):
        assert islands.measure(three(TEXTURE, quiet)) == []  # type: ignore[arg-type]


def flying(step: float, start: float = 30, frames: int = 3) -> list[tuple[np.ndarray, np.ndarray]]:
    """A red ball that flies to the right: what is filmed, and its matte, frame by frame."""
    found = []
    for n in range(frames):
        ball = np.clip(9.5 - np.hypot(X - start - step * n, Y - 60), 0, 1)
        found.append((TEXTURE * (1 - ball) + np.array([0.8, 0.15, 0.1])[:, None, None] * ball, ball.astype(np.float32)))
    return found


def flown(frames: list[tuple[np.ndarray, np.ndarray]], look: Look = KEYED) -> Seen:
    before, now, after = (seen(picture, picture, look, mattes={"s": matte}) for picture, matte in frames)
    return replace(now, before=before, after=after)


@pytest.mark.parametrize("step", [12, 22, 60, 132])
def test_a_ball_that_flies_is_no_island(step: float) -> None:
    """At 132 of 180 lines a frame (792 pixels of 1080) too, and where it comes into the frame or leaves it."""
    assert islands.measure(flown(flying(step))) == []
    assert islands.measure(flown(flying(step, start=-30))) == []
    assert islands.measure(flown(flying(step, start=350 - 2 * step))) == []


def test_what_is_elsewhere_by_chance_is_an_island() -> None:
    ball, (empty, nothing) = flying(0, start=100)[0], (TEXTURE, DISC * 0)
    assert len(islands.measure(flown([(empty, nothing), ball, (empty, nothing)]))) == 1
    to_and_fro = [flying(0, start=x)[0] for x in (60, 250, 100)]
    assert len(islands.measure(flown(to_and_fro))) == 1
    other = [(np.stack([p[2], p[1], p[0]]), m) for p, m in flying(60)]  # blue before and after
    assert len(islands.measure(flown([other[0], flying(60)[1], other[2]]))) == 1


def test_noisy_key() -> None:
    rng = np.random.default_rng(4)
    wavering = [np.clip(DISC * 0.7 + rng.normal(0, 0.15, DISC.shape), 0, 1) * (DISC > 0.5) for _ in range(3)]
    marks = noisy_key.measure(three(TEXTURE, wavering))
    assert len(marks) == 1 and marks[0].value > 8 and "wavers by" in marks[0].words
    calm = replace(KEYED, selections=()) if False else KEYED
    assert fixed(marks[0], calm).selections[0].cleaning.soften == 2 or fixed(marks[0], calm).selections[0].cleaning.denoise_chroma == 100
    assert noisy_key.measure(three(TEXTURE, [DISC] * 3)) == []
    slight = [np.clip(DISC + rng.normal(0, 0.01, DISC.shape), 0, 1) for _ in range(3)]
    assert noisy_key.measure(three(TEXTURE, slight)) == []


def test_bright_sky_in_a_night() -> None:
    rng = np.random.default_rng(3)
    day = rng.uniform(0.05, 0.5, (3, H, W)).astype(np.float32)
    day[:, :70] = np.array([0.75, 0.85, 0.95], np.float32)[:, None, None] + rng.normal(0, 0.004, (3, 70, W)).astype(np.float32)
    blue = np.array([0.35, 0.4, 0.6], np.float32)[:, None, None]
    marks = bright_sky.measure(seen(day, day * blue))
    assert len(marks) == 1 and 30 < marks[0].value < 45
    darker = day.copy()
    darker[:, :70] *= 0.15
    for after in (day, day * 0.9, darker * blue, day * 0.45):  # a day; a little less; a night whose sky is dark; no night but a dim day
        assert bright_sky.measure(seen(day, after)) == []
    street = day[:, ::-1].copy()
    assert bright_sky.measure(seen(street, street * blue)) == []
    night = parse_look({"passes": [{"id": "n", "name": "Night", "treatment": "cdl", "params": {"slope_red": 0.35, "slope_green": 0.4, "slope_blue": 0.6}}]})
    look = fixed(bright_sky.measure(seen(day, apply_look(night, day), night))[0], night)
    assert look.selections[0].name == "Sky" and bright_sky.measure(seen(day, apply_look(look, day), look)) == []


def test_a_night_is_told_by_its_ground_and_a_backdrop_is_no_sky() -> None:
    """A large sky that stays light keeps the mean up; a backdrop, and a ramp of grey, reach down to the floor."""
    rng = np.random.default_rng(3)
    day = rng.uniform(0.2, 0.6, (3, H, W)).astype(np.float32)
    rows = round(0.44 * H)
    day[:, :rows] = np.array([0.75, 0.85, 0.95], np.float32)[:, None, None]
    night = day * np.array([0.3, 0.33, 0.5], np.float32)[:, None, None]
    night[:, :rows] = np.array([0.52, 0.58, 0.7], np.float32)[:, None, None]  # as light as six tenths, over a ground of an eighth
    [mark] = bright_sky.measure(seen(day, night))
    assert mark.value == pytest.approx(44, abs=4)
    blue = np.array([0.35, 0.4, 0.6], np.float32)[:, None, None]
    backdrop = np.full((3, H, W), 0.85, np.float32)
    backdrop[:, round(0.4 * H) :, round(0.3 * W) : round(0.7 * W)] = rng.uniform(0.1, 0.4, (3, H - round(0.4 * H), round(0.7 * W) - round(0.3 * W)))
    ramp = np.repeat(np.linspace(0, 1, W, dtype=np.float32)[None, None], H, axis=1).repeat(3, axis=0)
    for studio in (backdrop, ramp):
        assert bright_sky.measure(seen(studio, studio * blue)) == []


def test_what_a_chosen_colour_has_at_an_end_is_no_clipping() -> None:
    """A gradient from blue over red to yellow has red at full from its middle on, since that was chosen; the same ends by exposure are told."""
    source = np.stack([0.1 + 0.8 * X / W] * 3).astype(np.float32)
    stops = [{"position": 0, "colour": "#000060"}, {"position": 50, "colour": "#ff2000"}, {"position": 100, "colour": "#ffe000"}]
    mapped = parse_look({"passes": [{"id": "g", "name": "Map", "treatment": "gradient-map", "params": {"stops": stops}}]})
    assert clipping.measure(seen(source, apply_look(mapped, source), mapped)) == []
    bright = parse_look({"passes": [{"id": "e", "name": "Exposure", "treatment": "exposure", "params": {"stops": 2}}]})
    assert clipping.measure(seen(source, apply_look(bright, source), bright))
    off = mapped.model_copy(update={"passes": (mapped.passes[0].model_copy(update={"on": False}), *bright.passes)})
    assert clipping.measure(seen(source, apply_look(off, source), off))  # a pass that is off chooses nothing


def kept_in_grey(*colour: float) -> np.ndarray:
    picture = flat(0.45, 0.45, 0.45)
    picture[:, DISC > 0.5] = np.array(colour, np.float32)[:, None]
    return picture


def test_kept_colour_hard_to_tell() -> None:
    """A dull green is grey to green blindness; a yellow stays apart from grey for everybody; a colourful picture keeps nothing."""
    green = kept_in_grey(0.3, 0.55, 0.45)
    meadow = np.stack([0.3 + 0.2 * X / W, 0.5 + 0.1 * Y / H, np.full((H, W), 0.3, np.float32)])
    marks = hard_to_tell.measure(seen(meadow, green, KEYED, mattes={"s": DISC}))
    assert hard_to_tell.measure(seen(meadow, green)) == []  # nothing was selected: nothing is kept
    assert hard_to_tell.measure(seen(green, green, KEYED, mattes={"s": DISC})) == []  # so it was filmed
    assert len(marks) == 1 and "green blindness" in marks[0].words and marks[0].value < 10
    look = fixed(marks[0], KEYED)
    assert look.passes[-1].treatment in ("hue-shift", "exposure") and look.passes[-1].selection == "s"
    for fine in (kept_in_grey(0.95, 0.8, 0.1), meadow, flat(0.4, 0.4, 0.4), kept_in_grey(0.46, 0.44, 0.44)):
        assert hard_to_tell.measure(seen(meadow, fine, KEYED, mattes={"s": DISC})) == []
    turned = look.passes[-1].params
    if look.passes[-1].treatment == "hue-shift":
        from wenditas.core.treat import TREATMENTS
        from wenditas.core.treat.record import whole

        treatment = TREATMENTS["hue-shift"]
        after = treatment.reference(green, treatment.params(**turned), whole(green))
        assert hard_to_tell.measure(seen(meadow, np.where(DISC > 0.5, after, 0.45), look, mattes={"s": DISC})) == []


def film(levels: list[float], share: float = 1.0, colour: tuple[float, float, float] = (1, 1, 1)) -> list[flash.Glance]:
    frames = []
    for level in levels:
        picture = flat(0.2, 0.2, 0.2)
        across = round(W * share)
        picture[:, :, :across] = np.array(colour, np.float32)[:, None, None] * level
        frames.append(flash.glance(picture))
    return frames


def flashing(times: int, low: float, high: float, rate: int = 24) -> list[float]:
    """So many flashes within a second, and a second of rest."""
    span = rate // (2 * times)
    levels = [low] * 4
    for _ in range(times):
        levels += [high] * span + [low] * span
    return levels + [low] * rate


@pytest.mark.parametrize(("times", "fails"), [(3, False), (4, True), (6, True)])
def test_flashes_just_below_and_just_above(times: int, fails: bool) -> None:
    """WCAG 2.2, 2.3.1: three flashes in a second are allowed, more are not."""
    marks = flash.marks(film(flashing(times, 0.2, 0.8)), 24.0, 100)
    assert bool(marks) == fails
    if marks:
        assert marks[0].frame >= 100 and "flashes within a second" in marks[0].words and marks[0].last - marks[0].first < 48


@pytest.mark.parametrize(
    ("what", "glances", "fails"),
    [
        ("a change of 9 % of luminance", film(flashing(6, 0.53, 0.61)), False),  # 0.243 and 0.333 of full light
        ("a change of 11 %", film(flashing(6, 0.53, 0.625)), True),
        ("between light and lighter", film(flashing(6, 0.91, 1.0)), False),  # the darker is above 0.80
        ("a small part", film(flashing(6, 0.2, 0.8), share=0.05), False),
        ("a part that is large enough", film(flashing(6, 0.2, 0.8), share=0.25), True),
        ("saturated red", film(flashing(6, 0.2, 0.75), colour=(1, 0.05, 0.05)), True),
        ("slow", film([0.2] * 30 + [0.8] * 30 + [0.2] * 30 + [0.8] * 30), False),
        ("a fade", film([n / 100 for n in range(100)]), False),
        ("still", film([0.5] * 60), False),
    ],
)
def test_what_counts_as_a_flash(what: str, glances: list[flash.Glance], fails: bool) -> None:
    assert bool(flash.marks(glances, 24.0, 0)) == fails, what


def test_a_red_flash_that_is_none_by_light() -> None:
    """Between a saturated red and a grey of the same luminance: no general flash, but a red one."""
    red, grey = (0.9, 0.05, 0.05), 0.43  # both about 0.17 of full light
    frames = [flash.glance(flat(*(red if n % 4 < 2 else (grey,) * 3))) for n in range(48)]
    assert np.ptp([g.light.mean() for g in frames]) < flash.CHANGE
    marks = flash.marks(frames, 24.0, 0)
    assert marks and "in red" in marks[0].words


def test_coverage_drop() -> None:
    values = [8.0] * 30 + [3.0] * 4 + [8.0] * 30
    marks = coverage_drop.marks(values, "Red", "s")
    assert [(m.first, m.last) for m in marks] == [(30, 33)] and "loses what it selects" in marks[0].words
    assert coverage_drop.marks(list(np.linspace(1, 20, 60)), "Red", "s") == []


def test_the_list_and_joining() -> None:
    assert len(CHECKS) == 10 and all(c.measures and c.source and c.fixes and c.unit for c in CHECKS.values())
    marks = [Mark("clipping", n, float(n), "w") for n in (3, 4, 9, 40)] + [Mark("hard-to-tell", n, float(n), "w") for n in (3, 4)]
    told = joined(marks)
    assert [(m.check, m.first, m.last, m.frame) for m in told] == [("clipping", 3, 9, 9), ("clipping", 40, 40, 40), ("hard-to-tell", 3, 4, 3)]


class Still:
    """Footage of one drawn picture, with a frame that is other."""

    def __init__(self, picture: Callable[[int], np.ndarray], frames: int) -> None:
        self.picture_of, self.frames = picture, frames
        self.facts = type("F", (), {"height": H, "width": W})()

    def picture(self, number: int, size: tuple[int, int] | None = None) -> np.ndarray:
        return np.ascontiguousarray(self.picture_of(number), np.float32)

    def alpha(self, number: int, size: tuple[int, int]) -> None:
        return None


def standing(picture: Callable[[int], np.ndarray], kept: KeptMarks | None = None) -> tuple[Shot, Checking]:
    """Sixty frames under a look that keeps a red, and what checks them."""
    key = {"id": "k", "type": "hue", "picks": [{"colour": (0.8, 0.1, 0.1), "x": 0.5, "y": 0.5, "frame": 0}]}
    look = parse_look({"selections": [{"id": "s", "name": "Red", "keys": [key]}], "passes": [OUTSIDE]})
    node = Shot(of=Footage(content="c", width=W, height=H, fps="24", frames=60), first=0, last=59, look=look)

    def reader(content: str, purpose: str, number: int) -> Still:
        return Still(picture, 60)

    return node, Checking(ScreenSources(reader, ByteCache(1 << 28, lambda p: p.nbytes), "small", True), reader, NO_FILES, kept=kept)  # type: ignore[arg-type]


ELSEWHERE = pytest.mark.long(found_by="the other two cases, and the coverage drops that bench/checks.py plants")


@pytest.mark.parametrize(
    ("colour", "ground", "offered"),
    [
        ((0.8, 0.5, 0.1), (0.45, 0.45, 0.45), True),  # in other light
        pytest.param((0.5, 0.38, 0.37), (0.45, 0.45, 0.45), True, marks=ELSEWHERE),  # greyer than the key's gate
        ((0.1, 0.2, 0.8), (0.45, 0.45, 0.45), False),  # another thing is there
        pytest.param((0.8, 0.5, 0.1), (0.8, 0.5, 0.1), False, marks=ELSEWHERE),  # all is like it: a pick would take everything
    ],
)
def test_a_drop_is_mended_where_the_thing_is_found(colour: tuple, ground: tuple, offered: bool) -> None:
    def picture(n: int) -> np.ndarray:
        base = flat(*(ground if n == 30 else (0.45, 0.45, 0.45)))
        base[:, np.hypot(X - 160, Y - 90) < (40 if 5 < n < 55 else 41.5)] = np.array(colour if n == 30 else (0.8, 0.1, 0.1), np.float32)[:, None]
        return base

    node, checking = standing(picture)
    mark = next(m for m in list(checking.over_shot(node, (0, 59)))[-1][1] if m.check == "coverage-drop")
    assert mark.frame == 30 and (mark.fix is not None) == offered and ("Add a pick" in mark.words) != offered


@pytest.mark.parametrize(("colour", "found"), [((0.55, 0.3, 0.06), True), ((0.45, 0.45, 0.45), False)])
def test_a_thing_that_is_lost_for_good_is_told_where_it_is_still_there(colour: tuple, found: bool) -> None:
    """It moves on, in shade from frame 30 on; or it is gone."""

    def picture(n: int) -> np.ndarray:
        base = flat(0.45, 0.45, 0.45)
        base[:, np.hypot(X - 60 - 3 * n, Y - 90) < 40] = np.array((0.8, 0.1, 0.1) if n < 30 else colour, np.float32)[:, None]
        return base

    node, checking = standing(picture)
    marks = [m for m in list(checking.over_shot(node, (0, 59)))[-1][1] if m.check == "coverage-drop"]
    assert [(m.first, m.last, m.fix is not None) for m in marks] == ([(30, 59, True)] if found else [])


def test_over_a_shot() -> None:
    """A key that loses its object on one frame, in a picture that stands still, is found there and nowhere else."""

    def picture(n: int) -> np.ndarray:
        base = flat(0.45, 0.45, 0.45)
        base[:, DISC > 0.5] = np.array((0.8, 0.1, 0.1) if n != 30 else (0.8, 0.5, 0.1), np.float32)[:, None]
        return base

    node, checking = standing(picture)
    told = list(checking.over_shot(node, (0, 59)))
    assert told[-1][0] == 60 and [d for d, _ in told[:-1]] == list(range(8, 57, 8))
    found = {m.check: m for m in told[-1][1]}
    assert found["coverage-drop"].frame == 30 and set(found) <= {"coverage-drop", "flicker", "noisy-key", "hard-to-tell"}
    again = found["coverage-drop"].fix
    assert again is not None and again.words == "Add a pick from this frame" and "Add a pick" not in found["coverage-drop"].words
    picked = fixed(found["coverage-drop"], node.look)
    assert picked.selections[0].keys[0].picks[1].frame == 30  # type: ignore[union-attr]
    once_more = list(checking.over_shot(node.model_copy(update={"look": picked}), (0, 59)))[-1][1]
    assert not [m for m in once_more if m.check == "coverage-drop"]
    assert checking.at(node, 10, (0, 59)) == [] and list(checking.over_shot(node, (0, 59), gone=lambda: True)) == []
    assert list(checking.over_shot(node, (7, 7))) == [(1, [])] and checking.at(node, 7, (7, 7)) == []


def test_what_was_found_is_there_at_once_when_the_shot_is_opened_again(tmp_path: Path) -> None:
    """By the pictures that are looked at, after a restart: none; another look, other frames or a damaged file are looked at."""
    seen: list[int] = []

    def picture(n: int) -> np.ndarray:
        seen.append(n)
        base = flat(0.45, 0.45, 0.45)
        base[:, DISC > 0.5] = np.array((0.8, 0.1, 0.1) if n != 30 else (0.8, 0.5, 0.1), np.float32)[:, None]
        return base

    def looked(ends: tuple[int, int] = (0, 59), look: Look | None = None, gone: bool = False) -> list[tuple[int, list[Mark]]]:
        node, checking = standing(picture, KeptMarks(FrameFiles(tmp_path)))
        seen.clear()
        return list(checking.over_shot(node if look is None else node.model_copy(update={"look": look}), ends, gone=lambda: gone))

    assert looked(gone=True) == [] and not list(tmp_path.iterdir())
    first = looked()[-1]
    assert seen and any(m.fix for m in first[1])
    assert looked() == [first] and not seen
    assert looked((0, 40)) != [first] and seen
    node, _ = standing(picture)
    assert looked(look=node.look.model_copy(update={"passes": ()}))[-1][1] == [] and seen
    for file in tmp_path.iterdir():
        file.write_bytes(file.read_bytes()[:-9])
    assert looked()[-1] == first and seen
