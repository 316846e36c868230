"""Edits of shot documents: validated, stored with their history, in one transaction."""

from typing import Any

import numpy as np

from wenditas.core.colour.hexes import hex_from_rgb
from wenditas.core.colour.names import colour_name
from wenditas.core.colour.oklab import oklab_from_rgb, rgb_from_oklab
from wenditas.core.errors import BadLook
from wenditas.core.look.document import Look, Pass, ShotDocument, parse_shot
from wenditas.core.look.patch import Patch, apply_patch
from wenditas.core.select.islands import Island, fence_around
from wenditas.core.select.keys import ColourKey, HueKey
from wenditas.core.select.picks import Pick
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import Point, Shape
from wenditas.media.facts import Facts
from wenditas.store import shots
from wenditas.store.database import Database, new_id

FENCE_MARGIN = 14  # pixels of a 1080-line picture around an island


def load(db: Database, shot_id: str, facts: Facts, revision: int | None = None) -> tuple[int, ShotDocument]:
    """A revision of a shot (the newest by default): its number and its document."""
    row = shots.head(db, shot_id) if revision is None else shots.revision(db, shot_id, revision)
    return row.id, parse_shot(row.document, facts.length)


def new_shot(db: Database, footage_id: str, name: str, facts: Facts, look: Look | None = None) -> shots.ShotRow:
    """A shot of all frames of a piece of footage."""
    document = ShotDocument(first=0, last=facts.length - 1, look=look or Look())
    return shots.add_shot(db, footage_id, name, document.model_dump(mode="json"))


def edit_pick(db: Database, shot_id: str, facts: Facts, base: int, patch: Patch, words: str) -> None:
    """An edit of picks: recolour passes inside the selection then start from its new mean colour, in the same step."""
    _, document = load(db, shot_id, facts, base)
    followed = follow_picks(apply_patch(document, patch, facts.length).look)
    moves = [
        {"op": "replace", "path": f"/look/passes/{n}/params/original", "value": after.params["original"]}
        for n, (before, after) in enumerate(zip(document.look.passes, followed.passes, strict=True))
        if before.params != after.params
    ]
    edit(db, shot_id, facts, base, [*patch, *moves], words)


def edit(db: Database, shot_id: str, facts: Facts, base: int, patch: Patch, words: str) -> None:
    """Apply a JSON Patch to revision `base` and make the result the head.

    Raises `BadPatch`, `BadLook`, or `StaleRevision` where the head is no longer `base`.
    """
    _, document = load(db, shot_id, facts, base)
    changed = apply_patch(document, patch, facts.length)
    shots.add_revision(db, shot_id, base, words, patch, changed.model_dump(mode="json"))


def replace_look(db: Database, shot_id: str, facts: Facts, base: int, look: Look, words: str) -> None:
    """Put a look in place of the shot's own, as one edit."""
    edit(db, shot_id, facts, base, [{"op": "replace", "path": "/look", "value": look.model_dump(mode="json")}], words)


def load_look(db: Database, shot_id: str, facts: Facts, base: int, look: Look, name: str) -> None:
    """Put a whole look in place of the shot's own."""
    replace_look(db, shot_id, facts, base, look, f"Look loaded: {name}")


def only_pass(look: Look, pass_id: str) -> Look:
    """One pass of a look with the selection that it uses, and the lanes of both. Raises `BadLook` where there is no such pass."""
    found = next((p for p in look.passes if p.id == pass_id), None)
    if found is None:
        raise BadLook(f"The look has no pass {pass_id!r}.")
    selections = tuple(s.model_copy(update={"reads": None}) for s in look.selections if s.id == found.selection)
    owners = {f"passes/{found.id}", f"selections/{found.selection}"}
    return Look(selections=selections, passes=(found,), lanes=tuple(lane for lane in look.lanes if lane.owner in owners))


def follow_picks(look: Look) -> Look:
    """The look with every recolour inside a selection starting from the mean colour of that selection's picks."""
    passes = tuple(_following(item, look) for item in look.passes)
    return look.model_copy(update={"passes": passes})


def _following(item: Pass, look: Look) -> Pass:
    if item.treatment != "recolour" or item.selection is None or item.side != "inside":
        return item
    picks = [p.colour for k in look.selection(item.selection).keys if isinstance(k, HueKey | ColourKey) for p in k.picks]
    if not picks:
        return item
    mean = rgb_from_oklab(oklab_from_rgb(np.array(picks).T).mean(axis=1))
    return item.model_copy(update={"params": {**item.params, "original": hex_from_rgb(mean)}})


def selection_path(document: ShotDocument, selection_id: str) -> str:
    """Where a selection lies in the document. Raises `BadLook` where it does not."""
    selection = document.look.selection(selection_id)
    return f"/look/selections/{document.look.selections.index(selection)}"


def shape_path(document: ShotDocument, selection_id: str, shape_id: str) -> str:
    """Where a shape lies in the document. Raises `BadLook` where it does not."""
    for n, shape in enumerate(document.look.selection(selection_id).shapes):
        if shape.id == shape_id:
            return f"{selection_path(document, selection_id)}/shapes/{n}"
    raise BadLook(f"The selection has no shape {shape_id!r}.")


def fence_patch(document: ShotDocument, selection_id: str, frame: int, island: Island, keep: bool) -> tuple[Patch, str, str]:
    """The edit that fences an island off (or keeps only it): patch, words, and the new shape's id."""
    selection = document.look.selection(selection_id)
    points = tuple(Point(x=round(float(x), 2), y=round(float(y), 2)) for x, y in fence_around(island.outline, FENCE_MARGIN))
    taken = {s.name for s in selection.shapes}
    stem = "Keep" if keep else "Fence"
    name = next(n for n in (stem, *(f"{stem} {k}" for k in range(2, 1000))) if n not in taken)
    shape = Shape(id=new_id(), name=name, mode="keep" if keep else "leave out", kind="polygon", points=points)
    path = f"{selection_path(document, selection_id)}/shapes/-"
    words = f"{name} around an island of {selection.name} at frame {frame}"
    return [{"op": "add", "path": path, "value": shape.model_dump(mode="json")}], words, shape.id


def pick_patch(document: ShotDocument, pick: Pick, selection_id: str | None, refuse: bool, key_number: int = 0) -> tuple[Patch, str]:
    """The edit that a pick makes, and its words.

    Without a selection: a new one, keyed by hue from this pick, named after its colour.
    With one: a pick or not-this pick added to the given key, or the first that takes picks.
    """
    value: dict[str, Any] = pick.model_dump(mode="json")
    if selection_id is None:
        if refuse:
            raise BadLook("A not-this pick narrows a selection; pick the colour to select first.")
        name = _free_name(document, colour_name(pick.colour))
        selection = Selection(id=new_id(), name=name, keys=(HueKey(picks=(pick,)),))
        return [{"op": "add", "path": "/look/selections/-", "value": selection.model_dump(mode="json")}], f"Selection {name}"
    selection, path = document.look.selection(selection_id), selection_path(document, selection_id)
    takes_picks = [n for n, k in enumerate(selection.keys) if isinstance(k, HueKey | ColourKey)]
    if key_number in takes_picks:
        takes_picks = [key_number]
    if not takes_picks:
        key = HueKey(picks=(pick,)).model_dump(mode="json")
        return [{"op": "add", "path": f"{path}/keys/-", "value": key}], f"Pick added to {selection.name}"
    field, words = ("refused", "Not-this pick added to") if refuse else ("picks", "Pick added to")
    return [{"op": "add", "path": f"{path}/keys/{takes_picks[0]}/{field}/-", "value": value}], f"{words} {selection.name}"


def _free_name(document: ShotDocument, name: str) -> str:
    taken = {s.name for s in document.look.selections}
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)
