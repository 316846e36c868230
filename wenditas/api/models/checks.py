"""What checks find."""

from typing import Literal

from pydantic import BaseModel

from wenditas.core.look.commands import Command


class CheckView(BaseModel):
    """A check: what it measures, from where its threshold is, how what it finds is mended."""

    id: str
    name: str
    measures: str
    unit: str
    threshold: float
    source: str
    mends: str
    over: Literal["frame", "neighbours", "shot"]
    below: bool


class MarkView(BaseModel):
    """Something that a check has found. first, last: the frames it was found on, `frame` the worst. mend, commands: the step that mends it."""

    check: str
    name: str
    frame: int
    first: int
    last: int
    value: float
    unit: str
    words: str
    selection: str | None
    mend: str | None
    commands: list[Command]
