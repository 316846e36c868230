"""The document of a reel: items in order, transitions between them, spans over them, a track of sound. What is in its lists is named by ids."""

from collections import Counter
from collections.abc import Iterable
from typing import Any, Literal, Self

from pydantic import Field, ValidationError, field_validator, model_validator

from wenditas.core.bounds import Side
from wenditas.core.colour.blend import Blend
from wenditas.core.errors import BadLook
from wenditas.core.film.nodes import Fit, Frame, Grows, Rate
from wenditas.core.film.upgrade import REEL_SCHEMA, upgrade_reel
from wenditas.core.look.document import Look, explain
from wenditas.core.look.lanes import Keyframe
from wenditas.core.params import Colour, Params, choice, colour, degrees, number, percent, switch
from wenditas.core.select.tracks import Tracks

MOST_ITEMS, MOST_SPANS, LONGEST_TRANSITION, LONGEST_FADE = 5000, 500, 10_000, 100_000
Id = Field(min_length=1, max_length=40)
GAP = "gap"  # where an item names its shot: it shows nothing but what is behind
Kind = Literal["dissolve", "reveal"]
At = Literal["before", "centred", "after"]
EARLY: dict[At, float] = {"before": 100, "centred": 50, "after": 0}  # percent of a transition that lies before the cut


def _gain(help: str) -> Any:
    return number(0, "Gain", help, low=-60, high=12, step=0.5, unit="dB", animatable=False)


def _frames(name: str, help: str, *, low: float = 0, high: float = LONGEST_FADE, default: int = 0) -> Any:
    return number(default, name, help, low=low, high=high, step=1, unit="fr", animatable=False)


class ReelItem(Params):
    """A stretch of a shot in the reel: frames `first` to `last` of its footage; of a gap (shot `GAP`), frames of the reel."""

    id: str = Id
    shot: str = Id
    first: Frame
    last: Frame
    fit: Fit = choice("all", "Fit", "All of it with bars, the frame filled, or its own size.")
    across: float = percent(50, "Across", "Where it lies in the room that is left, or which part is shown.", low=-500, high=600)
    down: float = percent(50, "Down", "Where it lies in the room that is left, or which part is shown.", low=-500, high=600)
    scale: float = percent(100, "Scale", "How large it is, against what Fit makes of it.", low=1, high=2000)
    turn: float = degrees(0, "Turn", "Turned about its middle, clockwise.", low=-360, high=360)
    behind: Colour = colour("#000000", "Behind", "What is seen where the picture is not.")
    mirror_across: bool = switch(False, "Mirror across", "Left and right change sides.", animatable=False)
    mirror_down: bool = switch(False, "Mirror down", "Top and bottom change sides.", animatable=False)
    heard: bool = switch(True, "Sound", "Whether its sound is heard.", animatable=False)
    gain: float = _gain("How much louder its sound is.")
    fade_in: int = _frames("Fade in", "Frames of the reel over which its sound comes.")
    fade_out: int = _frames("Fade out", "Frames of the reel over which its sound goes.")

    @model_validator(mode="after")
    def _check_order(self) -> Self:
        if self.first > self.last:
            raise ValueError(f"the item's first frame {self.first} is after its last, {self.last}")
        return self


class ReelTransition(Params):
    """How an item gives way to the next. opens, takes: keyframes in percent, at thousandths of the transition's time; look: holds the selection of a reveal."""

    id: str = Id
    after: str = Id
    kind: Kind = choice("dissolve", "Kind", "A dissolve, or a reveal through a selection.")
    frames: int = _frames("Length", "Frames of the reel that it takes.", low=1, high=LONGEST_TRANSITION, default=24)
    at: At = choice("centred", "Where", "Before the cut, centred on it, or after it.")
    linear: bool = switch(False, "In linear light", "Mixes light, as film does, and not coded values.", animatable=False)
    look: Look = Look()
    selection: str | None = None
    of: Literal["outgoing", "incoming"] = choice("outgoing", "Made from", "The hole opens in what goes, or what comes appears by itself.")
    opens: tuple[Keyframe, ...] = Field((Keyframe(frame=0, value=0.0), Keyframe(frame=450, value=100.0)), min_length=1, max_length=1000)
    takes: tuple[Keyframe, ...] = Field((Keyframe(frame=700, value=0.0), Keyframe(frame=1000, value=100.0)), min_length=1, max_length=1000)
    grows: Grows = choice("likeness", "Grows", "What goes first once it takes all: what is like the hole, what is near it, the bright, or the dark.")
    edge: float = percent(10, "Edge", "How soft the edge of what goes is.", low=0.5, high=100, step=0.5)

    @field_validator("opens", "takes")
    @classmethod
    def _in_order(cls, keyframes: tuple[Keyframe, ...]) -> tuple[Keyframe, ...]:
        return in_order(keyframes)

    @model_validator(mode="after")
    def _check_selection(self) -> Self:
        if self.kind == "reveal" and all(s.id != self.selection for s in self.look.selections):
            raise ValueError("a reveal needs a selection: what opens")
        return self


class Place(Params):
    """A frame of an item, counted as its shot's footage is."""

    item: str = Id
    frame: Frame


class ReelSpan(Params):
    """A look over a stretch of the reel. amounts: keyframes in percent, at frames of the span, in place of the amount; fade_in, fade_out: fades at its ends."""

    id: str = Id
    name: str = Field(min_length=1, max_length=80)
    on: bool = True
    start: Place
    end: Place
    look: Look = Look()
    amount: float = number(100, "Amount", "How much of the treated picture replaces what was there.", low=0, high=100, step=1, unit="%")
    amounts: tuple[Keyframe, ...] = Field((), max_length=1000)
    blend: Blend = "normal"
    fade_in: int = _frames("Fade in", "Frames over which it comes.")
    fade_out: int = _frames("Fade out", "Frames over which it goes.")

    @field_validator("amounts")
    @classmethod
    def _in_order(cls, keyframes: tuple[Keyframe, ...]) -> tuple[Keyframe, ...]:
        return in_order(keyframes)


class ReelTrack(Params):
    """Sound beside the items' own: that of a piece of footage. at: the frame of the reel at which it begins."""

    footage: str = Id
    at: int = number(0, "Begins at", "The frame of the reel at which it begins.", low=-1_000_000, high=1_000_000, step=1, unit="fr", animatable=False)
    gain: float = _gain("How much louder the track is.")
    fade_in: int = _frames("Fade in", "Frames over which it comes.")
    fade_out: int = _frames("Fade out", "Frames over which it goes.")


def in_order(keyframes: Iterable[Keyframe]) -> tuple[Keyframe, ...]:
    """Keyframes of percents, in order. Raises `ValueError` where two stand at the same place, or a value is none."""
    found = tuple(sorted(keyframes, key=lambda k: k.frame))
    if len({k.frame for k in found}) < len(found):
        raise ValueError("two keyframes stand at the same place; there can be only one")
    for k in found:
        if isinstance(k.value, bool) or not isinstance(k.value, int | float) or not 0 <= k.value <= 100:
            raise ValueError(f"the keyframe at {k.frame} is {k.value!r}; it lies from 0 to 100")
    return found


class ReelDocument(Params):
    """A reel as it is edited. width, height, fps: its frame and rate, those of its first item where None. Spans: the top one last."""

    schema_version: Literal[2] = REEL_SCHEMA
    width: Side | None = None
    height: Side | None = None
    fps: Rate | None = None
    items: tuple[ReelItem, ...] = Field((), max_length=MOST_ITEMS)
    transitions: tuple[ReelTransition, ...] = Field((), max_length=MOST_ITEMS)
    spans: tuple[ReelSpan, ...] = Field((), max_length=MOST_SPANS)
    track: ReelTrack | None = None

    @model_validator(mode="after")
    def _check(self) -> Self:
        if (self.width is None) != (self.height is None):
            raise ValueError("a frame has a width and a height")
        ids = [item.id for item in self.items]
        for what, names in (("items", ids), ("transitions", [j.id for j in self.transitions]), ("spans", [s.id for s in self.spans])):
            twice = [name for name, n in Counter(names).items() if n > 1]
            if twice:
                raise ValueError(f"two {what} have the id {twice[0]!r}")
        after = Counter(transition.after for transition in self.transitions)
        if after and max(after.values()) > 1:
            raise ValueError("two transitions stand at the same cut")
        kept = tuple(transition for transition in self.transitions if transition.after in set(ids[:-1]))  # a transition goes with its cut
        if len(kept) < len(self.transitions):
            object.__setattr__(self, "transitions", kept)
        return self

    @property
    def looks(self) -> tuple[Look, ...]:
        """The looks that it holds itself."""
        return (*(span.look for span in self.spans), *(transition.look for transition in self.transitions))


def parse_reel(data: Any, tracks: Tracks) -> ReelDocument:
    """A reel's document from plain JSON data; tracks: those that its looks may name by their digest. Raises `BadLook`."""
    try:
        return ReelDocument.model_validate(upgrade_reel(data), context={"tracks": tracks})
    except ValidationError as error:
        raise BadLook(f"This edit is not valid: {explain(error)}") from error
