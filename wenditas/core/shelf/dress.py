"""Putting a look from the shelf on a shot: passes come anew, selections are kept or asked for."""

from collections.abc import Callable
from typing import Literal, TypeVar

from wenditas.core.look.document import Bundle, Look, Pass
from wenditas.core.look.lanes import Lane
from wenditas.core.select.selection import Selection

P = TypeVar("P", Pass, Bundle)
Where = Literal["instead", "after", "before"]
PICK = "pick"  # the id of the selection that a starter look asks for


def dress(current: Look, look: Look, selection: str | None, new_id: Callable[[], str], where: Where = "instead") -> tuple[Look, str | None]:
    """The look of a shot after one from the shelf was put on it, and the id of the selection that now needs a pick (None where none does).

    selection: one of the shot's own, to be used where the look asks for a pick. The shot's selections stay.
    where: whether its passes take the place of the shot's own, or stand after or before them. All passes and bundles get ids of their own.
    Lanes go where their passes and selections go; what a selection of the shot's own has already stays.
    """
    kept = list(current.selections) if where != "instead" else [s.model_copy(update={"reads": None}) for s in current.selections]
    names = {s.id for s in kept}
    ids: dict[str, str] = {}
    asks = None
    for item in look.selections:
        if item.id == PICK and selection in names:
            ids[item.id] = str(selection)
            continue
        made = item.model_copy(update={"id": new_id(), "name": _free(item.name, {s.name for s in kept})})
        ids[item.id] = made.id
        kept.append(made)
        if not item.keys and not item.shapes and not item.objects:
            asks = made.id
    moved = {p.id: new_id() for p in look.passes}
    kept = [_reading(s, moved) for s in kept]
    grouped = {b.id: new_id() for b in look.bundles}

    def settled(item: P, **more: str | None) -> P:
        return item.model_copy(update={"selection": None if item.selection is None else ids[item.selection], **more})

    passes = tuple(settled(p, id=moved[p.id], bundle=None if p.bundle is None else grouped[p.bundle]) for p in look.passes)
    bundles = tuple(settled(b, id=grouped[b.id]) for b in look.bundles)
    owners = {f"{kind}/{old}": f"{kind}/{new}" for kind, known in (("passes", moved), ("bundles", grouped), ("selections", ids)) for old, new in known.items()}
    own = current.passes if where != "instead" else ()
    every = {"instead": passes, "after": (*own, *passes), "before": (*passes, *own)}[where]
    kept_bundles = (*current.bundles, *bundles) if where != "instead" else bundles
    silenced = tuple(dict.fromkeys((*(current.silenced if where != "instead" else ()), *look.silenced)))
    return Look(selections=tuple(kept), passes=every, bundles=kept_bundles, lanes=_lanes(current, look, owners), silenced=silenced), asks


def _lanes(current: Look, look: Look, moved: dict[str, str]) -> tuple[Lane, ...]:
    """The lanes of both looks; a look drops those whose pass is not in it."""
    animated = {lane.target for lane in current.lanes}
    coming = [lane.model_copy(update={"target": moved[lane.owner] + lane.target.removeprefix(lane.owner)}) for lane in look.lanes]
    return (*current.lanes, *(lane for lane in coming if lane.target not in animated))


def _reading(selection: Selection, moved: dict[str, str]) -> Selection:
    return selection.model_copy(update={"reads": moved.get(selection.reads or "", selection.reads)})


def _free(name: str, taken: set[str]) -> str:
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)
