"""What checks find."""

from typing import Literal

from pydantic import BaseModel

from wenditas.core.look.commands import Command


class CheckView(BaseModel):
    """A check: what it measures, from where its threshold is, how what it finds is fixed."""

    id: str
    name: str
    measures: str
    unit: str
    threshold: float
    source: str
    fixes: str
    over: Literal["frame", "neighbours", "shot"]
    below: bool


class MarkView(BaseModel):
    """Something that a check has found. first, last: the frames it was found on, `frame` the worst. fix, commands: the step that fixes it."""

    check: str
    name: str
    frame: int
    first: int
    last: int
    value: float
    unit: str
    words: str
    selection: str | None
    fix: str | None
    commands: list[Command]
