"""What can be chosen: treatments, keys, starting points."""

from typing import Any

from pydantic import BaseModel

from wenditas.core.params import Colour, ParamInfo
from wenditas.core.treat.record import Begins


class TreatmentInfo(BaseModel):
    """A treatment as the editor draws it."""

    id: str
    name: str
    group: str
    summary: str
    intents: list[str] = []
    spreads: bool
    reads_matte: bool
    takes_palette: bool
    begins: Begins
    follows_picks: str | None
    source: str
    params: list[ParamInfo]
    presets: dict[str, dict[str, Any]]


class KeyInfo(BaseModel):
    """A way of matching colours, as the editor draws it."""

    id: str
    name: str
    summary: str
    params: list[ParamInfo]


class StarterInfo(BaseModel):
    """A look to begin with; asks: what to pick for it, where it needs a pick."""

    id: str
    name: str
    words: str
    asks: str | None


class Catalogue(BaseModel):
    """Everything the editors are drawn from."""

    treatments: list[TreatmentInfo]
    groups: list[str]
    blends: list[str]
    starters: list[StarterInfo]
    ink_pairs: dict[str, tuple[Colour, Colour]]
    keys: list[KeyInfo]
    amount: ParamInfo
    cleaning: list[ParamInfo]
    shape: list[ParamInfo]
    object: list[ParamInfo]
    reel_item: list[ParamInfo]
    reel_transition: list[ParamInfo]
    reel_span: list[ParamInfo]
    reel_track: list[ParamInfo]
    version: str
