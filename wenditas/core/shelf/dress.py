"""Putting a look from the shelf on a shot: passes come anew, selections are kept or asked for."""

from collections.abc import Callable

from wenditas.core.look.document import Look
from wenditas.core.look.lanes import Lane
from wenditas.core.select.selection import Selection

PICK = "pick"  # the id of the selection that a starter look asks for


def dress(current: Look, look: Look, selection: str | None, new_id: Callable[[], str], add: bool = False) -> tuple[Look, str | None]:
    """The look of a shot after one from the shelf was put on it, and the id of the selection that now needs a pick (None where none does).

    selection: one of the shot's own, to be used where the look asks for a pick. The shot's selections stay.
    add: put the passes after the shot's own instead of in their place. All passes get ids of their own.
    Lanes go where their passes and selections go; what a selection of the shot's own has already stays.
    """
    kept = list(current.selections) if add else [s.model_copy(update={"reads": None}) for s in current.selections]
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
        if not item.keys and not item.shapes:
            asks = made.id
    moved = {p.id: new_id() for p in look.passes}
    kept = [_reading(s, moved) for s in kept]
    passes = [p.model_copy(update={"id": moved[p.id], "selection": None if p.selection is None else ids[p.selection]}) for p in look.passes]
    lanes = _lanes(
        current, look, {f"passes/{old}": f"passes/{new}" for old, new in moved.items()} | {f"selections/{old}": f"selections/{new}" for old, new in ids.items()}
    )
    return Look(selections=tuple(kept), passes=(*(current.passes if add else ()), *passes), lanes=lanes), asks


def _lanes(current: Look, look: Look, moved: dict[str, str]) -> tuple[Lane, ...]:
    """The lanes of both looks; a look drops those whose pass is not in it."""
    animated = {lane.target for lane in current.lanes}
    coming = [lane.model_copy(update={"target": moved[lane.owner] + lane.target.removeprefix(lane.owner)}) for lane in look.lanes]
    return (*current.lanes, *(lane for lane in coming if lane.target not in animated))


def _reading(selection: Selection, moved: dict[str, str]) -> Selection:
    return selection.model_copy(update={"reads": moved.get(selection.reads or "", selection.reads)})


def _free(name: str, taken: set[str]) -> str:
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 1000))) if n not in taken)
