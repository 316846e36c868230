"""What is declared about a treatment."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from wenditas.core.files import NO_FILES, Files
from wenditas.core.kernel import Matte, Picture
from wenditas.core.params import Params
from wenditas.core.treat.neutral import Neutral, holds

Group = Literal["remove", "shift", "map", "fill", "tone", "soften", "break"]
GROUPS: tuple[Group, ...] = ("remove", "shift", "map", "fill", "tone", "soften", "break")
Begins = Literal["inside", "outside", "everywhere", "from inside"]
SERVING: tuple[Group, ...] = ("remove", "shift", "fill")  # groups that mostly serve a selection; the others finish the whole picture
Reach = Literal["pixel", "frame", "time"]


@dataclass(frozen=True)
class Inlay:
    """Another shot as a pass may lay it in. rows: of its own pictures. ratio: its frames to one of the shot that it is laid in.

    picture: given one of its frames (the nearest there is), how many rows and the id of one of its selections (empty for all): its picture
    `(3, rows, w)`, and what of it is seen `(rows, w)`, None for all.
    """

    rows: int
    ratio: float
    picture: Callable[[int, int, str], tuple[Picture, Matte | None]]


@dataclass(frozen=True)
class At:
    """Where a treatment works.

    height, width: of the whole frame. first: the first row of the tile. frame: its number.
    read: the picture that the pass reads at another frame, whole; None where there is only this one.
    files: LUTs and pictures that passes use. matte: of the pass's selection, whole, for treatments that read it, and for those that
    spread and are to spread from inside it alone; else None. source: what lies under the look, whole. inlay: another shot, by its id.
    """

    height: int
    width: int
    first: int = 0
    frame: int = 0
    read: Callable[[int], Picture] | None = None
    files: Files = NO_FILES
    matte: Matte | None = None
    source: Picture | None = None
    inlay: Callable[[str], Inlay | None] | None = None

    @property
    def scale(self) -> float:
        """Pixels of this frame to a pixel of a 1080-line picture."""
        return self.height / 1080


def whole(picture: Picture, frame: int = 0) -> At:
    """The place of a picture that is a frame of its own."""
    return At(picture.shape[1], picture.shape[2], 0, frame)


Apply = Callable[[Picture, Picture, At], None]


def never(params: Any) -> bool:
    """Of treatments that do the same to the same picture at every frame."""
    return False


@dataclass(frozen=True)
class Treatment:
    """A treatment: the calculation a pass performs, its parameters and its two forms.

    reference: `(picture (3, h, w), params, at) -> picture`, plain NumPy, float64 inside.
    prepare: `params -> apply(tile, out, at)`: reads a tile `(3, rows, w)`, writes the treated one to `out`.
    reach: whether a pixel of the result depends on the same pixel alone ("pixel"; then tiles are a few
    rows), on the frame ("frame"), or on other frames too ("time"); the latter two are given whole frames.
    presets: named sets of parameter values; source: where the maths comes from; check: what outside the
    project it is held to. example: parameters that show what it does, for its thumbnail and its test.
    grainy: its pattern belongs to output pixels, so that a small preview cannot match the export.
    moves: whether it does something else to the same picture at another frame. looks: which other frames it reads, relative to its own.
    spreads: whether what it takes from a place shows around it, so that it can spread from inside a selection over all.
    reads_matte: whether it does something with the edge of the pass's selection, and nothing without one.
    begins: where a new pass of it applies that has a selection to go by; else by its group. follows_picks: the parameter that is the mean colour
    of the picks of the pass's selection, as long as the pass is on the side where it begins. takes_palette: given its parameters and colours from
    dark to light, the parameters that these change, as plain data.
    neutral: sets of values at each of which it gives back its input, whatever its other parameters are.
    intents: what people who look for it may call what they are after, beyond its name and summary.
    """

    id: str
    name: str
    group: Group
    summary: str
    source: str
    check: str
    params: type[Params]
    reference: Callable[[Picture, Any, At], Picture]
    prepare: Callable[[Any], Apply]
    reach: Callable[[Any], Reach] = lambda params: "pixel"
    presets: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    example: Mapping[str, Any] = field(default_factory=dict)
    grainy: bool = False
    moves: Callable[[Any], bool] = never
    looks: Callable[[Any], tuple[int, ...]] = lambda params: ()
    spreads: bool = False
    reads_matte: bool = False
    begins: Begins | None = None
    follows_picks: str | None = None
    takes_palette: Callable[[Any, Sequence[str]], dict[str, Any]] | None = None
    neutral: tuple[Neutral, ...] = ()
    intents: tuple[str, ...] = ()


def idle(treatment: Treatment, params: Any) -> bool:
    """Whether a treatment gives back its input, bit for bit and beyond 0-1 too."""
    return any(holds(neutral, params) for neutral in treatment.neutral)


def beginning(treatment: Treatment) -> Begins:
    """Where a new pass applies that has a selection to go by."""
    return treatment.begins or ("inside" if treatment.group in SERVING else "everywhere")


def on_frames(params: Params) -> Reach:
    """The reach of treatments that see the whole frame."""
    return "frame"


def over_time(params: Params) -> Reach:
    """The reach of treatments that see other frames."""
    return "time"
