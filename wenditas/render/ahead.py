"""Which frames of a view are rendered, and rendering those that would be played next."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import chain, islice

from wenditas.core.measure.scopes import Scope
from wenditas.render.request import Request
from wenditas.render.scopes import Of, Scopes

MOST_LOOKED_AT = 720  # frames whose readiness is told one by one
SECONDS = 20  # how far ahead of the playhead is rendered


@dataclass(frozen=True)
class Played:
    """A view of a look over a stretch of frames, as it is played: from the playhead `frame` on, then from the in on.

    every: a scope goes with every nth frame.
    """

    request_at: Callable[[int], Request]
    first: int
    last: int
    frame: int
    scope: Scope | None = None
    of: Of = "result"
    every: int = 1

    def _scope_at(self, frame: int) -> Scope | None:
        return None if frame % self.every else self.scope

    def ready_at(self, scopes: Scopes, frame: int) -> bool:
        """Whether a frame would be shown without rendering."""
        return scopes.ready(self.request_at(frame), self._scope_at(frame), self.of)

    def ready(self, scopes: Scopes) -> list[tuple[int, int]]:
        """Stretches (first, last) of frames that are rendered; of very many frames every nth is looked at."""
        step = max(1, (self.last - self.first + 1) // MOST_LOOKED_AT)
        return stretches([n for n in range(self.first, self.last + 1, step) if self.ready_at(scopes, n)], step, self.last)

    def missing(self, scopes: Scopes, rate: float) -> Iterator[int]:
        """The frames that are not rendered, in the order in which they would be played, at most some seconds ahead."""
        start = min(max(self.frame, self.first), self.last)
        order = chain(range(start, self.last + 1), range(self.first, start))
        return (n for n in islice(order, round(SECONDS * rate)) if not self.ready_at(scopes, n))

    def render(self, scopes: Scopes, frame: int) -> None:
        """Render a frame and its scope, to be at hand when it is played."""
        scopes.shown(self.request_at(frame), "ahead", self._scope_at(frame), self.of)


def stretches(frames: list[int], step: int, last: int) -> list[tuple[int, int]]:
    """Frames in order, each standing for `step` of them, as stretches (first, last).

    >>> stretches([0, 1, 2, 5], 1, 9)
    [(0, 2), (5, 5)]
    """
    found: list[tuple[int, int]] = []
    for n in frames:
        end = min(n + step - 1, last)
        if found and found[-1][1] == n - 1:
            found[-1] = (found[-1][0], end)
        else:
            found.append((n, end))
    return found
