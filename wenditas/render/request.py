"""What to show: one view of a look on one frame. Requests that give the same picture have the same key."""

import hashlib
import json
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from wenditas.core.look.animate import lane_value
from wenditas.core.look.document import Look
from wenditas.core.look.plan import View
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import transform_at

FULL = 100_000  # a width that no footage exceeds: its own size
REMEMBERED = 32


@dataclass(frozen=True)
class Request:
    """One view of a look on one frame, at most `width` wide; `proxy`: seen through the footage's preview copy."""

    footage_id: str
    look: Look
    frame: int
    width: int = FULL
    view: View = "result"
    selection: str | None = None
    upto: int | None = None
    proxy: bool = False


class Keys:
    """Content keys of requests: made of what stands still in a look, worked out once, and of what moves, at each frame."""

    def __init__(self) -> None:
        self._recipes: OrderedDict[tuple[int, str, str | None, int | None], tuple[Look, Recipe]] = OrderedDict()

    def of(self, request: Request, rate: float) -> str:
        """The key of a request. rate: of the footage, frames a second."""
        recipe = self._recipe(request)
        moving = json.dumps([request.footage_id, request.frame, request.width, request.view, request.proxy, recipe.moving(request.frame, rate)], default=_plain)
        return hashlib.sha256((recipe.digest + moving).encode()).hexdigest()

    def _recipe(self, request: Request) -> "Recipe":
        place = (id(request.look), request.view, request.selection, request.upto)
        kept = self._recipes.get(place)
        if kept is not None and kept[0] is request.look:
            return kept[1]
        recipe = Recipe(request)
        self._recipes[place] = (request.look, recipe)  # holding the look keeps its id from being used again
        while len(self._recipes) > REMEMBERED:
            self._recipes.popitem(last=False)
        return recipe


def _plain(value: BaseModel) -> Any:
    return value.model_dump(mode="json")


class Recipe:
    """What a view of a look depends on, apart from the frame."""

    def __init__(self, request: Request) -> None:
        self.look = look = request.look
        result = request.view == "result"
        animated = {lane.target for lane in look.lanes}
        passes = [p for p in look.passes[: request.upto] if p.on or f"passes/{p.id}/on" in animated] if result else []
        used = {p.selection for p in passes} if result else {request.selection} if request.view != "source" else set()
        selections = [s for s in look.selections if s.id in used]
        if any(s.reads for s in selections):  # then the matte depends on passes and their selections too
            passes, selections = list(look.passes), list(look.selections)
        owners = {f"passes/{p.id}" for p in passes} | {f"selections/{s.id}" for s in selections}
        self.lanes = [lane for lane in look.lanes if lane.owner in owners]
        self.shapes = [(shape, _steadied(look, s)) for s in selections for shape in s.shapes if shape.track or shape.corrections]
        shown = [p.model_dump(mode="json", exclude={"name"}) for p in passes] + [_without_moves(s) for s in selections]
        self.digest = hashlib.sha256(json.dumps(shown, sort_keys=True).encode()).hexdigest()

    def moving(self, frame: int, rate: float) -> list[Any]:
        """What the frame adds: animated values, and where shapes lie (also at the frames around that steady a matte)."""
        values: list[Any] = [[lane.target, lane_value(self.look, lane, frame, rate)] for lane in self.lanes]
        return values + [[transform_at(shape, n).values() for n in range(frame - reach, frame + reach + 1)] for shape, reach in self.shapes]


def _without_moves(selection: Selection) -> dict[str, Any]:
    return selection.model_dump(mode="json", exclude={"name": True, "shapes": {"__all__": {"track", "corrections"}}})


def _steadied(look: Look, selection: Selection) -> int:
    """How many frames around the one shown a selection's matte may look at."""
    target = f"selections/{selection.id}/cleaning/steady"
    keyed = [k.value for lane in look.lanes if lane.target == target for k in lane.keyframes]
    return int(max([selection.cleaning.steady, *keyed]))
