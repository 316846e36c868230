"""Palettes, and files of open formats."""

from typing import Literal

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked, Based
from wenditas.core.params import Colour, Stop
from wenditas.core.treat.cdl import Cdl


class FromPictureRequest(Asked):
    """Take a palette of so many colours from a shot's frame (its in frame by default; its source, or its result) or from a picture file."""

    shot: str | None = None
    frame: int | None = Field(None, ge=0)
    source: bool = False
    file: str | None = Field(None, max_length=64)
    count: int = Field(5, ge=2, le=12)


class PaletteRequest(Asked):
    """Keep a palette."""

    name: str = Field(min_length=1, max_length=80)
    colours: tuple[Colour, ...] = Field(min_length=1, max_length=12)


class PutPaletteRequest(Based):
    """Put a palette into the pass `of`."""

    of: str
    colours: tuple[Colour, ...] = Field(min_length=1, max_length=12)
    name: str = Field("", max_length=80)


class TextRequest(Asked):
    """The text of a file."""

    text: str = Field(max_length=4 << 20)


class CdlRequest(Asked):
    """The numbers of an ASC CDL pass, to be written as a file."""

    params: Cdl
    name: str = Field("correction", max_length=80)
    kind: Literal["cdl", "cc", "ccc"] = "cdl"


class CorrectionView(BaseModel):
    """One correction of a decision list."""

    id: str
    params: dict[str, float]


class GradientRequest(Asked):
    """Stops to be written as SVG or CSS."""

    stops: list[Stop] = Field(min_length=1, max_length=64)
    name: str = Field("Gradient", max_length=80)
    kind: Literal["svg", "css"] = "svg"
