"""What goes over the wire, beyond the stored models."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from wenditas.core.film.document import ReelDocument
from wenditas.core.look.commands import Command
from wenditas.core.look.document import ShotDocument
from wenditas.core.params import Colour, ParamInfo, Stop
from wenditas.core.shelf import Where
from wenditas.core.treat.record import Begins
from wenditas.media.facts import Facts
from wenditas.media.reading import Reading
from wenditas.media.sequence import Alpha
from wenditas.render.options import ExportOptions
from wenditas.render.tracking import Direction
from wenditas.store.exports import ExportRow
from wenditas.store.projects import Project
from wenditas.store.shots import ShotRow


class Asked(BaseModel):
    """What the page sends: a key that is not known is said, not dropped."""

    model_config = ConfigDict(extra="forbid")


class CopyView(BaseModel):
    """The preview copy of large footage: whether there is one, and how many frames of it are made."""

    state: Literal["none", "waiting", "making", "ready"] = "none"
    done: int = 0


class Footage(BaseModel):
    """A piece of footage with its facts.

    content: names its frames, as they are read. state: whether its file is there, and the one that was taken in. lies: where that is,
    where it was not copied. in_reel: how many items of the reel are made of it.
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


class ConformRequest(Asked):
    """The rate that footage is to be shown at, as a number or a fraction ("24000/1001")."""

    rate: str = Field(pattern=r"^[0-9]{1,6}(\.[0-9]{1,6}|/[1-9][0-9]{0,5})?$")


class ProjectView(BaseModel):
    """A project with all it holds."""

    project: Project
    footage: list[Footage]
    shots: list[ShotRow]


class PartView(BaseModel):
    """What of a reel is on the Bench. id: of the span or join; begins: at which frame of the reel the first one in use stands."""

    kind: Literal["span", "reveal"]
    reel_id: str
    id: str
    begins: int


class ShotView(BaseModel):
    """A shot as the Bench works on it, or a part of a reel in its place. undo, redo: the words of what these would do, or null."""

    shot: ShotRow
    part: PartView | None = None
    project_id: str
    footage: Footage
    revision: int
    document: ShotDocument
    undo: str | None
    redo: str | None


class Edited(ShotView):
    """The shot after an edit, and the revision that the edit made; later ones may have followed."""

    made: int


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


class PickRequest(Based):
    """A click in the picture at x, y (0-1), or the middle of a dragged box of a width and height; refuse makes it a not-this pick; name: of a new selection."""

    frame: int = Field(ge=0)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    patch: int = Field(5, ge=1, le=101)
    width: float = Field(0, ge=0, le=1)
    height: float = Field(0, ge=0, le=1)
    selection: str | None = None
    key: str | None = None
    refuse: bool = False
    name: str | None = Field(None, min_length=1, max_length=80)


class PickAnswer(BaseModel):
    """The shot after a pick, the revision made, the selection that it went to, and what is to be said of it."""

    view: ShotView
    made: int
    selection: str
    note: str = ""


class FitRequest(Based):
    """Which key to fit to its picks, and the frame that its coverage is told of. sure: also where it would select much more than before."""

    selection: str
    key: str
    frame: int = Field(ge=0)
    sure: bool = False


class FitAnswer(BaseModel):
    """The shot after fitting, the revision made, and what was found; where it asks first nothing is stored, and the commands are what it would do.

    inside, outside: shares (0-1) of the picked and of the refused pixels that fall on their own side. before, after: percent of the frame.
    """

    view: ShotView
    made: int
    commands: list[Command]
    words: str
    apart: bool
    asks: bool
    inside: float
    outside: float
    before: float
    after: float


class MainColourView(BaseModel):
    """One of a frame's main colours; x, y are 0-1, coverage in percent."""

    name: str
    colour: tuple[float, float, float]
    x: float
    y: float
    coverage: float


class IslandView(BaseModel):
    """A piece of a matte: share of the matte and of the frame in percent, box and outline in pixels of a 1080-line picture."""

    share: float
    coverage: float
    box: tuple[float, float, float, float]
    outline: list[tuple[float, float]]


class FenceRequest(Based):
    """Which island to fence off, or to keep alone."""

    frame: int = Field(ge=0)
    selection: str
    island: int = Field(ge=0)
    keep: bool = False


class FenceAnswer(BaseModel):
    """The shot with the new shape, and the revision made."""

    view: ShotView
    made: int
    shape: str


class TrackRequest(Based):
    """Which shape to track, from which frame, and which way."""

    selection: str
    shape: str
    frame: int = Field(ge=0)
    direction: Direction = "both"


class LookRequest(Based):
    """A look file's text, to be put in place of the shot's look."""

    text: str


class NameRequest(Asked):
    """A new name."""

    name: str = Field(min_length=1, max_length=120)


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
    """What an export will be: frames and pixels, and about how many bytes and seconds, from frames that were measured."""

    frames: int
    width: int
    height: int
    bytes: int
    seconds: float


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


class HistogramView(BaseModel):
    """Shares of pixels in 128 even bins over 0-1."""

    luma: list[float]
    red: list[float]
    green: list[float]
    blue: list[float]


class ShelfRequest(Asked):
    """Save the look of a shot as it stands at a revision, or one of its passes."""

    shot: str
    revision: int
    name: str = Field(min_length=1, max_length=80)
    words: str = Field("", max_length=300)
    only: str | None = None


Tag = Annotated[str, Field(min_length=1, max_length=40)]


class ShelfChange(Asked):
    """What is to be different about a saved item; None leaves what is there."""

    name: str | None = Field(None, min_length=1, max_length=80)
    words: str | None = Field(None, max_length=300)
    tags: list[Tag] | None = Field(None, max_length=20)


class LeftOutView(BaseModel):
    """What is not in a LUT, and why."""

    name: str
    why: str


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


class LutView(BaseModel):
    """What a look loses as a LUT: what is left out, and how far the picture then is from the look's own (CIEDE2000).

    cdl: whether it is a colour decision list, which holds all of it.
    """

    cdl: bool = False

    left_out: list[LeftOutView]
    mean: float
    largest: float


class ShelfFileRequest(Asked):
    """The text of a file that holds a shelf."""

    text: str


class ShelfTaken(BaseModel):
    """What came of a shelf that was brought in: how many items were added, and how many were here already."""

    added: int
    twins: int


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


class GoRequest(Asked):
    """A state of the shot to return to."""

    base: int
    revision: int


class TakeRequest(Asked):
    """A state of the shot to be saved under a name."""

    revision: int
    name: str = Field(min_length=1, max_length=80)


class PasteRequest(Based):
    """Passes with the selections they use, to be added after the shot's own."""

    look: dict[str, Any]
    words: str = Field("Passes pasted", max_length=200)


class TextRequest(Asked):
    """The text of a file."""

    text: str = Field(max_length=4 << 20)


class CdlRequest(Asked):
    """The numbers of an ASC CDL pass, to be written as a file."""

    params: dict[str, float]
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
    reel_item: list[ParamInfo]
    reel_join: list[ParamInfo]
    reel_span: list[ParamInfo]
    reel_track: list[ParamInfo]
    version: str
