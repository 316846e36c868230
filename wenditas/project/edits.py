"""Edits that need more than the page knows: picks, fences, looks put on. Each makes the commands of an edit, and its words."""

from collections.abc import Mapping

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.errors import BadLook
from wenditas.core.kernel import Matte
from wenditas.core.look.commands import Add, Command, Set
from wenditas.core.look.document import Look, Pass
from wenditas.core.look.targets import join
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.fit import FITTED
from wenditas.core.select.islands import Island, fence_around
from wenditas.core.select.keys import ColourKey, HueKey
from wenditas.core.select.objects.outlines import LINES, outline_of, strokes_of
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape, outline
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import beginning
from wenditas.store.database import new_id

FENCE_MARGIN = 14  # pixels of a 1080-line picture around an island
Made = tuple[list[Command], str]  # commands, and words


def whole_look(look: Look) -> list[Command]:
    """Put a look in place of the shot's own."""
    return [Set(target="look", value=look.model_dump(mode="json"))]


def more(before: Look, after: Look) -> list[Command]:
    """Add what a look has more than it had: selections, bundles, passes and lanes, each where it stands, and what it silences."""
    commands: list[Command] = []
    for key in ("selections", "bundles", "passes"):
        known, has = {item.id for item in getattr(before, key)}, getattr(after, key)
        for n, item in enumerate(has):
            if item.id not in known:
                follows = next((other.id for other in has[n:] if other.id in known), None)
                commands.append(Add(target=f"look/{key}", value=item.model_dump(mode="json"), before=follows))
    animated = {lane.target for lane in before.lanes}
    coming = (lane for lane in after.lanes if lane.target not in animated)
    commands += [Set(target=join(["look", "lanes", lane.target]), value=lane.model_dump(mode="json")) for lane in coming]
    return commands if after.silenced == before.silenced else [*commands, Set(target="look/silenced", value=list(after.silenced))]


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
    name = free_name("Keep" if keep else "Fence", {s.name for s in selection.shapes})
    shape = Shape(id=new_id(), name=name, mode="keep" if keep else "leave out", kind="polygon", points=points)
    words = f"{name} around an island of {selection.name} at frame {frame}"
    return [Add(target=selection_target(selection_id, "shapes"), value=shape.model_dump(mode="json"))], words, shape.id


def object_of(look: Look, selection_id: str, object_id: str) -> ObjectPart:
    """An object of a selection. Raises `BadLook` where there is none."""
    found = next((part for part in look.selection(selection_id).objects if part.id == object_id), None)
    if found is None:
        raise BadLook(f"The selection has no object {object_id!r}.")
    return found


def shape_from(look: Look, selection_id: str, part: ObjectPart, matte: Matte, frame: int) -> tuple[list[Command], str, str]:
    """A shape as an object lies at a frame, in its place: commands, words, and the shape's id. Raises `BadLook` where there is nothing to go around."""
    points = tuple(Point(x=round(float(x), 2), y=round(float(y), 2)) for x, y in outline_of(matte))
    if not points:
        raise BadLook(f"{part.name} is not to be seen at frame {frame}: there is nothing to make a shape of.")
    name = free_name(part.name, {s.name for s in look.selection(selection_id).shapes})
    mode = "leave out" if part.mode == "leave out" else "keep"
    shape = Shape(id=new_id(), name=name, mode=mode, kind="polygon", points=points, feather_out=0)
    add = Add(target=selection_target(selection_id, "shapes"), value=shape.model_dump(mode="json"))
    return [add, Set(target=selection_target(selection_id, "objects", part.id, "on"), value=False)], f"{part.name} made a shape at frame {frame}", shape.id


def object_from(look: Look, selection_id: str, shape: Shape, frame: int) -> tuple[list[Command], str, str]:
    """An object stroked as a shape lies at a frame, in its place: commands, words, and the object's id."""
    name = free_name(shape.name, {o.name for o in look.selection(selection_id).objects})
    strokes = strokes_of(outline(shape, frame), frame, [new_id() for _ in range(LINES + 1)])
    part = ObjectPart(id=new_id(), name=name, mode=shape.mode, strokes=strokes)
    add = Add(target=selection_target(selection_id, "objects"), value=part.model_dump(mode="json"))
    return [add, Set(target=selection_target(selection_id, "shapes", shape.id, "on"), value=False)], f"{shape.name} made an object at frame {frame}", part.id


def fitted(selection_id: str, key: HueKey) -> list[Command]:
    """Give a key by hue of a selection the limits of a fit."""
    value = key.model_dump(mode="json")
    return [Set(target=selection_target(selection_id, "keys", key.id, field), value=value[field]) for field in FITTED]


def renewed(selection: Selection, fits: Mapping[str, HueKey]) -> list[Command]:
    """Key a selection as new ones are. fits: its keys by hue, fitted anew, by id."""
    new = Cleaning()
    cleaning: list[Command] = [
        Set(target=selection_target(selection.id, "cleaning", field), value=getattr(new, field)) for field in ("denoise_chroma", "follow")
    ]
    return [*cleaning, *(command for key in fits.values() for command in fitted(selection.id, key))]


def free_name(name: str, taken: set[str]) -> str:
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)
