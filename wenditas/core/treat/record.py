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
class Inset:
    """Another shot as a pass asks for it. part: the id of one of its selections, empty for all. percent: how high it is seen, of the frame's height.

    frame: given the frame that the pass works on, and how many of the shot's frames go to one of those, the frame of the shot.
    """

    shot: str
    part: str
    percent: float
    frame: Callable[[int, float], int]


@dataclass(frozen=True)
class At:
    """Where a treatment works, and what it has besides the picture.

    height, width: of the whole frame. first: the first row of the tile. phase: what the frame's number makes of it (see `Treatment.phase`).
    others: the picture that the pass reads at the frames it looks at, whole, in their order; none where there is only this one.
    files: LUTs and pictures that passes use. matte: of the pass's selection, whole, for treatments that read it, and for those that
    spread and are to spread from inside it alone; else None. source: what lies under the look, whole, for those that read it.
    inset: the other shot that is asked for, with what of it is seen (None for all); None where there is none.
    """

    height: int
    width: int
    first: int = 0
    phase: int = 0
    others: tuple[Picture, ...] = ()
    files: Files = NO_FILES
    matte: Matte | None = None
    source: Picture | None = None
    inset: tuple[Picture, Matte | None] | None = None

    @property
    def scale(self) -> float:
        """Pixels of this frame to a pixel of a 1080-line picture."""
        return self.height / 1080


def whole(picture: Picture, phase: int = 0) -> At:
    """The place of a picture that is a frame of its own."""
    return At(picture.shape[1], picture.shape[2], 0, phase)


Apply = Callable[[Picture, Picture, At], None]


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
    phase: given its parameters and a frame's number, all that it takes from that number: 0 where it does the same at every frame.
    looks: which other frames it reads, relative to its own. inset: the other shot that it lays in, None for none. needs_source: whether it reads
    what lies under the look.
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
    phase: Callable[[Any, int], int] = lambda params, frame: 0
    looks: Callable[[Any], tuple[int, ...]] = lambda params: ()
    inset: Callable[[Any], Inset | None] = lambda params: None
    needs_source: Callable[[Any], bool] = lambda params: False
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


def moves(treatment: Treatment, params: Any) -> bool:
    """Whether a treatment does something else to the same picture at another frame."""
    return treatment.phase(params, 10_000_000) != treatment.phase(params, 0)


def beginning(treatment: Treatment) -> Begins:
    """Where a new pass applies that has a selection to go by."""
    return treatment.begins or ("inside" if treatment.group in SERVING else "everywhere")


def on_frames(params: Params) -> Reach:
    """The reach of treatments that see the whole frame."""
    return "frame"


def over_time(params: Params) -> Reach:
    """The reach of treatments that see other frames."""
    return "time"
