"""Where a look works: fits, islands, fences, tracks."""

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Based
from wenditas.api.models.shots import ShotView
from wenditas.core.look.commands import Command
from wenditas.render.tracking import Direction


class FitRequest(Based):
    """Which key to fit to its picks, and the frame that its coverage is told of. sure: also where it would select much more than before."""

    selection: str
    key: str
    frame: int = Field(ge=0)
    sure: bool = False


class FitAnswer(BaseModel):
    """The shot after fitting, the revision made, and what was found; where it asks first nothing is stored, and the commands are what it would do.

    inside, outside: shares (0-1) of the picked and of the refused pixels that fall on their own side. before, after: percent of the frame.
    """

    view: ShotView
    made: int
    commands: list[Command]
    words: str
    apart: bool
    asks: bool
    inside: float
    outside: float
    before: float
    after: float


class RenewRequest(Based):
    """Which selection, keyed as older versions did, is to be keyed as new ones are."""

    selection: str


class MainColourView(BaseModel):
    """One of a frame's main colours; x, y are 0-1, coverage in percent."""

    name: str
    colour: tuple[float, float, float]
    x: float
    y: float
    coverage: float


class IslandView(BaseModel):
    """A piece of a matte: share of the matte and of the frame in percent, box and outline in pixels of a 1080-line picture."""

    share: float
    coverage: float
    box: tuple[float, float, float, float]
    outline: list[tuple[float, float]]


class FenceRequest(Based):
    """Which island to fence off, or to keep alone."""

    frame: int = Field(ge=0)
    selection: str
    island: int = Field(ge=0)
    keep: bool = False


class FenceAnswer(BaseModel):
    """The shot with the new shape, and the revision made."""

    view: ShotView
    made: int
    shape: str


class OutlineRequest(Based):
    """Which object is to become a shape, as it lies at a frame."""

    frame: int = Field(ge=0)
    selection: str
    object: str


class ShapeStrokesRequest(Based):
    """Which shape is to become an object, as it lies at a frame."""

    frame: int = Field(ge=0)
    selection: str
    shape: str


class ObjectAnswer(BaseModel):
    """The shot with the new object, and the revision made."""

    view: ShotView
    made: int
    object: str


class TrackRequest(Based):
    """Which shape to track, from which frame, and which way."""

    selection: str
    shape: str
    frame: int = Field(ge=0)
    direction: Direction = "both"
    bends: bool = Field(False, description="Whether its points go each its own way; for a path or polygon.")
