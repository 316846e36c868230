"""The reel, and cut lists."""

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked
from wenditas.core.film.document import ReelDocument


class StandingShot(BaseModel):
    """A shot as the reel knows it. gone: it was removed, and a gap stands in its place."""

    name: str
    footage_id: str
    revision: int
    gone: bool
    fps: str
    length: int
    width: int
    height: int
    still: bool
    sound: bool


class OverlapView(BaseModel):
    """A join as it fits: frames of the reel before and behind the cut, of which so many are held edge frames; asked: how many it is to have."""

    id: str
    before: int
    behind: int
    held_out: int
    held_in: int
    asked: int


class ReelView(BaseModel):
    """A reel as its room works on it. cuts: where each item begins and the last one ends, in frames of the reel; spans: where they lie, by id."""

    reel_id: str
    project_id: str
    revision: int
    document: ReelDocument
    width: int
    height: int
    fps: str
    length: int
    cuts: list[int]
    overlaps: list[OverlapView]
    spans: dict[str, tuple[int, int]]
    shots: dict[str, StandingShot]
    undo: str | None
    redo: str | None


class ReelEdited(ReelView):
    """The reel after an edit, and the revision that the edit made; later ones may have followed."""

    made: int


class CutRequest(Asked):
    """The text of a cut list; rate: frames a second where the list does not say, the reel's own where None."""

    text: str
    name: str = Field("Cut", min_length=1, max_length=80)
    rate: str | None = Field(None, pattern=r"^[1-9][0-9]{0,5}(/[1-9][0-9]{0,5})?$")


class CutTaken(BaseModel):
    """The reel with a cut list in it, how many of its clips were found, and what could not be carried."""

    view: ReelView
    count: int
    told: list[str]
