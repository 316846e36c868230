"""A look on a picture that is at hand."""

from dataclasses import dataclass

from wenditas.core.kernel import Picture
from wenditas.core.look.document import Look
from wenditas.core.look.resolve import Worn
from wenditas.core.look.shown import RESULT, Shown
from wenditas.core.select.denoise import Noise
from wenditas.core.select.matte import Given, Moment
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.treat.record import Inset
from wenditas.core.work.operation import Op, Size
from wenditas.core.work.run import run

RATE = 24.0  # frames a second that drift counts by, where a picture is of nothing that has a rate


@dataclass(frozen=True)
class _UnderGiven:
    """A picture at hand as what lies under a look."""

    given: Given

    @property
    def noise(self) -> Noise:
        """See `Under`."""
        return self.given.moment.noise

    @property
    def alone(self) -> bool:
        """See `Under`."""
        return self.given.moment.neighbour is None

    def nearest(self, frame: int) -> int:
        """See `Under`: there are all frames."""
        return frame

    def picture(self, frame: int) -> Op:
        """See `Under`."""
        return self.given.source(frame)

    def alpha(self, frame: int) -> Op | None:
        """See `Under`."""
        return self.given.transparency(frame)

    def thing(self, part: ObjectPart, frame: int) -> Op | None:
        """See `Under`: nothing is carried to a picture at hand."""
        return None

    def has(self, file: str) -> bool:
        """See `Under`."""
        return file in self.given.moment.files.known

    def inset(self, asked: Inset, frame: int, size: Size) -> tuple[Op, ...]:
        """See `Under`: there are no other shots."""
        return ()


def resolve_look(look: Look, given: Given, shown: Shown = RESULT) -> Op:
    """A view of a look on a picture at hand, as operations."""
    return Worn(look, RATE, _UnderGiven(given), given.size).shown(given.moment.frame, shown)


def apply_look(look: Look, picture: Picture, moment: Moment | None = None, shown: Shown = RESULT) -> Picture:
    """A view of a look on a float picture `(3, h, w)`, which is not changed. Without neighbours nothing is read of other moments."""
    given = Given(picture, moment or Moment())
    return run(resolve_look(look, given, shown), sources=given, files=given.moment.files)
