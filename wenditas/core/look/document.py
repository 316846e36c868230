"""The documents that are saved: a look, and a shot with its look. What is in their lists is named by ids; see `targets`."""

from collections import Counter
from collections.abc import Iterable, Mapping
from functools import cached_property
from itertools import groupby
from typing import Annotated, Any, Literal, Self

from pydantic import Field, ValidationError, model_validator

from wenditas.core.colour.blend import Blend
from wenditas.core.errors import BadLook
from wenditas.core.look.lanes import MOST_LANES, Lane, checked
from wenditas.core.look.plain import check_plain
from wenditas.core.look.upgrade import SCHEMA, upgrade_look
from wenditas.core.params import Params, number
from wenditas.core.select.selection import Selection
from wenditas.core.select.tracks import Track, Tracks
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.operation import Settled, settled

NO_TRACKS: Tracks = {}
Side = Literal["inside", "outside", "everywhere", "from inside"]
BundleSide = Literal["inside", "outside", "everywhere"]
Reads = Literal["running", "source"]


class Pass(Params):
    """One step of a look: where, what, how much.

    side: "from inside" is for treatments that spread: what they spread is taken from inside, and laid over all.
    bundle: the bundle that it belongs to. blend: how the treated picture is laid over the running one, by the W3C names.
    A treatment id that this version does not know is kept with its parameters and bypassed.
    """

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    on: bool = True
    treatment: str = Field(min_length=1, max_length=40)
    params: dict[str, Any] = Field(default_factory=dict)
    selection: str | None = None
    side: Side = "everywhere"
    reads: Reads = "running"
    blend: Blend = "normal"
    amount: float = number(100, "Amount", "How much of the treated picture replaces what was there.", low=0, high=100, step=1, unit="%")
    bundle: str | None = None

    @property
    def known(self) -> bool:
        """Whether this version can perform the treatment."""
        return self.treatment in TREATMENTS

    @cached_property
    def settled(self) -> Settled:
        """Its treatment, which is known, with the parameters."""
        return settled(TREATMENTS[self.treatment], self.params)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy with some fields changed; what is settled stays so where neither the treatment nor its parameters change."""
        copied = super().model_copy(update=update, deep=deep)
        if "settled" in self.__dict__ and update is not None and not {"treatment", "params"} & update.keys():
            copied.__dict__["settled"] = self.__dict__["settled"]
        return copied

    @property
    def active(self) -> bool:
        """Whether by itself it does anything."""
        return self.on and self.known and self.amount > 0

    @model_validator(mode="before")
    @classmethod
    def _fill_params(cls, data: Any) -> Any:
        """Validate and complete the parameters of a known treatment; those of another are kept as they are, if they can be."""
        if not isinstance(data, dict):
            return data
        treatment = data.get("treatment")
        if isinstance(treatment, str) and treatment in TREATMENTS:
            model = TREATMENTS[treatment].params
            return {**data, "params": model.model_validate(data.get("params", {})).model_dump(mode="json")}
        check_plain(data.get("params"))
        return data


class Bundle(Params):
    """A run of passes laid over what was there as one: with one switch, place, blend mode and amount."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    on: bool = True
    selection: str | None = None
    side: BundleSide = "everywhere"
    blend: Blend = "normal"
    amount: float = number(100, "Amount", "How much of what the bundle's passes make replaces what was there.", low=0, high=100, step=1, unit="%")

    @property
    def plain(self) -> bool:
        """Whether its passes may just as well stand alone."""
        return self.amount == 100 and self.blend == "normal" and self.side == "everywhere"


class Look(Params):
    """An ordered list of passes, the selections they use, and the lanes of what is animated. silenced: checks that are not told of it, by their ids."""

    schema_version: Literal[5] = SCHEMA
    selections: tuple[Selection, ...] = Field((), max_length=64)
    passes: tuple[Pass, ...] = Field((), max_length=64)
    bundles: tuple[Bundle, ...] = Field((), max_length=32)
    lanes: tuple[Lane, ...] = Field((), max_length=MOST_LANES)
    silenced: tuple[Annotated[str, Field(min_length=1, max_length=40)], ...] = Field((), max_length=64)

    @model_validator(mode="after")
    def _check_references(self) -> Self:
        ids = [s.id for s in self.selections]
        for what, names in (("selections", ids), ("passes", [p.id for p in self.passes]), ("bundles", [b.id for b in self.bundles])):
            twice = [name for name, n in Counter(names).items() if n > 1]
            if twice:
                raise ValueError(f"two {what} have the id {twice[0]!r}")
        items: tuple[Pass | Bundle, ...] = (*self.passes, *self.bundles)
        for item in items:
            what = "bundle" if isinstance(item, Bundle) else "pass"
            if item.selection is not None and item.selection not in ids:
                raise ValueError(f"{what} {item.name!r} uses the selection {item.selection!r}, which the look does not have")
            if item.selection is None and item.side != "everywhere":
                raise ValueError(f"{what} {item.name!r} says {item.side!r} but names no selection")
            if isinstance(item, Pass) and item.side == "from inside" and item.known and not TREATMENTS[item.treatment].spreads:
                raise ValueError(f"pass {item.name!r} does not spread, so nothing of it comes from inside")
        self._check_bundles()
        self._check_reads()
        return self._check_lanes()

    def _check_bundles(self) -> None:
        """The passes of a bundle stand together; bundles that have none are gone."""
        known = {b.id for b in self.bundles}
        runs = [bundle for bundle, _ in groupby(self.passes, key=lambda p: p.bundle) if bundle is not None]
        for bundle in runs:
            if bundle not in known:
                raise ValueError(f"a pass belongs to the bundle {bundle!r}, which the look does not have")
            if runs.count(bundle) > 1:
                raise ValueError(f"the passes of the bundle {bundle!r} do not stand together")
        if known != set(runs):
            object.__setattr__(self, "bundles", tuple(b for b in self.bundles if b.id in runs))

    def users(self, selection: str, upto: int | None = None) -> bool:
        """Whether a selection is used by one of the first `upto` passes, or by a bundle of one."""
        bundles = {b.id: b for b in self.bundles}
        items = [item for p in self.passes[:upto] for item in (p, bundles.get(p.bundle or ""))]
        return any(item is not None and item.selection == selection for item in items)

    def bundle_of(self, item: Pass) -> Bundle | None:
        """The bundle that a pass belongs to."""
        return next((b for b in self.bundles if b.id == item.bundle), None) if item.bundle else None

    def _check_lanes(self) -> Self:
        """Lanes are validated by what they animate; those whose pass, selection or shape has gone go with it."""
        if not self.lanes:
            return self
        twice = [target for target, n in Counter(lane.target for lane in self.lanes).items() if n > 1]
        if twice:
            raise ValueError(f"two lanes animate {twice[0]!r}")
        kept = []
        for lane in self.lanes:
            try:
                kept.append(checked(self, lane))
            except KeyError:
                continue
        object.__setattr__(self, "lanes", tuple(kept))
        return self

    def _check_reads(self) -> None:
        """A selection may read a pass only if no pass up to that one uses it."""
        order = [p.id for p in self.passes]
        for selection in self.selections:
            if selection.reads is None:
                continue
            if selection.reads not in order:
                raise ValueError(f"selection {selection.name!r} reads the pass {selection.reads!r}, which the look does not have")
            if self.users(selection.id, order.index(selection.reads) + 1):
                raise ValueError(f"selection {selection.name!r} reads a pass that uses it, or that comes after one that does")

    def selection(self, id: str) -> Selection:
        """The selection with that id. Raises `BadLook` where there is none."""
        for selection in self.selections:
            if selection.id == id:
                return selection
        raise BadLook(f"The look has no selection {id!r}.")


def alone(look: Look, pass_id: str) -> Look:
    """The look with only one of its passes on, reading the source; its selections are left as they are.

    Raises `BadLook` where there is no such pass.
    """
    if all(p.id != pass_id for p in look.passes):
        raise BadLook(f"The look has no pass {pass_id!r}.")
    passes = tuple(p.model_copy(update={"on": p.id == pass_id, "bundle": None}) for p in look.passes)
    return look.model_copy(update={"passes": passes, "bundles": ()})


class ShotDocument(Params):
    """A shot as it is edited: the source frames in use (both included) and the look."""

    first: int = Field(ge=0)
    last: int = Field(ge=0)
    look: Look = Look()

    @property
    def looks(self) -> tuple[Look, ...]:
        """The looks that it holds."""
        return (self.look,)

    @model_validator(mode="after")
    def _check_order(self) -> Self:
        if self.first > self.last:
            raise ValueError(f"the in frame {self.first} is after the out frame {self.last}")
        return self


def explain(error: ValidationError) -> str:
    """The first of what is wrong with data, and how much more is."""
    first = error.errors()[0]
    place = "/".join(str(part) for part in first["loc"]) or "the document"
    more = f" ({error.error_count() - 1} more)" if error.error_count() > 1 else ""
    return f"{place}: {first['msg']}{more}"


def parse_look(data: Any, tracks: Tracks = NO_TRACKS) -> Look:
    """A look from plain JSON data, upgraded from older versions; tracks: those that it may name by their digest. Raises `BadLook`."""
    try:
        return Look.model_validate(upgrade_look(data), context={"tracks": tracks})
    except ValidationError as error:
        raise BadLook(f"This look is not valid: {explain(error)}") from error


def parse_shot(data: Any, length: int, tracks: Tracks = NO_TRACKS) -> ShotDocument:
    """A shot document from plain JSON data; its frames must lie within `length`. tracks: as for a look. Raises `BadLook`."""
    try:
        data = {**data, "look": upgrade_look(data.get("look", {}))}
        document = ShotDocument.model_validate(data, context={"tracks": tracks})
    except ValidationError as error:
        raise BadLook(f"This edit is not valid: {explain(error)}") from error
    if document.last >= length:
        raise BadLook(f"The out frame {document.last} is beyond the footage, whose last frame is {length - 1}.")
    return document


def all_tracks(looks: Iterable[Look]) -> dict[str, Track]:
    """The tracks of several looks, by their digest."""
    return {digest: track for look in looks for digest, track in tracks_of(look).items()}


def shots_laid(look: Look) -> list[str]:
    """The ids of the shots that a look's passes lay in, each once."""
    named = (item.params.get("shot") for item in look.passes if item.treatment == "shot-laid-in")
    return list(dict.fromkeys(id for id in named if isinstance(id, str) and id))


def tracks_of(look: Look) -> dict[str, Track]:
    """The tracks of a look's shapes, by their digest."""
    found = (shape.track for selection in look.selections for shape in selection.shapes)
    return {track.digest: track for track in found if track}
