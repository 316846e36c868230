"""What every request has in common, and those that need no more."""

from pydantic import BaseModel, ConfigDict, Field

from wenditas.core.look.commands import Command


class Asked(BaseModel):
    """What the page sends: a key that is not known is said, not dropped."""

    model_config = ConfigDict(extra="forbid")


class Based(Asked):
    """An edit of a shot: the revision it was made on; its own id, by which it is stored once however often it comes; the page it comes from."""

    base: int
    id: str | None = Field(None, min_length=1, max_length=64)
    author: str = Field("", max_length=64)


class EditRequest(Based):
    """Commands that name targets, with words for the history."""

    commands: list[Command]
    words: str = Field("Edit", max_length=200)


class HeadRequest(Asked):
    """Undo or redo from a revision."""

    base: int


class NameRequest(Asked):
    """A new name."""

    name: str = Field(min_length=1, max_length=120)


class GoRequest(Asked):
    """A state of the shot to return to."""

    base: int
    revision: int


class TakeRequest(Asked):
    """A state of the shot to be saved under a name."""

    revision: int
    name: str = Field(min_length=1, max_length=80)
