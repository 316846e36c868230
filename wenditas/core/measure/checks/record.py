"""What a check is: something measured on what a look makes, a threshold, and the step that fixes it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, Protocol

from wenditas.core.kernel import Matte, Picture
from wenditas.core.select.denoise import NO_NOISE, Noise
from wenditas.core.select.selection import Selection

Over = Literal["frame", "neighbours", "shot"]
STILL = 2.5 / 255  # by how much pixels of footage that stands still may differ from frame to frame, after a small blur


Command = dict[str, Any]  # a command on a look, as it is sent: looks themselves are no business of what measures pictures


class Step(Protocol):
    """A pass of a look, as far as a check asks about it."""

    @property
    def id(self) -> str:
        """Its name in targets."""
        ...

    @property
    def on(self) -> bool:
        """Whether it does anything."""
        ...

    @property
    def params(self) -> Mapping[str, Any]:
        """What its treatment is set to."""
        ...

    @property
    def side(self) -> str:
        """Where it works."""
        ...

    @property
    def selection(self) -> str | None:
        """The id of its selection."""
        ...


class Steps(Protocol):
    """A look, as far as a check asks about it."""

    @property
    def passes(self) -> Sequence[Step]:
        """What is done, in order."""
        ...

    @property
    def selections(self) -> Sequence[Selection]:
        """What is selected for that."""
        ...


@dataclass(frozen=True)
class Seen:
    """What is looked at: what lies under a look and what it makes, both `(3, h, w)`, and its mattes `(h, w)` by the ids of selections.

    frame: its number. look: as it is at that frame. noise: of the footage. before, after: the same of the frames beside it, for checks
    that compare neighbours; those have none of their own.
    """

    frame: int
    rate: float
    look: Steps
    source: Picture
    result: Picture
    mattes: Mapping[str, Matte] = field(default_factory=dict)
    noise: Noise = NO_NOISE
    before: "Seen | None" = None
    after: "Seen | None" = None

    def selection(self, id: str) -> Selection | None:
        """The selection of a matte."""
        return next((s for s in self.look.selections if s.id == id), None)

    def called(self, id: str) -> str:
        """What a selection is called."""
        found = self.selection(id)
        return id if found is None else found.name


@dataclass(frozen=True)
class Fix:
    """The step that fixes what was found: commands on the look, and what they do, in words."""

    words: str
    commands: tuple[Command, ...]


@dataclass(frozen=True)
class Mark:
    """Something found on a frame. value: in the unit of its check. words: what, and how bad. where: 0-1 `(h, w)`, None for all of it.

    first, last: the frames that it was found on, where these are more (see `span`). selection: whose matte it is about.
    """

    check: str
    frame: int
    value: float
    words: str
    where: Matte | None = None
    selection: str | None = None
    first: int = -1
    last: int = -1
    fix: Fix | None = None

    @property
    def span(self) -> tuple[int, int]:
        """The first and last frame that it was found on: its own where nothing else is said."""
        return (self.frame, self.frame) if self.first < 0 else (self.first, self.last)


@dataclass(frozen=True)
class Check:
    """A check. measures: what, in words. unit, threshold: a mark is made above it (below it, where `below`); source: where that comes from.

    over: whether one frame is looked at, its neighbours too, or all frames of a shot. own_size: whether pictures are wanted at their own
    size, since what it looks for is lost in smaller ones. fixes: how what it finds is fixed, in words.
    """

    id: str
    name: str
    measures: str
    unit: str
    threshold: float
    source: str
    fixes: str
    over: Over = "frame"
    own_size: bool = False
    below: bool = False
    measure: Callable[[Seen], list[Mark]] = lambda seen: []
