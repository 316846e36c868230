"""Content keys: equal keys show equal pixels. They are made of what stands still, worked out once, and of what moves, at each frame."""

import hashlib
import json
from collections.abc import Iterable
from threading import Lock
from typing import Any

from cachetools import LRUCache
from pydantic import BaseModel

from wenditas.core.film.nodes import Accompanied, Blank, Footage, Join, Node, Placed, Shot, Span
from wenditas.core.look.animate import lane_value
from wenditas.core.look.document import Bundle, Look, Pass
from wenditas.core.look.plan import View, active, params_of
from wenditas.core.params import describe
from wenditas.core.select.selection import Selection
from wenditas.core.select.shapes import transform_at
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import never
from wenditas.core.treat.shot_laid_in import ShotLaidIn, frame_shown

REMEMBERED = 256
Known = dict[tuple[Any, ...], str]  # keys by what they are of: the id of a node, a frame and a view


def _digest(*parts: Any) -> str:
    return hashlib.sha256(json.dumps(parts, default=_plain, sort_keys=True).encode()).hexdigest()[:32]


def _plain(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, BaseModel) else list(value)


class Keys:
    """Content keys of nodes. engine: what names the state of the code that makes the pictures; keys of another state never meet."""

    def __init__(self, engine: str = "") -> None:
        self.engine = engine
        self._recipes: LRUCache[tuple[Any, ...], tuple[Look, Recipe]] = LRUCache(REMEMBERED)
        self._plain: LRUCache[int, tuple[Node, str]] = LRUCache(REMEMBERED)
        self._lock = Lock()

    def of(self, node: Node, frame: int, view: View = "result", selection: str | None = None, upto: int | None = None, known: Known | None = None) -> str:
        """The key of a view of a node at a frame. See `render` for the view. known: those that were worked out on the way to another."""
        known = {} if known is None else known
        frame = min(max(frame, 0), node.length - 1)
        place = (id(node), frame, view, selection, upto)
        if place not in known:  # what many frames of many looks read is named once
            known[place] = self._of(node, frame, view, selection, upto, known)
        return known[place]

    def _of(self, node: Node, frame: int, view: View, selection: str | None, upto: int | None, known: Known) -> str:
        if isinstance(node, Footage):
            return _digest(self.engine, node.content, node.fps, node.noise, 0 if node.still else frame)
        if isinstance(node, Blank):
            return _digest(self.engine, node.width, node.height, node.colour)
        if isinstance(node, Accompanied):
            return self.of(node.of, frame, view, selection, upto, known)
        if isinstance(node, Shot):
            return self.look_key(node, node.first + frame, view, selection, upto, known)
        if isinstance(node, Placed):
            static = self._static(node, {"of", "first", "own", "heard", "gain", "rise", "fall"})
            return _digest(static, self.of(node.of, node.shown(frame), view, selection, upto, known))
        if isinstance(node, Join):
            if node.reveal is not None and view != "result":
                return self.of(node.hole, node.side(frame), view, selection, upto, known)
            a, b = node.sides(frame)
            at = frame if node.reveal is None else [frame, a if node.reveal.of == "outgoing" else b]
            return _digest(self._static(node, {"a", "b", "from_a", "from_b"}), at, self.of(node.a, a, known=known), self.of(node.b, b, known=known))
        if isinstance(node, Span):
            if not node.first <= frame <= node.last and view == "result" and upto is None:
                return self.of(node.of, frame, known=known)
            worn = self.look_key(node, frame - node.first, view, selection, upto, known)
            return _digest(self._static(node, {"of", "look"}), upto is None, frame - node.first, worn)
        part, number = node.part_at(frame)
        return self.of(part.of, number, view, selection, upto, known)

    def look_key(
        self, node: Shot | Span, number: int, view: View = "result", selection: str | None = None, upto: int | None = None, known: Known | None = None
    ) -> str:
        """The key of a view of the look of a node at a frame that its lanes count. known: see `of`."""
        known = {} if known is None else known
        recipe = self.recipe(node.look, view, selection, upto)
        moving = recipe.moving(number, float(node.rate))
        laid = self._laid(node, number, recipe, known)
        return _digest(recipe.digest, sorted(recipe.files & set(node.files)), self._under(node, number, recipe.looks, known), moving, *([laid] if laid else []))

    def _laid(self, node: Shot | Span, number: int, recipe: "Recipe", known: Known) -> list[str]:
        """The keys of what other shots show that passes lay in, at the frames that are read too."""
        found = []
        for params in recipe.laid:
            laid = next((laid for laid in node.laid if laid.id == params.shot), None)
            if laid is None:
                continue
            part = laid.part(params.part)
            for offset in sorted({0, *recipe.looks}):
                shown = laid.frame(frame_shown(params, number + offset, float(laid.of.rate / node.rate)))
                found.append(self.of(laid.of, shown, known=known))
                found += [] if part is None else [self.of(laid.of, shown, "matte", part, known=known)]
        return found

    def matte_key(self, node: Shot | Span, selection: str, number: int) -> str:
        """The key of the matte of a selection at a frame that the lanes of its look count."""
        return self.look_key(node, number, "matte", selection)

    def _under(self, node: Shot | Span, number: int, looks: tuple[int, ...], known: Known) -> list[str]:
        """The keys of what lies under a look: at the frame, and at those around it that the look reads."""
        offset = node.first if isinstance(node, Span) else 0
        base = node.of
        if isinstance(base, Footage):
            held = 0 if base.still else number
            return [self.of(base, held, known=known), *([str(base.frames)] if looks and not base.still else [])]
        return [self.of(base, offset + number + n, known=known) for n in (0, *looks)]

    def recipe(self, look: Look, view: View = "result", selection: str | None = None, upto: int | None = None) -> "Recipe":
        """What a view of a look depends on, apart from the frame."""
        place = (id(look), view, selection, upto)
        with self._lock:
            kept = self._recipes.get(place)
            if kept is None or kept[0] is not look:
                kept = self._recipes[place] = (look, Recipe(look, view, selection, upto))  # holding the look keeps its id from being used again
            return kept[1]

    def _static(self, node: Node, without: set[str]) -> str:
        with self._lock:
            kept = self._plain.get(id(node))
            if kept is None or kept[0] is not node:
                kept = self._plain[id(node)] = (node, _digest(self.engine, node.model_dump(mode="json", exclude=without)))
            return kept[1]


class Recipe:
    """What a view of a look depends on, apart from the frame. files: digests; looks: the frames that it reads, relative to its own."""

    def __init__(self, look: Look, view: View, selection: str | None, upto: int | None) -> None:
        self.look = look
        result = view == "result"
        animated = {lane.target for lane in look.lanes}
        passes = [p for p in look.passes[:upto] if p.on or f"passes/{p.id}/on" in animated] if result else []
        grouped = {p.bundle for p in passes}
        bundles = [b for b in look.bundles if b.id in grouped]
        laid: list[Pass | Bundle] = [*passes, *bundles]
        used = {p.selection for p in laid if p.side != "everywhere"} if result else {selection} if view != "source" else set()
        selections = [s for s in look.selections if s.id in used]
        if any(s.reads for s in selections):  # then the matte depends on passes and their selections too
            passes, bundles, selections = list(look.passes), list(look.bundles), list(look.selections)
        owners = {f"passes/{p.id}" for p in passes} | {f"bundles/{b.id}" for b in bundles} | {f"selections/{s.id}" for s in selections}
        self.lanes = [lane for lane in look.lanes if lane.owner in owners]
        self.shapes = [(f"{s.id}/{shape.id}", shape) for s in selections for shape in s.shapes if shape.track or shape.corrections]
        steadied = max((_steadied(look, s) for s in selections), default=0)
        known = [p for p in passes if p.known and (active(p) or any(lane.owner == f"passes/{p.id}" for lane in look.lanes))]
        self.moves = any(_moves(p, animated) for p in known)
        self.offsets = _offsets(known, animated)
        around = range(-steadied, steadied + 1)  # of each frame that is read: what a pass reads there is steadied too
        self.looks = tuple(sorted({n + m for n in (0, *self.offsets) for m in around} - {0}))
        self.laid = [p for item in known if isinstance(p := params_of(item), ShotLaidIn) and p.shot]
        self.files = frozenset(v for p in known for v in p.params.values() if isinstance(v, str))
        shown = [p.model_dump(mode="json", exclude={"name"}) for p in passes] + [_without_moves(s) for s in selections]
        shown += [b.model_dump(mode="json", exclude={"name"}) for b in bundles]
        still_open = [b.id for b in bundles if upto is not None and any(p.bundle == b.id for p in look.passes[upto:])]
        self.digest = _digest(view, selection if view not in ("result", "source") else None, shown, *([still_open] if still_open else []))

    def moving(self, frame: int, rate: float) -> list[Any]:
        """What the frame adds: animated values and where shapes lie, here and at the frames that are read, and what changes by itself."""
        frames = sorted({frame, *(frame + n for n in self.looks)}) if self.lanes or self.shapes else []
        values: list[Any] = [[lane.target, lane_value(self.look, lane, n, rate)] for n in frames for lane in self.lanes]
        places = [[owner, *(transform_at(shape, n).values() for n in frames)] for owner, shape in self.shapes]
        return [values, places, frame if self.moves or self.offsets else None]


def _offsets(passes: Iterable[Pass], animated: set[str]) -> set[int]:
    """The frames that passes over time read, one after another: each reads what the ones before it have read."""
    found = {0}
    for item in passes:
        looks: Iterable[int] = TREATMENTS[item.treatment].looks(params_of(item))
        if looks and _animated(item, animated):  # how far it looks may change: as far as it ever may
            most = {p.key: p.high for p in describe(TREATMENTS[item.treatment].params) if p.kind == "number"}
            looks = range(min(TREATMENTS[item.treatment].looks(params_of(item).model_copy(update=most))), 0)
        found |= {a + b for a in found for b in looks}
    return found - {0}


def _animated(item: Pass, animated: set[str]) -> bool:
    return any(target.startswith(f"passes/{item.id}/params/") for target in animated)


def _moves(item: Pass, animated: set[str]) -> bool:
    """Whether a pass changes by itself, or may once its animated parameters are others."""
    treatment = TREATMENTS[item.treatment]
    return treatment.moves(params_of(item)) or (treatment.moves is not never and _animated(item, animated))


def _without_moves(selection: Selection) -> dict[str, Any]:
    return selection.model_dump(mode="json", exclude={"name": True, "shapes": {"__all__": {"track", "corrections"}}})


def _steadied(look: Look, selection: Selection) -> int:
    """How many frames around the one shown a selection's matte may look at."""
    target = f"selections/{selection.id}/cleaning/steady"
    keyed = [k.value for lane in look.lanes if lane.target == target for k in lane.keyframes]
    return int(max([selection.cleaning.steady, *keyed]))
