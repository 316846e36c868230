"""Exports, their queue and presets, and looks as LUTs."""

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked
from wenditas.render.options import ExportOptions
from wenditas.store.exports import ExportRow


class ExportRequest(Asked):
    """What to export: the document as it stands at a revision."""

    revision: int
    name: str = Field("", max_length=120)
    options: ExportOptions = ExportOptions()


class ExportView(ExportRow):
    """An export with the name of its shot (or the word "Reel") and the seconds that are left, where known. path: where its file is, once it is there."""

    shot_name: str
    seconds_left: float | None = None
    suffix: str = ".mp4"
    folder: bool = False
    format_name: str = "H.264"
    shows: str = "result"
    path: str | None = None


class FormatView(BaseModel):
    """A format that can be written. joined: how its segments become one file."""

    id: str
    name: str
    tells: str
    suffix: str
    joined: str
    alpha: bool
    sound: bool
    choose: bool
    pictures: bool
    loop: bool


class PlaceRequest(Asked):
    """Let an export be taken before another, or last."""

    before: str | None = None


class QueueView(BaseModel):
    """The export queue of a data folder. at_once: how many run at once."""

    at_once: int


class QueueRequest(Asked):
    """How many exports run at once."""

    at_once: int = Field(ge=1, le=4)


class PresetRequest(Asked):
    """Options to keep under a name."""

    name: str = Field(min_length=1, max_length=60)
    options: ExportOptions


class EstimateView(BaseModel):
    """What an export will be: frames and pixels, and about how many bytes and seconds, from frames that were measured. notes: what is left out."""

    frames: int
    width: int
    height: int
    bytes: int
    seconds: float
    notes: tuple[str, ...] = ()


class LeftOutView(BaseModel):
    """What is not in a LUT, and why."""

    name: str
    why: str


class LutView(BaseModel):
    """What a look loses as a LUT: what is left out, and how far the picture then is from the look's own (CIEDE2000).

    cdl: whether it is a colour decision list, which holds all of it.
    """

    cdl: bool = False

    left_out: list[LeftOutView]
    mean: float
    largest: float
