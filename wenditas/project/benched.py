"""What opens on the Bench: a shot, a span of a reel, a reveal. Each is a look in a document, over something that moves."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from threading import Lock
from typing import Any, Literal

from cachetools import LRUCache

from wenditas.core.errors import NotFound
from wenditas.core.film import Footage, Node, Part, Placed, Shot, Span, Transition
from wenditas.core.film import Sequence as Parts
from wenditas.core.film.document import ReelDocument, ReelSpan, ReelTransition
from wenditas.core.look.commands import Command
from wenditas.core.look.document import Look, ShotDocument
from wenditas.core.look.targets import join as target
from wenditas.media.facts import Facts
from wenditas.project.documents import Loaded
from wenditas.project.library import id_of
from wenditas.project.nodes import Nodes, Stood
from wenditas.project.reels import Made, Reels
from wenditas.store import footage, reels, shots

Kind = Literal["shot", "span", "reveal"]
KEPT = 16  # of spans and reveals
LISTS: dict[str, Literal["span", "reveal"]] = {"spans": "span", "transitions": "reveal"}
OLD_LISTS = {"joins": "transitions"}  # in addresses that were kept
APART = "."  # between the id of a reel, one of its lists, and what is in that


def part_id(reel_id: str, list_name: str, id: str) -> str:
    """The name under which a span or reveal of a reel is on the Bench."""
    return APART.join((reel_id, list_name, id))


@dataclass(frozen=True)
class Benched:
    """A look, in a revision of a document.

    document_id: whose history it is part of. within: the words of the target that holds it in that document. under: what lies under it,
    whose frames are what its lanes, picks and tracks count; ends: those in use, both included. begins: at which frame of the reel the
    first of them stands. footage: what it is made from, where that is one piece as it is. shown: what it makes of a look.
    """

    id: str
    kind: Kind
    name: str
    project_id: str
    document_id: str
    within: tuple[str, ...]
    loaded: Loaded[Any]
    look: Look
    under: Node
    ends: tuple[int, int]
    begins: int
    footage: str | None
    shown: Callable[[Look], Node]
    worn: Callable[[Look], Shot]

    @property
    def document(self) -> ShotDocument:
        """The look and the frames in use, as a document of a shot has them."""
        return ShotDocument(first=self.ends[0], last=self.ends[1], look=self.look)

    def commands(self, commands: Sequence[Command]) -> list[Command]:
        """Commands on the look, as commands on the document that holds it."""
        return [_moved(command, self.within) for command in commands] if self.within else list(commands)


def _moved(command: Command, within: tuple[str, ...]) -> Command:
    changed = {"target": f"{target(within)}/{command.target}"}
    before = getattr(command, "before", None)
    return command.model_copy(update=changed if before is None else {**changed, "before": before})


class Bench:
    """Finds what is to be on the Bench."""

    def __init__(self, nodes: Nodes, made: Reels) -> None:
        self._nodes, self.reels, self._documents = nodes, made, nodes.documents
        self._kept: LRUCache[str, tuple[Made, Benched]] = LRUCache(KEPT)
        self._lock = Lock()

    def open(self, id: str, revision: int | None = None, stood: Stood = None) -> Benched:
        """A look at a revision, the newest by default. stood: at which revisions the shots under a part of a reel are, see `Reels.made`. Raises `NotFound`."""
        return self._part(id, revision, stood) if APART in id else self._shot(id, revision, stood)

    def document_of(self, id: str) -> str:
        """The document that what is on the Bench under a name is part of. Its history is the one that is stepped through."""
        return id.split(APART, 1)[0]

    def changed(self, benched: Benched, commands: Sequence[Command]) -> Benched:
        """The same with commands on its look that are not stored. Raises `TargetGone`, `BadEdit`, `BadLook`."""
        if not commands:
            return benched
        document: Any = self._documents.with_commands(benched.document_id, benched.loaded, benched.commands(commands))
        if not benched.within:
            return replace(benched, look=document.look, ends=(document.first, document.last))
        held = {"spans": document.spans, "transitions": document.transitions}[benched.within[0]]
        return replace(benched, look=next(one.look for one in held if one.id == benched.within[1]))

    def facts(self, benched: Benched) -> Facts:
        """What is known of what lies under a look: size, rate, length."""
        if benched.footage is not None:
            return self._nodes.library.facts(benched.footage)
        width, height = benched.under.size
        return Facts(
            kind="video",
            container="",
            codec="",
            pixel_format="",
            bits=8,
            width=width,
            height=height,
            coded_width=width,
            coded_height=height,
            rotation=0,
            rate=str(benched.under.rate),
            length=benched.under.length,
            variable_rate=False,
            sound=None,
            matrix="bt709",
            full_range=False,
            tagged=True,
            alpha=False,
            noise=0.0,
        )

    def _shot(self, id: str, revision: int | None, stood: Stood) -> Benched:
        row, loaded = shots.shot(self._nodes.library.db, id), self._documents.load(id, revision)
        document, node = loaded.document, partial(self._nodes.shot, row.footage_id, stood=stood)
        return Benched(
            id=id,
            kind="shot",
            name=row.name,
            project_id=footage.footage(self._nodes.library.db, row.footage_id).project_id,
            document_id=id,
            within=(),
            loaded=loaded,
            look=document.look,
            under=self._nodes.library.node(row.footage_id),
            ends=(document.first, document.last),
            begins=0,
            footage=row.footage_id,
            shown=node,
            worn=node,
        )

    def _part(self, id: str, revision: int | None, stood: Stood) -> Benched:
        reel_id, list_name, name = (*id.split(APART, 2), "", "")[:3]
        list_name = OLD_LISTS.get(list_name, list_name)
        if list_name not in LISTS:
            raise NotFound(f"There is nothing on the Bench under the name {id!r}.")
        loaded, row = self._documents.load_reel(reel_id, revision), reels.reel(self._nodes.library.db, reel_id)
        made = self.reels.made(reel_id, loaded.document, stood)
        with self._lock:
            kept = self._kept.get(id)
        if kept is not None and kept[0] is made:  # the same nodes for the same reel, so that what is known of them is found again
            return kept[1]
        about: dict[str, Any] = {"id": id, "project_id": row.project_id, "document_id": reel_id, "within": (list_name, name), "loaded": loaded}
        found = self._span(made, name, about, stood) if list_name == "spans" else self._reveal(made, name, about, stood)
        with self._lock:
            self._kept[id] = made, found
        return found

    def _span(self, made: Made, id: str, about: dict[str, Any], stood: Stood) -> Benched:
        span = _named(made.document.spans, id, "span")
        ends, under = made.spans.get(id), made.under(id)
        if ends is None or under is None:
            raise NotFound(f"The items that “{span.name}” lay over are gone from the reel: there is nothing to see it on.")
        last = min(ends.last, under.length - 1)
        stretch = Parts(parts=(Part(of=under, first=min(ends.first, last), last=last),))

        def dressed(look: Look) -> dict[str, Any]:
            return {"look": look, "files": self._nodes.digests(look), "laid": self._nodes.inlaid(look, stood=stood)}

        def shown(look: Look) -> Node:
            laid = self.reels.laid(span, ends, stood)
            return Span(
                of=stretch,
                first=0,
                last=stretch.length - 1,
                amount=laid.amount,
                blend=laid.blend,
                fade_in=laid.fade_in,
                fade_out=laid.fade_out,
                **dressed(look),
            )

        def worn(look: Look) -> Shot:
            return Shot(of=stretch, first=0, last=stretch.length - 1, **dressed(look))

        return Benched(
            kind="span",
            name=span.name,
            look=span.look,
            under=stretch,
            ends=(0, stretch.length - 1),
            begins=ends.first,
            footage=None,
            shown=shown,
            worn=worn,
            **about,
        )

    def _reveal(self, made: Made, id: str, about: dict[str, Any], stood: Stood) -> Benched:
        transition = _named(made.document.transitions, id, "transition")
        if transition.kind != "reveal":
            raise NotFound("This transition is no reveal any more: it has no selection to work on.")
        fitted, overlap = made.fitted_transitions.get(transition.after), made.overlaps.get(transition.after)
        if fitted is None or overlap is None or made.reel is None:
            raise NotFound("The items that this reveal stood between are gone, or too short for it.")
        side = fitted.a if transition.of == "outgoing" else fitted.b
        if not isinstance(side, Placed) or not isinstance(side.of, Shot):
            raise NotFound("The shot that this reveal is made from was removed: bring it back to work on the reveal.")
        filmed, from_side = side.of, fitted.from_a if transition.of == "outgoing" else fitted.from_b
        ends = side.shown(from_side), side.shown(from_side + fitted.frames - 1)
        cuts = {item.id: cut for item, cut in zip(made.reel.items, made.reel.cuts()[1:], strict=False)}
        return Benched(
            kind="reveal",
            name=f"Reveal of {self._called(made.document, transition)}",
            look=transition.look,
            under=filmed.of,
            ends=(min(ends), max(ends)),
            begins=cuts[transition.after] - overlap.before,
            footage=id_of(filmed.of.content) if isinstance(filmed.of, Footage) else None,
            shown=lambda look: _opened(fitted, look),
            worn=lambda look: filmed.model_copy(update={"look": look, "files": self._nodes.digests(look), "laid": self._nodes.inlaid(look, stood=stood)}),
            **about,
        )

    def _called(self, document: ReelDocument, transition: ReelTransition) -> str:
        """What a transition shows next, by the name of its shot."""
        ids = [item.id for item in document.items]
        coming = document.items[ids.index(transition.after) + 1]
        return shots.shot(self._nodes.library.db, coming.shot).name


def _named(items: Sequence[Any], id: str, what: str) -> Any:
    found: ReelSpan | ReelTransition | None = next((item for item in items if item.id == id), None)
    if found is None:
        raise NotFound(f"This {what} is not in the reel any more.")
    return found


def _opened(transition: Transition, look: Look) -> Node:
    """A reveal in the frame and at the rate of the side that it is made from, with all frames of that: closed before the transition, all taken behind."""
    assert transition.reveal is not None
    outgoing = transition.reveal.of == "outgoing"
    side, other = (transition.a, transition.b) if outgoing else (transition.b, transition.a)
    from_side, from_other = (transition.from_a, transition.from_b) if outgoing else (transition.from_b, transition.from_a)
    assert isinstance(side, Placed) and isinstance(other, Placed)
    filmed = side.of
    width, height = filmed.size
    count = max(1, round(transition.frames * filmed.rate / side.rate))
    begin = min(side.shown(from_side), filmed.length - 1)
    mirrored = {"mirror_across": other.mirror_across != side.mirror_across, "mirror_down": other.mirror_down != side.mirror_down}
    fields = {key: getattr(other, key) for key in Placed.model_fields}
    placed = Placed(**{**fields, "width": width, "height": height, "fps": str(filmed.rate), "first": other.shown(from_other), "own": None, **mirrored})
    reveal = transition.reveal.model_copy(update={"look": look})

    def part(first: int, frames: int, held: float | None) -> Part:
        pins = {} if held is None else {key: (k.model_copy(update={"value": held}),) for key, k in (("opens", reveal.opens[0]), ("takes", reveal.takes[0]))}
        sides = {"a": filmed, "b": placed, "from_a": first, "from_b": placed.ahead + first - begin}
        if not outgoing:
            sides = {"a": placed, "b": filmed, "from_a": placed.ahead + first - begin, "from_b": first}
        return Part(of=Transition(frames=frames, reveal=reveal.model_copy(update=pins), **sides), first=0, last=frames - 1)

    parts = [part(0, begin, 0.0)] if begin else []
    parts.append(part(begin, count, None))
    behind = filmed.length - begin - count
    return Parts(parts=(*parts, *([part(begin + count, behind, 100.0)] if behind > 0 else [])))
