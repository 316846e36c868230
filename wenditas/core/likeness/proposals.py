"""Looks proposed for a shot from a reference: a few of different kinds, each of ordinary passes that say what was measured."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.names import colour_name
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.errors import BadLook
from wenditas.core.kernel import Floats, Picture
from wenditas.core.likeness.colours import Colours, as_look, fitted
from wenditas.core.likeness.kinds import COLOURED, Kind, Recognised, recognised
from wenditas.core.likeness.measured import Measured, measured, tells_nothing
from wenditas.core.likeness.stops import inks_of, stops_of
from wenditas.core.likeness.tones import is_straight, tone_curve
from wenditas.core.look.document import Look
from wenditas.core.select.keys import HueKey
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.core.shelf.carry import carried

OTHER, SCENE = 0.3, 1.0  # how far the shares of the tones of one picture are taken for those of another: of another scene, and of the same
PICKED = (20, 50, 80)  # percentiles of lightness at which the colour that is left is taken
LIKE, MATCHED = "like-it", "matched"  # the bundles of what is like a picture, and of what is matched to a scene


@dataclass(frozen=True)
class Told:
    """What was measured that a pass says again. id: of the pass."""

    id: str
    words: str


@dataclass(frozen=True)
class Proposal:
    """A look, what kind of picture it takes the reference for, and what was measured."""

    name: str
    kind: Kind
    look: Look
    told: tuple[Told, ...]


@dataclass(frozen=True)
class Answer:
    """Proposals, the likeliest first. words: what the reference was seen to be, and what could not be had of it."""

    proposals: tuple[Proposal, ...]
    words: str


@dataclass(frozen=True)
class Step:
    """A pass on its way: its plain form, and what was measured."""

    plain: dict[str, Any]
    words: str


def propose(
    shot: Sequence[tuple[int, Picture]], reference: Sequence[Picture], new_id: Callable[[], str], *, same_scene: bool = False, far: float = 100
) -> Answer:
    """Looks for a shot that are like a reference.

    shot: some of its frames, with their numbers; reference: pictures. same_scene: whether both are of one scene, so that what is there is the same too.
    far: percent of how far to go. Raises `BadLook` with a sentence where nothing can be told.
    """
    why = [tells_nothing(picture) for picture in reference]
    if all(why):
        raise BadLook(why[0])
    if all(tells_nothing(picture) for _, picture in shot):
        raise BadLook(f"The shot has nothing to go by. {tells_nothing(shot[0][1])}")
    seen = measured([picture for picture, reason in zip(reference, why, strict=True) if not reason])
    own = measured([picture for _, picture in shot])
    kind = recognised(seen)
    if same_scene:
        way = Way("Matched", "graded", _graded(own, seen, SCENE))
        return Answer((_proposal(way, far, {"id": MATCHED, "name": "Matched"}),), "Taken for the same scene in another light.")
    words, ways = _ways(own, seen, kind, shot, new_id)
    return Answer(tuple(_proposal(way, far, {"id": LIKE, "name": "Like the picture"}) for way in ways), words)


@dataclass(frozen=True)
class Way:
    """A way of saying what a reference is."""

    name: str
    kind: Kind
    steps: list[Step]
    selections: tuple[Selection, ...] = ()


def _ways(own: Measured, seen: Measured, kind: Recognised, shot: Sequence[tuple[int, Picture]], new_id: Callable[[], str]) -> tuple[str, list[Way]]:
    """What a reference is, and the ways of saying it, the likeliest first."""
    graded = Way("Tones and colours", "night" if kind.kind == "night" else "graded", _graded(own, seen, OTHER))
    if kind.kind in ("grey", "one colour"):
        grey = Way("Grey", "grey", _grey(own, seen))
        if kind.kind == "grey":
            return "It is grey.", [grey, Way("Its tones alone", "graded", _toned(own, seen, OTHER))]
        left = colour_name(np.clip(_left(seen)[1], 0, 1)).lower()
        words, kept = _one_colour(own, seen, kind, shot, new_id)
        return f"It is grey, and one colour is left: {left}, {100 * kind.left:.0f} % of it. {words}".strip(), [*kept, grey, graded]
    mapped = Way("Colours by lightness", "by lightness", _mapped(seen, kind))
    inked = Way("Two inks", "two inks", _inked(own, seen, kind))
    if kind.kind == "two inks":
        return "It is printed in two inks.", [inked, mapped, graded]
    if kind.kind == "by lightness":
        return "Its colours follow from how light they are.", [mapped, inked, graded]
    told = "It is a night: dark, and blue." if kind.kind == "night" else "Its tones and colours were measured, zone by zone."
    return told, [graded, Way("Its tones alone", "graded", _toned(own, seen, OTHER)), mapped]


def _proposal(way: Way, far: float, bundle: dict[str, str]) -> Proposal:
    """A look of some steps, which share one amount: how far to go."""
    plain = [{**step.plain, "id": f"p{n}", "bundle": bundle["id"]} for n, step in enumerate(way.steps)]
    look = as_look(plain, [s.model_dump(mode="json") for s in way.selections], [{**bundle, "amount": far}] if plain else [])
    return Proposal(way.name, way.kind, look, tuple(Told(f"p{n}", step.words) for n, step in enumerate(way.steps)))


def _toned(own: Measured, seen: Measured, trust: float) -> list[Step]:
    curve = tone_curve(own, seen, trust)
    if is_straight(curve):
        return []
    low, high = (100 * seen.quantiles(seen.luma, (0.02, 0.98))).tolist()
    words = f"Blacks at {low:.0f} %, whites at {high:.0f} %, as in the picture"
    return [Step({"treatment": "curves", "name": "Its tones", "params": {"master": curve}}, words)]


def _graded(own: Measured, seen: Measured, trust: float) -> list[Step]:
    """Tones, then white balance and tone zones."""
    steps = _toned(own, seen, trust)
    colours = fitted(own, seen, [step.plain for step in steps], trust)
    return [*steps, *(Step({**plain, "name": _name_of(plain)}, _words_of(plain, colours)) for plain in colours.passes())]


def _name_of(plain: dict[str, Any]) -> str:
    return "Its light" if plain["treatment"] == "white-balance" else "Its zones"


def _words_of(plain: dict[str, Any], colours: Colours) -> str:
    if plain["treatment"] == "white-balance":
        way = "warmer" if colours.temperature < 6500 else "cooler"
        return f"As if lit {way}: {colours.temperature:.0f} K, tint {colours.tint:.0f}"
    params = plain["params"]
    told = []
    for zone in ("shadows", "midtones", "highlights"):
        if zone in params:
            hue = float(np.degrees(np.arctan2(*oklab_from_rgb([int(params[zone][n : n + 2], 16) / 255 for n in (1, 3, 5)])[:0:-1])) % 360)
            told.append(f"{zone} {hue:.0f}°, {params[f'{zone}_tint']:.0f} %")
        if f"{zone}_saturation" in params:
            told.append(f"{zone} {params[f'{zone}_saturation']} % as colourful")
    return "; ".join(told).capitalize()


def _grey(own: Measured, seen: Measured) -> list[Step]:
    grey = Step({"treatment": "monochrome", "name": "Grey"}, f"{100 * seen.share(seen.chroma < COLOURED):.0f} % of the picture has no colour")
    return [grey, *_toned(own, seen, OTHER)]


def _left(seen: Measured) -> tuple[list[Floats], Floats]:
    """The colour that is left: at some places from dark to light, and in the middle, as R'G'B'."""
    lab = seen.lab[:, seen.chroma > COLOURED]
    light = np.percentile(lab[0], PICKED)
    at = [rgb_from_oklab(np.median(lab[:, np.abs(lab[0] - v) <= 0.05 + np.abs(lab[0] - v).min()], axis=1)) for v in light]
    return at, rgb_from_oklab(np.median(lab, axis=1))


def _one_colour(own: Measured, seen: Measured, kind: Recognised, shot: Sequence[tuple[int, Picture]], new_id: Callable[[], str]) -> tuple[str, list[Way]]:
    """The shot's own nearest colour kept, and grey outside; nothing, and why, where it has none."""
    places, middle = _left(seen)
    picks = tuple(Pick(id=new_id(), colour=tuple(float(v) for v in np.clip(c, 0, 1)), x=0.5, y=0.5, frame=shot[0][0]) for c in places)  # type: ignore[arg-type]
    sought = Selection(id=new_id(), name=colour_name(np.clip(middle, 0, 1)), keys=(HueKey(id=new_id(), picks=picks),))
    made, told = carried(sought, shot, new_id)
    if told.how in ("asks", "needs a pick") or told.colour is None:
        return f"The shot has no such colour ({told.words}); the rest is proposed.", []
    target, original = hex_from_rgb(np.clip(middle, 0, 1)), hex_from_rgb(np.clip(told.colour, 0, 1))
    inside = {"selection": made.id, "side": "inside"}
    steps = [
        Step(
            {"treatment": "monochrome", "name": "Grey outside", "selection": made.id, "side": "outside"},
            f"{100 * (1 - kind.left):.0f} % of the picture is grey",
        ),
        Step({"treatment": "recolour", "name": "Its colour", "params": {"original": original, "target": target}, **inside}, f"What is left is {target} there"),
        *_toned(own, seen, OTHER),
    ]
    return "", [Way("One colour stays", "one colour", steps, (made,))]


def _inked(own: Measured, seen: Measured, kind: Recognised) -> list[Step]:
    """Tones as the inks are laid, then the inks."""
    dark, light, places = inks_of(seen, kind)
    laid = Measured(np.stack([places] * 3), seen.lab, seen.weight)
    words = f"Dark ink {dark}, light ink {light}, {'each laid by itself' if kind.method == 'ink by ink' else 'one going over into the other'}"
    step = Step({"treatment": "duotone", "name": "Two inks", "params": {"dark": dark, "light": light, "method": kind.method}}, words)
    return [*_toned(own, laid, OTHER), step]


def _mapped(seen: Measured, kind: Recognised) -> list[Step]:
    stops = stops_of(seen, kind.curve)
    words = f"{len(stops)} stops hold the colours of all tones; pixels lie {100 * kind.curve.off:.1f} off them"
    return [Step({"treatment": "gradient-map", "name": "Its colours", "params": {"stops": stops, "space": "Oklab"}}, words)]
