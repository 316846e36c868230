"""The shelf, and looks that are put on."""

from typing import Annotated, Any

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked, Based
from wenditas.api.models.shots import ShotView
from wenditas.core.shelf import Where

Tag = Annotated[str, Field(min_length=1, max_length=40)]


class ShelfRequest(Asked):
    """Save the look of a shot as it stands at a revision, or one of its passes."""

    shot: str
    revision: int
    name: str = Field(min_length=1, max_length=80)
    words: str = Field("", max_length=300)
    only: str | None = None


class ShelfChange(Asked):
    """What is to be different about a saved item; None leaves what is there."""

    name: str | None = Field(None, min_length=1, max_length=80)
    words: str | None = Field(None, max_length=300)
    tags: list[Tag] | None = Field(None, max_length=20)


class ShelfFileRequest(Asked):
    """The text of a file that holds a shelf."""

    text: str


class ShelfTaken(BaseModel):
    """What came of a shelf that was brought in: how many items were added, and how many were here already."""

    added: int
    twins: int


class DressRequest(Based):
    """Put something from the shelf on a shot: a starter's or a saved item's id; selection: the shot's own where a pick is asked for; frame: on screen.

    where: instead of the shot's passes, after or before them; a saved pass never takes their place.
    """

    item: str
    where: Where = "instead"
    selection: str | None = None
    frame: int = Field(0, ge=0)


class DressAnswer(BaseModel):
    """The shot afterwards, and the revision made; selection: the one to work on now; asks: what to pick for it;
    warning: what may spoil it.
    """

    view: ShotView
    made: int
    selection: str | None
    asks: str | None
    warning: str | None = None


class PasteRequest(Based):
    """Passes with the selections they use, to be added after the shot's own."""

    look: dict[str, Any]
    words: str = Field("Passes pasted", max_length=200)
