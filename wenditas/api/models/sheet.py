"""What goes over the wire for the sheet."""

from typing import Any

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked
from wenditas.core.params import Colour
from wenditas.core.shelf.carry import How
from wenditas.render.options import ExportOptions


class CarriedView(BaseModel):
    """What became of a selection that was carried over."""

    how: How
    words: str


class CellView(BaseModel):
    """A look on a shot, as the sheet tells it. asks: it needs a pick; warning: what may spoil it."""

    name: str
    how: How
    words: str
    warning: str | None
    asks: bool
    shapes_left_out: bool
    found: list[CarriedView]


class FramesView(BaseModel):
    """Frames of a shot: one that stands for it, and the first, the middle and the last of those in use."""

    stands: int
    first: int
    middle: int
    last: int


class CarryRequest(Asked):
    """A column's look to be put on shots. shapes: with its shapes; sure: also where only a colour that is further away was found."""

    column: str = Field(max_length=80)
    shots: list[str] = Field(min_length=1, max_length=1000)
    shapes: bool = False
    sure: bool = False


class TakeBackRequest(Asked):
    """The revisions that a putting on made, by shot."""

    made: dict[str, int] = Field(min_length=1, max_length=1000)


class CarryAnswer(BaseModel):
    """The revisions that shots have now, what was done to their keys, the selections that need a pick, and what was refused and why."""

    made: dict[str, int]
    refused: dict[str, str]
    words: dict[str, str] = {}
    asks: dict[str, str] = {}


class KeepRequest(Asked):
    """A variant (targets and their values, a palette in the pass `of`), or a column's look, to be kept as a take."""

    name: str = Field(min_length=1, max_length=120)
    column: str | None = None
    sets: list[tuple[str, Any]] = Field([], max_length=50)
    of: str | None = None
    colours: tuple[Colour, ...] = Field((), max_length=12)


class CellRef(Asked):
    """A shot under the look of a column."""

    shot: str
    column: str = Field("own", max_length=80)


class CellsRequest(Asked):
    """Cells to be exported, under names made by a pattern."""

    cells: list[CellRef] = Field(max_length=1000)
    pattern: str = Field("{shot} {look}", max_length=200)
    options: ExportOptions = ExportOptions()


class LaySpanRequest(Asked):
    """A column's look to be laid as a span over the shots that are in the reel."""

    column: str = Field(max_length=80)
    shots: list[str] = Field(min_length=1, max_length=1000)
