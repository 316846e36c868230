"""What a live channel is about: a shot, or a reel. Each makes requests for pictures of what a page asks for."""

from fractions import Fraction
from typing import Protocol

from wenditas.app.services import Services
from wenditas.core.errors import BadRequest
from wenditas.core.film import Footage, Node
from wenditas.core.look.commands import Command
from wenditas.core.look.document import Look, alone
from wenditas.project.benched import Benched
from wenditas.project.reels import Made, Without
from wenditas.render.request import Request, ScreenView, seen_as

PREPARED = 64  # pieces of footage of a reel of which preview copies are wanted


class Asked(Protocol):
    """What a page asks for. commands: not stored yet; alone: of a pass; without: what is left out of a reel."""

    revision: int
    commands: list[Command]
    frame: int
    width: int
    view: ScreenView
    selection: str | None
    upto: int | None
    alone: str | None
    without: Without | None


class Subject(Protocol):
    """A document with pictures."""

    @property
    def length(self) -> int:
        """Frames."""
        ...

    @property
    def rate(self) -> Fraction:
        """Frames a second."""
        ...

    def request(self, ask: Asked) -> Request:
        """The picture that is asked for, at full quality."""
        ...

    def footage(self) -> list[str]:
        """The ids of the footage that it shows, of which preview copies are wanted."""
        ...


class ShotSubject:
    """What is on the Bench: a shot, of which all frames are there, or a part of a reel."""

    def __init__(self, services: Services, id: str) -> None:
        self.services, self.id = services, id
        self._benched = services.projects.bench.open(id)
        self._alone: tuple[tuple[int, str] | None, Look] = (None, Look())
        self._node: tuple[Benched | None, Look, Node] = (None, Look(), self._benched.under)  # of the last message: the same object for the same look

    @property
    def length(self) -> int:
        """See `Subject`."""
        return self._benched.under.length

    @property
    def rate(self) -> Fraction:
        """See `Subject`."""
        return self._benched.under.rate

    def footage(self) -> list[str]:
        """See `Subject`."""
        return _pieces(self._benched.under)

    def _look(self, benched: Benched, ask: Asked) -> Look:
        """The look a message is about: of a revision, or with commands that are not stored."""
        if ask.commands:
            look = self.services.projects.bench.changed(benched, ask.commands).look
            return alone(look, ask.alone) if ask.alone else look
        if ask.alone is None:
            return benched.look
        # The same look for the same words, so that what is known of it is found again.
        kept, found = self._alone
        if kept != (ask.revision, ask.alone):
            found = alone(benched.look, ask.alone)
            self._alone = (ask.revision, ask.alone), found
        return found

    def request(self, ask: Asked) -> Request:
        """See `Subject`."""
        benched = self._benched
        if benched.within or benched.loaded.revision != ask.revision:  # what a part of a reel lies over changes without it
            benched = self._benched = self.services.projects.bench.open(self.id, ask.revision)
        look, (known, before, node) = self._look(benched, ask), self._node
        if before is not look or known is None or (benched.within and known.under is not benched.under):
            node = benched.shown(look)
            self._node = benched, look, node
        frame = min(ask.frame, self.length - 1)
        return Request(node=node, frame=frame, width=ask.width, shown=seen_as(ask.view, ask.selection, ask.upto))


def _pieces(node: Node) -> list[str]:
    """The ids of the footage that something is made of, as much as is prepared."""
    return list(dict.fromkeys(f.content for f in node.within() if isinstance(f, Footage)))[:PREPARED]


class ReelSubject:
    """The reel of a project."""

    def __init__(self, services: Services, reel_id: str) -> None:
        self.services, self.id = services, reel_id
        self._made = self.made(None)

    def made(self, revision: int | None, commands: list[Command] | None = None) -> Made:
        """The reel at a revision, or with commands that are not stored."""
        documents = self.services.projects.documents
        loaded = documents.load_reel(self.id, revision)
        document = documents.with_commands(self.id, loaded, commands) if commands else loaded.document
        return self.services.projects.reels.made(self.id, document)

    @property
    def length(self) -> int:
        """See `Subject`."""
        return self._made.length

    @property
    def rate(self) -> Fraction:
        """See `Subject`."""
        return self._made.rate

    def footage(self) -> list[str]:
        """See `Subject`."""
        node = self._made.node
        return [] if node is None else _pieces(node)

    def request(self, ask: Asked) -> Request:
        """See `Subject`. Raises `BadRequest` where the reel is empty."""
        made = self._made = self.made(ask.revision, ask.commands)
        return request_of(made, ask.frame, ask.width, ask.without)


def request_of(made: Made, frame: int, width: int, without: Without | None) -> Request:
    """A picture of a reel. Raises `BadRequest` where it is empty."""
    node = made.seen(without)
    if node is None:
        raise BadRequest("The reel is empty: drop a shot on it.")
    return Request(node=node, frame=min(frame, node.length - 1), width=width)
