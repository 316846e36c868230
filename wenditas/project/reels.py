"""A reel's document and the shots it uses, as they stand now, become nodes."""

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from threading import Lock
from typing import Any, Literal

from cachetools import LRUCache

from wenditas.core.errors import NotFound
from wenditas.core.film import Blank, Item, Laid, Node, Overlap, Reel, Reveal, Shot, SoundTrack, Transition, TransitionPlan
from wenditas.core.film.document import EARLY, GAP, ReelDocument, ReelItem, ReelSpan, ReelTransition
from wenditas.core.look.document import Look, Pass
from wenditas.core.look.lanes import Keyframe
from wenditas.project.nodes import Nodes, Stood
from wenditas.store import reels
from wenditas.store.reels import StandingRow

Without = Literal["spans", "looks"]
PLACING = ("fit", "across", "down", "scale", "turn", "mirror_across", "mirror_down", "behind", "heard", "gain", "fade_in", "fade_out")
EMPTY_SIZE, EMPTY_RATE = (1280, 720), "24"  # of a reel that has no items and says nothing else
BLACK, WHITE = "#000000", "#ffffff"
MISSING = "#1c1c1c"  # what is seen where a shot is gone
KEPT = 8  # reels as nodes


@dataclass(frozen=True)
class Ends:
    """Frames of the reel, both included."""

    first: int
    last: int


@dataclass(frozen=True)
class Made:
    """A reel as nodes. reel: None where it has no items; spans: where those lie whose items are there, by id, in order."""

    document: ReelDocument
    width: int
    height: int
    fps: str
    reel: Reel | None
    spans: dict[str, Ends]

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        return Fraction(self.fps)

    @cached_property
    def node(self) -> Node | None:
        """What the reel shows; None where it is empty."""
        return None if self.reel is None else self.reel.node()

    @cached_property
    def without_spans(self) -> Node | None:
        """The reel with the looks of its shots alone."""
        return None if self.reel is None else self.reel.model_copy(update={"spans": ()}).node()

    @cached_property
    def without_looks(self) -> Node | None:
        """The reel as it was filmed."""
        if self.reel is None:
            return None
        items = tuple(item.model_copy(update={"of": _bare(item.of)}) for item in self.reel.items)
        return self.reel.model_copy(update={"spans": (), "items": items}).node()

    def under(self, span_id: str) -> Node | None:
        """What lies under a span, shown or not: the items and the spans below it. None where the reel is empty."""
        if self.reel is None:
            return None
        order = [span.id for span in self.document.spans]
        below = set(order[: order.index(span_id)])
        spans = tuple(laid for laid in self.reel.spans if laid.id in below)
        return self.reel.model_copy(update={"spans": spans, "track": None}).node()

    @cached_property
    def fitted_transitions(self) -> dict[str, Transition]:
        """The transitions as they fit, by the item that they stand after."""
        return {} if self.reel is None else self.reel.fitted_transitions()

    @cached_property
    def overlaps(self) -> dict[str, Overlap]:
        """How the transitions fit, by the item that they stand after."""
        return {} if self.reel is None else {o.after: o for o in self.reel.overlaps()}

    def matte(self, name: str) -> Node | None:
        """The mattes of the selections of that name of its shots, as pictures in grey; black where a shot has none. None where the reel is empty."""
        if self.reel is None:
            return None
        items = tuple(item.model_copy(update={"of": _as_matte(item.of, name), "behind": BLACK}) for item in self.reel.items)
        return self.reel.model_copy(update={"spans": (), "items": items}).node()

    def selections(self) -> list[str]:
        """The names of the selections of its shots, each once, the most common first."""
        names = [s.name for item in (self.reel.items if self.reel else ()) if isinstance(item.of, Shot) for s in item.of.look.selections]
        return sorted(dict.fromkeys(names), key=lambda name: (-names.count(name), name))

    def seen(self, without: Without | None) -> Node | None:
        """The reel, or what is left of it."""
        return {"spans": self.without_spans, "looks": self.without_looks}[without] if without else self.node

    @property
    def length(self) -> int:
        """Frames; at least one."""
        return 1 if self.node is None else self.node.length


def _bare(node: Node) -> Node:
    return node.model_copy(update={"look": Look(), "files": (), "laid": ()}) if isinstance(node, Shot) else node


def _as_matte(node: Node, name: str) -> Node:
    """A shot whose look makes the matte of a selection of its picture: white where it is, on black."""
    if not isinstance(node, Shot):
        return node.model_copy(update={"colour": BLACK}) if isinstance(node, Blank) else node
    look = node.look
    chosen = next((s for s in look.selections if s.name == name), None)
    kept = look.passes if chosen is not None and any(s.reads for s in look.selections) else ()
    laid = [Pass(id="matte-black", name="Black", treatment="solid", params={"colour": BLACK})]
    if chosen is not None:
        laid.append(Pass(id="matte-white", name="White", treatment="solid", params={"colour": WHITE}, selection=chosen.id, side="inside"))
    bundles, lanes = (look.bundles, look.lanes) if kept else ((), tuple(lane for lane in look.lanes if lane.owner.startswith("selections/")))
    return node.model_copy(update={"look": Look(selections=look.selections, passes=(*kept, *laid), bundles=bundles, lanes=lanes)})


class Reels:
    """Makes nodes of reels."""

    def __init__(self, nodes: Nodes) -> None:
        self.nodes = nodes
        self._made: LRUCache[Any, tuple[ReelDocument, Made]] = LRUCache(KEPT)
        self._lock = Lock()

    def standing(self, reel_id: str) -> dict[str, int]:
        """The newest revisions of the shots that can be in a reel, by id."""
        return {id: row.head for id, row in self._rows(reel_id).items() if not row.gone}

    def _rows(self, reel_id: str) -> dict[str, StandingRow]:
        return reels.standing(self.nodes.library.db, reels.reel(self.nodes.library.db, reel_id).project_id)

    def made(self, reel_id: str, document: ReelDocument, stood: Stood = None) -> Made:
        """A document of a reel as nodes, its shots as they stand now, or stood at revisions; the same object while nothing about it changes."""
        rows = self._rows(reel_id)
        rows.update({id: rows[id].model_copy(update={"head": head, "gone": False}) for id, head in (stood or {}).items() if id in rows})
        used = {item.shot for item in document.items}
        key = (id(document), self.nodes.state, tuple((i, rows[i].head, rows[i].gone) for i in sorted(used & rows.keys())))
        with self._lock:
            kept = self._made.get(key)
        if kept is not None and kept[0] is document and not any(isinstance(i.of, Shot) and i.of.laid for i in (kept[1].reel.items if kept[1].reel else ())):
            return kept[1]
        made = self._make(document, rows, stood)
        with self._lock:
            self._made[key] = (document, made)  # holding the document keeps its id from being used again
        return made

    def _make(self, document: ReelDocument, rows: Mapping[str, StandingRow], stood: Stood) -> Made:
        longest: dict[str, int] = {}
        for item in document.items:
            longest[item.shot] = max(item.last + 1, longest.get(item.shot, 0))
        nodes = {i: self._shot(rows[i], longest[i], stood) for i in longest.keys() & rows.keys()}
        first = next((nodes[item.shot] for item in document.items if item.shot in nodes), None)
        width, height = first.size if first else EMPTY_SIZE
        if document.width and document.height:
            width, height = document.width, document.height
        fps = document.fps or (str(first.rate) if first else EMPTY_RATE)
        if not document.items:
            return Made(document, width, height, fps, None, {})
        items = tuple(self._item(item, nodes.get(item.shot), (width, height), fps) for item in document.items)
        plain = Reel(items=items, width=width, height=height, fps=fps)
        transitions = tuple(_planned(transition) for transition in document.transitions)
        ends = span_ends(document, plain)
        shown = tuple(self.laid(span, ends[span.id], stood) for span in document.spans if span.id in ends and span.on)
        track = self._track(document)
        return Made(document, width, height, fps, plain.model_copy(update={"transitions": transitions, "spans": shown, "track": track}), ends)

    def _shot(self, row: StandingRow, longest: int, stood: Stood) -> Node:
        """A shot of all its footage, a still as long as its items are drawn; what lies there where it is gone."""
        facts = self.nodes.library.facts(row.footage_id)
        if row.gone:
            return Blank(width=facts.width, height=facts.height, fps=facts.rate, frames=facts.length, colour=MISSING)
        shot = self.nodes.standing(row.footage_id, self.nodes.documents.load(row.id, row.head).document.look, (row.id, row.head), stood)
        return _lasting(shot, longest) if facts.kind == "still" and longest > shot.length else shot

    def _item(self, item: ReelItem, node: Node | None, size: tuple[int, int], fps: str) -> Item:
        if node is None:
            colour = item.behind if item.shot == GAP else MISSING
            node = Blank(width=size[0], height=size[1], fps=fps, frames=item.last + 1, colour=colour)
        last = min(item.last, node.length - 1)
        placing = {key: getattr(item, key) for key in PLACING}
        return Item(id=item.id, of=node, first=min(item.first, last), last=last, **placing)

    def laid(self, span: ReelSpan, ends: Ends, stood: Stood = None) -> Laid:
        """A span where it lies, with what its look uses."""
        look = span.look
        within = self.nodes.inlaid(look, stood=stood)
        amount = span.amounts or (Keyframe(frame=0, value=span.amount),)
        more: dict[str, Any] = {"files": self.nodes.digests(look), "laid": within, "fade_in": span.fade_in, "fade_out": span.fade_out}
        return Laid(id=span.id, first=ends.first, last=ends.last, look=look, amount=amount, blend=span.blend, **more)

    def _track(self, document: ReelDocument) -> SoundTrack | None:
        track = document.track
        if track is None:
            return None
        try:
            of = self.nodes.library.node(track.footage)
        except NotFound:
            return None
        return SoundTrack(of=of, at=track.at, gain=track.gain, fade_in=track.fade_in, fade_out=track.fade_out)


def _lasting(shot: Shot, frames: int) -> Shot:
    still = shot.of.model_copy(update={"frames": frames})
    return shot.model_copy(update={"of": still, "last": frames - 1})


def _planned(transition: ReelTransition) -> TransitionPlan:
    reveal = None
    if transition.kind == "reveal" and transition.selection is not None:
        how: dict[str, Any] = {key: getattr(transition, key) for key in ("look", "selection", "of", "opens", "takes", "grows", "edge")}
        reveal = Reveal(**how)
    return TransitionPlan(after=transition.after, frames=transition.frames, at=EARLY[transition.at], linear=transition.linear, reveal=reveal)


def span_ends(document: ReelDocument, reel: Reel) -> dict[str, Ends]:
    """Where spans lie, by id: from the frame of the reel that shows their first place to the one that shows their last.

    A place that its item no longer shows is taken as the nearest that it does. Spans whose items are gone, or stand the other way round, lie nowhere.
    """
    standing = reel.standing()
    places = {each.item.id: (each, cut) for each, cut in zip(standing, reel.cuts(), strict=False)}
    found = {}
    for span in document.spans:
        if span.start.item not in places or span.end.item not in places:
            continue
        (begins, begin), (ends, end) = places[span.start.item], places[span.end.item]
        first = begin + reel.place_of(begins, span.start.frame)
        last = end + reel.place_of(ends, span.end.frame, last=True)
        if first <= last:
            found[span.id] = Ends(first, last)
    return found
