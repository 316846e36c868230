"""Projects and shots, as the Bench works on them."""

from typing import Literal

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Based
from wenditas.api.models.footage import Footage
from wenditas.core.look.document import ShotDocument
from wenditas.store.projects import Project
from wenditas.store.shots import ShotRow


class ProjectView(BaseModel):
    """A project with all it holds."""

    project: Project
    footage: list[Footage]
    shots: list[ShotRow]


class PartView(BaseModel):
    """What of a reel is on the Bench. id: of the span or transition; begins: at which frame of the reel the first one in use stands."""

    kind: Literal["span", "reveal"]
    reel_id: str
    id: str
    begins: int


class ShotView(BaseModel):
    """A shot as the Bench works on it, or a part of a reel in its place. undo, redo: the words of what these would do, or null."""

    shot: ShotRow
    part: PartView | None = None
    project_id: str
    footage: Footage
    revision: int
    document: ShotDocument
    undo: str | None
    redo: str | None


class Edited(ShotView):
    """The shot after an edit, and the revision that the edit made; later ones may have followed."""

    made: int


class PickRequest(Based):
    """A click in the picture at x, y (0-1), or the middle of a dragged box of a width and height; refuse makes it a not-this pick; name: of a new selection."""

    frame: int = Field(ge=0)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    patch: int = Field(5, ge=1, le=101)
    width: float = Field(0, ge=0, le=1)
    height: float = Field(0, ge=0, le=1)
    selection: str | None = None
    key: str | None = None
    refuse: bool = False
    name: str | None = Field(None, min_length=1, max_length=80)


class PickAnswer(BaseModel):
    """The shot after a pick, the revision made, the selection that it went to, and what is to be said of it."""

    view: ShotView
    made: int
    selection: str
    note: str = ""


class LookRequest(Based):
    """A look file's text, to be put in place of the shot's look."""

    text: str


class HistogramView(BaseModel):
    """Shares of pixels in 128 even bins over 0-1."""

    luma: list[float]
    red: list[float]
    green: list[float]
    blue: list[float]
