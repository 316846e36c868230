"""Looks from pictures."""

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked, Based
from wenditas.api.models.shots import ShotView
from wenditas.core.likeness.kinds import Kind


class Reference(Asked):
    """A picture that was sent as a file, or a frame of a shot: its source, or its result."""

    file: str | None = Field(None, max_length=64)
    shot: str | None = None
    frame: int | None = Field(None, ge=0)
    source: bool = False


class LikenessRequest(Based):
    """Make a shot like a picture. name: what the picture is called; far: how far to go; same_scene: whether it shows the same things in another light."""

    reference: Reference
    name: str = Field("a picture", min_length=1, max_length=80)
    far: float = Field(100, ge=0, le=100)
    same_scene: bool = False


class ToldView(BaseModel):
    """What was measured that a pass says again."""

    id: str
    words: str


class ProposalView(BaseModel):
    """A proposal, kept as a take."""

    name: str
    kind: Kind
    take: str
    revision: int
    told: list[ToldView]


class LikenessAnswer(BaseModel):
    """The shot under the likeliest look, and all that were proposed. words: what the picture was seen to be.

    seen, shot, made: shares of hue by lightness, rows from dark to light: of the picture, of the shot as it was, and of it under the first proposal.
    """

    view: ShotView
    made: int
    words: str
    proposals: list[ProposalView]
    seen: list[list[float]]
    shot: list[list[float]]
    result: list[list[float]]


class MatchRequest(Asked):
    """Match shots to one: each as it would be, lit as that one is."""

    shots: list[str] = Field(min_length=1, max_length=200)
    to: str
    same_scene: bool = True


class MatchAnswer(BaseModel):
    """The revision that each shot was given, and why others were not."""

    made: dict[str, int]
    refused: dict[str, str]
