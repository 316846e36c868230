"""Edits that need more than the page knows: picks, fences, looks put on. Each makes the commands of an edit, and its words."""

from dataclasses import dataclass

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.names import GREY_CHROMA, colour_name
from wenditas.core.colour.oklab import oklab_from_rgb, oklch_from_rgb, rgb_from_oklab
from wenditas.core.errors import BadLook
from wenditas.core.look.commands import Add, Command, Set
from wenditas.core.look.document import Look, Pass
from wenditas.core.look.targets import join
from wenditas.core.select.islands import Island, fence_around
from wenditas.core.select.keys import ColourKey, HueKey, Key, LightnessKey
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import beginning
from wenditas.store.database import new_id

FENCE_MARGIN = 14  # pixels of a 1080-line picture around an island
HUELESS, GREYER = GREY_CHROMA, 0.01  # chroma below which a hue says nothing; how far above a grey the least chroma is set
GREY_KEY = {"tolerance": 4, "softness": 4, "lightness_weight": 100}  # closer than for colours: greys differ by lightness alone
DARK, BRIGHT, ROOM, SOFT = 0.35, 0.85, 6, 8  # lightness that is keyed by itself, below and above; percent around a pick, and soft beyond
Made = tuple[list[Command], str]  # commands, and words


def whole_look(look: Look) -> list[Command]:
    """Put a look in place of the shot's own."""
    return [Set(target="look", value=look.model_dump(mode="json"))]


def more(before: Look, after: Look) -> list[Command]:
    """Add what a look has more than it had: selections, bundles, passes and lanes, each where it stands."""
    commands: list[Command] = []
    for key in ("selections", "bundles", "passes"):
        known, has = {item.id for item in getattr(before, key)}, getattr(after, key)
        for n, item in enumerate(has):
            if item.id not in known:
                follows = next((other.id for other in has[n:] if other.id in known), None)
                commands.append(Add(target=f"look/{key}", value=item.model_dump(mode="json"), before=follows))
    animated = {lane.target for lane in before.lanes}
    coming = (lane for lane in after.lanes if lane.target not in animated)
    return [*commands, *(Set(target=join(["look", "lanes", lane.target]), value=lane.model_dump(mode="json")) for lane in coming)]


def only_pass(look: Look, pass_id: str) -> Look:
    """One pass of a look with the selection that it uses, and the lanes of both. Raises `BadLook` where there is no such pass."""
    found = next((p for p in look.passes if p.id == pass_id), None)
    if found is None:
        raise BadLook(f"The look has no pass {pass_id!r}.")
    selections = tuple(s.model_copy(update={"reads": None}) for s in look.selections if s.id == found.selection)
    owners = {f"passes/{found.id}", f"selections/{found.selection}"}
    return Look(selections=selections, passes=(found.model_copy(update={"bundle": None}),), lanes=tuple(lane for lane in look.lanes if lane.owner in owners))


def follow_picks(look: Look) -> Look:
    """The look with the colours that follow picks, such as what a recolour starts from, at the mean of their selection's picks."""
    passes = tuple(_following(item, look) for item in look.passes)
    return look.model_copy(update={"passes": passes})


def following(before: Look, after: Look) -> list[Command]:
    """What brings such colours along after an edit of picks."""
    old = {item.id: item.params for item in before.passes}
    changed = (item for item in follow_picks(after).passes if old.get(item.id) != item.params)
    params = ((item, str(TREATMENTS[item.treatment].follows_picks)) for item in changed if item.id in old)
    return [Set(target=join(["look", "passes", item.id, "params", param]), value=item.params[param]) for item, param in params]


def _following(item: Pass, look: Look) -> Pass:
    treatment = TREATMENTS.get(item.treatment)
    if treatment is None or treatment.follows_picks is None or item.selection is None or item.side != beginning(treatment):
        return item
    param = treatment.follows_picks
    picks = [p.colour for k in look.selection(item.selection).keys if isinstance(k, HueKey | ColourKey) for p in k.picks]
    if not picks:
        return item
    mean = rgb_from_oklab(oklab_from_rgb(np.array(picks).T).mean(axis=1))
    return item.model_copy(update={"params": {**item.params, param: hex_from_rgb(mean)}})


def selection_target(selection_id: str, *more: str) -> str:
    """The target of a selection of a shot's look, or of something in it."""
    return join(["look", "selections", selection_id, *more])


def shape_of(look: Look, selection_id: str, shape_id: str) -> Shape:
    """A shape of a selection. Raises `BadLook` where there is none."""
    found = next((shape for shape in look.selection(selection_id).shapes if shape.id == shape_id), None)
    if found is None:
        raise BadLook(f"The selection has no shape {shape_id!r}.")
    return found


def fence(look: Look, selection_id: str, frame: int, island: Island, keep: bool) -> tuple[list[Command], str, str]:
    """Fence an island off, or keep only it: commands, words, and the new shape's id."""
    selection = look.selection(selection_id)
    points = tuple(Point(x=round(float(x), 2), y=round(float(y), 2)) for x, y in fence_around(island.outline, FENCE_MARGIN))
    name = _free("Keep" if keep else "Fence", {s.name for s in selection.shapes})
    shape = Shape(id=new_id(), name=name, mode="keep" if keep else "leave out", kind="polygon", points=points)
    words = f"{name} around an island of {selection.name} at frame {frame}"
    return [Add(target=selection_target(selection_id, "shapes"), value=shape.model_dump(mode="json"))], words, shape.id


@dataclass(frozen=True)
class Picked:
    """What a pick makes: commands and words, the id of the selection that it goes to, and what is to be said of it."""

    commands: list[Command]
    words: str
    selection: str
    note: str = ""


def picked(look: Look, pick: Pick, selection_id: str | None, refuse: bool, key_id: str | None = None, name: str | None = None) -> Picked:
    """What a pick makes.

    Without a selection: a new one, of the name given or named after its colour, keyed by hue from this pick; a grey has none, so it is keyed by
    lightness, or by colour.
    With one: a pick or not-this pick added to the given key, or to the first that takes picks.
    """
    if selection_id is None:
        if refuse:
            raise BadLook("A not-this pick narrows a selection; pick the colour to select first.")
        name = _free(name or colour_name(pick.colour), {s.name for s in look.selections})
        key, note = _first_key(pick)
        made = Selection(id=new_id(), name=name, keys=(key,))
        return Picked([Add(target="look/selections", value=made.model_dump(mode="json"))], f"Selection {name}", made.id, note)
    selection = look.selection(selection_id)
    keys = [key for key in selection.keys if isinstance(key, HueKey | ColourKey | LightnessKey)]
    to = next((key for key in keys if key.id == key_id), None) or next((k for k in keys if not isinstance(k, LightnessKey)), None) or next(iter(keys), None)
    what = "Not-this pick" if refuse else "Pick"
    commands, note = _picked_into(selection, to, pick, refuse)
    return Picked(commands, f"{what} added to {selection.name}", selection_id, note)


def _first_key(pick: Pick) -> tuple[Key, str]:
    """The key that a pick begins a selection with, and what is to be said of it."""
    lightness, chroma, _ = (float(v) for v in oklch_from_rgb(np.clip(pick.colour, 0, 1.25)))
    if chroma >= HUELESS:
        return HueKey(id=new_id(), picks=(pick,)), ""
    if DARK <= lightness <= BRIGHT:
        return ColourKey(id=new_id(), picks=(pick,), **GREY_KEY), "This is grey, whose hue says nothing: it is keyed by colour instead, lightness included."
    dark = lightness < DARK
    low, high = (0, 100 * lightness + ROOM) if dark else (100 * lightness - ROOM, 100)
    soft = {"soft_low": 0 if dark else SOFT, "soft_high": SOFT if dark else 0}
    key = LightnessKey(id=new_id(), low=round(max(low, 0), 1), high=round(min(high, 100), 1), **soft)
    return key, f"This has no hue to speak of: it is keyed by lightness instead, {key.low:g} to {key.high:g} %."


def _picked_into(selection: Selection, key: HueKey | ColourKey | LightnessKey | None, pick: Pick, refuse: bool) -> tuple[list[Command], str]:
    """Commands that add a pick to a key of a selection, and what is to be said of it."""
    if key is None:
        made, note = _first_key(pick)
        if refuse:
            made, note = made.model_copy(update={"combine": "subtract"}), f"{note} It takes away what is like this.".strip()
        return [Add(target=selection_target(selection.id, "keys"), value=made.model_dump(mode="json"))], note
    of_key = selection_target(selection.id, "keys", str(key.id))
    lightness, chroma, _ = (float(v) for v in oklch_from_rgb(np.clip(pick.colour, 0, 1.25)))
    if isinstance(key, LightnessKey):
        low, high = _stretched(key, 100 * lightness, refuse)
        changed = [Set(target=f"{of_key}/{field}", value=value) for field, value in (("low", low), ("high", high)) if value != getattr(key, field)]
        return [*changed], f"Keyed by lightness: {low:g} to {high:g} %."
    if isinstance(key, HueKey) and chroma < HUELESS:
        if not refuse:
            made, note = _first_key(pick)
            return [Add(target=selection_target(selection.id, "keys"), value=made.model_dump(mode="json"))], note
        least = round(min(max(key.least_chroma, chroma + GREYER), 0.3), 3)
        return [Set(target=f"{of_key}/least_chroma", value=least)], f"This is grey, whose hue says nothing: least chroma is {least:g} now, which keeps it out."
    return [Add(target=f"{of_key}/{'refused' if refuse else 'picks'}", value=pick.model_dump(mode="json"))], ""


def _stretched(key: LightnessKey, lightness: float, refuse: bool) -> tuple[float, float]:
    """The ends of a key by lightness, in percent, that take a lightness in, or leave it out by the end that is nearer."""
    if not refuse:
        return round(min(key.low, max(lightness - ROOM, 0)), 1), round(max(key.high, min(lightness + ROOM, 100)), 1)
    if lightness - key.low < key.high - lightness:
        return round(min(lightness + key.soft_low + 1, key.high), 1), key.high
    return key.low, round(max(lightness - key.soft_high - 1, key.low), 1)


def _free(name: str, taken: set[str]) -> str:
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)
