"""Footage: facts, media folders, sequences, readings."""

from typing import Literal

from pydantic import BaseModel, Field

from wenditas.api.models.asked import Asked
from wenditas.media.facts import Facts, Fields
from wenditas.media.reading import Reading
from wenditas.media.sequence import Alpha


class CopyView(BaseModel):
    """The preview copy of large footage: whether there is one, and how many frames of it are made."""

    state: Literal["none", "waiting", "making", "ready"] = "none"
    done: int = 0


class Footage(BaseModel):
    """A piece of footage with its facts.

    content: names its frames, as they are read. state: whether its file is there, and the one that was taken in. lies: where that is,
    where it was not copied. in_reel: how many items of the reel are made of it, and one more where its sound is the reel's track.
    """

    id: str
    name: str
    bytes: int
    facts: Facts
    seconds: float
    content: str = ""
    reading: Reading = Reading()
    lut_name: str | None = None
    state: Literal["here", "missing", "changed"] = "here"
    lies: str | None = None
    in_reel: int = 0
    preview: CopyView = CopyView()


class PlaceView(BaseModel):
    """A media folder that was named at the start."""

    id: str
    name: str


class EntryView(BaseModel):
    """Something in a media folder; count: of numbered pictures that belong together."""

    name: str
    kind: Literal["folder", "file", "sequence"]
    bytes: int
    changed: float
    count: int


class ListedView(BaseModel):
    """What is in a folder; total: how much there is, where that is more than is told."""

    entries: list[EntryView]
    total: int


class FromPlaceRequest(Asked):
    """A file in a media folder, by its path from there. take: also where a part of it alone can be used."""

    place: str
    path: str = Field(max_length=4000)
    take: bool = False


class SequenceRequest(Asked):
    """Numbered pictures, and how they become footage: frames a second, and what is known of their alpha."""

    rate: str = Field(pattern=r"^[0-9]{1,6}(\.[0-9]{1,6}|/[1-9][0-9]{0,5})?$")
    alpha: Alpha = "guess"
    take: bool = False


class PlacedSequenceRequest(SequenceRequest):
    """Pictures in a media folder, of which `path` is the first."""

    place: str
    path: str = Field(max_length=4000)


class BegunView(BaseModel):
    """Pictures of a sequence can be sent under this id."""

    id: str


class ReadingsRequest(Asked):
    """How pieces of footage are read, by their ids."""

    readings: dict[str, Reading] = Field(max_length=2000)


class ReplaceRequest(Asked):
    """Other footage to stand in the place of one, under all its shots, or under some."""

    by: str
    shots: list[str] | None = None


class MovedView(BaseModel):
    """Shots that are made of other footage now."""

    shots: list[str]


class TakenView(Footage):
    """A piece of footage that has come in; already: it was here before."""

    already: bool = False


class TracksRequest(Asked):
    """Which tracks of a file of several are used, counted from 0."""

    picture: int = Field(0, ge=0, le=1000)
    sound: int = Field(0, ge=0, le=1000)


class FieldsRequest(Asked):
    """What is made of the fields of interlaced footage: one frame of each frame, one of each field, or nothing."""

    fields: Fields


class ConformRequest(Asked):
    """The rate that footage is to be shown at, as a number or a fraction ("24000/1001")."""

    rate: str = Field(pattern=r"^[0-9]{1,6}(\.[0-9]{1,6}|/[1-9][0-9]{0,5})?$")
